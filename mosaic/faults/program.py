"""Faults of the program that sends: right bytes, wrongly handed on."""

from collections.abc import Callable
from dataclasses import replace

from mosaic.conversion.program import Setting
from mosaic.faults.fault import Fault, fault
from mosaic.panels.sending import Sending
from mosaic.pixels.formats import IndexedFormat

CELL_PX = 12


def _sent(**changes: object) -> Callable[[Setting], Setting]:
    """A setting whose program does this, and nothing else wrong."""

    def change(setting: Setting) -> Setting:
        return replace(setting, sending=replace(Sending(), array=setting.sending.array, **changes))  # type: ignore[arg-type]

    return change


def _has_pages(setting: Setting) -> bool:
    form = setting.passport.format
    return isinstance(form, IndexedFormat) and form.along == "column" and form.follow == "pages"


def _has_windows(setting: Setting) -> bool:
    passport = setting.passport
    return bool(passport.sequences.window) and not passport.grid.whole_frames and passport.scan is None


def _is_oblong(setting: Setting) -> bool:
    return setting.passport.glass.width_px != setting.passport.glass.height_px


FAULTS: tuple[Fault, ...] = (
    fault(
        "sides-exchanged", "Width and height exchanged", "program",
        "The picture is sheared to slanting stripes.",
        _sent(sides_exchanged=True), why="The library is told the height where it asks for the width.",
        make_sure="Look at the call that draws the picture: its width comes first in most libraries.",
        mend="Exchange the two numbers in the program's call.", applies=_is_oblong,
    ),
    fault(
        "page-order", "Pages in the wrong order", "program",
        "Bands of eight rows are upright in themselves, and stand in the wrong order.",
        _sent(pages_reversed=True), why="Pages are counted from the lower edge.",
        make_sure="Send the test card Frame: corner 1 must be in the upper left.",
        mend="Count pages from the top in the program.", applies=_has_pages,
    ),
    fault(
        "start-byte", "First byte left out", "program",
        "Everything is shifted by one byte, and what leaves at one edge comes back at the other.",
        _sent(left_out_bytes=1),
        why="A pointer begins one byte too late, or the first byte was taken for a control byte or an operand.",
        make_sure="Look at what is sent after the write command: it must begin with the array's first byte.",
        mend="Begin with the array's first byte, and send a control byte of its own where the link wants one.",
    ),
    fault(
        "half-buffer", "Half a buffer sent", "program",
        "One half is right, the other keeps what was there before, or noise.",
        _sent(sent_share=0.5), why="The length is that of another panel, or counts pixels where bytes are meant.",
        make_sure="Compare the number of bytes that the program sends with the one in the file's first lines.",
        mend="Take the length from the array itself: the files give it as a constant.",
    ),
    fault(
        "window", "Window too narrow", "program",
        "The picture wraps within part of the glass, line upon line.",
        _sent(window_share=0.5), why="The window was set for another width, or its end was taken for its size.",
        make_sure="The second number of a window is its last column, not its width.",
        mend="Set the window to the picture's first and last column.", applies=_has_windows,
    ),
    fault(
        "opaque-cells", "Opaque cells crop their neighbours", "program",
        "Letters and signs lose a strip at one side, at equal distances.",
        _sent(cell_px=CELL_PX), why="Each glyph is drawn with its background, and reaches over the one before it.",
        make_sure="Draw two letters far apart: alone, each is whole.",
        mend="Draw glyphs without their background, or make cells that do not overlap.",
    ),
)  # fmt: skip
