"""The behaviour of a build as it is described: areas, inputs, outputs, events, and rules from what happens to what is done."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from msgspec import Meta

from mosaic.errors import BadDescriptionError
from mosaic.screens.screen import Ref
from mosaic.values.value import Raw

MOST_AREAS, MOST_RULES, MOST_ACTIONS, MOST_EVENTS, MOST_INPUTS, MOST_OUTPUTS = 200, 300, 8, 200, 16, 16
LONGEST_MS = 86_400_000
Id = Annotated[str, Meta(pattern="^[a-z][a-z0-9]{0,11}$", description="a short name such as a4")]
MaybeId = Annotated[str, Meta(pattern="^([a-z][a-z0-9]{0,11})?$", description="a short name such as a4, or nothing")]
Name = Annotated[str, Meta(min_length=1, max_length=40)]
PinName = Annotated[str, Meta(max_length=24)]
Place = Annotated[int, Meta(ge=0, le=4095)]
Length = Annotated[int, Meta(ge=1, le=4096)]
Ms = Annotated[int, Meta(ge=0, le=LONGEST_MS)]
When = Literal[
    "press", "release", "hold", "swipe left", "swipe right", "swipe up", "swipe down", "button pressed", "button released",
    "button held", "turned up", "turned down", "after", "every", "quiet", "band", "stale", "back", "wrong", "start", "wake",
]  # fmt: skip
"""Of triggers, in the order of their numbers in code."""
WHENS: tuple[When, ...] = When.__args__  # type: ignore[attr-defined]
SWIPES: tuple[When, ...] = ("swipe left", "swipe right", "swipe up", "swipe down")
TOUCHES: tuple[When, ...] = ("press", "release", "hold", *SWIPES)
TIMED: tuple[When, ...] = ("hold", "button held", "after", "every", "quiet")
"""Triggers that take a time."""
Do = Literal["screen", "go back", "set", "add", "toggle", "event", "output", "light", "refresh", "sleep"]
DOS: tuple[Do, ...] = Do.__args__  # type: ignore[attr-defined]
Change = Literal["cut", "wipe", "slide"]
Side = Literal["left", "right", "up", "down"]
CHANGES: tuple[Change, ...] = Change.__args__  # type: ignore[attr-defined]
SIDES: tuple[Side, ...] = Side.__args__  # type: ignore[attr-defined]
Load = Literal["lamp", "sounder", "relay", "light"]


@dataclass(frozen=True)
class Area:
    """Where a touch counts: the box of an element of a screen, with a margin round it, or a box of its own.

    `screen` is "" for every screen. Of areas that overlap the last one counts.
    """

    id: Id
    name: Name
    screen: Ref = ""
    element: MaybeId = ""
    margin: Annotated[int, Meta(ge=0, le=64)] = 0
    x: Place = 0
    y: Place = 0
    width: Length = 1
    height: Length = 1


@dataclass(frozen=True)
class Trigger:
    """What has to happen.

    Attributes
    ----------
    on : an area ("" for anywhere), a button, an encoder, a value or an output, as `when` has it.
    band : the number of a band that a value enters. ms : of holds and timers.
    """

    when: When
    on: MaybeId = ""
    band: Annotated[int, Meta(ge=0, le=31)] = 0
    ms: Ms = 0

    def __post_init__(self) -> None:
        if self.when in TIMED and not self.ms:
            raise BadDescriptionError("it has a time of 0 s; from 0.05 s to 24 h are accepted", path="$.ms")
        if self.when in TIMED and self.ms < 50:
            raise BadDescriptionError(f"{self.ms} ms is too short; from 0.05 s to 24 h are accepted", path="$.ms")


@dataclass(frozen=True)
class Action:
    """What is done.

    Attributes
    ----------
    to : a screen's reference, or the id of a value, event or output. by : what a value is set to or changed by, raw; 0 or 1 of
        an output, 2 to exchange them; a light's level in percent.
    wrap : a value that is added to comes round at its end, and does not stop there.
    change, side, steps : how one screen follows another. remember : so that going back leads here again.
    """

    do: Do
    to: Annotated[str, Meta(pattern="^([a-z]+-[0-9]{1,18}|[a-z][a-z0-9]{0,11})?$")] = ""
    by: Raw = 0
    wrap: bool = False
    change: Change = "cut"
    side: Side = "left"
    steps: Annotated[int, Meta(ge=2, le=32)] = 8
    remember: bool = True

    def __post_init__(self) -> None:
        if self.do == "light" and not 0 <= self.by <= 100:
            raise BadDescriptionError(f"a light of {self.by} % is none; 0 to 100 % are accepted", path="$.by")


@dataclass(frozen=True)
class Rule:
    """What is done when something happens, on one screen or, with "", on every."""

    id: Id
    trigger: Trigger
    actions: Annotated[tuple[Action, ...], Meta(max_length=MOST_ACTIONS)] = ()
    screen: Ref = ""


@dataclass(frozen=True)
class Button:
    """A button at a pin of the board. `bounce_ms`: how long its level has to stay before it counts."""

    id: Id
    name: Name
    pin: PinName = ""
    active_low: bool = True
    bounce_ms: Annotated[int, Meta(ge=0, le=500)] = 20


@dataclass(frozen=True)
class Encoder:
    """A knob that turns without end, at two pins.

    `steps`: changes of its two lines from one catch to the next. `interrupt`: the program is called when they change.
    """

    id: Id
    name: Name
    pin_a: PinName = ""
    pin_b: PinName = ""
    steps: Literal[1, 2, 4] = 4
    interrupt: bool = False


@dataclass(frozen=True)
class Output:
    """What is switched at a pin.

    Attributes
    ----------
    active_low : on while the pin is low. at_start : on from the start of the program.
    reset_pull : what a resistor, the board or its boot code holds the pin at until the program sets it.
    shows : the value that tells screens whether it is on. reads : a value measured behind it, which has to be `reads_from`, raw,
        and more while it is on, and less while it is off, `within_ms` after it was switched; "" for none.
    mains, inductive : what hangs on it.
    """

    id: Id
    name: Name
    load: Load = "lamp"
    pin: PinName = ""
    active_low: bool = False
    at_start: bool = False
    reset_pull: Literal["open", "high", "low"] = "open"
    shows: MaybeId = ""
    reads: MaybeId = ""
    reads_from: Raw = 1
    within_ms: Annotated[int, Meta(ge=0, le=600_000)] = 2000
    mains: bool = False
    inductive: bool = False


@dataclass(frozen=True)
class Event:
    """What the program is told. Its code never changes, whatever its name and place in the list."""

    id: Id
    code: Annotated[int, Meta(ge=1, le=65_535)]
    name: Name


@dataclass(frozen=True)
class Handed:
    """An event as the program knew it when it was handed over: what raised it, in words."""

    code: Annotated[int, Meta(ge=1, le=65_535)]
    name: Name
    meaning: Annotated[str, Meta(max_length=2000)] = ""


@dataclass(frozen=True)
class TouchFeel:
    """How raw touches become gestures.

    Attributes
    ----------
    samples : so many in a row are a touch. lift_ms : so long without one, and the finger is gone.
    swipe_px, swipe_ms : the way of a swipe at least, and its time at most. slack_px : how far a held finger may wander.
    rest_ms : a finger that lies longer than this means nothing when it is lifted.
    """

    samples: Annotated[int, Meta(ge=1, le=3)] = 3
    lift_ms: Annotated[int, Meta(ge=1, le=500)] = 40
    swipe_px: Annotated[int, Meta(ge=4, le=1000)] = 40
    swipe_ms: Annotated[int, Meta(ge=50, le=5000)] = 800
    slack_px: Annotated[int, Meta(ge=1, le=500)] = 16
    rest_ms: Annotated[int, Meta(ge=500, le=60_000)] = 5000


def _once(ids: Iterable[str], path: str) -> None:
    seen: set[str] = set()
    for ident in ids:
        if ident in seen:
            raise BadDescriptionError(f"two of them are called {ident}; each has an id of its own", path=path)
        seen.add(ident)


@dataclass(frozen=True)
class Behaviour:
    """What a build does. Rules are looked at in their order."""

    areas: Annotated[tuple[Area, ...], Meta(max_length=MOST_AREAS)] = ()
    rules: Annotated[tuple[Rule, ...], Meta(max_length=MOST_RULES)] = ()
    buttons: Annotated[tuple[Button, ...], Meta(max_length=MOST_INPUTS)] = ()
    encoders: Annotated[tuple[Encoder, ...], Meta(max_length=MOST_INPUTS)] = ()
    outputs: Annotated[tuple[Output, ...], Meta(max_length=MOST_OUTPUTS)] = ()
    events: Annotated[tuple[Event, ...], Meta(max_length=MOST_EVENTS)] = ()
    touch: TouchFeel = field(default=TouchFeel())
    handed: Annotated[tuple[Handed, ...], Meta(max_length=MOST_EVENTS)] = ()
    next_code: Annotated[int, Meta(ge=1, le=65_535)] = 1
    form: Literal[1] = 1

    def __post_init__(self) -> None:
        for name in ("areas", "rules", "buttons", "encoders", "outputs", "events"):
            _once((one.id for one in getattr(self, name)), f"$.{name}")
        by_code: dict[int, Event] = {}
        for event in self.events:
            other = by_code.setdefault(event.code, event)
            if other is not event:
                raise BadDescriptionError(
                    f"{other.name} and {event.name} both have the code {event.code}; the program could not tell them apart",
                    path="$.events",
                )

    def _one(self, group: tuple[Any, ...], ident: str) -> Any:
        return next((one for one in group if one.id == ident), None)

    def area(self, ident: str) -> Area | None:
        return self._one(self.areas, ident)

    def rule(self, ident: str) -> Rule | None:
        return self._one(self.rules, ident)

    def button(self, ident: str) -> Button | None:
        return self._one(self.buttons, ident)

    def encoder(self, ident: str) -> Encoder | None:
        return self._one(self.encoders, ident)

    def output(self, ident: str) -> Output | None:
        return self._one(self.outputs, ident)

    def event(self, ident: str) -> Event | None:
        return self._one(self.events, ident)

    @property
    def free_code(self) -> int:
        """The next code that no event has had."""
        return max([self.next_code, *(event.code + 1 for event in self.events), *(one.code + 1 for one in self.handed)])


def areas_on(behaviour: Behaviour, screen: str) -> list[Area]:
    """The areas of a screen, in their order; those of every screen among them."""
    return [area for area in behaviour.areas if area.screen in ("", screen)]
