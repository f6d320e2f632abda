"""The states of a screen that matter, with the widest readings found in its own letterings."""

from collections.abc import Mapping
from dataclasses import replace

from mosaic.screens.kit import text_of
from mosaic.screens.plan import Plan
from mosaic.screens.words import widest_raw
from mosaic.values.courses import typical
from mosaic.values.states import State, derived, past_of
from mosaic.values.value import Reading


def widest_readings(plan: Plan) -> dict[str, Reading]:
    """Of each value that is shown in letters, the reading that takes the most room where it stands first."""
    found: dict[str, Reading] = {}
    for spot in plan.spots:
        font = plan.kit.font(spot.element)
        if font is None:
            continue
        for field in plan.kit.fields(text_of(spot.element)):
            if field.value.id not in found:
                found[field.value.id] = widest_raw(field, font.lettering)
    return found


def typical_state(plan: Plan) -> State:
    """The first of a screen's states, without looking for the others."""
    values = [plan.kit.values[ident] for ident in plan.values]
    state = State(readings={value.id: typical(value) for value in values if value.is_given})
    counts = _plotted(plan)
    return replace(state, past=_past(plan, state, counts)) if counts else state


def states_of(plan: Plan) -> list[State]:
    """The states of a screen, the typical one first; one alone where nothing follows values."""
    values = [plan.kit.values[ident] for ident in plan.values]
    if not values:
        return [State()]
    design = plan.kit.design
    found = derived(values, moments=design.moments, never=design.never, widest=widest_readings(plan))
    counts = _plotted(plan)
    return [replace(state, past=_past(plan, state, counts)) for state in found] if counts else found


def _plotted(plan: Plan) -> dict[str, int]:
    return {
        spot.element.of: spot.element.count for spot in plan.spots
        if spot.element.kind in ("sparkline", "plot") and spot.element.of in plan.kit.values
    }  # fmt: skip


def _past(plan: Plan, state: State, counts: Mapping[str, int]) -> dict[str, tuple[Reading, ...]]:
    return {ident: past_of(plan.kit.values[ident], count, state.readings.get(ident)) for ident, count in counts.items()}


def by_hand(plan: Plan, readings: Mapping[str, Reading]) -> State:
    """A state with some readings set, the others typical."""
    usual = typical_state(plan)
    state = State("hand", "by hand", {**usual.readings, **readings})
    return replace(state, past=_past(plan, state, _plotted(plan)))
