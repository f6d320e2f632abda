"""The stations of a build that exist, in working order. A new one is one entry here."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Station:
    """A station: its number (and key), its name, and the name of its address."""

    number: int
    slug: str
    name: str
    url_name: str


STATIONS = (Station(3, "pictures", "Pictures", "pictures"),)
