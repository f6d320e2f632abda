"""Drills: a rendering whose cause is to be named, and a record of which causes are confused with which."""

import random
from collections import Counter
from dataclasses import dataclass

from mosaic.cards.registry import cards_of, painted
from mosaic.conversion.program import Setting
from mosaic.faults.alike import PLAIN_SHARE, difference
from mosaic.faults.registry import FAULTS, faults_of

CHOICES = 5
MOST_TRIES = 40


@dataclass(frozen=True)
class Drill:
    """A task: the fault that was made, the card it is seen on, and the choices, all of which look different on it."""

    fault: str
    card: str
    choices: tuple[str, ...]


def drill_of(setting: Setting, seed: int, weak: tuple[str, ...] = ()) -> Drill:
    """A task for this panel; the same seed gives the same one. Faults in `weak` come up three times as often."""
    rng = random.Random(seed)
    names = [name for name, _ in faults_of(setting)]
    weighted = [name for name in names for _ in range(3 if name in weak else 1)]
    cards = [card for card in cards_of(setting.passport) if not card.whole_ram]
    for _ in range(MOST_TRIES):
        name, card = rng.choice(weighted), rng.choice(cards)
        pixels = painted(card, setting.passport, setting.turn)
        seen = FAULTS[name].rendering(setting, pixels)
        if difference(seen, pixels) < PLAIN_SHARE:
            continue
        others = [other for other in names if other != name]
        rng.shuffle(others)
        choices = [name]
        for other in others:
            if len(choices) < CHOICES and difference(FAULTS[other].rendering(setting, pixels), seen) >= PLAIN_SHARE:
                choices.append(other)
        rng.shuffle(choices)
        return Drill(name, card.slug, tuple(choices))
    return Drill(names[0], "letter", tuple(names[:CHOICES]))  # every panel has faults that the letter shows


@dataclass(frozen=True)
class Record:
    """How often drills were right, and which causes were taken for which: (made, named, how often), worst first."""

    tried: int
    right: int
    confused: tuple[tuple[str, str, int], ...]

    @property
    def weak(self) -> tuple[str, ...]:
        """Faults that were taken for others, without repeats."""
        return tuple(dict.fromkeys(name for made, named, _ in self.confused for name in (made, named)))


def record_of(answers: list[tuple[str, str]]) -> Record:
    """The record of (made, named) answers, oldest first."""
    wrong = Counter(answer for answer in answers if answer[0] != answer[1])
    # What has been told apart since, twice in a row, is no longer confused.
    for made, named in list(wrong):
        latest = [answer[1] for answer in answers if answer[0] == made][-2:]
        if latest == [made, made]:
            del wrong[made, named]
    confused = sorted(((made, named, count) for (made, named), count in wrong.items()), key=lambda c: (-c[2], c[0], c[1]))
    return Record(len(answers), sum(made == named for made, named in answers), tuple(confused))
