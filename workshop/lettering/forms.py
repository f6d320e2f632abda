"""The lettering's form: blanks set into sentences, each a field of the plan."""

from typing import Any

from django import forms

from mosaic.color.srgb import parse_hex
from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.forms import from_record
from mosaic.lettering.characters import PRESETS
from mosaic.lettering.faces import FACES
from mosaic.lettering.making import ALL, NONE, SCREENS
from mosaic.lettering.plan import OWN_FILE, PICTURES_ONLY, LetteringPlan
from mosaic.lettering.source import FontInfo
from workshop.look.fields import blank, color, flag, problems_in_words, select, slide, whole

SIZE_BY = [("pixels", "pixels to the em"), ("capital", "height of capitals"), ("distance", "reading distance")]
MODES = [
    ("hinted", "as its maker hinted it"), ("plain", "unhinted, by coverage"), ("light", "fitted to rows by itself"),
]  # fmt: skip
BITS = [(1, "1 bit: ink or none"), (2, "2 bits: 4 levels"), (4, "4 bits: 16 levels")]
BOXES = [("cropped", "cropped to its ink"), ("cell", "in cells of one size")]
BYTE_ORDERS = [
    ("rows", "rows, first pixel high"), ("rows-low", "rows, first pixel low"),
    ("pages", "pages, top pixel low"), ("pages-high", "pages, top pixel high"),
    ("columns", "columns, top pixel high"), ("columns-low", "columns, top pixel low"),
]  # fmt: skip
COMPRESSIONS_OF_GLYPHS = [("plain", "as it is"), ("runs", "as runs")]
MORE_PRESETS = [(SCREENS, "what this build's texts need"), (ALL, "all that the face has"), (NONE, "none but these:")]
COLORS = ("ink", "ground")
AXIS = "axis_"


def _decimal(label: str, least: float, most: float) -> forms.FloatField:
    widget = forms.TextInput(attrs=blank(label, inputmode="decimal", size=5))
    return forms.FloatField(label=label, min_value=least, max_value=most, widget=widget)


def _text(label: str, words: str, most: int, **more: Any) -> forms.CharField:
    widget = forms.TextInput(attrs=blank(label, placeholder=words, autocomplete="off", spellcheck="false"))
    return forms.CharField(label=label, required=False, max_length=most, widget=widget, strip=False, **more)


def _area(label: str, words: str, most: int) -> forms.CharField:
    widget = forms.Textarea(attrs=blank(label, rows=2, spellcheck="false", placeholder=words))
    return forms.CharField(label=label, required=False, max_length=most, strip=False, widget=widget)


class PlanForm(forms.Form):
    """How a lettering is made. A variable face adds a slider for each of its axes."""

    face = select("face", [])
    size_by = select("set by", SIZE_BY)
    size_px = whole("pixels to the em", 256, 4)
    capital_mm = _decimal("height of capitals in mm", 0.1, 200)
    arc_minutes = _decimal("height of capitals in arc-minutes", 4, 600)
    mode = select("rendering", MODES)
    bits = forms.TypedChoiceField(
        label="bits a pixel", choices=BITS, coerce=int, widget=forms.Select(attrs=blank("bits a pixel"))
    )
    threshold = slide("threshold", 0.05, 1, 0.01)
    weight = slide("stems", -1, 3, 0.05)
    spacing = whole("pixels between", 64, -16)
    kerning = flag("pairs kerned as the face does")
    tabular = flag("digits of equal room")
    preset = select("characters", [])
    more = _text("further characters", "and these, or U+2190-U+2193", 4096)
    left_out = _text("characters left out", "but not these", 4096)
    fallback = select("fallback face", [], required=False)
    box = select("box", BOXES)
    order = select("order of bytes", [("arrays", "as the build's arrays"), *BYTE_ORDERS])
    compression = select("kept", COMPRESSIONS_OF_GLYPHS)
    sample = _area("shown on the panel", "the texts of this build", 400)

    def __init__(self, *arguments: Any, device: Device, info: FontInfo | None, own_file: str = "", **named: Any) -> None:
        super().__init__(*arguments, **named)
        self.info = info
        faces = [(slug, face.name) for slug, face in FACES.items()]
        own = [(OWN_FILE, own_file)] if own_file else []
        self.fields["face"].choices = [*own, *faces, (PICTURES_ONLY, "pictures only")]
        self.fields["fallback"].choices = [("", "none"), *faces]
        self.fields["preset"].choices = [*((p.name, p.title) for p in PRESETS.values()), *MORE_PRESETS]
        palette = device.passport.palette
        for name in COLORS:
            self.fields[name] = color(name) if palette is None else select(name, list(enumerate(palette.names)))
        for axis in info.axes if info else ():
            step = 1 if axis.most - axis.least > 20 else 0.01
            self.fields[f"{AXIS}{axis.tag}"] = slide(axis.name.lower(), axis.least, axis.most, step)

    @property
    def axis_fields(self) -> list[Any]:
        """The bound fields of a variable face's axes."""
        return [self[name] for name in self.fields if name.startswith(AXIS)]

    @classmethod
    def of(cls, plan: LetteringPlan, device: Device, info: FontInfo | None, own_file: str = "") -> "PlanForm":
        """The form filled with a plan."""
        initial = {name: getattr(plan, name) for name in (*cls.base_fields, *COLORS)}
        if device.passport.palette is None:
            initial |= {name: f"#{getattr(plan, name):06x}" for name in COLORS}
        set_to = {axis.tag: axis.value for axis in plan.axes}
        initial |= {f"{AXIS}{a.tag}": set_to.get(a.tag, a.usual) for a in (info.axes if info else ())}
        return cls(initial=initial, device=device, info=info, own_file=own_file)

    def to_plan(self, base: LetteringPlan) -> LetteringPlan:
        """The plan that was filled in.

        Raises
        ------
        BadDescriptionError
            The values do not make a plan.
        """
        given = dict(self.cleaned_data)
        axes = {name.removeprefix(AXIS): given.pop(name) for name in list(given) if name.startswith(AXIS)}
        # A face that was exchanged begins with its axes as its maker set them.
        same_face = given["face"] == base.face
        told = [{"tag": tag, "value": value} for tag, value in axes.items()]
        given["axes"] = told if same_face else []
        for name in COLORS:
            given[name] = _color(given[name])
        return base.with_changes(**given)


class PlanProblemError(MosaicError):
    """The lettering's form was filled in wrongly; the text names each field and what it takes."""


def _color(value: str) -> int:
    if value.startswith("#"):
        red, green, blue = parse_hex(value)
        return red << 16 | green << 8 | blue
    return int(value)


def plan_from_post(post: Any, base: LetteringPlan, device: Device, info: FontInfo | None, own_file: str) -> LetteringPlan:
    """The plan of a posted form; a field that is missing keeps its value.

    Raises
    ------
    PlanProblemError
        A field holds what it cannot take.
    """
    shown = PlanForm.of(base, device, info, own_file)
    data = {name: shown.initial.get(name) for name in shown.fields if not isinstance(shown.fields[name], forms.BooleanField)}
    given = {name: post[name] for name in shown.fields if name in post}
    # An unticked box posts nothing: it counts only where the form says that it was there.
    flags = {name: getattr(base, name) for name in ("kerning", "tabular") if "face" not in post}
    form = PlanForm({**data, **flags, **given}, device=device, info=info, own_file=own_file)
    if not form.is_valid():
        raise PlanProblemError(problems_in_words(form))
    return form.to_plan(base)


def plain_changes(plan: LetteringPlan, changes: dict[str, Any]) -> LetteringPlan:
    """A plan with a finding's changes, each of a field that it has; raises `BadDescriptionError`."""
    known = from_record(plan)
    return plan.with_changes(**{name: value for name, value in changes.items() if name in known and name != "form"})
