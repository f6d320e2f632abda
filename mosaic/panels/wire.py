"""From packed bytes to what goes over the wire: set-up, window, data, show."""

from dataclasses import dataclass

from mosaic.panels.geometry import Turn, host_view, turn_code
from mosaic.panels.passport import Passport
from mosaic.panels.sequence import Transaction, expand
from mosaic.panels.windows import Rect, check_window
from mosaic.pixels.formats import IndexedFormat

Values = dict[str, int | bytes]


@dataclass(frozen=True)
class Part:
    """A named stretch of the transmission, so that a page can explain its time."""

    name: str
    transactions: tuple[Transaction, ...]

    @property
    def byte_count(self) -> int:
        return sum(len(t.data) for t in self.transactions)


def window_values(passport: Passport, turn: Turn, rect: Rect | None = None) -> Values:
    """What the sequences' braces stand for, for a window (host axes; None for the whole glass).

    `page` and `plane` come on top as bytes are sent.
    """
    view = host_view(passport, turn)
    x, y, width, height = (rect.x, rect.y, rect.width, rect.height) if rect else (0, 0, view.width_px, view.height_px)
    values: Values = {
        "width": view.width_px,
        "height": view.height_px,
        "x0": view.offset_x + x,
        "x1": view.offset_x + x + width - 1,
        "y0": view.offset_y + y,
        "y1": view.offset_y + y + height - 1,
    }
    if passport.controller.turned_by == "controller":
        values["turn"] = turn_code(passport, turn)
    return values


def setup_part(passport: Passport, turn: Turn) -> Part:
    """From reset until the panel takes pictures."""
    return Part("set-up", tuple(expand(passport.sequences.setup, window_values(passport, turn))))


def frame_parts(passport: Passport, turn: Turn, packed: bytes) -> tuple[Part, ...]:
    """A whole frame of packed bytes, and the command that shows it where one is needed."""
    values = window_values(passport, turn)
    return (*data_parts(passport, values, packed), *show_parts(passport.sequences.show, values))


def window_parts(passport: Passport, turn: Turn, rect: Rect, packed: bytes, before: bytes = b"") -> tuple[Part, ...]:
    """A window of the glass (host axes), packed like a picture of its own size.

    `before` are the packed bytes of what stands there now: panels that drive only what changes
    take both.

    Raises
    ------
    BadValueError
        The panel cannot address this window.
    """
    check_window(rect, passport, turn)
    values, sequences = window_values(passport, turn, rect), passport.sequences
    parts: list[Part] = []
    if sequences.show_part and before:
        parts.append(Part("set window", tuple(expand(sequences.window, values))))
        parts.append(Part("send picture before", tuple(expand(sequences.write_before, {**values, "plane": before}))))
    parts += data_parts(passport, values, packed)
    # Without the picture before, what the glass would drive is left to chance: all of it is shown anew.
    return (*parts, *show_parts(sequences.show_part if sequences.show_part and before else sequences.show, values))


def data_parts(passport: Passport, values: Values, packed: bytes) -> list[Part]:
    """Windows and bytes, without the command that shows them."""
    if passport.sequences.per == "page":
        return _page_parts(passport, values, packed)
    return _plane_parts(passport, values, packed)


def show_parts(text: str, values: Values) -> list[Part]:
    """The command that makes the glass show what was sent, where one is needed."""
    return [Part("show", tuple(expand(text, values)))] if text else []


def _plane_parts(passport: Passport, values: Values, packed: bytes) -> list[Part]:
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


def _page_parts(passport: Passport, values: Values, packed: bytes) -> list[Part]:
    width = int(values["x1"]) - int(values["x0"]) + 1
    first = int(values["y0"]) // 8
    sent: list[Transaction] = []
    for page in range(-(-len(packed) // width)):
        row = {**values, "page": first + page, "plane": packed[page * width : (page + 1) * width]}
        sent += expand(passport.sequences.window, row)
        sent += expand(passport.sequences.write[0], row)
    return [Part("send pages", tuple(sent))]
