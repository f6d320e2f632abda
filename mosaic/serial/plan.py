"""Everything that a build knows of its serial panel."""

from dataclasses import dataclass, field
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.serial.memory import MemoryMap
from mosaic.serial.slots import SlotPlan
from mosaic.serial.template import PACKETS, Template


@dataclass(frozen=True)
class SerialPlan:
    """Map, frames, slots, and how the line is run.

    `polls`: values from the panel are asked for; otherwise it tells them by itself. `board_clock_hz`: from which the board
    divides its rate; 0 for one that makes any. `divider`: by which it divides besides.
    """

    memory: MemoryMap = field(default=MemoryMap())
    template: Template = field(default=PACKETS)
    slots: SlotPlan = field(default=SlotPlan())
    polls: bool = False
    parity: bool = False
    board_clock_hz: Annotated[int, Meta(ge=0, le=1_000_000_000)] = 0
    divider: Literal[8, 16] = 16
    form: Literal[1] = 1
