"""The map of screens: forty of them without a crossing label, and who is reached from where."""

import itertools
import random

from mosaic.behaviour.behaviour import Action, Behaviour, Rule, Trigger
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.screen_map import CARD, EVERY, ROW, leads_of, map_of, reached
from mosaic.behaviour.words import Speaker
from mosaic.screens.screen import Design


def machine_of(count, ways):
    """Screens 1 to `count`, and (from, to) by number; 0 is every screen, None goes back."""
    rules = tuple(
        Rule(
            f"r{n}",
            Trigger("swipe left"),
            (Action("screen", f"screen-{to}") if to else Action("go back"),),
            f"screen-{at}" if at else "",
        )
        for n, (at, to) in enumerate(ways)
    )
    return Machine(Behaviour(rules=rules), (), tuple(f"screen-{n}" for n in range(1, count + 1)), 0, {})


def laid(machine, size=(320, 240)):
    return map_of(machine, Speaker(machine.behaviour, Design(), {ref: f"Screen {ref[7:]}" for ref in machine.screens}), size)


def boxes_of_labels(one):
    for card in one.cards:
        yield card.x, card.y, card.x + CARD, card.y + 22
        for number, _ in enumerate(card.rows):
            yield card.x + 1, card.row_y(number) - ROW // 2 + 1, card.x + CARD - 1, card.row_y(number) + ROW // 2 - 1


def crosses(box, a, b):
    """Whether a level or upright piece of a line runs through the inside of a box."""
    left, top, right, bottom = box
    return min(a[0], b[0]) < right and max(a[0], b[0]) > left and min(a[1], b[1]) < bottom and max(a[1], b[1]) > top


def test_forty_screens_without_a_crossing_label():
    dice = random.Random(7)
    for _ in range(5):
        ways = [(n, n + 1) for n in range(1, 40)] + [
            (dice.randrange(0, 41), dice.choice([None, *range(1, 41)])) for _ in range(80)
        ]
        one = laid(machine_of(40, ways))
        labels = list(boxes_of_labels(one))
        for a, b in itertools.combinations(labels, 2):
            assert not (a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3])
        for line in one.lines:
            for a, b in itertools.pairwise(line.points):
                assert a[0] == b[0] or a[1] == b[1]
                assert not any(crosses(box, a, b) for box in labels), (line, a, b)
                assert 0 <= b[0] <= one.width
                assert 0 <= b[1] <= one.height


def test_each_line_begins_at_its_row_and_ends_at_its_screen():
    one = laid(machine_of(3, [(1, 2), (2, 3), (3, 1), (0, 3)]))
    cards = {card.ref: card for card in one.cards}
    assert list(cards) == [EVERY, "screen-1", "screen-2", "screen-3"]
    ends = {line.rule: (line.points[0], line.points[-1]) for line in one.lines}
    assert ends["r0"] == ((cards["screen-1"].x + CARD, cards["screen-1"].row_y(0)), cards["screen-2"].port)
    assert ends["r3"] == ((cards[EVERY].x + CARD, cards[EVERY].row_y(0)), cards["screen-3"].port)
    assert cards["screen-1"].x < cards["screen-2"].x


def test_screens_stand_by_their_distance_from_the_start():
    machine = machine_of(5, [(1, 2), (1, 3), (2, 4), (4, 1)])
    steps = reached(machine, leads_of(machine, Speaker(machine.behaviour, Design(), {})))
    assert steps == {"screen-1": 0, "screen-2": 1, "screen-3": 1, "screen-4": 2}
    xs = {card.ref: card.x for card in laid(machine).cards}
    assert xs["screen-2"] == xs["screen-3"] < xs["screen-4"] < xs["screen-5"]


def test_a_way_back_is_a_row_without_a_line():
    one = laid(machine_of(2, [(1, 2), (2, None)]))
    assert [row.words for row in one.cards[1].rows] == ["swipe left, back"]
    assert len(one.lines) == 1


def test_a_build_without_screens_has_an_empty_map():
    assert laid(machine_of(0, [])).cards == ()


def test_where_cards_and_lines_lie():
    """Pictures of 152 x 114; a title of 22, 8 round the picture, 18 a row; gutters of 7 a lane and 15 more."""
    forth = laid(machine_of(2, [(1, 2)]))
    assert [(card.x, card.y, card.height, card.row_y(0)) for card in forth.cards] == [(15, 22, 170, 175), (205, 22, 152, 175)]
    assert [line.points for line in forth.lines] == [((183, 175), (190, 175), (190, 33), (205, 33))]
    assert (forth.width, forth.height) == (388, 218)
    both = laid(machine_of(2, [(1, 2), (2, 1)]))  # the way back runs over a bus above the cards
    assert [(card.x, card.y, card.height) for card in both.cards] == [(22, 29, 170), (212, 29, 170)]
    assert both.lines[1].points == ((380, 182), (387, 182), (387, 15), (7, 15), (7, 40), (22, 40))
    assert (both.width, both.height) == (402, 225)
