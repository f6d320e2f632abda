"""An element that blinks: a value that goes on and off by itself, and that the element's being shown follows."""

from dataclasses import replace

from mosaic.behaviour.banding import with_value
from mosaic.errors import BadValueError
from mosaic.screens.screen import Follow
from mosaic.values.maps import Map
from mosaic.values.value import Origin
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.screens.documents import ScreenDocument, design_of
from workshop.screens.value_services import base_of_design, new_value, save_design


def let_blink(build: Build, row: ScreenDocument, element_id: str, period_ms: int) -> None:
    """Let an element blink; raises `BadValueError` where it is gone or follows a value already."""
    element, design = row.record.element(element_id), design_of(build)
    if element is None:
        raise BadValueError("that element is not on this screen any more; choose another one")
    if any(follow.what == "shown" for follow in element.follows):
        raise BadValueError("whether it is shown follows a value already; take that away on the screen's page first")
    if not 100 <= period_ms <= 60_000:
        raise BadValueError(f"a blink of {period_ms / 1000:g} s is none; 0.1 to 60 s are accepted")
    on, off = period_ms // 2, period_ms - period_ms // 2
    value = next(
        (
            v
            for v in design.values
            if v.origin.by == "blink" and not v.origin.of and (v.origin.on_ms, v.origin.off_ms) == (on, off)
        ),
        None,
    )
    if value is None:
        names = {one.name for one in design.values}
        name = next(
            name
            for name in (f"blink {period_ms / 1000:g} s".replace(".", ","), f"blink {len(names)} of {period_ms} ms")
            if name not in names
        )
        value = replace(new_value(design, name, "yes/no"), origin=Origin("blink", on_ms=on, off_ms=off))
        save_design(build, with_value(design, value), base_of_design(build))
    elements = tuple(
        replace(one, follows=(*one.follows, Follow("shown", value.id, Map("itself")))) if one.id == element_id else one
        for one in row.record.elements
    )
    documents.save(row, base=row.head_id or 0, record=replace(row.record, elements=elements))
