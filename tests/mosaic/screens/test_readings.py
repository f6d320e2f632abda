"""What an element costs to send by itself: windows and bytes counted by hand."""

import pytest

from mosaic.screens.readings import sent_alone
from mosaic.screens.rendering import render
from mosaic.screens.screen import Anchor, Element, Screen, Size
from tests.mosaic.screens.made_up import device, kit_of


def sent(dev, x, y, w, h):
    element = Element("e1", "rectangle", x=Anchor(plus=x), y=Anchor(plus=y), width=Size("pixels", w), height=Size("pixels", h))
    return sent_alone(render(Screen((element,)), dev, kit_of(dev)), "e1")


@pytest.mark.parametrize(
    ("x", "y", "w", "h", "window", "pixel_bytes"),
    [
        (4, 0, 16, 8, (4, 0, 16, 8), 16),  # one page of eight rows, a byte a column
        (4, 1, 16, 8, (4, 0, 16, 16), 32),  # one row lower it touches two pages
        (4, 7, 16, 2, (4, 0, 16, 16), 32),
        (-6, -3, 10, 8, (0, 0, 4, 8), 4),  # what lies beyond the glass is not sent
        (120, 56, 30, 30, (120, 56, 8, 8), 8),
    ],
)
def test_windows_in_pages(x, y, w, h, window, pixel_bytes):
    found = sent(device("mono-oled-128x64"), x, y, w, h)
    assert (found.window.x, found.window.y, found.window.width, found.window.height) == window
    assert found.pixel_bytes == pixel_bytes


def test_windows_of_16_bits_and_their_time():
    dev = device("tft-320x240-touch")
    small, large = sent(dev, 3, 5, 10, 7), sent(dev, 3, 5, 20, 7)
    assert (small.window.width, small.window.height, small.pixel_bytes) == (10, 7, 10 * 7 * 2)
    # Ten columns more are 140 B more: eight clocks each at 8 MHz, with the same window commands.
    assert large.link_ms - small.link_ms == pytest.approx(140 * 8 / 8e6 * 1000)


@pytest.mark.parametrize(("x", "y"), [(128, 0), (-16, 0), (0, 64), (0, -8)])
def test_what_lies_wholly_outside_is_not_sent(x, y):
    assert sent(device("mono-oled-128x64"), x, y, 16, 8) is None
