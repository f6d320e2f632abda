"""Answers to a page whose form is live: what changes at once goes first, in one line of JSON; the HTML of the rest follows.

The page's script asks for this form by the header `X-Live`; htmx and plain forms get the HTML alone.
"""

import json
from collections.abc import Callable, Iterator
from typing import Any

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.template.loader import render_to_string

from mosaic.errors import MosaicError
from workshop.errors import message_of

HEADER = "X-Live"


def is_live(request: HttpRequest) -> bool:
    """Whether the page's own script asks."""
    return HEADER in request.headers


def live_response(
    request: HttpRequest, told: dict[str, Any], template: str, context: Callable[[], dict[str, Any]]
) -> HttpResponse | StreamingHttpResponse:
    """The answer: what is `told` at once, and the parts that a context makes of a template.

    The context is made after the first line has been sent: it is what takes time.
    """
    if not is_live(request):
        return HttpResponse(render_to_string(template, context(), request))

    def parts() -> Iterator[str]:
        yield json.dumps(told) + "\n"
        try:
            yield render_to_string(template, {**context(), "glass_url": ""}, request)
        except MosaicError as error:
            # The first line is on its way already, so what is wrong comes as a part like others.
            yield render_to_string("partials/notice.html", {"message": message_of(error), "oob": True}, request)

    response = StreamingHttpResponse(parts())
    response[HEADER] = "1"
    # Held back to be compressed, the first line would come no sooner than the last.
    response["Content-Encoding"] = "identity"
    return response
