"""What is done with the values of a build, which stand in the design of its screens."""

from dataclasses import replace
from typing import Any

from django.db import transaction

from mosaic.behaviour.banding import with_value
from mosaic.errors import BadValueError
from mosaic.forms import from_record, to_record
from mosaic.screens.plan import values_in
from mosaic.screens.screen import Design, new_id
from mosaic.values.value import Value
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.screens.documents import DesignDocument, ScreenDocument, design_of

SOURCE_FIELDS = ("every_ms", "blocks_ms")
MENDED = ("absent", "stale", "max_age_s", "low", "high", "unit")
"""What fixes of findings may set."""


def _checked(design: Design) -> Design:
    return to_record(from_record(design), Design, "the values")


def save_design(build: Build, design: Design, base: int) -> DesignDocument:
    """Keep the design as it was changed; raises what saving raises, and `BadDescriptionError`."""
    return documents.save_single(DesignDocument, build=build, base=base, record=_checked(design))


def base_of_design(build: Build) -> int:
    row = shelf.single(build, DesignDocument)
    return row.head_id or 0 if row else 0


def new_value(design: Design, name: str, kind: str) -> Value:
    """A value of a kind, with what is usual."""
    ident = new_id({value.id for value in design.values} | {style.id for style in design.styles}, "v")
    usual: dict[str, Any] = {
        "number": {"high": 100}, "time": {"high": 86_399}, "date": {"low": 20_454, "high": 24_106},
        "duration": {"high": 86_400}, "word": {"words": ("first", "second")}, "text": {}, "yes/no": {},
    }.get(kind, {})  # fmt: skip
    return Value(ident, name, kind, **usual)  # type: ignore[arg-type]


def mended(value: Value, fields: dict[str, Any]) -> Value:
    """A value as a finding's fix makes it."""
    source = replace(value.source, **{name: fields[name] for name in SOURCE_FIELDS if name in fields})
    if fields.get("known_point") and source.known is not None:
        # Points that lie on the reading give way to what is known of it.
        points = tuple(point for point in source.points if point[0] != source.known[0])
        source = replace(source, points=tuple(sorted((*points, source.known))) if points else source.points)
    return replace(value, source=source, **{name: fields[name] for name in MENDED if name in fields})


@transaction.atomic
def mend_value(build: Build, ident: str, fields: dict[str, Any]) -> None:
    """What a finding's fix does to a value; raises `BadValueError` where it is gone."""
    design = design_of(build)
    value = design.value(ident)
    if value is None:
        raise BadValueError("that value is not there any more; load the page again")
    save_design(build, with_value(design, mended(value, fields)), base_of_design(build))


def users_of(build: Build, ident: str) -> list[str]:
    """Screens that show or follow a value, by name."""
    design = design_of(build)
    parts = {part.id for part in design.parts if any(ident in values_in(e) for e in part.elements)}
    return [
        row.name for row in shelf.of_kind(build, ScreenDocument)
        if any(ident in values_in(e) or (e.kind == "part" and e.part in parts) for e in row.record.elements)
    ]  # fmt: skip
