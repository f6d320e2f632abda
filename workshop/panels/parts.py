"""Finding a panel or a board by its reference: a slug of the catalogue, or a maker's own."""

from dataclasses import dataclass

from django.http import Http404

from mosaic.boards import board as boards
from mosaic.boards.board import Board
from mosaic.numbers import row_id
from mosaic.panels import loader as panels
from mosaic.panels.passport import Passport
from workshop.panels.models import OwnBoard, OwnPassport


@dataclass(frozen=True)
class PanelEntry:
    """A passport under its reference; `own` is its row where it is a maker's own."""

    ref: str
    passport: Passport
    own: OwnPassport | None = None


@dataclass(frozen=True)
class BoardEntry:
    """A board under its reference; `own` is its row where it is a maker's own."""

    ref: str
    board: Board
    own: OwnBoard | None = None


def own_id(ref: str) -> int | None:
    """The row's number in a reference to a maker's own, or None for a slug.

    >>> own_id("own-12"), own_id("mono-oled-128x64")
    (12, None)
    """
    number = ref.removeprefix("own-")
    return row_id(number) if number != ref else None


def panel_of(user, ref: str) -> PanelEntry | None:
    """The panel of a reference, or None where the catalogue and this person have none such."""
    number = own_id(ref)
    if number is not None:
        row = user.ownpassports.filter(pk=number).first()
        return PanelEntry(ref, row.to_passport(), row) if row else None
    return PanelEntry(ref, panels.catalogue()[ref]) if ref in panels.catalogue() else None


def board_of(user, ref: str) -> BoardEntry | None:
    """The board of a reference, or None where the catalogue and this person have none such."""
    number = own_id(ref)
    if number is not None:
        row = user.ownboards.filter(pk=number).first()
        return BoardEntry(ref, row.to_board(), row) if row else None
    return BoardEntry(ref, boards.catalogue()[ref]) if ref in boards.catalogue() else None


def panel_or_404(user, ref: str) -> PanelEntry:
    """The panel of a reference; another person's answers as if it were not there."""
    entry = panel_of(user, ref)
    if entry is None:
        raise Http404("no such panel")
    return entry


def board_or_404(user, ref: str) -> BoardEntry:
    """The board of a reference; another person's answers as if it were not there."""
    entry = board_of(user, ref)
    if entry is None:
        raise Http404("no such board")
    return entry


def panels_of(user, refs: list[str]) -> dict[str, PanelEntry]:
    """Panels by their references, in one query; unknown ones are left out."""
    numbers = [number for ref in refs if (number := own_id(ref)) is not None]
    rows = {row.ref: PanelEntry(row.ref, row.to_passport(), row) for row in user.ownpassports.filter(pk__in=numbers)}
    shelf = panels.catalogue()
    return {ref: rows.get(ref) or PanelEntry(ref, shelf[ref]) for ref in refs if ref in rows or ref in shelf}


def board_entries(user) -> list[BoardEntry]:
    """A maker's own boards, then the catalogue's."""
    own = [BoardEntry(row.ref, row.to_board(), row) for row in user.ownboards.all()[:100]]
    return own + [BoardEntry(slug, board) for slug, board in boards.catalogue().items()]


def panel_choices(user) -> list[tuple[str, str]]:
    """(reference, name) of a maker's own panels, then the catalogue's."""
    own = [(row.ref, row.name) for row in user.ownpassports.only("name", "owner")[:200]]
    return [*own, *((slug, passport.name) for slug, passport in panels.catalogue().items())]
