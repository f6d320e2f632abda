"""Controllers at their boundaries: a value that is no colour, memory without a window, what a whole-frame controller takes."""

import numpy as np
import pytest

from mosaic.panels.loader import catalogue
from mosaic.panels.sequence import expand
from mosaic.virtual.panel import clear_of_holes, virtual_panel

PANELS = catalogue()


@pytest.mark.parametrize(("slug", "shown", "clear"), [
    ("mono-oled-128x64", [0, 1, 2, 255], [0, 1, 0, 0]), ("epaper-200x200-three-colour", [0, 2, 3], [0, 2, 1]),
])  # fmt: skip
def test_what_is_no_colour_is_taken_for_ground(slug, shown, clear):
    """Colour 0 of the catalogue's OLED is off; colour 1 of its paper is white."""
    assert clear_of_holes(np.array([shown], np.uint8), PANELS[slug]).tolist() == [clear]


def test_without_a_window_all_of_the_memory_is_written():
    panel = PANELS["tft-128x160-16bit"]
    virtual = virtual_panel(panel)
    virtual.play(expand("reset\ndelay 150\nc 11\ndelay 120\nc 3A d 55\nc 2C\nd {plane}", {"plane": bytes(panel.ram.width_px * panel.ram.height_px * 2)}))  # fmt: skip
    assert not virtual.ram.any()
    virtual.play(expand("c 2C\nd FF FF", {}))
    assert np.argwhere(virtual.ram.any(axis=2)).tolist() == [[0, 0]]


@pytest.mark.parametrize(("slug", "known", "unknown"), [
    ("epaper-800x480-black-white", (0x01, 0x06, 0x2E, 0x43, 0x65, 0xA2, 0xA5, 0xAA, 0xE9, 0xF8), (0x08, 0x2F, 0x44, 0x66, 0xA3, 0xA6, 0xEA, 0xF9)),
    ("tft-128x160-16bit", (0x26, 0x35, 0x5E, 0xB0, 0xFF), (0x22, 0x36 + 0x10, 0x5F, 0xAF)),
    ("rgb-tft-800x480", (0x11, 0x28, 0x29, 0x3A), (0x10, 0x2A, 0x3B)),
])  # fmt: skip
def test_commands_that_a_family_knows(slug, known, unknown):
    def is_known(command):
        virtual = virtual_panel(PANELS[slug])
        virtual.play(expand(f"reset\ndelay 200\nc {command:02X}", {}))
        return not any(misuse.kind == "unknown" for misuse in virtual.misuse)

    assert [command for command in known if not is_known(command)] == []
    assert [command for command in unknown if is_known(command)] == []
