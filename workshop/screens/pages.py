"""What the pages of station 5 show."""

from collections.abc import Mapping
from string import Formatter
from typing import Any, cast

from django.http import Http404, HttpRequest

from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.findings.screens import LETTERED
from mosaic.lettering.measure import pitch_mm
from mosaic.links import total_s, wire_steps
from mosaic.panels.geometry import seen_size_mm
from mosaic.panels.reading import arc_minutes
from mosaic.screens.kinds import KINDS
from mosaic.screens.readings import sent_alone
from mosaic.screens.rendering import Rendered
from mosaic.screens.screen import Element, Ground, Screen
from mosaic.screens.work import board_ms, work_of
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import shelf
from workshop.errors import message_of
from workshop.screens.documents import ScreenDocument, design_of
from workshop.screens.files import ENDINGS, runtime_of
from workshop.screens.follow_rows import followable
from workshop.screens.forms import Choices, ElementForm, GroundForm, guide_words
from workshop.screens.items import screen_item, shown_items
from workshop.screens.looks import TYPICAL, Look, glass_url, looked_at, states_context
from workshop.screens.reports import figures, key_of
from workshop.screens.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import Overview, overview_of

ALIGNS = {
    "left": "left edges",
    "centre": "middles across",
    "right": "right edges",
    "top": "upper edges",
    "middle": "middles down",
    "bottom": "lower edges",
    "base": "base lines",
}


def own(request: HttpRequest, build_id: int, screen_id: int | str) -> tuple[Build, ScreenDocument]:
    """A build of the one signed in, and its screen; anything else is not there."""
    build = own_build(request, build_id)
    # A screen is drawn with letterings, pictures and the design: all documents are read at once, and it is among them.
    rows = [row for row in shelf.all_documents(build) if row.kind == ScreenDocument.KIND and row.pk == int(screen_id)]
    if not rows:
        raise Http404("no such screen")
    return build, cast(ScreenDocument, rows[0])


def choices_of(overview: Overview, rendered: Rendered | None) -> Choices:
    """What blanks offer in this build."""
    device = overview.device
    offers = {offer: overview.offered(offer) for offer in ("lettering", "cells", "pixels")}
    offers["pixels"] = [item for item in offers["pixels"] if item.ref.startswith("picture-")]
    zones = sum(1 for name in rendered.areas if name.startswith("zone")) if rendered else 0
    return Choices(rendered, offers, design_of(overview.build), device.passport, zones, rendered.kit if rendered else None)


def told_boxes(rendered: Rendered) -> list[list[Any]]:
    """Where everything stands, for the guides that a script draws: id, x, y, width, height, base, name, what it is placed by."""
    found = []
    for one in rendered.screen.elements:
        box = rendered.boxes[one.id]
        found.append(
            [one.id, box.x, box.y, box.width, box.height, box.base, rendered.kit.called(one), one.x.to, one.y.to, int(one.shown)]
        )
    return found


def told_guides(screen: Screen, device: Device) -> list[list[Any]]:
    """Guides for the same: id, whether upright, where, what it is called, pixels from where it counts."""
    width, height = device.size
    found = []
    for guide in screen.guides:
        length = width if guide.upright else height
        at = {"start": 0, "middle": length // 2, "end": length}[guide.of] + guide.plus
        found.append([guide.id, int(guide.upright), at, guide.name or guide.id, guide.plus])
    return found


def readings_of(rendered: Rendered, ids: tuple[str, ...]) -> dict[str, Any]:
    """Figures of the chosen element."""
    device, ident = rendered.device, ids[0] if ids else ""
    element = rendered.screen.element(ident)
    if element is None:
        return {}
    box, (across, down) = rendered.boxes[ident], pitch_mm(device)
    font = rendered.kit.font(element) if element.kind in LETTERED else None
    capital = font.lettering.capital * down if font else 0
    drawn = next((one for one in rendered.drawn if one.element.id == ident), None)
    order = [one.element.id for one in rendered.drawn]
    mine = rendered.traces.get(ident)
    over = [
        one.element
        for one in rendered.drawn
        if mine is not None and one.element.id != ident and (rendered.traces[one.element.id] & mine).any()
    ]
    return {
        "box": box,
        "box_mm": (box.width * across, box.height * down),
        "at_mm": (box.x * across, box.y * down),
        "capital_px": font.lettering.capital if font else 0,
        "arcmin": arc_minutes(capital, device.viewing_distance_mm) if capital else 0,
        "calls": len(drawn.calls) if drawn else 0,
        "pixels": int(mine.sum()) if mine is not None else 0,
        "sent": sent_alone(rendered, ident),
        "draw_ms": board_ms(work_of(drawn.calls, device.size), device.passport.format, device.board) if drawn else 0,
        "redraws": [rendered.kit.called(e) for e in over],
        "number": order.index(ident) + 1 if ident in order else 0,
    }


def page_context(
    build: Build, shown: ScreenDocument, chosen: tuple[str, ...] = (), screen: Screen | None = None, look: Look = TYPICAL
) -> dict[str, Any]:
    """The page's context, of the saved screen or of one that is not kept, in a state."""
    device = build.to_device()
    moving = None
    if screen is not None:
        key = key_of(build, screen, device)
        moving = {shown.ref: screen_item(shown, figures(build, shown.name, screen, device, key), key)}
    overview = overview_of(build, device=device, unsaved=moving)
    screen = screen or shown.record
    width, height = device.size
    width_mm, height_mm = seen_size_mm(device.passport, device.turn)
    context: dict[str, Any] = {
        **frame_context(overview, "screens"),
        "tabs": tabs_of(build, "screen", shown),
        "screens": shown_items(overview),
        "screen": shown,
        "document": shown,
        "plan_screen": screen,
        "can_undo": shown.can_undo,
        "can_redo": shown.can_redo,
        "here_findings": overview.findings_of(shown.ref),
        "width": width,
        "height": height,
        "width_mm": width_mm,
        "height_mm": height_mm,
        "is_round": device.passport.glass.shape == "round",
        "endings": ENDINGS,
        "grid": device.passport.grid,
    }
    rendered, problem = None, ""
    try:
        rendered = looked_at(build, screen, device, look)
    except MosaicError as error:
        problem = message_of(error)
    chosen = tuple(ident for ident in chosen if screen.element(ident))
    choices = choices_of(overview, rendered)
    element = screen.element(chosen[0]) if chosen else None
    form = ElementForm(None, element=element, screen=screen, context=choices) if element else None
    key, design = key_of(build, screen, device), design_of(build)
    names = {row.ref: row.name for row in shelf.all_documents(build)}
    return {
        **context,
        "rendered": rendered,
        "problem": problem,
        "chosen": chosen,
        "of": chosen[0] if chosen else "",
        "form": form,
        "element": element,
        "kinds": list(KINDS.values()),
        "values": design.values,
        "followable": followable(element) if element else [],
        "rows": rows_of(screen, chosen, choices, {**names, **{part.id: part.name or part.id for part in design.parts}}),
        "ground_form": GroundForm(None, ground=screen.ground, choices=choices),
        "here": shown.url + (f"?e={','.join(chosen)}" if chosen else ""),
        "parts": design.parts,
        "ground_words": ground_words(screen.ground),
        "guides": [(guide, guide_words(guide)) for guide in screen.guides],
        "boxes": told_boxes(rendered) if rendered else [],
        "guide_lines": told_guides(screen, device),
        "glass_url": glass_url(build, shown, key, look) if rendered else "",
        **states_context(build, shown, screen, device, rendered, look, key),
        **(readings_of(rendered, chosen) if rendered else {}),
        "runtime": [*runtime_of(rendered), *(["values.h"] if rendered.plan.values else [])] if rendered else [],
        "verified": rendered.proof.verified if rendered else False,
        "frame_bytes": len(rendered.packed) if rendered else 0,
        "safe": rendered.areas["safe"] if rendered else None,
        "frame_ms": float(total_s(wire_steps(rendered.parts, device.link))) * 1000 if rendered else 0,
        "aligns": list(ALIGNS.items()),
        "holders": [kind for kind in KINDS.values() if kind.holds],
        "others": [row for row in shelf.of_kind(build, ScreenDocument) if row.pk != shown.pk],
    }


def rows_of(screen: Screen, chosen: tuple[str, ...], choices: Choices, names: Mapping[str, str]) -> list[dict[str, Any]]:
    """The order, one line for each element."""
    count = len(screen.elements)
    return [
        {
            "element": element,
            "number": number,
            "words": words_of(element, names, choices),
            "chosen": element.id in chosen,
            "unfolded": chosen[:1] == (element.id,),
            "first": number == 1,
            "last": number == count,
        }
        for number, element in enumerate(screen.elements, 1)
    ]


def words_of(element: Element, names: Mapping[str, str], choices: Choices) -> str:
    """The first part of an element's sentence, its blanks filled in: "Shows “18:42” in Tide figures"."""
    said = ""
    for words, field, _, _ in Formatter().parse(KINDS[element.kind].sentence):
        if field in ("color", "second", "filled", "opaque", "rising", "labels"):
            return said + words.split(",")[0].removesuffix(" in ").rstrip()
        if "," in words:
            return said + words.split(",")[0]
        said += words + (_filled_in(element, field, names, choices) if field else "")
    return said


def _filled_in(element: Element, field: str, names: Mapping[str, str], choices: Choices) -> str:
    value = getattr(element, field)
    if field == "of":
        return choices.names.get(value, "no value yet")
    if field == "shape":
        return f"{{{choices.names.get(element.of, '')}{':' if value else ''}{value}}}"
    if field in ("low", "high") and (scale := choices.scale_of(element)) is not None:
        return scale.plain(value)
    followed = next((follow.value for follow in element.follows if follow.what == field), None)
    if followed is not None:
        return choices.names.get(followed, "a value that is gone")
    if field == "text":
        value = choices.kit.told(value)
        line = value.splitlines()[0] if value else ""
        return f"“{line[:24]}{'…' if line != value or len(line) > 24 else ''}”"
    if field in ("lettering", "source", "part"):
        return names.get(value, value) or ("its lettering" if field == "lettering" else "nothing yet")
    if field == "points":
        return f"{len(value)} points"
    if field == "members":
        return f"{len(value)} elements"
    return str(value) or "the whole"


def ground_words(ground: Ground) -> str:
    """What lies under everything."""
    if ground.by == "picture":
        return "a picture"
    both = f"{ground.color} and {ground.second}"
    return {"color": f"the colour {ground.color}", "pattern": f"a pattern of {both}", "gradient": f"a gradient of {both}"}[
        ground.by
    ]
