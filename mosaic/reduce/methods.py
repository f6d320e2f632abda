"""The ordered list of all reduction methods. A new one is its module and one line here."""

from mosaic.reduce.blue_noise import BLUE_NOISE
from mosaic.reduce.diffusion import DIFFUSION
from mosaic.reduce.local import LOCAL
from mosaic.reduce.method import Method
from mosaic.reduce.ordered import BAYER_2, BAYER_4, BAYER_8, BAYER_16, CLUSTERED
from mosaic.reduce.pattern import PATTERN
from mosaic.reduce.threshold import THRESHOLD
from mosaic.registry import Registry

METHODS: Registry[Method] = Registry(
    "reduction method",
    (
        *DIFFUSION,
        BLUE_NOISE,
        BAYER_2,
        BAYER_4,
        BAYER_8,
        BAYER_16,
        CLUSTERED,
        PATTERN,
        THRESHOLD,
        LOCAL,
    ),
    lambda method: method.name,
)
