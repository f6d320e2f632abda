"""Forms of station 1."""

from typing import Any

from django import forms

from mosaic.panels.mounting import Opening
from workshop.look.blanks import InSentences


class OpeningForm(InSentences, forms.Form):
    """The window of a bezel, in mm from the module's upper left corner."""

    x_mm = forms.FloatField(min_value=-500, max_value=500, label="From the left, mm")
    y_mm = forms.FloatField(min_value=-500, max_value=500, label="From the top, mm")
    width_mm = forms.FloatField(min_value=0.5, max_value=2000, label="Width, mm")
    height_mm = forms.FloatField(min_value=0.5, max_value=2000, label="Height, mm")
    corner_mm = forms.FloatField(min_value=0, max_value=1000, label="Radius of its corners, mm")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.set_into_sentences()

    def to_opening(self) -> Opening:
        return Opening(**self.cleaned_data)
