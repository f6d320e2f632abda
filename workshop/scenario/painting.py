"""Pictures of the Saltmarsh Boathouse, painted by code; nothing is taken from anywhere.

Scenes with continuous tone are made of smooth noise and gradients in linear light; line art
and glyphs are drawn four times too large and scaled down.
"""

import io
import math
from collections.abc import Callable
from functools import cache

import numpy as np
from PIL import Image, ImageDraw

from mosaic.color.srgb import linear_to_bytes, parse_hex, srgb_to_linear

Canvas = np.ndarray
OVERSIZE = 4


def _light(color: str) -> np.ndarray:
    return srgb_to_linear(np.array(parse_hex(color)) / 255)


def _noise(height: int, width: int, cell_y: float, cell_x: float, seed: int) -> np.ndarray:
    """(H, W) smooth noise 0..1, cells of the given size, three octaves."""
    rng = np.random.default_rng(seed)
    total = np.zeros((height, width))
    weight = 0.0
    for octave in range(4):
        rows, columns = int(height / cell_y * 2**octave) + 3, int(width / cell_x * 2**octave) + 3
        grid = Image.fromarray(rng.random((rows, columns)).astype(np.float32))
        total += np.asarray(grid.resize((width, height), Image.Resampling.BICUBIC)) / 2**octave
        weight += 1 / 2**octave
    return np.clip(total / weight, 0, 1)


def _gradient(stops: list[tuple[float, str]], place: np.ndarray) -> Canvas:
    """(..., 3) light between colour stops at the places 0..1."""
    at = [s for s, _ in stops]
    colors = np.array([_light(c) for _, c in stops])
    return np.stack([np.interp(place, at, colors[:, c]) for c in range(3)], axis=-1)


def _mask(size: tuple[int, int], draw_on: Callable[[ImageDraw.ImageDraw, float], None]) -> np.ndarray:
    """(H, W, 1) share 0..1 of what is drawn in white, with soft edges; coordinates are 0..1600 wide."""
    width, height = size
    image = Image.new("L", (width * 2, height * 2))
    draw_on(ImageDraw.Draw(image), width * 2 / 1600)
    return np.asarray(image.resize(size, Image.Resampling.BOX), np.float64)[..., None] / 255


def _lay(canvas: Canvas, mask: np.ndarray, color: str | Canvas) -> Canvas:
    light = _light(color) if isinstance(color, str) else color
    return canvas * (1 - mask) + light * mask


def _polygon(*points: tuple[float, float]) -> Callable[[ImageDraw.ImageDraw, float], None]:
    return lambda draw, k: draw.polygon([(x * k, y * k) for x, y in points], fill=255)


def _boxes(*boxes: tuple[float, float, float, float]) -> Callable[[ImageDraw.ImageDraw, float], None]:
    def draw_all(draw: ImageDraw.ImageDraw, k: float) -> None:
        for x0, y0, x1, y1 in boxes:
            draw.rectangle((x0 * k, y0 * k, x1 * k, y1 * k), fill=255)

    return draw_all


def _png(canvas: Canvas) -> bytes:
    return _png_bytes(linear_to_bytes(canvas))


def _png_bytes(pixels: np.ndarray) -> bytes:
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG", optimize=True)
    return out.getvalue()


@cache
def slip_at_dusk() -> bytes:
    """The slipway at sunset: boathouse with lit doors, tide gauge, reeds. 1600 x 692, PNG."""
    width, height = 1600, 692
    horizon, sun_x, sun_y = 430, 560, 372
    y, x = np.mgrid[0:height, 0:width].astype(np.float64)
    sky = _gradient(
        [(0, "#243a6b"), (0.3, "#6d4a86"), (0.55, "#cf5a4a"), (0.8, "#f59a3c"), (1, "#ffd978")], np.clip(y / horizon, 0, 1)
    )
    away = np.hypot((x - sun_x) / 1.15, y - sun_y)
    sky += np.exp(-away / 120)[..., None] * _light("#ffcf70") * 0.9
    clouds = np.clip((_noise(height, width, 70, 420, 11) - 0.5) * 5, 0, 1) * np.clip(1.2 - y / 360, 0, 1)
    under = _gradient([(0, "#4a3560"), (1, "#ff9a5a")], np.clip(y / 330, 0, 1))
    sky = sky * (1 - 0.75 * clouds[..., None]) + under * 0.75 * clouds[..., None]
    sky = _lay(sky, np.clip(48 - away, 0, 1)[..., None], "#fff3c4")
    land = 404 + 20 * _noise(1, width, 1, 260, 5)[0]
    sky = _lay(sky, np.clip(y - land, 0, 1)[..., None], "#2d2440")

    ripple = (_noise(height, width, 9, 210, 23) - 0.5) * (6 + (y - horizon) * 0.16)
    mirrored = np.clip(2 * horizon - y - ripple * 2, 0, horizon - 30).astype(int)
    across = np.clip(x + ripple * 1.6, 0, width - 1).astype(int)
    scene = np.where((y > horizon)[..., None], sky[mirrored, across] * (0.78, 0.6, 0.5), sky)
    glitter = np.exp(-(((x - sun_x) / (36 + np.maximum(y - horizon, 0) * 0.5)) ** 2)) * (_noise(height, width, 5, 60, 31) > 0.53)
    scene += ((y > horizon) * glitter)[..., None] * _light("#ffd27a") * 0.8

    scene = _add_boathouse(scene, (width, height))
    scene = _add_gauge(scene, (width, height))
    return _png(_add_reeds(scene, (width, height)))


def _add_boathouse(scene: Canvas, size: tuple[int, int]) -> Canvas:
    walls = _polygon((960, 250), (1180, 118), (1400, 250), (1400, 470), (960, 470))
    scene = _lay(scene, _mask(size, walls), "#7d2318")
    boards = _boxes(*((x, 150, x + 3, 470) for x in range(972, 1400, 22)))
    scene = _lay(scene, _mask(size, boards) * _mask(size, walls), "#5c170f")
    scene = _lay(
        scene, _mask(size, _polygon((920, 262), (1180, 96), (1440, 262), (1428, 282), (1180, 122), (932, 282))), "#231c26"
    )
    glow = _gradient([(0, "#ffe9a0"), (1, "#e9a23a")], np.linspace(0, 1, size[1]))[:, None, :]
    doors = _boxes((1040, 318, 1172, 470), (1188, 318, 1320, 470))
    scene = _lay(scene, _mask(size, doors), np.broadcast_to(glow, (size[1], size[0], 3)))
    shells = [(1050 + 10 * (i % 2), 340 + i * 42, 1162 - 8 * (i % 2), 352 + i * 42) for i in range(3)]
    shells += [(1198 + 8 * (i % 2), 340 + i * 42, 1310 - 10 * (i % 2), 352 + i * 42) for i in range(3)]
    scene = _lay(scene, _mask(size, _boxes(*shells)), "#8e1f18")
    scene = _lay(scene, _mask(size, _boxes((1148, 196, 1212, 252))), "#ffe9a8")
    scene = _lay(scene, _mask(size, _boxes((1177, 196, 1183, 252), (1148, 221, 1212, 227))), "#3a1712")
    slip = _polygon((1020, 470), (1340, 470), (1270, 692), (780, 692))
    scene = _lay(scene, _mask(size, slip), "#a8703c")
    planks = _boxes(*((760, 486 + i * 26, 1360, 489 + i * 26) for i in range(9)))
    scene = _lay(scene, _mask(size, planks) * _mask(size, slip), "#4a2c1a")
    scene = _lay(scene, _mask(size, _polygon((1400, 470), (1600, 452), (1600, 692), (1270, 692), (1340, 470))), "#16201f")
    scene = _lay(scene, _mask(size, _boxes((880, 96, 888, 470))), "#efe6d2")
    return _lay(scene, _mask(size, _polygon((880, 100), (800, 118), (880, 138))), "#f3ead6")


def _add_gauge(scene: Canvas, size: tuple[int, int]) -> Canvas:
    scene = _lay(scene, _mask(size, _boxes((172, 120, 204, 692))), "#1c1720")
    whites = _boxes(*((176, 132 + i * 66, 200, 165 + i * 66) for i in range(8)))
    scene = _lay(scene, _mask(size, whites), "#f0e8d8")
    reds = _boxes(*((176, 165 + i * 66, 200, 198 + i * 66) for i in range(8)))
    scene = _lay(scene, _mask(size, reds), "#b5261d")
    return _lay(scene, _mask(size, _polygon((160, 122), (188, 92), (216, 122))), "#1c1720")


def _add_reeds(scene: Canvas, size: tuple[int, int]) -> Canvas:
    rng = np.random.default_rng(3)

    def reeds(draw: ImageDraw.ImageDraw, k: float) -> None:
        for _ in range(150):
            foot, tall, lean = rng.uniform(-20, 560), rng.uniform(60, 190), rng.normal(0, 26)
            tip = (foot + lean, 700 - tall * (1 - 0.3 * foot / 560))
            draw.line([(foot * k, 700 * k), (tip[0] * k, tip[1] * k)], fill=255, width=max(1, int(3 * k)))
            if rng.random() < 0.35:
                draw.line([(tip[0] * k, tip[1] * k), ((tip[0] - lean * 0.12) * k, (tip[1] + 26) * k)], fill=255, width=int(8 * k))

    return _lay(scene, _mask(size, reeds), "#17131c")


@cache
def morning_mist() -> bytes:
    """The marsh in morning mist, with a channel, posts and a heron. 1400 x 700, PNG."""
    width, height = 1400, 700
    y, x = np.mgrid[0:height, 0:width].astype(np.float64)
    scene = _gradient([(0, "#9fb4c4"), (0.45, "#e9d9c0"), (0.62, "#f2e6cf"), (1, "#5e6f6b")], y / height)
    scene += np.exp(-np.hypot(x - 1010, y - 210) / 90)[..., None] * _light("#fff2cc") * 0.5
    scene = _lay(scene, np.clip(34 - np.hypot(x - 1010, y - 210), 0, 1)[..., None], "#fff8e4")
    for number, (level, color, haze) in enumerate(
        [(300, "#9aa9a6", 0.45), (345, "#7d8f8a", 0.6), (400, "#5a6c64", 0.75), (470, "#3c4d43", 0.9)]
    ):
        edge = level + 60 * (_noise(1, width, 1, 180 - 25 * number, 40 + number)[0] - 0.5)
        ragged = edge + 10 * (_noise(1, width, 1, 9, 60 + number)[0] - 0.5)
        share = np.clip((y - ragged) / 6, 0, 1) * haze * np.clip(1.25 - (y - ragged) / (170 + 60 * number), 0.15, 1)
        scene = _lay(scene, share[..., None], color)
    channel = np.abs(x - (700 + 260 * np.sin((y - 380) / 120))) < np.clip((y - 400) * 0.62, 0, None)
    sky_in_water = _gradient([(0, "#f2e6cf"), (1, "#8aa0a8")], np.clip((y - 400) / 300, 0, 1))
    broken = _noise(height, width, 6, 120, 71)[..., None] * 0.3 + 0.75
    scene = np.where((channel & (y > 400))[..., None], sky_in_water * broken, scene)
    mist = np.clip(_noise(height, width, 60, 700, 81) * 1.5 - 0.35, 0, 1) * np.exp(-(((y - 380) / 90) ** 2))
    scene = _lay(scene, 0.8 * mist[..., None], "#f4ead8")
    size = (width, height)
    posts = _boxes(*((250 + i * 64, 420 + i * 22, 258 + i * 66, 520 + i * 34) for i in range(5)))
    scene = _lay(scene, _mask(size, posts), "#2a2f2b")
    outline = ((1180, 610), (1176, 520), (1150, 500), (1166, 470), (1196, 462), (1206, 410), (1188, 392), (1130, 396))
    outline += ((1190, 380), (1214, 396), (1216, 440), (1240, 480), (1226, 520), (1192, 528), (1190, 610))
    heron = _polygon(*outline)
    return _png(_lay(scene, _mask(size, heron), "#2b3238"))


def _drawing(side_x: int, side_y: int, ground: str) -> tuple[Image.Image, ImageDraw.ImageDraw]:
    image = Image.new("RGB", (side_x * OVERSIZE, side_y * OVERSIZE), ground)
    return image, ImageDraw.Draw(image)


def _finished(image: Image.Image) -> bytes:
    small = image.resize((image.width // OVERSIZE, image.height // OVERSIZE), Image.Resampling.BOX)
    return _png_bytes(np.asarray(small))


def club_crest() -> bytes:
    """The club's crest, line art: shield, crossed oars, waves. 768 x 384, PNG, white on black."""
    image, draw = _drawing(768, 384, "black")
    k = OVERSIZE

    def line(points: list[tuple[float, float]], thick: float) -> None:
        draw.line([(x * k, y * k) for x, y in points], fill="white", width=int(thick * k), joint="curve")

    shield = [(264, 40), (504, 40), (504, 190)]
    shield += [(384 + 120 * math.cos(t), 190 + 160 * math.sin(t)) for t in np.linspace(0, math.pi, 40)]
    line([*shield, (264, 190), (264, 36)], 12)
    for sign in (-1, 1):
        line([(384 - sign * 230, 326), (384 + sign * 175, 88)], 12)
        tip = np.array([384 + sign * 175, 88.0])
        along = np.array([sign * 460, -270.0]) / math.hypot(460, 270)
        across = np.array([-along[1], along[0]])
        outline = ((0, -10), (24, -26), (96, -22), (96, 22), (24, 26), (0, 10))
        blade = [tip + along * far + across * aside for far, aside in outline]
        draw.polygon([(p[0] * k, p[1] * k) for p in blade], fill="white")
    for row in range(3):
        wave = [(x, 252 + row * 30 + 8 * math.sin(x / 14 + row)) for x in range(292 + row * 16, 478 - row * 16, 3)]
        line(wave, 10)
    for x in (330, 384, 438):
        draw.regular_polygon((x * k, 88 * k, 18 * k), 5, fill="white")
    line([(60, 366), (708, 366)], 8)
    return _finished(image)


def _sun(draw: ImageDraw.ImageDraw, x: float, y: float, radius: float) -> None:
    k = OVERSIZE
    for turn in range(12):
        a = turn * math.pi / 6
        ends = [((x + far * radius * math.cos(a)) * k, (y + far * radius * math.sin(a)) * k) for far in (1.28, 1.75)]
        draw.line(ends, fill="#ffb52e", width=int(radius * 0.2 * k))
    draw.ellipse([(x - radius) * k, (y - radius) * k, (x + radius) * k, (y + radius) * k], fill="#ffc94a")


def _cloud(draw: ImageDraw.ImageDraw, x: float, y: float, size: float, color: str) -> None:
    k = OVERSIZE
    for dx, dy, r in ((-0.62, 0.1, 0.42), (-0.1, -0.22, 0.55), (0.5, 0.02, 0.46), (0.05, 0.16, 0.4)):
        cx, cy, cr = x + dx * size, y + dy * size, r * size
        draw.ellipse([(cx - cr) * k, (cy - cr) * k, (cx + cr) * k, (cy + cr) * k], fill=color)
    draw.rounded_rectangle(
        [(x - 1.04 * size) * k, (y + 0.06 * size) * k, (x + 0.96 * size) * k, (y + 0.56 * size) * k],
        radius=0.25 * size * k,
        fill=color,
    )


def fair_weather() -> bytes:
    """Weather glyph: sun behind a cloud. 480 x 480, PNG."""
    image, draw = _drawing(480, 480, "#0f2f4a")
    _sun(draw, 190, 190, 84)
    _cloud(draw, 265, 290, 128, "#8fa6b5")
    _cloud(draw, 258, 282, 128, "#e8eef0")
    return _finished(image)


def rain_coming() -> bytes:
    """Weather glyph: dark cloud and slanting rain. 480 x 480, PNG."""
    image, draw = _drawing(480, 480, "#1b2733")
    k = OVERSIZE
    for i in range(5):
        for j in range(3):
            x, y = 120 + i * 62 - j * 18, 318 + j * 46 + (i % 2) * 14
            draw.line([(x * k, y * k), ((x - 14) * k, (y + 32) * k)], fill="#4ea5e0", width=8 * k)
    _cloud(draw, 250, 210, 138, "#46535f")
    _cloud(draw, 240, 200, 138, "#7d8c99")
    return _finished(image)


def wind_rising() -> bytes:
    """Weather glyph: a windsock over a swell. 480 x 480, PNG."""
    image, draw = _drawing(480, 480, "#16343a")
    k = OVERSIZE
    draw.line([(120 * k, 90 * k), (120 * k, 400 * k)], fill="#d9e2e0", width=12 * k)
    for i, color in enumerate(("#e2582f", "#f3efe6", "#e2582f", "#f3efe6")):
        x0, x1 = 126 + i * 62, 126 + (i + 1) * 62
        h0, h1 = 52 - i * 7, 52 - (i + 1) * 7
        droop0, droop1 = i * 9, (i + 1) * 9
        corners = ((x0, 140 - h0 + droop0), (x1, 140 - h1 + droop1), (x1, 140 + h1 + droop1), (x0, 140 + h0 + droop0))
        draw.polygon([(x * k, y * k) for x, y in corners], fill=color)
    for row, color in enumerate(("#2f7f86", "#3fa0a4", "#7cc7c4")):
        points = [(x * k, (330 + row * 34 + 12 * math.sin(x / 26 + row * 1.7)) * k) for x in range(60, 422, 2)]
        draw.line(points, fill=color, width=12 * k, joint="curve")
    return _finished(image)


def tide_dials() -> bytes:
    """A sheet of eight tide dials in a row, their hand going round by the eighth. 160 x 22, PNG, white on black."""
    image, draw = _drawing(160, 22, "black")
    k = OVERSIZE
    for number in range(8):
        x, y = number * 20 + 10, 11
        draw.ellipse([(x - 8) * k, (y - 8) * k, (x + 8) * k, (y + 8) * k], outline="white", width=2 * k)
        a = number * math.pi / 4
        draw.line([(x * k, y * k), ((x + 6 * math.sin(a)) * k, (y - 6 * math.cos(a)) * k)], fill="white", width=2 * k)
    return _finished(image)


PASSING_FRAMES = 24


def boat_passing() -> bytes:
    """An eight rowing home by moonlight, at two strokes. 192 x 96, 24 frames, GIF."""
    width, height, water = 192, 96, 66
    y, x = np.mgrid[0:height, 0:width].astype(np.float64)
    glow = np.exp(-np.hypot(x - 150, y - 24) / 26) * (y < water)
    glints = (np.sin(x / 5 + y * 1.7) > 0.93) * (y > water + 2) * (0.55 - (y - water) / 90)
    frames = []
    for number in range(PASSING_FRAMES):
        image = Image.fromarray((np.clip(0.75 * glow + glints, 0, 1) * 255).astype(np.uint8))
        draw = ImageDraw.Draw(image)
        draw.ellipse([142, 16, 158, 32], fill=255)
        draw.line([(0, water), (width, water)], fill=110)
        bow = -104 + number * 12
        draw.polygon([(bow, 70), (bow + 92, 70), (bow + 104, 64), (bow - 10, 64)], fill=255)
        swing = math.sin(number / PASSING_FRAMES * 4 * math.pi)
        for seat in range(8):
            at = bow + 8 + seat * 10
            draw.ellipse([at - 3 + 2 * swing, 48, at + 3 + 2 * swing, 54], fill=255)
            draw.line([(at + 2 * swing, 55), (at + 2, 63)], fill=255, width=4)
            draw.line([(at + 1, 60), (at - 6 + 9 * swing, 82)], fill=230, width=2)
        frames.append(image)
    out = io.BytesIO()
    frames[0].save(out, "GIF", save_all=True, append_images=frames[1:], duration=80, loop=0)
    return out.getvalue()


CONTINUOUS_TONE: tuple[Callable[[], bytes], ...] = (slip_at_dusk, morning_mist)
"""The paintings with continuous tone, by which reductions are judged."""
