"""What forms set into sentences share: plain numbers in blanks, and what is wrong in the fields' own names."""

from typing import Any

from django import forms


def short(value: Any) -> Any:
    """A number as a maker would write it: 900 and not 900.0."""
    return f"{value:g}" if isinstance(value, float) and abs(value) < 1e6 else value


class InSentences(forms.BaseForm):
    """Gives every field the look of a blank; numbers with decimals are typed as text.

    `TEXTS` are fields that hold words.
    """

    TEXTS: tuple[str, ...] = ("name",)

    def set_into_sentences(self) -> None:
        """To be called at the end of a form's own `__init__`."""
        for name, field in self.fields.items():
            field.widget.attrs["aria-label"] = field.label
            field.widget.attrs["class"] = "fm-blank" + (" fm-blank--text" if name in self.TEXTS else "")
            if isinstance(field, forms.FloatField):
                field.widget = forms.TextInput(attrs={**field.widget.attrs, "inputmode": "decimal", "size": 6})
                self.initial[name] = short(self.initial.get(name))

    def problems(self) -> list[str]:
        """What is wrong, a sentence a field, in the fields' own names."""
        return [f"{self.fields[name].label}: {' '.join(errors)}" for name, errors in self.errors.items()]
