"""One screen on the mat: its order in sentences, its figures, its findings, its history."""

import io
import zipfile
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.forms import from_record, to_record
from mosaic.numbers import row_id, whole_of
from mosaic.screens import editing
from mosaic.screens.kinds import KINDS
from mosaic.screens.rendering import Rendered
from mosaic.screens.screen import Screen
from mosaic.source_text import identifier
from workshop.answers import attachment, check_key, go_to, image, inline_png
from workshop.builds.models import Build
from workshop.builds.pages import changes_of, own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.documents.services import save
from workshop.live import live_response
from workshop.look.fields import problems_in_words
from workshop.screens.acts import Asked, Done, carried_out
from workshop.screens.documents import ScreenDocument
from workshop.screens.files import WRITERS, bundle_file, runtime_file, runtime_of, values_file, written
from workshop.screens.forms import ElementForm, GroundForm
from workshop.screens.looks import look_of, looked_at
from workshop.screens.pages import choices_of, own, page_context, told_boxes, told_guides
from workshop.screens.reports import drawn, glass_png, key_of, rendered_of, states_of, states_png
from workshop.screens.tabs import tabs_of
from workshop.screens.value_services import mend_value
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

LIVE = "screens/partials/live.html"
MEDIA = {
    "h": "text/x-c", "c": "text/x-c", "py": "text/x-python", "bin": "application/octet-stream", "png": "image/png",
    "json": "application/json", "zip": "application/zip",
}  # fmt: skip


def screens(request: HttpRequest, build_id: int) -> HttpResponse:
    """The station: the build's first screen, or the way to begin one."""
    build = own_build(request, build_id)
    first = next(iter(shelf.of_kind(build, ScreenDocument)), None)
    if first is not None:
        return redirect("screen", build.pk, first.pk)
    overview = overview_of(build)
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "screens"), "letterings": overview.offered("lettering"),
    }  # fmt: skip
    return render(request, "screens/empty.html", context)


@require_POST
def add(request: HttpRequest, build_id: int) -> HttpResponse:
    """A new screen, empty, or with a first text where there is a lettering."""
    build = own_build(request, build_id)
    name = request.POST.get("name", "").strip()[:80] or f"Screen {len(shelf.of_kind(build, ScreenDocument)) + 1}"
    row = documents.add(ScreenDocument, build=build, name=name, record=Screen())
    return go_to(request, reverse("screen", args=[build.pk, row.pk]))


def _chosen(values: Any) -> tuple[str, ...]:
    """What is chosen: the unfolded one first, then those that are ticked."""
    first = values.get("of") or values.get("e", "")
    picks = [*first.split(","), *values.getlist("pick")]
    return tuple(dict.fromkeys(pick for pick in picks if pick))


def screen(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """One screen; `e` names what is chosen on it."""
    build, shown = own(request, build_id, screen_id)
    context = page_context(build, shown, _chosen(request.GET), look=look_of(request.GET))
    if request.htmx and request.GET.get("part"):  # type: ignore[attr-defined]
        glass = context["glass_url"] if "state" in request.GET else ""
        return render(request, LIVE, {**context, "with_form": True, "kept": True, "glass_url": glass})
    return render(request, "screens/screen.html", context)


def _drawn(build: Build, screen: Screen) -> Rendered | None:
    try:
        return rendered_of(build, screen, build.to_device())
    except MosaicError:  # what cannot be drawn may be mended by the very change that is asked for
        return None


def _filled(request: HttpRequest, build: Build, shown: ScreenDocument) -> Done:
    """The screen as the page's form has it: the blanks of the unfolded element and the ground, and a drag."""
    return _dragged(request, build, _with_blanks(request, build, shown.record))


def _with_blanks(request: HttpRequest, build: Build, screen: Screen) -> Screen:
    values = request.POST
    choices = choices_of(overview_of(build), _drawn(build, screen))
    element = screen.element(values.get("of", ""))
    if element is not None and "x_at" in values:
        form = ElementForm(values, element=element, screen=screen, context=choices)
        if not form.is_valid():
            raise BadValueError(problems_in_words(form))
        screen = form.applied()
    if "ground_by" in values:
        ground = GroundForm(values, ground=screen.ground, choices=choices)
        if not ground.is_valid():
            raise BadValueError(problems_in_words(ground))
        screen = Screen(screen.elements, screen.guides, ground.ground())
    return screen


def _dragged(request: HttpRequest, build: Build, screen: Screen) -> Done:
    """What is held on the glass moved; on the window grid, if that is asked for."""
    values, chosen = request.POST, _chosen(request.POST)
    held = tuple(one for one in values.get("drag", "").split(",") if one)
    if not held:
        return Done(screen, chosen)
    dx, dy = whole_of(values.get("dx") or "0", "dx", -4096), whole_of(values.get("dy") or "0", "dy", -4096)
    rendered = _drawn(build, screen) if values.get("grid") else None
    if rendered is not None and held[0] in rendered.boxes:
        grid = rendered.device.passport.grid
        dx, dy = editing.on_grid(rendered.boxes[held[0]], dx, dy, (grid.x_px, grid.y_px))
    rest = [one for one in chosen if one not in held]
    return Done(editing.moved(screen, held, dx, dy), (*held, *rest) if set(held) & set(chosen) else held)


def _told(rendered: Rendered, chosen: tuple[str, ...]) -> dict[str, Any]:
    return {
        "boxes": told_boxes(rendered), "guides": told_guides(rendered.screen, rendered.device), "chosen": list(chosen),
    }  # fmt: skip


@require_POST
def preview(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """What the glass would show under what is being changed, with its picture in the answer; nothing is kept."""
    build, shown = own(request, build_id, screen_id)
    # While something is dragged its blanks rest: what was typed in them has been kept before.
    dragging = bool(request.POST.get("drag"))
    done = _dragged(request, build, shown.record) if dragging else _filled(request, build, shown)
    look = look_of(request.POST)
    rendered = looked_at(build, done.screen, build.to_device(), look)
    glass = inline_png(glass_png(rendered))
    told = {"glass": glass, **_told(rendered, done.chosen)}
    if dragging:  # what is measured of it follows when the hand lets go
        return live_response(request, told, "screens/partials/dragged.html", dict)

    def context() -> dict[str, Any]:
        return {**page_context(build, shown, done.chosen, done.screen, look), "kept": False, "glass_url": glass}

    return live_response(request, told, LIVE, context)


def _keep(build: Build, shown: ScreenDocument, base: int, screen: Screen) -> ScreenDocument:
    """Keep a screen that can be drawn; one that cannot is refused in words, and nothing changes."""
    checked = to_record(from_record(screen), Screen, "this screen")
    rendered_of(build, checked, build.to_device())
    return save(shown, base=base, record=checked)


def _live(
    request: HttpRequest, build: Build, shown: ScreenDocument, chosen: tuple[str, ...], *, with_form: bool, words: str = ""
) -> HttpResponse:
    """The parts of the page that a change has changed, and words on what came along with it."""
    if not request.htmx:  # type: ignore[attr-defined]
        return redirect(reverse("screen", args=[build.pk, shown.pk]) + (f"?e={','.join(chosen)}" if chosen else ""))
    look = look_of(request.POST)
    context = {**page_context(build, shown, chosen, look=look), "with_form": with_form, "kept": True}
    context["problem"] = context["problem"] or words
    if look.key == "hand" and context["rendered"]:
        context["glass_url"] = inline_png(glass_png(context["rendered"]))
    told: dict[str, Any] = {"base": shown.head_id, "glass": context["glass_url"]}
    if context["rendered"]:
        told |= _told(context["rendered"], chosen)
    return live_response(request, told, LIVE, lambda: context)


@require_POST
def change(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """Keep what was filled in, or dragged."""
    build, shown = own(request, build_id, screen_id)
    done, before = _filled(request, build, shown), shown.record.element(request.POST.get("of", ""))
    after = done.screen.element(before.id) if before else None
    # A map that was changed is drawn anew beside its blanks.
    mapped = before is not None and after is not None and before.follows != after.follows
    shown = _keep(build, shown, base_of(request), done.screen)
    redrawn = mapped or bool(request.POST.get("drag")) or request.POST.get("redraw") == "1"
    return _live(request, build, shown, done.chosen, with_form=redrawn)


def _done(
    request: HttpRequest, build: Build, shown: ScreenDocument, values: dict[str, Any], ids: tuple[str, ...]
) -> HttpResponse:
    screen = shown.record
    asked = Asked(screen, _drawn(build, screen), tuple(one for one in ids if screen.element(one)), values)
    done = carried_out(str(values.get("act", "")), asked)
    shown = _keep(build, shown, base_of(request), done.screen)
    return _live(request, build, shown, done.chosen, with_form=True, words=done.words)


@require_POST
def act(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """Something done to what is chosen: added, moved, aligned, duplicated, removed."""
    build, shown = own(request, build_id, screen_id)
    return _done(request, build, shown, request.POST.dict(), _chosen(request.POST))


@require_POST
def take_made(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """A lettering, strip or picture that was begun from a sentence, put into its blank."""
    build, shown = own(request, build_id, screen_id)
    made = shelf.named(build, request.POST.get("made", ""))
    chosen = _chosen(request.GET)
    element = shown.record.element(chosen[0]) if chosen else None
    blanks = KINDS[element.kind].blanks if element else ()
    field = "lettering" if made is not None and made.KIND == "lettering" else "source"
    if made is not None and element is not None and field in blanks:
        fields = {field: made.ref, **({"cell": ""} if field == "source" else {})}
        _keep(build, shown, shown.head_id or 0, editing.changed(shown.record, element.id, **fields))
    return redirect(reverse("screen", args=[build.pk, shown.pk]) + (f"?e={','.join(chosen)}" if chosen else ""))


@require_POST
def fix(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """Apply a finding's fix."""
    build, shown = own(request, build_id, screen_id)
    changes = changes_of(request)
    if changes.get("act") == "value":
        mend_value(build, str(changes.get("value", "")), changes.get("fields", {}))
        return _live(request, build, shown, _chosen(request.POST), with_form=True)
    return _done(request, build, shown, changes, (str(changes.get("ids", "")),))


@require_POST
def step(request: HttpRequest, build_id: int, screen_id: int, direction: str) -> HttpResponse:
    """Undo or redo."""
    build, shown = own(request, build_id, screen_id)
    act_of = documents.undo if direction == "undo" else documents.redo
    shown = act_of(shown, base=base_of(request))
    return _live(request, build, shown, tuple(one for one in _chosen(request.POST) if shown.record.element(one)), with_form=True)


@require_POST
def copy_to_other(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """What is chosen, copied to another screen of the build."""
    build, shown = own(request, build_id, screen_id)
    other = shelf.own(build, ScreenDocument, row_id(request.POST.get("to")) or 0)
    ids = tuple(one for one in _chosen(request.POST) if shown.record.element(one))
    if not ids:
        raise BadValueError("nothing is chosen; choose an element of the list first")
    rendered = rendered_of(build, shown.record, build.to_device())
    screen = editing.copied_to(other.record, shown.record, ids, rendered.boxes)
    _keep(build, other, other.head_id or 0, screen)
    return go_to(request, reverse("screen", args=[build.pk, other.pk]))


def _at(request: HttpRequest, shown: ScreenDocument) -> ScreenDocument:
    """The revision that an image's address names, or the saved one."""
    revision = shown.revisions.filter(pk=row_id(request.GET.get("revision"))).first()
    return shown.stand_at(revision) if revision is not None else shown


def glass(request: HttpRequest, build_id: int, screen_id: int, key: str) -> HttpResponse:
    """The whole glass."""
    build, shown = own(request, build_id, screen_id)
    device, record = build.to_device(), _at(request, shown).record
    check_key(key, key_of(build, record, device))
    return image(glass_png(rendered_of(build, record, device, request.GET.get("state", ""), key)))


def states(request: HttpRequest, build_id: int, screen_id: int, key: str) -> HttpResponse:
    """The glass in every state, one below the other."""
    build, shown = own(request, build_id, screen_id)
    device, record = build.to_device(), _at(request, shown).record
    check_key(key, key_of(build, record, device))
    return image(states_png([drawn(build, record, device, state, key) for state in states_of(build, record, device, key)]))


def take_bundle(request: HttpRequest, build_id: int) -> HttpResponse:
    """All screens of the build in one file."""
    build = own_build(request, build_id)
    return attachment(bundle_file(build, build.to_device()), f"{identifier(build.name, 'screens')}-screens.zip", MEDIA["zip"])


def take(request: HttpRequest, build_id: int, screen_id: int, ending: str) -> HttpResponse:
    """One file, the runtime, or all of them."""
    build, shown = own(request, build_id, screen_id)
    rendered = rendered_of(build, shown.record, build.to_device())
    name = identifier(shown.name, "screen")
    if ending == "zip":
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            for one in WRITERS:
                archive.writestr(f"{name}.{one}", written(rendered, shown.name, one))
            for file in runtime_of(rendered):
                archive.writestr(file, runtime_file(file))
            if rendered.plan.values:
                archive.writestr("values.h", values_file(build, rendered.device))
        return attachment(out.getvalue(), f"{name}.zip", MEDIA[ending])
    if ending not in WRITERS:
        raise Http404("no such kind of file")
    return attachment(written(rendered, shown.name, ending), f"{name}.{ending}", MEDIA[ending])
