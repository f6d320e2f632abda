"""The files of a build: made, proved, listed, given out."""

import re
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.forms import to_record
from mosaic.handover.layout import PREFIX_WORDS, FileLayout
from mosaic.numbers import whole_of
from mosaic.source_text import identifier
from workshop.answers import attachment
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.handover.documents import LayoutDocument
from workshop.handover.models import HandOver
from workshop.handover.services import KIND, figures, file_in, last_of, numbered, proof_words
from workshop.handover.tabs import tabs_of
from workshop.jobs import services as jobs
from workshop.jobs.views import shown as job_shown
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

ROLES = {
    "generated": "written again each time", "runtime": "the same for every build", "yours": "yours: written once, never again",
    "data": "for the partition or card", "preview": "pictures of what the glass shows",
}  # fmt: skip
STEPS = 60
PREFIX = re.compile(r"([A-Za-z_][A-Za-z0-9_]{0,15})?")
MEDIA = {"png": "image/png", "bin": "application/octet-stream"}


def page_context(build: Build, here: str) -> dict[str, Any]:
    """The frame, the tabs, the last hand-over, and a job that runs."""
    overview = overview_of(build)
    context: dict[str, Any] = {**frame_context(overview, "hand-over"), "tabs": tabs_of(build, here), "findings": []}
    job = jobs.latest(build=build, kind=KIND)
    if job is not None and (not job.is_over or job.state == "failed"):
        context |= job_shown(job)
    kept = last_of(build)
    if kept is not None:
        context |= {"kept": kept, "proofs": proof_words(kept.proof), **figures(kept)}
    return context


def _layout(request: HttpRequest) -> FileLayout:
    """The layout as it was typed.

    Raises
    ------
    BadValueError, BadDescriptionError
        A prefix or a number is not accepted.
    """
    per_line = whole_of(request.POST.get("per_line"), "bytes a line", 1, 64)
    prefix = request.POST.get("prefix", "").strip()
    plain = {"prefix": prefix, "per_line": per_line, "one_file": request.POST.get("one_file") == "1"}
    if not PREFIX.fullmatch(prefix):
        raise BadValueError(f"the prefix {prefix[:24]!r} cannot begin a name; {PREFIX_WORDS} are accepted")
    return to_record(plain, FileLayout, "the form of the files")  # type: ignore[no-any-return]


@require_POST
def keep_layout(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep how the files are written."""
    build = own_build(request, build_id)
    documents.save_single(LayoutDocument, build=build, base=base_of(request), record=_layout(request))
    return redirect("hand-over", build.pk)


def files(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    context = page_context(build, "hand-over")
    row = shelf.single(build, LayoutDocument)
    context |= {"layout": row.record if row else FileLayout(), "base": row.head_id if row else 0, "document": row}
    kept = context.get("kept")
    if kept is not None:
        groups = [(role, words, [one for one in kept.manifest.files if one.role == role]) for role, words in ROLES.items()]
        context |= {
            "groups": [(role, words, rows, sum(one.size for one in rows)) for role, words, rows in groups if rows],
            "older": HandOver.objects.filter(build=build).defer("archive", "build_file", "manifest", "proof", "sizes")[1:],
            "shown": [one.path for one in kept.manifest.files if one.role == "preview" and one.path.endswith("/typical.png")][:9],
            "folder": identifier(build.name, "build"),
        }  # fmt: skip
    return render(request, "handover/files.html", context)


@require_POST
def make(request: HttpRequest, build_id: int) -> HttpResponse:
    """Begin a hand-over."""
    build = own_build(request, build_id)
    jobs.start(build=build, owner=request.user, kind=KIND, total=STEPS)
    return redirect("hand-over", build.pk)


def take(request: HttpRequest, build_id: int, number: int) -> HttpResponse:
    """A hand-over as one zip."""
    build = own_build(request, build_id)
    row = numbered(build, number)
    if row is None:
        raise Http404("no such hand-over")
    return attachment(bytes(row.archive), f"{identifier(build.name, 'build')}-{number}.zip", "application/zip")


def one_file(request: HttpRequest, build_id: int, number: int, path: str) -> HttpResponse:
    """One file of a hand-over."""
    build = own_build(request, build_id)
    row = numbered(build, number)
    data = file_in(row, path) if row else None
    if data is None:
        raise Http404("no such file")
    ending = path.rpartition(".")[2]
    if ending == "png":
        response = HttpResponse(data, content_type="image/png")
        response["Cache-Control"] = "private, no-store"
        return response
    return attachment(data, path.rpartition("/")[2], MEDIA.get(ending, "text/plain; charset=utf-8"))


def sizes(request: HttpRequest, build_id: int) -> HttpResponse:
    """The budgets as the real files have them."""
    return render(request, "handover/sizes.html", page_context(own_build(request, build_id), "hand-over-sizes"))
