"""What changed since a hand-over, and what the maker has changed in a copy of it."""

import difflib

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from workshop.answers import passing_image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents.originals import read_upload
from workshop.handover.models import HandOver
from workshop.handover.services import MOST_COPY, Compared, CopyOfFile, compared, file_in, numbered, read_copy, state_of
from workshop.handover.views import page_context
from workshop.memory import ByteCache

MOST_LINES = 400
_compared = ByteCache("compared hand-overs", 32 * 2**20)


def _row(request: HttpRequest, build: Build) -> HandOver | None:
    """The hand-over that is asked for, else the last one."""
    asked = request.GET.get("since", request.POST.get("since", ""))
    if asked.isdecimal() and len(asked) < 8:
        return numbered(build, int(asked))
    row = HandOver.objects.filter(build=build).first()
    if row is not None:
        row.build = build
    return row


def _difference(build: Build, row: HandOver) -> Compared:
    key = f"{build.pk}-{row.pk}-{state_of(build)}"
    return _compared.get_or_make(key, lambda: compared(build, row), lambda found: sum(len(one.data) for one in found.now.files))


def _page(request: HttpRequest, build: Build, **more: object) -> HttpResponse:
    context = page_context(build, "hand-over-changes")
    row = _row(request, build)
    if row is not None:
        context["since"] = row
        context["numbers"] = list(HandOver.objects.filter(build=build).values_list("number", flat=True))
        try:
            found = _difference(build, row)
            by_name: dict[str, list[str]] = {}
            for change in found.changes:
                by_name.setdefault(change.name, []).append(change.words)
            sizes = [(was, now, now.size - was.size) for was, now in found.files.changed if now.role != "preview"]
            context |= {"found": found, "by_name": by_name, "sizes": sizes, "left": found.now.left}
        except MosaicError as error:
            context["cannot"] = str(error)
    return render(request, "handover/changes.html", context | more, status=422 if "wrong" in more else 200)


def changes(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, own_build(request, build_id))


def now(request: HttpRequest, build_id: int, path: str) -> HttpResponse:
    """A preview as it would be handed over now."""
    build = own_build(request, build_id)
    row = _row(request, build)
    found = next((one for one in _difference(build, row).now.files if one.path == path), None) if row else None
    if found is None or not path.endswith(".png"):
        raise Http404("no such picture")
    return passing_image(found.data)


@require_POST
def copy(request: HttpRequest, build_id: int) -> HttpResponse:
    """The maker's copy is compared with what was handed over: edits in generated files that would be lost."""
    build = own_build(request, build_id)
    row = _row(request, build)
    upload = request.FILES.get("copy")
    try:
        if row is None:
            raise BadValueError("nothing was handed over yet; hand over first")
        if upload is None:
            raise BadValueError("no file was chosen; a zip of the folder of the hand-over is accepted")
        edits = edits_in(row, read_copy(read_upload(upload, MOST_COPY, "copies")))
    except MosaicError as error:
        return _page(request, build, wrong=str(error))
    return _page(request, build, edits=edits, looked_at=upload.name)


def edits_in(row: HandOver, copy_: dict[str, bytes]) -> list[CopyOfFile]:
    """Generated files of a copy that are not as they were handed over, with the lines that differ."""
    found = []
    for one in row.manifest["files"]:
        data = copy_.get(one["path"])
        if data is None or one["role"] not in ("generated", "runtime"):
            continue
        was = file_in(row, one["path"]) or b""
        if data.replace(b"\r\n", b"\n") == was:
            continue
        old, new = (text.decode("utf-8", "replace").splitlines() for text in (was, data))
        lines = [line for line in difflib.unified_diff(old, new, lineterm="", n=1) if not line.startswith(("---", "+++"))]
        found.append(CopyOfFile(one["path"], tuple(lines[:MOST_LINES])))
    return found
