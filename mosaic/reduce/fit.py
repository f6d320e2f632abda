"""Taking part of a picture and scaling it to a panel's size, in linear light."""

import math
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.srgb import LINEAR_OF_BYTE, bytes_to_linear, parse_hex
from mosaic.errors import BadValueError
from mosaic.reduce.recipe import Recipe

FloatArray = npt.NDArray[np.float32]

_ANCHOR_X = {"left": 0.0, "right": 1.0}
_ANCHOR_Y = {"top": 0.0, "bottom": 1.0}
LANCZOS_LOBES = 3
Box = tuple[int, int, int, int]
_EVEN = (np.arange(256) / 255).astype(np.float32)


@dataclass(frozen=True)
class Cut:
    """Which box of the (turned) source lands on which box of the panel, in pixels of each."""

    source_x: float
    source_y: float
    source_width: float
    source_height: float
    panel_x: int
    panel_y: int
    panel_width: int
    panel_height: int

    @property
    def scale(self) -> float:
        """Source pixels to one panel pixel: above 1 is reduced, below 1 enlarged."""
        return max(self.source_width / self.panel_width, self.source_height / self.panel_height)


def anchor_shares(anchor: str) -> tuple[float, float]:
    """Share of what is left over that stands left of, and above, the picture."""
    x = next((v for k, v in _ANCHOR_X.items() if k in anchor), 0.5)
    y = next((v for k, v in _ANCHOR_Y.items() if k in anchor), 0.5)
    return x, y


LEAST_CROP_PX = 8
"""Source pixels a cut by hand has at least, each way."""


def crop_box(recipe: Recipe, width: int, height: int) -> tuple[int, int, int, int]:
    """(x, y, width, height) of the crop in a source of this size.

    Raises
    ------
    BadValueError
        The crop lies outside the source.
    """
    if recipe.crop_x >= width or recipe.crop_y >= height:
        raise BadValueError(f"the crop begins at {recipe.crop_x}, {recipe.crop_y}; the picture has {width} x {height} pixels")
    wide = min(recipe.crop_width or width, width - recipe.crop_x)
    high = min(recipe.crop_height or height, height - recipe.crop_y)
    return recipe.crop_x, recipe.crop_y, wide, high


def plan_cut(recipe: Recipe, source_size: tuple[int, int], panel_size: tuple[int, int]) -> Cut:
    """Boxes for a cropped and turned source of `source_size` (width, height) on this panel."""
    wide, high = source_size
    panel_wide, panel_high = panel_size
    share_x, share_y = anchor_shares(recipe.anchor)
    if recipe.scaling == "whole" and recipe.fit in ("contain", "cover"):
        return _whole_cut(recipe.fit, source_size, panel_size, (share_x, share_y))
    if recipe.fit == "stretch":
        return Cut(0, 0, wide, high, 0, 0, panel_wide, panel_high)
    if recipe.fit == "cover":
        scale = min(wide / panel_wide, high / panel_high)
        cut_wide, cut_high = panel_wide * scale, panel_high * scale
        return Cut((wide - cut_wide) * share_x, (high - cut_high) * share_y, cut_wide, cut_high, 0, 0, panel_wide, panel_high)
    if recipe.fit == "contain":
        scale = max(wide / panel_wide, high / panel_high)
        to_wide, to_high = max(1, round(wide / scale)), max(1, round(high / scale))
        return Cut(0, 0, wide, high, _at(panel_wide - to_wide, share_x), _at(panel_high - to_high, share_y), to_wide, to_high)
    take_wide, take_high = min(wide, panel_wide), min(high, panel_high)
    return Cut(
        _at(wide - take_wide, share_x), _at(high - take_high, share_y), take_wide, take_high,
        _at(panel_wide - take_wide, share_x), _at(panel_high - take_high, share_y), take_wide, take_high,
    )  # fmt: skip


def _whole_cut(fit: str, source: tuple[int, int], panel: tuple[int, int], shares: tuple[float, float]) -> Cut:
    """Each source pixel becomes a square of whole pixels, or one of every few is taken, by one whole factor."""
    ratios = [p / s for p, s in zip(panel, source, strict=True)]
    wanted = min(ratios) if fit == "contain" else max(ratios)
    if wanted >= 1:
        # Rounded so that "inside" stays inside and "filling" leaves no ground.
        factor = math.floor(wanted + 1e-9) if fit == "contain" else math.ceil(wanted - 1e-9)
        step = 1 / factor
    else:
        step = math.ceil(1 / wanted - 1e-9) if fit == "contain" else max(1, math.floor(1 / wanted + 1e-9))
    boxes = []
    for size, room, share in zip(source, panel, shares, strict=True):
        to = min(room, max(1, int(size / step + 1e-9)))
        take = to * step
        # A whole step before the cut, so that every square stands whole.
        begin = math.floor((size - take) * share / max(step, 1) + 1e-9) * max(step, 1)
        boxes.append((begin, take, _at(room - to, share), to))
    (sx, sw, px, pw), (sy, sh, py, ph) = boxes
    return Cut(sx, sy, sw, sh, px, py, pw, ph)


def _at(left_over: int, share: float) -> int:
    return int(left_over * share)


def _kernel(scaling: str, distance: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    if scaling == "lanczos":
        return np.where(np.abs(distance) < LANCZOS_LOBES, np.sinc(distance) * np.sinc(distance / LANCZOS_LOBES), 0)
    return np.clip(0.5 + 1e-9 - np.abs(distance), 0, None)


def _weights(scaling: str, start: float, length: float, count: int, limit: int) -> tuple[np.ndarray, np.ndarray]:
    """First source pixel (count,) and weights (count, taps) for each panel pixel along one axis."""
    step = length / count
    centre = start + (np.arange(count) + 0.5) * step
    if scaling in ("nearest", "whole"):
        first = np.clip(np.floor(centre), 0, limit - 1).astype(np.int64)
        return first, np.ones((count, 1), np.float32)
    if scaling == "area":
        return _area_weights(start, step, count, limit)
    stretch = max(step, 1.0)
    support = LANCZOS_LOBES * stretch
    first = np.floor(centre - support).astype(np.int64)
    taps = int(np.ceil(2 * support)) + 2
    places = first[:, None] + np.arange(taps)
    weights = _kernel(scaling, (places + 0.5 - centre[:, None]) / stretch)
    return _folded(first, places, weights, limit)


def _area_weights(start: float, step: float, count: int, limit: int) -> tuple[np.ndarray, np.ndarray]:
    """Share of each source pixel under each panel pixel."""
    low = start + np.arange(count) * step
    high = low + step
    first = np.floor(low).astype(np.int64)
    taps = int(np.ceil(step)) + 1
    places = first[:, None] + np.arange(taps)
    weights = np.clip(np.minimum(places + 1, high[:, None]) - np.maximum(places, low[:, None]), 0, None)
    return _folded(first, places, weights, limit)


def _folded(first: np.ndarray, places: np.ndarray, weights: np.ndarray, limit: int) -> tuple[np.ndarray, np.ndarray]:
    """Weights that never reach outside: what would lie beyond an edge counts for the edge pixel."""
    taps = min(weights.shape[1], limit)
    begin = np.clip(first, 0, limit - taps)
    out = np.zeros((len(first), taps))
    target = np.clip(places, 0, limit - 1) - begin[:, None]
    rows = np.repeat(np.arange(len(first)), weights.shape[1])
    np.add.at(out, (rows, target.ravel()), weights.ravel())
    return begin, (out / out.sum(axis=1, keepdims=True)).astype(np.float32)


@njit(cache=True, fastmath=True, nogil=True)
def _scale_across(source, table, first, weights, out):
    """(H, W, C) bytes through `table` to (H, w, C) light; row-wise, so memory is read in order."""
    channels = source.shape[2]
    line = np.empty((source.shape[1], channels), np.float32)
    for y in range(source.shape[0]):
        for x in range(source.shape[1]):
            for c in range(channels):
                line[x, c] = table[source[y, x, c]]
        for x in range(first.shape[0]):
            for c in range(channels):
                total = np.float32(0)
                for k in range(weights.shape[1]):
                    total += weights[x, k] * line[first[x] + k, c]
                out[y, x, c] = total


@njit(cache=True, fastmath=True, nogil=True)
def _scale_composed(source, alpha, table, ground, first, weights, out):
    """As `_scale_across` of (H, W, 3) bytes on a `ground` (3,) that shows where `alpha` (H, W) lets it through."""
    line = np.empty((source.shape[1], 3), np.float32)
    for y in range(source.shape[0]):
        for x in range(source.shape[1]):
            share = np.float32(alpha[y, x]) / np.float32(255)
            for c in range(3):
                line[x, c] = table[source[y, x, c]] * share + ground[c] * (np.float32(1) - share)
        for x in range(first.shape[0]):
            for c in range(3):
                total = np.float32(0)
                for k in range(weights.shape[1]):
                    total += weights[x, k] * line[first[x] + k, c]
                out[y, x, c] = total


@njit(cache=True, fastmath=True, nogil=True)
def _scale_down(source, first, weights, out):
    """(H, n) light to (h, n), n = width x channels."""
    for y in range(first.shape[0]):
        for x in range(source.shape[1]):
            out[y, x] = np.float32(0)
        for k in range(weights.shape[1]):
            w = weights[y, k]
            row = first[y] + k
            for x in range(source.shape[1]):
                out[y, x] += w * source[row, x]


def scale_to_linear(
    pixels: npt.NDArray[np.uint8], box: tuple[float, float, float, float], size: tuple[int, int], scaling: str
) -> FloatArray:
    """Scale a box of (H, W, C) sRGB bytes to (h, w, C) linear light.

    Parameters
    ----------
    box : (x, y, width, height) in source pixels, fractions allowed
    size : (width, height) wanted
    scaling : "area", "lanczos", "nearest" or "whole"
    """
    x, y, wide, high = box
    top, bottom = max(0, int(y) - 1), min(pixels.shape[0], int(np.ceil(y + high)) + 1)
    part = np.ascontiguousarray(pixels[top:bottom])
    first_x, weights_x = _weights(scaling, x, wide, size[0], part.shape[1])
    first_y, weights_y = _weights(scaling, y - top, high, size[1], part.shape[0])
    across = np.empty((part.shape[0], size[0], part.shape[2]), np.float32)
    _scale_across(part, LINEAR_OF_BYTE, first_x, weights_x, across)
    down = np.empty((size[1], size[0] * part.shape[2]), np.float32)
    _scale_down(across.reshape(part.shape[0], -1), first_y, weights_y, down)
    return np.clip(down.reshape(size[1], size[0], part.shape[2]), 0, 1)


def turned(pixels: npt.NDArray[np.uint8], recipe: Recipe, detail: float = 1) -> npt.NDArray[np.uint8]:
    """The cropped source (H, W, C) turned and mirrored as the recipe says."""
    height, width = pixels.shape[:2]
    x, y, wide, high = (round(v * detail) for v in crop_box(recipe, round(width / detail), round(height / detail)))
    x, y, wide, high = min(x, width - 1), min(y, height - 1), max(1, wide), max(1, high)
    part = np.rot90(pixels[y : y + high, x : x + wide], -(recipe.turn // 90))
    return part[:, ::-1] if recipe.flip else part


def cut_for(recipe: Recipe, source_size: tuple[int, int], panel_size: tuple[int, int], area: Box | None) -> Cut:
    """`plan_cut` within an area (x, y, width, height) of the panel."""
    if area is None:
        return plan_cut(recipe, source_size, panel_size)
    cut = plan_cut(recipe, source_size, area[2:])
    return replace(cut, panel_x=cut.panel_x + area[0], panel_y=cut.panel_y + area[1])


def fit_coverage(
    alpha: npt.NDArray[np.uint8], recipe: Recipe, panel_size: tuple[int, int], *, area: Box | None = None, detail: float = 1
) -> npt.NDArray[np.bool_]:
    """(height, width) which panel pixels the picture covers by half or more, of alpha (H, W)."""
    part = turned(alpha[..., None], recipe, detail)
    cut = cut_for(recipe, (round(part.shape[1] / detail), round(part.shape[0] / detail)), panel_size, area)
    x, y = (cut.source_x * detail, cut.source_width * detail), (cut.source_y * detail, cut.source_height * detail)
    scaling = "area" if recipe.scaling == "lanczos" else recipe.scaling
    first_x, weights_x = _weights(scaling, *x, cut.panel_width, part.shape[1])
    first_y, weights_y = _weights(scaling, *y, cut.panel_height, part.shape[0])
    across = np.empty((part.shape[0], cut.panel_width, 1), np.float32)
    _scale_across(np.ascontiguousarray(part), _EVEN, first_x, weights_x, across)
    down = np.empty((cut.panel_height, cut.panel_width), np.float32)
    _scale_down(across[..., 0], first_y, weights_y, down)
    out = np.zeros(panel_size[::-1], np.bool_)
    out[cut.panel_y : cut.panel_y + cut.panel_height, cut.panel_x : cut.panel_x + cut.panel_width] = down >= 0.5 - 1e-6
    return out


def fit_picture(
    rgb: npt.NDArray[np.uint8],
    alpha: npt.NDArray[np.uint8] | None,
    recipe: Recipe,
    panel_size: tuple[int, int],
    *,
    area: Box | None = None,
    zoom: int = 1,
    detail: float = 1,
) -> tuple[FloatArray, Cut]:
    """The picture at the panel's size (times `zoom`, for viewing), and the boxes used.

    Parameters
    ----------
    rgb : (H, W, 3) uint8 sRGB
    alpha : (H, W) uint8, 0 transparent, or None
    panel_size : (width, height)
    area : (x, y, width, height) of the panel that the picture is fitted to; all of it if left out
    detail : how many times finer the arrays are than the pixels in which the recipe and the Cut count; below 1 for a
        large picture that was decoded smaller

    Returns
    -------
    (height*zoom, width*zoom, 3) float32 linear light 0..1 on the recipe's ground, and the Cut.
    """
    part = turned(rgb, recipe, detail)
    cut = cut_for(recipe, (round(part.shape[1] / detail), round(part.shape[0] / detail)), panel_size, area)
    box = (cut.source_x * detail, cut.source_y * detail, cut.source_width * detail, cut.source_height * detail)
    size = (cut.panel_width * zoom, cut.panel_height * zoom)
    ground = bytes_to_linear(np.array(parse_hex(recipe.ground), np.uint8))
    if alpha is None:
        light = scale_to_linear(part, box, size, recipe.scaling)
    else:
        light = _scale_transparent(part, turned(alpha[..., None], recipe, detail), box, size, recipe.scaling, ground)
    out = np.empty((panel_size[1] * zoom, panel_size[0] * zoom, 3), np.float32)
    out[:] = ground
    top, left = cut.panel_y * zoom, cut.panel_x * zoom
    out[top : top + size[1], left : left + size[0]] = light
    return out, cut


def _scale_transparent(rgb, alpha, box, size, scaling, ground):
    """Composite before scaling: light of a half-covered pixel is the sum of what it lets through."""
    x, y, wide, high = box
    first_x, weights_x = _weights(scaling, x, wide, size[0], rgb.shape[1])
    first_y, weights_y = _weights(scaling, y, high, size[1], rgb.shape[0])
    across = np.empty((rgb.shape[0], size[0], 3), np.float32)
    shares = np.ascontiguousarray(alpha[..., 0])
    _scale_composed(np.ascontiguousarray(rgb), shares, LINEAR_OF_BYTE, ground, first_x, weights_x, across)
    down = np.empty((size[1], size[0] * 3), np.float32)
    _scale_down(across.reshape(rgb.shape[0], -1), first_y, weights_y, down)
    return np.clip(down.reshape(size[1], size[0], 3), 0, 1)
