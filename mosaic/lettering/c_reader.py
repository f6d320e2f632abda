"""A C99 header of a lettering: pixels, an index that holds only what differs, and a small reader that draws lines."""

from mosaic.exports.code import hex_lines
from mosaic.lettering.packing import FIELDS, Packed, Table, integer_type
from mosaic.source_text import comment, identifier
from mosaic.tables import PLAIN, TableStyle, entry_reader

_PLACES = {
    "rows": ("column", "(uint32_t)row * ((uint32_t)(width * {W}_BITS + 7) / 8) + bit / 8"),
    "pages": ("row", "bit / 8 * (uint32_t)width + (uint32_t)column"),
    "columns": ("row", "(uint32_t)column * ((uint32_t)(height * {W}_BITS + 7) / 8) + bit / 8"),
}
"""What counts the bits of a byte, and where the byte lies behind the glyph's first."""
_PLAIN = """
                uint32_t bit = (uint32_t){counted} * {W}_BITS;
                uint8_t byte = TABLE_READ({w}_pixels + at + {place});
                uint8_t level = (uint8_t)(byte >> ({shift})) & {W}_FULL;"""
_RUNS = """
                if (!run) {{
                    uint8_t byte = TABLE_READ({w}_pixels + at);
                    at++;
                    level = (uint8_t)(byte >> (8 - {W}_BITS));
                    run = (uint32_t)(byte & (0xFF >> {W}_BITS)) + 1;
                }}
                run--;"""
_READER = """
/* The number of a code point's glyph, or -1. */
static inline int32_t {w}_find(uint32_t code)
{{
    uint32_t low = 0, high = {W}_RANGES;
    while (low < high) {{
        uint32_t middle = low + (high - low) / 2;
        if ({w}_range_at(middle).first + (uint32_t){w}_range_at(middle).count <= code) low = middle + 1; else high = middle;
    }}
    if (low == {W}_RANGES || code < {w}_range_at(low).first) return -1;
    return (int32_t)({w}_range_at(low).glyph + (code - {w}_range_at(low).first));
}}
{kern}
/* Gets each pixel that has ink, and its level, 1 to {W}_FULL. Where glyphs meet, the stronger level should stay. */
typedef void {w}_put(int32_t x, int32_t y, uint8_t level, void *with);

/* Draws one glyph with the pen at x and the baseline at y. */
static inline void {w}_glyph(int32_t g, int32_t x, int32_t y, {w}_put *put, void *with)
{{
    const int32_t width = {W}_WIDTH(g), height = {W}_HEIGHT(g);
    uint32_t at = {W}_OFFSET(g);{state}
    for (int32_t page = 0; page < height; page += {W}_PAGE)
        for (int32_t column = 0; column < width; column++)
            for (int32_t row = page; row < page + {W}_PAGE && row < height; row++) {{{level}
                if (level) put(x + {W}_LEFT(g) + column, y - {W}_TOP(g) + row, level, with);
            }}
}}

/* Takes one line of UTF-8 with the pen at x and its baseline at y; gives the pen's last place. Without put it measures. */
static inline int32_t {w}_draw(const char *text, int32_t x, int32_t y, {w}_put *put, void *with)
{{
    const uint8_t *at = (const uint8_t *)text;
    int32_t last = -1;
    while (*at) {{
        uint32_t code = *at++;
        int more = code >= 0xF0 ? 3 : code >= 0xE0 ? 2 : code >= 0xC0 ? 1 : 0;
        if (more) code &= (uint32_t)(0x3F >> more);
        while (more-- > 0 && (*at & 0xC0) == 0x80) code = code << 6 | (*at++ & 0x3F);
        int32_t g = {w}_find(code);
        if (g < 0) continue;
        if (last >= 0) x += {w}_kern(last, g);
        if (put) {w}_glyph(g, x, y, put, with);
        x += {W}_ADVANCE(g);
        last = g;
    }}
    return x;
}}
"""
_KERN = """
/* Pixels by which the second of two glyphs moves. */
static inline int32_t {w}_kern(int32_t first, int32_t second)
{{
    uint32_t low = 0, high = {W}_PAIRS;
    while (low < high) {{
        uint32_t middle = low + (high - low) / 2;
        int32_t a = {w}_pair_at(middle).first, b = {w}_pair_at(middle).second;
        if (a < first || (a == first && b < second)) low = middle + 1; else high = middle;
    }}
    if (low == {W}_PAIRS) return 0;
    struct {w}_pair found = {w}_pair_at(low);
    return found.first == first && found.second == second ? found.by : 0;
}}
"""
_NO_KERN = """
static inline int32_t {w}_kern(int32_t first, int32_t second) {{ (void)first; (void)second; return 0; }}
"""


def _about(packed: Packed) -> str:
    lettering = packed.lettering
    name = comment(lettering.name)
    end = "high" if packed.high_first else "low"
    order = {
        "rows": f"along rows, leftmost pixel in the {end} end, each row in whole bytes",
        "pages": f"down pages of {packed.page_rows} rows, a byte a column, the upper pixel in the {end} end",
        "columns": f"down columns, the upper pixel in the {end} end, each column in whole bytes",
    }[packed.along]
    runs = "; as runs: level in the high bits, count less one in the rest" if packed.compression == "runs" else ""
    box = "cropped to their ink" if packed.box == "cropped" else "in cells of one size"
    return (
        f"/*\n * {name}: {len(lettering.glyphs)} glyphs, {lettering.bits} bit a pixel, {packed.flash_bytes} bytes"
        f" ({len(packed.pixels)} of pixels, {packed.index_bytes} of index, {packed.kerning_bytes} of kerning)\n"
        f" * Glyphs {box}, {order}{runs}.\n"
        " * left, top: from the pen to the left edge, from the baseline up to the upper edge; advance: to the next pen.\n"
        " * What is the same for all glyphs is a constant and stands in no table.\n */\n"
    )


def _table(word: str, what: str, table: Table, comments: list[str] | None = None) -> str:
    """A structure and its array; nothing where no column is left."""
    if not table.columns:
        return ""
    fields = " ".join(f"{integer_type(values)[0]} {name};" for name, values in table.columns.items())
    notes = [f" /* {note} */" for note in comments] if comments else [""] * table.rows
    rows = zip(*table.columns.values(), strict=True)
    lines = "\n".join(f"    {{{', '.join(str(v) for v in row)}}},{note}" for row, note in zip(rows, notes, strict=True))
    kind = f"struct {word}_{what}"
    reader = entry_reader(kind, f"{word}_{what}_at", f"{word}_{what}s")
    return f"{kind} {{ {fields} }};\nstatic const {kind} {word}_{what}s[{table.rows}] TABLE_STORED = {{\n{lines}\n}};\n{reader}\n"


def _access(word: str, packed: Packed) -> str:
    """A macro for every field: a constant, or its place in the table."""
    out = ""
    for name in FIELDS:
        told = f"{packed.glyphs.constants[name]}" if name in packed.glyphs.constants else f"{word}_glyph_at((uint32_t)(g)).{name}"
        if name == "offset" and name not in packed.glyphs.columns and name not in packed.glyphs.constants:
            told = f"(uint32_t)(g) * {packed.sizes[0]}u"
        out += f"#define {word.upper()}_{name.upper()}(g) ((void)(g), {told})\n"
    return out


def _level(packed: Packed, pieces: dict[str, str]) -> str:
    """The lines that read the level of one pixel."""
    if packed.compression == "runs":
        return _RUNS.format(**pieces)
    counted, place = _PLACES[packed.along]
    shift = "8 - {W}_BITS - bit % 8" if packed.high_first else "bit % 8"
    return _PLAIN.format(**pieces, counted=counted, place=place.format(**pieces), shift=shift.format(**pieces))


def character_name(code: int) -> str:
    """A character as a comment may hold it."""
    character = chr(code)
    return character if character.isprintable() and character not in "*/\\?" and code < 0x7F else f"U+{code:04X}"


def c_header(packed: Packed, tables: TableStyle = PLAIN) -> bytes:
    """The header, ready to be included."""
    lettering = packed.lettering
    word = identifier(lettering.name, "lettering")
    upper = word.upper()
    pieces = {"w": word, "W": upper}
    names = [character_name(glyph.code) for glyph in lettering.glyphs]
    level = _level(packed, pieces)
    state = "\n    uint32_t run = 0;\n    uint8_t level = 0;" if packed.compression == "runs" else ""
    pairs = packed.pairs
    counts = f"#define {upper}_PAIRS {pairs.rows}u\n" if pairs else ""
    reader = _READER.format(**pieces, kern=(_KERN if pairs else _NO_KERN).format(**pieces), level=level, state=state)
    pixels = packed.pixels or bytes(1)
    return (
        f"{_about(packed)}#ifndef {upper}_H\n#define {upper}_H\n\n{tables.preamble()}\n"
        f"#define {upper}_GLYPHS {len(lettering.glyphs)}u\n#define {upper}_RANGES {packed.ranges.rows}u\n{counts}"
        f"#define {upper}_BITS {lettering.bits}\n#define {upper}_FULL {lettering.full}\n#define {upper}_PAGE {packed.page_rows}\n"
        f"#define {upper}_ASCENT {lettering.ascent}\n#define {upper}_DESCENT {lettering.descent}\n\n"
        f"{_table(word, 'range', packed.ranges)}{_table(word, 'glyph', packed.glyphs, names)}{_access(word, packed)}\n"
        f"{_table(word, 'pair', pairs) if pairs else ''}"
        f"static const uint8_t {word}_pixels[{len(pixels)}] TABLE_STORED = {{\n{hex_lines(pixels)}\n}};\n{reader}\n#endif\n"
    ).encode()
