"""A build's behaviour together with all that it refers to: values, screens in their order, where areas stand."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from mosaic.behaviour.behaviour import Area, Behaviour, Rule, When
from mosaic.panels.windows import Rect
from mosaic.screens.plan import Plan
from mosaic.screens.screen import Design
from mosaic.values.bands import Bands
from mosaic.values.value import Value

ANYWHERE = -1
WAITING: tuple[When, ...] = ("after", "every", "quiet")
"""Triggers of rules that wait for time to pass."""
LONGEST_AGE_MS = 2_000_000_000
"""Readings grow old after so long at most: clocks of boards come round after twice that time."""


@dataclass(frozen=True, eq=False)
class Machine:
    """What runs.

    Attributes
    ----------
    values : of the build, in their order. screens : references, in their order. start : the number of the first that is shown.
    boxes : of areas by id, in pixels as the reader sees them; none for areas whose screen or element is gone.
    """

    behaviour: Behaviour
    values: tuple[Value, ...]
    screens: tuple[str, ...]
    start: int
    boxes: Mapping[str, Rect]

    @cached_property
    def value_numbers(self) -> dict[str, int]:
        return {value.id: number for number, value in enumerate(self.values)}

    @cached_property
    def screen_numbers(self) -> dict[str, int]:
        return {ref: number for number, ref in enumerate(self.screens)}

    @cached_property
    def area_numbers(self) -> dict[str, int]:
        return {area.id: number for number, area in enumerate(self.behaviour.areas)}

    # What time alone can change, so that a step need not look through everything else.

    @cached_property
    def aging(self) -> tuple[tuple[int, int], ...]:
        """Numbers of the values that grow old, with the ms after which they are."""
        return tuple((number, age) for number, value in enumerate(self.values) if (age := age_ms(value)))

    @cached_property
    def banded(self) -> tuple[tuple[int, Bands], ...]:
        """Numbers of the values with bands, and those."""
        return tuple((number, value.bands) for number, value in enumerate(self.values) if value.bands.bands)

    @cached_property
    def blinking(self) -> tuple[int, ...]:
        """Numbers of the values that blink."""
        return tuple(number for number, value in enumerate(self.values) if value.origin.by == "blink")

    @cached_property
    def read_back(self) -> tuple[tuple[int, int], ...]:
        """Numbers of the outputs that are read back, and of the values by which they are."""
        outputs = enumerate(self.behaviour.outputs)
        return tuple((number, self.value_numbers[one.reads]) for number, one in outputs if one.reads in self.value_numbers)

    @cached_property
    def waiting(self) -> tuple[tuple[int, Rule], ...]:
        """Numbers of the rules that wait for time to pass, and those."""
        return tuple((number, rule) for number, rule in enumerate(self.behaviour.rules) if rule.trigger.when in WAITING)

    def counts_on(self, rule: Rule, screen: int) -> bool:
        """Whether a rule counts on a screen."""
        return not rule.screen or self.screen_numbers.get(rule.screen) == screen

    def hit(self, x: int, y: int, screen: int) -> int:
        """The number of the area that is touched, `ANYWHERE` for none; of several the last."""
        found = ANYWHERE
        for number, area in enumerate(self.behaviour.areas):
            box = self.boxes.get(area.id)
            if box is not None and self.is_on(area, screen) and box.x <= x < box.right and box.y <= y < box.bottom:
                found = number
        return found

    def is_on(self, area: Area, screen: int) -> bool:
        """Whether an area stands on a screen."""
        return not area.screen or self.screen_numbers.get(area.screen) == screen


def age_ms(value: Value) -> int:
    """From when on a reading is old; 0 for never."""
    return min(value.max_age_s * 1000, LONGEST_AGE_MS) if value.origin.by == "source" else 0


def box_of(area: Area, plans: Mapping[str, Plan], size: tuple[int, int]) -> Rect | None:
    """Where an area stands on the glass; None where its element is gone, or nothing of it is on the glass."""
    if area.element:
        plan = plans.get(area.screen)
        place = plan.places.get((area.element, "")) if plan is not None else None
        if plan is None or place is None:
            return None
        if plan.is_moving:
            place = plan.places_in(plan.kit)[area.element, ""]
        x, y, width, height = place.x, place.y, place.width, place.height
    else:
        if area.screen and area.screen not in plans:
            return None
        x, y, width, height = area.x, area.y, area.width, area.height
    left, top = max(0, x - area.margin), max(0, y - area.margin)
    right, bottom = min(size[0], x + width + area.margin), min(size[1], y + height + area.margin)
    return Rect(left, top, right - left, bottom - top) if right > left and bottom > top else None


def machine_of(
    behaviour: Behaviour, design: Design, plans: Mapping[str, Plan], size: tuple[int, int], screens: Sequence[str] = ()
) -> Machine:
    """The machine of a build: its screens are those of `plans`, or of `screens` where some of them cannot be drawn."""
    refs = tuple(screens or plans)
    boxes = {area.id: box for area in behaviour.areas if (box := box_of(area, plans, size)) is not None}
    start = refs.index(design.start) if design.start in refs else 0
    return Machine(behaviour, design.values, refs, start, boxes)
