"""Two presses of one button are one: the second has the answer of the first, and nothing is done twice.

Each page gives its forms a token of its own (the one against forgery), so a form that is sent again is known by it.
"""

import hashlib
import time
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.db import IntegrityError, transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone

from workshop.accounts.models import SentForm
from workshop.answers import go_to

TOKEN = "csrfmiddlewaretoken"
SAME_PRESS = timedelta(seconds=10)
"""A form that is sent again later than this after its answer is meant."""
LONGEST_WAIT_S = 20.0
GIVEN_UP = timedelta(minutes=2)
"""A first press without an answer by then was lost with its process."""
KEPT = timedelta(hours=1)
LOOK_EVERY_S = 0.1
UNFINISHED = (
    "This was sent twice, and the first of the two is still being worked on. Look again in a moment: nothing is done twice."
)


def harmless_twice(view: Callable[..., Any]) -> Callable[..., Any]:
    """Mark a view that two presses do no harm to, and that has to answer each of them itself."""
    view.harmless_twice = True  # type: ignore[attr-defined]
    return view


class TwiceMiddleware:
    """Keeps a second press of the same button from doing anything."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        key = getattr(request, "sent_form", "")
        if key:
            location = response.get("HX-Redirect") or (response.get("Location", "") if response.status_code == 302 else "")
            rows = SentForm.objects.filter(key=key)
            if location:
                rows.update(location=location[:2000], answered=timezone.now())
            else:
                rows.delete()
        return response

    def process_view(self, request: HttpRequest, view: Any, args: Any, kwargs: Any) -> HttpResponse | None:
        if request.method != "POST" or not request.POST.get(TOKEN) or getattr(view, "harmless_twice", False):
            return None
        if getattr(request, "htmx", False) and not request.FILES:
            return None  # parts of a page: their changes name the revision that they began from
        key = key_of(request)
        until = time.monotonic() + LONGEST_WAIT_S
        while not _taken(key):
            first = SentForm.objects.filter(key=key).first()
            now = timezone.now()
            if first is None or (first.answered or first.created) < now - (SAME_PRESS if first.answered else GIVEN_UP):
                SentForm.objects.filter(key=key).delete()
            elif first.answered:
                return go_to(request, first.location)
            elif time.monotonic() > until:
                return render(request, "problem.html", {"message": UNFINISHED}, status=409)
            else:
                time.sleep(LOOK_EVERY_S)
        request.sent_form = key  # type: ignore[attr-defined]
        return None


def key_of(request: HttpRequest) -> str:
    """What a form is known by: who sends it where, its token and its values, and the names and sizes of its files."""
    told = [str(getattr(request.user, "pk", "")), request.path, request.POST.urlencode()]
    told += [f"{name} {file.name} {file.size}" for name, files in request.FILES.lists() for file in files]
    return hashlib.sha256("\n".join(told).encode("utf-8", "surrogatepass")).hexdigest()


def _taken(key: str) -> bool:
    """Whether this press is the first."""
    try:
        with transaction.atomic():
            SentForm.objects.create(key=key)
    except IntegrityError:
        return False
    SentForm.objects.filter(created__lt=timezone.now() - KEPT).delete()
    return True
