"""Which renderings look alike on a picture, and which test card tells their faults apart."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.cards.card import Card
from mosaic.cards.registry import cards_of, painted
from mosaic.conversion.program import Setting
from mosaic.faults.fault import Fault
from mosaic.faults.registry import FAULTS

ALIKE_SHARE = 0.004
"""Pictures that differ in no more than this share of their pixels look alike."""
PLAIN_SHARE = 0.02
"""From this share of different pixels on, two pictures are told apart at a glance."""


def difference(one: npt.NDArray[np.uint8], other: npt.NDArray[np.uint8]) -> float:
    """Share of pixels in which two pictures differ; 1 where they have not the same shape."""
    if one.shape != other.shape:
        return 1.0
    wrong = one != other
    return float((wrong.any(axis=2) if wrong.ndim == 3 else wrong).mean())


@dataclass(frozen=True)
class Alike:
    """Faults whose renderings look alike, and the card that parts them; None where no card does."""

    names: tuple[str, ...]
    card: Card | None


def groups(renderings: dict[str, npt.NDArray[np.uint8]], meant: npt.NDArray[np.uint8]) -> tuple[list[list[str]], list[str]]:
    """Names that look alike, in groups of two and more, and names that look as the picture should."""
    found: list[list[str]] = []
    unseen = [name for name, picture in renderings.items() if difference(picture, meant) <= ALIKE_SHARE]
    for name, picture in renderings.items():
        if name in unseen:
            continue
        home = next((group for group in found if difference(renderings[group[0]], picture) <= ALIKE_SHARE), None)
        if home is None:
            found.append([name])
        else:
            home.append(name)
    return [group for group in found if len(group) > 1], unseen


def card_that_tells_apart(names: list[str], believed: Setting) -> Card | None:
    """The test card on which all of these faults look different from one another, or the one that comes nearest."""
    best, most = None, 0
    for card in cards_of(believed.passport):
        if card.whole_ram:
            continue
        pixels = painted(card, believed.passport, believed.turn)
        shown = [FAULTS[name].rendering(believed, pixels) for name in names]
        pairs = [(i, j) for i in range(len(shown)) for j in range(i)]
        count = sum(difference(shown[i], shown[j]) >= PLAIN_SHARE for i, j in pairs)
        if count == len(pairs):
            return card
        if count > most:
            best, most = card, count
    return best


def showing_card(fault: Fault, believed: Setting) -> Card | None:
    """The first test card on which a fault is seen at a glance."""
    for card in cards_of(believed.passport):
        pixels = painted(card, believed.passport, believed.turn)
        if not card.whole_ram and difference(fault.rendering(believed, pixels), pixels) >= PLAIN_SHARE:
            return card
    return None


def alike(names: list[str], pixels: npt.NDArray[np.uint8], believed: Setting) -> tuple[list[Alike], list[str]]:
    """Groups of faults that look alike on this picture, each with the card that parts them, and faults not seen on it."""
    renderings = {name: FAULTS[name].rendering(believed, pixels) for name in names}
    found, unseen = groups(renderings, pixels)
    return [Alike(tuple(group), card_that_tells_apart(group, believed)) for group in found], unseen
