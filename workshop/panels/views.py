"""The shelf of panels, and the passport's pages."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadDescriptionError, BadValueError, MosaicError
from mosaic.panels.loader import passport_to_plain
from workshop.errors import ConflictError, message_of
from workshop.panels import services
from workshop.panels.description_form import revision_from
from workshop.panels.files import json_file, json_text
from workshop.panels.models import OwnPassport
from workshop.panels.parts import PanelEntry, panel_or_404
from workshop.panels.passport_form import passport_form
from workshop.panels.passport_page import orientation_from, passport_context
from workshop.panels.shelf import TECHNOLOGIES, shelf_page
from workshop.panels.shown import screen_key, screen_png
from workshop.removal import tell_removed

FOR_EVER = "private, max-age=31536000, immutable"


def shelf(request: HttpRequest) -> HttpResponse:
    """All panels there are, searched; htmx asks for the cards alone."""
    return render(request, "panels/partials/cards.html" if request.htmx else "panels/shelf.html", _shelf_context(request))


def _shelf_context(request: HttpRequest) -> dict:
    query, technology = request.GET.get("q", "")[:120], request.GET.get("technology", "")
    technology = technology if technology in dict(TECHNOLOGIES) else ""
    page = shelf_page(request.user, query, technology, request.GET.get("page"))
    return {"page": page, "query": query, "technology": technology, "technologies": TECHNOLOGIES}


def passport(request: HttpRequest, ref: str) -> HttpResponse:
    """Everything known of a panel."""
    entry = panel_or_404(request.user, ref)
    return render(request, "panels/passport.html", _passport_page(request, entry))


def _passport_page(request: HttpRequest, entry: PanelEntry) -> dict:
    lies = orientation_from(request, entry.passport)
    return {
        **passport_context(entry.passport, lies),
        "entry": entry,
        "own": entry.own,
        "screen_url": screen_address(entry, lies),
        "turn_url": reverse("panel-turned", args=[entry.ref]),
    }


def screen_address(entry: PanelEntry, lies) -> str:
    key = screen_key(entry.passport, lies)
    return reverse("panel-screen", args=[entry.ref, key]) + f"?turn={lies.rotation}&mirrored={int(lies.mirrored)}"


def turned(request: HttpRequest, ref: str) -> HttpResponse:
    """The drawing and what follows from it, at another orientation; nothing is kept."""
    context = _passport_page(request, panel_or_404(request.user, ref))
    if not request.htmx:
        return render(request, "panels/passport.html", context)
    return render(request, "panels/partials/turned.html", context)


def screen(request: HttpRequest, ref: str, key: str) -> HttpResponse:
    """The demo screen on the panel; its address holds its key, so it never grows old."""
    entry = panel_or_404(request.user, ref)
    lies = orientation_from(request, entry.passport)
    response = HttpResponse(screen_png(entry.passport, lies), content_type="image/png")
    response["Cache-Control"] = FOR_EVER if screen_key(entry.passport, lies) == key else "no-store"
    return response


def passport_json(request: HttpRequest, ref: str) -> HttpResponse:
    """The passport as a file."""
    entry = panel_or_404(request.user, ref)
    return json_file(passport_to_plain(entry.passport), f"{entry.ref}.passport.json")


@require_POST
def make_mine(request: HttpRequest, ref: str) -> HttpResponse:
    """A copy to edit."""
    row = services.make_mine(owner=request.user, entry=panel_or_404(request.user, ref))
    messages.success(request, "This passport is yours now: edit it below. The catalogue keeps its own.")
    return redirect("panel-edit", row.ref)


def edit(request: HttpRequest, ref: str) -> HttpResponse:
    """One's own passport with blanks to fill in, and as text."""
    entry = panel_or_404(request.user, ref)
    if entry.own is None:
        raise BadValueError("passports of the catalogue are read-only; make it yours first")
    form = passport_form(entry.own.passport)
    if request.method == "POST":
        form = passport_form(entry.own.passport, {k: v for k, v in request.POST.items() if k not in ("csrfmiddlewaretoken",)})
        try:
            services.change_passport(row=entry.own, plain=form.filled(), revision=revision_from(request.POST.get("revision", "")))
        except MosaicError as error:
            form.refuse(error)
            return _edit_page(request, entry, form=form, conflict=error, status=_status(error))
        messages.success(request, "Saved. Builds that use it keep their snapshot, and are told of the difference.")
        return redirect("panel", ref)
    return _edit_page(request, entry, form=form)


def _status(error: MosaicError) -> int:
    return 409 if isinstance(error, ConflictError) else 422


def _edit_page(request, entry, *, form, conflict=None, text=None, problems=(), status=200) -> HttpResponse:
    own: OwnPassport = entry.own
    if isinstance(conflict, ConflictError):
        own.revision = conflict.head  # kept again, it is kept over the other tab's change, knowingly
    context = {
        **passport_context(entry.passport, orientation_from(request, entry.passport)),
        "entry": entry,
        "own": own,
        "form": form,
        "text": text if text is not None else json_text(own.passport),
        "text_problems": problems,
    }
    return render(request, "panels/edit.html", context, status=status)


@require_POST
def edit_text(request: HttpRequest, ref: str) -> HttpResponse:
    """One's own passport replaced by its JSON text; what is wrong is told by its path."""
    entry = panel_or_404(request.user, ref)
    if entry.own is None:
        raise BadValueError("passports of the catalogue are read-only; make it yours first")
    text = request.POST.get("text", "")
    try:
        plain = services.plain_from_file(text.encode(), "passport")
        services.change_passport(row=entry.own, plain=plain, revision=revision_from(request.POST.get("revision", "")))
    except MosaicError as error:
        return _edit_page(
            request, entry, form=passport_form(entry.own.passport), conflict=error, text=text,
            problems=problem_lines(error), status=_status(error),
        )  # fmt: skip
    messages.success(request, "Saved as written.")
    return redirect("panel", ref)


def problem_lines(error: MosaicError) -> list[tuple[str, str]]:
    """(path, what is wrong) of every place an error tells of."""
    told = getattr(error, "problems", ()) or (error,)
    return [
        (p.path.removeprefix("$.") if isinstance(p, BadDescriptionError) else "", getattr(p, "reason", message_of(p)))
        for p in told
    ]


def read(request: HttpRequest) -> HttpResponse:
    """A passport from a JSON file or pasted text, as one's own."""
    if request.method != "POST":
        return render(request, "panels/read.html", {"text": ""})
    upload = request.FILES.get("passport")
    data = upload.read(services.LARGEST_FILE + 1) if upload else request.POST.get("text", "").encode()
    try:
        row = services.read_passport(owner=request.user, data=data)
    except MosaicError as error:
        text = data.decode("utf-8", "replace")[: services.LARGEST_FILE]
        return render(request, "panels/read.html", {"text": text, "problems": problem_lines(error)}, status=422)
    messages.success(request, f"{row.name} was read. It is yours, and the file was left alone.")
    return redirect("panel", row.ref)


@require_POST
def remove(request: HttpRequest, ref: str) -> HttpResponse:
    """Take one's own passport away; builds keep their snapshots of it."""
    entry = panel_or_404(request.user, ref)
    if entry.own is None:
        raise BadValueError("passports of the catalogue are read-only")
    entry.own.remove()
    tell_removed(request, entry.own, "Builds that use it keep their snapshot.")
    return redirect("panels")
