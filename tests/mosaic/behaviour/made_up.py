"""Machines and runs by lot: everything that a behaviour can have, and things gone that it still names."""

import random

from mosaic.behaviour.behaviour import (
    WHENS,
    Action,
    Area,
    Behaviour,
    Button,
    Encoder,
    Event,
    Output,
    Rule,
    TouchFeel,
    Trigger,
)  # fmt: skip
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import Happening
from mosaic.panels.windows import Rect
from mosaic.values.bands import Band, Bands
from mosaic.values.value import Origin, Value

SIZE = (128, 64)


def _values(dice: random.Random, outputs: list[str]) -> list[Value]:
    limits = sorted(dice.sample(range(5, 95, 5), 3))
    bands = tuple(
        Band(
            start,
            end,
            f"b{n}",
            blink_ms=dice.choice((0, 300, 1000)),
            outputs=tuple((one, dice.random() < 0.5) for one in outputs[:n]),
        )
        for n, (start, end) in enumerate(
            ((None, limits[0]), (limits[0], limits[1]), (limits[1] + dice.choice((0, 3)), limits[2]))
        )
    )
    banded = Bands(bands, dice.choice((0, 4)), dice.choice((0, 700)), dice.choice((1, 3)))
    return [
        Value("v1", "depth", max_age_s=dice.choice((0, 1)), bands=banded),
        Value("v2", "depth word", kind="word", words=("low", "middle", "high"), origin=Origin("band", "v1")),
        Value("v3", "colon", kind="yes/no", origin=Origin("blink", on_ms=200, off_ms=300)),
        Value("v4", "lamp blinks", kind="yes/no", origin=Origin("blink", "v1")),
        Value("v5", "chosen", low=-2, high=5, origin=Origin("rules", first=dice.choice((None, 3)))),
        Value("v6", "lamp is on", kind="yes/no", origin=Origin("rules"), bands=Bands((Band(0, 1), Band(1, 2, outputs=((outputs[1], True),))))),
        Value("v7", "current", high=20, max_age_s=1),
        Value("v8", "name", kind="text"),
    ]  # fmt: skip


def _action(dice: random.Random, screens: list[str]) -> Action:
    do = dice.choice(
        ("screen", "screen", "go back", "set", "add", "toggle", "event", "event", "output", "light", "refresh", "sleep")
    )
    to = {
        "screen": [*screens, "screen-99"], "set": ["v1", "v5", "v6", "v99", "v8"], "add": ["v1", "v5"], "toggle": ["v6", "v5", "v1"],
        "event": ["x1", "x2", "x9"], "output": ["o1", "o2", "o3", "o9"],
    }.get(do, [""])  # fmt: skip
    by = {"output": dice.randrange(3), "light": dice.randrange(101), "add": dice.choice((-3, -1, 1, 2))}.get(
        do, dice.randrange(-5, 110)
    )
    return Action(
        do, dice.choice(to), by, dice.random() < 0.5, dice.choice(("cut", "wipe", "slide")), dice.choice(("left", "up")), 4,
        dice.random() < 0.7,
    )  # fmt: skip


def _rule(dice: random.Random, number: int, screens: list[str]) -> Rule:
    when = WHENS[number % len(WHENS)]
    on = ""
    if when in WHENS[:7]:
        on = dice.choice(("", "a1", "a2", "a3", "a4", "a9"))
    elif when.startswith("button"):
        on = dice.choice(("b1", "b2"))
    elif when.startswith("turned"):
        on = dice.choice(("k1", "k2"))
    elif when in ("band", "stale", "back"):
        on = dice.choice(("v1", "v1", "v7"))
    elif when == "wrong":
        on = dice.choice(("o1", "o2"))
    trigger = Trigger(when, on, dice.randrange(3), dice.choice((50, 200, 450, 900)))
    actions = tuple(_action(dice, screens) for _ in range(dice.randrange(4)))
    return Rule(f"r{number}", trigger, actions, dice.choice(("", "", *screens, "screen-99")))


def machine_by_lot(seed: int, rules: int = 60) -> Machine:
    """A machine that has something of everything."""
    dice = random.Random(seed)
    screens = [f"screen-{n}" for n in range(1, 5)]
    areas = tuple(
        Area(f"a{n}", f"area {n}", dice.choice(("", *screens)), x=dice.randrange(80), y=dice.randrange(40), width=40, height=24)
        for n in range(1, 5)
    )
    outputs = tuple(
        Output(f"o{n}", f"out {n}", active_low=dice.random() < 0.5, at_start=dice.random() < 0.5, shows="v6" if n == 1 else "",
               reads="v7" if n < 3 else "", reads_from=8, within_ms=dice.choice((0, 300)))
        for n in range(1, 4)
    )  # fmt: skip
    behaviour = Behaviour(
        areas, tuple(_rule(dice, n, screens) for n in range(rules)),
        (Button("b1", "left", bounce_ms=20), Button("b2", "right", active_low=False, bounce_ms=0)),
        (Encoder("k1", "knob", steps=dice.choice((1, 2, 4))), Encoder("k2", "second knob", steps=4)), outputs,
        (Event("x1", 7, "one"), Event("x2", 60_000, "two")),
        TouchFeel(dice.choice((1, 2, 3)), 40, 25, 600, 8, 1500),
    )  # fmt: skip
    boxes = {area.id: Rect(area.x, area.y, area.width, area.height) for area in areas[:3]}
    return Machine(behaviour, tuple(_values(dice, ["o1", "o2", "o3"])), tuple(screens), dice.randrange(4), boxes)


def run_by_lot(seed: int, count: int) -> list[tuple[int, Happening]]:
    """(ms, what happens), times rising: fingers that tap, rest and swipe, buttons that bounce, knobs, readings, pauses."""
    dice = random.Random(seed * 7 + 1)
    now, found = 0, []
    lines = [[1, 1], [1, 1]]

    def add(pause: int, *what) -> None:
        nonlocal now
        now += pause
        found.append((now, Happening(*what)))

    while len(found) < count:
        kind = dice.randrange(9)
        if kind <= 2:
            x, y, dx, dy = (
                dice.randrange(SIZE[0]),
                dice.randrange(SIZE[1]),
                dice.choice((0, 0, -6, 6)),
                dice.choice((0, 0, -5, 5)),
            )
            for _ in range(dice.choice((1, 2, 4, 9, 30))):
                add(10, "touch", 0, min(max(x + dice.randrange(-1, 2), 0), SIZE[0] - 1), min(max(y, 0), SIZE[1] - 1))
                x, y = x + dx, y + dy
            add(dice.choice((20, 60)), "time")
        elif kind == 3:
            of, level = dice.randrange(2), dice.randrange(2)
            for _ in range(dice.choice((1, 3))):
                add(dice.choice((1, 5)), "pin", of, level)
                level = 1 - level
            add(dice.choice((5, 40, 1000)), "time")
        elif kind == 4:
            of, way = dice.randrange(2), dice.choice((-1, 1))
            for _ in range(dice.choice((1, 4, 6))):
                order = [[1, 1], [1, 0], [0, 0], [0, 1]]
                at = order.index(lines[of])
                lines[of] = order[(at + way) % 4]
                add(3, "lines", of, *lines[of])
        elif kind == 5:
            add(dice.choice((20, 100)), "reading", 0, dice.randrange(-5, 105))
        elif kind == 6:
            add(20, "reading", dice.choice((6, 7, 4, 1, 11)), dice.randrange(20))
        elif kind == 7:
            add(dice.choice((10, 100, 500, 1300)), "time")
        else:
            add(30, dice.choice(("wake", "time")))
    return found[:count]
