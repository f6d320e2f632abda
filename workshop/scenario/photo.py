"""A photo of a patch card on a panel, as a phone would take it: from aslant, in light that falls off to one side."""

import io

import numpy as np
from PIL import Image, ImageFilter

from mosaic.color.patches import PAPER_REFLECTANCE, layout
from mosaic.color.srgb import linear_to_bytes, parse_hex, srgb_to_linear

CORNERS = ((236.0, 150.0), (742.0, 118.0), (790.0, 402.0), (204.0, 446.0))
WHITES = ((90.0, 90.0), (900.0, 80.0), (880.0, 540.0), (100.0, 560.0), (480.0, 60.0))
SIZE = (1000, 640)
FLAT = (1600, 800)


def patch_photo(colors: tuple[str, ...], seed: int = 5) -> bytes:
    """A JPEG of SIZE: the card's corners lie at CORNERS, white paper all around it."""
    width, height = SIZE
    flat = np.zeros((FLAT[1], FLAT[0], 3), np.float32)
    for patch in layout(len(colors)):
        x0, x1 = round(patch.left * FLAT[0]), round(patch.right * FLAT[0])
        y0, y1 = round(patch.top * FLAT[1]), round(patch.bottom * FLAT[1])
        flat[y0:y1, x0:x1] = srgb_to_linear(np.array(parse_hex(colors[patch.index])) / 255)
    laid = np.stack([_aslant(flat[..., c], width, height) for c in range(3)], axis=-1)
    covered = _aslant(np.ones(FLAT[::-1], np.float32), width, height)[..., None]
    scene = laid * covered + PAPER_REFLECTANCE * (1 - covered)
    y, x = np.mgrid[0:height, 0:width]
    # Warm light from the upper left, a third weaker at the far corner.
    light = (0.92 - 0.00022 * x - 0.00018 * y)[..., None] * np.array([1.0, 0.97, 0.90])
    grain = np.random.default_rng(seed).normal(0, 0.004, scene.shape)
    image = Image.fromarray(linear_to_bytes(np.clip(scene * light + grain, 0, 1)))
    out = io.BytesIO()
    image.filter(ImageFilter.GaussianBlur(0.8)).save(out, "JPEG", quality=93)
    return out.getvalue()


def _aslant(flat: np.ndarray, width: int, height: int) -> np.ndarray:
    """A flat picture seen from aslant, its corners at CORNERS; empty around it."""
    rows, values = [], []
    for (u, v), (x, y) in zip(((0, 0), (FLAT[0], 0), FLAT, (0, FLAT[1])), CORNERS, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        values += [u, v]
    back = np.linalg.solve(np.array(rows, float), np.array(values, float))
    image = Image.fromarray(flat)
    return np.asarray(image.transform((width, height), Image.Transform.PERSPECTIVE, tuple(back), Image.Resampling.BILINEAR))
