"""Exposure, points, contrast, sharpness and saturation, before a picture is reduced."""

import math
from functools import lru_cache

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.eye import blur
from mosaic.color.srgb import linear_to_srgb, luminance, srgb_to_linear
from mosaic.reduce.recipe import Recipe

FloatArray = npt.NDArray[np.float32]
STEPS = 4096
SHARPENED_SIGMA_PX = 0.7
LOCAL_SHARE = 1 / 12
"""Blur of local contrast as a share of the picture's shorter side."""
MOST_LOCAL_SIGMA_PX = 24.0


POINTS_APART = 5
"""Encoded steps that always lie between the black point and the white one."""
LIGHTEST_MID, DARKEST_MID = 0.032, 0.87
"""Shares of the way from black to white at which the mid tone may stand: what mid tones of 0.2 and 5 give, about."""


def mid_place(black_point: float, white_point: float, mid_tone: float) -> int:
    """Where on the encoded scale 0..255 the middle of the result comes from: a power law between the two points.

    >>> mid_place(0, 255, 1.0), mid_place(20, 220, 2.0)
    (128, 70)
    """
    return round(black_point + (white_point - black_point) * 0.5**mid_tone)


def mid_tone_at(place: float, black_point: float, white_point: float) -> float:
    """The mid tone whose place this is, to two decimals; the nearest that there is.

    >>> mid_tone_at(70, 20, 220), mid_tone_at(0, 0, 255)
    (2.0, 4.97)
    """
    share = min(DARKEST_MID, max(LIGHTEST_MID, (place - black_point) / (white_point - black_point)))
    return round(math.log(share) / math.log(0.5), 2)


def points_apart(black_point: int, white_point: int, *, black_held: bool) -> tuple[int, int]:
    """Both points with room between them; the one that is not held gives way.

    >>> points_apart(100, 102, black_held=True), points_apart(100, 105, black_held=False), points_apart(100, 99, black_held=False)
    ((100, 105), (100, 105), (94, 99))
    """
    if white_point >= black_point + POINTS_APART:
        return black_point, white_point
    return (black_point, black_point + POINTS_APART) if black_held else (white_point - POINTS_APART, white_point)


def tone_curve(recipe: Recipe) -> FloatArray:
    """(STEPS + 1,) light out for light in, evenly spaced in the square root of light.

    Exposure multiplies light. Points, mid tone and contrast, which turns about the middle, work on
    the encoded scale, where the eye's steps are even.
    """
    light = (np.arange(STEPS + 1) / STEPS) ** 2 * 2.0**recipe.exposure
    black, white = recipe.black_point / 255, recipe.white_point / 255
    laid = np.clip((linear_to_srgb(light) - black) / (white - black), 0, None)
    encoded = (laid ** (1 / recipe.mid_tone) - 0.5) * recipe.contrast + 0.5
    if recipe.invert:
        encoded = 1 - encoded
    return srgb_to_linear(np.clip(encoded, 0, 1)).astype(np.float32)


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _apply(lines, curve, saturation, out):
    """Light (H, 3 W) through the curve, two passes a line: places first, since both loops vectorise so."""
    n = lines.shape[1]
    place, low = np.empty(n, np.float32), np.empty(n, np.int32)
    top, most = np.float32(curve.shape[0] - 1), np.int32(curve.shape[0] - 2)
    one, zero = np.float32(1), np.float32(0)
    for y in range(lines.shape[0]):
        line, made = lines[y], out[y]
        for i in range(n):
            p = np.sqrt(line[i]) * top
            k = min(np.int32(p), most)
            low[i] = k
            place[i] = p - np.float32(k)
        for i in range(n):
            at = np.uint64(np.uint32(low[i]))
            a = curve[at]
            made[i] = a + (curve[at + np.uint64(1)] - a) * place[i]
        if saturation != one:
            for x in range(n // 3):
                r, g, b = made[3 * x], made[3 * x + 1], made[3 * x + 2]
                v = np.float32(0.2126) * r + np.float32(0.7152) * g + np.float32(0.0722) * b
                made[3 * x] = min(max(v + (r - v) * saturation, zero), one)
                made[3 * x + 1] = min(max(v + (g - v) * saturation, zero), one)
                made[3 * x + 2] = min(max(v + (b - v) * saturation, zero), one)


def _has_curve(recipe: Recipe) -> bool:
    plain = Recipe()
    fields = ("exposure", "black_point", "white_point", "mid_tone", "contrast", "saturation", "invert")
    return any(getattr(recipe, name) != getattr(plain, name) for name in fields)


@njit(cache=True, fastmath=True, nogil=True)
def _scaled(light, factor, out):
    """Each pixel's light times a factor; where that is above white, towards white, so that its luminance is kept."""
    for y in range(light.shape[0]):
        for x in range(light.shape[1]):
            for c in range(3):
                out[y, x, c] = min(max(light[y, x, c] * factor[y, x], np.float32(0)), np.float32(1))


def _lifted(linear_rgb: FloatArray, sigma_px: float, amount: float) -> FloatArray:
    """Light whose encoded luminance stands out by `amount` of its difference from the mean about it."""
    grey = luminance(linear_rgb)
    encoded = linear_to_srgb(grey)
    raised = np.clip(encoded + np.float32(amount) * (encoded - blur(encoded, sigma_px)), 0, 1)
    # A factor on all three channels keeps the hue; black has none and takes the grey itself.
    aimed = srgb_to_linear(raised).astype(np.float32)
    floor = np.float32(1e-4)
    out = np.empty_like(linear_rgb)
    _scaled(linear_rgb + np.where(grey < floor, floor, 0)[..., None], aimed / np.maximum(grey, floor), out)
    return out


def local_sigma_px(width: int, height: int) -> float:
    """Blur of the mean against which local contrast is taken, for a picture of this size."""
    return min(MOST_LOCAL_SIGMA_PX, max(1.5, min(width, height) * LOCAL_SHARE))


def apply_tone(linear_rgb: FloatArray, recipe: Recipe) -> FloatArray:
    """(H, W, 3) light after the recipe's tone; the input is not changed."""
    out = linear_rgb
    if _has_curve(recipe):
        lines = np.ascontiguousarray(linear_rgb, np.float32).reshape(linear_rgb.shape[0], -1)
        made = np.empty_like(lines)
        _apply(lines, tone_curve(recipe), np.float32(recipe.saturation), made)
        out = made.reshape(linear_rgb.shape)
    if recipe.local_contrast:
        height, width = out.shape[:2]
        out = _lifted(out, local_sigma_px(width, height), recipe.local_contrast)
    if recipe.sharpening:
        out = _lifted(out, SHARPENED_SIGMA_PX, recipe.sharpening)
    return out


@lru_cache(maxsize=4)
def _bin_of_root(bins: int) -> npt.NDArray[np.int64]:
    """(STEPS + 1,) bin of the encoded scale for light whose square root is k / STEPS."""
    encoded = linear_to_srgb((np.arange(STEPS + 1) / STEPS) ** 2)
    return np.minimum((encoded * bins).astype(np.int64), bins - 1)


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _count(lines, bin_of_root, counts):
    top = np.float32(bin_of_root.shape[0] - 1)
    n = lines.shape[1] // 3
    at = np.empty(n, np.int32)
    for y in range(lines.shape[0]):
        line = lines[y]
        for x in range(n):
            v = np.float32(0.2126) * line[3 * x] + np.float32(0.7152) * line[3 * x + 1] + np.float32(0.0722) * line[3 * x + 2]
            at[x] = np.int32(np.sqrt(min(max(v, np.float32(0)), np.float32(1))) * top + np.float32(0.5))
        for x in range(n):
            counts[np.uint64(bin_of_root[np.uint64(np.uint32(at[x]))])] += 1


def histogram(linear_rgb: FloatArray, bins: int = 64) -> npt.NDArray[np.float64]:
    """(bins,) shares of pixels by encoded luminance, from black to white."""
    lines = np.ascontiguousarray(linear_rgb, np.float32).reshape(linear_rgb.shape[0], -1)
    counts = np.zeros(bins, np.int64)
    _count(lines, _bin_of_root(bins), counts)
    return counts / (lines.size // 3)


SAMPLE = 40_000
"""Pixels from which on a proposal looks at a grid of them only."""
CUT_OFF = 0.005
"""Share of pixels that a proposal lets become all black, and all white."""
MIDDLE = 0.46
"""Encoded grey to which a proposal moves the median."""


def propose_tone(linear_rgb: FloatArray, scale: float) -> dict[str, float | int]:
    """Recipe fields that would use the panel's range well, for fitted light (H, W, 3); `scale` is source pixels a pixel.

    Points lie where half a per cent of all pixels is beyond them, no further in than a quarter of
    the scale. The mid tone moves the median towards the middle, at most by a factor of 1.6. What
    was reduced has lost its edges and is sharpened.
    """
    # A sample of a picture this large has the same quantiles to a thousandth.
    step = max(1, math.isqrt(linear_rgb.shape[0] * linear_rgb.shape[1] // SAMPLE))
    encoded = linear_to_srgb(luminance(linear_rgb[::step, ::step])).ravel()
    black, middle, white = np.quantile(encoded, (CUT_OFF, 0.5, 1 - CUT_OFF))
    low, high = min(round(float(black) * 255), 64), max(round(float(white) * 255), 191)
    place = min(max((float(middle) - low / 255) / ((high - low) / 255), 0.02), 0.98)
    if not 0.05 < place < 0.95:
        # Art in black and white has its median at an end: lifting that would only grey it, and its edges are hard already.
        return {"black_point": low, "white_point": high, "mid_tone": 1.0, "sharpening": 0.0}
    power = min(max(math.log(place) / math.log(MIDDLE), 1 / 1.6), 1.6)
    return {
        "black_point": low, "white_point": high, "mid_tone": round(power, 2),
        "sharpening": round(min(0.6, 0.25 * math.log2(max(scale, 1.0))), 2),
    }  # fmt: skip
