"""What the line carries, and what lies in the panel's slots and on its card."""

from dataclasses import replace

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.findings.serial import LINE_SHARE
from mosaic.forms import from_record, to_record
from mosaic.numbers import whole_of
from mosaic.serial.line import WORST_ERROR, budget, clock_error, slower, touch_lag_ms
from mosaic.serial.slots import Placed, SlotPlan, card_checks, file_name, fitted, gone, shelves, slots_of
from mosaic.serial.slots import automatic as into_slots
from workshop.answers import go_to
from workshop.builds.models import Build
from workshop.documents.pages import base_of
from workshop.screens.documents import design_of
from workshop.screens.serial.pages import context_of, own_serial
from workshop.screens.serial.services import plan_of, save_plan, things_of
from workshop.stations.overview import overview_of

RATES = (9600, 19_200, 38_400, 57_600, 115_200, 230_400, 460_800, 921_600)


def _line_page(request: HttpRequest, build: Build, wrong: MosaicError | None = None) -> HttpResponse:
    overview, context = context_of(build, "serial-line", wrong)
    plan, values, baud = plan_of(build), design_of(build).values, overview.device.clock_hz

    def at(rate: int):
        return budget(plan.memory, values, plan.template, rate, polls=plan.polls, parity=plan.parity)

    found = at(baud)
    context |= {
        "budget": found, "most": max([one.ms for one in found.uses], default=1.0) or 1.0, "limit": LINE_SHARE,
        "slower": slower(found, LINE_SHARE),
        "lag": touch_lag_ms(found, plan.template, baud, polls=plan.polls, parity=plan.parity),
        "rates": [(rate, at(rate).share) for rate in RATES], "worst": WORST_ERROR, "line": plan,
        "error": clock_error(baud, plan.board_clock_hz, plan.divider) if plan.board_clock_hz else None,
        "v": request.POST if wrong else {"board_mhz": f"{plan.board_clock_hz / 1e6:g}" if plan.board_clock_hz else "",
                                         "divider": str(plan.divider), "polls": plan.polls, "parity": plan.parity},
    }  # fmt: skip
    return render(request, "screens/serial/line.html", context, status=422 if wrong else 200)


def line(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page of the line."""
    return _line_page(request, own_serial(request, build_id))


@require_POST
def keep_line(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep how the line is run."""
    build = own_serial(request, build_id)
    posted = request.POST
    try:
        typed = posted.get("board_mhz", "").strip().replace(",", ".")
        try:
            hertz = round(float(typed or 0) * 1e6)
        except ValueError:
            raise BadValueError(f"the clock is {typed[:20]!r}; a number of MHz, such as 16, is accepted") from None
        if not 0 <= hertz <= 1_000_000_000:
            raise BadValueError(f"a clock of {typed[:20]} MHz cannot be; up to 1,000 MHz are accepted")
        plan = replace(
            plan_of(build), polls="polls" in posted, parity="parity" in posted, board_clock_hz=hertz,
            divider=8 if posted.get("divider") == "8" else 16,
        )  # fmt: skip
    except MosaicError as error:
        return _line_page(request, build, error)
    save_plan(build, plan, base_of(request))
    return go_to(request, reverse("serial-line", args=[build.pk]))


def _slots_page(request: HttpRequest, build: Build, wrong: MosaicError | None = None) -> HttpResponse:
    overview, context = context_of(build, "serial-slots", wrong)
    device, plan = overview.device, plan_of(build).slots
    things, slots = things_of(overview), device.passport.slots
    typed = request.POST if wrong else None
    placed = {one.ref: one.slot for one in plan.placed}
    context |= {"slots": slots, "card": plan, "checks": card_checks(plan, things), "gone": gone(plan, things), "typed": typed}
    if slots is not None:
        by_ref = {one.ref: one for one in things}
        context |= {
            "shelves": shelves(plan, things, slots, device.size), "fitted": fitted(slots),
            "things": [
                (one, typed.get(f"slot_{one.ref}", "") if typed else placed.get(one.ref, ""), slots_of(one, slots),
                 file_name(plan, placed[one.ref], by_ref[one.ref]) if one.ref in placed else "") for one in things
            ],
        }  # fmt: skip
    return render(request, "screens/serial/slots.html", context, status=422 if wrong else 200)


def slots(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page of slots and card."""
    return _slots_page(request, own_serial(request, build_id))


def slot_plan_from(posted: QueryDict, kept: SlotPlan, refs: list[str]) -> SlotPlan:
    """What was filled in; raises `BadValueError` and `BadDescriptionError`."""
    placed = [
        from_record(Placed(ref, whole_of(posted[f"slot_{ref}"], "the slot", 0, 65_535)))
        for ref in refs if posted.get(f"slot_{ref}", "").strip()
    ]  # fmt: skip
    plain = {
        **from_record(kept), "placed": placed, "name": posted.get("name", kept.name).strip(), "capitals": "capitals" in posted,
        "longest": whole_of(posted.get("longest") or "12", "the longest name", 3, 64),
        "file_system": posted.get("file_system", kept.file_system),
        "card_gb": float(whole_of(posted.get("card_gb") or "8", "the card, in GB,", 1, 2048)),
        "cluster_kib": whole_of(posted.get("cluster_kib") or "4", "the cluster, in KiB,", 1, 256),
    }  # fmt: skip
    return to_record(plain, SlotPlan, "the slots")


@require_POST
def keep_slots(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep what lies where; or everything anew, the largest first."""
    build = own_serial(request, build_id)
    overview = overview_of(build)
    things, passport = things_of(overview), overview.device.passport
    try:
        plan = slot_plan_from(request.POST, plan_of(build).slots, [one.ref for one in things])
        if "anew" in request.POST and passport.slots is not None:
            plan = into_slots(things, passport.slots, plan)
    except MosaicError as error:
        return _slots_page(request, build, error)
    save_plan(build, replace(plan_of(build), slots=plan), base_of(request))
    return go_to(request, reverse("serial-slots", args=[build.pk]))
