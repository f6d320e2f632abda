"""Answers that many pages give: a PNG, a file to take, the way to another page."""

import base64

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.utils.http import url_has_allowed_host_and_scheme

FOR_EVER = "private, max-age=31536000, immutable"


def image(data: bytes) -> HttpResponse:
    """A PNG under an address that holds the key of all it depends on, so that it never grows old."""
    response = HttpResponse(data, content_type="image/png")
    response["Cache-Control"] = FOR_EVER
    return response


def check_key(asked: str, key: str) -> None:
    """Refuse an image's address whose key is not that of what it would show: it would be kept for ever under a wrong name.

    Raises
    ------
    Http404
        The keys differ.
    """
    if asked != key:
        raise Http404("what is shown at this address has changed, and has another address now")


def passing_image(data: bytes) -> HttpResponse:
    """A PNG that is not kept: its address says nothing of what it depends on."""
    response = HttpResponse(data, content_type="image/png")
    response["Cache-Control"] = "private, no-store"
    return response


def inline_png(data: bytes) -> str:
    """A picture inside its own address."""
    return f"data:image/png;base64,{base64.b64encode(data).decode()}"


def attachment(data: bytes | str, file_name: str, media_type: str) -> HttpResponse:
    """A file to take; it is made anew each time."""
    response = HttpResponse(data, content_type=media_type)
    response["Content-Disposition"] = f'attachment; filename="{file_name}"'
    response["Cache-Control"] = "private, no-store"
    return response


def page_before(request: HttpRequest) -> str:
    """Address of the page of ours from which a form was sent; "" where the browser does not say, or it was none of ours."""
    came_from = request.META.get("HTTP_REFERER", "")
    inside = url_has_allowed_host_and_scheme(came_from, {request.get_host()}, require_https=request.is_secure())
    return came_from if inside else ""


def go_to(request: HttpRequest, address: str) -> HttpResponse:
    """Lead the browser to a page, also from a part of one."""
    if not request.htmx:  # type: ignore[attr-defined]
        return redirect(address)
    response = HttpResponse(status=204)
    response["HX-Redirect"] = address
    return response
