"""How large a face is set: by pixels, by the height of its capitals, or by the distance it is read from."""

import math
from dataclasses import dataclass

from mosaic.errors import BadValueError
from mosaic.lettering.outline import SIZES
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.source import FontInfo
from mosaic.panels.reading import capital_height_mm

USUAL_CAPITAL = 0.7
"""Height of capitals as a share of the em, of a face that has none."""
HUNDREDTHS = 100


@dataclass(frozen=True)
class Size:
    """The em in pixels and, of pixel faces, by which whole number they are enlarged."""

    em_px: float
    scale: int = 1


def size_of(plan: LetteringPlan, info: FontInfo, pitch_mm: float, distance_mm: float) -> Size:
    """The size that a plan asks for on a panel whose rows lie `pitch_mm` apart and that is read from `distance_mm`.

    Capitals by millimetres are as near as rows allow; those for a distance are at least as high as it needs.

    Raises
    ------
    BadValueError
        It lies outside what can be rendered.
    """
    share = info.capital or USUAL_CAPITAL
    if plan.size_by == "pixels":
        return _pixels(info, plan.size_px)
    if plan.size_by == "capital":
        rows = max(1, round(plan.capital_mm / pitch_mm))
        wanted = f"capitals of {plan.capital_mm:g} mm"
    else:
        rows = max(1, math.ceil(capital_height_mm(plan.arc_minutes, distance_mm) / pitch_mm - 1e-9))
        wanted = f"reading at {distance_mm / 1000:g} m"
    if info.native_px:
        native = max(1, round(info.native_px * share))
        steps = round(rows / native) if plan.size_by == "capital" else math.ceil(rows / native)
        return _checked(Size(info.native_px * max(1, steps), max(1, steps)), wanted)
    return _checked(Size(round(rows / share * HUNDREDTHS) / HUNDREDTHS), wanted)


def _pixels(info: FontInfo, size_px: int) -> Size:
    if not info.native_px:
        return Size(float(size_px))
    scale = max(1, round(size_px / info.native_px))
    return Size(float(info.native_px * scale), scale)


def _checked(size: Size, wanted: str) -> Size:
    if not SIZES[0] <= size.em_px <= SIZES[1]:
        raise BadValueError(f"{wanted} take {size.em_px:.0f} px to the em on this panel; {SIZES[0]} to {SIZES[1]} px can be set")
    return size
