"""Findings on one picture: what the reduction loses or cannot give."""

import numpy as np
import numpy.typing as npt

from mosaic.color.eye import area_means
from mosaic.color.lab import chroma, linear_to_lab
from mosaic.color.srgb import bytes_to_linear, linear_to_srgb, luminance
from mosaic.findings import Finding, Fix
from mosaic.findings.subjects import PictureSubject
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import fit_to_panel

ENLARGED_FROM = 0.95
"""Source pixels to a panel pixel under which enlarging is seen as blur."""
STRONG_REDUCTION = 2.5
"""Source pixels to a panel pixel from which lines of one source pixel get lost."""
MOST_SATURATION = 3.0
"""The factor that a recipe takes at most."""
COLORFUL = 12.0
"""Mean chroma C*ab above which a picture counts as colourful."""
AREA_PX = 8
"""Side of the areas over which dots are averaged."""
KEPT_CHROMA = 0.6
"""Share of the chroma that must be left."""
AREA_STEPS, LEAST_AREA = 24, 0.02
"""Steps of each channel that tell areas of one colour apart, and the share of the picture from which one is looked at."""
STRONG_CHROMA = 40.0
"""Chroma from which a colour is meant as that colour."""
MOSTLY, NEARLY_ALL = 0.5, 0.9
"""Share of an area from which another hue, and from which black or white, stands for it."""
SAMPLED_PX = 24_000
"""Pixels that are looked at for areas."""


def greyed_share(toned: npt.NDArray[np.float32]) -> float:
    """Share of the drawn pixels of line art (H, W, 3 light) that scaling left neither dark nor light."""
    encoded = linear_to_srgb(luminance(toned))
    grey = (encoded > 0.2) & (encoded < 0.8)
    ground_is_light = np.median(encoded) > 0.5
    drawn = encoded < 0.8 if ground_is_light else encoded > 0.2
    return float(grey.sum() / max(1, drawn.sum()))


def source_smaller_than_panel(subject: PictureSubject) -> list[Finding]:
    """The cut has fewer pixels than the panel shows."""
    cut = subject.converted.cut
    if cut.scale >= ENLARGED_FROM or subject.recipe.scaling == "nearest":
        return []
    return [
        Finding(
            "picture.source-smaller-than-panel",
            "worth fixing",
            "Fit",
            f"Enlarged {1 / cut.scale:.1f} times: {cut.source_width:.0f} × {cut.source_height:.0f} source pixels"
            f" fill {cut.panel_width} × {cut.panel_height}",
            "Edges come out blurred, and dithering turns the blur to speckle. Take a larger picture or a wider cut.",
            Fix("Enlarge with hard edges", "recipe", {"scaling": "nearest"}),
        )
    ]


def fine_lines_lost(subject: PictureSubject) -> list[Finding]:
    """Line art scaled down so far that its strokes are thinner than a pixel."""
    cut, recipe = subject.converted.cut, subject.recipe
    if cut.scale < STRONG_REDUCTION or recipe.method == "threshold" or not subject.source.is_line_art:
        return []
    share = greyed_share(subject.converted.toned)
    if share < 0.25:
        return []
    return [
        Finding(
            "picture.fine-lines-lost",
            "worth fixing",
            "Reduce",
            f"{share * 100:.0f} % of the strokes are thinner than a pixel",
            f"{cut.scale:.1f} source pixels go into one, so lines turn grey, and dithering breaks grey lines into dots.",
            Fix("Keep lines solid", "recipe", {"method": "threshold", "auto_threshold": True}),
        )
    ]


def mean_chroma(linear_rgb: npt.NDArray[np.floating]) -> float:
    """Mean chroma C*ab of (..., 3) light."""
    return float(chroma(linear_to_lab(linear_rgb)).mean())


def washed_out_answers(recipe: Recipe, blends: bool) -> dict[str, Fix]:
    """What helps a picture that looks washed out: more saturation, and where a palette `blends`, a step towards vivid.

    Each is a step of its own: half of the way to the nominal colours, or two fifths more saturation.
    """
    found: dict[str, Fix] = {}
    more = min(MOST_SATURATION, round(recipe.saturation * 1.4, 2))
    if more > recipe.saturation or blends:
        found["saturation"] = Fix(f"Raise saturation to {more:g}", "recipe", {"saturation": more})
    if blends:
        vivid = min(100.0, recipe.nominal_share + 50)
        label = "Reduce half way to vivid" if vivid == 50 else f"Reduce {vivid:g} % vivid"
        found["vivid"] = Fix(label, "recipe", {"nominal_share": vivid})
    return found


def saturation_lost(subject: PictureSubject) -> list[Finding]:
    """The palette cannot show the picture's colours by far."""
    palette = subject.converted.passport.palette
    if palette is None or palette.is_tone:
        return []
    toned = subject.converted.toned[::4, ::4]
    colors = palette.linear()
    meant = mean_chroma(fit_to_panel(toned, colors, palette.darkest, palette.lightest))
    if meant < COLORFUL:
        return []
    # Chroma of what an area averages to, not of single dots, which are always strong.
    shown = mean_chroma(area_means(subject.converted.pixels, colors, AREA_PX))
    if shown >= KEPT_CHROMA * meant:
        return []
    more_vivid, more_saturated = (washed_out_answers(subject.recipe, True)[name] for name in ("vivid", "saturation"))
    fix = more_saturated if subject.recipe.nominal_share >= 50 else more_vivid
    return [
        Finding(
            "picture.saturation-lost",
            "worth fixing",
            "Reduce",
            f"{(1 - shown / meant) * 100:.0f} % of the colour strength is lost",
            f"This palette mixes to a chroma of {shown:.0f}, the picture has {meant:.0f}: it will look duller than meant.",
            fix,
        )
    ]


def changed_names(subject: PictureSubject) -> list[tuple[str, str, float]]:
    """(colour meant, colour shown, share of the picture) of areas that come out mostly as another colour of the panel.

    Meant is the colour that is nearest to the area as the data sheet names it. A mixture with white or black is lighter or
    darker, and no other colour.
    """
    palette = subject.converted.passport.palette
    if palette is None or palette.is_tone:
        return []
    pixels = subject.converted.pixels
    every = max(1, int(np.sqrt(pixels.size / SAMPLED_PX)))
    toned, shown = subject.converted.toned[::every, ::every].reshape(-1, 3), pixels[::every, ::every].ravel()
    steps = (np.sqrt(toned) * (AREA_STEPS - 1e-3)).astype(np.int64)
    kinds = (steps[:, 0] * AREA_STEPS + steps[:, 1]) * AREA_STEPS + steps[:, 2]
    counts, nominal = np.bincount(kinds), linear_to_lab(bytes_to_linear(palette.nominal_rgb))
    found: dict[tuple[str, str], float] = {}
    for kind in np.flatnonzero(counts >= LEAST_AREA * len(kinds)):
        here = kinds == kind
        asked = linear_to_lab(toned[here].mean(axis=0))
        if chroma(asked) < STRONG_CHROMA:
            continue
        meant = int(((nominal - asked) ** 2).sum(axis=1).argmin())
        made = np.bincount(shown[here], minlength=len(palette)) / counts[kind]
        most = int(made.argmax())
        is_another = made[most] > (MOSTLY if chroma(nominal[most]) >= STRONG_CHROMA else NEARLY_ALL)
        if most != meant and is_another and chroma(nominal[meant]) >= STRONG_CHROMA:
            pair = palette.names[meant], palette.names[most]
            found[pair] = found.get(pair, 0.0) + counts[kind] / len(kinds)
    return [(meant, made, share) for (meant, made), share in sorted(found.items(), key=lambda item: -item[1])]


def colors_change_their_name(subject: PictureSubject) -> list[Finding]:
    """An area of one of the panel's colours comes out as another one."""
    found = []
    for meant, made, share in changed_names(subject):
        left_out = [*subject.recipe.left_out, made]
        fix = Fix(f"Leave {made} out", "recipe", {"left_out": left_out}) if made not in ("black", "white") else None
        what = f"A {meant} area, {share * 100:.0f} % of the picture, comes out {made}"
        why = f"The panel’s {meant} is far from the one meant, its {made} nearer. Who reads {meant} as a sign misses it."
        found.append(Finding(f"picture.{meant}-becomes-{made}", "worth fixing", "Reduce", what, why, fix))
    return found


def one_color_only(subject: PictureSubject) -> list[Finding]:
    """Nothing, or everything, is inked (e-paper) or lit."""
    converted = subject.converted
    epaper = converted.passport.technology == "epaper"
    word = "inked" if epaper else "lit"
    if converted.colors_used > 1:
        return []
    nothing = converted.marked_share == 0
    recipe = subject.recipe
    if recipe.method == "threshold" and not recipe.auto_threshold:
        fix = Fix("Find the threshold by Otsu's method", "recipe", {"auto_threshold": True})
    elif (recipe.exposure, recipe.contrast) != (0.0, 1.0):
        fix = Fix("Take exposure and contrast back", "recipe", {"exposure": 0.0, "contrast": 1.0})
    else:
        fix = None
    return [
        Finding(
            "picture.nothing-marked" if nothing else "picture.everything-marked",
            "must fix",
            "Tone",
            f"{'Nothing' if nothing else 'Everything'} is {word}: all {converted.proof.pixel_count:,} pixels are one colour",
            "The glass shows an even area, which looks like a dead panel on the bench.",
            fix,
        )
    ]
