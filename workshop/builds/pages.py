"""What pages of a build need of a request."""

from typing import Any

from django.http import Http404, HttpRequest

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.json_text import read_json
from mosaic.numbers import whole
from workshop.builds.models import Build


def own_build(request: HttpRequest, build_id: int) -> Build:
    """The person's own build; another's answers as if it were not there."""
    try:
        return Build.objects.get(pk=build_id, owner=request.user)
    except Build.DoesNotExist:
        raise Http404("no such build") from None


def changes_of(request: HttpRequest) -> dict[str, Any]:
    """Changes that a fix or a choice carries as JSON.

    Raises
    ------
    BadValueError
        It is none.
    """
    try:
        changes = read_json(request.POST.get("changes", ""), "the changes")
    except BadDescriptionError:
        changes = None
    if not isinstance(changes, dict):
        raise BadValueError("this fix is malformed; load the page again")
    return changes


def revision_of(request: HttpRequest) -> int:
    """The revision of the build that a posted change began from.

    Raises
    ------
    BadValueError
        It is not told.
    """
    revision = whole(request.POST.get("revision"))
    if revision is None:
        raise BadValueError("this page does not say which revision it began from; load it again")
    return revision
