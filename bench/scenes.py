"""Pictures made by a rule, for figures of quality: no scene is taken from anywhere."""

import numpy as np

from mosaic.color.srgb import linear_to_bytes, srgb_to_linear

WIDTH, HEIGHT = 1200, 750


def clouds(width: int, height: int, seed: int, slope: float = 1.0) -> np.ndarray:
    """(H, W) values about 0 with the spectrum of natural scenes: amplitude falls with frequency to the power `slope`."""
    rng = np.random.default_rng(seed)
    down, across = np.fft.fftfreq(height)[:, None] * height, np.fft.rfftfreq(width)[None, :] * width
    frequency = np.hypot(down, across * height / width)
    frequency[0, 0] = np.inf
    noise = rng.normal(size=frequency.shape) + 1j * rng.normal(size=frequency.shape)
    field = np.fft.irfft2(noise / frequency**slope, (height, width))
    return field / field.std()


def landscape(seed: int) -> np.ndarray:
    """(H, W, 3) uint8: a sky and ridges behind one another in haze, each with texture, in muted colours."""
    rng = np.random.default_rng(seed)
    y = np.mgrid[0:HEIGHT, 0:WIDTH][0] / HEIGHT
    top, low = rng.uniform(0.45, 0.75, 3), rng.uniform(0.7, 0.95, 3)
    picture = top + (low - top) * y[..., None] + 0.04 * clouds(WIDTH, HEIGHT, seed + 1, 1.6)[..., None]
    for ridge in range(4):
        edge = 0.35 + 0.15 * ridge + 0.05 * clouds(WIDTH, HEIGHT, seed + 10 + ridge, 1.3)[HEIGHT // 2]
        color = rng.uniform(0.15, 0.5, 3) * (0.4 + 0.15 * (3 - ridge)) + 0.1 * (3 - ridge)
        texture = 0.05 * clouds(WIDTH, HEIGHT, seed + 20 + ridge, 1.0)[..., None]
        picture = np.where((y > edge)[..., None], color + texture, picture)
    return np.rint(np.clip(picture, 0, 1) * 255).astype(np.uint8)


def still_life(seed: int) -> np.ndarray:
    """(H, W, 3) uint8: shaded round bodies on a table under one lamp, in linear light."""
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0:HEIGHT, 0:WIDTH].astype(np.float64)
    wall = srgb_to_linear(rng.uniform(0.5, 0.7, 3))
    table = srgb_to_linear(np.array([0.55, 0.45, 0.35]) + rng.uniform(-0.08, 0.08, 3))
    lamp = np.exp(-((np.hypot(x - WIDTH * 0.3, y - HEIGHT * 0.1) / WIDTH) ** 2) * 1.6)[..., None]
    grain = 1 + 0.06 * clouds(WIDTH, HEIGHT, seed + 1, 1.1)[..., None]
    picture = np.where((y > HEIGHT * 0.6)[..., None], table, wall) * (0.35 + 0.65 * lamp) * grain
    for _ in range(9):
        cx, cy, r = rng.uniform(0, WIDTH), rng.uniform(HEIGHT * 0.35, HEIGHT * 0.95), rng.uniform(50, 150)
        dx, dy = (x - cx) / r, (y - cy) / r
        body = dx * dx + dy * dy < 1
        depth = np.sqrt(np.clip(1 - dx * dx - dy * dy, 0, 1))
        shade = 0.15 + 0.85 * np.clip(-0.5 * dx - 0.6 * dy + 0.62 * depth, 0, 1)
        color = srgb_to_linear(rng.uniform(0.35, 0.8, 3))
        picture = np.where(body[..., None], color * shade[..., None], picture)
    return linear_to_bytes(np.clip(picture, 0, 1))


def texture(seed: int) -> np.ndarray:
    """(H, W, 3) uint8: the spectrum of natural scenes in luminance, a little of it in colour."""
    grey = 0.5 + 0.17 * clouds(WIDTH, HEIGHT, seed, 1.1)
    tint = np.stack([0.04 * clouds(WIDTH, HEIGHT, seed + k, 1.4) for k in (1, 2, 3)], axis=-1)
    return np.rint(np.clip(grey[..., None] + tint, 0, 1) * 255).astype(np.uint8)


SCENES = {
    f"{make.__name__.replace('_', ' ')} {seed}": (make, seed) for make in (landscape, still_life, texture) for seed in (100, 200)
}
