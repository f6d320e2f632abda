"""What a test card is."""

from collections.abc import Callable
from dataclasses import dataclass

from mosaic.cards.canvas import Canvas
from mosaic.panels.passport import Passport


def _always(passport: Passport) -> bool:
    return True


@dataclass(frozen=True)
class Card:
    """A picture painted for one very panel.

    Attributes
    ----------
    shows : what it is for, in one line
    look_for : what must be seen on the bench, one sentence each
    paint : paints onto a canvas
    applies : whether the card says anything on this panel
    whole_ram : the card fills the controller's whole RAM, not only the glass before it
    """

    slug: str
    name: str
    shows: str
    look_for: tuple[str, ...]
    paint: Callable[[Canvas], None]
    applies: Callable[[Passport], bool] = _always
    whole_ram: bool = False
