"""The way back to where something was begun from: a lettering or a picture that a sentence of a screen needs."""

from typing import Any
from urllib.parse import urlsplit

from django.http import HttpRequest
from django.urls import NoReverseMatch, Resolver404, resolve, reverse
from django.utils.http import url_has_allowed_host_and_scheme

from workshop.documents.models import Document

KEY, LONGEST = "way_back", 300


def way_back(request: HttpRequest) -> dict[str, Any]:
    """For every page: the address that `back` named on the way here, until it is reached."""
    session = getattr(request, "session", None)
    if session is None:
        return {}
    asked = request.GET.get("back", "")
    inside = url_has_allowed_host_and_scheme(asked, None) and asked.startswith("/builds/") and len(asked) <= LONGEST
    if inside:
        session[KEY] = asked
    kept = session.get(KEY, "")
    if kept and urlsplit(kept).path == request.path:
        del session[KEY]
        kept = ""
    takes = _takes(kept) if kept else ""
    return {"way_back": kept, "way_back_takes": takes, "way_back_made": _made(request) if takes else None}


def _made(request: HttpRequest) -> Document | None:
    """The document whose page is shown."""
    match = request.resolver_match
    ident = next((v for name, v in match.kwargs.items() if name.endswith("_id") and name != "build_id"), None) if match else None
    return Document.objects.filter(pk=ident, build_id=match.kwargs.get("build_id")).first() if match and ident else None


def _takes(address: str) -> str:
    """Where the page that one came from takes what was made meanwhile; "" where it takes nothing."""
    parts = urlsplit(address)
    try:
        match = resolve(parts.path)
        return f"{reverse(f'take-into-{match.url_name}', kwargs=match.kwargs)}?{parts.query}"
    except (Resolver404, NoReverseMatch):
        return ""
