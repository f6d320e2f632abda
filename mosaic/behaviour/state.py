"""What a running device remembers, what can happen to it, and what it does."""

from dataclasses import dataclass, field
from typing import Literal

from mosaic.behaviour.behaviour import Change, Side
from mosaic.values.bands import Course

Is = Literal["known", "absent", "stale"]


@dataclass(frozen=True)
class Known:
    """Of a value: its raw number, whether it has a reading, when that was taken, and where its bands stand."""

    raw: int = 0
    is_: Is = "absent"
    at: int = 0
    course: Course = field(default=Course())


@dataclass(frozen=True)
class Pressed:
    """Of a button: its level and since when, whether it counts as down and since when; `held` says that it was held long enough
    for a rule, `ignored` that it only woke the device."""  # fmt: skip

    level: bool = False
    since: int = 0
    down: bool = False
    at: int = 0
    held: bool = False
    ignored: bool = False


@dataclass(frozen=True)
class Turned:
    """Of an encoder: its two lines as they were last, -1 for not yet, and changes since the last catch."""

    lines: int = -1
    count: int = 0


@dataclass(frozen=True)
class Finger:
    """Of a touch: raw places, how many in a row, when the last one came; where and when the finger was put down, on which area;
    how far it has been, and where it is."""  # fmt: skip

    places: tuple[tuple[int, int], ...] = ()
    run: int = 0
    last: int = 0
    down: bool = False
    start: tuple[int, int] = (0, 0)
    at: int = 0
    area: int = -1
    place: tuple[int, int] = (0, 0)
    far: int = 0
    held: bool = False
    ignored: bool = False


@dataclass(frozen=True)
class Switched:
    """Of an output: whether it is on, since when, and whether its measured value has been told to disagree."""

    on: bool = False
    since: int = 0
    told: bool = False


@dataclass(frozen=True)
class Timed:
    """Of a rule that waits: since when, and whether it has been run."""

    since: int = 0
    done: bool = False


@dataclass(frozen=True)
class DeviceState:
    """All that a device remembers. Times are ms since it was switched on; screens are told by number."""

    now: int = 0
    screen: int = 0
    back: tuple[int, ...] = ()
    values: tuple[Known, ...] = ()
    buttons: tuple[Pressed, ...] = ()
    encoders: tuple[Turned, ...] = ()
    finger: Finger = Finger()
    outputs: tuple[Switched, ...] = ()
    timers: tuple[Timed, ...] = ()
    light: int = 100
    asleep: bool = False
    last_input: int = 0
    lost: int = 0


@dataclass(frozen=True)
class Happening:
    """What reaches a device, as its program gives it.

    `what`: "time" passes; "touch": the panel feels a finger at pixel `a`, `b`; "pin": the level `a` of button `of`; "lines": the
    levels `a` and `b` of encoder `of`; "reading": `a` of value `of`; "wake": the program ends the sleep. `of` is a number.
    """

    what: Literal["time", "touch", "pin", "lines", "reading", "wake"]
    of: int = 0
    a: int = 0
    b: int = 0


@dataclass(frozen=True)
class Effect:
    """What the program has to do, or is told.

    `what`: "screen": show screen number `of`, by `change` to a `side` in so many `steps`; "event": code `of`; "output": set the
    pin of output `of` to level `level`; "light": `level` percent; "refresh": the whole panel anew; "sleep".
    """

    what: Literal["screen", "event", "output", "light", "refresh", "sleep"]
    of: int = 0
    level: int = 0
    change: Change = "cut"
    side: Side = "left"
    steps: int = 0
