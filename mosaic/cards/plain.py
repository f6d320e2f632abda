"""Cards of two colours, for every panel: frame, letter, squares, steps."""

import numpy as np

from mosaic.cards.canvas import Canvas
from mosaic.cards.card import Card
from mosaic.cards.letters import Face

ROUND_INSET = 0.15
"""Inside this share of its side a square lies within a disc."""
CORNER_INSET = 0.3
"""Inside this share of its radius, 1 - 1 / sqrt 2, a square corner lies within a round one."""
CHECK_SIDES = (1, 2, 4, 8)
STEP = 8


def _inset(canvas: Canvas) -> int:
    """How far from the edge words may begin, clear of what round or rounded glass hides."""
    if canvas.is_round:
        return round(ROUND_INSET * min(canvas.width, canvas.height))
    glass = canvas.passport.glass
    return max(3, round(CORNER_INSET * glass.corner_mm / glass.pitch_mm)) if glass.shape == "rounded" else 3


def paint_frame(canvas: Canvas) -> None:
    """A frame of one pixel, corners numbered clockwise from the upper left, the size in the middle."""
    width, height = canvas.width, canvas.height
    canvas.frame(0, 0, width, height)
    face, edge = canvas.face(min(width, height) // 3), _inset(canvas)
    right, low = width - edge - face.width, height - edge - face.height
    for number, (x, y) in enumerate(((edge, edge), (right, edge), (right, low), (edge, low)), 1):
        canvas.text(x, y, str(number), face)
    inner = edge + face.width + 2
    canvas.centred(inner, edge, width - 2 * inner, height - 2 * edge, f"{width}×{height}")


def paint_letter(canvas: Canvas) -> None:
    """A large F, upright for its reader, with L and R at the sides and TOP above it."""
    width, height = canvas.width, canvas.height
    edge = _inset(canvas)
    face = canvas.face(min(width, height) // 5)
    above = edge + face.height + 2 if height >= 30 else edge
    if height >= 30:
        canvas.centred(edge, edge, width - 2 * edge, face.height, "TOP")
    scale = max(1, min((height - above - edge) // 7, (width - 2 * edge - 2 * face.width - 4) // 5))
    big = Face(False, scale)
    top = above + (height - above - edge - big.height) // 2
    canvas.text((width - big.width) // 2, top, "F", big)
    middle = (height - face.height) // 2
    canvas.text(edge, middle, "L", face)
    canvas.text(width - edge - face.width, middle, "R", face)


def paint_checks(canvas: Canvas) -> None:
    """Squares of 1, 2, 4 and 8 pixels in four quarters, or side by side on low glass."""
    width, height = canvas.width, canvas.height
    y, x = np.mgrid[0:height, 0:width]
    if height >= 32:
        quarter = 2 * (y * 2 // height) + x * 2 // width
    else:
        quarter = x * 4 // width
    side = np.array(CHECK_SIDES)[quarter]
    canvas.stamp(0, 0, (x // side + y // side) % 2 == 0)


def paint_steps(canvas: Canvas) -> None:
    """Slanted steps in cells of eight pixels: every bit of every byte has a place of its own."""
    y, x = np.mgrid[0 : canvas.height, 0 : canvas.width]
    steps = x % STEP < y % STEP
    # One cell in the upper left corner is full, so that turning by half does not give the card back.
    steps[: 2 * STEP, : 2 * STEP] = True
    # A margin on one side tells the sides apart, and bands of other width tell a shift by whole cells.
    steps[:, (x[0] // STEP) % 5 == 4] = False
    steps[(y[:, 0] // STEP) % 7 == 6] = True
    canvas.stamp(0, 0, steps)


FRAME = Card(
    "frame", "Frame and corners", "whether the picture ends where the glass does, and which way it lies",
    (
        "A line of one pixel runs along all four edges, unbroken.",
        "The corners read 1, 2, 3, 4, clockwise from the upper left.",
        "No strip of noise lies outside the line.",
    ),
    paint_frame,
)  # fmt: skip
LETTER = Card(
    "letter", "Letter", "turning and mirroring",
    ("The F stands upright and reads as an F, not as its mirror image.", "L is on the left, R on the right."),
    paint_letter,
)  # fmt: skip
CHECKS = Card(
    "checks", "Squares", "even driving of rows and columns, and lost pixels",
    (
        "Squares of 1, 2, 4 and 8 pixels are all square and evenly dark.",
        "The finest squares look like an even grey from afar, without stripes.",
    ),
    paint_checks,
)  # fmt: skip
STEPS = Card(
    "steps", "Steps", "the order of bits and bytes, and shifts by less than a byte",
    (
        "In every cell of 8 pixels the steps rise to the right as they go down.",
        "The block in the upper left corner is 16 pixels square.",
    ),
    paint_steps,
)  # fmt: skip
