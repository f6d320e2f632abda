"""Which characters a lettering has: single ones, ranges, and names of presets."""

import unicodedata

from mosaic.errors import BadValueError

PRESETS: dict[str, str] = {
    "digits": "0123456789",
    "numbers": "0123456789+-.,:%°",
    "basic": "".join(chr(code) for code in range(0x20, 0x7F)),
    "western": "".join(chr(code) for code in (*range(0x20, 0x7F), *range(0xA0, 0x100))),
}
MAX_CHARACTERS = 4096


def characters_of(text: str) -> tuple[int, ...]:
    """Code points, ascending, of a text whose every character is meant, or of the name of a preset.

    Ranges are written "U+0400-U+045F" and stand alone, parted by blanks, in a text that holds nothing else.

    >>> [chr(code) for code in characters_of("tide")]
    ['d', 'e', 'i', 't']
    >>> len(characters_of("basic")), characters_of("U+0041-U+0043")
    (95, (65, 66, 67))

    Raises
    ------
    BadValueError
        There are none, or too many, or a range is malformed.
    """
    if text in PRESETS:
        text = PRESETS[text]
    words = text.split()
    codes = _ranges(words) if words and all(word.upper().startswith("U+") for word in words) else {ord(c) for c in text}
    codes = {code for code in codes if unicodedata.category(chr(code)) not in ("Cc", "Cf", "Cs")}
    if not 1 <= len(codes) <= MAX_CHARACTERS:
        raise BadValueError(f"{len(codes):,} characters are asked for; 1 to {MAX_CHARACTERS:,} are accepted")
    return tuple(sorted(codes))


def _ranges(words: list[str]) -> set[int]:
    codes: set[int] = set()
    for word in words:
        first, _, last = word.upper().partition("-")
        try:
            low = int(first.removeprefix("U+"), 16)
            high = int((last or first).removeprefix("U+"), 16)
        except ValueError:
            raise BadValueError(f"{word!r} is no range; one is written U+0041-U+005A") from None
        if not 0 <= low <= high <= 0x10FFFF or high - low >= MAX_CHARACTERS:
            raise BadValueError(f"{word!r} is no range of up to {MAX_CHARACTERS:,} code points from U+0000 to U+10FFFF")
        codes |= set(range(low, high + 1))
    return codes
