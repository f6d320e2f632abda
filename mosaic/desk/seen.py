"""Letters at a distance, text on a grid, colours, round glass."""

from math import ceil, sqrt

import numpy as np

from mosaic.color.lab import linear_to_lab
from mosaic.color.srgb import bytes_to_linear, parse_hex
from mosaic.desk.calculator import (
    Answer,
    Bars,
    Calculator,
    Disc,
    Field,
    Figure,
    Grid,
    Swatches,
    Values,
    number,
    whole,
)  # fmt: skip
from mosaic.errors import BadValueError
from mosaic.panels.reading import COMFORTABLE_ARCMIN, FLOOR_ARCMIN, LEAST_CAPITAL_PX, arc_minutes, capital_height_mm
from mosaic.pixels.direct import expand_channel


def _capitals(values: Values) -> Answer:
    metres, pitch = number(values, "distance"), number(values, "pitch")
    least, good = (capital_height_mm(angle, metres * 1000) for angle in (FLOOR_ARCMIN, COMFORTABLE_ARCMIN))
    pixels = max(LEAST_CAPITAL_PX, ceil(good / pitch - 1e-9))
    near = tuple(
        (
            f"{far:g} m",
            capital_height_mm(COMFORTABLE_ARCMIN, far * 1000),
            f"{capital_height_mm(COMFORTABLE_ARCMIN, far * 1000):.3g} mm",
        )
        for far in (metres / 2, metres, metres * 2)
    )
    return Answer(
        f"Capitals of {good:.3g} mm, {pixels} px, are read with ease at {metres:g} m.",
        (
            Figure("at least", f"{least:.3g} mm, {max(LEAST_CAPITAL_PX, ceil(least / pitch - 1e-9))} px"),
            Figure("a pixel appears under", f"{arc_minutes(pitch, metres * 1000):.2f}′"),
        ),
        f"height = 2 × distance × tan(angle / 2); {FLOOR_ARCMIN:g}′ can be read, {COMFORTABLE_ARCMIN:g}′ with ease (human factors"
        f" guidance for displays). An alphabet needs {LEAST_CAPITAL_PX} px",
        Bars(near),
    )  # fmt: skip


CAPITALS = Calculator(
    "capitals", "Capitals at a distance", "How large must letters be?",
    (Field("distance", "Distance", "0.9", "m", "number", 0.05, 200),
        Field("pitch", "From pixel to pixel", "0.23", "mm", "number", 0.01, 20)),
    _capitals, "letterings", "Lettering",
)  # fmt: skip


def _text_grid(values: Values) -> Answer:
    width, height = whole(values, "width"), whole(values, "height")
    cell, line = whole(values, "cell_width"), whole(values, "cell_height")
    gap, lead = whole(values, "gap"), whole(values, "lead")
    columns, rows = (width + gap) // (cell + gap), (height + lead) // (line + lead)
    if not (columns and rows):
        raise BadValueError("not one character of this size fits on the glass; a smaller cell is accepted")
    left = (width - columns * (cell + gap) + gap, height - rows * (line + lead) + lead)
    return Answer(
        f"{columns} characters in {rows} lines: {columns * rows:,} in all.",
        (
            Figure("left over", f"{left[0]} px to the right, {left[1]} px below"),
            Figure("buffer of characters", f"{columns * rows:,} B"),
        ),
        "columns = ⌊(width + gap) / (cell + gap)⌋, lines likewise: there is no gap behind the last",
        Grid(width, height, cell + gap, line + lead, columns, rows),
    )  # fmt: skip


TEXT_GRID = Calculator(
    "text-grid", "Text grid of a panel", "How many characters and lines fit?",
    (
        Field("width", "Width", "128", "px", "whole", 1, 4096), Field("height", "Height", "64", "px", "whole", 1, 4096),
        Field("cell_width", "Width of a character", "5", "px", "whole", 1, 512), Field("gap", "Gap", "1", "px", "whole", 0, 64),
        Field("cell_height", "Height of a character", "8", "px", "whole", 1, 512),
        Field("lead", "Gap of lines", "0", "px", "whole", 0, 64),
    ), _text_grid, "letterings", "Lettering",
)  # fmt: skip

PALETTES = {
    "black-white": ("black and white", ("#000000", "#ffffff")),
    "red": ("black, white and red", ("#000000", "#ffffff", "#ff0000")),
    "four": ("black, white, yellow and red", ("#000000", "#ffffff", "#ffff00", "#ff0000")),
    "six": ("six colours", ("#000000", "#ffffff", "#ffff00", "#ff0000", "#0000ff", "#00ff00")),
    "greys": ("four greys", ("#000000", "#555555", "#aaaaaa", "#ffffff")),
}


def _lab(colors: list[tuple[int, int, int]]) -> np.ndarray:
    return linear_to_lab(bytes_to_linear(np.array([colors], np.uint8)))[0]


def _hex(color: tuple[int, ...]) -> str:
    return "#" + "".join(f"{int(value):02x}" for value in color)


def _nearest(values: Values) -> Answer:
    wanted = parse_hex(str(values["color"]))
    steps = [round(value * top / 255) for value, top in zip(wanted, (31, 63, 31), strict=True)]
    word = steps[0] << 11 | steps[1] << 5 | steps[2]
    shown = tuple(int(expand_channel(np.array([v]), bits)[0]) for v, bits in zip(steps, (5, 6, 5), strict=True))
    name, palette = PALETTES[str(values["palette"])]
    known = [parse_hex(color) for color in palette]
    lab = _lab([wanted, (shown[0], shown[1], shown[2]), *known])
    far = np.sqrt(((lab[1:] - lab[0]) ** 2).sum(axis=1))
    best = int(far[1:].argmin())
    return Answer(
        f"In 5-6-5 it is 0x{word:04X}; of {name} the nearest is {palette[best]}.",
        (
            Figure("bytes, high one first", f"{word >> 8:02X} {word & 255:02X}"),
            Figure("low one first", f"{word & 255:02X} {word >> 8:02X}"),
            Figure("5-6-5 shows", f"{_hex(shown)}, {far[0]:.2g} away"), Figure("the palette's is", f"{far[1 + best]:.3g} away"),
        ),
        "step = round(value × top / 255), top 31, 63, 31; shown = step's bits, repeated below. Nearest by distance in CIELAB"
        " (1976), of which 2.3 is just seen",
        Swatches((("wanted", _hex(wanted)), ("5-6-5", _hex(shown)), *((color, color) for color in palette))),
    )  # fmt: skip


NEAREST = Calculator(
    "colour", "Nearest colour", "Which colour does the panel show?",
    (
        Field("color", "Colour", "#2f7d76", kind="color"),
        Field("palette", "Palette", "four", kind="choice", choices=tuple((slug, name) for slug, (name, _) in PALETTES.items())),
    ), _nearest, "pictures", "Pictures",
)  # fmt: skip


def chord_px(side: int, top: int, height: int) -> float:
    """Width that each row of a band has on round glass of `side` pixels: that of its row furthest from the middle.

    >>> round(chord_px(240, 110, 20), 1), chord_px(240, 0, 120)
    (239.2, 0.0)
    """
    radius = side / 2
    far = max(abs(top - radius), abs(top + height - radius))
    return 2 * sqrt(max(0.0, radius**2 - far**2))


def _round(values: Values) -> Answer:
    side, top, height, ring = (whole(values, name) for name in ("side", "top", "height", "ring"))
    if top + height > side:
        raise BadValueError(f"the band ends at row {top + height}; the glass has {side}")
    if 2 * ring >= side:
        raise BadValueError(f"a ring of {ring} px leaves nothing of a glass of {side} px")
    chord = chord_px(side, top, height)
    square = int(side / sqrt(2))
    inner = side - 2 * ring
    area = np.pi * (side**2 - inner**2) / 4
    return Answer(
        f"{int(chord)} px of each row are on the glass.",
        (
            Figure("from column", f"{ceil((side - chord) / 2)} to {int((side + chord) / 2) - 1}"),
            Figure("largest square", f"{square} × {square} px"),
            Figure("ring", f"{area:,.0f} px, {np.pi * (side - ring):,.0f} px long"),
            Figure("of the square memory is hidden", f"{1 - np.pi / 4:.1%}"),
        ),
        "chord = 2 √(r² - d²), d the distance of its furthest edge from the middle; square = side / √2; ring = π (R² - r²)",
        Disc(side, top, height, chord, ring),
    )  # fmt: skip


ROUND = Calculator(
    "round", "Ring and chord of round glass", "How wide is a line of text on round glass?",
    (
        Field("side", "Diameter", "240", "px", "whole", 8, 4096),
        Field("top", "The band begins at row", "60", "", "whole", 0, 4095),
        Field("height", "its height", "20", "px", "whole", 1, 4096),
        Field("ring", "Width of a ring at the edge", "12", "px", "whole", 0, 2048),
    ), _round, "build-panel", "Panel",
)  # fmt: skip
