"""What pages of a build need of a request."""

from django.http import Http404, HttpRequest

from mosaic.errors import BadValueError
from workshop.builds.models import Build


def own_build(request: HttpRequest, build_id: int) -> Build:
    """The person's own build; another's answers as if it were not there."""
    try:
        return Build.objects.get(pk=build_id, owner=request.user)
    except Build.DoesNotExist:
        raise Http404("no such build") from None


def revision_of(request: HttpRequest) -> int:
    """The revision of the build that a posted change began from.

    Raises
    ------
    BadValueError
        It is not told.
    """
    text = request.POST.get("revision", "")
    if not text.isdigit() or len(text) > 9:
        raise BadValueError("this page does not say which revision it began from; load it again")
    return int(text)
