"""A page that outlived its session: what happened is said, and what was typed stands in its form once more.

A form sent without a session leads to the sign-in page, which carries what was typed along. After signing in, the page that
the form was on is made anew with it, and a press of the same button stores it.
"""

from typing import Any

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.middleware import LoginRequiredMiddleware
from django.http import HttpRequest, HttpResponse, QueryDict
from django.middleware.csrf import get_token
from django.shortcuts import render, resolve_url

from mosaic.errors import MosaicError
from workshop.accounts.forms import SignInForm
from workshop.errors import notice
from workshop.live import is_live
from workshop.refused import asked_from, page_with

MOST_CARRIED = 1_500_000
ENDED = "Your session had ended, so nothing was stored. Sign in again: what you typed comes back in its form."
ENDED_PART = "Your session has ended, so nothing was stored. Sign in in another tab, then do this once more here."
BACK = "You are signed in again. What you typed stands here; nothing of it is stored yet, so press the button once more."
OLD_PART = "You signed in again since this page was loaded, so nothing was stored. Do it once more: this page is now good for it."
OLD_PAGE = "You signed in again since this page was loaded, so nothing was stored."
TYPED_AGAIN = " What you typed stands here; press the button once more."
FOREIGN = "This form did not come from a page of this workshop, or cookies are switched off. Nothing was stored."


def is_part(request: HttpRequest) -> bool:
    """Whether a script asks for a part of a page that stays where it is."""
    return bool(getattr(request, "htmx", False)) or is_live(request)


class SessionMiddleware(LoginRequiredMiddleware):
    """Asks for a sign-in where one is needed, and loses nothing that was typed."""

    def handle_no_permission(self, request: HttpRequest, view_func: Any) -> Any:
        if is_part(request):
            return notice(request, MosaicError(ENDED_PART), 401)
        if request.method != "POST":
            return super().handle_no_permission(request, view_func)
        return sign_in_again(request)


def sign_in_again(request: HttpRequest) -> HttpResponse:
    """The sign-in page, with what was typed in fields that nobody sees."""
    came = asked_from(request)
    typed = request.POST.urlencode()
    carried = {"came_path": came[0], "came_query": came[1], "form_path": request.path, "typed": typed} if came else {}
    context = {
        "form": SignInForm(request), "problem": ENDED, "offer_demo": settings.OFFER_DEMO, "next": came[0] if came else "",
        "carried": carried if len(typed) <= MOST_CARRIED else {}, "sign_in_at": resolve_url(settings.LOGIN_URL),
    }  # fmt: skip
    return render(request, "accounts/sign_in.html", context, status=401)


def carried_of(request: HttpRequest) -> dict[str, str]:
    """What the sign-in page carries along, to be carried further after a wrong password."""
    names = ("came_path", "came_query", "form_path", "typed")
    return {name: request.POST.get(name, "") for name in names} if request.POST.get("form_path") else {}


def page_after_sign_in(request: HttpRequest) -> HttpResponse | None:
    """The page that a form was on, with what was typed before the session ended; None where nothing was carried along."""
    carried = carried_of(request)
    if not carried:
        return None
    typed = QueryDict(carried["typed"], mutable=False)
    return page_with(request, (carried["came_path"], carried["came_query"]), carried["form_path"], typed, BACK, 200)


@login_not_required
def refused_as_forged(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A form whose token does not hold: most often a tab from before the last sign-in."""
    came = asked_from(request)
    if came is None:
        return render(request, "problem.html", {"message": FOREIGN}, status=403)
    if not request.user.is_authenticated:
        return notice(request, MosaicError(ENDED_PART), 401) if is_part(request) else sign_in_again(request)
    if is_part(request):
        response = notice(request, MosaicError(OLD_PART), 403)
        response["X-Fresh-Token"] = get_token(request)
        return response
    again = page_with(request, came, request.path, request.POST, OLD_PAGE + TYPED_AGAIN, 403)
    return again or render(request, "problem.html", {"message": OLD_PAGE}, status=403)
