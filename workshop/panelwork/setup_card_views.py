"""The set-up card: what has to be right on the maker's computer and board, and when it worked."""

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.device.setup_card import SetupCard, clashes
from mosaic.errors import BadValueError, MosaicError
from mosaic.forms import differences, from_record, to_record
from mosaic.numbers import row_id
from workshop.builds import services
from workshop.builds.models import Build, SetupDocument
from workshop.builds.pages import own_build
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.errors import ConflictError
from workshop.panels.description_form import Blank, DescriptionForm
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

KINDS = tuple((kind, kind) for kind in ("program", "files", "update slot", "other"))
# For each list its fields: name, what it is called, how it is typed; the first decides whether an entry is there.
LISTS: dict[str, tuple[tuple[str, str, str], ...]] = {
    "tools": (("name", "tool or library", "text"), ("version", "exact version", "text"), ("kept_in", "where it is kept", "text")),
    "options": (("name", "option of the board", "text"), ("value", "its value", "text")),
    "memory": (("name", "part of the flash", "text"), ("kind", "what it is for", "choice"), ("size_bytes", "size", "bytes")),
    "edits": (
        ("library", "library that was edited", "text"), ("version", "made for version", "text"), ("path", "file", "text"),
        ("line", "line", "whole"), ("before", "before", "text"), ("after", "after", "text"), ("why", "why", "text"),
    ),
    "trials": (("day", "day", "text"), ("worked", "worked", "flag"), ("words", "in words", "text")),
}  # fmt: skip
EMPTY: dict[str, dict[str, Any]] = {
    "tools": {"name": "", "version": "", "kept_in": ""},
    "options": {"name": "", "value": ""},
    "memory": {"name": "", "kind": "program", "size_bytes": 0},
    "edits": {"library": "", "version": "", "path": "", "line": 0, "before": "", "after": "", "why": ""},
    "trials": {"day": "", "worked": True, "words": ""},
}
SPARE = 2


def _form(card: SetupCard, typed: dict[str, str] | None = None) -> DescriptionForm:
    """Blanks over a card; each list ends with places for entries that are not there yet."""
    plain = from_record(card)
    blanks = [Blank("loading", "how to enter loading mode", "long")]
    for name, columns in LISTS.items():
        plain[name] = [*plain[name], *(dict(EMPTY[name]) for _ in range(SPARE))]
        for number in range(len(plain[name])):
            for key, label, kind in columns:
                choices = KINDS if kind == "choice" else ()
                blanks.append(Blank(f"{name}[{number}].{key}", f"{label}, {number + 1}", kind, choices))
    return DescriptionForm(tuple(blanks), plain, typed or {})


def _filled(form: DescriptionForm) -> SetupCard:
    """The card that was filled in; entries whose first field is empty are not there."""
    plain = form.filled()
    for name, columns in LISTS.items():
        plain[name] = [entry for entry in plain[name] if entry[columns[0][0]]]
    return to_record(plain, SetupCard, "set-up card")


def _card_of(build: Build) -> SetupCard:
    return build.to_device().setup_card or SetupCard()


def _others(build: Build) -> dict[int, tuple[str, SetupCard]]:
    """(name, card) of the maker's other builds that have a set-up card, by the build's number."""
    rows = SetupDocument.objects.filter(build__owner=build.owner_id).exclude(build=build.pk).select_related("head", "build")
    return {row.build_id: (row.build.name, row.record) for row in rows}


def setup_card(request: HttpRequest, build_id: int) -> HttpResponse:
    """The card; a post keeps it."""
    build = own_build(request, build_id)
    card = _card_of(build)
    if request.method != "POST":
        return _page(request, build, card, _form(card))
    form = _form(card, {k: v for k, v in request.POST.items() if k != "csrfmiddlewaretoken"})
    try:
        services.set_setup_card(build=build, card=_filled(form), base=base_of(request))
    except MosaicError as error:
        form.refuse(error)
        return _page(request, build, card, form, status=409 if isinstance(error, ConflictError) else 422)
    messages.success(request, "The card was saved.")
    return redirect("setup-card", build.pk)


@require_POST
def copy_setup_card(request: HttpRequest, build_id: int) -> HttpResponse:
    """The card of another build, in the place of this one's; trials stay where they were made."""
    build = own_build(request, build_id)
    other = _others(build).get(row_id(request.POST.get("other")))
    if other is None:
        raise BadValueError("choose one of your builds that has a set-up card")
    name, card = other
    services.set_setup_card(build=build, card=replace(card, trials=()), base=base_of(request))
    messages.success(request, f"The card of {name} was copied, without its trials.")
    return redirect("setup-card", build.pk)


def _page(request: HttpRequest, build: Build, card: SetupCard, form: DescriptionForm, *, status: int = 200) -> HttpResponse:
    build.refresh_from_db()
    shelf.forget(build)
    overview = overview_of(build)
    others = _others(build)
    cards = dict(others.values())
    number = row_id(request.GET.get("with"))
    compared = number if number in others else None
    flash = overview.device.board.flash_bytes
    context = {
        **frame_context(overview, "panel"),
        "form": form,
        "card": card,
        "rows": {name: range(len(form.plain[name])) for name in LISTS},
        "bar": [(part, round(part.size_bytes / max(flash, card.memory_bytes, 1) * 100, 2)) for part in card.memory],
        "free_bytes": flash - card.memory_bytes,
        "findings": overview.findings_on("setup-card"),
        "clashes": clashes(card, cards),
        "others": [(number, name) for number, (name, _) in others.items()],
        "base": services.base_of_single(build, SetupDocument),
        "document": shelf.single(build, SetupDocument),
        "compared": compared,
        "differences": _compared(card, others[compared][1]) if compared else [],
    }
    return render(request, "panelwork/setup_card.html", context, status=status)


def _compared(card: SetupCard, theirs: SetupCard) -> list[tuple[str, Any, Any]]:
    """What differs from another build's card, by tool and option rather than by place in a list."""
    return differences(_by_name(card), _by_name(theirs))


def _by_name(card: SetupCard) -> dict[str, Any]:
    return {
        "tools": {tool.name: f"{tool.version} in {tool.kept_in}" for tool in card.tools},
        "options": {option.name: option.value for option in card.options},
        "memory": {part.name: f"{part.kind}, {part.size_bytes:,} B" for part in card.memory},
        "edits": {f"{edit.library}, {edit.path}:{edit.line}": edit.after for edit in card.edits},
        "loading": card.loading,
    }
