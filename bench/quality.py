"""Perceived error against the general imaging library's own reduction, by the definition for goals: `python -m bench.quality`.

The blur is fixed, 1.5 pixels for one tone and 2.0 for palettes. The target is fitted from the
panel's measured black to its measured white. The library reduces to one bit, or to the nominal
palette, and its result is shown in the same measured colours.
"""

import time

import numpy as np
from PIL import Image

from bench.scenes import SCENES
from mosaic.color.eye import SIGMA_ONE_TONE, SIGMA_PALETTE, perceived_error
from mosaic.color.palette import Palette
from mosaic.color.srgb import linear_to_bytes, luminance
from mosaic.conversion.reducing import polished, reduced
from mosaic.imports.pictures import read_picture
from mosaic.panels.geometry import seen_size
from mosaic.panels.loader import catalogue
from mosaic.reduce.fit import fit_picture
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import fit_to_panel
from workshop.scenario import painting

PANELS = ("mono-oled-128x64", "epaper-296x128-black-white", "epaper-648x480-black-white", "epaper-800x480-seven-colour")
DEMO = ("slip_at_dusk", "morning_mist", "club_crest", "fair_weather", "rain_coming", "wind_rising")
GOALS = {True: (0.25, 0.17), False: (0.32, 0.22)}


def pictures() -> dict[str, np.ndarray]:
    """(H, W, 3) uint8 of every picture of the demo and every scene made by a rule."""
    makers = (getattr(painting, name) for name in DEMO)
    demo = {name.replace("_", " "): read_picture(make(), name) for name, make in zip(DEMO, makers, strict=True)}
    return {name: source.rgb for name, source in demo.items()} | {name: make(seed) for name, (make, seed) in SCENES.items()}


def librarys(light: np.ndarray, palette: Palette) -> np.ndarray:
    """(H, W) palette indices of the general library's reduction of (H, W, 3) light."""
    image = Image.fromarray(linear_to_bytes(light))
    if palette.is_tone:
        return np.where(np.asarray(image.convert("L").convert("1")), palette.lightest, palette.darkest).astype(np.uint8)
    carrier = Image.new("P", (1, 1))
    # The rest of the table repeats the last colour, so that no foreign colour is chosen.
    carrier.putpalette(palette.nominal_rgb.tobytes() + palette.nominal_rgb[-1].tobytes() * (256 - len(palette)))
    found = np.asarray(image.quantize(palette=carrier, dither=Image.Dither.FLOYDSTEINBERG))
    return np.minimum(found, len(palette) - 1)


def figure(pixels: np.ndarray, light: np.ndarray, palette: Palette) -> float:
    """Perceived error of palette indices by the definition for goals."""
    colors = palette.linear()
    target = fit_to_panel(light, colors, palette.darkest, palette.lightest)
    if palette.is_tone:
        return perceived_error(luminance(target), luminance(colors)[pixels], SIGMA_ONE_TONE)
    return perceived_error(target, colors[pixels], SIGMA_PALETTE)


def measure(slug: str, sources: dict[str, np.ndarray]) -> None:
    panel = catalogue()[slug]
    palette, sigma = panel.palette, SIGMA_ONE_TONE if panel.palette.is_tone else SIGMA_PALETTE
    rows, spent = [], []
    for rgb in sources.values():
        light, _ = fit_picture(rgb, None, Recipe(), seen_size(panel, panel.rotation))
        first = reduced(light, Recipe(), panel, panel.rotation)
        begun = time.perf_counter()
        last = polished(first, light, Recipe(polish=True), panel, sigma)
        spent.append(time.perf_counter() - begun)
        rows.append([figure(pixels, light, palette) for pixels in (librarys(light, palette), first, last)])
    print(f"\n{panel.name}")
    for name, (theirs, ours, searched) in zip(sources, rows, strict=True):
        print(f"  {name:28} {theirs:6.2f} {ours:6.2f} {ours / theirs:6.3f} {searched:6.2f} {searched / theirs:6.3f}")
    mean = np.mean(rows, axis=0)
    goals = GOALS[palette.is_tone]
    print(
        f"  {'mean':28} {mean[0]:6.2f} {mean[1]:6.2f} {mean[1] / mean[0]:6.3f} {mean[2]:6.2f} {mean[2] / mean[0]:6.3f}"
        f"   to reach {goals[0]} and {goals[1]}; the search took {np.median(spent) * 1e3:.0f} ms (median)"
    )


if __name__ == "__main__":
    print(f"{'':30} {'theirs':>6} {'ours':>6} {'share':>6} {'search':>6} {'share':>6}")
    all_of_them = pictures()
    for name in PANELS:
        measure(name, all_of_them)
