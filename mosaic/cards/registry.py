"""The ordered list of all test cards. A new one is its module and one line here."""

import numpy as np
import numpy.typing as npt

from mosaic.cards.canvas import Canvas
from mosaic.cards.card import Card
from mosaic.cards.measuring import CROSSES, PATCHES
from mosaic.cards.plain import CHECKS, FRAME, LETTER, STEPS
from mosaic.cards.ruler import COLUMNS, ROWS, ram_as_glass
from mosaic.cards.shape import RINGS_CARD, ZONES
from mosaic.cards.tones import COLORS, RAMPS
from mosaic.panels.geometry import Turn, seen_size
from mosaic.panels.passport import Passport
from mosaic.registry import Registry

CARDS: Registry[Card] = Registry(
    "test card",
    (FRAME, LETTER, COLUMNS, ROWS, CHECKS, STEPS, COLORS, RAMPS, ZONES, RINGS_CARD, PATCHES, CROSSES),
    lambda card: card.slug,
)


def cards_of(passport: Passport) -> list[Card]:
    """The cards that say something on this panel."""
    return [card for card in CARDS.values() if card.applies(passport)]


def painted(card: Card, passport: Passport, turn: Turn) -> npt.NDArray[np.uint8]:
    """Palette indices (H, W) or RGB (H, W, 3) of a card, as the reader sees it; of the whole RAM where it fills that."""
    size = seen_size(ram_as_glass(passport), turn) if card.whole_ram else None
    canvas = Canvas(passport, turn, size)
    card.paint(canvas)
    return canvas.settled()
