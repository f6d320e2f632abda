"""Factors that a maker has taken into a build's figures."""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta


@dataclass(frozen=True)
class Calibration:
    """Of each budget (frame, energy, flash, ram) what its prediction is multiplied with; none for those that stay as they are."""

    factors: dict[Annotated[str, Meta(max_length=12)], Annotated[float, Meta(ge=0.05, le=20)]]
    form: Literal[1] = 1
