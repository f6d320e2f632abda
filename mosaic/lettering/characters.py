"""Which characters a lettering has: single ones, ranges, and names of presets."""

import unicodedata
from dataclasses import dataclass

from mosaic.errors import BadValueError
from mosaic.registry import Registry

MAX_CHARACTERS = 4096


@dataclass(frozen=True)
class Preset:
    """A set of characters by name."""

    name: str
    title: str
    characters: str


def _span(*spans: tuple[int, int]) -> str:
    """The printable characters of ranges, ends included."""
    codes = [code for first, last in spans for code in range(first, last + 1)]
    return "".join(chr(code) for code in codes if unicodedata.category(chr(code)) not in ("Cn", "Cc", "Cf", "Cs", "Co"))


PRESETS: Registry[Preset] = Registry(
    "preset of characters",
    (
        Preset("digits", "digits", "0123456789"),
        Preset("numbers", "numbers and unit signs", " 0123456789+-.,:%°/"),
        Preset("basic", "English", _span((0x20, 0x7E))),
        Preset("western", "western European", _span((0x20, 0x7E), (0xA0, 0xFF))),
        Preset("european", "Latin Europe", _span((0x20, 0x7E), (0xA0, 0x17F), (0x218, 0x21B), (0x20AC, 0x20AC))),
        Preset("greek", "Greek and digits", _span((0x20, 0x40), (0x386, 0x386), (0x388, 0x3CE))),
        Preset("cyrillic", "Cyrillic and digits", _span((0x20, 0x40), (0x401, 0x45F), (0x490, 0x491))),
        Preset("arrows", "arrows and boxes", _span((0x2190, 0x2199), (0x2500, 0x25FF))),
    ),
    lambda preset: preset.name,
)  # fmt: skip


def is_drawn(code: int) -> bool:
    """Whether a code point is a character that can be drawn, or a blank."""
    return unicodedata.category(chr(code)) not in ("Cc", "Cf", "Cs", "Cn")


def codes_in(text: str) -> set[int]:
    """Code points of a text whose every character is meant, or of ranges.

    Ranges are written "U+0400-U+045F" and stand alone, separated by spaces, in a text that holds nothing else.

    Raises
    ------
    BadValueError
        A range is malformed.
    """
    words = text.split()
    codes = _ranges(words) if words and all(word.upper().startswith("U+") for word in words) else {ord(c) for c in text}
    return {code for code in codes if is_drawn(code)}


def characters_of(text: str) -> tuple[int, ...]:
    """Code points, ascending, of what `codes_in` takes, or of the name of a preset.

    >>> [chr(code) for code in characters_of("tide")]
    ['d', 'e', 'i', 't']
    >>> len(characters_of("basic")), characters_of("U+0041-U+0043")
    (95, (65, 66, 67))

    Raises
    ------
    BadValueError
        There are none, or too many, or a range is malformed.
    """
    codes = codes_in(PRESETS[text].characters if text in PRESETS else text)
    check_count(codes)
    return tuple(sorted(codes))


def check_count(codes: set[int]) -> None:
    """Refuse none and too many."""
    if not 1 <= len(codes) <= MAX_CHARACTERS:
        raise BadValueError(f"{len(codes):,} characters are asked for; 1 to {MAX_CHARACTERS:,} are accepted")


def _ranges(words: list[str]) -> set[int]:
    codes: set[int] = set()
    for word in words:
        first, _, last = word.upper().partition("-")
        try:
            low = int(first.removeprefix("U+"), 16)
            high = int((last or first).removeprefix("U+"), 16)
        except ValueError:
            raise BadValueError(f"{word[:24]!r} is no range; one is written U+0041-U+005A") from None
        if not 0 <= low <= high <= 0x10FFFF or high - low >= MAX_CHARACTERS:
            raise BadValueError(f"{word[:24]!r} is no range of up to {MAX_CHARACTERS:,} code points from U+0000 to U+10FFFF")
        codes |= set(range(low, high + 1))
    return codes


def name_of(code: int) -> str:
    """A character's name in words; private ones have none of their own.

    >>> name_of(0xB0), name_of(0xE000)
    ('degree sign', 'private character')
    """
    fallback = "private character" if 0xE000 <= code <= 0xF8FF else "character without a name"
    return unicodedata.name(chr(code), fallback).lower()


def ranges_of(codes: tuple[int, ...]) -> list[tuple[int, int]]:
    """(first, count) of every run of ascending code points that follow one another.

    >>> ranges_of((65, 66, 67, 176))
    [(65, 3), (176, 1)]
    """
    found: list[tuple[int, int]] = []
    for code in codes:
        if found and sum(found[-1]) == code:
            found[-1] = (found[-1][0], found[-1][1] + 1)
        else:
            found.append((code, 1))
    return found
