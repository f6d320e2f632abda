"""What pages of documents of any kind need of a request."""

from django.http import HttpRequest

from mosaic.errors import BadValueError
from mosaic.numbers import row_id
from workshop.documents.models import Upload


def upload_of(request: HttpRequest) -> Upload | None:
    """The picture that was dropped before and comes along from page to page; None where there is none, or it is another's."""
    sha256 = request.POST.get("original") or request.GET.get("original")
    if not sha256:
        return None
    uploads = Upload.objects.filter(owner=request.user, original_id=sha256)
    return uploads.select_related("original").defer("original__data").first()


def base_of(request: HttpRequest) -> int:
    """The revision that a posted change began from; 0 where there was none yet.

    Raises
    ------
    BadValueError
        It is not told.
    """
    base = row_id(request.POST.get("base"))
    if base is None:
        raise BadValueError("this page does not say which revision it began from; load it again")
    return base
