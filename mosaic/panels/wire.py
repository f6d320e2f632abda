"""From packed bytes to what goes over the wire: set-up, window, data, show."""

from dataclasses import dataclass

from mosaic.panels.geometry import Turn, host_view, turn_code
from mosaic.panels.passport import Passport
from mosaic.panels.sequence import Transaction, expand
from mosaic.pixels.formats import IndexedFormat


@dataclass(frozen=True)
class Part:
    """A named stretch of the transmission, so that a page can explain its time."""

    name: str
    transactions: tuple[Transaction, ...]

    @property
    def byte_count(self) -> int:
        return sum(len(t.data) for t in self.transactions)


def _values(passport: Passport, turn: Turn) -> dict[str, int | bytes]:
    view = host_view(passport, turn)
    values: dict[str, int | bytes] = {
        "width": view.width_px,
        "height": view.height_px,
        "x0": view.offset_x,
        "x1": view.offset_x + view.width_px - 1,
        "y0": view.offset_y,
        "y1": view.offset_y + view.height_px - 1,
    }
    if passport.controller.turned_by == "controller":
        values["turn"] = turn_code(passport, turn)
    return values


def setup_part(passport: Passport, turn: Turn) -> Part:
    """From reset until the panel takes pictures."""
    return Part("set-up", tuple(expand(passport.sequences.setup, _values(passport, turn))))


def frame_parts(passport: Passport, turn: Turn, packed: bytes) -> tuple[Part, ...]:
    """A whole frame of packed bytes, and the command that shows it where one is needed."""
    values = _values(passport, turn)
    if passport.sequences.per == "page":
        parts = _page_parts(passport, values, packed)
    else:
        parts = _plane_parts(passport, values, packed)
    if passport.sequences.show:
        parts.append(Part("show", tuple(expand(passport.sequences.show, values))))
    return tuple(parts)


def _plane_parts(passport: Passport, values: dict[str, int | bytes], packed: bytes) -> list[Part]:
    sequences = passport.sequences
    names = [p.name for p in passport.format.planes] if isinstance(passport.format, IndexedFormat) else ["pixels"]
    size = len(packed) // len(names)
    parts = []
    for number, (name, write) in enumerate(zip(names, sequences.write, strict=True)):
        # Counters run on past a written plane, so each plane sets its window anew.
        if sequences.window:
            parts.append(Part("set window", tuple(expand(sequences.window, values))))
        plane = packed[number * size : (number + 1) * size]
        parts.append(Part(f"send {name}", tuple(expand(write, {**values, "plane": plane}))))
    return parts


def _page_parts(passport: Passport, values: dict[str, int | bytes], packed: bytes) -> list[Part]:
    width = passport.glass.width_px
    sent: list[Transaction] = []
    for page in range(len(packed) // width):
        row = {**values, "page": page, "plane": packed[page * width : (page + 1) * width]}
        sent += expand(passport.sequences.window, row)
        sent += expand(passport.sequences.write[0], row)
    return [Part("send pages", tuple(sent))]
