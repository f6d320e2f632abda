"""panel.py: set-up, windows and frames of a panel in plain Python, as panel.c has them."""

from mosaic.device.device import Device
from mosaic.drawing.surface import byte_layout
from mosaic.handover.panel_code import TOKEN, band_rows, turned_code
from mosaic.panels.sequence import PLANE, Step, parse
from mosaic.panels.windows import host_size
from mosaic.panels.wire import setup_part, window_values
from mosaic.pixels.formats import IndexedFormat
from mosaic.screens.updates import link_of
from mosaic.source_text import comment

VALUES = """    x, y, w, h = box
    x0, x1, y0, y1 = LEFT + x, LEFT + x + w - 1, TOP + y, TOP + y + h - 1
    width, height, turn = WIDTH, HEIGHT, TURN_CODE"""


def _bytes_of(token: str) -> list[str]:
    match = TOKEN.fullmatch(token)
    if match is None:
        return [f"0x{token}"]
    base, name, divisor, kind = match.groups()
    value = f"{name} // {divisor}" if divisor else name
    value = {"lo": f"({value} & 15)", "hi": f"({value} >> 4)", "low": f"({value} & 255)", "high": f"({value} >> 8)"}.get(
        kind or "", f"({value})"
    )
    value = f"0x{base} + {value}" if base else value
    if (kind or "").startswith("u16"):
        both = [f"({value}) >> 8 & 255", f"({value}) & 255"]
        return both[::-1] if kind == "u16le" else both
    return [f"({value}) & 255"]


def _told(tokens: tuple[str, ...]) -> str:
    return f"bytes(({', '.join(byte for token in tokens for byte in _bytes_of(token))},))"


def _lines(steps: tuple[Step, ...] | list[Step]) -> list[str]:
    out = []
    for step in steps:
        if step.kind in ("reset", "delay"):
            out.append(f"    b.{step.kind}({max(1, round(step.wait_ms)) if step.kind == 'delay' else ''})")
        elif step.kind == "busy":
            out.append("    wait(b)")
        else:
            out += [f"    b.select({step.kind == 'command'})", f"    b.write({_told(step.tokens)})"]
    return out


def _split(text: str) -> tuple[list[str], list[str]]:
    """Lines up to the bytes of a plane, whose transaction is begun, and lines behind them."""
    steps = parse(text)
    at = next(number for number, step in enumerate(steps) if PLANE in step.tokens)
    place = steps[at].tokens.index(PLANE)
    head, tail = steps[at].tokens[:place], steps[at].tokens[place + 1 :]
    begun = [f"    b.select({steps[at].kind == 'command'})", *([f"    b.write({_told(head)})"] if head else [])]
    return [*_lines(steps[:at]), *begun], [*([f"    b.write({_told(tail)})"] if tail else []), *_lines(steps[at + 1 :])]


def _function(head: str, body: list[str]) -> str:
    return "\n".join([f"def {head}:", VALUES, *body]) + "\n"


def _indented(lines: list[str]) -> list[str]:
    return [f"    {line}" for line in lines]


def _opened(device: Device) -> tuple[str, str]:
    sequences = device.passport.sequences
    if sequences.per == "page":
        return "def open_window(b, plane, box, before):\n    pass\n", "def close_window(b, plane, box, before):\n    pass\n"
    opens, ends = _lines(parse(sequences.window)) if sequences.window else [], list[str]()
    if sequences.write_before:
        first, last = _split(sequences.write_before)
        opens += ["    if before:", *_indented(first), "        return"]
        ends += ["    if before:", *_indented([*last, "    return"])]
    for number, write in enumerate(sequences.write):
        first, last = _split(write)
        opens += [f"    if plane == {number}:", *_indented(first)]
        ends += [f"    if plane == {number}:", *_indented(last)] if last else []
    return _function("open_window(b, plane, box, before)", opens), _function("close_window(b, plane, box, before)", ends)


def _put(device: Device) -> str:
    fmt, sequences = device.passport.format, device.passport.sequences
    lay = byte_layout(fmt, *host_size(device.passport, device.turn))
    if not isinstance(fmt, IndexedFormat):
        if fmt.bits == 12:
            return '''half = []  # a pixel that waits for the other of its three bytes


def put(b, band, plane, box, is_last):
    """The rows of a window; two pixels are three bytes, also across the ends of rows."""
    x, y, w, h = box
    buf, top = band[0], band[3]
    out = bytearray()
    for row in range(y, y + h):
        for column in range(x, x + w):
            at = (row - top) * WIDTH + column
            one = buf[at // 2 * 3 : at // 2 * 3 + 3]
            half.append((one[1] & 15) << 8 | one[2] if at % 2 else one[0] << 4 | one[1] >> 4)
            if len(half) == 2:
                out += bytes((half[0] >> 4, (half[0] & 15) << 4 | half[1] >> 8, half[1] & 255))
                half.clear()
    if is_last and half:
        out += bytes((half[0] >> 4, (half[0] & 15) << 4))
        half.clear()
    b.write(out)
'''
        size = -(-fmt.bits // 8)
        return f'''def put(b, band, plane, box, is_last):
    """The rows of a window."""
    x, y, w, h = box
    for row in range(y, y + h):
        at = ((row - band[3]) * WIDTH + x) * {size}
        b.write(band[0][at : at + w * {size}])
'''
    begin = f'''def put(b, band, plane, box, is_last):
    """The rows of a window, in the order in which the panel takes them."""
    x, y, w, h = box
    buf, top, ax, ay, start = band[0], band[3], band[7], band[8], plane * band[11]
    left, right, first, last = x >> {lay.sx}, (x + w + {(1 << lay.sx) - 1}) >> {lay.sx}, (y - top) >> {lay.sy}, (
        y + h - top + {(1 << lay.sy) - 1}
    ) >> {lay.sy}
'''
    if sequences.per == "page":
        first_part, last_part = _split(sequences.write[0])
        inner = _indented([*_lines(parse(sequences.window)), *first_part])
        ends = _indented(last_part)
        body = "\n".join([*inner, "        b.write(buf[start + row * ay + left : start + row * ay + right])", *ends])
        return f"""{begin}{VALUES}
    for row in range(first, last):
        page = (TOP + y) // {1 << lay.sy} + row - first
{body}
"""
    if fmt.follow == "columns":
        return f"""{begin}    for column in range(left, right):
        b.write(buf[start + column * ax + first : start + column * ax + last])
"""
    return f"""{begin}    for row in range(first, last):
        b.write(buf[start + row * ay + left : start + row * ay + right])
"""


def panel_python(device: Device, title: str, turn: int) -> str:
    """panel.py. `turn` : how a surface's bytes lie, as the drawing runtime is told."""
    passport, fmt = device.passport, device.passport.format
    sequences = passport.sequences
    (width, height), (seen_width, seen_height) = host_size(passport, device.turn), device.size
    lay, link, values, rows = (
        byte_layout(fmt, width, height),
        link_of(device),
        window_values(passport, device.turn),
        band_rows(device),
    )
    if isinstance(fmt, IndexedFormat):
        unit, step = fmt.align_bits // 8, fmt.align_bits // fmt.bits
        down = "rows" if fmt.along == "row" else f"(rows + {step - 1}) // {step} * {unit}"
        across = fmt.grid(width, height)[1]
        ax, ay = (down, "1") if fmt.follow == "columns" else ("1", str(across))
        plane, codes, planes = f"{down} * {across}", repr(lay.codes), len(lay.codes)
        size = fmt.plane_bytes(width, rows) * planes
    else:
        ax, ay, plane, codes, planes, size = "1", str(lay.ay), f"{lay.ay} * rows", "()", 1, -(-rows * width * fmt.bits // 8)
    setup = _lines(
        [Step(s.kind, tuple(f"{v:02X}" for v in s.data), s.wait_ms) for s in setup_part(passport, device.turn).transactions]
    )
    opened, closed = _opened(device)
    show = _function("show(b, box)", _lines(parse(sequences.show)))
    part = _function("show_part(b, box)", _lines(parse(sequences.show_part or sequences.show)))
    parts = bool(sequences.show_part and sequences.write_before)
    body = "\n\n".join([opened, _put(device), closed, show, part])
    begun = "\n".join(setup)
    return f'''# {comment(title)}, for: {comment(passport.name)}
# {seen_width} x {seen_height} pixels as the reader sees them; {comment(fmt.describe())}.
import draw
import update

WIDTH, HEIGHT, LEFT, TOP = {width}, {height}, {int(values["x0"])}, {int(values["y0"])}
SEEN_WIDTH, SEEN_HEIGHT = {seen_width}, {seen_height}
PLANES, BAND, BUFFER = {planes}, {rows}, {size}
SHOWS, SHOWS_PARTS, BEGINS_ANEW = {bool(sequences.show)}, {parts}, {bool(sequences.show and link.whole)}
TURN_CODE = {turned_code(device)}
LINK = ({link.grid_x}, {link.grid_y}, {link.offset_x}, {link.offset_y}, {link.whole}, {link.setup}, {link.bits})


def wait(b):
    """Until the panel is not busy."""
    while True:
        read = b.input(5, 0)
        if not read or not read[0]:
            return
        b.delay(1)


def begin(b):
    """From reset until the panel takes pictures."""
{begun}


def surface(buf, top, rows):
    """Rows from `top` on in a buffer."""
    return draw.surface(
        buf, WIDTH, rows, top, {lay.bits}, {lay.sx}, {lay.sy}, {ax}, {ay}, {int(lay.msb)}, {codes}, {plane},
        {turn}, {seen_width}, {seen_height},
    )


def direct(area):
    """Without a buffer: area(x, y, w, h, color)."""
    return draw.direct(area, WIDTH, HEIGHT, {turn}, {seen_width}, {seen_height})


def box_of(seen):
    """The smallest window that holds a box that the reader sees."""
    left, top, right, bottom = draw.within(direct(None), *seen)[17]
    return update.snapped(LINK, WIDTH, HEIGHT, left, top, right, bottom)


{body}'''
