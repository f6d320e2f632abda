"""From a plan to its glyphs: face, size, fallback, spacing, kerning, pictures, touch-ups."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from mosaic.errors import BadValueError
from mosaic.lettering.characters import PRESETS, check_count, codes_in, is_drawn
from mosaic.lettering.coverage import Missing, missing_of
from mosaic.lettering.faces import FACES
from mosaic.lettering.glyph import MOST_REACH_PX, Glyph, Lettering, blank, check_reach
from mosaic.lettering.glyph_edits import edited
from mosaic.lettering.kerning import kerning_units
from mosaic.lettering.outline import Style, rasterised
from mosaic.lettering.pictures import glyph_of_cell
from mosaic.lettering.pixel_font import pixel_lettering
from mosaic.lettering.plan import OWN_FILE, PICTURES_ONLY, LetteringPlan
from mosaic.lettering.sizing import USUAL_CAPITAL, Size, size_of
from mosaic.lettering.source import FontInfo, Permission, font_info
from mosaic.lettering.texts import FieldText, characters_used
from mosaic.strips.cells import Cell

DIGITS = tuple(range(0x30, 0x3A))
BLANK = 0x20
SCREENS, ALL, NONE = "screens", "all", "none"
_NO_FACE = FontInfo("Pictures", "outlines", frozenset(), (), Permission("unsaid", "pictures of your own"), 0, 0.0, 0.0)


USUAL_DISTANCE_MM = 500.0
"""Where nothing is known of the reader."""


@dataclass(frozen=True)
class Sources:
    """What a plan is carried out with.

    Attributes
    ----------
    pitch_mm : from row to row of the panel before its reader.
    font : (bytes, name) of the lettering's own font, if it has one.
    texts : of the build's screens.
    cells : by (reference, name), those of the build's strips and figures that are used.
    distance_mm : from the panel to its reader.
    """

    pitch_mm: float
    font: tuple[bytes, str] | None = None
    texts: tuple[FieldText, ...] = ()
    cells: Mapping[tuple[str, str], Cell] | None = None
    distance_mm: float = USUAL_DISTANCE_MM


@dataclass(frozen=True, eq=False)
class Made:
    """A lettering, and how it came about.

    Attributes
    ----------
    lettering : what is drawn and packed.
    plain : glyphs before they were touched by hand, by code point.
    wanted : the characters asked for. missing : those that nothing stands for.
    replaced, borrowed, drawn : code points whose glyph is another's, the fallback's, a picture.
    set_aside : code points with touch-ups that were made at another size.
    unknown_cells : pictures that are asked for and are not in the build any more.
    """

    lettering: Lettering
    info: FontInfo
    size: Size
    plain: dict[int, Glyph]
    wanted: tuple[int, ...]
    missing: tuple[Missing, ...]
    replaced: dict[int, int]
    borrowed: frozenset[int]
    drawn: frozenset[int]
    edited: frozenset[int]
    set_aside: tuple[int, ...]
    unknown_cells: tuple[str, ...]


def face_of(plan: LetteringPlan, sources: Sources) -> tuple[bytes, str] | None:
    """(bytes, name) of the font; None where there is none but pictures.

    Raises
    ------
    BadValueError
        The plan asks for a file that is not there.
    UnknownNameError
        No face has this name.
    """
    if plan.face == PICTURES_ONLY:
        return None
    if plan.face == OWN_FILE:
        if sources.font is None:
            raise BadValueError("this lettering has no font file of its own; choose a face, or bring a file")
        return sources.font
    face = FACES[plan.face]
    return face.data, face.name


def wanted_codes(plan: LetteringPlan, info: FontInfo, texts: tuple[FieldText, ...]) -> tuple[int, ...]:
    """The characters that a plan asks for, ascending.

    Raises
    ------
    BadValueError
        There are none, or too many.
    """
    if plan.preset == SCREENS:
        codes = {ord(character) for character in characters_used(texts)}
    elif plan.preset == ALL:
        codes = {code for code in info.codes if is_drawn(code)}
    else:
        codes = set() if plan.preset == NONE else {ord(c) for c in PRESETS[plan.preset].characters}
    codes |= codes_in(plan.more) | {use.code for use in plan.pictures}
    codes -= codes_in(plan.left_out)
    check_count(codes)
    return tuple(sorted(codes))


def make(plan: LetteringPlan, sources: Sources) -> Made:
    """Apply a plan.

    Raises
    ------
    MosaicError
        The font, the size or the characters do not do.
    """
    font = face_of(plan, sources)
    info = font_info(*font) if font else _NO_FACE
    size = size_of(plan, info, sources.pitch_mm, sources.distance_mm)
    wanted = wanted_codes(plan, info, sources.texts)
    drawn, unknown = _pictures(plan, sources)
    # A font without a blank gets one: a quarter of its em wide, as type usually has.
    has = info.codes | {BLANK} if font else info.codes
    replaced = {r.code: r.by for r in plan.replacements if r.code in wanted and r.code not in has and r.by in has}
    borrowed = _borrowed(plan, tuple(c for c in wanted if c not in has and c not in replaced and c not in drawn))
    own = tuple(c for c in wanted if c in has and c not in drawn)
    missing = missing_of(tuple(c for c in wanted if c not in drawn and c not in replaced and c not in borrowed), has)

    rendered = tuple(sorted({*own, *replaced.values()} & info.codes))
    base = _rendered(font, info, size, plan, rendered) if font else Lettering("Pictures", (), 0, 0, plan.bits)
    glyphs = {BLANK: blank(BLANK, round(size.em_px / 4))} if font and BLANK not in info.codes else {}
    glyphs |= {glyph.code: glyph for glyph in base.glyphs}
    glyphs |= {code: replace(glyphs[by], code=code) for code, by in replaced.items()}
    glyphs |= _from_fallback(plan, size, info, borrowed)
    glyphs |= drawn
    glyphs = {code: _spaced(glyphs[code], plan.spacing) for code in wanted if code in glyphs}
    if plan.tabular:
        glyphs |= _tabular(glyphs)
    if not glyphs:
        shown = "".join(chr(code) for code in wanted[:12])
        raise BadValueError(f"{info.name} lacks every character asked for ({shown}); choose others, a fallback, or another face")

    check_reach([*glyphs.values()], info.name)
    plain = dict(glyphs)
    now = {t.code: t for t in plan.glyph_edits if t.em_px == size.em_px and t.code in glyphs}
    glyphs |= {code: edited(glyphs[code], touch, base.bits) for code, touch in now.items()}
    aside = sorted({t.code for t in plan.glyph_edits if t.em_px != size.em_px and t.code in glyphs} - set(now))
    kerning = _kerning(plan, font[0], size, own) if plan.kerning and font else {}
    name = f"{font[1]} {size.em_px:g} px" if font else base.name
    lettering = _assembled(replace(base, name=name, kerning=kerning), glyphs, (info, size))
    if not 1 <= lettering.line_height <= MOST_REACH_PX:
        raise BadValueError(f"{info.name} has lines of {lettering.line_height:,} px; 1 to {MOST_REACH_PX:,} px can be drawn")
    return Made(
        lettering, info, size, plain, wanted, missing, replaced, frozenset(borrowed), frozenset(drawn), frozenset(now),
        tuple(aside), unknown,
    )  # fmt: skip


def _style(plan: LetteringPlan) -> Style:
    axes = tuple((axis.tag, axis.value) for axis in plan.axes)
    return Style(plan.mode, plan.bits, plan.threshold, plan.weight, axes)


def _rendered(font: tuple[bytes, str], info: FontInfo, size: Size, plan: LetteringPlan, codes: tuple[int, ...]) -> Lettering:
    data, name = font
    if info.kind == "outlines":
        return rasterised(data, size.em_px, codes, _style(plan), name)
    return pixel_lettering(data, codes, scale=size.scale, bits=plan.bits, bolder_px=max(0, round(plan.weight)), name=name)


def _pictures(plan: LetteringPlan, sources: Sources) -> tuple[dict[int, Glyph], tuple[str, ...]]:
    cells = sources.cells or {}
    full = (1 << plan.bits) - 1
    found = {u.code: glyph_of_cell(cells[u.source, u.cell], u.code, full) for u in plan.pictures if (u.source, u.cell) in cells}
    return found, tuple(u.cell for u in plan.pictures if (u.source, u.cell) not in cells)


def _borrowed(plan: LetteringPlan, codes: tuple[int, ...]) -> tuple[int, ...]:
    if not plan.fallback or not codes:
        return ()
    face = FACES[plan.fallback]
    has = font_info(face.data, face.name).codes
    return tuple(code for code in codes if code in has)


def _from_fallback(plan: LetteringPlan, size: Size, info: FontInfo, codes: tuple[int, ...]) -> dict[int, Glyph]:
    """Glyphs of the fallback, its capitals as high as the face's own."""
    if not codes:
        return {}
    face = FACES[plan.fallback]
    other = font_info(face.data, face.name)
    capital = size.em_px * (info.capital or USUAL_CAPITAL)
    if other.native_px:
        scale = max(1, round(capital / (other.native_px * other.capital)))
        its = Size(float(other.native_px * scale), scale)
    else:
        its = Size(min(256.0, max(4.0, capital / (other.capital or USUAL_CAPITAL))))
    # Its axes are its own: the plan's belong to the first face.
    made = _rendered((face.data, face.name), other, its, replace(plan, axes=()), codes)
    return {glyph.code: glyph for glyph in made.glyphs}


def _spaced(glyph: Glyph, by: int) -> Glyph:
    return replace(glyph, advance=max(0, glyph.advance + by)) if by else glyph


def _tabular(glyphs: dict[int, Glyph]) -> dict[int, Glyph]:
    """Digits in equal room, each in its middle."""
    digits = [glyphs[code] for code in DIGITS if code in glyphs]
    room = max((glyph.advance for glyph in digits), default=0)
    return {g.code: replace(g, left=g.left + (room - g.advance) // 2, advance=room) for g in digits}


def _assembled(base: Lettering, glyphs: dict[int, Glyph], set_as: tuple[FontInfo, Size]) -> Lettering:
    """All glyphs on a line that holds them."""
    info, size = set_as
    inked = [glyph for glyph in glyphs.values() if glyph.width]
    heights = {c: glyphs[ord(c)].top for c in "Hx" if ord(c) in glyphs and glyphs[ord(c)].width}
    return replace(
        base,
        glyphs=tuple(glyphs[code] for code in sorted(glyphs)),
        ascent=max([base.ascent, *(glyph.top for glyph in inked)]),
        descent=max([base.descent, *(-glyph.bottom for glyph in inked)]),
        capital=heights.get("H", round(info.capital * size.em_px)),
        x_height=heights.get("x", round(info.x_height * size.em_px)),
    )


def _kerning(plan: LetteringPlan, font: bytes, size: Size, own: tuple[int, ...]) -> dict[tuple[int, int], int]:
    """Pairs of the face's own glyphs in whole pixels; those that round to none, and of tabular digits, are left out."""
    pairs, em = kerning_units(font, own, tuple((axis.tag, axis.value) for axis in plan.axes))
    digits = set(DIGITS) if plan.tabular else set()
    scaled = {pair: round(by * size.em_px / em) for pair, by in pairs.items() if not (pair[0] in digits and pair[1] in digits)}
    return {pair: by for pair, by in scaled.items() if by}
