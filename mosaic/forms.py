"""Reading described values (passports, boards, recipes) into frozen dataclasses, with named errors."""

from dataclasses import fields, is_dataclass
from typing import Any, TypeVar

import msgspec

from mosaic.errors import BadDescriptionError, MosaicError

T = TypeVar("T")


def to_record(value: Any, kind: type[T], what: str) -> T:
    """A frozen dataclass of plain nested values (dicts, lists, numbers, texts).

    Raises
    ------
    BadDescriptionError
        A value is missing, unknown or out of range; the text holds its path.
    """
    try:
        record = msgspec.convert(value, kind, strict=True)
    except msgspec.ValidationError as error:
        cause = error.__cause__
        text = str(cause) if isinstance(cause, MosaicError) else str(error)
        raise BadDescriptionError(f"{what}: {text}") from error
    _refuse_unknown(value, _plain(record), what, "$")
    return record


def from_record(record: Any) -> dict[str, Any]:
    """Plain nested values of a frozen dataclass, every field with its value, ready for JSON.

    (msgspec's own conversion leaves out fields that were not given when a dataclass was made
    by `msgspec.convert`, so two equal records could give two different results.)
    """
    return {f.name: _plain(getattr(record, f.name)) for f in fields(record)}


def _plain(value: Any) -> Any:
    if is_dataclass(value):
        return from_record(value)
    if isinstance(value, dict):
        return {key: _plain(item) for key, item in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(item) for item in value]
    return msgspec.to_builtins(value)


def _refuse_unknown(given: Any, known: Any, what: str, path: str) -> None:
    """A misspelt field must not pass silently: every given key must have been taken."""
    if isinstance(given, dict) and isinstance(known, dict):
        for key, value in given.items():
            if key not in known:
                raise BadDescriptionError(f"{what}: no field {key!r} at {path}; known there: {', '.join(map(str, known))}")
            _refuse_unknown(value, known[key], what, f"{path}.{key}")
    elif isinstance(given, list) and isinstance(known, list | tuple):
        for number, (value, taken) in enumerate(zip(given, known, strict=False)):
            _refuse_unknown(value, taken, what, f"{path}[{number}]")
