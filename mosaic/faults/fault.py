"""What a fault is, how it is brought about, rendered and mended."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import numpy.typing as npt

from mosaic.conversion.program import Setting, shown
from mosaic.panels.sending import Sending

PixelArray = npt.NDArray[np.uint8]
Where = Literal["array", "panel", "set-up", "program"]
WHERE_IN_WORDS: dict[Where, str] = {
    "array": "the form of the array",
    "panel": "what is believed of the panel",
    "set-up": "the set-up sequence",
    "program": "the program that sends",
}


def _always(setting: Setting) -> bool:
    return True


def _no_amount(setting: Setting) -> int:
    return 0


@dataclass(frozen=True)
class Fault:
    """A mistake. `where` says who is wrong, and with it which side of a transmission `change` alters.

    ========  ==========================  ==========================================
    where     believed                    so in truth
    ========  ==========================  ==========================================
    array     arrays made as is believed  the program takes them as `change` says
    panel     sent as is believed         the panel is, or lies, as `change` says
    set-up    sent as `change` says       the panel is as is believed
    program   arrays made as is believed  the program does what `change` says
    ========  ==========================  ==========================================

    Attributes
    ----------
    looks : what the bench shows, in one line
    why, make_sure, mend : how it comes about, how to make sure, what mends it
    change : the setting with the mistake exchanged for its opposite, by an amount where there is one
    undo : the inverse of `change`; most are their own
    applies : whether it can happen on this panel
    amount : what `change` takes where nothing is said; `unit` names it ("columns"), "" for none
    """

    slug: str
    name: str
    where: Where
    looks: str
    why: str
    make_sure: str
    mend: str
    change: Callable[[Setting, int], Setting]
    undo: Callable[[Setting, int], Setting]
    applies: Callable[[Setting], bool] = _always
    amount: Callable[[Setting], int] = _no_amount
    unit: str = ""

    def by(self, setting: Setting, amount: int | None) -> int:
        """The amount that is meant."""
        return self.amount(setting) if amount is None else amount

    def possible(self, setting: Setting, amount: int | None = None) -> bool:
        """Whether it can have happened so to this setting."""
        return self.applies(setting) and (not self.unit or self.by(setting, amount) != 0)

    def rendering(
        self, believed: Setting, pixels: PixelArray, *, whole_ram: bool = False, amount: int | None = None
    ) -> PixelArray:
        """What the bench shows of a picture under this fault: palette indices (H, W) or RGB, as the reader sees it."""
        other = self.change(believed, self.by(believed, amount))
        sender, truth = (other, believed) if self.where == "set-up" else (believed, other)
        return shown(pixels, sender, truth, whole_ram=whole_ram)[0]

    def bench(self, right: Setting) -> tuple[Setting, Setting, int]:
        """(believed, in truth, amount) of a bench on which this fault has been made, where `right` would be right."""
        by = self.amount(right)
        if self.where in ("array", "panel"):
            believed = self.undo(right, by)
            if believed == right:  # there is no room on that side
                by = -by
                believed = self.undo(right, by)
            return believed, right, by
        other = self.change(right, by)
        return (other, right, by) if self.where == "set-up" else (right, other, by)

    def mended(self, setting: Setting, amount: int | None = None) -> Setting:
        """The setting that holds this fault, mended."""
        if self.where == "program":
            return replace(setting, sending=replace(Sending(), array=setting.sending.array))
        return self.change(setting, self.by(setting, amount))


def fault(
    slug: str,
    name: str,
    where: Where,
    looks: str,
    change: Callable[[Setting], Setting],
    *,
    why: str,
    make_sure: str,
    mend: str,
    applies: Callable[[Setting], bool] = _always,
) -> Fault:
    """A fault that is its own inverse, or one of the program's, which is mended by undoing it altogether."""

    def either_way(setting: Setting, amount: int) -> Setting:
        return change(setting)

    return Fault(slug, name, where, looks, why, make_sure, mend, either_way, either_way, applies)
