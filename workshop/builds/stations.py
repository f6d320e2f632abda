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


SENDING = "sending."
"""Findings on the maker's own program stand where it is brought up."""
STATIONS = (
    Station(
        1, "panel", "Panel & wiring", "build-panel",
        lambda o: [f for f in o.device_findings if not f["id"].startswith(SENDING)], lambda o: True,
    ),
    Station(
        2, "bring-up", "Bring-up", "bringup-stages",
        lambda o: [f for f in o.device_findings if f["id"].startswith(SENDING)], lambda o: bool(o.build.stages),
    ),
    Station(3, "pictures", "Pictures", "pictures", lambda o: [f for _, f in o.picture_findings], lambda o: bool(o.pictures)),
    Station(
        4, "lettering", "Lettering", "letterings", lambda o: [f for _, f in o.lettering_findings], lambda o: bool(o.letterings),
    ),
)  # fmt: skip
