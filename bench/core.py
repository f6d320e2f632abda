"""The core against the general imaging library and numpy, in one run: `python -m bench.core`."""

import numpy as np
from PIL import Image

from bench.timing import interleaved
from mosaic.panels.loader import catalogue
from mosaic.pixels.direct import pack_direct
from mosaic.pixels.formats import DirectFormat, IndexedFormat, Plane
from mosaic.pixels.indexed import pack_indexed
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import PaletteTask, ToneTask, task_for_palette

WIDTH, HEIGHT = 800, 480


def scene() -> np.ndarray:
    """(H, W, 3) uint8: gradients with some grain, as photos have."""
    y, x = np.mgrid[0:HEIGHT, 0:WIDTH]
    flat = np.stack([x * 255 / WIDTH, y * 255 / HEIGHT, (x + y) * 255 / (WIDTH + HEIGHT)], axis=-1)
    grain = np.random.default_rng(1).normal(0, 8, flat.shape)
    return np.clip(flat + grain, 0, 255).astype(np.uint8)


def report(name: str, ours: float, theirs: float, wanted: str) -> None:
    print(f"{name:52} {ours * 1e3:8.3f} ms {theirs * 1e3:8.3f} ms   {theirs / ours:5.2f}x   {wanted}")


def reductions() -> None:
    rgb = scene()
    image = Image.fromarray(rgb)
    grey = image.convert("L")
    tone = ToneTask((np.asarray(grey) / 255).astype(np.float32) ** 2.2, np.array([0, 1], np.float32))
    palette = catalogue()["epaper-800x480-seven-colour"].palette
    carrier = Image.new("P", (1, 1))
    carrier.putpalette(palette.measured_rgb.tobytes())
    light = ((rgb / 255) ** 2.2).astype(np.float32)
    colors = task_for_palette(light, palette, 0)
    assert isinstance(colors, PaletteTask)
    diffuse = METHODS["floyd-steinberg"]
    print(f"Floyd-Steinberg, {WIDTH} x {HEIGHT}: ours in linear light, the library's in encoded values")
    for scan in ("raster", "serpentine"):
        recipe = Recipe(scan=scan)
        report(
            f"  one tone, {scan}",
            *interleaved(lambda r=recipe: diffuse.reduce(tone, r), lambda: grey.convert("1")),
            {"raster": "to reach 2.0x", "serpentine": "to reach 1.6x (default)"}[scan],
        )
        theirs = lambda: image.quantize(palette=carrier, dither=Image.Dither.FLOYDSTEINBERG)  # noqa: E731
        report(
            f"  seven colours, {scan}",
            *interleaved(lambda r=recipe: diffuse.reduce(colors, r), theirs),
            {"raster": "to reach 2.4x", "serpentine": "to reach 1.6x (default)"}[scan],
        )


def packing() -> None:
    rng = np.random.default_rng(2)
    print(f"\nPacking {WIDTH} x {HEIGHT} against numpy.packbits of the same bits")

    def indexed(name: str, bits: int, along: str, first: str, follow: str, codes: tuple[int, ...]) -> None:
        fmt = IndexedFormat(bits, along, first, follow, (Plane("p", codes),))
        pixels = rng.integers(0, len(codes), (HEIGHT, WIDTH), np.uint8)
        loose = rng.integers(0, 2, (HEIGHT, WIDTH * bits), np.uint8)
        report(f"  {name}", *interleaved(lambda: pack_indexed(pixels, fmt), lambda: np.packbits(loose, axis=1)), "to reach 0.25x")

    indexed("1 bit rows", 1, "row", "msb", "rows", (0, 1))
    indexed("1 bit rows, inverted", 1, "row", "msb", "rows", (1, 0))
    indexed("1 bit pages", 1, "column", "lsb", "pages", (0, 1))
    indexed("1 bit of three colours", 1, "row", "msb", "rows", (0, 1, 1))
    indexed("2 bits", 2, "row", "msb", "rows", (0, 1, 3, 2))
    indexed("4 bits", 4, "row", "msb", "rows", (0, 1, 2, 3, 4, 5, 6))
    for bits in (8, 12, 16, 18, 24):
        fmt = DirectFormat(bits)
        pixels = rng.integers(0, 256, (HEIGHT, WIDTH, 3), np.uint8)
        loose = rng.integers(0, 2, (HEIGHT, WIDTH * fmt.wire_bits), np.uint8)
        report(
            f"  {bits} bits, colour",
            *interleaved(lambda f=fmt, p=pixels: pack_direct(p, f), lambda b=loose: np.packbits(b)),
            "to reach 0.25x",
        )


if __name__ == "__main__":
    print(f"{'':52} {'ours':>11} {'theirs':>11}   ratio")
    reductions()
    packing()
