"""Buttons and knobs of the pin plan, outputs with their truth tables, and how raw touches become gestures."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.behaviour.behaviour import MOST_INPUTS, MOST_OUTPUTS, Behaviour, Button, Encoder, Output, TouchFeel
from mosaic.behaviour.editing import free_id, put, users_of, without
from mosaic.behaviour.truth import truth_table
from mosaic.cards.measuring import tells_touches
from mosaic.errors import BadValueError
from mosaic.numbers import whole_of
from mosaic.screens.screen import Design
from workshop.answers import go_to
from workshop.builds.pages import own_build
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.screens.behaviour_forms import button_of, encoder_of, name_of, output_of
from workshop.screens.behaviour_services import found_on_behaviour, save_behaviour, speaker_of
from workshop.screens.documents import BehaviourDocument, behaviour_of, design_of
from workshop.screens.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

FEEL = {
    "samples": (1, 3, "touches in a row that make one"), "lift_ms": (1, 500, "ms without a touch that end it"),
    "swipe_px": (4, 1000, "px that a swipe goes at least"), "swipe_ms": (50, 5000, "ms that a swipe takes at most"),
    "slack_px": (1, 500, "px that a held finger may wander"), "rest_ms": (500, 60_000, "ms after which a finger only rests"),
}  # fmt: skip
LOADS = [("lamp", "a lamp"), ("sounder", "a sounder"), ("relay", "a relay"), ("light", "the panel’s light")]
PULLS = [("open", "held by nothing"), ("high", "held high"), ("low", "held low")]


def _used_pins(behaviour: Behaviour) -> list[str]:
    found = [one.pin for one in (*behaviour.buttons, *behaviour.outputs)]
    return [*found, *(pin for one in behaviour.encoders for pin in (one.pin_a, one.pin_b))]


def inputs(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device, record, design = overview.device, behaviour_of(build), design_of(build)
    row, speaker = shelf.single(build, BehaviourDocument), speaker_of(build)
    taken = {wire.to for wire in device.wiring.wires} if getattr(device, "wiring", None) else set()
    pins = [pin.name for pin in device.board.pins if not {"power", "ground"} & set(pin.roles)]
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "inputs"), "document": row,
        "base": row.head_id if row else 0, "behaviour": record,
        "pins": [(name, name in taken) for name in pins], "here_findings": found_on_behaviour(overview), "loads": LOADS,
        "pulls": PULLS,
        "buttons": [(one, _users(record, one.id, speaker)) for one in record.buttons],
        "encoders": [(one, _users(record, one.id, speaker)) for one in record.encoders],
        "outputs": [
            (one, truth_table(one, record, design.values), _users(record, one.id, speaker), _limit(one, design))
            for one in record.outputs
        ],
        "yes_no": [v for v in design.values if v.kind == "yes/no"], "numbers": [v for v in design.values if v.is_number],
        "feel": [(name, getattr(record.touch, name), words, low, high) for name, (low, high, words) in FEEL.items()],
        "has_touch": tells_touches(device.passport), "danger": any(one.mains or one.inductive for one in record.outputs),
    }  # fmt: skip
    return render(request, "screens/inputs.html", context)


def _users(behaviour: Behaviour, ident: str, speaker: Any) -> list[str]:
    return [speaker.rule(rule) for rule in users_of(behaviour, ident)]


def _limit(output: Output, design: Design) -> str:
    value = design.value(output.reads)
    return value.plain(output.reads_from) if value is not None else ""


def _added(group: str, most: int, make: Callable[[str, str], Any]) -> Callable[[Behaviour, Any, Design], Behaviour]:
    def act(behaviour: Behaviour, values: Any, design: Design) -> Behaviour:
        if len(getattr(behaviour, group)) >= most:
            raise BadValueError(f"there are {most} of them; no more are accepted")
        return put(behaviour, group, make(free_id(behaviour, group), name_of(values, "name", "it")))

    return act


def _button(behaviour: Behaviour, values: Any, design: Design) -> Behaviour:
    return put(behaviour, "buttons", button_of(values, _own(behaviour.button(values.get("of", ""))).id))


def _encoder(behaviour: Behaviour, values: Any, design: Design) -> Behaviour:
    return put(behaviour, "encoders", encoder_of(values, _own(behaviour.encoder(values.get("of", ""))).id))


def _output(behaviour: Behaviour, values: Any, design: Design) -> Behaviour:
    return put(behaviour, "outputs", output_of(values, _own(behaviour.output(values.get("of", ""))).id, design))


def _own(found: Any) -> Any:
    if found is None:
        raise BadValueError("that is not there any more; load the page again")
    return found


def _remove(behaviour: Behaviour, values: Any, design: Design) -> Behaviour:
    return without(behaviour, values.get("of", ""), rules_too=values.get("with_rules") == "1")


def _touch(behaviour: Behaviour, values: Any, design: Design) -> Behaviour:
    filled = {name: whole_of(values.get(name, ""), words, low, high) for name, (low, high, words) in FEEL.items()}
    return replace(behaviour, touch=TouchFeel(**filled))


ACTS: dict[str, Callable[[Behaviour, Any, Design], Behaviour]] = {
    "add-button": _added("buttons", MOST_INPUTS, Button), "add-encoder": _added("encoders", MOST_INPUTS, Encoder),
    "add-output": _added("outputs", MOST_OUTPUTS, Output), "button": _button, "encoder": _encoder, "output": _output,
    "remove": _remove, "touch": _touch,
}  # fmt: skip


@require_POST
@transaction.atomic
def act(request: HttpRequest, build_id: int) -> HttpResponse:
    """One act on inputs and outputs."""
    build = own_build(request, build_id)
    wanted = request.POST.get("act", "")
    if wanted not in ACTS:
        raise BadValueError(f"{wanted[:20]!r} is nothing that can be done here")
    save_behaviour(build, ACTS[wanted](behaviour_of(build), request.POST, design_of(build)), base_of(request))
    return go_to(request, reverse("inputs", args=[build.pk]))
