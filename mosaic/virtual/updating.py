"""Glass that changes only when told: the update of an e-paper, its time, and sleep until a reset."""

from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from mosaic.panels.passport import Passport
from mosaic.panels.supply import RefreshMode
from mosaic.virtual.base import GlassArray, VirtualController

START_MS = Fraction(10)
"""How long these controllers are busy after a reset, hard or soft, typical."""


@dataclass(frozen=True, eq=False)
class Change:
    """An update: when it began, how, and what the glass showed until then (H, W)."""

    start_ms: Fraction
    mode: RefreshMode
    before: GlassArray


class UpdatingGlass(VirtualController):
    """A controller whose glass keeps what it shows, with or without power, until the next update ends."""

    def __init__(self, passport: Passport) -> None:
        self.changes: list[Change] = []
        super().__init__(passport)

    def power_up(self) -> None:
        super().power_up()
        self.asleep = False
        self.busy_until_ms = self.now_ms + START_MS

    def mode_of(self, *, partial: bool) -> RefreshMode:
        """The passport's mode for an update of changed pixels only, or of the whole glass."""
        modes = self.passport.refresh
        wanted = next((m for m in modes if m.name == ("partial" if partial else "full")), None)
        return wanted or (modes[0] if modes else RefreshMode("full", 1000.0, 0.0))

    def begin_update(self, mode: RefreshMode) -> None:
        """The glass begins to change; the panel is busy until it stands."""
        self.changes.append(Change(self.now_ms, mode, np.array(self.glass())))
        self.busy_until_ms = self.now_ms + Fraction(mode.time_ms)
