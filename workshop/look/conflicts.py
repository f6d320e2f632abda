"""Two tabs saved one form: what differs between what is typed here and what the other has kept."""

from dataclasses import dataclass
from typing import Any

from django import forms

from workshop.look.blanks import short


@dataclass(frozen=True)
class Differing:
    """A field in which two versions differ, each as it would be read."""

    label: str
    mine: str
    theirs: str


def _words(form: forms.ModelForm, name: str, value: Any) -> str:
    choices = dict(getattr(form.fields[name], "choices", ()) or ())
    return str(choices.get(value, "none" if value in (None, "") else short(value)))


def is_stale(form: forms.ModelForm, revision: int) -> bool:
    """Whether a form began from another revision than the row has; it may be saved over that from now on, as it was compared."""
    stale = form.cleaned_data["revision"] != revision
    if stale:
        form.data = form.data.copy()
        form.data["revision"] = str(revision)
    return stale


def differing(form: forms.ModelForm, before: dict[str, Any]) -> list[Differing]:
    """Fields in which a valid form differs from what is kept: `before` holds the kept values, by name."""
    return [
        Differing(str(form.fields[name].label), _words(form, name, value), _words(form, name, before[name]))
        for name, value in form.cleaned_data.items()
        if name in before and value != before[name] and not form.fields[name].widget.is_hidden
    ]
