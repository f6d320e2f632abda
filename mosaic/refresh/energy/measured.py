"""What a meter has shown of a device's current, as it is taken into the build."""

from dataclasses import dataclass
from typing import Annotated

from msgspec import Meta

from mosaic.refresh.energy.balance import State


@dataclass(frozen=True)
class Measured:
    """A device as it was measured at its cell.

    Attributes
    ----------
    idle_ma : with nothing to do. event_mc : mC that each event takes more. event_s : how long one lasts. period_s : from one to
        the next. source : the name of the file.
    """

    idle_ma: Annotated[float, Meta(ge=0)]
    event_mc: Annotated[float, Meta(ge=0)]
    event_s: Annotated[float, Meta(ge=0)]
    period_s: Annotated[float, Meta(gt=0)]
    source: Annotated[str, Meta(max_length=80)] = ""

    def states(self) -> list[State]:
        """Its two states, with currents from the cell."""
        share = min(1.0, self.event_s / self.period_s)
        more = self.event_mc / self.event_s if self.event_s else 0.0
        return [
            State("at work", share, (("at rest, measured", self.idle_ma), ("events, measured", more))),
            State("nothing to do, asleep", 1 - share, (("at rest, measured", self.idle_ma),)),
        ]
