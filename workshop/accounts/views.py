"""Signing in, with the demo in one click where it is offered."""

import contextlib
from datetime import timedelta

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView, LogoutView
from django.core.exceptions import RequestDataTooBig
from django.db import IntegrityError, transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.decorators import method_decorator

from mosaic.errors import MosaicError
from workshop.accounts.ended import carried_of, page_after_sign_in
from workshop.accounts.forms import SignInForm, SignUpForm
from workshop.accounts.models import User
from workshop.accounts.twice import harmless_twice
from workshop.errors import notice

GONE = (
    "What this page shows is no longer there: it was deleted, or you signed in as somebody else, in another tab. What you set is"
    " still on this page, but nothing was stored."
)
BACKEND = "django.contrib.auth.backends.ModelBackend"


JUST_NOW = timedelta(seconds=30)


@method_decorator([login_not_required, harmless_twice], name="dispatch")
class SignIn(LoginView):
    """The sign-in page."""

    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True
    extra_context = {"offer_demo": settings.OFFER_DEMO}

    def get_context_data(self, **kwargs):
        return super().get_context_data(**kwargs) | {"carried": carried_of(self.request)}

    def form_valid(self, form):
        response = super().form_valid(form)
        stay(self.request)
        return page_after_sign_in(self.request) or response


def stay(request: HttpRequest) -> None:
    """Who signs in after deleting the account keeps it."""
    if User.objects.filter(pk=request.user.pk).exclude(leaves=None).update(leaves=None):
        messages.success(request, "Your account is back, with everything in it.")


@method_decorator(harmless_twice, name="dispatch")
class SignOut(LogoutView):
    """Out of the workshop; what the browser kept of its pages goes, too."""

    def post(self, request: HttpRequest, *args, **kwargs) -> HttpResponse:
        response = super().post(request, *args, **kwargs)
        response["Clear-Site-Data"] = '"cache"'
        return response


@login_not_required
@harmless_twice
def demo_sign_in(request: HttpRequest) -> HttpResponse:
    """Into the demo workshop, where this installation offers it."""
    if request.method != "POST":  # its address stands in the browser where a page came back after signing in
        return redirect("sign-in")
    person = User.objects.filter(username=settings.DEMO_USERNAME).first()
    if not settings.OFFER_DEMO or person is None:
        raise Http404("no demo here")
    login(request, person, backend=BACKEND)
    return page_after_sign_in(request) or redirect("workshop")


@login_not_required
@harmless_twice
def sign_up(request: HttpRequest) -> HttpResponse:
    """A new account, signed in at once; a second press of the button signs in to what the first has made."""
    form = SignUpForm(request.POST or None)
    if request.method == "POST":
        person = None
        if form.is_valid():
            with contextlib.suppress(IntegrityError), transaction.atomic():
                person = form.save()
        person = person or _made_just_now(request)
        if person:
            login(request, person, backend=BACKEND)
            return redirect("workshop")
    return render(request, "accounts/sign_up.html", {"form": form}, status=422 if form.errors else 200)


def _made_just_now(request: HttpRequest) -> User | None:
    """The account that the same form has made a moment ago."""
    lately, password = timezone.now() - JUST_NOW, request.POST.get("password1", "")
    person = User.objects.filter(username=request.POST.get("username", ""), date_joined__gte=lately).first()
    same = request.POST.get("password2") == password
    return person if person and same and person.check_password(password) else None


@login_not_required
def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Nothing here: another's build looks the same as none."""
    if getattr(request, "htmx", False):
        return notice(request, MosaicError(GONE), 404)
    return render(request, "problem.html", {"message": "There is nothing at this address, or it is not yours."}, status=404)


@login_not_required
def not_taken(request: HttpRequest, exception: Exception) -> HttpResponse:
    """A request that is refused before any page sees it, mostly for its size."""
    if isinstance(exception, RequestDataTooBig):
        most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE // 2**20
        text = (
            f"All fields together held more than the {most} MiB that are taken at once. Nothing was stored. Go back: what was "
            "typed is still in the page. Longer texts are taken in parts, or as a file."
        )
    else:
        text = "The browser sent something that no page here sends. Nothing was stored. Go back and try once more."
    if getattr(request, "htmx", False):
        return notice(request, MosaicError(text), 400)
    return render(request, "problem.html", {"message": text}, status=400)
