"""A screen as plain Python: tables, a call an element, and the surfaces that its panel takes; and the way back."""

from collections.abc import Sequence
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.drawing.surface import byte_layout
from mosaic.exports.code import python_bytes
from mosaic.firmware import draw, maps, show, update
from mosaic.panels.geometry import to_native
from mosaic.panels.windows import host_size
from mosaic.pixels.formats import IndexedFormat
from mosaic.screens.calls import Call
from mosaic.screens.code_c import turn_number
from mosaic.screens.code_values import names_of, plotted, python_words
from mosaic.screens.reckoning import Writer, needed, shared, words_in, written
from mosaic.screens.rendering import Rendered
from mosaic.screens.sheet import Sheet, sheet_of
from mosaic.screens.symbols import Question, Symbol, Way, Whole
from mosaic.screens.updates import link_of
from mosaic.screens.words import Words, piece_text
from mosaic.source_text import comment
from mosaic.values.notation import FORMS, Field
from mosaic.values.states import State
from mosaic.values.value import Value


class PythonWriter(Writer):
    """Sums and calls in Python; `v` are the values, `s` the surface."""

    def raw(self, value: Value) -> str:
        return f"v[{self.names.of(value)!r}]"

    def op(self, number: Symbol) -> str:
        parts, op = number.parts, number.op
        match op:
            case "raw":
                # Sums are made before it is asked whether there is a reading: one that is missing counts as nothing then.
                return f"({self.raw(parts[0])} or 0)"
            case "known":
                return f"{self.raw(parts[0])} is not None"
            case "tick":
                return 'v["tick"]'
            case "map":
                map_, raw = parts
                return f"maps.{map_.by}({self.sum(raw)}, {self.sheet.map(map_.points)})"
            case "width":
                words, font = parts
                return f"draw.width({self.local[words.source]}, {self.sheet.font(font).name})"
            case "if":
                return f"({self.sum(parts[1])} if {self.sum(parts[0])} else {self.sum(parts[2])})"
            case "least" | "most":
                return f"{'min' if op == 'least' else 'max'}({self.sum(parts[0])}, {self.sum(parts[1])})"
            case "across" | "along":
                return f"draw.direction({self.sum(parts[0])})[{int(op == 'along')}]"
        return f"({self.sum(parts[0])} {op} {self.sum(parts[1])})"

    def numbers(self, given: tuple[Whole, ...]) -> str:
        return ", ".join(self.sum(number) for number in given)

    def call(self, call: Call, on: str) -> str:
        """One call of the runtime."""
        given, name, sheet = call.given, f"draw.{call.name}", self.sheet
        if call.name == "text":
            x, base, words, font, colors = given
            shown = repr(words) if isinstance(words, str) else self.local[words.source]
            return f"{name}({on}, {self.numbers((x, base))}, {shown}, {sheet.font(font).name}, {sheet.table(colors)})"
        if call.name in ("picture", "turned"):
            *first, image = given
            table = sheet.image(image)
            at = self.numbers(tuple(first))
            return f"{name}({on}, {at}, {table.width}, {table.height}, {table.name}, {sheet.table(image.colors)})"
        if call.name == "values":
            x, y, image = given
            table = sheet.image(image)
            mask = f"{table.name}_mask" if table.mask else 'b""'
            at = self.numbers((x, y))
            return f"{name}({on}, {at}, {table.width}, {table.height}, {table.name}, {table.value_bytes}, {mask})"
        if call.name == "pattern":
            *first, tile, color, ground = given
            tile_name, wide, _ = sheet.tile(tile)
            colors = self.numbers((self.color(color), self.color(ground)))
            return f"{name}({on}, {self.numbers(tuple(first))}, {tile_name}, {wide}, {colors})"
        if call.name == "polygon":
            points, color = given
            return f"{name}({on}, ({self.numbers(tuple(v for point in points for v in point))}), {self.sum(self.color(color))})"
        if call.name == "plot":
            *first, past, color = given
            kept = f"v[{self.names.of(past.value) + '_past'!r}]"
            return f"{name}({on}, {self.numbers(tuple(first))}, {kept}, {past.count}, {self.sum(self.color(color))})"
        *first, color = given
        return f"{name}({on}, {self.numbers((*first, self.color(color)))})"

    def calls(self, calls: Sequence[Call]) -> list[str]:
        """Lines of calls, those inside of a box on a surface of which only that can be drawn on."""
        lines, on = [], "s"
        for call in calls:
            if call.name == "within":
                lines.append(f"inner = draw.within(s, {self.numbers(call.given)})")
                on = "inner"
            elif call.name == "beyond":
                on = "s"
            else:
                lines.append(self.call(call, on))
        return lines

    def ask(self, question: Question, yes: list[str], no: list[str]) -> list[str]:
        """A question, and what follows from its answers."""
        asked = f"{self.sum(question.left)} {question.op} {self.sum(question.right)}"
        if not yes:
            return [f"if not {asked}:", *(f"    {line}" for line in no)]
        rest = ["else:", *(f"    {line}" for line in no)] if no else []
        return [f"if {asked}:", *(f"    {line}" for line in yes), *rest]

    def composed(self, words: Words, name: str) -> str:
        """A text put together."""
        parts = []
        for piece in words.pieces:
            if isinstance(piece, str):
                parts.append(repr(piece_text(piece, State())))
                continue
            value, raw = piece.value, self.raw(piece.value)
            shown = self._shown(piece, raw)
            if piece.unit and value.unit and value.kind == "number":
                shown += f" + {f' {value.unit}'!r}"
            if value.stale:
                shown = f"{value.stale!r} if v.get({self.names.of(value) + '_stale'!r}) else {shown}"
            parts.append(f"({value.absent!r} if {raw} is None else {shown})")
        return f"{name} = {' + '.join(parts)}"

    def _shown(self, piece: Field, raw: str) -> str:
        value = piece.value
        if value.kind == "text":
            return f"show.words({raw}, {value.most_bytes})"
        if value.named:
            return f"{self.sheet.words_of(value.named)}[min(max({raw}, 0), {len(value.named) - 1})]"
        if value.kind == "time":
            if piece.form.endswith("am"):
                return f"show.clock_12({raw}, {piece.form != 'h am'})"
            return f"show.clock({raw}, {piece.form.startswith('hh')}, {piece.form.endswith('ss')})"
        if value.kind in FORMS:
            return f"show.{value.kind}({raw}, {FORMS[value.kind].index(piece.form)})"
        form = piece.number
        return f"show.number({raw}, {value.decimals}, {form.decimals}, {form.plus!r}, {form.fill!r}, {form.width})"

    def spot(self, ways: Sequence[Way]) -> list[str]:
        """Everything that one element needs."""
        self.local = {}
        reckoned: list[tuple[str, list[str]]] = []
        for number, words in enumerate(words_in(ways), 1):
            self.local[words.source] = f"t{number}"
            reckoned.append((f"t{number}", [self.composed(words, f"t{number}")]))
        for number, one in enumerate(shared(ways), 1):
            reckoned.append((f"n{number}", [f"n{number} = {self.op(one)}"]))
            self.local[one.key] = f"n{number}"
        return needed(reckoned, written(ways, self.ask, self.calls))


def _data(sheet: Sheet) -> str:
    out = []
    for table in sheet.fonts.values():
        letters = "".join(
            f"    {v.code}: ({v.at}, {v.width}, {v.height}, {v.left}, {v.top}, {v.advance}),\n" for v in table.letters
        )
        kerns = ", ".join(f"({a}, {b}): {by}" for a, b, by in table.kerns)
        out.append(python_bytes(f"{table.name}_pixels", table.pixels or b"\0"))
        out.append(f"{table.name}_letters = {{\n{letters}}}\n")
        out.append(f"{table.name} = ({table.bits}, {table.name}_letters, {table.name}_pixels, {{{kerns}}})\n")
    for image in sheet.images.values():
        out.append(python_bytes(image.name, image.data))
        if image.mask:
            out.append(python_bytes(f"{image.name}_mask", image.mask))
    for (rows, _), name in sheet.tiles.items():
        out.append(python_bytes(name, rows))
    for values, name in sheet.colors.items():
        out.append(f"{name} = ({', '.join(map(str, values))},)\n")
    for points, name in sheet.maps.items():
        out.append(f"{name} = ({', '.join(map(str, points))},)\n")
    for words, name in sheet.words.items():
        out.append(f"{name} = {words!r}\n")
    return "".join(out)


def python_source(rendered: Rendered, title: str, *, separate: bool = False) -> str:
    """A module that draws the screen with `draw.py` beside it; `separate` makes a function of each element."""
    sheet, device = sheet_of(rendered, title), rendered.device
    fmt, (width, height) = device.passport.format, host_size(device.passport, device.turn)
    seen_width, seen_height = device.size
    writer = PythonWriter(sheet, names_of(rendered.kit.design))
    lines, functions = [], []
    for block in sheet.blocks:
        lines.append(f"    # {block.words}")
        inner = [line for ways in block.spots for line in writer.spot(ways)]
        if block.is_dynamic or separate:
            given = "s, v" if block.is_dynamic else "s"
            functions.append("\n".join([f"def {block.name}({given}):", *(f"    {line}" for line in inner)]) + "\n\n\n")
            inner = [f"{block.name}({given})"]
        lines += [f"    {line}" for line in inner]
    lay, turn = byte_layout(fmt, width, height), turn_number(rendered)
    if isinstance(fmt, IndexedFormat):
        unit, step = fmt.align_bits // 8, fmt.align_bits // fmt.bits
        down = "rows" if fmt.along == "row" else f"(rows + {step - 1}) // {step} * {unit}"
        across = fmt.grid(width, height)[1]
        ax, ay = (down, "1") if fmt.follow == "columns" else ("1", str(across))
        plane, codes, size = f"{down} * {across}", repr(lay.codes), f"{down} * {across} * {len(lay.codes)}"
    else:
        ax, ay, plane, codes, size = "1", str(lay.ay), f"{lay.ay} * rows", "()", f"(rows * {width} * {fmt.bits} + 7) // 8"
    body = "\n".join(lines)
    needed = "import draw\nimport maps\nimport show\nimport update\n" if sheet.is_dynamic else "import draw\n"
    about = f"{python_words(rendered.kit.design)}\n" if sheet.is_dynamic else ""
    return f'''# {comment(title)}, for: {comment(device.passport.name)}
# {seen_width} x {seen_height} pixels as the reader sees them; {comment(fmt.describe())}.
{about}{needed}
WIDTH, HEIGHT = {width}, {height}  # as the bytes lie

{_data(sheet)}

def size_of(rows):
    """Bytes of so many rows."""
    return {size}


def surface(buf, top=0, rows=HEIGHT):
    """Rows from `top` on, in a bytearray of size_of(rows) bytes."""
    return draw.surface(
        buf, WIDTH, rows, top, {lay.bits}, {lay.sx}, {lay.sy}, {ax}, {ay}, {int(lay.msb)}, {codes}, {plane},
        {turn}, {seen_width}, {seen_height},
    )


def direct(area):
    """Without a buffer: area(x, y, w, h, color) sets a window and sends so many pixels of one colour."""
    return draw.direct(area, WIDTH, HEIGHT, {turn}, {seen_width}, {seen_height})


{"".join(functions)}def {sheet.name}(s{", v" if sheet.is_dynamic else ""}):
    """Draw the screen on a surface, or directly."""
{body}
{_changes(sheet) if sheet.is_dynamic else ""}'''


def _changes(sheet: Sheet) -> str:
    """What finds the windows that differ between two moments."""
    dynamic = ", ".join(block.name for block in sheet.blocks if block.is_dynamic)
    link = link_of(sheet.rendered.device)
    numbers = f"{link.grid_x}, {link.grid_y}, {link.offset_x}, {link.offset_y}, {link.whole}, {link.setup}, {link.bits}"
    return f'''

ELEMENTS = ({dynamic},)
LINK = ({numbers})


def changes(before, now, room=16):
    """The windows that differ between two moments. Of each: {sheet.name}(update.within(s, box), now), and it is sent."""
    return update.boxes(direct(None), LINK, lambda s, v, n: ELEMENTS[n](s, v), len(ELEMENTS), before, now, room)
'''


def values_for_python(rendered: Rendered) -> dict[str, Any]:
    """The values of a rendered state, as a module is given them."""
    names, kit = names_of(rendered.kit.design), rendered.kit
    state = kit.settled_state
    found: dict[str, Any] = {"tick": kit.tick()}
    for value in kit.values.values():
        name = names.of(value)
        found[name] = state.readings[value.id]
        found[f"{name}_stale"] = value.id in state.stale
    for ident, count in plotted([rendered.plan]).items():
        past = kit.past(kit.values[ident], count)
        found[f"{names.by_id[ident]}_past"] = list(past.readings or ())
    return found


def run_python(source: str) -> dict[str, Any]:
    """What a module defines, with the runtimes in place of its imports."""
    known: dict[str, Any] = {"draw": draw, "maps": maps, "show": show, "update": update}
    plain = "\n".join(line for line in source.split("\n") if not line.startswith("import "))
    exec(compile(plain, "screen", "exec"), known)
    return known


def drawn_by_python(source: str, name: str, values: dict[str, Any] | None) -> npt.NDArray[np.int64]:
    """(H, W) of what a module draws without a buffer, in the values that it sends, as its bytes lie."""
    known = run_python(source)
    frame = np.full((known["HEIGHT"], known["WIDTH"]), -1, np.int64)

    def area(x: int, y: int, w: int, h: int, color: int) -> None:
        frame[y : y + h, x : x + w] = color

    known[name](known["direct"](area), *([values] if values is not None else []))
    return frame


def draws_the_same(source: str, rendered: Rendered, title: str) -> bool:
    """Whether a module, run, draws what was rendered."""
    sheet, device = sheet_of(rendered, title), rendered.device
    values = rendered.surface.values
    known, places = np.unique(values, return_inverse=True)
    meant = np.array([sheet.value(int(v)) for v in known])[places].reshape(values.shape)
    if turn_number(rendered):
        meant = to_native(meant, device.turn)
    given = values_for_python(rendered) if sheet.is_dynamic else None
    return bool(np.array_equal(drawn_by_python(source, sheet.name, given), meant))
