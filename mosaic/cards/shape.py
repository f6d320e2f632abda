"""Cards for glass of two zones, and for round or rounded glass."""

import numpy as np

from mosaic.cards.canvas import Canvas
from mosaic.cards.card import Card
from mosaic.cards.letters import BoolArray
from mosaic.panels.geometry import glass_mask, to_native, to_seen, zone_bands
from mosaic.panels.passport import Passport

RING_STEP = 8
RINGS = 5


def has_zones(passport: Passport) -> bool:
    return bool(passport.zones)


def has_shape(passport: Passport) -> bool:
    return passport.glass.shape != "rect"


def paint_zones(canvas: Canvas) -> None:
    """Every zone framed to its last row, with its name: no line may change its colour on the way."""
    native = to_native(canvas.pixels, canvas.turn)
    bands = zone_bands(canvas.passport)
    for _, first, end in bands:
        rows = native[first:end]
        rows[[0, -1]] = canvas.ink
        rows[:, [0, -1]] = canvas.ink
    canvas.pixels = to_seen(native, canvas.turn)
    for name, first, end in bands:
        marked = np.zeros(native.shape[:2], np.uint8)
        marked[first:end] = 1
        seen = np.argwhere(to_seen(marked, canvas.turn))
        (y0, x0), (y1, x1) = seen.min(axis=0), seen.max(axis=0)
        canvas.centred(int(x0) + 3, int(y0) + 2, int(x1 - x0) - 5, int(y1 - y0) - 3, f"{name} {end - first}")


def edge_distance(mask: BoolArray, upto: int) -> np.ndarray:
    """(H, W) how many pixels lie between each pixel and what is outside of the mask, no more than `upto`."""
    left = np.pad(mask, 1)
    distance = np.zeros(mask.shape, np.int64)
    for _ in range(upto):
        left[1:-1, 1:-1] = left[1:-1, 1:-1] & left[:-2, 1:-1] & left[2:, 1:-1] & left[1:-1, :-2] & left[1:-1, 2:]
        distance += left[1:-1, 1:-1]
    return np.where(mask, distance, -1)


def paint_rings(canvas: Canvas) -> None:
    """Rings of one pixel at the very edge and 8, 16, 24 and 32 pixels inside it, with a cross."""
    mask = to_seen(glass_mask(canvas.passport).astype(np.uint8), canvas.turn).astype(bool)
    distance = edge_distance(mask, RING_STEP * (RINGS - 1) + 1)
    rings = (distance >= 0) & (distance % RING_STEP == 0) & (distance <= RING_STEP * (RINGS - 1))
    canvas.stamp(0, 0, rings)
    middle_x, middle_y = canvas.width // 2, canvas.height // 2
    arm = min(canvas.width, canvas.height) // 10
    canvas.fill(middle_x - arm, middle_y, 2 * arm + 1, 1)
    canvas.fill(middle_x, middle_y - arm, 1, 2 * arm + 1)
    face = canvas.face()
    canvas.centred(0, middle_y - 3 * face.height, canvas.width, face.height, f"{RING_STEP} PX A RING")


ZONES = Card(
    "zones", "Zone line", "where the colour changes on glass of two zones",
    ("Each frame has one colour all round.", "A gap of one pixel between the frames is usual on such glass."),
    paint_zones, has_zones,
)  # fmt: skip
RINGS_CARD = Card(
    "rings", "Rings", "what of the picture the glass or its bezel hides",
    ("The outermost ring is whole; where it is cut, the bezel covers it.", "The rings lie in the middle of the opening."),
    paint_rings, has_shape,
)  # fmt: skip
