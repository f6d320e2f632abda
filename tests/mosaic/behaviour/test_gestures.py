"""Gestures from raw tracks with noise, in at least 99 of 100; none from a finger that rests."""

import random

import pytest

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Event, Rule, Trigger
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import Happening
from mosaic.behaviour.step import begin, step
from mosaic.panels.windows import Rect

WHENS = ("release", "hold", "swipe left", "swipe right", "swipe up", "swipe down")
TRACKS, SIZE = 300, (320, 240)
EVENTS = tuple(Event(f"x{n}", n, when) for n, when in enumerate(WHENS, 1))
RULES = tuple(
    Rule(f"r{n}", Trigger(when, "a1" if when in ("release", "hold") else "", ms=600), (Action("event", f"x{n}"),))
    for n, when in enumerate(WHENS, 1)
)
MACHINE = Machine(Behaviour((Area("a1", "all"),), RULES, events=EVENTS), (), ("screen-1",), 0, {"a1": Rect(0, 0, *SIZE)})


def track(kind: str, dice: random.Random) -> list[tuple[int, tuple[int, int] | None]]:
    """(ms, a place or None) of a hand that trembles by 3 px, of a panel that loses 3 of 100 readings and errs wildly in 1 of 100."""
    x, y = dice.uniform(100, 220), dice.uniform(90, 150)
    ms, way = {"release": (dice.randrange(90, 350), 0), "hold": (dice.randrange(900, 1600), 0), "rest": (8000, 0)}.get(
        kind, (dice.randrange(120, 500), dice.uniform(60, 90))
    )
    dx, dy = {"swipe left": (-1, 0), "swipe right": (1, 0), "swipe up": (0, -1), "swipe down": (0, 1)}.get(kind, (0, 0))
    askew, found = dice.uniform(-0.25, 0.25), []
    for now in range(0, ms, 10):
        share = now / ms
        at = x + way * share * (dx + askew * dy), y + way * share * (dy + askew * dx)
        lot = dice.random()
        if lot < 0.03:
            found.append((now, None))
        elif lot < 0.04:
            found.append((now, (dice.randrange(SIZE[0]), dice.randrange(SIZE[1]))))
        else:
            found.append((now, (round(at[0] + dice.uniform(-3, 3)), round(at[1] + dice.uniform(-3, 3)))))
    return [*found, *((now, None) for now in range(ms, ms + 120, 10))]


def gestures(kind: str, seed: int) -> list[str]:
    state, _ = begin(MACHINE)
    told = []
    for now, place in track(kind, random.Random(f"{kind} {seed}")):
        happening = Happening("time") if place is None else Happening("touch", 0, *place)
        state, effects = step(MACHINE, state, happening, now)
        told += [WHENS[effect.of - 1] for effect in effects if effect.what == "event"]
    return told


@pytest.mark.parametrize("kind", WHENS)
def test_the_right_gesture_in_99_of_100(kind):
    right = sum(gestures(kind, seed) == [kind] for seed in range(TRACKS))
    assert right >= 0.99 * TRACKS


def test_a_resting_finger_makes_no_gesture_but_the_one_hold_that_was_asked_for():
    told = [gestures("rest", seed) for seed in range(60)]
    assert all(one in ([], ["hold"]) for one in told)
    without = Machine(Behaviour(MACHINE.behaviour.areas, tuple(r for r in RULES if r.trigger.when != "hold"), events=EVENTS), (), ("screen-1",), 0,
                      {"a1": Rect(0, 0, *SIZE)})  # fmt: skip
    for seed in range(60):
        state, _ = begin(without)
        for now, place in track("rest", random.Random(seed)):
            state, effects = step(without, state, Happening("time") if place is None else Happening("touch", 0, *place), now)
            assert not [effect for effect in effects if effect.what == "event"]
