"""Reading a folder of TOML files into a registry, one entry a file.

An entry may name another as its `base` and give only what differs: two panels that differ in
size only are variants of one passport.
"""

import tomllib
from pathlib import Path
from typing import Any, TypeVar

from mosaic.errors import BadDescriptionError
from mosaic.forms import to_record
from mosaic.registry import Registry

T = TypeVar("T")


def load(folder: Path, record: type[T], kind: str) -> Registry[T]:
    """All entries of a folder, in the order of their `order` number, then of their slugs.

    Raises
    ------
    BadDescriptionError
        A file is malformed; the text names the file and the path of the value.
    """
    raw = {path.stem: tomllib.loads(path.read_text("utf-8")) for path in folder.glob("*.toml")}
    order = {slug: entry.pop("order", 1000) for slug, entry in raw.items()}
    slugs = sorted(raw, key=lambda slug: (order[slug], slug))
    records = [to_record({**_resolved(slug, raw, ()), "slug": slug}, record, f"{slug}.toml") for slug in slugs]
    return Registry(kind, records, lambda entry: entry.slug)  # type: ignore[attr-defined]


def _resolved(slug: str, raw: dict[str, dict[str, Any]], seen: tuple[str, ...]) -> dict[str, Any]:
    if slug not in raw:
        raise BadDescriptionError(f"{seen[-1]}.toml: base {slug!r} is not in the catalogue")
    if slug in seen:
        raise BadDescriptionError(f"{slug}.toml: its bases go in a circle: {' -> '.join((*seen, slug))}")
    entry = dict(raw[slug])
    base = entry.pop("base", None)
    return merged(_resolved(base, raw, (*seen, slug)), entry) if base else entry


def merged(base: dict[str, Any], change: dict[str, Any]) -> dict[str, Any]:
    """`base` with the values of `change`; tables are merged, everything else is replaced."""
    out = dict(base)
    for key, value in change.items():
        both_tables = isinstance(value, dict) and isinstance(out.get(key), dict)
        out[key] = merged(out[key], value) if both_tables else value
    return out
