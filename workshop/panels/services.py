"""What a maker does with passports and boards: make one his own, change it, read it from a file, remove it."""

from typing import Any

from django.db import transaction

from mosaic.boards.board import board_from_plain, board_to_plain
from mosaic.conversion.driving import drive
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.json_text import read_json
from mosaic.panels.groups import size_words
from mosaic.panels.loader import passport_from_plain, passport_to_plain
from mosaic.panels.passport import Passport
from workshop.errors import ConflictError
from workshop.panels.models import OwnBoard, OwnPassport
from workshop.panels.parts import BoardEntry, PanelEntry

MOST_OWN = 2000
LARGEST_FILE = 512 * 1024
TECHNOLOGY_WORDS = {"oled": "OLED", "tft": "TFT LCD", "epaper": "e-paper e-ink"}


def words_of(passport: Passport) -> str:
    """Everything of a passport that a search looks through."""
    owned = passport.owned
    return " ".join(
        [
            passport.name, passport.colors_in_words, TECHNOLOGY_WORDS[passport.technology], passport.technology, passport.notes,
            owned.marking, owned.seller, owned.notes, owned.currency, f"{passport.glass.width_px}x{passport.glass.height_px}",
            f"{passport.glass.height_px}x{passport.glass.width_px}", " ".join(option.kind for option in passport.links),
            " ".join(pin.label for pin in passport.module.pins), size_words(passport),
        ]
    ).lower()  # fmt: skip


def _check_room(count: int) -> None:
    if count >= MOST_OWN:
        raise BadValueError(f"you have {count:,} of your own already; remove some to make room")


@transaction.atomic
def keep_passport(*, owner, passport: Passport, based_on: str = "") -> OwnPassport:
    """A passport of one's own."""
    _check_room(owner.ownpassports.count())
    drive(passport)
    row = OwnPassport(owner=owner, based_on=based_on)
    _lay(row, passport)
    row.save()
    # Its slug is its reference, so that an exported file says whose it is.
    passport_plain = {**row.passport, "slug": row.ref}
    row.passport = passport_plain
    row.save(update_fields=["passport"])
    return row


def _lay(row: OwnPassport, passport: Passport) -> None:
    row.name = passport.name[:120]
    row.technology = passport.technology
    row.words = words_of(passport)
    row.passport = passport_to_plain(passport)


def make_mine(*, owner, entry: PanelEntry) -> OwnPassport:
    """A copy of a panel to edit."""
    return keep_passport(owner=owner, passport=entry.passport, based_on=entry.ref)


@transaction.atomic
def change_passport(*, row: OwnPassport, plain: dict[str, Any], revision: int) -> OwnPassport:
    """Keep a changed description.

    Raises
    ------
    BadDescriptionError
        The description is wrong; nothing is kept.
    ConflictError
        Another tab has kept a change since this page was laid out.
    """
    passport = passport_from_plain({**plain, "slug": row.ref})
    drive(passport)  # a passport that cannot be carried out must not lock its maker out of its page
    current = OwnPassport.objects.select_for_update().get(pk=row.pk)
    if current.revision != revision:
        raise ConflictError(
            "this passport was changed in another tab since; nothing was overwritten. Your entries are still here: "
            "compare them with the other tab, then keep them",
            current.revision,
        )
    _lay(current, passport)
    current.revision += 1
    current.save()
    return current


def plain_from_file(data: bytes, what: str) -> dict[str, Any]:
    """The table in a JSON file.

    Raises
    ------
    BadDescriptionError
        It is too large, no JSON, or no table; the text says where it breaks.
    """
    if len(data) > LARGEST_FILE:
        raise BadDescriptionError(f"{what}: {len(data):,} bytes are too many; a description has up to {LARGEST_FILE:,}")
    value = read_json(data, what)
    if not isinstance(value, dict):
        raise BadDescriptionError(f"{what}: the file holds no table in braces; a description begins with {{")
    return value


def read_passport(*, owner, data: bytes) -> OwnPassport:
    """A passport from a file, as one's own.

    Raises
    ------
    BadDescriptionError
        The file is broken; `problems` tells each wrong place.
    """
    passport = passport_from_plain(plain_from_file(data, "passport"))
    return keep_passport(owner=owner, passport=passport, based_on=passport.slug[:80])


@transaction.atomic
def make_board_mine(*, owner, entry: BoardEntry) -> OwnBoard:
    """A copy of a board, to rename its pins as printed on one's own."""
    _check_room(owner.ownboards.count())
    row = OwnBoard.objects.create(owner=owner, name=entry.board.name[:120], based_on=entry.ref, board=board_to_plain(entry.board))
    row.board = {**row.board, "slug": row.ref}
    row.save(update_fields=["board"])
    return row


@transaction.atomic
def change_board(*, row: OwnBoard, plain: dict[str, Any], revision: int) -> OwnBoard:
    """Keep a changed board; raises as `change_passport` does."""
    board = board_from_plain({**plain, "slug": row.ref})
    current = OwnBoard.objects.select_for_update().get(pk=row.pk)
    if current.revision != revision:
        raise ConflictError("this board was changed in another tab since; nothing was overwritten", current.revision)
    current.name, current.board = board.name[:120], board_to_plain(board)
    current.revision += 1
    current.save()
    return current
