"""The ordered list of all reduction methods. A new one is its module and one line here."""

from mosaic.reduce.diffusion import FLOYD_STEINBERG
from mosaic.reduce.method import Method
from mosaic.reduce.ordered import ORDERED
from mosaic.reduce.threshold import THRESHOLD
from mosaic.registry import Registry

METHODS: Registry[Method] = Registry(
    "reduction method",
    (
        FLOYD_STEINBERG,
        ORDERED,
        THRESHOLD,
    ),
    lambda method: method.name,
)
