"""A photo of the glass against what it should show: straightened by its corners, evened out, and read pixel by pixel."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan2, degrees, hypot
from typing import Literal

import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.quantities import how_many

Floats = npt.NDArray[np.float64]
Corners = Sequence[tuple[float, float]]
LEAST_SIDE_PX = 1.2
"""Pixels of the photo that each pixel of the glass needs at least."""
MOST_COLORS = 16
INSIDE = (0.32, 0.5, 0.68)
"""Where in each pixel of the glass the photo is looked at, as shares of its side: the middle, away from its neighbours."""
MOST_SHIFT = 8
LINE_WRONG = 0.25
"""From this share of its lit pixels on, a row or column is looked at as a whole."""
MOST_LISTED = 200
Whole = Literal["", "mirrored", "upside down", "turned by half", "inverted"]


@dataclass(frozen=True, eq=False)
class GlassReading:
    """What a photo shows.

    Attributes
    ----------
    straight : (H, W, 3) uint8, the photo as the glass lies, a pixel each, its light evened out. wrong : (x, y) of pixels that are
        others than meant, without those of dead and shifted lines. agreement : share of all pixels that are as meant, 0..1.
    shift : (right, down) of the whole picture in pixels. dead_rows, dead_columns : nothing of them is lit. shifted_rows,
        shifted_columns : (number, by how many pixels along it). whole : what would make it agree as a whole. tilt_degrees : of
        the photo. side_px : pixels of the photo for one of the glass, the smallest.
    """

    straight: npt.NDArray[np.uint8]
    wrong: tuple[tuple[int, int], ...]
    wrong_count: int
    agreement: float
    shift: tuple[int, int]
    dead_rows: tuple[int, ...]
    dead_columns: tuple[int, ...]
    shifted_rows: tuple[tuple[int, int], ...]
    shifted_columns: tuple[tuple[int, int], ...]
    whole: Whole
    tilt_degrees: float
    side_px: float


def _homography(corners: Corners, width: int, height: int) -> Floats:
    """(3, 3): from places on the glass to places in the photo."""
    glass = ((0.0, 0.0), (float(width), 0.0), (float(width), float(height)), (0.0, float(height)))
    rows, right = [], []
    for (x, y), (u, v) in zip(glass, corners, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        right += [u, v]
    try:
        found = np.linalg.solve(np.array(rows, float), np.array(right, float))
    except np.linalg.LinAlgError:
        raise BadValueError("three of the corners lie on one line; mark the four corners of the lit area, clockwise") from None
    return np.append(found, 1.0).reshape(3, 3)


def _checked(corners: Corners, photo: npt.NDArray[np.uint8], width: int, height: int) -> float:
    """The least number of photo pixels for one of the glass; raises `BadValueError` where corners are none."""
    if len(corners) != 4:
        raise BadValueError(f"{len(corners)} corners are marked; four are accepted, clockwise from the upper left")
    high, wide = photo.shape[:2]
    if any(not (-wide * 0.1 <= x <= wide * 1.1 and -high * 0.1 <= y <= high * 1.1) for x, y in corners):
        raise BadValueError("a corner lies outside of the photo")
    turns = []
    for n in range(4):
        (ax, ay), (bx, by), (cx, cy) = corners[n], corners[(n + 1) % 4], corners[(n + 2) % 4]
        turns.append((bx - ax) * (cy - by) - (by - ay) * (cx - bx))
    if not all(turn > 0 for turn in turns):
        raise BadValueError("the corners do not go round clockwise: upper left, upper right, lower right, lower left")
    sides = [hypot(corners[n][0] - corners[n - 1][0], corners[n][1] - corners[n - 1][1]) for n in range(4)]
    least = min(sides[1] / width, sides[3] / width, sides[0] / height, sides[2] / height)
    if least < LEAST_SIDE_PX:
        raise BadValueError(
            f"a pixel of the glass is {least:.1f} px in the photo; from {LEAST_SIDE_PX:g} on it can be read. Take it from nearer"
        )
    return least


def _sampled(photo: npt.NDArray[np.uint8], to_photo: Floats, width: int, height: int) -> Floats:
    """(H, W, 3) linear light: the middle of each pixel of the glass."""
    light = (photo.astype(np.float64) / 255) ** 2.2
    high, wide = light.shape[:2]
    total = np.zeros((height, width, 3))
    columns, rows = np.meshgrid(np.arange(width), np.arange(height))
    for down in INSIDE:
        for across in INSIDE:
            x, y = columns + across, rows + down
            scale = to_photo[2, 0] * x + to_photo[2, 1] * y + to_photo[2, 2]
            u = (to_photo[0, 0] * x + to_photo[0, 1] * y + to_photo[0, 2]) / scale - 0.5
            v = (to_photo[1, 0] * x + to_photo[1, 1] * y + to_photo[1, 2]) / scale - 0.5
            u, v = np.clip(u, 0, wide - 1.001), np.clip(v, 0, high - 1.001)
            left, top = u.astype(int), v.astype(int)
            fu, fv = (u - left)[..., None], (v - top)[..., None]
            upper = light[top, left] * (1 - fu) + light[top, left + 1] * fu
            total += upper * (1 - fv) + (light[top + 1, left] * (1 - fu) + light[top + 1, left + 1] * fu) * fv
    return total / len(INSIDE) ** 2


def _terms(width: int, height: int) -> Floats:
    """(H * W, 6): how light may differ over the glass."""
    x, y = np.meshgrid(np.linspace(-1, 1, width), np.linspace(-1, 1, height))
    return np.stack([np.ones_like(x), x, y, x * x, x * y, y * y], axis=-1).reshape(-1, 6)


def _evened(sampled: Floats, meant: Floats) -> Floats:
    """The samples with the light of the room and of the lens taken out: gain and haze that change slowly, by least squares.

    Pixels that are far off are left out the second and third time: they may be wrong ones.
    """
    height, width = meant.shape[:2]
    terms, out = _terms(width, height), np.empty_like(sampled)
    for channel in range(3):
        seen, wanted = sampled[..., channel].ravel(), meant[..., channel].ravel()
        fit = np.concatenate([terms * wanted[:, None], terms[:, :3]], axis=1)
        keep = np.ones(seen.size, bool)
        for _ in range(3):
            found, *_rest = np.linalg.lstsq(fit[keep], seen[keep], rcond=None)
            rest = np.abs(seen - fit @ found)
            keep = rest <= max(3 * float(np.median(rest[keep])), 1e-4)
        gain, haze = np.maximum(terms @ found[:6], 1e-3), terms[:, :3] @ found[6:]
        out[..., channel] = ((seen - haze) / gain).reshape(height, width)
    return out


def _classes(values: Floats, colors: Floats) -> npt.NDArray[np.int64]:
    """(H, W): the nearest of the colours, as the eye sees distances."""
    seen, known = np.clip(values, 0, 1.5) ** (1 / 2.2), colors ** (1 / 2.2)
    distance = ((seen[:, :, None, :] - known[None, None]) ** 2).sum(axis=-1)
    return distance.argmin(axis=-1)


def _moved(field: npt.NDArray[np.int64], right: int, down: int) -> npt.NDArray[np.int64]:
    """The field so far to the right and down; -1 where nothing is known."""
    out = np.full_like(field, -1)
    height, width = field.shape
    if abs(right) < width and abs(down) < height:
        out[max(0, down) : height + min(0, down), max(0, right) : width + min(0, right)] = field[
            max(0, -down) : height - max(0, down), max(0, -right) : width - max(0, right)
        ]
    return out


def _agreement(seen: npt.NDArray[np.int64], meant: npt.NDArray[np.int64]) -> float:
    """How many of the pixels that are none of the background are as meant, and of those that are seen so."""
    ground = np.bincount(meant[meant >= 0].ravel()).argmax()
    marked = ((meant != ground) & (meant >= 0)) | (seen != ground)
    return float((seen == meant)[marked].mean()) if marked.any() else 1.0


def _best_shift(seen: npt.NDArray[np.int64], meant: npt.NDArray[np.int64]) -> tuple[int, int]:
    plain = _agreement(seen, meant)
    best = (plain + 0.1, 0, 0)
    for down in range(-MOST_SHIFT, MOST_SHIFT + 1):
        for right in range(-MOST_SHIFT, MOST_SHIFT + 1):
            agrees = _agreement(seen, _moved(meant, right, down))
            if agrees > best[0]:
                best = (agrees, right, down)
    return best[1], best[2]


def _lines(
    seen: npt.NDArray[np.int64], meant: npt.NDArray[np.int64]
) -> tuple[tuple[int, ...], tuple[tuple[int, int], ...], npt.NDArray[np.bool_]]:
    """Rows of which nothing is lit, rows that are shifted along themselves, and which pixels they explain."""
    ground = np.bincount(meant[meant >= 0].ravel()).argmax()
    dead, shifted, explained = [], [], np.zeros(seen.shape, bool)
    for number, (row, wanted) in enumerate(zip(seen, meant, strict=True)):
        marked = (wanted != ground) & (wanted >= 0)
        wrong = (row != wanted) & (wanted >= 0)
        if marked.sum() < 2 or wrong.sum() < max(2, LINE_WRONG * marked.sum()):
            continue
        if (row == ground).mean() > 0.97:
            dead.append(number)
            explained[number] = True
            continue
        tries = [by for by in range(-MOST_SHIFT, MOST_SHIFT + 1) if by]
        fits = {by: int((row != _moved(wanted[None], by, 0)[0])[max(0, by) : row.size + min(0, by)].sum()) for by in tries}
        by = min(tries, key=lambda one: (fits[one], abs(one)))
        if fits[by] * 4 <= wrong.sum():
            shifted.append((number, by))
            explained[number] = True
    return tuple(dead), tuple(shifted), explained


def read_glass(photo: npt.NDArray[np.uint8], corners: Corners, meant: npt.NDArray[np.uint8]) -> GlassReading:
    """Read a photo.

    Parameters
    ----------
    photo : (H, W, 3) uint8 sRGB. corners : of the lit area in it, in pixels, clockwise from the upper left as the reader sees it.
    meant : (h, w, 3) uint8, the rendering of the glass, a pixel each.

    Raises
    ------
    BadValueError
        The corners are none, the photo is too small, or the picture has more than 16 colours.
    """
    height, width = meant.shape[:2]
    side = _checked(corners, photo, width, height)
    flat = meant.reshape(-1, 3)
    colors, numbers = np.unique(flat, axis=0, return_inverse=True)
    if len(colors) > MOST_COLORS:
        raise BadValueError(
            f"this screen has {len(colors)} colours; up to {MOST_COLORS} are told apart in a photo. Choose a plainer one"
        )
    if len(colors) < 2:
        raise BadValueError("this screen has one colour only; a photo of it says nothing. Choose one with letters or lines")
    wanted = numbers.reshape(height, width)
    light = (colors.astype(np.float64) / 255) ** 2.2
    sampled = _sampled(photo, _homography(corners, width, height), width, height)
    whole: Whole = ""
    turned = wanted
    ways: tuple[tuple[Whole, npt.NDArray[np.int64]], ...] = (
        ("mirrored", wanted[:, ::-1]), ("upside down", wanted[::-1]), ("turned by half", wanted[::-1, ::-1]),
    )  # fmt: skip
    if len(colors) == 2:
        ways = (*ways, ("inverted", 1 - wanted))
    seen = _classes(_evened(sampled, light[wanted]), light)
    best = _agreement(seen, wanted)
    for name, way in ways:
        other = _classes(_evened(sampled, light[way]), light)
        agrees = _agreement(other, way)
        if agrees > best + 0.2:
            best, whole, turned, seen = agrees, name, way, other
    shift = _best_shift(seen, turned)
    if shift != (0, 0):
        moved = _moved(turned, *shift)
        filled = np.where(moved >= 0, moved, np.bincount(turned.ravel()).argmax())
        seen = _classes(_evened(sampled, light[filled]), light)
        turned = moved
    evened = _evened(sampled, light[np.where(turned >= 0, turned, 0)])
    dead_rows, shifted_rows, by_rows = _lines(seen, turned)
    dead_columns, shifted_columns, by_columns = _lines(seen.T, turned.T)
    wrong = (seen != turned) & (turned >= 0) & ~by_rows & ~by_columns.T
    places = np.argwhere(wrong)
    (ax, ay), (bx, by) = corners[0], corners[1]
    return GlassReading(
        (np.clip(evened, 0, 1) ** (1 / 2.2) * 255).round().astype(np.uint8),
        tuple((int(x), int(y)) for y, x in places[:MOST_LISTED]), len(places), float((seen == turned).mean()), shift,
        dead_rows, dead_columns, shifted_rows, shifted_columns, whole, degrees(atan2(by - ay, bx - ax)), side,
    )  # fmt: skip


def causes_of(found: GlassReading) -> list[tuple[str, str]]:
    """What is likely behind it: (what is seen, where to look), the likeliest first."""
    told: list[tuple[str, str]] = []
    if found.whole == "mirrored":
        told.append(
            ("The picture is mirrored.", "The scan direction of the columns in the set-up, or the build's own “mirrored”.")
        )
    elif found.whole in ("upside down", "turned by half"):
        told.append((f"The picture is {found.whole}.", "The scan directions in the set-up, or how far the build is turned."))
    elif found.whole == "inverted":
        told.append(("Light and dark are exchanged.", "The inversion command of the set-up, or the codes of the two colours."))
    if found.shift != (0, 0):
        right, down = found.shift
        told.append(
            (
                f"Everything lies {right:+d} px to the right and {down:+d} px down.",
                "The offset of the glass in the panel's memory.",
            )
        )
    for name, lines in (("row", found.dead_rows), ("column", found.dead_columns)):
        if lines:
            told.append(
                (
                    f"{how_many(len(lines), name)} {'stay' if len(lines) > 1 else 'stays'} dark.",
                    "A broken line of the glass, or its flex cable; seat it with power off.",
                )
            )
    for name, shifted in (("row", found.shifted_rows), ("column", found.shifted_columns)):
        if shifted:
            told.append(
                (
                    f"{len(shifted)} {name}{'s are' if len(shifted) > 1 else ' is'} shifted along itself.",
                    "Bytes lost or doubled on the link there: a lower clock, shorter wires.",
                )
            )
    if found.wrong_count and not told:
        if found.agreement < 0.8:
            told.append(("It is another picture.", "The fault finder shows this one under every plausible mistake."))
        else:
            told.append(
                (
                    f"{found.wrong_count} single pixels are wrong.",
                    "Noise on the link, or broken pixels: send it again and compare.",
                )
            )
    return told
