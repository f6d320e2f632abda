"""What the boathouse's devices do when they are touched, pressed and left alone; screens are told by their names."""

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Button, Event, Output, Rule, Trigger
from workshop.scenario import club_room
from workshop.scenario.screens import BOATS

HALF_PAST_SIX, SEVEN, HALF_PAST_SEVEN = 66_600, 68_400, 70_200
ROW_PX, FIRST_ROW = 47, 41
EVENTS = (
    "racks shown", "boat shown", "times shown", "water shown", "help shown", "boat chosen", "boat taken", "boat back",
    "return time chosen", "started", "storm", "fresh wind", "lamp switched",
)  # fmt: skip


def _events(*names: str) -> tuple[Event, ...]:
    return tuple(Event(f"x{code}", code, name) for code, name in enumerate(names, 1))


def _tell(name: str) -> Action:
    return Action("event", f"x{EVENTS.index(name) + 1}")


def _to(screen: str, told: str, *, remember: bool = True) -> tuple[Action, Action]:
    return Action("screen", screen, remember=remember), _tell(told)


RACKS = _to("Racks", "racks shown", remember=False)
SIGN_OUT = Behaviour(
    areas=(
        *(Area(f"a{n}", boat, "Racks", x=8, y=FIRST_ROW + (n - 1) * ROW_PX, width=180, height=ROW_PX - 1)
          for n, boat in enumerate(BOATS, 1)),
        Area("a6", "Out", "Racks", "e3", 4), Area("a7", "Back", "Racks", "e4", 4),
        Area("a8", "Lamp", "Boat", "e6", 9), Area("a9", "Sign out", "Boat", "e7", 1), Area("a10", "Racks", "Boat", "e8", 1),
        Area("a11", "Half past six", "Times", "e4"), Area("a12", "Seven", "Times", "e5"),
        Area("a13", "Half past seven", "Times", "e6"),
        Area("a14", "Anywhere on the help", "Help", x=0, y=34, width=320, height=206),
    ),
    outputs=(
        Output("o1", "rack lamp", "relay", "22", active_low=True, reset_pull="high", shows="v3"),
        Output("o2", "sounder", "sounder", "21", reset_pull="low"),
    ),
    events=_events(*EVENTS),
    rules=(
        *(Rule(f"r{n}", Trigger("release", f"a{n}"), (Action("set", "v8", n - 1), _tell("boat chosen")), "Racks")
          for n in range(1, len(BOATS) + 1)),
        Rule("r6", Trigger("release", "a6"), _to("Boat", "boat shown"), "Racks"),
        Rule("r7", Trigger("release", "a7"), (_tell("boat back"),), "Racks"),
        Rule("r8", Trigger("swipe left"), _to("Water", "water shown"), "Racks"),
        Rule("r9", Trigger("swipe up"), _to("Help", "help shown"), "Racks"),
        Rule("r10", Trigger("release", "a8"), (Action("output", "o1", 2), _tell("lamp switched")), "Boat"),
        Rule("r11", Trigger("hold", "a9", ms=1000),
             (Action("screen", "Times", change="slide", side="left", steps=8), _tell("boat taken"), _tell("times shown")),
             "Boat"),
        Rule("r12", Trigger("release", "a10"), RACKS, "Boat"),
        *(Rule(f"r{13 + n}", Trigger("release", f"a{11 + n}"),
               (Action("set", "v2", at), _tell("return time chosen"), *RACKS), "Times")
          for n, at in enumerate((HALF_PAST_SIX, SEVEN, HALF_PAST_SEVEN))),
        Rule("r16", Trigger("swipe right"), RACKS, "Water"),
        Rule("r17", Trigger("release", "a14"), RACKS, "Help"),
        Rule("r18", Trigger("quiet", ms=30_000), RACKS, "Boat"), Rule("r19", Trigger("quiet", ms=30_000), RACKS, "Times"),
        Rule("r20", Trigger("quiet", ms=60_000), RACKS, "Water"), Rule("r21", Trigger("quiet", ms=60_000), RACKS, "Help"),
        Rule("r22", Trigger("start"), (_tell("started"), _tell("racks shown"))),
        Rule("r23", Trigger("band", "v6", 2), (_tell("storm"), *_to("Water", "water shown"))),
        Rule("r24", Trigger("band", "v6", 1), (_tell("fresh wind"),)),
    ),
    next_code=len(EVENTS) + 1,
)  # fmt: skip
PAGES = ("rate shown", "distance shown", "distance set to nothing", "started")
COUNTER = Behaviour(
    buttons=(Button("b1", "page", "D4"), Button("b2", "set", "D5")),
    events=_events(*PAGES),
    rules=(
        Rule(
            "r1", Trigger("button released", "b1"), (Action("screen", "Distance", remember=False), Action("event", "x2")), "Rate"
        ),
        Rule(
            "r2", Trigger("button released", "b1"), (Action("screen", "Rate", remember=False), Action("event", "x1")), "Distance"
        ),
        Rule("r3", Trigger("button held", "b2", ms=1500), (Action("event", "x3"),), "Distance"),
        Rule("r4", Trigger("quiet", ms=20_000), (Action("screen", "Rate", remember=False), Action("event", "x1")), "Distance"),
        Rule("r5", Trigger("start"), (Action("event", "x4"), Action("event", "x1"))),
    ),
    next_code=len(PAGES) + 1,
)
BEHAVIOURS: dict[str, Behaviour] = {
    "Sign-out panel": SIGN_OUT, "Stroke-rate counter": COUNTER, club_room.NAME: club_room.BEHAVIOUR,
}  # fmt: skip
