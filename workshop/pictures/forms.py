"""The recipe's form: blanks set into sentences, each a typed field of the recipe."""

from typing import Any

from django import forms

from mosaic.errors import MosaicError
from mosaic.numbers import decimal
from mosaic.pixels.compression import COMPRESSIONS
from mosaic.reduce.methods import METHODS
from mosaic.reduce.pattern import OWN, TILES
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.tone import mid_tone_at, points_apart
from workshop.look.fields import blank, color, flag, select, slide, whole

FITS = [("cover", "crop to fill"), ("contain", "fit inside"), ("stretch", "stretch"), ("none", "pixel for pixel")]
ANCHORS = [
    ("centre", "the centre"), ("top", "the top"), ("bottom", "the bottom"), ("left", "the left"), ("right", "the right"),
    ("top-left", "top left"), ("top-right", "top right"), ("bottom-left", "bottom left"), ("bottom-right", "bottom right"),
]  # fmt: skip
SCALINGS = [
    ("lanczos", "Lanczos, sharp"), ("area", "area average"), ("nearest", "nearest pixel"),
    ("whole", "whole steps, for pixel art"),
]  # fmt: skip
ZONES = [
    ("across", "across the zone line"), ("apart", "each zone apart"), ("upper", "into the upper zone"),
    ("lower", "into the lower zone"),
]  # fmt: skip
PATTERNS = [*((name, name) for name in TILES), (OWN, "drawn by yourself")]
TURNS = [(0, "upright"), (90, "turned right"), (180, "upside down"), (270, "turned left")]
SCANS = [("serpentine", "back and forth"), ("raster", "left to right")]


def method_choices() -> list[tuple[str, list[tuple[str, str]]]]:
    """Reduction methods by family, for a list to choose from."""
    families: dict[str, list[tuple[str, str]]] = {}
    for method in METHODS.values():
        families.setdefault(method.family, []).append((method.name, method.title.removeprefix("Error diffusion, ")))
    return list(families.items())


class RecipeForm(forms.Form):
    """All of a recipe. What a panel has no use for is left out of the page and keeps its value."""

    crop_width = whole("cut width in source pixels", 65535)
    crop_height = whole("cut height in source pixels", 65535)
    crop_x = whole("cut begins at column", 65535)
    crop_y = whole("cut begins at row", 65535)
    turn = forms.TypedChoiceField(label="turn", coerce=int, choices=TURNS, widget=forms.Select(attrs=blank("turn")))
    flip = flag("mirrored")
    fit = select("fit", FITS)
    anchor = select("kept part", ANCHORS)
    ground = color("background")
    scaling = select("scaling", SCALINGS)
    exposure = slide("exposure", -2, 2, 0.05)
    contrast = slide("contrast", 0.5, 2, 0.05)
    saturation = slide("saturation", 0, 2.5, 0.05)
    invert = flag("light and dark exchanged")
    zones = select("zones", ZONES)
    mask = flag("kept as a mask array")
    black_point = slide("black point", 0, 250, 1, **{"aria-label": "black point"})
    white_point = slide("white point", 5, 255, 1, **{"aria-label": "white point"})
    mid_tone = forms.FloatField(label="mid tone", min_value=0.2, max_value=5, widget=forms.HiddenInput)
    local_contrast = slide("local contrast", 0, 1, 0.05)
    sharpening = slide("sharpening", 0, 2, 0.05)
    method = select("method", method_choices())
    threshold = slide("threshold", 0, 255, 1)
    auto_threshold = flag("found by Otsu's method")
    strength = slide("strength", 0, 1, 0.01)
    scan = select("scan", SCANS)
    noise = slide("threshold noise", 0, 1, 0.02)
    error_limit = slide("error limit", 0, 1, 0.02)
    window = whole("window side in pixels", 99, 3)
    pattern = select("pattern", PATTERNS)
    tile = forms.CharField(
        label="drawn tile", max_length=71, required=False, widget=forms.TextInput(attrs=blank("drawn tile", spellcheck="false"))
    )
    polish = flag("polished by search")
    left_out = forms.MultipleChoiceField(label="colours left out", required=False, widget=forms.CheckboxSelectMultiple)
    nominal_share = slide("vivid share", 0, 100, 1)
    compression = select("compression", [(way.name, way.title) for way in COMPRESSIONS.values()])

    FLAGS = ("flip", "invert", "auto_threshold", "mask", "polish", "left_out")
    """Fields that say no by not being sent. A page that does not show one sends its name in `unseen`."""

    def __init__(self, *arguments: Any, colors: tuple[str, ...] = (), only: set[str] | None = None, **named: Any) -> None:
        if only is not None:
            # Copying and checking fields is most of the form's work; while a slider moves, one has changed.
            self.base_fields = {name: field for name, field in self.base_fields.items() if name in only}
        super().__init__(*arguments, **named)
        if "left_out" in self.fields:
            self.fields["left_out"].choices = [(name, name) for name in colors]

    @classmethod
    def of(cls, recipe: Recipe, colors: tuple[str, ...] = ()) -> "RecipeForm":
        """The form filled with a recipe. Fields keep their exact values even between slider steps."""
        return cls(initial={name: getattr(recipe, name) for name in cls.base_fields}, colors=colors)

    def clean_threshold(self) -> int:
        return round(self.cleaned_data["threshold"])

    def clean_black_point(self) -> int:
        return round(self.cleaned_data["black_point"])

    def clean_white_point(self) -> int:
        return round(self.cleaned_data["white_point"])

    def to_recipe(self, base: Recipe) -> Recipe:
        """The recipe that was filled in; fields the page left out are taken from `base`.

        Raises
        ------
        MosaicError
            The values do not make a recipe.
        """
        given = dict(self.cleaned_data)
        if not given.get("tile"):
            given.pop("tile", None)
        return base.with_changes(**given)


class RecipeProblemError(MosaicError):
    """The recipe's form was filled in wrongly; the text names each field and what it takes."""


def _is_changed(post: Any, name: str, value: Any) -> bool:
    """Whether a posted field says something else than the recipe; one that was not posted says nothing."""
    if name in RecipeForm.FLAGS:
        if name in post.getlist("unseen"):
            return False
        told = post.getlist(name)
        return tuple(told) != value if isinstance(value, tuple) else bool(told and told[-1] not in ("", "False")) != value
    return name in post and post[name] != str(value)


def with_points(post: Any, base: Recipe) -> Any:
    """A posted form whose three points of the tone suit each other: `held` names the one that a hand has moved."""
    held = post.get("held", "")
    if held not in ("black_point", "white_point", "mid_place"):
        return post
    told = [decimal(post.get(name), -1000, 1000) for name in ("black_point", "white_point", "mid_place")]
    if None in told:
        return post  # the form says what is wrong with it
    black, white, place = map(round, told)
    post = post.copy()
    black, white = points_apart(black, white, black_held=held == "black_point")
    post["black_point"], post["white_point"] = str(black), str(white)
    if held == "mid_place":
        post["mid_tone"] = str(mid_tone_at(place, black, white))
    return post


def recipe_from_post(post: Any, base: Recipe, colors: tuple[str, ...] = ()) -> Recipe:
    """The recipe of a posted form; a field that is missing keeps its value. `colors` are those of the panel's palette.

    Raises
    ------
    RecipeProblemError
        A field holds what it cannot take.
    """
    post = with_points(post, base)
    changed = {name for name in RecipeForm.base_fields if _is_changed(post, name, getattr(base, name))}
    # A colour that was left out for another panel may stay so; it is told where it matters.
    form = RecipeForm(post, colors=tuple(dict.fromkeys((*colors, *base.left_out))), only=changed)
    if not form.is_valid():
        problems = [f"{form.fields[name].label}: {' '.join(errors)}" for name, errors in form.errors.items()]
        raise RecipeProblemError(f"{'; '.join(problems)} The picture stays as it was; what you typed is still there.")
    return form.to_recipe(base)
