"""Reading described values (passports, boards, recipes) into frozen dataclasses, with named errors.

Every place that is wrong is told, each by its path: a maker who edits a file by hand mends all
of it at once.
"""

import difflib
import math
from dataclasses import MISSING, fields, is_dataclass
from functools import cache
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, TypeVar, Union, get_args, get_origin, get_type_hints

import msgspec

from mosaic.errors import BadDescriptionError, MosaicError

T = TypeVar("T")
Problems = list[BadDescriptionError]

_AS_THEY_ARE = frozenset({str, bool, int, float, NoneType})
_PLAIN_WORDS = {str: "a text", bool: "true or false", int: "a whole number", float: "a number", dict: "a table in braces"}


def to_record(value: Any, kind: type[T], what: str) -> T:
    """A frozen dataclass of plain nested values (dicts, lists, numbers, texts).

    Raises
    ------
    BadDescriptionError
        Values are missing, unknown or out of range; the text holds the path of the first, and
        `problems` all of them.
    """
    try:
        record = msgspec.convert(value, kind, strict=True)
        # The quick way is silent on misspelt fields: every given key must have been taken.
        if _plain_fits(value, _plain(record)):
            return record
    except msgspec.ValidationError:
        pass
    problems = problems_of(value, kind)
    if not problems:
        return msgspec.convert(value, kind, strict=True)
    raise BadDescriptionError(f"{what}: {_summary(problems)}", path="", problems=tuple(problems))


def _summary(problems: Problems) -> str:
    more = f" (and {len(problems) - 1} more)" if len(problems) > 1 else ""
    return f"{problems[0]}{more}"


def from_record(record: Any) -> dict[str, Any]:
    """Plain nested values of a frozen dataclass, every field with its value, ready for JSON.

    (msgspec's own conversion leaves out fields that were not given when a dataclass was made
    by `msgspec.convert`, so two equal records could give two different results.)
    """
    return {name: _plain(getattr(record, name)) for name in _names_of(record.__class__)}


@cache
def _names_of(kind: type) -> tuple[str, ...]:
    return tuple(f.name for f in fields(kind))


def _plain(value: Any) -> Any:
    if type(value) in _AS_THEY_ARE:  # most are; pages make keys of whole records at each request
        return value
    if is_dataclass(value):
        return from_record(value)
    if isinstance(value, dict):
        return {key: _plain(item) for key, item in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(item) for item in value]
    return msgspec.to_builtins(value)


def _plain_fits(given: Any, known: Any) -> bool:
    if isinstance(given, float):
        return math.isfinite(given)
    if isinstance(given, dict) and isinstance(known, dict):
        return all(key in known and _plain_fits(value, known[key]) for key, value in given.items())
    if isinstance(given, list) and isinstance(known, list):
        return all(_plain_fits(value, taken) for value, taken in zip(given, known, strict=False))
    return True


def problems_of(value: Any, kind: Any, path: str = "$") -> Problems:
    """Everything that is wrong in plain nested values, each with its path.

    >>> from mosaic.panels.glass import Ram
    >>> for problem in problems_of({"width_px": 0, "hight_px": 64}, Ram):
    ...     print(problem)
    hight_px: no such field; near it: height_px, width_px
    width_px: 0 is given; it is a whole number from 1 to 4096
    height_px: is missing; it is a whole number from 1 to 4096
    """
    kind = _without_none(kind, value)
    if kind is None:
        return []
    if _is_record(kind):
        return _record_problems(value, kind, path)
    origin = get_origin(kind)
    if origin is Annotated and get_origin(get_args(kind)[0]) is tuple:
        plain, *metas = get_args(kind)
        found = problems_of(value, plain, path)
        most = metas[0].max_length
        if not found and most is not None and len(value) > most:
            return [BadDescriptionError(f"{len(value)} values are given; it has up to {most}", path=path)]
        return found
    if origin is tuple:
        return _tuple_problems(value, get_args(kind), path)
    if origin in (Union, UnionType):
        chosen = _tagged(value, get_args(kind))
        if chosen is not None:
            return _record_problems(value, chosen, path)
    try:
        msgspec.convert(value, kind, strict=True)
        is_number = not isinstance(value, float) or math.isfinite(value)
    except msgspec.ValidationError:
        is_number = False
    if not is_number:
        return [BadDescriptionError(f"{_shown(value)} is given; it is {accepted(kind)}", path=path)]
    return []


def _is_record(kind: Any) -> bool:
    return is_dataclass(kind) or (isinstance(kind, type) and issubclass(kind, msgspec.Struct))


def _without_none(kind: Any, value: Any) -> Any:
    """The kind without "or nothing"; None where nothing is given and may be."""
    if get_origin(kind) in (Union, UnionType) and NoneType in get_args(kind):
        if value is None:
            return None
        rest = tuple(k for k in get_args(kind) if k is not NoneType)
        return rest[0] if len(rest) == 1 else Union[rest]  # noqa: UP007
    return kind


@cache
def _hints(kind: type) -> dict[str, Any]:
    return get_type_hints(kind, include_extras=True)


def _required(kind: Any) -> set[str]:
    if is_dataclass(kind):
        return {f.name for f in fields(kind) if f.default is MISSING and f.default_factory is MISSING}
    return {f.name for f in msgspec.structs.fields(kind) if f.required}


def _names(kind: Any) -> list[str]:
    return [f.name for f in (fields(kind) if is_dataclass(kind) else msgspec.structs.fields(kind))]


def _record_problems(value: Any, kind: Any, path: str) -> Problems:
    if not isinstance(value, dict):
        return [BadDescriptionError(f"{_shown(value)} is given; it is {_PLAIN_WORDS[dict]}", path=path)]
    tag = None if is_dataclass(kind) else kind.__struct_config__.tag_field
    hints, names = _hints(kind), _names(kind)
    found = [_unknown(key, names, f"{path}.{key}") for key in value if key not in names and key != tag]
    for name in names:
        if name in value:
            found += problems_of(value[name], hints[name], f"{path}.{name}")
        elif name in _required(kind):
            found.append(BadDescriptionError(f"is missing; it is {accepted(hints[name])}", path=f"{path}.{name}"))
    return found or _together(value, kind, path)


def _together(value: dict[str, Any], kind: Any, path: str) -> Problems:
    """What the record itself says of values that are right one by one."""
    try:
        msgspec.convert(value, kind, strict=True)
    except msgspec.ValidationError as error:
        cause = error.__cause__
        if isinstance(cause, BadDescriptionError):
            told = cause.problems or (cause,)
            return [BadDescriptionError(t.reason, path=path + t.path.removeprefix("$") if t.path else path) for t in told]
        return [BadDescriptionError(str(cause if isinstance(cause, MosaicError) else error), path=path)]
    return []


def _tuple_problems(value: Any, kinds: tuple[Any, ...], path: str) -> Problems:
    if not isinstance(value, list | tuple):
        return [BadDescriptionError(f"{_shown(value)} is given; it is a list in brackets", path=path)]
    if len(kinds) == 2 and kinds[1] is Ellipsis:
        kinds = (kinds[0],) * len(value)
    elif len(value) != len(kinds):
        return [BadDescriptionError(f"{len(value)} values are given; it has {len(kinds)}", path=path)]
    return [p for i, (item, kind) in enumerate(zip(value, kinds, strict=True)) for p in problems_of(item, kind, f"{path}[{i}]")]


def _tagged(value: Any, kinds: tuple[Any, ...]) -> Any:
    """The member of a union of tagged records that the value says it is."""
    if not isinstance(value, dict):
        return None
    records = [k for k in kinds if isinstance(k, type) and issubclass(k, msgspec.Struct)]
    return next((k for k in records if value.get(k.__struct_config__.tag_field) == k.__struct_config__.tag), None)


def _unknown(key: str, names: list[str], path: str) -> BadDescriptionError:
    near = difflib.get_close_matches(str(key), names, n=2, cutoff=0.6)
    known = f"near it: {', '.join(near)}" if near else f"known there: {', '.join(names)}"
    return BadDescriptionError(f"no such field; {known}", path=path)


def _shown(value: Any) -> str:
    text = repr(value) if isinstance(value, str) else msgspec.json.encode(value).decode()
    return text if len(text) <= 40 else f"{text[:36]}…"


def accepted(kind: Any) -> str:
    """What a value of this kind may be, in words.

    >>> from mosaic.panels.glass import Pixels
    >>> accepted(Pixels), accepted(Literal["rect", "round"])
    ('a whole number from 1 to 4096', '"rect" or "round"')
    """
    origin = get_origin(kind)
    if origin is Annotated:
        plain, *metas = get_args(kind)
        if metas[0].description:
            return metas[0].description
        return accepted(plain) + "".join(_bounds(meta) for meta in metas)
    if origin is Literal:
        *most, last = [msgspec.json.encode(choice).decode() for choice in get_args(kind)]
        return f"{', '.join(most)} or {last}" if most else last
    if origin is tuple:
        return "a list in brackets"
    if origin in (Union, UnionType):
        words = [accepted(k) for k in get_args(kind) if k is not NoneType]
        tags = [k.__struct_config__.tag for k in get_args(kind) if _is_record(k) and not is_dataclass(k)]
        return f'a table with "kind" {" or ".join(tags)}' if tags else " or ".join(words)
    return _PLAIN_WORDS.get(kind, _PLAIN_WORDS[dict])


def _bounds(meta: msgspec.Meta) -> str:
    if meta.ge is not None and meta.le is not None:
        return f" from {meta.ge:g} to {meta.le:g}"
    if meta.ge is not None:
        return f" from {meta.ge:g} up"
    return f" above {meta.gt:g}" if meta.gt is not None else ""


def differences(old: Any, new: Any, path: str = "") -> list[tuple[str, Any, Any]]:
    """(path, old, new) of every value in which two plain descriptions differ; lists of other lengths differ whole.

    >>> differences({"a": 1, "b": {"c": [1, 2]}}, {"a": 1, "b": {"c": [1, 3]}})
    [('b.c[1]', 2, 3)]
    """
    if isinstance(old, dict) and isinstance(new, dict):
        keys = [*old, *(key for key in new if key not in old)]
        return [d for key in keys for d in differences(old.get(key), new.get(key), f"{path}.{key}" if path else str(key))]
    if isinstance(old, list) and isinstance(new, list) and len(old) == len(new):
        return [d for i, (a, b) in enumerate(zip(old, new, strict=True)) for d in differences(a, b, f"{path}[{i}]")]
    return [] if old == new else [(path, old, new)]
