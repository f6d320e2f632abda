"""The stages: what to send, see and measure, ticked with day and reading."""

from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.bringup.stage import Stage, Suspect
from mosaic.bringup.stages import stages_of
from mosaic.device.notes import StageNote
from mosaic.errors import BadValueError
from mosaic.numbers import decimal, hexadecimal
from workshop.answers import check_key, image
from workshop.bringup import services
from workshop.bringup.documents import StageNotesDocument
from workshop.bringup.pages import station_context
from workshop.bringup.snapshots import snapshot_key, snapshot_png
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.builds.services import base_of_single
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.journal import services as journal
from workshop.stations.overview import overview_of

PAGES = {
    "check-sheet": "check-sheet", "wiring": "wiring", "sheet": "sheet", "faults": "bringup-faults", "virtual": "bringup-virtual",
    "cards": "bringup-cards", "panel": "build-panel",
}  # fmt: skip
LARGEST_READING = 1e9


@dataclass(frozen=True)
class StageLine:
    """A stage with what has been noted of it."""

    stage: Stage
    done: bool
    day: str
    reading: float | None

    @property
    def holds(self) -> bool | None:
        measure = self.stage.measure
        return None if self.reading is None or measure is None else measure.holds(self.reading)

    @property
    def state(self) -> str:
        """For the mark beside it."""
        return "skipped" if self.stage.skipped else "over" if self.holds is False else "sound" if self.done else ""


def lines_of(build: Build, stages: tuple[Stage, ...]) -> list[StageLine]:
    """Stages with what a build has noted of them."""
    row = shelf.single(build, StageNotesDocument)
    notes = row.record.stages if row else {}
    blank = StageNote(False, "")
    return [StageLine(stage, note.done, note.day, note.reading) for stage in stages for note in [notes.get(stage.slug, blank)]]


def stages(request: HttpRequest, build_id: int) -> HttpResponse:
    """All stages in a row, one of them laid out: the one asked for, or the first that is not done."""
    build = own_build(request, build_id)
    return render(request, "bringup/stages.html", _context(build, request.GET.get("stage", "")))


def _context(build: Build, slug: str, typed: str | None = None, problem: str = "") -> dict[str, Any]:
    overview = overview_of(build)
    lines = lines_of(build, stages_of(overview.device))
    here = next((line for line in lines if line.stage.slug == slug), None) or next(
        (line for line in lines if not line.done and not line.stage.skipped), lines[-1]
    )
    number = lines.index(here)
    before = next((line for line in reversed(lines[:number]) if not line.stage.skipped), None)
    after = next((line for line in lines[number + 1 :] if not line.stage.skipped), None)
    suspects = [(suspect, _address(build, suspect)) for suspect in here.stage.suspects]
    shows = here.stage.shows
    return {
        **station_context(build, "stages", overview),
        "base": base_of_single(build, StageNotesDocument), "document": shelf.single(build, StageNotesDocument),
        "lines": lines, "here": here, "number": number + 1, "before": before, "after": after, "suspects": suspects,
        "typed": typed if typed is not None else "" if here.reading is None else f"{here.reading:g}", "reading_problem": problem,
        "snapshot_url": reverse("bringup-snapshot", args=[build.pk, shows, snapshot_key(build, overview.device, shows)]),
        "done_count": sum(line.done for line in lines), "needed_count": sum(not line.stage.skipped for line in lines),
    }  # fmt: skip


def _address(build: Build, suspect: Suspect) -> str:
    """Where a suspect is followed up."""
    if suspect.fault:
        return f"{reverse('bringup-faults', args=[build.pk])}?fault={suspect.fault}&on=card-frame#chosen"
    if suspect.question:
        return f"{reverse('bringup-questions', args=[build.pk])}?from={suspect.question}"
    return reverse(PAGES[suspect.page], args=[build.pk])


@require_POST
def keep(request: HttpRequest, build_id: int, slug: str) -> HttpResponse:
    """Tick a stage, with its reading where one was taken."""
    build = own_build(request, build_id)
    device = build.to_device()
    stage = next((s for s in stages_of(device) if s.slug == slug), None)
    if stage is None:
        raise BadValueError(f"there is no stage named {slug!r}")
    text = request.POST.get("reading", "").strip()
    reading = hexadecimal(text, 0xFFFFFFFF) if text.lower().startswith("0x") else decimal(text, -LARGEST_READING, LARGEST_READING)
    if text and reading is None:
        problem = f"{text[:30]!r} is no number; {stage.measure.expected if stage.measure else 'nothing'} is expected"
        return render(request, "bringup/stages.html", _context(build, slug, text, problem), status=422)
    done = request.POST.get("done") == "1"
    services.keep_stage(build=build, slug=slug, done=done, reading=reading, base=base_of(request))
    taken = f", {reading:g} {stage.measure.unit}" if reading is not None and stage.measure else ""
    said = f"{stage.name}: {'done' if done else 'noted, not done'}{taken}."
    journal.note(build, "trial", said, worked=done, page=request.path, subject=f"Stage {stage.name}")
    messages.success(request, f"{stage.name}: {'done' if done else 'noted, not done'}.")
    return redirect(f"{reverse('bringup-stages', args=[build.pk])}{'' if done else f'?stage={slug}'}")


def snapshot(request: HttpRequest, build_id: int, shows: str, key: str) -> HttpResponse:
    """What the virtual panel shows at a stage."""
    build = own_build(request, build_id)
    device = build.to_device()
    check_key(key, snapshot_key(build, device, shows))
    return image(snapshot_png(build, device, shows))
