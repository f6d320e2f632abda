"""The shelf of panels: own ones first, then the catalogue, searched and cut into pages."""

import re
from dataclasses import dataclass
from functools import cached_property

from django.core.paginator import Page, Paginator

from mosaic.links.kinds import KINDS
from mosaic.panels.geometry import seen_outline_mm, seen_size
from mosaic.panels.groups import group_of, in_groups
from mosaic.panels.loader import catalogue
from mosaic.panels.mounting import MountingPlan, mounting_plan
from mosaic.panels.passport import Passport
from workshop.panels.models import OwnPassport
from workshop.panels.parts import PanelEntry
from workshop.panels.services import words_of

CARDS_A_PAGE = 24
_INCHES = re.compile(r"^(\d+(?:\.\d+)?)-?(?:\"|''|in|inch|inches)$")
TECHNOLOGIES = (("", "all"), ("oled", "OLED"), ("tft", "TFT"), ("epaper", "e-paper"), ("own", "your own"))
OWN_GROUP = "Your own"
DRAWN_WIDTH, DRAWN_HEIGHT = 150.0, 66.0


@dataclass(frozen=True)
class Card:
    """A panel on the shelf, with what its drawing needs."""

    entry: PanelEntry
    heading_of_its_own: str = ""

    @property
    def passport(self) -> Passport:
        return self.entry.passport

    @cached_property
    def plan(self) -> MountingPlan:
        return mounting_plan(self.passport, self.passport.rotation)

    @property
    def size(self) -> str:
        width, height = seen_size(self.passport, self.passport.rotation)
        return f"{width} × {height}"

    @property
    def drawn(self) -> tuple[float, float]:
        """Width and height of the drawing in CSS pixels: each as large as its place allows."""
        width, height = seen_outline_mm(self.passport, self.passport.rotation)
        scale = min(DRAWN_WIDTH / width, DRAWN_HEIGHT / height)
        return round(width * scale, 1), round(height * scale, 1)

    @property
    def swatches(self) -> tuple[str, ...]:
        palette = self.passport.palette
        return palette.measured if palette and len(palette) <= 7 else ()

    @property
    def heading(self) -> str:
        """What the card stands under."""
        if self.heading_of_its_own:
            return self.heading_of_its_own
        return OWN_GROUP if self.entry.own else group_of(self.passport)

    @property
    def links_words(self) -> str:
        return " or ".join(KINDS[option.kind].name for option in self.passport.links)


class _Both:
    """Own rows and catalogue entries as one sequence, of which a page fetches no more than it shows."""

    def __init__(self, own, shared: list[PanelEntry]) -> None:
        self.own, self.shared = own, shared
        self.own_count = own.count() if own is not None else 0

    def __len__(self) -> int:
        return self.own_count + len(self.shared)

    def __getitem__(self, part: slice) -> list[PanelEntry]:
        start, stop = part.start or 0, min(part.stop, len(self))
        rows = list(self.own[start : min(stop, self.own_count)]) if self.own is not None and start < self.own_count else []
        taken = [PanelEntry(row.ref, row.to_passport(), row) for row in rows]
        return taken + self.shared[max(0, start - self.own_count) : max(0, stop - self.own_count)]


def _words(query: str) -> list[str]:
    plain = query.lower().replace("×", "x").replace("″", '"')
    plain = re.sub(r"(\d)\s+(?:inch(?:es)?|in)\b", r"\1in", plain)
    return [_INCHES.sub(r"\1", word) for word in re.sub(r"(\d) x (\d)", r"\1x\2", plain).split()][:8]


def _matches(passport: Passport, words: list[str]) -> bool:
    text = words_of(passport)
    return all(word in text for word in words)


def shelf_page(user, query: str, technology: str, page: str | None, *, a_page: int = CARDS_A_PAGE) -> Page:
    """The page of cards under a search: every word has to occur somewhere in the passport."""
    words = _words(query)
    own = OwnPassport.objects.filter(owner=user)
    for word in words:
        own = own.filter(words__contains=word)
    shared = []
    if technology != "own":
        own = own.filter(technology=technology) if technology else own
        shared = [
            PanelEntry(passport.slug, passport)
            for passport in in_groups(list(catalogue().values()))
            if (not technology or passport.technology == technology) and _matches(passport, words)
        ]
    found = Paginator(_Both(own, shared), a_page).get_page(page)
    found.object_list = [Card(entry) for entry in found.object_list]
    return found
