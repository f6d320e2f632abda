"""What a change of a screen takes: the cheapest windows, the runtime's rectangles, and a whole frame, side by side."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.panels.geometry import to_host
from mosaic.panels.windows import Rect, rect_from_host
from mosaic.refresh.windows.covering import Cover, Coverer
from mosaic.screens.rendering import Rendered
from mosaic.screens.updates import changes, link_of


@dataclass(frozen=True, eq=False)
class Compared:
    """One change.

    Attributes
    ----------
    changed : (H, W) which pixels differ, as the reader sees them.
    cover : the cheapest windows. runtime : those that the runtime sends, as the board addresses them. runtime_ms, whole_ms : on
        the link.
    """

    changed: npt.NDArray[np.bool_]
    cover: Cover
    runtime: tuple[Rect, ...]
    runtime_ms: float
    whole_ms: float

    @property
    def changed_pixels(self) -> int:
        return int(self.changed.sum())

    @property
    def runtime_pixels(self) -> int:
        """Pixels that the runtime sends."""
        return sum(one.pixels for one in self.runtime)

    @property
    def cover_pixels(self) -> int:
        return sum(one.pixels for one in self.cover.windows)

    @property
    def cover_off(self) -> str:
        """How far the windows may lie above the cheapest."""
        return f"{self.cover.off:.1%}"

    @property
    def runtime_times(self) -> str:
        return _times(self.runtime_ms, self.cover.ms)

    @property
    def whole_times(self) -> str:
        return _times(self.whole_ms, self.cover.ms)


def _times(ms: float, best_ms: float) -> str:
    """
    >>> _times(3.0, 2.0), _times(2.0, 2.0), _times(0.0, 0.0)
    ('1.50 times as long', 'the same', 'the same')
    """
    return "the same" if abs(ms - best_ms) < 1e-9 or not best_ms else f"{ms / best_ms:.2f} times as long"


def differing(before: Rendered, now: Rendered) -> npt.NDArray[np.bool_]:
    """(H, W): pixels in which two states differ."""
    found: npt.NDArray[np.bool_] = before.surface.values != now.surface.values
    return found


def compared(before: Rendered, now: Rendered, coverer: Coverer) -> Compared:
    """What the step from one state to another takes in each way."""
    device, wire = now.device, coverer.wire
    changed = differing(before, now)
    host = to_host(changed.astype(np.uint8), device.passport, device.turn).astype(np.bool_)
    runtime = tuple(changes(before, now, link_of(device)))
    return Compared(changed, coverer.cover(host), runtime, sum(wire.window(one).wire_ms for one in runtime), wire.frame().wire_ms)


def wasted_share(changes_: Iterable[tuple[Rendered, Rendered]]) -> float:
    """Of the pixels that the runtime sends for some changes, the share that has not changed; 0 where nothing is sent."""
    sent = changed = 0
    for before, now in changes_:
        sent += sum(one.pixels for one in changes(before, now, link_of(now.device)))
        changed += int(differing(before, now).sum())
    return 1 - changed / sent if sent else 0.0


def as_seen(windows: tuple[Rect, ...], now: Rendered) -> list[Rect]:
    """Windows as the reader sees them."""
    return [rect_from_host(one, now.device.passport, now.device.turn) for one in windows]
