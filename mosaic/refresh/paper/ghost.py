"""What former pictures leave on an e-paper: a model, whose constants are the maker's to set.

Each pixel keeps a residue of its former reflectance: an update leaves a share of the change and a share of what was there
before, `r' = a * (old - new) + b * r`; what is seen is the reflectance that was meant, moved by it. Partial updates have large
shares, full ones small ones; cold raises what a change leaves. All constants are typical.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
import numpy.typing as npt
from msgspec import Meta

from mosaic.panels.supply import RefreshMode

Share = Annotated[float, Meta(ge=0, le=1)]
Reflectance = npt.NDArray[np.float32]
USUAL_C = 20.0
VISIBLE = 0.03
"""Neighbours that differ by 3 % or more can be told apart."""


@dataclass(frozen=True)
class GhostModel:
    """The constants: what of a change, and of what was there, a partial and a full update leave; how much more of a change for
    each degree under 20 °C."""

    partial_change: Share = 0.06
    partial_keep: Annotated[float, Meta(ge=0, le=0.99)] = 0.9
    full_change: Share = 0.005
    full_keep: Annotated[float, Meta(ge=0, le=0.99)] = 0.1
    per_degree: Annotated[float, Meta(ge=0, le=0.5)] = 0.02
    form: Literal[1] = 1

    def shares(self, flashes: bool, celsius: float = USUAL_C) -> tuple[float, float]:
        """(of the change, of what was there) that an update leaves.

        >>> GhostModel().shares(False), GhostModel().shares(True)
        ((0.06, 0.9), (0.005, 0.1))
        """
        change, keep = (self.full_change, self.full_keep) if flashes else (self.partial_change, self.partial_keep)
        return min(1.0, change * (1 + self.per_degree * max(0.0, USUAL_C - celsius))), keep


def after(
    residue: Reflectance, old: Reflectance, new: Reflectance, modes: Iterable[RefreshMode], model: GhostModel, celsius: float
) -> Reflectance:
    """The residue after an update that was refreshed by modes in turn; all arrays of one shape, 0 is dark and 1 is light.

    Where several modes follow one another the first brings the change, and the others find the new picture there.
    """
    for mode in modes:
        change, keep = model.shares(mode.flashes, celsius)
        residue = np.float32(change) * (old - new) + np.float32(keep) * residue
        old = new
    return residue


def residues(
    pictures: Iterable[tuple[Reflectance, Sequence[int]]],
    modes: Sequence[RefreshMode],
    model: GhostModel,
    celsius: float = USUAL_C,
) -> Iterator[tuple[Reflectance, Reflectance]]:
    """For each update (what was meant, residue after it); the first finds a clean glass as light as can be."""
    old: Reflectance | None = None
    residue: Reflectance | None = None
    for new, taken in pictures:
        if old is None or residue is None:
            old, residue = np.ones_like(new), np.zeros_like(new)
        residue = after(residue, old, new, [modes[mode] for mode in taken], model, celsius)
        old = new
        yield new, residue


def seen(meant: Reflectance, residue: Reflectance, times: float = 1.0) -> Reflectance:
    """What is seen, with the residue so many times as strong, between dark and light.

    >>> seen(np.float32([0.5]), np.float32([0.1]), 2).tolist()
    [0.699999988079071]
    """
    found: Reflectance = np.clip(meant + np.float32(times) * residue, 0, 1)
    return found


def bound(model: GhostModel, celsius: float = USUAL_C) -> float:
    """How large a residue can become at most, however many partial updates follow: change / (1 - keep)."""
    return max(change / (1 - keep) for change, keep in (model.shares(False, celsius), model.shares(True, celsius)))
