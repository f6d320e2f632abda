# Drawing into the bytes of a panel, by the rules of docs/drawing.md. Plain Python: no classes, no other modules.
# A surface is a list: see surface(). Colours are palette numbers, or a pixel's own bytes as one number, high byte first.

BUF, WIDTH, ROWS, TOP, BITS, SX, SY, AX, AY, MSB, CODES, PLANE, TURN, SEEN_WIDTH, SEEN_HEIGHT = range(15)
SHIFT_X, SHIFT_Y, CLIP = 15, 16, 17  # everything lies so far to the right and down: a picture that wanders spares the glass


# bits: of one pixel. sx, sy: a byte holds 1 << sx pixels of a row, or 1 << sy of a column. ax, ay: bytes from one byte to the
# next on its right, and below it. msb: the first pixel is in the high bits. codes: for each plane the number of each palette
# colour; () for colours that are sent as they are. rows from top on are held; ay and plane_bytes are of this many rows.
# turn: 0 where the bytes lie as the reader sees them; else they lie as the glass does, which is turned clockwise by so many
# quarters before the reader, and then mirrored left to right with 4 (8 for mirrored alone). Calls are in his coordinates.
def surface(buf, width, rows, top, bits, sx, sy, ax, ay, msb, codes, plane_bytes, turn=0, seen_width=0, seen_height=0):
    return [buf, width, rows, top, bits, sx, sy, ax, ay, msb, codes, plane_bytes, turn, seen_width, seen_height, 0, 0, None]


# Without a buffer: area(x, y, w, h, c) is called for each box of one colour, clipped and turned; it sets a window and sends
# the pixels.
def direct(area, width, rows, turn=0, seen_width=0, seen_height=0):
    return [area, width, rows, 0, 0, 0, 0, 0, 0, 0, (), 0, turn, seen_width, seen_height, 0, 0, None]


def first_row(s):
    return (0 if s[TURN] else s[TOP]) - s[SHIFT_Y]


def end_row(s):
    return (s[SEEN_HEIGHT] if s[TURN] else s[TOP] + s[ROWS]) - s[SHIFT_Y]


def row_width(s):
    return (s[SEEN_WIDTH] if s[TURN] else s[WIDTH]) - s[SHIFT_X]


def lay(s, x, y, c):
    """A pixel where the bytes lie."""
    y -= s[TOP]
    if x < 0 or y < 0 or x >= s[WIDTH] or y >= s[ROWS]:
        return
    buf, bits = s[BUF], s[BITS]
    if not s[CODES]:
        if bits == 12:
            at = (y * s[WIDTH] + x) * 3
            for shift in (8, 4, 0):
                nibble = (c >> shift) & 15
                old = buf[at >> 1]
                buf[at >> 1] = (old & 0xF0) | nibble if at & 1 else (old & 0x0F) | (nibble << 4)
                at += 1
            return
        size = (bits + 7) >> 3
        at = s[AY] * y + x * size
        while size:
            size -= 1
            buf[at] = (c >> (8 * size)) & 255
            at += 1
        return
    last = (1 << (s[SX] + s[SY])) - 1
    place = (x if s[SX] else y) & last
    shift = (last - place if s[MSB] else place) * bits
    at = (x >> s[SX]) * s[AX] + (y >> s[SY]) * s[AY]
    for codes in s[CODES]:
        buf[at] = (buf[at] & ~(((1 << bits) - 1) << shift) & 255) | (codes[c] << shift)
        at += s[PLANE]


def turn_box(s, x, y, w, h):
    """A box as the bytes lie, of one as the reader sees it."""
    turn = s[TURN]
    if not turn:
        return x, y, w, h
    start = s[SEEN_WIDTH] - x - w if turn & 4 or turn == 8 else x
    rest, below = s[SEEN_WIDTH] - start - w, s[SEEN_HEIGHT] - y - h
    return ((start, y, w, h), (y, rest, h, w), (rest, below, w, h), (below, start, h, w))[turn & 3]


def within(s, x, y, w, h):
    """The same surface, of which only a box can be drawn on."""
    x, y, w, h = turn_box(s, x + s[SHIFT_X], y + s[SHIFT_Y], w, h)
    left, top, right, bottom = s[CLIP] or (x, y, x + w, y + h)
    return [*s[:CLIP], (max(x, left), max(y, top), min(x + w, right), min(y + h, bottom))]


def fill(s, x, y, w, h, c):
    """A box of one colour: clipped, turned, and sent or laid into the buffer."""
    right, bottom = min(x + w, row_width(s)), min(y + h, end_row(s))
    x, y = max(x, -s[SHIFT_X]), max(y, first_row(s))
    w, h = right - x, bottom - y
    if w <= 0 or h <= 0:
        return
    x, y, w, h = turn_box(s, x + s[SHIFT_X], y + s[SHIFT_Y], w, h)
    if s[CLIP]:
        left, top, right, bottom = s[CLIP]
        right, bottom = min(x + w, right), min(y + h, bottom)
        x, y = max(x, left), max(y, top)
        w, h = right - x, bottom - y
        if w <= 0 or h <= 0:
            return
    if not s[BITS]:
        s[BUF](x, y, w, h, c)
        return
    for row in range(y, y + h):
        for column in range(x, x + w):
            lay(s, column, row, c)


def run(s, x, y, w, c):
    fill(s, x, y, w, 1, c)


def dot(s, x, y, c):
    fill(s, x, y, 1, 1, c)


def spread(s, y, from_x, x, last, c):
    """One more pixel of a row: runs of one colour are drawn when they end. Gives (where the run began, its colour)."""
    if c == last:
        return from_x, last
    if last >= 0:
        run(s, from_x, y, x - from_x, last)
    return x, c


def frame(s, x, y, w, h, t, c):
    if 2 * t >= w or 2 * t >= h:
        fill(s, x, y, w, h, c)
        return
    fill(s, x, y, w, t, c)
    fill(s, x, y + h - t, w, t, c)
    fill(s, x, y + t, t, h - 2 * t, c)
    fill(s, x + w - t, y + t, t, h - 2 * t, c)


def root(n):
    """The whole part of the square root."""
    found, bit = 0, 1 << 30
    while bit > n:
        bit >>= 2
    while bit:
        if n >= found + bit:
            n -= found + bit
            found = (found >> 1) + bit
        else:
            found >>= 1
        bit >>= 2
    return found


def inset(w, h, row):
    """Pixels of a row of a box that lie left of the ellipse in it."""
    v, fine = 2 * row + 1 - h, 8 if h <= 256 else 4
    return (w - w * root((h * h - v * v) << (2 * fine)) // (h << fine)) // 2


def ellipse(s, x, y, w, h, c):
    for row in range(h):
        left = inset(w, h, row)
        run(s, x + left, y + row, w - 2 * left, c)


def line(s, x0, y0, x1, y1, t, c):
    if y1 < y0 or (y1 == y0 and x1 < x0):
        x0, y0, x1, y1 = x1, y1, x0, y0
    dx, dy, step = abs(x1 - x0), y1 - y0, 1 if x1 >= x0 else -1
    error, first = dx - dy, x0
    while True:
        last, twice = x0 == x1 and y0 == y1, 2 * error
        if last or twice < dx:  # points on one row are laid together
            for row in range(t):
                left = inset(t, t, row)
                run(s, min(first, x0) - t // 2 + left, y0 - t // 2 + row, abs(x0 - first) + t - 2 * left, c)
        if last:
            return
        if twice > -dy:
            error -= dy
            x0 += step
        if twice < dx:
            error += dx
            y0 += 1
            first = x0


def disc(s, cx, cy, r, c):
    for dy in range(-r, r + 1):
        half = root(r * r + r - dy * dy)
        run(s, cx - half, cy + dy, 2 * half + 1, c)


def ring(s, cx, cy, r, t, c):
    inner = r - t
    for dy in range(-r, r + 1):
        half = root(r * r + r - dy * dy)
        if inner < 0 or dy < -inner or dy > inner:
            run(s, cx - half, cy + dy, 2 * half + 1, c)
        else:
            hole = root(inner * inner + inner - dy * dy)
            run(s, cx - half, cy + dy, half - hole, c)
            run(s, cx + hole + 1, cy + dy, half - hole, c)


def round_inset(h, r, row):
    if row < r:
        return inset(2 * r, 2 * r, row)
    if row >= h - r:
        return inset(2 * r, 2 * r, h - 1 - row)
    return 0


def rounded(s, x, y, w, h, r, c):
    r = min(r, w // 2, h // 2)
    for row in range(h):
        left = round_inset(h, r, row) if r else 0
        run(s, x + left, y + row, w - 2 * left, c)


def edge(s, x, y, w, left, above, below, c):
    """The outline's part of a row: what has a neighbour outside. Insets of the row, and of those above and below it."""
    inner = max(left + 1, above, below)
    if 2 * inner >= w:
        run(s, x + left, y, w - 2 * left, c)
    else:
        run(s, x + left, y, inner - left, c)
        run(s, x + w - inner, y, inner - left, c)


def ellipse_outline(s, x, y, w, h, c):
    for row in range(h):
        above = inset(w, h, row - 1) if row else w
        below = inset(w, h, row + 1) if row < h - 1 else w
        edge(s, x, y + row, w, inset(w, h, row), above, below, c)


def rounded_outline(s, x, y, w, h, r, c):
    r = min(r, w // 2, h // 2)
    for row in range(h):
        above = (round_inset(h, r, row - 1) if r else 0) if row else w
        below = (round_inset(h, r, row + 1) if r else 0) if row < h - 1 else w
        edge(s, x, y + row, w, round_inset(h, r, row) if r else 0, above, below, c)


def polygon(s, points, c):
    count = len(points) // 2
    ys = points[1::2]
    for y in range(max(min(ys), first_row(s)), min(max(ys), end_row(s))):
        crossings = []
        for i in range(count):
            j = (i + 1) % count
            xa, ya, xb, yb = points[2 * i], points[2 * i + 1], points[2 * j], points[2 * j + 1]
            if ya > yb:
                xa, ya, xb, yb = xb, yb, xa, ya
            if ya <= y < yb:
                crossings.append(xa - (-((2 * (y - ya) + 1) * (xb - xa) - (yb - ya)) // (2 * (yb - ya))))
        crossings.sort()
        for i in range(0, len(crossings) - 1, 2):
            run(s, crossings[i], y, crossings[i + 1] - crossings[i], c)


def pattern(s, x, y, w, h, tile, tw, c, ground):
    """A byte for each row of the tile, its leftmost pixel in bit 7; -1 for no colour."""
    end = min(x + w, row_width(s))
    for row in range(max(y, 0, first_row(s)), min(y + h, end_row(s))):
        bits = tile[row % len(tile)]
        at, last = 0, -1
        for column in range(max(x, 0), end):
            at, last = spread(s, row, at, column, last, c if bits & (128 >> (column % tw)) else ground)
        spread(s, row, at, end, last, -1)


# Sines of 0 to 90 degrees, in parts of 16,384.
SINES = (
    0,
    286,
    572,
    857,
    1143,
    1428,
    1713,
    1997,
    2280,
    2563,
    2845,
    3126,
    3406,
    3686,
    3964,
    4240,
    4516,
    4790,
    5063,
    5334,
    5604,
    5872,
    6138,
    6402,
    6664,
    6924,
    7182,
    7438,
    7692,
    7943,
    8192,
    8438,
    8682,
    8923,
    9162,
    9397,
    9630,
    9860,
    10087,
    10311,
    10531,
    10749,
    10963,
    11174,
    11381,
    11585,
    11786,
    11982,
    12176,
    12365,
    12551,
    12733,
    12911,
    13085,
    13255,
    13421,
    13583,
    13741,
    13894,
    14044,
    14189,
    14330,
    14466,
    14598,
    14726,
    14849,
    14968,
    15082,
    15191,
    15296,
    15396,
    15491,
    15582,
    15668,
    15749,
    15826,
    15897,
    15964,
    16026,
    16083,
    16135,
    16182,
    16225,
    16262,
    16294,
    16322,
    16344,
    16362,
    16374,
    16382,
    16384,
)


def direction(degrees):
    """(x, y) of a direction, clockwise from straight up, in parts of 16,384."""
    a = degrees % 360
    quarter, rest = a // 90, a % 90
    along, across = SINES[90 - rest], SINES[rest]
    if quarter == 0:
        return across, -along
    if quarter == 1:
        return along, across
    if quarter == 2:
        return -across, along
    return -along, -across


def behind(d, dx, dy):
    """Whether a pixel lies in the half turn that begins at a direction."""
    cross = d[0] * dy - d[1] * dx
    return cross > 0 or (cross == 0 and d[0] * dx + d[1] * dy > 0)


def sector(s, cx, cy, r, t, start, span, c):
    if span >= 360:
        ring(s, cx, cy, r, t, c)
        return
    inner, a, b = r - t, direction(start), direction(start + span)
    for dy in range(-r, r + 1):
        half = root(r * r + r - dy * dy)
        hole = root(inner * inner + inner - dy * dy) if inner >= 0 and -inner <= dy <= inner else -1
        at, last = 0, -1
        for dx in range(-half, half + 1):
            first, second = behind(a, dx, dy), not behind(b, dx, dy)
            inside = (first and second) if span <= 180 else (first or second)
            if span <= 0 or -hole <= dx <= hole:
                inside = False
            at, last = spread(s, cy + dy, at, cx + dx, last, c if inside else -1)
        spread(s, cy + dy, at, cx + half + 1, last, -1)


def glyph(s, x, y, w, h, data, bits, colors):
    """Levels of 1, 2 or 4 bits, rows of whole bytes, the leftmost in the high bits; a colour for each, of which -1 is none."""
    stride = (w * bits + 7) >> 3
    for row in range(h):
        start, last = 0, -1
        for column in range(w):
            at = column * bits
            color = colors[(data[row * stride + (at >> 3)] >> (8 - bits - (at & 7))) & ((1 << bits) - 1)]
            start, last = spread(s, y + row, start, x + column, last, color)
        spread(s, y + row, start, x + w, last, -1)


def picture(s, x, y, w, h, data, colors):
    """A byte a pixel: its place among the colours, of which -1 is none."""
    for row in range(h):
        at, last = 0, -1
        for column in range(w):
            at, last = spread(s, y + row, at, x + column, last, colors[data[row * w + column]])
        spread(s, y + row, at, x + w, last, -1)


def values(s, x, y, w, h, data, size, mask):
    """Pixels as their own values, high byte first, so many bytes each; with a mask, those of which its bit is 1."""
    at, stride = 0, (w + 7) >> 3
    for row in range(h):
        start, last = 0, -1
        for column in range(w):
            color = 0
            for _ in range(size):
                color = (color << 8) | data[at]
                at += 1
            if mask and not mask[row * stride + (column >> 3)] & (128 >> (column & 7)):
                color = -1
            start, last = spread(s, y + row, start, x + column, last, color)
        spread(s, y + row, start, x + w, last, -1)


def turned(s, x, y, degrees, px, py, w, h, data, colors):
    """A picture turned clockwise by degrees about its pixel px, py, which comes to lie at x, y."""
    sine, minus_cosine = direction(degrees)
    wide, high = max(px, w - 1 - px, -px), max(py, h - 1 - py, -py)
    reach = root(wide * wide + high * high) + 1
    for dy in range(-reach, reach + 1):
        at, last = 0, -1
        for dx in range(-reach, reach + 1):
            u = px + (dy * sine - dx * minus_cosine + 8192) // 16384
            v = py + (-dy * minus_cosine - dx * sine + 8192) // 16384
            color = colors[data[v * w + u]] if 0 <= u < w and 0 <= v < h else -1
            at, last = spread(s, y + dy, at, x + dx, last, color)
        spread(s, y + dy, at, x + reach + 1, last, -1)


# A font is (bits of a level, {code point: (where its rows begin, w, h, left, top, advance)}, pixels, {(first, second): by}).
def text(s, x, base, words, font, colors):
    """A line from the pen at x on a base line; a colour for each level. Letters that the font has not are skipped."""
    bits, letters, pixels, kerns = font
    last = 0
    for character in words:
        code = ord(character)
        if code not in letters:
            continue
        at, w, h, left, top, advance = letters[code]
        x += kerns.get((last, code), 0)
        glyph(s, x + left, base - top, w, h, pixels[at : at + h * ((w * bits + 7) >> 3)], bits, colors)
        x += advance
        last = code


def width(words, font):
    """Pixels from the pen's first place to its last."""
    _, letters, _, kerns = font
    x, last = 0, 0
    for character in words:
        code = ord(character)
        if code in letters:
            x += kerns.get((last, code), 0) + letters[code][5]
            last = code
    return x


def plot(s, x, y, w, h, t, low, high, past, room, c):
    """The last `room` readings of a list at equal steps, the newest at the right, between low and high; None breaks the line."""
    if room < 2 or w < 1 or h < 1 or low == high:
        return
    count = min(room, len(past))
    before = None
    for i in range(count):
        reading = past[len(past) - count + i]
        if reading is None:
            before = None
            continue
        span = abs(high - low)
        part = max(0, min(reading, high) - low) if high > low else max(0, low - max(reading, high))
        here = x + (w - 1) * (room - count + i) // (room - 1), y + h - 1 - (2 * part * (h - 1) + span) // (2 * span)
        first = before or here
        line(s, first[0], first[1], here[0], here[1], t, c)
        before = here


def stencil(s, x, y, w, h, data, c):
    """A bit a pixel, rows of whole bytes, the leftmost in bit 7: where it is 1, the colour."""
    glyph(s, x, y, w, h, data, 1, (-1, c))
