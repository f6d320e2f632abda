"""The map of screens: where each stands, what leads from each to which, and along which ways the lines run.

A screen is a card with a picture and a row for each thing that leads on from it. Lines begin at rows and run in the gutters
between columns and on buses above the cards, so that no line crosses a label. Lines to one screen share their way.
"""

from collections import deque
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from mosaic.behaviour.behaviour import Action, Rule
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.words import Speaker

CARD, ROW, TITLE, PAD, LANE, GAP = 168, 18, 22, 8, 7, 26
"""Pixels of the page: a card's width, a row's height, that of a name; round a picture; between lines; between cards."""
MOST_IN_COLUMN = 6
EVERY = ""
"""The card of what counts on every screen."""


@dataclass(frozen=True)
class Leads:
    """A row of a card: what leads on, in words; `to` is a screen, or None for a way back."""

    words: str
    to: str | None
    rule: str


@dataclass(frozen=True)
class Card:
    """A screen on the map; `x`, `y` of its upper left corner. `rows` stand below its picture, each `ROW` high."""

    ref: str
    name: str
    x: int
    y: int
    height: int
    picture_height: int
    rows: tuple[Leads, ...]

    def row_y(self, number: int) -> int:
        """The middle of a row."""
        return self.y + TITLE + self.picture_height + PAD + number * ROW + ROW // 2

    @property
    def port(self) -> tuple[int, int]:
        """Where lines to it end."""
        return self.x, self.y + TITLE // 2


@dataclass(frozen=True)
class Line:
    """A way from a row to a card: corners."""

    rule: str
    to: str
    points: tuple[tuple[int, int], ...]


@dataclass(frozen=True)
class ScreenMap:
    """All of it, in pixels of the page."""

    cards: tuple[Card, ...]
    lines: tuple[Line, ...]
    width: int
    height: int


def leads_of(machine: Machine, speaker: Speaker) -> dict[str, list[Leads]]:
    """What leads on from each screen, and, under `EVERY`, from all of them."""
    found: dict[str, list[Leads]] = {ref: [] for ref in machine.screens}
    for rule in machine.behaviour.rules:
        for action in rule.actions:
            if rule.screen not in ("", *machine.screens) or action.do not in ("screen", "go back"):
                continue
            to = action.to if action.do == "screen" else None
            if to is not None and to not in machine.screens:
                continue
            found.setdefault(rule.screen, []).append(Leads(_short(rule, action, speaker), to, rule.id))
    return found


def _short(rule: Rule, action: Action, speaker: Speaker) -> str:
    words = speaker.trigger(rule.trigger).replace("a finger swipes", "swipe").replace("nothing has been touched", "untouched")
    words = words.replace("it has been shown", "shown").replace("is released", "released").replace("is pressed", "pressed")
    words = f"{words}, back" if action.do == "go back" else words
    return words if len(words) <= 26 else f"{words[:25]}…"


def reached(machine: Machine, leads: Mapping[str, Sequence[Leads]]) -> dict[str, int]:
    """Of each screen how many steps it is from the start; those that nothing leads to are missing."""
    if not machine.screens:
        return {}
    start = machine.screens[machine.start]
    steps, waiting = {start: 0}, deque([start])
    while waiting:
        here = waiting.popleft()
        for one in (*leads.get(here, ()), *leads.get(EVERY, ())):
            if one.to is not None and one.to not in steps:
                steps[one.to] = steps[here] + 1
                waiting.append(one.to)
    return steps


def _columns(machine: Machine, leads: Mapping[str, Sequence[Leads]]) -> list[list[str]]:
    """Screens by their distance from the start, at most `MOST_IN_COLUMN` one below the other; what is out of reach comes last."""
    steps = reached(machine, leads)
    last = max(steps.values(), default=0) + 1
    layers: dict[int, list[str]] = {}
    for ref in sorted(machine.screens, key=lambda ref: (steps.get(ref, last), machine.screen_numbers[ref])):
        layers.setdefault(steps.get(ref, last), []).append(ref)
    found = [[EVERY]] if leads.get(EVERY) else []
    for _, refs in sorted(layers.items()):
        found += [refs[at : at + MOST_IN_COLUMN] for at in range(0, len(refs), MOST_IN_COLUMN)]
    return found


def map_of(machine: Machine, speaker: Speaker, size: tuple[int, int]) -> ScreenMap:
    """Lay the map of a machine's screens, whose glass has a size in pixels."""
    leads = leads_of(machine, speaker)
    columns = _columns(machine, leads)
    at = {ref: number for number, refs in enumerate(columns) for ref in refs}
    picture = (CARD - 2 * PAD) * size[1] // size[0]
    wanted = [(ref, one) for ref in at for one in leads.get(ref, ()) if one.to is not None and one.to in at]
    # Which lanes of which gutter (the one left of a column has its number) and which buses are needed, by where they lead.
    lanes: dict[int, dict[str, int]] = {number: {} for number in range(len(columns) + 1)}
    buses: dict[str, int] = {}
    for ref, one in wanted:
        to = one.to or ""
        own = lanes[at[ref] + 1]
        own.setdefault(to, len(own))
        if at[to] != at[ref] + 1:
            buses.setdefault(to, len(buses))
            lanes[at[to]].setdefault(to, len(lanes[at[to]]))
    top = PAD + LANE * (len(buses) + 2)
    cards: dict[str, Card] = {}
    gutters, x = {}, 0
    bottom = top
    for number, refs in enumerate(columns):
        gutters[number] = x
        x += LANE * (len(lanes[number]) + 1) + PAD
        y = top
        for ref in refs:
            high = picture if ref != EVERY else 0
            height = TITLE + high + PAD + ROW * len(leads.get(ref, ())) + PAD
            name = speaker.screen(ref) if ref != EVERY else "On every screen"
            cards[ref] = Card(ref, name, x, y, height, high, tuple(leads.get(ref, ())))
            y += height + GAP
        bottom = max(bottom, y)
        x += CARD
    gutters[len(columns)] = x

    def lane(number: int, to: str) -> int:
        return gutters[number] + LANE * (lanes[number][to] + 1)

    lines = []
    for ref, card in cards.items():
        for number, one in enumerate(card.rows):
            if one.to is None or one.to not in cards:
                continue
            target, out = cards[one.to], lane(at[ref] + 1, one.to)
            points = [(card.x + CARD, card.row_y(number)), (out, card.row_y(number))]
            if at[one.to] != at[ref] + 1:
                bus, into = PAD + LANE * (buses[one.to] + 1), lane(at[one.to], one.to)
                points += [(out, bus), (into, bus), (into, target.port[1])]
            else:
                points.append((out, target.port[1]))
            lines.append(Line(one.rule, one.to, (*points, target.port)))
    width = x + LANE * (len(lanes[len(columns)]) + 1) + PAD
    return ScreenMap(tuple(cards.values()), tuple(lines), width, bottom)
