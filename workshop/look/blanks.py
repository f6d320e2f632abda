"""What forms set into sentences share: plain numbers in blanks, and what is wrong in the fields' own names."""

from typing import Any

from django import forms

from mosaic.errors import BadValueError
from mosaic.quantities import in_words, quantity


def short(value: Any) -> Any:
    """A number as a maker would write it: 900 and not 900.0."""
    return f"{value:g}" if isinstance(value, float) and abs(value) < 1e6 else value


class QuantityField(forms.CharField):
    """A whole number of bytes or Hz, typed with or without a unit."""

    def __init__(self, *, unit: str, least: int, most: int, **kwargs: Any) -> None:
        super().__init__(max_length=40, **kwargs)
        self.unit, self.least, self.most = unit, least, most

    def prepare_value(self, value: Any) -> Any:
        return in_words(value, self.unit) if isinstance(value, int) else value

    def clean(self, value: Any) -> int:
        text = super().clean(value)
        try:
            number = quantity(text, self.unit)
        except BadValueError as error:
            raise forms.ValidationError(f"{error}.") from error
        if not self.least <= number <= self.most:
            bounds = f"{in_words(self.least, self.unit)} to {in_words(self.most, self.unit)}"
            raise forms.ValidationError(f"{in_words(number, self.unit)} is outside {bounds}.")
        return number


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
