"""A font file: which kind it is, what it has, and what its maker allows."""

import gzip
import io
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import freetype
from fontTools.ttLib import TTFont

from mosaic.apart import apart
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.lettering.bdf import bdf_codes, read_bdf
from mosaic.lettering.pcf import pcf_glyph

MOST_BYTES = 16 * 1024 * 1024
MOST_UNFOLDED = 4 * MOST_BYTES
WEB_FONTS = (b"wOFF", b"wOF2")
ACCEPTED = "TTF, OTF, WOFF, WOFF2, BDF and PCF are accepted"
Kind = Literal["outlines", "bdf", "pcf"]


@dataclass(frozen=True)
class Axis:
    """One axis of a variable font, in the font's own units."""

    tag: str
    name: str
    least: float
    usual: float
    most: float


@dataclass(frozen=True)
class Permission:
    """What the font's maker allows by the OS/2 table's fsType, and what that means for an array of pixels."""

    level: Literal["open", "editable", "preview", "restricted", "unsaid"]
    words: str

    @property
    def is_doubtful(self) -> bool:
        return self.level in ("preview", "restricted")


_OPEN = Permission("open", "may be embedded without limits, says the font")
_UNSAID = Permission("unsaid", "a bitmap font does not say; its licence does")


@dataclass(frozen=True)
class FontInfo:
    """What is in a font.

    Attributes
    ----------
    codes : code points that it has glyphs for.
    native_px : height of a pixel font's line; 0 of outlines.
    capital, x_height : heights of H and x, as shares of the em (outlines), or of the native height (pixels).
    """

    name: str
    kind: Kind
    codes: frozenset[int]
    axes: tuple[Axis, ...]
    permission: Permission
    native_px: int
    capital: float
    x_height: float


def kind_of(data: bytes) -> Kind:
    """By content, never by name."""
    if data[:9] == b"STARTFONT":
        return "bdf"
    return "pcf" if data[:4] == b"\x01fcp" else "outlines"


def plain_font(data: bytes, name: str = "the font") -> bytes:
    """The font's own bytes: a gzip about it is taken off.

    Raises
    ------
    BadValueError
        It is too large, packed or unpacked.
    BadDescriptionError
        The gzip is broken.
    """
    _check_size(len(data), name)
    if data[:2] != b"\x1f\x8b":
        return data
    try:
        with gzip.GzipFile(fileobj=io.BytesIO(data)) as packed:
            plain = packed.read(MOST_BYTES + 1)
    except (OSError, EOFError) as error:
        raise BadDescriptionError(f"{name} is a broken gzip; {ACCEPTED}, PCF also as .pcf.gz") from error
    _check_size(len(plain), name)
    return plain


def _check_size(count: int, name: str) -> None:
    if count > MOST_BYTES:
        raise BadValueError(f"{name} is {count / 2**20:.1f} MiB; fonts up to {MOST_BYTES // 2**20} MiB are accepted")


def _check_unfolded(data: bytes, name: str) -> None:
    """Refuse a web font that says it is too large, before it is unfolded (`totalSfntSize` of WOFF and WOFF2)."""
    if data[:4] in WEB_FONTS and len(data) >= 20:
        says = int.from_bytes(data[16:20], "big")
        if says > MOST_UNFOLDED:
            raise BadDescriptionError(
                f"{name} unfolds to {says / 2**20:,.0f} MiB; up to {MOST_UNFOLDED // 2**20} MiB are accepted"
            )


@lru_cache(maxsize=16)
def unpacked(data: bytes) -> bytes:
    """A web font as a plain one."""
    font = TTFont(io.BytesIO(data), lazy=False)
    font.flavor = None
    out = io.BytesIO()
    font.save(out)
    if out.tell() > MOST_UNFOLDED:
        raise ValueError("too large when unpacked")
    return out.getvalue()


def open_face(data: bytes, name: str = "the font") -> freetype.Face:
    """A face of a font file of outlines, or of PCF.

    Raises
    ------
    BadValueError
        It is too large.
    BadDescriptionError
        It is no font, its tables are broken, or it has no Unicode character map.
    """
    _check_size(len(data), name)
    _check_unfolded(data, name)
    try:
        face = freetype.Face(io.BytesIO(unpacked(data) if data[:4] in WEB_FONTS else data))
    except Exception as error:  # the readers of fonts raise whatever their broken tables lead them to
        raise BadDescriptionError(f"{name} is no font that can be read, or its tables are broken; {ACCEPTED}") from error
    try:
        face.select_charmap(freetype.FT_ENCODING_UNICODE)
    except freetype.FT_Exception as error:
        raise BadDescriptionError(f"{name} has no Unicode character map, so its glyphs cannot be told apart") from error
    if not face.is_scalable and kind_of(data) != "pcf":
        raise BadDescriptionError(f"{name} has no outlines; pixel fonts are taken as BDF or PCF")
    return face


@lru_cache(maxsize=32)
@apart()
def font_info(data: bytes, name: str = "the font") -> FontInfo:
    """What is in a font file, gzip taken off before (`plain_font`).

    Raises
    ------
    MosaicError
        As `open_face` and `read_bdf`.
    """
    kind = kind_of(data)
    if kind == "bdf":
        whole = read_bdf(data, name)
        height = whole.line_height
        codes = frozenset(bdf_codes(whole))
        return FontInfo(whole.name, kind, codes, (), _UNSAID, height, whole.capital / height, whole.x_height / height)
    face = open_face(data, name)
    codes = frozenset(code for code, glyph in face.get_chars() if glyph and code <= 0x10FFFF)
    if not codes:
        raise BadDescriptionError(f"{name} has no glyph with a code point")
    own = " ".join(part.decode("utf-8", "replace") for part in (face.family_name, face.style_name) if part)
    own = (own.removesuffix(" Regular").removesuffix(" Book") or name)[:80]
    if kind == "pcf":
        height = face.available_sizes[0].height if face.available_sizes else 0
        if not 1 <= height <= 512:
            raise BadDescriptionError(f"{name} says its lines are {height} px high; 1 to 512 are accepted")
        face.select_size(0)
        shares = [pcf_glyph(face, ord(letter)).top / height if ord(letter) in codes else 0.0 for letter in "Hx"]
        return FontInfo(own, kind, codes, (), _UNSAID, height, *shares)
    shares = [_outline_height(face, letter) for letter in "Hx"]
    return FontInfo(own, kind, codes, _axes(face), _permission(data), 0, *shares)


def _outline_height(face: freetype.Face, letter: str) -> float:
    """Height of a letter's outline as a share of the em; 0 where there is none."""
    if not face.get_char_index(letter):
        return 0.0
    try:
        face.load_char(letter, freetype.FT_LOAD_NO_SCALE)
    except freetype.FT_Exception:
        return 0.0
    return max(0.0, face.glyph.metrics.horiBearingY / face.units_per_EM)


def _axes(face: freetype.Face) -> tuple[Axis, ...]:
    try:
        space = face.get_variation_info()
    except freetype.FT_Exception:
        return ()
    return tuple(Axis(a.tag, a.name or a.tag, a.minimum, a.default, a.maximum) for a in space.axes)


def _permission(data: bytes) -> Permission:
    """By fsType (OpenType, OS/2 table): the least restrictive of its bits counts."""
    try:
        font = TTFont(io.BytesIO(data), lazy=True)
        bits = font["OS/2"].fsType if "OS/2" in font else 0
    except Exception:  # a font that draws but has a broken OS/2 table says nothing
        return Permission("unsaid", "the font does not say; its licence does")
    if not bits & 0xF:
        return _OPEN
    if bits & 0x8:
        return Permission(
            "editable", "may be embedded in documents that can be edited; ask its maker before putting it into a device"
        )
    if bits & 0x4:
        return Permission("preview", "may be embedded for preview and print only: pixels in a device need its maker's leave")
    return Permission("restricted", "must not be embedded: pixels in a device need its maker's leave")
