"""What a new lettering begins with on a device, and which sizes and modes of a face are worth comparing there."""

from typing import Any

from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.lettering.measure import pitch_mm
from mosaic.lettering.outline import MODES, SIZES
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.shades import shade_count, usual_colors
from mosaic.lettering.sizing import size_of
from mosaic.lettering.source import FontInfo

HEADING_SHARE = 1 / 3
"""Of the glass's height: a line that takes more is a heading, not a lettering to begin with."""
COMPARED_PX = (8, 10, 12, 14, 16, 18, 20, 24, 28, 32, 40, 48)
LARGEST_SHARE, STEPS = 0.7, 4


def first_plan(device: Device, info: FontInfo | None, **changes: Any) -> LetteringPlan:
    """A plan to begin with: the panel's own contrast, and a size that can be read at the device's distance, if that fits.

    `info` is that of the face; None is none but pictures.
    """
    ink, ground = usual_colors(device.passport)
    bits = 2 if shade_count(device.passport, ink, ground, 2) == 4 else 1
    plan = LetteringPlan().with_changes(ink=ink, ground=ground, **{"bits": bits} | changes)
    if info is None:
        return plan
    if info.native_px:
        return plan.with_changes(size_px=min(SIZES[1], max(SIZES[0], info.native_px)), bits=1)
    by_distance = plan.with_changes(size_by="distance")
    try:
        size = size_of(by_distance, info, pitch_mm(device)[1], device.viewing_distance_mm)
    except BadValueError:
        return plan
    return by_distance if size.em_px <= device.size[1] * HEADING_SHARE else plan


def ways_compared(plan: LetteringPlan, device: Device, info: FontInfo) -> list[tuple[str, int]]:
    """(mode, bits) worth comparing on this panel, the one in use among them: levels only where it has some."""
    if info.native_px:
        return [("hinted", 1)]
    ways = [(mode, 1) for mode in MODES]
    ways += [("light", bits) for bits in (2, 4) if shade_count(device.passport, plan.ink, plan.ground, bits) == 1 << bits]
    in_use = (plan.mode, plan.bits)
    return ways if in_use in ways else [*ways, in_use]


def sizes_compared(device: Device, info: FontInfo, now_px: float) -> list[int]:
    """Sizes to lay side by side: those that a pixel face has, or usual ones, the one in use among them."""
    height = device.size[1]
    if info.native_px:
        return [info.native_px * step for step in range(1, STEPS + 1) if info.native_px * step <= height]
    found = {size for size in COMPARED_PX if size <= height * LARGEST_SHARE} | {round(now_px)}
    return sorted(size for size in found if SIZES[0] <= size <= SIZES[1])
