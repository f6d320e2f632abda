"""Which of the wanted characters a face has, and what can stand for those it lacks."""

import unicodedata
from dataclasses import dataclass

from mosaic.lettering.characters import PRESETS
from mosaic.lettering.faces import FACES
from mosaic.lettering.source import font_info

# Signs that have a plain counterpart which decomposition does not give.
_PAIRS = (
    '‘\' ’\' ‚, “" ”" „" ‹< ›> «" »" –- —- −- ‐- ‑- •* ·. ×x ÷/ …. ′\' ″"'
    " ßs æa œo øo ÆA ŒO ØO ðd ÐD þp ÞP łl ŁL đd ĐD ıi €E £L °o µu"
)
PLAIN = {pair[0]: pair[1] for pair in _PAIRS.split()} | dict.fromkeys("\u00a0\u2007\u2009\u202f", " ")


@dataclass(frozen=True)
class Missing:
    """A character that a face lacks: faces that have it, and a character of this one that could stand for it (0 for none)."""

    code: int
    faces: tuple[str, ...]
    by: int


def plain_counterpart(code: int, has: frozenset[int]) -> int:
    """A plainer character that is there: the base letter without its marks, or a usual substitute; 0 where there is none.

    >>> chr(plain_counterpart(ord("é"), frozenset(map(ord, "aeiou")))), plain_counterpart(0x4E2D, frozenset(map(ord, "abc")))
    ('e', 0)
    """
    character = chr(code)
    tries = [PLAIN.get(character, ""), unicodedata.normalize("NFKD", character)[:1], character.swapcase()]
    return next((ord(t) for t in tries if len(t) == 1 and ord(t) in has and t != character), 0)


def missing_of(codes: tuple[int, ...], has: frozenset[int]) -> tuple[Missing, ...]:
    """What a face with the characters `has` lacks of `codes`, with proposals."""
    lacking = [code for code in codes if code not in has]
    if not lacking:
        return ()
    others = {slug: font_info(face.data, face.name).codes for slug, face in FACES.items()}
    return tuple(
        Missing(code, tuple(slug for slug, own in others.items() if code in own), plain_counterpart(code, has))
        for code in lacking
    )


def preset_coverage(has: frozenset[int]) -> list[tuple[str, int, int]]:
    """(title, characters there, characters asked for) of every preset."""
    return [(preset.title, sum(ord(c) in has for c in preset.characters), len(preset.characters)) for preset in PRESETS.values()]
