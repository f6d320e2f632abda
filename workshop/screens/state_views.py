"""States of screens: those of the maker's own, pairs that cannot be, and the printed sheet of all."""

from dataclasses import replace

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.screens.screen import new_id
from mosaic.values.states import Moment
from workshop.answers import go_to
from workshop.screens.documents import design_of
from workshop.screens.looks import Look, look_of, state_of
from workshop.screens.pages import own
from workshop.screens.value_services import base_of_design, save_design


@require_POST
@transaction.atomic
def keep_moment(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """Readings set by hand, kept as a state of all screens."""
    build, shown = own(request, build_id, screen_id)
    look = look_of({**request.POST.dict(), "state": "hand"})
    name = request.POST.get("moment_name", "").strip()[:40]
    if not name:
        raise BadValueError("the state has no name yet; type one before it is kept")
    state = state_of(build, shown.record, build.to_device(), Look("hand", look.typed))
    design = design_of(build)
    taken = {one.id for group in (design.moments, design.values, design.styles, design.parts) for one in group}
    ident = new_id(taken, "m")
    readings = {one: state.readings[one] for one in look.typed if one in state.readings}
    save_design(build, replace(design, moments=(*design.moments, Moment(ident, name, readings))), base_of_design(build))
    return go_to(request, reverse("screen", args=[build.pk, shown.pk]) + f"?state={ident}")
