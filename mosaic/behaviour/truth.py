"""The truth table of outputs: in each situation the level of the pin, and whether what hangs on it is on."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from mosaic.behaviour.behaviour import Behaviour, Output
from mosaic.values.value import Value

Level = Literal["high", "low", "open"]


@dataclass(frozen=True)
class TruthRow:
    """A situation: the pin's level, and whether the load is on, None where nothing says."""

    situation: str
    level: Level
    is_on: bool | None


def level_of(output: Output, on: bool) -> Level:
    """The level by which an output is on or off."""
    return "high" if on != output.active_low else "low"


def during_reset(output: Output) -> TruthRow:
    """From power-up until the program sets the pin."""
    level = output.reset_pull
    return TruthRow("during reset", level, None if level == "open" else (level == "low") == output.active_low)


def truth_table(output: Output, behaviour: Behaviour, values: Sequence[Value]) -> list[TruthRow]:
    """All situations of an output: reset, start, on, off, and each band that switches it."""

    def row(situation: str, on: bool) -> TruthRow:
        return TruthRow(situation, level_of(output, on), on)

    found = [during_reset(output), row("from the start of the program", output.at_start), row("on", True), row("off", False)]
    for value in values:
        for number, band in enumerate(value.bands.bands):
            for ident, on in band.outputs:
                if ident == output.id:
                    found.append(row(f"{value.name} enters {band.word or f'band {number + 1}'}", on))
    return found
