"""From a picture to what a maker's program puts on the wire, with whatever it does on the way.

Two states of affairs meet here: what is believed (by which arrays are made, and which set-up and windows are
sent), and what is so (how the program takes arrays, and which panel stands at the end of the wire).
"""

from dataclasses import dataclass, field, replace

import msgspec
import numpy as np
import numpy.typing as npt

from mosaic.cards.ruler import ram_as_glass
from mosaic.conversion.pipeline import pack
from mosaic.narrowing import needed_kind
from mosaic.panels.geometry import Orientation
from mosaic.panels.passport import Passport
from mosaic.panels.sending import Sending
from mosaic.panels.sequence import Transaction
from mosaic.panels.windows import Rect, host_size
from mosaic.panels.wire import Part, data_parts, setup_part, show_parts, window_values
from mosaic.pixels.direct import pack_direct, unpack_direct
from mosaic.pixels.formats import DirectFormat, IndexedFormat
from mosaic.pixels.indexed import pack_indexed, unpack_indexed
from mosaic.virtual.base import VirtualController
from mosaic.virtual.panel import shown_pixels, virtual_panel

CELL_OVERLAP_PX = 2
"""How far an opaque cell reaches over the one before it."""
PixelArray = npt.NDArray[np.uint8]


@dataclass(frozen=True)
class Setting:
    """A panel, how it lies before its reader, and the program that feeds it."""

    passport: Passport
    turn: Orientation
    sending: Sending = field(default=Sending())


def array_of(pixels: PixelArray, setting: Setting, *, whole_ram: bool = False) -> bytes:
    """The array as it is given out: palette indices (H, W) or RGB (H, W, 3) in the form that the program takes."""
    target = ram_as_glass(setting.passport) if whole_ram else setting.passport
    return pack(pixels, setting.sending.described(target), setting.turn)


def transmission(pixels: PixelArray, believed: Setting, program: Sending, *, whole_ram: bool = False) -> tuple[Part, ...]:
    """Everything from reset on, as a program of this kind sends an array that was made as is believed."""
    target = ram_as_glass(believed.passport) if whole_ram else believed.passport
    drawn = in_cells(pixels, believed.passport, program.cell_px)
    array = array_of(drawn, believed, whole_ram=whole_ram)
    data = carried(array, target, believed.turn, program)
    return (setup_part(believed.passport, believed.turn), *sent_parts(target, believed.turn, data, program))


def shown(
    pixels: PixelArray, believed: Setting, actual: Setting, *, whole_ram: bool = False
) -> tuple[PixelArray, VirtualController]:
    """What the reader sees of a picture that was made and sent as is believed, and the panel that shows it."""
    panel = virtual_panel(actual.passport)
    for part in transmission(pixels, believed, actual.sending, whole_ram=whole_ram):
        panel.play(part.transactions)
    panel.finish()
    return shown_pixels(panel, actual.turn), panel


def in_cells(pixels: PixelArray, passport: Passport, cell_px: int) -> PixelArray:
    """The picture drawn cell by cell, where each cell's empty margin covers the end of the one before."""
    if not cell_px:
        return pixels
    palette = passport.palette
    covered = np.arange(pixels.shape[1]) % cell_px >= cell_px - CELL_OVERLAP_PX
    covered[-CELL_OVERLAP_PX:] = False  # nothing is drawn after the last cell
    out = pixels.copy()
    dark = 0 if palette is None else palette.darkest
    light = 255 if palette is None else palette.lightest
    out[:, covered] = light if passport.technology == "epaper" else dark
    return out


def carried(array: bytes, target: Passport, turn: Orientation, program: Sending) -> bytes:
    """The panel's own bytes that a program makes of an array."""
    width, height = host_size(target, turn)
    own, taken = target.format, program.array
    if taken is None and program.sides_exchanged:
        taken = own
    if taken is None:
        data = fitted(array, own.frame_bytes(width, height))
    else:
        data = recoded(array, taken, own, (width, height), sides_exchanged=program.sides_exchanged)
    if program.pages_reversed:
        data = b"".join(data[at : at + width] for at in range(len(data) - width, -1, -width))
    return fitted(data[program.left_out_bytes :], len(data))


def fitted(data: bytes, size: int) -> bytes:
    """As many bytes as a program reads, whether the array has them or not."""
    return data[:size] + bytes(max(0, size - len(data)))


def recoded(
    array: bytes,
    taken: IndexedFormat | DirectFormat,
    own: IndexedFormat | DirectFormat,
    size: tuple[int, int],
    *,
    sides_exchanged: bool = False,
) -> bytes:
    """An array of one form made into another, as a library does it: number by number, of (width, height) pixels."""
    width, height = size[::-1] if sides_exchanged else size
    array = fitted(array, taken.frame_bytes(width, height))
    if isinstance(taken, DirectFormat):
        values = unpack_direct(array, width, height, taken)
        return pack_direct(_laid(values, sides_exchanged), needed_kind(own, DirectFormat, "a format of channels"))
    own = needed_kind(own, IndexedFormat, "a format of colours by number")
    plane_bytes = taken.plane_bytes(width, height)
    planes = {
        plane.name: unpack_indexed(array[i * plane_bytes : (i + 1) * plane_bytes], width, height, _as_numbers(taken))
        for i, plane in enumerate(taken.planes)
    }
    return b"".join(
        pack_indexed(_laid(_numbers_for(planes[plane.name], taken, own, i), sides_exchanged), _as_numbers(own))
        for i, plane in enumerate(own.planes)
    )


def _laid(values: PixelArray, sides_exchanged: bool) -> PixelArray:
    return np.ascontiguousarray(np.rot90(values, -1)) if sides_exchanged else values


def _as_numbers(fmt: IndexedFormat) -> IndexedFormat:
    """The same form with one plane whose codes are the numbers themselves."""
    plane = msgspec.structs.replace(fmt).planes[0]
    return msgspec.structs.replace(fmt, planes=(replace(plane, codes=tuple(range(1 << fmt.bits))),))


def _numbers_for(codes: PixelArray, taken: IndexedFormat, own: IndexedFormat, number: int) -> PixelArray:
    """Codes of a plane as the panel takes them; numbers that stand for nothing are left as they are."""
    plane = own.planes[number]
    theirs = next(p for p in taken.planes if p.name == plane.name)
    table = np.arange(1 << own.bits, dtype=np.uint8)
    for given, meant in zip(theirs.codes, plane.codes, strict=True):
        table[given] = meant
    return table[codes]


def sent_parts(passport: Passport, turn: Orientation, data: bytes, program: Sending) -> tuple[Part, ...]:
    """Windows, bytes and the command that shows them, as the program sends them."""
    rect = None
    if program.window_share < 1:
        width, height = host_size(passport, turn)
        step = passport.grid.x_px
        rect = Rect(0, 0, max(step, int(width * program.window_share) // step * step), height)
    values = window_values(passport, turn, rect)
    parts = tuple(data_parts(passport, values, data))
    if program.sent_share < 1:
        parts = _cut(parts, program.sent_share, whole_pages=passport.sequences.per == "page")
    return (*parts, *show_parts(passport.sequences.show, values))


def _cut(parts: tuple[Part, ...], share: float, *, whole_pages: bool) -> tuple[Part, ...]:
    """Parts in which only the first share of each plane's bytes is sent."""
    if not whole_pages:
        return tuple(replace(part, transactions=tuple(_cut_one(t, share) for t in part.transactions)) for part in parts)
    left = int(sum(len(t.data) for part in parts for t in part.transactions if t.is_pixels) * share)
    out = []
    for part in parts:
        kept: list[Transaction] = []
        for transaction in part.transactions:
            if left <= 0:
                break
            if transaction.is_pixels:
                transaction = replace(transaction, data=transaction.data[:left])
                left -= len(transaction.data)
            kept.append(transaction)
        out.append(replace(part, transactions=tuple(kept)))
    return tuple(out)


def _cut_one(transaction: Transaction, share: float) -> Transaction:
    if not transaction.is_pixels:
        return transaction
    return replace(transaction, data=transaction.data[: int(len(transaction.data) * share)])
