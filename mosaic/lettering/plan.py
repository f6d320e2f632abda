"""How a lettering is made: face, size, rendering, characters, touch-ups and packing, as it is saved."""

from dataclasses import dataclass, field, replace
from typing import Annotated, Any, Literal

from msgspec import Meta

from mosaic.errors import BadValueError
from mosaic.forms import from_record, to_record

OWN_FILE, PICTURES_ONLY = "file", "pictures"
CodePoint = Annotated[int, Meta(ge=0, le=0x10FFFF)]
Place = Annotated[int, Meta(ge=-512, le=512)]
Shift = Annotated[int, Meta(ge=-64, le=64)]
FULL_INK = 15
"""The level of full ink in a touch-up, whatever the lettering's bits."""
MOST_EDITS = 4096
Touched = Annotated[int, Meta(ge=0, le=FULL_INK)]
SizeBy = Literal["pixels", "capital", "distance"]
Box = Literal["cropped", "cell"]
Order = Literal["rows", "rows-low", "pages", "pages-high", "columns", "columns-low"]
PlanOrder = Literal["arrays", "rows", "rows-low", "pages", "pages-high", "columns", "columns-low"]
GlyphCompression = Literal["plain", "runs"]


@dataclass(frozen=True)
class AxisSetting:
    """What an axis of a variable font is set to, in the font's units."""

    tag: Annotated[str, Meta(max_length=4)]
    value: float


@dataclass(frozen=True)
class Replacement:
    """A character that the face lacks, and the one whose glyph stands for it."""

    code: CodePoint
    by: CodePoint


@dataclass(frozen=True)
class GlyphEdit:
    """What was changed by hand on one glyph, at one size.

    Attributes
    ----------
    em_px : the size it was made at; at another size it is set aside, not lost.
    shift_x, shift_y : pixels to the right and upwards, of glyph and pixels alike.
    advance : pixels added to the advance.
    pixels : (column from the pen, row above the baseline, level of 15) before the shift.
    """

    code: CodePoint
    em_px: float
    shift_x: Shift = 0
    shift_y: Shift = 0
    advance: Shift = 0
    pixels: tuple[tuple[Place, Place, Touched], ...] = ()

    @property
    def is_empty(self) -> bool:
        return not (self.shift_x or self.shift_y or self.advance or self.pixels)


@dataclass(frozen=True)
class PictureUse:
    """A character whose glyph is a cell of a strip or a segmented figure of the build; `source` is its reference."""

    code: CodePoint
    source: Annotated[str, Meta(min_length=1, max_length=40)]
    cell: Annotated[str, Meta(max_length=80)]


@dataclass(frozen=True)
class LetteringPlan:
    """One lettering's description.

    Attributes
    ----------
    face : slug of a face that comes along, `file` for the lettering's own font, `pictures` for none.
    size_by : the em in `size_px`; capitals `capital_mm` high; or capitals that appear under `arc_minutes` at
        the device's distance.
    weight : pixels by which stems grow. spacing : pixels added behind each character.
    kerning : whether the face's pairs are kept. tabular : whether all digits take the same room.
    preset, more, left_out : the characters: a preset ("screens" for those the build's texts need, "all" for every one of
        the face, "none"), further ones, and those that are not wanted.
    fallback : slug of the face that has what this one lacks; "" for none.
    box : glyphs cropped to their ink, or in cells of one size. order : where a byte runs and which
        end its first pixel takes, or "arrays" for the form of the build's arrays.
    ink, ground : palette indices, or 0xRRGGBB on panels without a palette.
    sample : what is shown on the panel; "" shows the build's texts.
    """

    face: str = "hyperlegible"
    size_by: SizeBy = "pixels"
    size_px: Annotated[int, Meta(ge=4, le=256)] = 16
    capital_mm: Annotated[float, Meta(gt=0, le=200)] = 3.0
    arc_minutes: Annotated[float, Meta(ge=4, le=600)] = 20.0
    mode: Literal["hinted", "plain", "light"] = "hinted"
    bits: Literal[1, 2, 4] = 1
    threshold: Annotated[float, Meta(gt=0, le=1)] = 0.5
    weight: Annotated[float, Meta(ge=-2, le=4)] = 0.0
    spacing: Annotated[int, Meta(ge=-16, le=64)] = 0
    kerning: bool = True
    tabular: bool = True
    axes: Annotated[tuple[AxisSetting, ...], Meta(max_length=16)] = ()
    preset: str = "basic"
    more: Annotated[str, Meta(max_length=4096)] = ""
    left_out: Annotated[str, Meta(max_length=4096)] = ""
    fallback: str = ""
    replacements: Annotated[tuple[Replacement, ...], Meta(max_length=256)] = ()
    glyph_edits: Annotated[tuple[GlyphEdit, ...], Meta(max_length=1024)] = ()
    pictures: Annotated[tuple[PictureUse, ...], Meta(max_length=1024)] = ()
    box: Box = "cropped"
    order: PlanOrder = "arrays"
    compression: GlyphCompression = "plain"
    ink: Annotated[int, Meta(ge=0, le=0xFFFFFF)] = 1
    ground: Annotated[int, Meta(ge=0, le=0xFFFFFF)] = 0
    sample: Annotated[str, Meta(max_length=400)] = ""
    form: Literal[1] = field(default=1)

    def with_changes(self, **changes: Any) -> "LetteringPlan":
        """The same with other values, checked.

        Raises
        ------
        BadDescriptionError
            A value lies outside what is accepted.
        """
        return lettering_plan({**from_record(self), **changes})

    def edit_of(self, code: int, em_px: float) -> GlyphEdit:
        """What was changed by hand on a glyph at this size; an empty touch where nothing was."""
        return next((t for t in self.glyph_edits if t.code == code and t.em_px == em_px), GlyphEdit(code, em_px))

    def with_edit(self, touch: GlyphEdit) -> "LetteringPlan":
        """The same with a glyph's touch-up exchanged.

        Raises
        ------
        BadValueError
            It has too many pixels.
        """
        if len(touch.pixels) > MOST_EDITS:
            raise BadValueError(f"{len(touch.pixels):,} pixels of one glyph are set by hand; up to {MOST_EDITS:,} are kept")
        others = tuple(t for t in self.glyph_edits if (t.code, t.em_px) != (touch.code, touch.em_px))
        return replace(self, glyph_edits=others if touch.is_empty else (*others, touch))


def lettering_plan(description: Any) -> LetteringPlan:
    """A plan of its saved form; raises `BadDescriptionError` with what is wrong."""
    return to_record(description, LetteringPlan, "lettering")


def scaled(plan: LetteringPlan, scale: float) -> LetteringPlan:
    """The plan with letters so many times as large, where their size is set in pixels; rounded half up, 4 to 256."""
    if plan.size_by != "pixels" or scale == 1.0:
        return plan
    return plan.with_changes(size_px=max(4, min(256, int(plan.size_px * scale + 0.5))))
