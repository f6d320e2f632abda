"""Signing in, with the demo in one click where it is offered."""

from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.decorators import method_decorator
from django.views.decorators.http import require_POST

from workshop.accounts.forms import SignInForm, SignUpForm
from workshop.accounts.models import User
from workshop.demo.scenario import USERNAME

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
    person = User.objects.filter(username=USERNAME).first()
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
    return render(request, "problem.html", {"message": "There is nothing at this address, or it is not yours."}, status=404)
