"""What a build does: rules in sentences, touch areas on the glass, events that the program is told."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.behaviour.behaviour import MOST_ACTIONS, MOST_AREAS, SIDES, Action, Area, Behaviour, Rule, Trigger, areas_on
from mosaic.behaviour.editing import (
    changes_since,
    free_id,
    handed_over,
    leading,
    put,
    turning_pages,
    users_of,
    with_event,
    with_rule,
    without,
)  # fmt: skip
from mosaic.behaviour.mending import mended
from mosaic.behaviour.transitions import ChangeCost, cost_of
from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.panels.geometry import seen_size_mm
from mosaic.screens.screen import Design
from workshop.answers import go_to, page_before
from workshop.builds.models import Build
from workshop.builds.pages import changes_of, own_build
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.screens.behaviour_forms import area_of, ms_of, name_of, rule_of
from workshop.screens.behaviour_services import found_on_behaviour, machine_of_build, save_behaviour, screens_of, speaker_of
from workshop.screens.blinking import let_blink
from workshop.screens.documents import BehaviourDocument, ScreenDocument, behaviour_of, design_of
from workshop.screens.looks import TYPICAL, glass_url
from workshop.screens.reports import key_of, plan_of
from workshop.screens.tabs import tabs_of
from workshop.screens.value_services import base_of_design, save_design
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

WHEN_WORDS = [
    ("press", "is pressed"), ("release", "is released"), ("hold", "is held"), ("swipe left", "is swiped left"),
    ("swipe right", "is swiped right"), ("swipe up", "is swiped up"), ("swipe down", "is swiped down"),
    ("button pressed", "a button is pressed"), ("button released", "a button is released, after a short press"),
    ("button held", "a button is held"), ("turned up", "a knob is turned up"), ("turned down", "a knob is turned down"),
    ("after", "the screen has been shown for a time"), ("every", "a time has passed, again and again"),
    ("quiet", "nothing has been touched for a time"), ("band", "a value enters a band"), ("stale", "a value has an old reading"),
    ("back", "a value is read again"), ("wrong", "an output is not as it was switched"), ("start", "the device starts"),
    ("wake", "the device wakes"),
]  # fmt: skip
DO_WORDS = [
    ("screen", "show a screen"), ("go back", "go back"), ("event", "tell the program"), ("set", "set a value"),
    ("add", "add to a value"), ("toggle", "turn a value over"), ("output", "switch an output"), ("light", "set the light"),
    ("refresh", "refresh the whole panel"), ("sleep", "sleep"),
]  # fmt: skip


@dataclass(frozen=True)
class Act:
    """What an act works on."""

    build: Build
    device: Device
    behaviour: Behaviour
    design: Design
    values: Any
    screen: str


ActionRow = tuple[int, Action | None, str, ChangeCost | None]
"""An action's number, the action, what is typed of its amount, and what its change of screens costs."""
Acted = tuple[Behaviour, str]
"""The behaviour after an act, and the id of what is chosen then."""


def _area(act: Act) -> Acted:
    """A new area: drawn on the glass, or an element's."""
    if len(act.behaviour.areas) >= MOST_AREAS:
        raise BadValueError(f"there are {MOST_AREAS} areas; no more are accepted. Let one area lie on every screen instead")
    ident, element = free_id(act.behaviour, "areas"), act.values.get("element", "")
    name = act.values.get("name", "").strip()[:40]
    if element and not name:
        row = _row(act)
        found = row.record.element(element)
        if found is None:
            raise BadValueError("that element is not on this screen any more; choose another one")
        name = plan_of(act.build, row.record, act.device).kit.called(found).strip("“”")[:40]
    values = {**act.values.dict(), "name": name or f"Area {len(act.behaviour.areas) + 1}", "area_screen": act.screen}
    return put(act.behaviour, "areas", area_of(values, ident, act.device.size)), ident


def _row(act: Act) -> ScreenDocument:
    row = next((row for row in screens_of(act.build) if row.ref == act.screen), None)
    if row is None:
        raise BadValueError("choose a screen first")
    return row


def _change_area(act: Act) -> Acted:
    ident = _known(act, "areas").id
    return put(act.behaviour, "areas", area_of(act.values, ident, act.device.size)), ident


def _move_area(act: Act) -> Acted:
    """An area dragged on the glass; one that follows an element takes a box of its own."""
    area: Area = _known(act, "areas")
    values = {**act.values.dict(), "name": area.name, "area_screen": area.screen, "element": "", "margin": "0"}
    return put(act.behaviour, "areas", area_of(values, area.id, act.device.size)), area.id


def _known(act: Act, group: str) -> Any:
    found = next((one for one in getattr(act.behaviour, group) if one.id == act.values.get("of", "")), None)
    if found is None:
        raise BadValueError("that is not there any more; load the page again")
    return found


def _lead(act: Act) -> Acted:
    """The chosen area leads to a screen."""
    area, to = _known(act, "areas"), _screen_named(act, "to")
    when = "press" if act.values.get("on") == "press" else "release"
    tells = act.values.get("tells") == "1"
    name = speaker_of(act.build, act.behaviour).screen(to)
    behaviour, rule = leading(act.behaviour, area, when, to, name, tells=tells)  # type: ignore[arg-type]
    return behaviour, rule.id


def _screen_named(act: Act, field: str) -> str:
    ref = act.values.get(field, "")
    if ref not in {row.ref for row in screens_of(act.build)}:
        raise BadValueError("that screen is not there any more; choose another one")
    return ref


def _rule(act: Act) -> Acted:
    """A new rule from its trigger; its actions follow."""
    rule = replace(
        rule_of(act.values, free_id(act.behaviour, "rules"), act.design), screen=act.values.get("rule_screen", act.screen)
    )
    return put(act.behaviour, "rules", rule), rule.id


def _change_rule(act: Act) -> Acted:
    ident = _known(act, "rules").id
    return put(act.behaviour, "rules", rule_of(act.values, ident, act.design)), ident


def _remove(act: Act) -> Acted:
    ident = act.values.get("of", "")
    return without(act.behaviour, ident, rules_too=act.values.get("with_rules") == "1"), ""


def _earlier(act: Act) -> Acted:
    rules, rule = list(act.behaviour.rules), _known(act, "rules")
    at = rules.index(rule)
    rules.insert(max(0, at - 1), rules.pop(at))
    return replace(act.behaviour, rules=tuple(rules)), rule.id


def _event(act: Act) -> Acted:
    behaviour, event = with_event(act.behaviour, name_of(act.values, "name", "the event"))
    return behaviour, event.id


def _rename_event(act: Act) -> Acted:
    event = replace(_known(act, "events"), name=name_of(act.values, "name", "the event"))
    return put(act.behaviour, "events", event), event.id


def _hand_over(act: Act) -> Acted:
    return handed_over(act.behaviour, speaker_of(act.build, act.behaviour)), ""


def _stands(act: Act) -> Acted:
    """A splash: it stands for a time and leads on."""
    ms, to = ms_of(act.values.get("seconds", ""), "the time it stands"), _screen_named(act, "to")
    behaviour, rule = with_rule(act.behaviour, Trigger("after", ms=ms), [Action("screen", to, remember=False)], act.screen)
    return behaviour, rule.id


def _returns(act: Act) -> Acted:
    ms, to = ms_of(act.values.get("seconds", ""), "the time without a touch"), _screen_named(act, "to")
    behaviour, rule = with_rule(act.behaviour, Trigger("quiet", ms=ms), [Action("screen", to, remember=False)], act.screen)
    return behaviour, rule.id


def _pages(act: Act) -> Acted:
    refs = [row.ref for row in screens_of(act.build)]
    if len(refs) < 2:
        raise BadValueError("there is one screen; pages are turned between two and more")
    return turning_pages(act.behaviour, refs), ""


def _blink(act: Act) -> Acted:
    """An element that blinks: a value of its own, which the element's being shown follows."""
    let_blink(act.build, _row(act), act.values.get("element", ""), ms_of(act.values.get("seconds", "1"), "the time of a blink"))
    return act.behaviour, ""


ACTS: dict[str, Callable[[Act], Acted]] = {
    "area": _area, "change-area": _change_area, "move-area": _move_area, "lead": _lead, "rule": _rule,
    "change-rule": _change_rule,
    "remove": _remove, "earlier": _earlier, "event": _event, "rename-event": _rename_event, "hand-over": _hand_over,
    "stands": _stands, "returns": _returns, "pages": _pages, "blink": _blink,
}  # fmt: skip


@require_POST
@transaction.atomic
def act(request: HttpRequest, build_id: int) -> HttpResponse:
    """One act on the behaviour."""
    build = own_build(request, build_id)
    screen, wanted = request.POST.get("screen", ""), request.POST.get("act", "")
    if wanted not in ACTS:
        raise BadValueError(f"{wanted[:20]!r} is nothing that can be done here")
    before = behaviour_of(build)
    done = Act(build, build.to_device(), before, design_of(build), request.POST, screen)
    behaviour, chosen = ACTS[wanted](done)
    if behaviour is not before:
        save_behaviour(build, behaviour, base_of(request))
    return go_to(request, address(build, screen, chosen))


def address(build: Build, screen: str = "", chosen: str = "") -> str:
    """The page with a screen and something on it chosen."""
    return reverse("behaviour", args=[build.pk]) + f"?s={screen}" + (f"&c={chosen}#chosen" if chosen else "")


def _told_areas(behaviour: Behaviour, screen: str, build: Build, device: Device) -> list[tuple[Area, Any, list[Rule]]]:
    machine = machine_of_build(build, device)
    return [(area, machine.boxes.get(area.id), users_of(behaviour, area.id)) for area in areas_on(behaviour, screen)]


def behaviour(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device, record, design = overview.device, behaviour_of(build), design_of(build)
    rows, row = screens_of(build), shelf.single(build, BehaviourDocument)
    asked = request.GET.get("s") or design.start
    shown = next((one for one in rows if one.ref == asked), rows[0] if rows else None)
    speaker, chosen = speaker_of(build), request.GET.get("c", "")
    ref = shown.ref if shown else ""
    url, elements = "", []
    if shown is not None:
        try:
            plan = plan_of(build, shown.record, device)
            elements = [(one.id, plan.kit.called(one)) for one in shown.record.elements]
            url = glass_url(build, shown, key_of(build, shown.record, device), TYPICAL)
        except MosaicError:
            url = ""
    rules = [(rule, speaker.rule(rule)) for rule in record.rules if rule.screen in ("", ref)]
    width, height = device.size
    mm = seen_size_mm(device.passport, device.turn)
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "behaviour", shown), "document": row,
        "base": row.head_id if row else 0, "behaviour": record, "screens": rows, "shown": shown, "screen": ref,
        "areas": _told_areas(record, ref, build, device), "rules": rules, "elsewhere": len(record.rules) - len(rules),
        "chosen": chosen, "area": record.area(chosen), "rule": record.rule(chosen), "sides": SIDES,
        "users": [(one, speaker.rule(one)) for one in users_of(record, chosen)] if chosen else [],
        "whens": WHEN_WORDS, "dos": DO_WORDS, "values": design.values, "elements": elements,
        "banded": [v for v in design.values if v.bands.bands], "numbers": [v for v in design.values if v.is_number],
        "sources": [v for v in design.values if v.origin.by == "source" and v.max_age_s],
        "action_rows": _action_rows(record.rule(chosen), design, device),
        "meanings": [(e, speaker.meaning(e.id)) for e in record.events],
        "news": changes_since(record, speaker) if record.handed else [], "glass_url": url, "width": width, "height": height,
        "width_mm": mm[0], "height_mm": mm[1], "is_round": device.passport.glass.shape == "round",
        "here_findings": found_on_behaviour(overview), "seconds": _seconds(record.rule(chosen)),
    }  # fmt: skip
    return render(request, "screens/behaviour.html", context)


def _seconds(rule: Rule | None) -> str:
    return f"{rule.trigger.ms / 1000:g}" if rule is not None and rule.trigger.ms else "2"


def _action_rows(rule: Rule | None, design: Design, device: Device) -> list[ActionRow]:
    """The actions of a rule, and an empty row."""
    if rule is None:
        return [(0, None, "", None)]
    found: list[ActionRow] = []
    for number, action in enumerate(rule.actions):
        value = design.value(action.to) if action.do in ("set", "add") else None
        typed = "" if value is None else str(action.by) if value.named and action.do == "add" else value.plain(action.by)
        found.append((number, action, typed, _cost(action, device)))
    return [*found, (len(found), None, "", None)] if len(found) < MOST_ACTIONS else found


def _cost(action: Action, device: Device) -> ChangeCost | None:
    """What a change of screens costs."""
    return cost_of(device, action.change, action.side, action.steps) if action.do in ("screen", "go back") else None


@require_POST
@transaction.atomic
def fix(request: HttpRequest, build_id: int) -> HttpResponse:
    """What a finding's fix does: to the behaviour, to the values it stands on, or to both."""
    build = own_build(request, build_id)
    before, design = behaviour_of(build), design_of(build)
    behaviour, mended_design = mended(before, design, speaker_of(build), changes_of(request))
    if mended_design != design:
        save_design(build, mended_design, base_of_design(build))
    if behaviour != before:
        save_behaviour(build, behaviour, base_of(request))
    return go_to(request, page_before(request) or address(build))
