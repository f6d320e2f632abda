"""Bitmap fonts in BDF (Glyph Bitmap Distribution Format 2.1, 1989), read and written.

One bit a pixel, or two or four: the bits stand fourth on the line SIZE, as later readers of the format take them.
"""

import numpy as np

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.lettering.glyph import BITS, Glyph, Lettering, cropped
from mosaic.quantities import how_many

MOST_BYTES = 8 * 1024 * 1024
MOST_GLYPHS = 65_536
MOST_SIDE = 512


class _Lines:
    """Lines of the file with their numbers, for messages."""

    def __init__(self, text: str) -> None:
        self.lines = text.splitlines()
        self.at = 0

    def next(self) -> list[str] | None:
        while self.at < len(self.lines):
            words = self.lines[self.at].split()
            self.at += 1
            if words and words[0] != "COMMENT":
                return words
        return None

    def wrong(self, words: str) -> BadDescriptionError:
        return BadDescriptionError(f"BDF, line {self.at}: {words}")

    def numbers(self, words: list[str], count: int) -> list[int]:
        try:
            values = [int(float(word)) for word in words[1 : 1 + count]]
        except (ValueError, OverflowError):
            values = []
        if len(values) != count:
            given = " ".join(words[1:]) or "nothing"
            raise self.wrong(f"{words[0]} needs {how_many(count, 'whole number')}; {given} is given")
        return values


def read_bdf(data: bytes, name: str = "the font") -> Lettering:
    """A lettering of a BDF file; glyphs without a code point are left out.

    Raises
    ------
    BadDescriptionError
        The file is no BDF, breaks off, or a bitmap is not of the size that its bounding box says; with the line.
    BadValueError
        It is too large.
    """
    if len(data) > MOST_BYTES:
        raise BadValueError(f"{name} is {len(data) / 2**20:.1f} MiB; BDF up to {MOST_BYTES // 2**20} MiB is accepted")
    lines = _Lines(data.decode("latin-1"))
    first = lines.next()
    if not first or first[0] != "STARTFONT":
        raise BadDescriptionError(f"{name} is no BDF: it does not begin with STARTFONT")
    box, ascent, descent, own_name, bits = [0, 0, 0, 0], None, None, name, 1
    glyphs: dict[int, Glyph] = {}
    while (words := lines.next()) is not None:
        match words[0]:
            case "FONT":
                own_name = " ".join(words[1:]) or name
            case "SIZE" if len(words) > 4:
                bits = lines.numbers(["SIZE", words[4]], 1)[0]
                if bits not in BITS:
                    raise lines.wrong(f"{bits} bits a pixel; 1, 2 and 4 are accepted")
            case "FONTBOUNDINGBOX":
                box = lines.numbers(words, 4)
            case "FONT_ASCENT":
                ascent = lines.numbers(words, 1)[0]
            case "FONT_DESCENT":
                descent = lines.numbers(words, 1)[0]
            case "STARTCHAR":
                glyph = _glyph(lines, box, bits)
                if glyph is not None:
                    glyphs[glyph.code] = glyph
                if len(glyphs) > MOST_GLYPHS:
                    raise lines.wrong(f"more than {MOST_GLYPHS:,} glyphs")
            case "ENDFONT":
                up = box[1] + box[3] if ascent is None else ascent
                down = -box[3] if descent is None else descent
                if not 1 <= up + down <= MOST_SIDE:
                    raise lines.wrong(f"lines of {up + down} px; 1 to {MOST_SIDE} px from ascent to descent are accepted")
                if not glyphs:
                    raise BadDescriptionError(f"{name} has no glyph with a code point (ENCODING)")
                heights = [glyphs[ord(letter)].top if ord(letter) in glyphs else 0 for letter in "Hx"]
                return Lettering(own_name, tuple(glyphs[code] for code in sorted(glyphs)), up, down, bits, {}, *heights)
    raise lines.wrong("the file breaks off before ENDFONT")


def _glyph(lines: _Lines, font_box: list[int], bits: int) -> Glyph | None:
    code, advance, box = -1, None, font_box
    while (words := lines.next()) is not None:
        match words[0]:
            case "ENCODING":
                code = lines.numbers(words, 1)[0]
            case "DWIDTH":
                advance = lines.numbers(words, 1)[0]
            case "BBX":
                box = lines.numbers(words, 4)
            case "BITMAP":
                if not (0 <= box[0] <= MOST_SIDE and 0 <= box[1] <= MOST_SIDE):
                    raise lines.wrong(f"a bounding box of {box[0]} x {box[1]}; 0 to {MOST_SIDE} a side are accepted")
                levels = _bitmap(lines, box, bits)
                if code < 0 or code > 0x10FFFF:
                    return None
                return cropped(code, levels, box[2], box[3] + box[1], box[0] if advance is None else advance)
            case "ENDCHAR":
                raise lines.wrong("a glyph ends without its BITMAP")
    raise lines.wrong("the file breaks off within a glyph")


def _bitmap(lines: _Lines, box: list[int], bits: int) -> np.ndarray:
    width, height = box[0], box[1]
    need = (width * bits + 7) // 8
    rows = []
    while (words := lines.next()) is not None and words[0] != "ENDCHAR":
        try:
            row = bytes.fromhex(words[0])
        except ValueError:
            raise lines.wrong(f"{words[0][:20]!r} is no row of hexadecimal digits") from None
        if len(row) < need:
            raise lines.wrong(f"this row has {len(row)} bytes; its bounding box is {width} wide and needs {need}")
        rows.append(row[:need])
    if words is None:
        raise lines.wrong("the file breaks off within a bitmap")
    if len(rows) != height:
        raise lines.wrong(f"the bitmap has {len(rows)} rows; its bounding box says {height}")
    if not rows or not need:
        return np.zeros((height, width), np.uint8)
    single = np.unpackbits(np.frombuffer(b"".join(rows), np.uint8).reshape(height, need), axis=1)[:, : width * bits]
    weights = (1 << np.arange(bits - 1, -1, -1)).astype(np.uint8)
    return (single.reshape(height, width, bits) * weights).sum(axis=2, dtype=np.uint8)


def bdf_codes(lettering: Lettering) -> set[int]:
    """Code points that it has."""
    return {glyph.code for glyph in lettering.glyphs}


def write_bdf(lettering: Lettering) -> bytes:
    """A lettering as BDF. Kerning has no place in it and is left out."""
    bits = lettering.bits
    depth = f" {bits}" if bits > 1 else ""
    left = min((g.left for g in lettering.glyphs), default=0)
    right = max((g.left + g.width for g in lettering.glyphs), default=1)
    size = lettering.line_height
    out = [
        "STARTFONT 2.1", f"FONT {' '.join(lettering.name.split()) or 'lettering'}", f"SIZE {size} 75 75{depth}",
        f"FONTBOUNDINGBOX {max(1, right - left)} {size} {left} {-lettering.descent}", "STARTPROPERTIES 2",
        f"FONT_ASCENT {lettering.ascent}", f"FONT_DESCENT {lettering.descent}", "ENDPROPERTIES", f"CHARS {len(lettering.glyphs)}",
    ]  # fmt: skip
    for glyph in lettering.glyphs:
        out += [
            f"STARTCHAR U+{glyph.code:04X}", f"ENCODING {glyph.code}", f"SWIDTH {round(glyph.advance * 1000 / max(1, size))} 0",
            f"DWIDTH {glyph.advance} 0", f"BBX {glyph.width} {glyph.height} {glyph.left} {glyph.top - glyph.height}", "BITMAP",
        ]  # fmt: skip
        if glyph.width:
            single = np.unpackbits(glyph.levels[..., None], axis=2)[..., -bits:].reshape(glyph.height, -1)
            out += [row.tobytes().hex().upper() for row in np.packbits(single, axis=1)]
        out.append("ENDCHAR")
    out.append("ENDFONT")
    return ("\n".join(out) + "\n").encode("ascii", "replace")
