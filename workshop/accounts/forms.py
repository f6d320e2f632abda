"""Forms of signing in and up."""

from crispy_forms.helper import FormHelper
from django.conf import settings
from django.contrib.auth.forms import AuthenticationForm, UserCreationForm
from django.core.exceptions import ValidationError

from workshop.accounts.models import User

NO_DEMO = "The demo workshop is not offered here. Sign in to a workshop of your own, or open one."


def _helper() -> FormHelper:
    helper = FormHelper()
    helper.form_tag = False
    helper.disable_csrf = True
    return helper


class SignInForm(AuthenticationForm):
    """Name and password."""

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.helper = _helper()

    def confirm_login_allowed(self, user: User) -> None:
        super().confirm_login_allowed(user)
        if user.get_username() == settings.DEMO_USERNAME and not settings.OFFER_DEMO:
            raise ValidationError(NO_DEMO, code="no_demo")


class SignUpForm(UserCreationForm):
    """A new account."""

    class Meta(UserCreationForm.Meta):
        model = User
        fields = ("username", "workshop_name")

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.helper = _helper()
