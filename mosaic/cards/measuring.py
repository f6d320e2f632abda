"""Cards to be measured by: patches of every colour for a photo, and crosses to be touched."""

from mosaic.cards.canvas import Canvas
from mosaic.cards.card import Card
from mosaic.color.patches import layout
from mosaic.color.srgb import parse_hex
from mosaic.narrowing import needed
from mosaic.panels.passport import Passport
from mosaic.touch.fit import CROSS_SHARES, crosses

MOST_PATCHES = 16
ARM_SHARE = 0.04


def has_patches(passport: Passport) -> bool:
    """Panels of few colours, whose measured ones every reduction goes by."""
    return passport.palette is not None and 2 <= len(passport.palette) <= MOST_PATCHES


def has_touch(passport: Passport) -> bool:
    return any(pin.function == "touch" for pin in passport.module.pins)


def tells_touches(passport: Passport) -> bool:
    """Whether a program learns of touches: by a touch panel of its own, or from a panel that keeps pages and tells them."""
    return has_touch(passport) or passport.slots is not None


def paint_patches(canvas: Canvas) -> None:
    """Every colour twice, edge to edge; a corner is marked so that a photo can be laid the right way."""
    palette = needed(canvas.passport.palette, "a palette")
    for patch in layout(len(palette)):
        x0, x1 = round(patch.left * canvas.width), round(patch.right * canvas.width)
        y0, y1 = round(patch.top * canvas.height), round(patch.bottom * canvas.height)
        canvas.fill(x0, y0, x1 - x0, y1 - y0, patch.index)
    ink = canvas.contrast(parse_hex(palette.measured[0]))
    canvas.text(1, 1, "1", canvas.face(canvas.height // 8), ink)


def paint_crosses(canvas: Canvas) -> None:
    """Numbered crosses of one pixel's width near the corners and in the middle."""
    arm = max(3, round(ARM_SHARE * min(canvas.width, canvas.height)))
    face = canvas.face(min(canvas.width, canvas.height) // 8)
    for number, (x, y) in enumerate(crosses(canvas.width, canvas.height), 1):
        canvas.fill(x - arm, y, 2 * arm + 1, 1)
        canvas.fill(x, y - arm, 1, 2 * arm + 1)
        canvas.text(x + 3, y + 3 if y < canvas.height // 2 else y - 3 - face.height, str(number), face)


PATCHES = Card(
    "patches", "Patches", "the panel’s true colours, by a photo",
    ("Every colour stands on the card twice, edge to edge.", "The patch with the 1 is in the upper left corner."),
    paint_patches, has_patches,
)  # fmt: skip
CROSSES = Card(
    "crosses", "Crosses", "where touches land",
    (f"{len(CROSS_SHARES)} numbered crosses: four near the corners, clockwise, and one in the middle.",),
    paint_crosses, has_touch,
)  # fmt: skip
