"""Test cards on the wire: packed, parted and shown by the virtual panel."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.cards.card import Card
from mosaic.cards.registry import painted
from mosaic.cards.ruler import ram_as_glass
from mosaic.conversion.stages import pack
from mosaic.panels.geometry import Turn
from mosaic.panels.passport import Passport
from mosaic.panels.wire import Part, frame_parts, setup_part
from mosaic.virtual.panel import shown_pixels, virtual_panel


@dataclass(frozen=True, eq=False)
class SentCard:
    """A card as it is painted (the whole RAM for rulers), its bytes, and everything from reset on."""

    card: Card
    passport: Passport
    turn: Turn
    pixels: npt.NDArray[np.uint8]
    packed: bytes
    parts: tuple[Part, ...]

    def shown_on(self, panel: Passport | None = None, turn: Turn | None = None) -> npt.NDArray[np.uint8]:
        """What a panel fresh from the box shows of it: this one, or one that is another than was thought."""
        virtual = virtual_panel(panel or self.passport)
        for part in self.parts:
            virtual.play(part.transactions)
        return shown_pixels(virtual, self.turn if turn is None else turn)


def send_card(card: Card, passport: Passport, turn: Turn) -> SentCard:
    """Paint a card for a panel and pack it."""
    pixels = painted(card, passport, turn)
    target = ram_as_glass(passport) if card.whole_ram else passport
    packed = pack(pixels, target, turn)
    parts = (setup_part(passport, turn), *frame_parts(target, turn, packed))
    return SentCard(card, passport, turn, pixels, packed, parts)
