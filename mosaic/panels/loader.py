"""The catalogue of passports, and passports from JSON."""

from functools import cache
from pathlib import Path
from typing import Any

from mosaic.catalogue import load
from mosaic.forms import from_record, to_record
from mosaic.json_text import read_json
from mosaic.panels.passport import Passport
from mosaic.panels.upgrade import upgraded
from mosaic.registry import Registry

FOLDER = Path(__file__).parent / "catalogue"


@cache
def catalogue() -> Registry[Passport]:
    """All passports that come with the application."""
    return load(FOLDER, Passport, "panel")


def passport_from_plain(value: Any) -> Passport:
    """A passport of plain nested values, checked; an older form is brought up to the present one."""
    return to_record(upgraded(value) if isinstance(value, dict) else value, Passport, "passport")


def passport_to_plain(passport: Passport) -> dict[str, Any]:
    """Plain nested values of a passport, ready for JSON."""
    return from_record(passport)


def passport_from_json(text: str | bytes) -> Passport:
    """A passport of its JSON form (`docs/formats/passport.schema.json`).

    Raises
    ------
    BadDescriptionError
        The text is no JSON, or a value is wrong; the text holds its path.
    """
    return passport_from_plain(read_json(text, "passport"))
