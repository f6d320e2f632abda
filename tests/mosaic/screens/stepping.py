"""Steps from state to state: after each one the glass shows what a whole frame would, in core, C and Python."""

from dataclasses import replace

import numpy as np

from mosaic.screens.code_python import python_source, run_python, values_for_python
from mosaic.screens.rendering import drawn_in
from mosaic.screens.updates import changes, link_of
from mosaic.values.states import State
from tests.mosaic.screens.compiling import CScreen, sent_values
from tests.mosaic.screens.living import lot

STEPS = 160


def step_from(state: State, seed: int, kit) -> State:
    """A state in which one value or two differ from another."""
    other, dice = lot(seed, kit), np.random.default_rng(seed)
    moved = dice.choice(list(state.readings), 1 + int(dice.integers(2)), replace=False)
    readings = {ident: other.readings[ident] if ident in moved else raw for ident, raw in state.readings.items()}
    return replace(
        other,
        readings=readings,
        past={**state.past, **({"v1": other.past["v1"]} if "v1" in moved else {})},
        stale=state.stale,
        tick=state.tick,
    )


def steps_leave_the_glass_whole(before, folder, code: CScreen | None = None, steps: int = STEPS) -> None:
    """Steps of values by lot: the same windows from all three, and the same glass behind them.

    Whole frames of Python, the slowest of the three, are drawn at every twentieth step.
    """
    plan, link = before.plan, link_of(before.plan.device)
    code, module = code or CScreen(before, folder), run_python(python_source(before, "Tide"))
    glass, sent_by_c = sent_values(before), code.frame(before)
    assert np.array_equal(sent_by_c, glass)
    for seed in range(1, steps + 1):
        now = drawn_in(plan, step_from(before.kit.settled_state, seed, plan.kit))
        meant, values = sent_values(now), values_for_python(now)
        boxes = [(w.x, w.y, w.width, w.height) for w in changes(before, now, link)]
        assert code.changes(before, now) == boxes, seed
        assert module["changes"](values_for_python(before), values) == boxes, seed
        for x, y, w, h in boxes:
            inside = np.s_[y : y + h, x : x + w]
            glass[inside], sent_by_c[inside] = meant[inside], code.frame(now, (x, y, w, h))[inside]
        assert np.array_equal(glass, meant), seed
        assert np.array_equal(sent_by_c, meant), seed
        if seed % 20 == 0:
            frame = np.full(meant.shape, -1)

            def take(x, y, w, h, c, to=frame):
                to[y : y + h, x : x + w] = c

            module["tide"](module["direct"](take), values)
            assert np.array_equal(frame, meant), seed
        before = now
