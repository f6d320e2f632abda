"""Fields that are set into sentences: blanks, choices, slides, each with its name for those who cannot see it."""

from typing import Any

from django import forms


def blank(label: str, **attributes: Any) -> dict[str, Any]:
    """Attributes of a blank that is named by an aria-label."""
    return {"class": "fm-blank", "aria-label": label, **attributes}


def select(label: str, options: list[tuple[Any, str]], **more: Any) -> forms.ChoiceField:
    return forms.ChoiceField(label=label, choices=options, widget=forms.Select(attrs=blank(label)), **more)


def whole(label: str, top: int, least: int = 0) -> forms.IntegerField:
    widget = forms.NumberInput(attrs=blank(label, inputmode="numeric"))
    return forms.IntegerField(label=label, min_value=least, max_value=top, widget=widget)


def flag(label: str) -> forms.BooleanField:
    return forms.BooleanField(label=label, required=False)


def color(label: str) -> forms.RegexField:
    widget = forms.TextInput(attrs={"type": "color", "class": "fm-swatch", "aria-label": label})
    return forms.RegexField(r"^#[0-9a-fA-F]{6}$", label=label, widget=widget)


def slide(label: str, low: float, high: float, step: float, **more: Any) -> forms.FloatField:
    attributes = {"type": "range", "class": "fm-slide", "step": step, "min": low, "max": high, **more}
    return forms.FloatField(label=label, min_value=low, max_value=high, widget=forms.NumberInput(attrs=attributes))


def problems_in_words(form: forms.Form) -> str:
    """What is wrong in a form, field by field."""
    told = [f"{form.fields[name].label}: {' '.join(errors)}" for name, errors in form.errors.items() if name in form.fields]
    return f"{'; '.join(told)} Nothing was changed; what you typed is still there."
