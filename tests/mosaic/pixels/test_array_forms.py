"""Forms of arrays to choose from: every pixel of a panel comes back out of each."""

import numpy as np
import pytest

from mosaic.conversion.pipeline import pack
from mosaic.conversion.program import Setting, array_of, carried
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.panels.sending import Sending
from mosaic.pixels.array_forms import array_forms, form_name
from mosaic.pixels.formats import DirectFormat
from tests.mosaic.virtual.test_virtual import random_picture


@pytest.mark.parametrize("slug", [slug for slug, panel in catalogue().items() if panel.frame_bytes <= 200_000])
def test_nothing_is_lost_in_any_form(slug):
    panel = catalogue()[slug]
    pixels, turn = random_picture(panel, panel.rotation), Orientation(panel.rotation)
    own = pack(pixels, panel, turn)
    forms = array_forms(panel.format)
    assert next(iter(forms)) == "panel"
    for name, (_, form) in forms.items():
        sending = Sending(array=None if name == "panel" else form)
        array = array_of(pixels, Setting(panel, turn, sending))
        assert carried(array, panel, turn, sending) == own, name
        assert form_name(panel.format, sending.array) == name


@pytest.mark.parametrize(
    ("bits", "names"),
    [
        (8, ["panel", "words-high", "words-low", "bytes-888"]), (12, ["panel", "words-high", "words-low", "bytes-888"]),
        (16, ["panel", "words-low", "bytes-888"]), (18, ["panel", "bytes-888"]), (24, ["panel"]),
    ],
)  # fmt: skip
def test_forms_with_fewer_bits_are_not_offered(bits, names):
    assert list(array_forms(DirectFormat(bits))) == names


def test_first_bytes_by_hand():
    """Eight pixels of a row, the first alone lit: 80 with it high, 01 with it low; in a page it is the low bit of its column."""
    panel = catalogue()["mono-oled-128x64"]
    pixels = np.zeros((64, 128), np.uint8)
    pixels[0, 0] = 1
    first = {}
    for name, (_, form) in array_forms(panel.format).items():
        first[name] = array_of(pixels, Setting(panel, Orientation(panel.rotation), Sending(array=form)))[0]
    assert first == {
        "panel": 0x01, "rows-high": 0x80, "rows-low": 0x01, "pages-high": 0x80, "columns-high": 0x80, "columns-low": 0x01,
    }  # fmt: skip
