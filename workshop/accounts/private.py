"""Pages of a person are nobody else's: no cache between keeps them, and signing out clears the browser's own."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

PRIVATE = "private, no-cache"
"""A browser may go back to a page with what was typed on it; it asks before it shows one anew."""


class PrivateMiddleware:
    """Marks answers that say nothing of how they may be kept."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if not response.has_header("Cache-Control"):
            response["Cache-Control"] = PRIVATE
        return response
