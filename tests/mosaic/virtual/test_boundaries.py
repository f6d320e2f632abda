"""Controllers at their boundaries: a value that is no colour, memory without a window, what a whole-frame controller takes."""

from dataclasses import replace

import numpy as np
import pytest

from mosaic.panels.loader import catalogue
from mosaic.panels.sequence import expand
from mosaic.panels.wire import Part, frame_parts, setup_part
from mosaic.virtual.misuse import Misuse
from mosaic.virtual.panel import NO_COLOR, clear_of_holes, color_numbers, prove, virtual_panel

PANELS = catalogue()


@pytest.mark.parametrize(("slug", "shown", "clear"), [
    ("mono-oled-128x64", [0, 1, 2, 255], [0, 1, 0, 0]), ("epaper-200x200-three-colour", [0, 2, 3], [0, 2, 1]),
])  # fmt: skip
def test_what_is_no_colour_is_taken_for_ground(slug, shown, clear):
    """Colour 0 of the catalogue's OLED is off; colour 1 of its paper is white."""
    assert clear_of_holes(np.array([shown], np.uint8), PANELS[slug]).tolist() == [clear]
    assert (clear_of_holes(np.full((1, 1, 3), 255, np.uint8), PANELS[slug]) == 255).all()  # channel values are no numbers


@pytest.mark.parametrize(
    ("sent", "told"), [("FF FF", []), ("FF FF FF FF", ["half-pixel"]), ("FF", ["half-pixel"]), ("FF FF FF", [])]
)
def test_a_last_nibble_of_12_bits_fills_its_byte_up(sent, told):
    virtual = virtual_panel(PANELS["tft-128x160-12bit"])
    virtual.play(expand(f"reset\ndelay 150\nc 11\ndelay 150\nc 3A d 03\nc 2C d {sent}\nc 29", {}))
    assert [misuse.kind for misuse in virtual.misuse] == told


@pytest.mark.parametrize(("rows", "is_known"), [(64, False), (72, True)])
def test_controllers_of_more_than_64_rows_set_the_first_by_a_command(rows, is_known):
    panel = PANELS["mono-oled-128x64"]
    virtual = virtual_panel(replace(panel, ram=replace(panel.ram, height_px=rows)))
    virtual.play(expand("reset\nc DC c 05", {}))
    assert (virtual.misuse == [], virtual.start_line) == (is_known, 5 if is_known else 0)


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
    ("grey-oled-128x128", (0x15, 0x75, 0x81, 0xA0, 0xA1, 0xA2, 0xA8, 0xAB, 0xB1, 0xB3, 0xB6, 0xBC, 0xBE, 0xD5, 0xFD, 0xA4, 0xA7), (0x16, 0xA3, 0xB0, 0xFE)),
    ("rgb-tft-800x480", (0x11, 0x28, 0x29, 0x3A), (0x10, 0x2A, 0x3B)),
])  # fmt: skip
def test_commands_that_a_family_knows(slug, known, unknown):
    def is_known(command):
        virtual = virtual_panel(PANELS[slug])
        virtual.play(expand(f"reset\ndelay 200\nc {command:02X}", {}))
        return not any(misuse.kind == "unknown" for misuse in virtual.misuse)

    assert [command for command in known if not is_known(command)] == []
    assert [command for command in unknown if is_known(command)] == []


@pytest.mark.parametrize(("registers", "color"), [
    # Five and six bits become eight by their upper ones once more.
    ((31, 63, 31), (255, 255, 255)), ((1, 1, 1), (8, 4, 8)), ((16, 32, 16), (132, 130, 132)), ((32, 64, 33), (0, 0, 8)),
])  # fmt: skip
def test_the_drawing_colour_of_a_controller_that_draws(registers, color):
    virtual = virtual_panel(PANELS["drawing-tft-480x272"])
    for register, value in zip((0x63, 0x64, 0x65), registers, strict=True):
        virtual.registers[register] = value
    assert tuple(virtual.color()) == color


def test_a_window_of_a_grey_controller_begins_again_when_it_is_full():
    """Columns 8 to 11, rows 10 and 11: four bytes, and the fifth at its beginning."""
    virtual = virtual_panel(PANELS["grey-oled-256x64"])
    virtual.play(expand("reset\nc FD d 12\nc 15 d 02 02\nc 75 d 0A 0B\nc 5C d 11 11 22 22", {}))
    assert virtual.ram[10:12, 8:12].tolist() == [[1] * 4, [2] * 4]
    virtual.play(expand("d FA", {}))  # the lower half of a byte is the left pixel
    assert virtual.ram[10:12, 8:12].tolist() == [[10, 15, 1, 1], [2] * 4]


@pytest.mark.parametrize(("slug", "value", "most", "how"), [
    ("color-oled-128x128", 10, 255, {"A4": 0, "A5": 255, "A6": 10, "A7": 245}), ("grey-oled-256x64", 10, 15, {"A4": 0, "A5": 15, "A6": 10, "A7": 5}),
    ("grey-oled-128x128", 10, 15, {"A4": 10, "A5": 15, "A6": 0, "A7": 5}),
])  # fmt: skip
def test_all_on_all_off_and_inverted(slug, value, most, how):
    """One setting of the display: each command takes the place of the one before. Rows and RAM are let be."""
    for panel in (PANELS[slug], replace(PANELS[slug], controller=replace(PANELS[slug].controller, inverted_glass=True))):
        virtual = virtual_panel(panel)
        virtual.play(setup_part(panel, 0).transactions)
        virtual.ram[:] = value
        shown = {}
        for command in how:
            virtual.play(expand(f"c {command}", {}))
            shown |= {command: int(np.unique(virtual.glass()).item())}
        assert shown == (how if panel is PANELS[slug] else {command: most - level for command, level in how.items()})
        virtual.play(expand("c AE", {}))
        assert not virtual.glass().any()


def test_a_picture_of_another_size_is_wrong_all_over():
    panel = PANELS["mono-oled-128x64"]
    parts = frame_parts(panel, 0, bytes(1024))
    proof = prove(panel, 0, setup_part(panel, 0), parts, np.zeros((32, 128), np.uint8), 1024)
    assert (proof.wrong_pixels, proof.pixel_count, proof.byte_count) == (4096, 4096, 1024)
    assert prove(panel, 0, Part("nothing", ()), parts, np.zeros((64, 128), np.uint8), 1024).misuse


def test_paper_without_a_mode_takes_a_second():
    virtual = virtual_panel(replace(PANELS["epaper-200x200-black-white"], refresh=()))
    assert (virtual.mode_of(partial=False).time_ms, virtual.mode_of(partial=True).time_ms) == (1000, 1000)


def test_a_panel_that_was_sent_to_sleep_sleeps():
    virtual = virtual_panel(PANELS["tft-128x160-16bit"])
    states = []
    for command in ("11", "10", "11"):
        virtual.play(expand(f"c {command}\ndelay 120", {}))
        states.append(virtual.asleep)
    assert states == [False, True, False]


@pytest.mark.parametrize(("slug", "numbers"), [
    # Red wherever the second plane is set; four colours and greys by their two bits, of yellow and red the other way round.
    ("epaper-200x200-three-colour", [0, 2, 1, 2]), ("epaper-296x128-four-colour", [0, 1, 3, 2]), ("epaper-296x128-four-grey", [0, 1, 2, 3]),
])  # fmt: skip
def test_which_colour_stands_behind_the_bits_of_a_pixel(slug, numbers):
    assert color_numbers(PANELS[slug]).tolist() == numbers + [NO_COLOR] * 252


def test_what_a_controller_begins_with():
    serial, colour = (virtual_panel(PANELS[slug]) for slug in ("serial-tft-320x240", "color-oled-128x128"))
    assert (serial.window, serial.step, serial.light, serial.started) == ((0, 0, 319, 239), 0, 0, False)
    assert (colour.start_line, colour.shift, colour.rows_driven, colour.locked) == (0, 0, 128, True)


def test_where_something_was_misused():
    assert [str(Misuse("unknown", "it is not known", 3, byte)) for byte in (0, 2)] == [
        "it is not known (transaction 3)", "it is not known (transaction 3, byte 2)",
    ]  # fmt: skip


@pytest.mark.parametrize(("told", "kinds"), [("c 3A d 55", []), ("c 3A d 55 66", ["size"]), ("c 3B", ["unknown"])])
def test_a_scanned_glass_takes_one_operand(told, kinds):
    virtual = virtual_panel(PANELS["rgb-tft-800x480"])
    virtual.play(expand(f"reset\ndelay 200\n{told}\nc 11", {}))
    assert [misuse.kind for misuse in virtual.misuse] == kinds


@pytest.mark.parametrize(("value", "rows"), [("3F", 64), ("7F", 128)])
def test_rows_of_a_grey_controller_that_are_driven(value, rows):
    virtual = virtual_panel(PANELS["grey-oled-128x128"])
    virtual.play(expand(f"reset\nc FD 12\nc A8 {value}", {}))
    assert virtual.rows_driven == rows
