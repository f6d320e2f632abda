"""How the maker's program goes about its day: how often it reads, whether it stands still for that, and what sends by itself."""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.values.value import ValueId

MOST_OWN = 200


@dataclass(frozen=True)
class Program:
    """One way to run a build.

    Attributes
    ----------
    every : (id of a value, ms): how often it is read, where that is not as its source says.
    splits : readings are begun and fetched later; otherwise the program stands still for them.
    sends_itself : the link sends while the program goes on (DMA); otherwise the program waits for the last byte.
    least_ms : from one drawing to the next at least; what has changed meanwhile is drawn together.
    refresh : which of an e-paper's ways to refresh is taken, by number.
    """

    every: Annotated[tuple[tuple[ValueId, Annotated[int, Meta(ge=1, le=86_400_000)]], ...], Meta(max_length=MOST_OWN)] = ()
    splits: bool = False
    sends_itself: bool = False
    least_ms: Annotated[int, Meta(ge=0, le=86_400_000)] = 0
    refresh: Annotated[int, Meta(ge=0, le=31)] = 0
    form: Literal[1] = 1
