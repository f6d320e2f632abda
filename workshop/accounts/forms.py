"""Forms of signing in and up."""

from crispy_forms.helper import FormHelper
from django.contrib.auth.forms import AuthenticationForm, UserCreationForm

from workshop.accounts.models import User


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


class SignUpForm(UserCreationForm):
    """A new account."""

    class Meta(UserCreationForm.Meta):
        model = User
        fields = ("username", "workshop_name")

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.helper = _helper()
