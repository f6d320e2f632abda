"""From a screen's document to everything that pages show of it, kept under a key of all it depends on."""

from collections.abc import Collection, Sequence
from typing import Any

import numpy as np

from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.findings import Finding
from mosaic.findings.rules import screen_findings
from mosaic.findings.subjects import ScreenSubject
from mosaic.forms import from_record
from mosaic.panels.appearance import colors_of
from mosaic.refresh.energy.light import channel_levels, white_share
from mosaic.screens import moments
from mosaic.screens.calls import Font
from mosaic.screens.kit import Kit
from mosaic.screens.plan import Plan, planned
from mosaic.screens.rendering import Rendered, drawn_in
from mosaic.screens.screen import Design, Screen, refs_in
from mosaic.screens.sheet import CALL_BYTES, sheet_of
from mosaic.source_text import identifier
from mosaic.values.states import State
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.keys import digest, panel_part
from workshop.memory import ByteCache
from workshop.screens.documents import ScreenDocument, design_of
from workshop.stations.exchange import offered_cells, offered_lettering, offered_texts, pixels_of

_planned, _rendered, _states = ByteCache("plans", 16 * 2**20), ByteCache("screens", 32 * 2**20), ByteCache("states", 2**20)


def _letterings(build: Build) -> list[Any]:
    return [row for row in shelf.all_documents(build) if row.KIND == "lettering"]


def kit_of(
    build: Build, device: Device, screen: Screen, *, design: Design | None = None, scale: float = 1.0, more: Collection[str] = ()
) -> Kit:
    """What a screen of this build is made with: all its letterings, and the cells and pictures that the screen names.

    `design` in place of the build's own, and letterings so many times as large, for another panel; `more` references.
    """
    design = design or design_of(build)
    inner = tuple(element for part in design.parts for element in part.elements)
    wanted = refs_in(screen.elements + inner, screen.ground) | set(more)
    names = {row.ref: row.name for row in shelf.all_documents(build)}
    letterings, cells, pictures = {}, {}, {}
    for row in _letterings(build):
        made = offered_lettering(build, device, row.ref, scale)
        if made is not None:
            letterings[row.ref] = Font(identifier(row.name, "lettering"), made)
    for ref in sorted(wanted - set(letterings)):
        found = offered_cells(build, device, ref)
        if found:
            cells[ref] = found
        elif ref.startswith("picture-"):
            whole = pixels_of(build, device, ref)
            if whole is not None:
                pictures[ref] = whole.pixels
    return Kit(device.passport, letterings, cells, pictures, names, design)


def key_of(build: Build, screen: Screen, device: Device) -> str:
    """Key of everything that is shown of a screen."""
    design = design_of(build)
    inner = tuple(element for part in design.parts for element in part.elements)
    refs = refs_in(screen.elements + inner, screen.ground) | {
        row.ref for row in shelf.all_documents(build) if row.KIND in ("lettering", "texts")
    }
    where = [device.viewing_distance_mm, from_record(device.opening) if device.opening else None]
    return digest(
        "screen 2",
        offered_texts(build),
        from_record(screen),
        from_record(design),
        shelf.closure(build, refs),
        *panel_part(device),
        *where,
    )


def plan_of(build: Build, screen: Screen, device: Device, key: str = "") -> Plan:
    """A screen before its values are known; raises as `mosaic.screens.plan.planned`. `key` where it is known already."""
    key = key or key_of(build, screen, device)
    return _planned.get_or_make(key, lambda: planned(screen, device, kit_of(build, device, screen)), _plan_bytes)


def states_of(build: Build, screen: Screen, device: Device, key: str = "") -> list[State]:
    """The states of a screen, the typical one first; `key` of the screen where it is known already."""
    key = key or key_of(build, screen, device)
    return _states.get_or_make(
        key, lambda: moments.states_of(plan_of(build, screen, device, key)), lambda found: 2000 * len(found)
    )


def rendered_of(build: Build, screen: Screen, device: Device, state: str = "", key: str = "") -> Rendered:
    """A screen drawn in a state by its key, in the typical one where there is no such state; raises as `plan_of`.

    `key` of the screen where it is known already.
    """
    key = key or key_of(build, screen, device)
    if state in ("", "typical"):
        return drawn(build, screen, device, moments.typical_state(plan_of(build, screen, device, key)), key)
    found = states_of(build, screen, device, key)
    return drawn(build, screen, device, next((one for one in found if one.key == state), found[0]), key)


def drawn(build: Build, screen: Screen, device: Device, state: State, key: str = "") -> Rendered:
    """A screen drawn in a state; `key` of the screen where it is known already."""
    key = key or key_of(build, screen, device)
    shown = f"{key}-{state.key if state.key != 'hand' else digest('hand', *state.readings.items())}"
    return _rendered.get_or_make(shown, lambda: drawn_in(plan_of(build, screen, device, key), state), _bytes_of)


def _bytes_of(rendered: Rendered) -> int:
    pixels = rendered.surface.values.nbytes
    return pixels * 2 + sum(one.ways for one in rendered.drawn) * (rendered.surface.values.size + 2000)


def _plan_bytes(plan: Plan) -> int:
    return plan.base.nbytes + len(plan.spots) * (plan.base.size + 4000)


def glass_png(rendered: Rendered) -> bytes:
    """The whole glass in the panel's colours."""
    device = rendered.device
    return encode_png(colors_of(rendered.pixels, device.passport, device.turn), level=1)


def states_png(looks: Sequence[Rendered]) -> bytes:
    """The glass in several states, one below the other, in the panel's colours."""
    device = looks[0].device
    shown = np.concatenate([colors_of(look.pixels, device.passport, device.turn) for look in looks])
    return encode_png(shown, level=1)


def tables_bytes(rendered: Rendered, title: str) -> int:
    """Flash of what code of a screen holds besides letters, which are counted with their lettering, in B."""
    sheet = sheet_of(rendered, title)
    return sum(len(image.data) + len(image.mask) for image in sheet.images.values())


def figures(build: Build, name: str, screen: Screen, device: Device, key: str = "") -> dict[str, Any]:
    """What budgets and stones need of a screen; one that cannot be drawn is a finding. `key` where it is known already."""
    key = key or key_of(build, screen, device)
    try:
        rendered = rendered_of(build, screen, device, key=key)
        looks = tuple(drawn(build, screen, device, state, key) for state in states_of(build, screen, device, key))
        found = screen_findings(ScreenSubject(device, rendered, looks))
    except MosaicError as error:
        finding = Finding(
            "screen.cannot-be-drawn", "must fix", "Screen", f"{name} cannot be drawn: {error}", "Nothing of it is shown."
        )
        return {
            "findings": [from_record(finding)],
            "flash_bytes": 0,
            "code_bytes": 0,
            "elements": len(screen.elements),
            "light_share": None,
        }
    return {
        "findings": [from_record(finding) for finding in found],
        "flash_bytes": tables_bytes(rendered, name),
        "code_bytes": CALL_BYTES * len(rendered.calls),
        "elements": len(screen.elements),
        "light_share": round(white_share(channel_levels(rendered.pixels, device.passport)), 5),
    }


def screen_figures(row: ScreenDocument, device: Device) -> dict[str, Any]:
    """Figures of a saved screen, kept beside it as long as nothing they depend on changes."""
    key = key_of(row.build, row.record, device)
    if row.derived_key != key:
        row.derived_key, row.derived = key, figures(row.build, row.name, row.record, device, key)
        ScreenDocument.objects.filter(pk=row.pk).update(derived_key=key, derived=row.derived)
    return row.derived
