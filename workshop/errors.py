"""Errors of the web side, and the one place where errors of the core become answers."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from mosaic.errors import MosaicError
from workshop.refused import page_again


class ConflictError(MosaicError):
    """Someone else, or another tab, has saved since; nothing was overwritten.

    `head` is the revision that stands now, from which the change can be made after all.
    """

    def __init__(self, text: str, head: int | None = None) -> None:
        super().__init__(text)
        self.head = head


class UnreadableDocumentError(MosaicError):
    """The description of a document cannot be read: it was made by hand, or for parts that the build has no more."""

    def __init__(self, text: str, document: Any) -> None:
        super().__init__(text)
        self.document = document


class CoreErrorMiddleware:
    """Turns an error of the core that no view has dealt with into a page, or a notice for htmx."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        if not isinstance(error, MosaicError):
            return None
        status = 409 if isinstance(error, ConflictError) else 422
        if getattr(request, "htmx", False):
            return notice(request, error, status)
        if isinstance(error, UnreadableDocumentError) and request.method == "GET":
            told = {"document": error.document, "message": message_of(error)}
            return render(request, "documents/unreadable.html", told, status=status)
        again = page_again(request, message_of(error), status)
        return again or render(request, "problem.html", {"message": message_of(error)}, status=status)


def message_of(error: Exception) -> str:
    """The words of an error, as a sentence; a file's name at its head stays as it is written."""
    text = str(error.args[0]) if error.args else str(error)
    first = text.split(" ", 1)[0]
    return text[:1].upper() + text[1:] if "." not in first else text


def notice(request: HttpRequest, error: Exception, status: int = 422) -> HttpResponse:
    """A notice that htmx lays into the page's notice place, and into nothing else."""
    response = render(
        request, "partials/notice.html", {"message": message_of(error), "head": getattr(error, "head", None)}, status=status
    )
    response["HX-Retarget"] = "#notice"
    response["HX-Reswap"] = "outerHTML"
    return response
