"""Versions of a build under a name, and the build as it was on a day: compared, and returned to."""

from django.db import transaction
from django.db.models import QuerySet
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.build_file import read
from mosaic.errors import BadValueError
from mosaic.handover.changes import by_meaning
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents.names import checked_name
from workshop.journal import services as journal
from workshop.journal.models import Version
from workshop.log.days import as_it_was, day_named, days_of, return_to_day
from workshop.log.views import log_context
from workshop.removal import tell_removed
from workshop.stations.build_file import build_file
from workshop.stations.build_file import return_to as stand_as

MOST_VERSIONS = 40


def _versions(build: Build) -> QuerySet[Version]:
    """Its versions, without those in the bin."""
    return Version.objects.filter(build=build)


def keep_version(build: Build, name: str) -> Version:
    """Keep the build as it is under a name.

    Raises
    ------
    BadValueError
        The name is none, or there are too many.
    """
    name = checked_name(name, "the version's name")
    if _versions(build).count() >= MOST_VERSIONS:
        raise BadValueError(f"this build has {MOST_VERSIONS} versions, which is the most; delete one first")
    return Version.objects.create(build=build, name=name, build_file=build_file(build))


def versions(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page; with ?on=DAY the build as it was then."""
    build = own_build(request, build_id)
    on = request.GET.get("on", "")
    context = {
        **log_context(build, "versions"), "versions": _versions(build).defer("build_file"), "days": days_of(build), "on": on,
        "then": as_it_was(build, day_named(on)) if on else None,
    }  # fmt: skip
    return render(request, "log/versions.html", context)


@require_POST
def keep(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep the build as it is."""
    build = own_build(request, build_id)
    keep_version(build, request.POST.get("name", ""))
    return redirect("versions", build.pk)


def _own(request: HttpRequest, build_id: int, version_id: int) -> tuple[Build, Version]:
    build = own_build(request, build_id)
    version = Version.objects.filter(build=build, pk=version_id).first()
    if version is None:
        raise Http404("no such version")
    return build, version


def _kept_before(build: Build, what: str) -> str:
    """Keep the build under a name that says before what it is; gives the name. The oldest of such goes where there is no room."""
    if _versions(build).count() >= MOST_VERSIONS:
        oldest = _versions(build).filter(name__startswith="before ").last() or _versions(build).last()
        if oldest is not None:
            oldest.remove()
    name = f"before {what}"[:80]
    Version.objects.create(build=build, name=name, build_file=build_file(build))
    return name


def compare(request: HttpRequest, build_id: int, version_id: int) -> HttpResponse:
    """A version beside the build as it is."""
    build, version = _own(request, build_id, version_id)
    changes = by_meaning(read(bytes(version.build_file)), read(build_file(build)))
    by_name: dict[str, list[str]] = {}
    for change in changes:
        by_name.setdefault(change.name, []).append(change.words)
    context = {**log_context(build, "versions"), "version": version, "by_name": by_name}
    return render(request, "log/version.html", context)


@require_POST
def return_to(request: HttpRequest, build_id: int, version_id: int) -> HttpResponse:
    """The build becomes what it was; what it is now is kept as a version before."""
    build, version = _own(request, build_id, version_id)
    with transaction.atomic():
        before = _kept_before(build, version.name)
        stand_as(build, bytes(version.build_file), owner=request.user)
        journal.note(build, "note", f"Returned to the version “{version.name}”. Before: the version “{before}”.")
    return redirect("versions", build.pk)


@require_POST
def delete(request: HttpRequest, build_id: int, version_id: int) -> HttpResponse:
    """Delete a version; the build stays as it is."""
    build, version = _own(request, build_id, version_id)
    version.remove()
    tell_removed(request, version)
    return redirect("versions", build.pk)


@require_POST
def return_to_a_day(request: HttpRequest, build_id: int) -> HttpResponse:
    """The documents become what they were at the end of a day; what the build is now is kept as a version before."""
    build = own_build(request, build_id)
    day = day_named(request.POST.get("on", ""))
    with transaction.atomic():
        before = _kept_before(build, f"{day:%Y-%m-%d}")
        changed = return_to_day(build, day)
        journal.note(build, "note", f"Returned to the end of {day}: {changed} documents changed. Before: the version “{before}”.")
    return redirect("versions", build.pk)
