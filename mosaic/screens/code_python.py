"""A screen as plain Python: tables, a call an element, and the surfaces that its panel takes; and the way back."""

from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.drawing.surface import byte_layout
from mosaic.exports.code import python_bytes
from mosaic.firmware import draw as runtime
from mosaic.panels.geometry import to_native
from mosaic.panels.windows import host_size
from mosaic.pixels.formats import IndexedFormat
from mosaic.screens.calls import Call
from mosaic.screens.code_c import turn_number
from mosaic.screens.rendering import Rendered
from mosaic.screens.sheet import Sheet, sheet_of
from mosaic.source_text import comment


def call_line(call: Call, sheet: Sheet) -> str:
    """One call of the runtime."""
    given, name = call.given, f"draw.{call.name}"
    if call.name == "text":
        x, base, words, font, colors = given
        return f"{name}(s, {x}, {base}, {words!r}, {sheet.font(font).name}, {sheet.table(colors)})"
    if call.name in ("picture", "turned"):
        *first, image = given
        table = sheet.image(image)
        numbers = ", ".join(map(str, first))
        return f"{name}(s, {numbers}, {table.width}, {table.height}, {table.name}, {sheet.table(image.colors)})"
    if call.name == "values":
        x, y, image = given
        table = sheet.image(image)
        mask = f"{table.name}_mask" if table.mask else 'b""'
        return f"{name}(s, {x}, {y}, {table.width}, {table.height}, {table.name}, {table.value_bytes}, {mask})"
    if call.name == "pattern":
        *first, tile, color, ground = given
        tile_name, wide, _ = sheet.tile(tile)
        numbers = ", ".join(map(str, first))
        return f"{name}(s, {numbers}, {tile_name}, {wide}, {sheet.value(color)}, {sheet.value(ground)})"
    if call.name == "polygon":
        points, color = given
        flat = ", ".join(str(v) for point in points for v in point)
        return f"{name}(s, ({flat}), {sheet.value(color)})"
    *first, color = given
    return f"{name}(s, {', '.join(map(str, first))}, {sheet.value(color)})"


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
    return "".join(out)


def python_source(rendered: Rendered, title: str) -> str:
    """A module that draws the screen with `draw.py` beside it."""
    sheet, device = sheet_of(rendered, title), rendered.device
    fmt, (width, height) = device.passport.format, host_size(device.passport, device.turn)
    seen_width, seen_height = device.size
    lines = []
    for block in sheet.blocks:
        lines.append(f"    # {block.words}")
        lines += [f"    {call_line(call, sheet)}" for call in block.calls]
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
    return f'''# {comment(title)}, for: {comment(device.passport.name)}
# {seen_width} x {seen_height} pixels as the reader sees them; {comment(fmt.describe())}.
import draw

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


def {sheet.name}(s):
    """Draw the screen on a surface, or directly."""
{body}
'''


def drawn_by_python(source: str, name: str) -> npt.NDArray[np.int64]:
    """(H, W) of what a module draws without a buffer, in the values that it sends, as its bytes lie."""
    known: dict[str, Any] = {"draw": runtime}
    exec(compile(source.replace("\nimport draw\n", "\n"), "screen", "exec"), known)
    frame = np.full((known["HEIGHT"], known["WIDTH"]), -1, np.int64)

    def area(x: int, y: int, w: int, h: int, color: int) -> None:
        frame[y : y + h, x : x + w] = color

    known[name](known["direct"](area))
    return frame


def draws_the_same(source: str, rendered: Rendered, title: str) -> bool:
    """Whether a module, run, draws what was rendered."""
    sheet, device = sheet_of(rendered, title), rendered.device
    values = rendered.surface.values
    known, places = np.unique(values, return_inverse=True)
    meant = np.array([sheet.value(int(v)) for v in known])[places].reshape(values.shape)
    if turn_number(rendered):
        meant = to_native(meant, device.turn)
    return bool(np.array_equal(drawn_by_python(source, sheet.name), meant))
