"""A virtual panel made from a passport: what it shows, and whether that is what was meant."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.panels.geometry import Turn, to_seen
from mosaic.panels.passport import Passport
from mosaic.panels.sequence import Transaction
from mosaic.panels.wire import Part
from mosaic.pixels.formats import IndexedFormat
from mosaic.registry import Registry
from mosaic.virtual.base import VirtualController
from mosaic.virtual.color_oled import ByteWindowOled
from mosaic.virtual.drawing import DrawingTft
from mosaic.virtual.epaper import ByteWindowEpaper, WideWindowEpaper
from mosaic.virtual.frame import FrameEpaper
from mosaic.virtual.grey import GreyOled, PairGreyOled
from mosaic.virtual.misuse import Misuse
from mosaic.virtual.page import PageOled, PageOnlyOled
from mosaic.virtual.quad import QuadWindow
from mosaic.virtual.scan import ScannedRgb
from mosaic.virtual.serial import SerialCanvas
from mosaic.virtual.window import WindowTft

FAMILIES: Registry[tuple[str, type[VirtualController]]] = Registry(
    "controller family",
    (
        ("page-oled", PageOled),
        ("page-only-oled", PageOnlyOled),
        ("grey-oled", GreyOled),
        ("pair-grey-oled", PairGreyOled),
        ("byte-window-oled", ByteWindowOled),
        ("window-tft", WindowTft),
        ("quad-window", QuadWindow),
        ("scanned-rgb", ScannedRgb),
        ("drawing-tft", DrawingTft),
        ("serial-canvas", SerialCanvas),
        ("byte-window-epaper", ByteWindowEpaper),
        ("wide-window-epaper", WideWindowEpaper),
        ("frame-epaper", FrameEpaper),
    ),
    lambda member: member[0],
)

NO_COLOR = 255
"""Stands in the shown indices where the glass holds a number that is no colour of the palette."""


def virtual_panel(passport: Passport) -> VirtualController:
    """A panel fresh from the box, not yet reset."""
    return FAMILIES[passport.controller.family][1](passport)


def color_numbers(passport: Passport) -> npt.NDArray[np.uint8]:
    """(256,) palette index of each number that can stand behind a pixel; NO_COLOR for holes.

    On glass of two planes the second one wins: where only it has a colour, the first does not matter.
    """
    table = np.full(256, NO_COLOR, np.uint8)
    fmt = passport.format
    if not isinstance(fmt, IndexedFormat):
        return table
    for index, codes in enumerate(zip(*(plane.codes for plane in fmt.planes), strict=True)):
        number = 0
        for code in codes:
            number = number << fmt.bits | code
        table[number] = index
    if len(fmt.planes) == 2:
        last = fmt.planes[1].codes
        for place in np.flatnonzero(table[: 1 << 2 * fmt.bits] == NO_COLOR):
            number = int(place)
            code = int(number) & ((1 << fmt.bits) - 1)
            if last.count(code) == 1:
                table[number] = last.index(code)
    return table


def shown_pixels(panel: VirtualController, turn: Turn) -> npt.NDArray[np.uint8]:
    """What the reader sees: palette indices (H, W), or 8-bit RGB (H, W, 3)."""
    native = panel.glass()
    if not panel.passport.is_direct:
        native = np.take(color_numbers(panel.passport), native)
    return to_seen(native, turn)


def clear_of_holes(shown: npt.NDArray[np.uint8], passport: Passport) -> npt.NDArray[np.uint8]:
    """Shown values with what is no colour taken for ground: driven like the lightest on paper, the darkest elsewhere."""
    palette = passport.palette
    if palette is None or shown.ndim == 3:
        return shown
    ground = palette.lightest if passport.technology == "epaper" else palette.darkest
    return np.where(shown < len(palette), shown, ground).astype(np.uint8)


@dataclass(frozen=True)
class Proof:
    """What the virtual panel says of a transmission."""

    byte_count: int
    wrong_pixels: int
    pixel_count: int
    misuse: tuple[Misuse, ...]

    @property
    def verified(self) -> bool:
        """Whether every pixel is as meant and nothing was misused."""
        return not self.wrong_pixels and not self.misuse


def prove(
    passport: Passport,
    turn: Turn,
    setup: Part,
    frame: tuple[Part, ...],
    meant: npt.NDArray[np.uint8],
    byte_count: int,
) -> Proof:
    """Play set-up and frame into a fresh panel and compare its glass with what was meant.

    Parameters
    ----------
    setup, frame : what is sent, in order
    meant : (H, W) palette indices or (H, W, 3) RGB, as the reader shall see them
    byte_count : packed bytes the frame carries, for the report
    """
    panel = virtual_panel(passport)
    panel.play(setup.transactions)
    panel.play(_all(frame))
    panel.finish()
    shown = shown_pixels(panel, turn)
    if shown.shape != meant.shape:
        return Proof(byte_count, meant.shape[0] * meant.shape[1], meant.shape[0] * meant.shape[1], tuple(panel.misuse))
    wrong = shown != meant
    if wrong.ndim == 3:
        wrong = wrong.any(axis=2)
    return Proof(byte_count, int(np.count_nonzero(wrong)), wrong.size, tuple(panel.misuse))


def _all(parts: tuple[Part, ...]) -> Iterable[Transaction]:
    return (transaction for part in parts for transaction in part.transactions)
