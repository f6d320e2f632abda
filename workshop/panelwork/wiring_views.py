"""Station 1, wiring: the pin plan, proposed and changed by hand, with what else is on the bus."""

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.errors import MosaicError
from mosaic.forms import from_record, to_record
from mosaic.narrowing import needed
from mosaic.wiring.parts import extra_parts
from mosaic.wiring.plan import TIED, PinPlan, check_names
from mosaic.wiring.program import read_program
from mosaic.wiring.proposal import propose
from mosaic.wiring.pullups import in_parallel, pull_up_range
from mosaic.wiring.signals import signals_of
from mosaic.wiring.sources import c_header, python_module
from workshop.builds import services
from workshop.builds.models import Build, WiringDocument
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.errors import ConflictError
from workshop.panels.description_form import Blank, DescriptionForm
from workshop.panelwork.wiring_drawing import draw_wiring
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

MOST_DEVICES = 3
FORMS = (("7-bit", "as it is sent"), ("8-bit", "in its 8-bit form"))
LEVELS = (("logic", "logic levels"), ("rs-232", "RS-232 levels"))
FASTEST_I2C_HZ = 1_000_000
_BLANKS = (
    Blank("shifter", "level shifter in between", "flag"),
    Blank("address", "address of the panel", "hex"),
    Blank("address_form", "how the address is printed", "choice", FORMS),
    Blank("panel_pull_up_ohm", "pull-ups on the panel's module, ohm", "number"),
    Blank("pull_up_ohm", "pull-ups you add, ohm", "number"),
    Blank("pull_up_rail_v", "rail the pull-ups go to, V", "number"),
    Blank("bus_pf", "capacitance of the bus, pF", "number"),
    Blank("serial_level", "what the line carries", "choice", LEVELS),
    Blank("backlight_low_active", "the light is on while its pin is low", "flag"),
    Blank("backlight_held_off", "a resistor holds the light off", "flag"),
    Blank("rail_order", "order in which rails come up", "words"),
    Blank("program", "constants of a program", "long"),
)
_NO_DEVICE = {
    "name": "",
    "address": 0,
    "address_form": "7-bit",
    "pull_up_ohm": 0.0,
    "rail_v": 3.3,
    "current_ma": 0.0,
    "select": "",
}


def _form(plan: PinPlan, typed: dict[str, str] | None = None) -> DescriptionForm:
    """Blanks over a plan; places for devices that are not there yet stand empty."""
    plain = from_record(plan)
    plain["devices"] += [dict(_NO_DEVICE)] * (MOST_DEVICES - len(plain["devices"]))
    blanks = list(_BLANKS)
    for number in range(MOST_DEVICES):
        blanks += [
            Blank(f"devices[{number}].name", f"name of device {number + 1}", "text"),
            Blank(f"devices[{number}].address", f"address of device {number + 1}", "hex"),
            Blank(f"devices[{number}].address_form", f"how address {number + 1} is printed", "choice", FORMS),
            Blank(f"devices[{number}].pull_up_ohm", f"pull-ups of device {number + 1}, ohm", "number"),
            Blank(f"devices[{number}].current_ma", f"current of device {number + 1}, mA", "number"),
            Blank(f"devices[{number}].select", f"select line of device {number + 1}", "text"),
        ]
    return DescriptionForm(tuple(blanks), plain, typed or {})


def _filled(form: DescriptionForm, wires: dict[str, str]) -> PinPlan:
    """The plan that was filled in; devices without a name are not there."""
    plain = form.filled()
    plain["devices"] = [device for device in plain["devices"] if device["name"]]
    plain["wires"] = [{**wire, "to": wires.get(wire["signal"], wire["to"])} for wire in plain["wires"]]
    return to_record(plain, PinPlan, "wiring")


def wiring(request: HttpRequest, build_id: int) -> HttpResponse:
    """The pin plan; a post keeps what was changed by hand."""
    build = own_build(request, build_id)
    # A build without a plan of its own has the proposed one.
    plan = needed(build.to_device().wiring, "a pin plan")
    if request.method != "POST":
        return _page(request, build, _form(plan))
    typed = {k: v for k, v in request.POST.items() if not k.startswith("wire-")}
    wires = {k.removeprefix("wire-"): v for k, v in request.POST.items() if k.startswith("wire-")}
    form = _form(plan, typed)
    try:
        changed = _filled(form, wires)
        check_names(changed, build.to_device().board)
        services.set_wiring(build=build, plan=changed, base=base_of(request))
    except MosaicError as error:
        form.refuse(error)
        return _page(request, build, form, wires=wires, status=409 if isinstance(error, ConflictError) else 422)
    messages.success(request, "The plan has been saved and checked again.")
    return redirect("wiring", build.pk)


def source(request: HttpRequest, build_id: int, ending: str) -> HttpResponse:
    """The plan as a C header or a Python module."""
    build = own_build(request, build_id)
    device = build.to_device()
    write = {"h": c_header, "py": python_module}[ending]
    text = write(needed(device.wiring, "a pin plan"), signals_of(device.passport, device.link_kind), build.name)
    response = HttpResponse(text, content_type="text/plain; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="panel_pins.{ending}"'
    return response


@require_POST
def propose_anew(request: HttpRequest, build_id: int) -> HttpResponse:
    """Throw the plan away and take the proposal."""
    build = own_build(request, build_id)
    own = shelf.single(build, WiringDocument)
    if own is not None:
        documents.delete(own, base=base_of(request))
    messages.success(request, "The plan was reset to the proposed one.")
    return redirect("wiring", build.pk)


def _page(
    request: HttpRequest, build: Build, form: DescriptionForm, *, wires: dict[str, str] | None = None, status: int = 200
) -> HttpResponse:
    build.refresh_from_db()
    shelf.forget(build)
    overview = overview_of(build)
    device = overview.device
    plan = needed(device.wiring, "a pin plan")
    signals = signals_of(device.passport, device.link_kind)
    rows = [
        (signal, (wires or {}).get(signal.label, plan.to_of(signal.label)))
        for signal in signals
        if signal.need not in ("none", "rail")
    ]
    context = {
        **frame_context(overview, "panel"),
        "form": form,
        "pin_plan": plan,
        "drawing": draw_wiring(plan, signals, device.board),
        "rows": rows,
        "pins": [(pin.name, ", ".join(role for role in pin.roles if role != "gpio")) for pin in device.board.pins],
        "tied": TIED,
        "document": shelf.single(build, WiringDocument),
        "parts": extra_parts(plan, signals, device.board, device.link_kind),
        "base": services.base_of_single(build, WiringDocument),
        "hurdles": propose(device.passport, device.board, device.link_kind).hurdles,
        "findings": overview.findings_on("wiring"),
        "bus": _bus(plan, device.clock_hz) if device.link_kind == "i2c" and device.clock_hz <= FASTEST_I2C_HZ else None,
        "device_numbers": range(MOST_DEVICES),
        "has_light": any(signal.function == "backlight" for signal in signals),
        "constants": [(c, plan.to_of(c.signal)) for c in read_program(plan.program, signals, device.board)],
    }
    return render(request, "panelwork/wiring.html", context, status=status)


def _bus(plan: PinPlan, clock_hz: int) -> dict[str, Any]:
    """What the pull-up calculator says of this bus."""
    wanted = pull_up_range(clock_hz, plan.pull_up_rail_v, plan.bus_pf)
    present = in_parallel(plan.panel_pull_up_ohm, plan.pull_up_ohm, *(device.pull_up_ohm for device in plan.devices))
    return {
        "least": wanted.least_ohm, "most": wanted.most_ohm, "has_solution": wanted.has_solution,
        "present": None if present == float("inf") else present, "holds": wanted.holds(present),
    }  # fmt: skip
