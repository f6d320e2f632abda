"""The stations of a build that exist, in working order. A new one is one entry here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from workshop.builds.services import Overview


@dataclass(frozen=True)
class Station:
    """A station: its number (and key), its name, the name of its address, and what of a build is its concern.

    `findings_of` picks the findings listed there; `begun` says whether there is any work in it.
    """

    number: int
    slug: str
    name: str
    url_name: str
    findings_of: Callable[[Overview], list[dict[str, Any]]]
    begun: Callable[[Overview], bool]


STATIONS = (
    Station(1, "panel", "Panel & wiring", "build-panel", lambda o: list(o.device_findings), lambda o: True),
    Station(3, "pictures", "Pictures", "pictures", lambda o: [f for _, f in o.picture_findings], lambda o: bool(o.pictures)),
)
