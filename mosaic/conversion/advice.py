"""Which method suits a picture, a panel and a purpose, and why: rules a practitioner goes by, told in words."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from mosaic.color.srgb import linear_to_srgb, luminance
from mosaic.panels.passport import Passport

FloatArray = npt.NDArray[np.float32]
ImageKind = Literal["line art", "gradient", "photo"]
Purpose = Literal["still", "changing", "moving"]

PURPOSES: dict[str, str] = {
    "still": "stands still", "changing": "changes in part", "moving": "moves: frames of an animation",
}  # fmt: skip
FEW_STEPS = 0.012
"""Mean difference of neighbours on the encoded scale, edges left out, below which a picture is all gradients."""
EXTREME_SHARE = 0.9
SMALL_SIDE_PX = 64


def image_kind_of(linear_rgb: FloatArray) -> ImageKind:
    """What kind of picture fitted light (H, W, 3) is."""
    grey = linear_to_srgb(luminance(linear_rgb))
    # Line art keeps to two values but for its edges; they may lie anywhere, so the histogram's two peaks are asked.
    counts, _ = np.histogram(grey, 32, (0, 1))
    near = np.convolve(counts, np.ones(3), "same")
    first = int(near.argmax())
    apart = near.copy()
    apart[max(0, first - 4) : first + 5] = 0
    if (near[first] + apart.max()) / grey.size > EXTREME_SHARE:
        return "line art"
    steps = np.concatenate([np.abs(np.diff(grey, axis=0)).ravel(), np.abs(np.diff(grey, axis=1)).ravel()])
    return "gradient" if steps.size and np.mean(steps[steps < 0.15]) < FEW_STEPS else "photo"


@dataclass(frozen=True)
class Advice:
    """Recipe fields to set, and the reasons in words."""

    changes: dict[str, object]
    why: str


def advise(linear_rgb: FloatArray, passport: Passport, purpose: Purpose) -> Advice:
    """What to reduce fitted light (H, W, 3) by on this panel for this purpose."""
    image_kind, palette = image_kind_of(linear_rgb), passport.palette
    if image_kind == "line art":
        if palette is not None and palette.is_tone:
            why = "It is line art: a plain threshold keeps its edges hard, and Otsu's method finds the border."
            return Advice({"method": "threshold", "auto_threshold": True, "polish": False}, why)
        why = "It is line art in flat colours: each pixel takes the nearest colour."
        return Advice({"method": "threshold", "polish": False}, why)
    if palette is None:
        if image_kind == "gradient" or purpose != "still":
            why = "A gradient bands where a channel has few steps; a mask without a grid hides them."
            return Advice({"method": "blue-noise", "strength": 1.0, "polish": False}, why)
        why = "A photo on many colours needs little: error diffusion takes away what banding there is."
        return Advice({"method": "floyd-steinberg", "strength": 1.0, "polish": False}, why)
    if purpose == "moving":
        why = "Frames need a fixed mask: error diffusion would crawl from frame to frame. Blue noise shows no grid."
        return Advice({"method": "blue-noise", "strength": 1.0, "polish": False}, why)
    if purpose == "changing":
        small = min(passport.glass.width_px, passport.glass.height_px) <= SMALL_SIDE_PX
        name, words = ("bayer-4", "a small grid keeps shapes on so few pixels") if small else ("blue-noise", "no grid shows")
        why = f"Parts that stay the same must stay equal pixel for pixel, so a fixed mask: {words}."
        return Advice({"method": name, "strength": 1.0, "polish": False}, why)
    why = (
        f"A {image_kind} that stands still on {len(palette)} colours: error diffusion keeps the mean tones, and the search"
        " then takes away more of what the eye still sees."
    )
    return Advice({"method": "floyd-steinberg", "strength": 1.0, "polish": True}, why)
