"""The recipe: everything said about how a picture becomes packed pixels."""

from dataclasses import dataclass, fields, replace
from typing import Annotated, Any, Literal, get_args, get_type_hints

from msgspec import Meta

from mosaic.color.srgb import parse_hex
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.forms import from_record, to_record
from mosaic.json_text import read_json
from mosaic.numbers import MOST_WHOLE, decimal, whole
from mosaic.reduce.region import MAX_REGIONS, MAX_RUNS, Region, Run

Fit = Literal["contain", "cover", "stretch", "none"]
Anchor = Literal["top-left", "top", "top-right", "left", "centre", "right", "bottom-left", "bottom", "bottom-right"]
Scaling = Literal["area", "lanczos", "nearest", "whole"]
Zones = Literal["across", "apart", "upper", "lower"]
Compression = Literal["none", "packbits", "run-length"]
Scan = Literal["raster", "serpentine"]
Turn = Literal[0, 90, 180, 270]

Whole = Annotated[int, Meta(ge=0, le=65535)]


@dataclass(frozen=True)
class Recipe:
    """How one picture is taken, fitted, toned and reduced. Each field has one unit and range.

    Attributes
    ----------
    crop_x, crop_y, crop_width, crop_height : source pixels, before turning; a width or height
        of 0 takes all there is.
    turn : degrees clockwise; flip : mirrored left to right, after turning.
    fit : how the cut fits the panel; anchor : which part stays where something is cut or left over.
    ground : "#rrggbb" behind transparent parts and beside a contained picture.
    scaling : filter, in linear light; "whole" repeats or leaves out whole pixels by a whole factor.
    zones : on panels of two zones, one picture across the line, each zone reduced apart, or the
        picture within the upper or lower zone alone.
    mask : keep which pixels are opaque as a second array.
    exposure : stops. black_point, white_point : encoded grey that becomes black, and white. mid_tone :
        power of the tones between, above 1 is lighter. contrast, saturation : factors, 1 leaves as is.
        local_contrast : share by which tones stand out from the mean about them. sharpening : share
        by which edges do, at the panel's own pixels. invert : light and dark exchanged.
    method : name of a reduction method. threshold : encoded grey 0 to 255 for plain threshold;
        auto_threshold : found by Otsu's method instead.
    strength : share of the error or of the pattern that is used. scan : order of diffusion.
    noise : threshold noise of diffusion, share of the step between two levels. error_limit : most
        that diffusion carries into one pixel, share of the range from dark to light; 1 is no limit.
    window : side of the square, in panel pixels, whose mean is the local threshold.
    pattern : name of a tile of the pattern fill, or "own" for `tile`, rows of ranks separated by "/".
    polish : search for a better arrangement of pixels after the reduction.
    nominal_share : per cent of the nominal palette in the blend: 0 faithful, 100 vivid.
    left_out : names of palette colours that are not to be used.
    regions : parts with a method of their own; a later one lies over an earlier.
    pixel_edits : rows of pixels set by hand on the result.
    compression : how the packed bytes are compressed for keeping in a program or a file.
    """

    crop_x: Whole = 0
    crop_y: Whole = 0
    crop_width: Whole = 0
    crop_height: Whole = 0
    turn: Turn = 0
    flip: bool = False
    fit: Fit = "cover"
    anchor: Anchor = "centre"
    ground: str = "#ffffff"
    scaling: Scaling = "lanczos"
    zones: Zones = "across"
    mask: bool = False
    exposure: Annotated[float, Meta(ge=-3, le=3)] = 0.0
    black_point: Annotated[int, Meta(ge=0, le=250)] = 0
    white_point: Annotated[int, Meta(ge=5, le=255)] = 255
    mid_tone: Annotated[float, Meta(ge=0.2, le=5)] = 1.0
    contrast: Annotated[float, Meta(ge=0.2, le=3)] = 1.0
    saturation: Annotated[float, Meta(ge=0, le=3)] = 1.0
    local_contrast: Annotated[float, Meta(ge=0, le=1)] = 0.0
    sharpening: Annotated[float, Meta(ge=0, le=2)] = 0.0
    invert: bool = False
    method: str = "floyd-steinberg"
    threshold: Annotated[int, Meta(ge=0, le=255)] = 128
    auto_threshold: bool = False
    strength: Annotated[float, Meta(ge=0, le=1)] = 1.0
    scan: Scan = "serpentine"
    noise: Annotated[float, Meta(ge=0, le=1)] = 0.0
    error_limit: Annotated[float, Meta(ge=0, le=1)] = 1.0
    window: Annotated[int, Meta(ge=3, le=99)] = 15
    pattern: Annotated[str, Meta(max_length=20)] = "hatch"
    tile: Annotated[str, Meta(max_length=71)] = "03/21"
    polish: bool = False
    nominal_share: Annotated[float, Meta(ge=0, le=100)] = 0.0
    left_out: tuple[str, ...] = ()
    regions: Annotated[tuple[Region, ...], Meta(max_length=MAX_REGIONS)] = ()
    pixel_edits: Annotated[tuple[Run, ...], Meta(max_length=MAX_RUNS)] = ()
    compression: Compression = "none"
    form: Literal[1] = 1

    def __post_init__(self) -> None:
        parse_hex(self.ground)
        if self.white_point < self.black_point + 5:
            raise BadValueError(
                f"white point {self.white_point} and black point {self.black_point}: white must lie at least 5 above black"
            )

    def for_region(self, region: Region) -> "Recipe":
        """The recipe by which a region is reduced."""
        return replace(self, regions=(), **region.settings)

    def without_places(self) -> "Recipe":
        """What can go to another picture: no crop, no regions, no pixels set by hand."""
        return replace(self, crop_x=0, crop_y=0, crop_width=0, crop_height=0, regions=(), pixel_edits=())

    def with_changes(self, **changes: Any) -> "Recipe":
        """A checked copy with these fields changed.

        Raises
        ------
        BadDescriptionError
            A field is unknown or a value out of range.
        """
        unknown = set(changes) - set(field_names())
        if unknown:
            raise BadDescriptionError(f"recipe: no field {', '.join(sorted(unknown))}; known: {', '.join(field_names())}")
        return to_record(from_record(replace(self, **changes)), Recipe, "recipe")


def field_names() -> tuple[str, ...]:
    """The fields a maker may set, in order."""
    return tuple(f.name for f in fields(Recipe) if f.name != "form")


def recipe_from_plain(value: Any) -> Recipe:
    """A recipe of plain nested values, checked."""
    return to_record(value, Recipe, "recipe")


def recipe_to_plain(recipe: Recipe) -> dict[str, Any]:
    """Plain values of a recipe, ready for JSON."""
    return from_record(recipe)


def recipe_from_json(text: str | bytes) -> Recipe:
    """A recipe of its JSON form (`docs/formats/recipe.schema.json`)."""
    return recipe_from_plain(read_json(text, "recipe"))


def field_from_text(name: str, text: str) -> Any:
    """The typed value of one field given as text, as on a command line.

    >>> field_from_text("strength", "0.5"), field_from_text("flip", "true")
    (0.5, True)

    Raises
    ------
    BadValueError
        The field is unknown, or the text is no value of its type.
    """
    if name not in field_names():
        raise BadValueError(f"no recipe field is named {name!r}; known: {', '.join(field_names())}")
    default = getattr(Recipe(), name)
    try:
        if isinstance(default, bool):
            return {"true": True, "yes": True, "1": True, "false": False, "no": False, "0": False}[text.lower()]
        if isinstance(default, tuple):
            return _list_from_text(name, text)
        if isinstance(default, str):
            return text
        number = whole(text, -MOST_WHOLE) if isinstance(default, int) else decimal(text)
        if number is None:
            raise ValueError("no number")
        return number
    except (KeyError, ValueError):
        raise BadValueError(f"{name} is {text[:40]!r}; it takes {accepted(name)}") from None


def _list_from_text(name: str, text: str) -> list[Any]:
    if name == "left_out":
        return [word.strip() for word in text.split(",") if word.strip()]
    value = read_json(text, name)
    if not isinstance(value, list):
        raise ValueError("no list")
    return value


def accepted(name: str) -> str:
    """What a field takes, in words."""
    hint = get_type_hints(Recipe, include_extras=True)[name]
    if hint is bool:
        return "true or false"
    if getattr(hint, "__origin__", None) is Literal:
        return ", ".join(str(v) for v in get_args(hint))
    if name in LISTS:
        return LISTS[name]
    for meta in getattr(hint, "__metadata__", ()):
        if meta.max_length is not None:
            return f"a text of up to {meta.max_length} characters"
        kind = "a whole number" if hint.__origin__ is int else "a number"
        return f"{kind} from {meta.ge} to {meta.le}"
    return "a colour such as #ffffff" if name == "ground" else "a name"


LISTS = {
    "left_out": "names of the panel's colours, separated by commas",
    "regions": 'a list in JSON, such as [{"shape":"rect","corners":[[0,0],[40,16]],"method":"threshold"}]',
    "pixel_edits": "a list in JSON of [x, y, how many, colour]",
}


def choices(name: str) -> tuple[Any, ...]:
    """The values of a field that takes one of a few."""
    return get_args(get_type_hints(Recipe)[name])
