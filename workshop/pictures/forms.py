"""The recipe's form: blanks set into sentences, each a typed field of the recipe."""

from typing import Any

from django import forms

from mosaic.errors import MosaicError
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe

FITS = [("cover", "filling it"), ("contain", "inside it"), ("stretch", "stretched to it"), ("none", "pixel for pixel")]
ANCHORS = [
    ("centre", "the centre"), ("top", "the top"), ("bottom", "the bottom"), ("left", "the left"), ("right", "the right"),
    ("top-left", "top left"), ("top-right", "top right"), ("bottom-left", "bottom left"), ("bottom-right", "bottom right"),
]  # fmt: skip
SCALINGS = [("lanczos", "Lanczos, sharp"), ("area", "area average"), ("nearest", "nearest pixel")]
TURNS = [(0, "upright"), (90, "turned right"), (180, "upside down"), (270, "turned left")]
SCANS = [("serpentine", "back and forth"), ("raster", "left to right")]


def _blank(label: str, **attributes: Any) -> dict[str, Any]:
    return {"class": "fm-blank", "aria-label": label, **attributes}


def _select(label: str, options: list[tuple[Any, str]], **more: Any) -> forms.ChoiceField:
    return forms.ChoiceField(label=label, choices=options, widget=forms.Select(attrs=_blank(label)), **more)


def _whole(label: str, top: int) -> forms.IntegerField:
    widget = forms.NumberInput(attrs=_blank(label, inputmode="numeric"))
    return forms.IntegerField(label=label, min_value=0, max_value=top, widget=widget)


def _slide(label: str, low: float, high: float, step: float) -> forms.FloatField:
    attributes = {"type": "range", "class": "fm-slide", "step": step, "min": low, "max": high}
    return forms.FloatField(label=label, min_value=low, max_value=high, widget=forms.NumberInput(attrs=attributes))


class RecipeForm(forms.Form):
    """All of a recipe. What a panel has no use for is left out of the page and keeps its value."""

    crop_width = _whole("cut width in source pixels", 65535)
    crop_height = _whole("cut height in source pixels", 65535)
    crop_x = _whole("cut begins at column", 65535)
    crop_y = _whole("cut begins at row", 65535)
    turn = forms.TypedChoiceField(label="turn", coerce=int, choices=TURNS, widget=forms.Select(attrs=_blank("turn")))
    flip = forms.BooleanField(label="mirrored", required=False)
    fit = _select("fit", FITS)
    anchor = _select("kept part", ANCHORS)
    ground = forms.RegexField(
        r"^#[0-9a-fA-F]{6}$",
        label="ground",
        widget=forms.TextInput(attrs={"type": "color", "class": "fm-swatch", "aria-label": "ground"}),
    )
    scaling = _select("scaling", SCALINGS)
    exposure = _slide("exposure", -2, 2, 0.05)
    contrast = _slide("contrast", 0.5, 2, 0.05)
    saturation = _slide("saturation", 0, 2.5, 0.05)
    invert = forms.BooleanField(label="light and dark exchanged", required=False)
    method = forms.ChoiceField(
        label="method", choices=[(m.name, m.title) for m in METHODS.values()], widget=forms.Select(attrs=_blank("method"))
    )
    threshold = _slide("threshold", 0, 255, 1)
    auto_threshold = forms.BooleanField(label="found by Otsu's method", required=False)
    strength = _slide("strength", 0, 1, 0.01)
    scan = _select("scan", SCANS)
    nominal_share = _slide("vivid share", 0, 100, 1)

    FLAGS = ("flip", "invert", "auto_threshold")

    @classmethod
    def of(cls, recipe: Recipe) -> "RecipeForm":
        """The form filled with a recipe. Fields keep their exact values even between slider steps."""
        return cls(initial={name: getattr(recipe, name) for name in cls.base_fields})

    def clean_threshold(self) -> int:
        return round(self.cleaned_data["threshold"])

    def to_recipe(self, base: Recipe) -> Recipe:
        """The recipe that was filled in; fields the page left out are taken from `base`.

        Raises
        ------
        MosaicError
            The values do not make a recipe.
        """
        given = {k: v for k, v in self.cleaned_data.items() if k in self.data or k in self.FLAGS}
        return base.with_changes(**given)


class RecipeProblemError(MosaicError):
    """The recipe's form was filled in wrongly; the text names each field and what it takes."""


def recipe_from_post(post: Any, base: Recipe) -> Recipe:
    """The recipe of a posted form; a field that is missing keeps its value.

    Raises
    ------
    RecipeProblemError
        A field holds what it cannot take.
    """
    filled = post.copy()
    for name in RecipeForm.base_fields:
        if name not in filled and name not in RecipeForm.FLAGS:
            filled[name] = getattr(base, name)
    form = RecipeForm(filled)
    if not form.is_valid():
        problems = [f"{form.fields[name].label}: {' '.join(errors)}" for name, errors in form.errors.items()]
        raise RecipeProblemError(f"{'; '.join(problems)} The picture stays as it was; what you typed is still there.")
    return form.to_recipe(base)
