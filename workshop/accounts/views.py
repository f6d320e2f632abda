"""Signing in, with the demo in one click where it is offered."""

from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView
from django.core.exceptions import RequestDataTooBig
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.decorators import method_decorator
from django.views.decorators.http import require_POST

from mosaic.errors import MosaicError
from workshop.accounts.forms import SignInForm, SignUpForm
from workshop.accounts.models import User
from workshop.errors import notice

GONE = (
    "What this page shows is no longer there: it was deleted, or you signed in as somebody else, in another tab. What you set is"
    " still on this page, but nothing was stored."
)
BACKEND = "django.contrib.auth.backends.ModelBackend"


@method_decorator(login_not_required, name="dispatch")
class SignIn(LoginView):
    """The sign-in page."""

    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True
    extra_context = {"offer_demo": settings.OFFER_DEMO}


@login_not_required
@require_POST
def demo_sign_in(request: HttpRequest) -> HttpResponse:
    """Into the demo workshop, where this installation offers it."""
    person = User.objects.filter(username=settings.DEMO_USERNAME).first()
    if not settings.OFFER_DEMO or person is None:
        raise Http404("no demo here")
    login(request, person, backend=BACKEND)
    return redirect("workshop")


@login_not_required
def sign_up(request: HttpRequest) -> HttpResponse:
    """A new account, signed in at once."""
    form = SignUpForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        login(request, form.save(), backend=BACKEND)
        return redirect("workshop")
    return render(request, "accounts/sign_up.html", {"form": form}, status=422 if form.errors else 200)


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
