"""Cards of colours and of steps of light."""

from mosaic.cards.canvas import Canvas, Value
from mosaic.cards.card import Card
from mosaic.color.srgb import parse_hex
from mosaic.narrowing import needed
from mosaic.panels.passport import Passport

DIRECT_COLORS: tuple[tuple[str, tuple[int, int, int]], ...] = (
    ("red", (255, 0, 0)), ("green", (0, 255, 0)), ("blue", (0, 0, 255)), ("white", (255, 255, 255)),
    ("cyan", (0, 255, 255)), ("magenta", (255, 0, 255)), ("yellow", (255, 255, 0)), ("black", (0, 0, 0)),
)  # fmt: skip
ROUND_INSET = 0.15
NAME_SHAPE = 2.4
"""Width over height of a patch in which a name stands well."""


def colors_of_panel(passport: Passport) -> list[tuple[str, Value, tuple[int, int, int]]]:
    """(name, value, colour for judging contrast) of every patch."""
    palette = passport.palette
    if palette is None:
        return [(name, rgb, rgb) for name, rgb in DIRECT_COLORS]
    return [(name, number, parse_hex(palette.measured[number])) for number, name in enumerate(palette.names)]


def paint_colors(canvas: Canvas) -> None:
    """A patch for every colour, each with its name, or with its number where no name fits."""
    patches = colors_of_panel(canvas.passport)
    edge = round(ROUND_INSET * min(canvas.width, canvas.height)) if canvas.is_round else 0
    width, height = canvas.width - 2 * edge, canvas.height - 2 * edge
    columns = _columns(len(patches), width, height)
    rows = -(-len(patches) // columns)
    for number, (name, value, color) in enumerate(patches):
        row, column = divmod(number, columns)
        x0, x1 = edge + width * column // columns, edge + width * (column + 1) // columns
        y0, y1 = edge + height * row // rows, edge + height * (row + 1) // rows
        canvas.fill(x0, y0, x1 - x0, y1 - y0, value)
        ink = canvas.contrast(color)
        for words in (name, name[:1], str(number)):
            if canvas.centred(x0 + 1, y0 + 1, x1 - x0 - 2, y1 - y0 - 2, words, ink):
                break
    if edge:
        canvas.frame(edge - 1, edge - 1, width + 2, height + 2)


def _columns(count: int, width: int, height: int) -> int:
    """How many patches stand side by side so that they are as wide as names need."""

    def unsuited(columns: int) -> tuple[int, float]:
        rows = -(-count // columns)
        return rows * columns - count, abs((width / columns) / (height / rows) - NAME_SHAPE)

    return min(range(1, count + 1), key=unsuited)


def has_ramp(passport: Passport) -> bool:
    """Whether the panel has steps between dark and light."""
    return passport.palette is None or (passport.palette.is_tone and len(passport.palette) > 2)


def paint_ramps(canvas: Canvas) -> None:
    """A ramp for each channel and one for all, or one step for each level."""
    palette = canvas.passport.palette
    edge = round(ROUND_INSET * min(canvas.width, canvas.height)) if canvas.is_round else 0
    width, height = canvas.width - 2 * edge, canvas.height - 2 * edge
    strips = ((1, 0, 0), (0, 1, 0), (0, 0, 1), (1, 1, 1)) if palette is None else ((1, 1, 1),)
    for number, channels in enumerate(strips):
        y0, y1 = edge + height * number // len(strips), edge + height * (number + 1) // len(strips)
        for x in range(width):
            level = x * 255 // max(1, width - 1)
            canvas.fill(edge + x, y0, 1, y1 - y0, _value(canvas, level, channels))
        if palette is None:
            face = canvas.face((y1 - y0) * 2 // 3)
            canvas.text(edge + 2, y0 + (y1 - y0 - face.height) // 2, "RGBW"[number], face, canvas.light)
    if palette is not None:
        _number_levels(canvas, edge, width, height)


def _value(canvas: Canvas, level: int, channels: tuple[int, int, int]) -> Value:
    palette = canvas.passport.palette
    if palette is None:
        return (level * channels[0], level * channels[1], level * channels[2])
    return _by_light(canvas)[min(len(palette) - 1, level * len(palette) // 256)]


def _by_light(canvas: Canvas) -> list[int]:
    """Palette indices from dark to light."""
    palette = needed(canvas.passport.palette, "a palette")
    levels = palette.levels()
    return sorted(range(len(palette)), key=lambda i: levels[i])


def _number_levels(canvas: Canvas, edge: int, width: int, height: int) -> None:
    palette = needed(canvas.passport.palette, "a palette")
    order = _by_light(canvas)
    for place, index in enumerate(order):
        x0, x1 = edge + width * place // len(order), edge + width * (place + 1) // len(order)
        ink = canvas.contrast(parse_hex(palette.measured[index]))
        canvas.centred(x0, edge + height // 3, x1 - x0, height // 3, str(place), ink)


COLORS = Card(
    "colours", "Colours", "order of channels, colour numbers and planes",
    ("Every patch has the colour that its name says.", "No patch is dirty, striped or missing."),
    paint_colors,
)  # fmt: skip
RAMPS = Card(
    "ramps", "Ramps", "depth of colour, order of bytes, inversion",
    ("Every ramp rises evenly from dark on the left to full on the right.", "Nothing jumps back to dark on the way."),
    paint_ramps, has_ramp,
)  # fmt: skip
