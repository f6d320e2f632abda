"""Room on the disk: nothing more is stored while there is still some left, for a database that meets the very end of its disk
falls over in the middle of taking a picture back, and then nobody can even look."""

import errno
import shutil
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse

NO_ROOM = "There is no room left on the disk of this service, so nothing was stored. Whoever looks after it has to make room."
LEAST_FREE = 200 * 2**20
"""Bytes that stay free: the database makes a large table longer by 64 MiB at once, and takes several pictures of 24 MiB."""
ALWAYS = {"sign-in", "demo-sign-in", "sign-out"}
"""Pages whose forms are taken all the same, so that makers can look at what they have."""


def is_full() -> bool:
    """Whether nothing more should be stored; never where the disk of the database is another machine's."""
    return bool(settings.DATA_FOLDER) and shutil.disk_usage(settings.DATA_FOLDER).free < LEAST_FREE


class RoomMiddleware:
    """Refuses whatever would be stored on a disk that is full, as if the disk itself had refused it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view: Any, args: Any, kwargs: Any) -> None:
        named = request.resolver_match.url_name if request.resolver_match else ""
        if request.method == "POST" and named not in ALWAYS and is_full():
            raise OSError(errno.ENOSPC, NO_ROOM)
