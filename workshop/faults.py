"""When a page cannot be made by no fault of its visitor: the database is away, or the application is wrong.

Neither page asks the database for anything. What was typed is carried along, so that one press sends it again.
"""

import errno
import sys
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.template.loader import render_to_string

from workshop.room import NO_ROOM

FULL = {1021, 1114, 1026, 3, errno.ENOSPC}
"""Errors of the database, and of the system, that mean that there is no room on the disk."""
TOO_LARGE = {1153, 2020}
"""More at once than the database takes, as its server and its client say it."""
BUSY = {1205, 1213}
"""Two writes waited for each other, and this one gave way."""
AGAIN_S = 5
AWAY = "The database does not answer just now; nothing you typed is lost. It comes back by itself within a minute or so."
TOO_MUCH = (
    "This is more than the database of this service takes at once, so it was not stored. A smaller file is accepted;"
    " whoever looks after it can raise its max_allowed_packet to 64M."
)
IN_THE_WAY = "Somebody else was writing the same at this moment, so this was not stored. Send it once more."
WRONG = "This went wrong inside the application and stands in its log. What you typed is still here, but it was not stored."


@login_not_required
def fault(request: HttpRequest) -> HttpResponse:
    """The answer to a request that ended in an error."""
    words, status, away = _told(sys.exc_info()[1])
    part = request.headers.get("HX-Request") == "true"
    context = {"message": words, "away": away, "part": part, "again_s": AGAIN_S}
    if part:
        response = HttpResponse(render_to_string("partials/notice.html", context), status=status)
        response["HX-Retarget"], response["HX-Reswap"] = "#notice", "outerHTML"
    else:
        response = HttpResponse(render_to_string("fault.html", context | _sent(request)), status=status)
    response["Cache-Control"] = "no-store"
    if away:
        response["Retry-After"] = str(AGAIN_S)
    return response


def _told(error: BaseException | None) -> tuple[str, int, bool]:
    """(words, status, whether to try again by itself)."""
    number = error.args[0] if error is not None and error.args and isinstance(error.args[0], int) else None
    if isinstance(error, OSError | OperationalError) and number in FULL:
        return NO_ROOM, 507, False
    if isinstance(error, OperationalError) and number in TOO_LARGE:
        return TOO_MUCH, 413, False
    if isinstance(error, OperationalError) and number in BUSY:
        return IN_THE_WAY, 503, False
    if isinstance(error, OperationalError | InterfaceError):
        return AWAY, 503, True
    return WRONG, 500, False


def _sent(request: HttpRequest) -> dict[str, Any]:
    """What a form held, to be sent again: all but its files."""
    if request.method != "POST":
        return {"path": request.get_full_path(), "fields": None}
    fields = [(name, value) for name, values in request.POST.lists() for value in values if name != "csrfmiddlewaretoken"]
    return {"path": request.get_full_path(), "fields": fields, "token": get_token(request), "had_files": bool(request.FILES)}
