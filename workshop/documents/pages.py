"""What pages of documents of any kind need of a request."""

from django.http import HttpRequest

from mosaic.errors import BadValueError


def base_of(request: HttpRequest) -> int:
    """The revision that a posted change began from; 0 where there was none yet.

    Raises
    ------
    BadValueError
        It is not told.
    """
    text = request.POST.get("base", "")
    if not text.isdigit() or len(text) > 18:
        raise BadValueError("this page does not say which revision it began from; load it again")
    return int(text)
