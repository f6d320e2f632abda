"""Playing the device: touched, pressed and turned on the page, with what its program would be told; runs that are kept."""

from typing import Any

import msgspec
from django.db import transaction
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.behaviour.living import Input, Life, born, lived
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.recording import c_test, file_name, played_again, recorded
from mosaic.behaviour.state import Effect
from mosaic.behaviour.transitions import cost_of, window_cost
from mosaic.behaviour.words import effect_words
from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.panels.geometry import seen_size_mm
from mosaic.panels.windows import rect_from_host
from mosaic.screens.rendering import Rendered, drawn_in
from mosaic.screens.updates import changes, link_of
from workshop.answers import attachment, go_to, inline_png
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.keys import digest
from workshop.memory import ByteCache
from workshop.screens.behaviour_services import (
    behaviour_files,
    behaviour_key,
    machine_of_build,
    plans_of,
    speaker_of,
)  # fmt: skip
from workshop.screens.documents import RecordingDocument
from workshop.screens.files import runtime_file
from workshop.screens.reports import glass_png
from workshop.screens.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

MOST_INPUTS, LONGEST_MS, MOST_TOLD = 20_000, 7 * 86_400_000, 400
SOURCES = (
    "behaviour.h", "behaviour.c", "behaviour.py", "device.h", "device.c",
    "behave.h", "behave.c", "behave.py", "change.h", "change.c", "change.py",
)  # fmt: skip
_lives = ByteCache("lives", 16 * 2**20)
"""Lives as far as they were played, by what they are lives of and what was done: the next piece goes on from there."""


def device(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    shown = overview.device
    machine = machine_of_build(build, shown)
    width, height = shown.size
    mm = seen_size_mm(shown.passport, shown.turn)
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "device"), "machine": machine,
        "behaviour": machine.behaviour,
        "width": width, "height": height, "width_mm": mm[0], "height_mm": mm[1],
        "is_round": shown.passport.glass.shape == "round",
        "hands": [(n, v) for n, v in enumerate(machine.values) if v.origin.by == "source" and v.is_number],
        "has_clock": any(v.stand_in.by == "clock" and v.kind == "time" for v in machine.values),
        "runs": [(row, _checked(row, machine)) for row in shelf.of_kind(build, RecordingDocument)],
        "source_names": SOURCES,
    }  # fmt: skip
    return render(request, "screens/device.html", context)


def _checked(row: RecordingDocument, machine: Machine) -> Any:
    """A run played again; None where it cannot be."""
    try:
        return played_again(row.record, machine)
    except (MosaicError, IndexError):
        return None


class _Given(msgspec.Struct, forbid_unknown_fields=True):
    """What the page sends: what was done so far, and up to when time has passed; of the answer before how much of it was done
    then, and when that was."""  # fmt: skip

    inputs: list[tuple[int, str, int, int, int]]
    until: int
    seen: int = 0
    count: int = 0
    now: int = 0


def _given(request: HttpRequest) -> _Given:
    try:
        given = msgspec.json.decode(request.POST.get("life", ""), type=_Given)
    except msgspec.DecodeError:
        raise BadValueError("the page sent a run that cannot be read; load it again") from None
    if len(given.inputs) > MOST_INPUTS:
        raise BadValueError(
            f"{len(given.inputs):,} touches and turns are more than the {MOST_INPUTS:,} that are played; begin anew"
        )
    if not 0 <= given.until <= LONGEST_MS:
        raise BadValueError("seven days are played at most; start again")
    return given


LIMITS = {"touch": 1, "lift": 1, "pin": 16, "lines": 16, "hand": 60, "clock": 1, "wake": 1}


def _inputs(given: _Given, machine: Machine) -> list[Input]:
    counts = {
        "pin": len(machine.behaviour.buttons), "lines": len(machine.behaviour.encoders), "hand": len(machine.values),
    }  # fmt: skip
    found = []
    for at, what, of, a, b in given.inputs:
        if what not in LIMITS or not 0 <= of < counts.get(what, 1) or max(abs(a), abs(b)) > 1_000_000_000 or at < 0:
            raise BadValueError("the page sent something that this device does not have; load it again")
        found.append(Input(at, what, of, a, b))  # type: ignore[arg-type]
    return found


def life_of(build: Build, shown: Device, given: _Given) -> tuple[Life, Life | None]:
    """The life that was played, and where it stood before if that is at hand: then it is worked out from there."""
    machine, base = machine_of_build(build, shown), behaviour_key(build, shown)
    inputs = _inputs(given, machine)
    kept = _lives.get((base, digest(given.inputs[: given.count]), given.now))
    life = kept if kept is not None and given.now <= given.until else None
    done = given.count if life is not None else 0
    before = life
    life = lived(life or born(machine), inputs[done:], given.until)
    _lives.put((base, digest(given.inputs), life.state.now), life, 4000 + 200 * len(life.happened))
    return life, before


def _rendered(build: Build, shown: Device, life: Life) -> Rendered | None:
    ref = life.machine.screens[life.state.screen] if life.machine.screens else ""
    plan = plans_of(build, shown).get(ref)
    return drawn_in(plan, life.shown()) if plan is not None else None


def _typed(life: Life) -> list[dict[str, str]]:
    found = []
    for value, known in zip(life.machine.values, life.state.values, strict=True):
        words = value.absent if known.is_ == "absent" else value.plain(known.raw) if value.is_number else "text"
        found.append({"name": value.name, "now": f"{words} {value.unit}".strip(), "is": known.is_, "raw": str(known.raw)})
    return found


@require_POST
def run(request: HttpRequest, build_id: int) -> HttpResponse:
    """The device at a moment: its glass, what it has told since the page last asked, its values and outputs."""
    build = own_build(request, build_id)
    shown, given = build.to_device(), _given(request)
    life, before = life_of(build, shown, given)
    machine, speaker = life.machine, speaker_of(build)
    told = [
        [now, effect.what, effect_words(effect, machine, speaker), in_code(effect)]
        for now, effect in life.told[given.seen :][-MOST_TOLD:]
    ]  # fmt: skip
    rendered = _rendered(build, shown, life)
    is_same = before is not None and before.state.screen == life.state.screen
    last = _rendered(build, shown, before) if before is not None and is_same else None
    outputs = [
        {"name": described.name, "load": described.load, "on": one.on, "level": int(one.on != described.active_low)}
        for described, one in zip(machine.behaviour.outputs, life.state.outputs, strict=True)
    ]  # fmt: skip
    return JsonResponse({
        "now": life.state.now, "told": told, "seen": len(life.told), "outputs": outputs, "values": _typed(life),
        "asleep": life.state.asleep, "light": life.state.light, "lost": life.state.lost, "cut": life.is_cut,
        "screen": speaker.screen(machine.screens[life.state.screen]) if machine.screens else "",
        "png": inline_png(glass_png(rendered)) if rendered is not None else "",
        "areas": _areas(life), "sent": _sent(rendered, last, life, given) if rendered else None,
    })  # fmt: skip


def in_code(effect: Effect) -> str:
    """An effect as the program finds it in C."""
    numbers = {
        "screen": f"{effect.of}", "event": f"{effect.of}", "output": f"{effect.of}, {effect.level}",
        "light": f"0, {effect.level}",
    }.get(effect.what, "0")  # fmt: skip
    moved = f", {effect.change} {effect.side} {effect.steps}" if effect.change != "cut" else ""
    return f"BEHAVE_{effect.what.upper()}, {numbers}{moved}"


def _sent(now: Rendered, before: Rendered | None, life: Life, given: _Given) -> dict[str, Any]:
    """The windows that the change since the page last asked takes, where its reader sees them, with bytes and ms on the link."""
    device = now.device
    if before is not None:
        windows = changes(before, now, link_of(device))
        costs = [window_cost(device, window) for window in windows]
        seen = [rect_from_host(window, device.passport, device.turn) for window in windows]
        size, ms = sum(one[0] for one in costs), sum(one[1] for one in costs)
        return {"windows": [[one.x, one.y, one.width, one.height] for one in seen], "bytes": size, "ms": ms, "words": ""}
    moved = next((effect for _, effect in reversed(life.told[given.seen :]) if effect.what == "screen"), None)
    cost = (
        cost_of(device, moved.change, moved.side, max(2, moved.steps)) if moved is not None else cost_of(device, "cut", "left", 2)
    )
    words = f", {moved.change} in {moved.steps} steps" if moved is not None and moved.change != "cut" else ", a whole frame"
    return {"windows": [[0, 0, *device.size]], "bytes": cost.sent_bytes, "ms": cost.link_ms, "words": words}


def _areas(life: Life) -> list[list[Any]]:
    """Areas of the screen that is shown: box, name, what is done to them."""
    machine = life.machine
    found = []
    for area in machine.behaviour.areas:
        box = machine.boxes.get(area.id)
        if box is not None and machine.is_on(area, life.state.screen):
            found.append([box.x, box.y, box.width, box.height, area.name])
    return found


@require_POST
@transaction.atomic
def keep(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep a run."""
    build = own_build(request, build_id)
    name = request.POST.get("name", "").strip()[:80] or f"Run {len(shelf.of_kind(build, RecordingDocument)) + 1}"
    life, _ = life_of(build, build.to_device(), _given(request))
    record = recorded(life.machine, life.happened, life.told)
    documents.add(RecordingDocument, build=build, name=name, record=record)
    return go_to(request, reverse("device", args=[build.pk]))


def recording_page(build: Build, row: RecordingDocument) -> dict[str, Any]:
    shown = build.to_device()
    machine, speaker = machine_of_build(build, shown), speaker_of(build)
    again = _checked(row, machine)

    def words(told: Any) -> list[str]:
        names = {event.code: event.name for event in machine.behaviour.events}
        found = []
        for one in told:
            what = {
                "screen": lambda one=one: f"shows {speaker.screen(one.of)}",
                "event": lambda one=one: f"tells the program {one.of} {names.get(int(one.of), '')}",
                "output": lambda one=one: f"sets the pin of {_called(machine, one.of)} {'high' if one.level else 'low'}",
                "light": lambda one=one: f"sets the light to {one.level} %", "refresh": lambda: "refreshes the whole panel",
                "sleep": lambda: "sleeps",
            }[one.what]()  # fmt: skip
            found.append(f"{one.at_ms / 1000:.2f} s: {what}")
        return found

    return {"recording": row, "again": again, "told": words(row.record.told), "before": words(again.before) if again else [],
            "now": words(again.now) if again else []}  # fmt: skip


def _called(machine: Machine, ident: str) -> str:
    output = machine.behaviour.output(ident)
    return output.name if output is not None else "an output that is gone"


def recording(request: HttpRequest, build_id: int, recording_id: int) -> HttpResponse:
    """A kept run: what happened, and whether the device still does the same."""
    build = own_build(request, build_id)
    row = shelf.own(build, RecordingDocument, recording_id)
    overview = overview_of(build)
    context = {
        **frame_context(overview, "screens"),
        "tabs": tabs_of(build, "device"),
        **recording_page(build, row),
        "document": row,
    }
    return render(request, "screens/recording.html", context)


def take(request: HttpRequest, build_id: int, recording_id: int) -> HttpResponse:
    """A run as a test in C."""
    build = own_build(request, build_id)
    row = shelf.own(build, RecordingDocument, recording_id)
    machine = machine_of_build(build, build.to_device())
    return attachment(c_test(row.record, machine, row.name, build.name), f"{file_name(row.name)}.c", "text/x-c")


def source(request: HttpRequest, build_id: int, wanted: str) -> HttpResponse:
    """The behaviour as tables in C and Python, and the runtime that they need."""
    build = own_build(request, build_id)
    if wanted.startswith(("behave.", "change.")):
        return attachment(runtime_file(wanted), wanted, "text/plain")
    return attachment(behaviour_files(build, build.to_device())[wanted], wanted, "text/plain")
