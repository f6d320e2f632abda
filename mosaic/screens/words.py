"""Texts with values as letters: what they show in a state, every form they can have, and the widest of them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from itertools import product

import numpy as np

from mosaic.errors import BadValueError
from mosaic.lettering.glyph import Lettering
from mosaic.lettering.texts import Choice, FieldText, Number, characters_used, parse_text
from mosaic.lettering.texts import Part as TextPart
from mosaic.lettering.texts import widest as widest_of
from mosaic.values.notation import Field, Piece, literal, pieces
from mosaic.values.states import State
from mosaic.values.value import Reading, Value

MOST_FORMS = 200_000
ANY = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789 .,-"
"""What a text from outside may be made of, where no examples of it are listed."""
Values = Mapping[str, Value]


@dataclass(frozen=True)
class Words:
    """A text whose values are not known yet."""

    source: str
    pieces: tuple[Piece, ...] = field(compare=False)


@lru_cache(maxsize=4096)
def _older(words: str) -> tuple[TextPart, ...]:
    """Bounds and words of the older notation; what cannot be read stands as it is."""
    try:
        return parse_text(words).parts
    except BadValueError:
        return (literal(words),)


def _sample(part: TextPart) -> str:
    """What stands for bounds or words on a screen, where no value exists yet: the highest, or the first word."""
    if isinstance(part, str):
        return part
    return part.words[0] if isinstance(part, Choice) else part.text_of(part.high)


def piece_text(piece: Piece, state: State) -> str:
    """A piece in a state."""
    if isinstance(piece, str):
        return "".join(_sample(part) for part in _older(piece))
    return piece.text_of(state.readings.get(piece.value.id), stale=piece.value.id in state.stale)


def words_of(text: str, values: Values, state: State) -> str:
    """What a text shows in a state."""
    if "{" not in text:
        return text
    return "".join(piece_text(piece, state) for piece in pieces(text, values))


def unit_of(field: Field) -> int:
    """By how much a raw value has to change, at least, until something else is shown, whatever the value."""
    value = field.value
    if value.kind == "number":
        return int(10 ** max(0, value.decimals - field.number.decimals))
    if value.kind in ("time", "duration"):
        return {"h am": 3600, "d h": 3600}.get(field.form, 1 if field.form.endswith("ss") else 60)
    return 1


def raws_of(field: Field) -> Sequence[int]:
    """Raw values that between them give every form of a field; () where they are more than `MOST_FORMS`."""
    value = field.value
    low, high = value.bounds
    if value.kind in ("time", "duration"):
        # What is shown changes at whole units only, before and behind zero.
        unit = unit_of(field)
        count = (high - low) // unit + 2
        edges = range(-(-low // unit) * unit, high + 1, unit)
        return sorted({low, high, *edges}) if count <= MOST_FORMS else ()
    step = 1 if value.named or value.kind == "date" else value.step
    return range(low, high + 1, step) if (high - low) // step < MOST_FORMS else ()


def is_dense(field: Field) -> bool:
    """Whether every number between the lowest and the highest that is shown does occur."""
    value = field.value
    return value.kind == "number" and value.step <= unit_of(field) and field.number.decimals <= value.decimals


def number_of(field: Field) -> Number:
    """A number field as bounds."""
    value, form = field.value, field.number
    low, high = value.bounds
    high = low + (high - low) // value.step * value.step
    cut = 10 ** max(0, value.decimals - form.decimals)
    more = 10 ** max(0, form.decimals - value.decimals)
    ends = [(abs(raw) + cut // 2) // cut * (-1 if raw < 0 else 1) * more for raw in (low, high)]
    return Number(ends[0], ends[1], form.decimals, form.fill, form.width, form.plus == "+")


@lru_cache(maxsize=512)
def _forms(field: Field) -> tuple[str, ...]:
    return tuple(dict.fromkeys(field.text_of(raw) for raw in raws_of(field)))


def forms_of(field: Field) -> tuple[str, ...]:
    """Everything that a field can show of a reading; () where that is too much to list.

    Raises
    ------
    BadValueError
        Bounds of a date lie outside its years.
    """
    value = field.value
    if value.kind == "text":
        return tuple(text for text in value.stand_in.listed if isinstance(text, str))
    return value.named or _forms(field)


def _widths(texts: Sequence[str], lettering: Lettering) -> list[int]:
    """Pixels of each of many texts, as `Lettering.width_of`; all at once where no character is missing."""
    characters = set("".join(texts))
    if len(texts) < 64 or any(ord(c) not in lettering.by_code for c in characters):
        return [lettering.width_of(text) for text in texts]
    known = sorted(characters)
    places = {ord(c): number for number, c in enumerate(known, 1)}
    advances = np.array([0, *(lettering.by_code[ord(c)].advance for c in known)])
    kerns = np.zeros((len(known) + 1, len(known) + 1), np.int64)
    for (a, b), by in lettering.kerning.items():
        if a in places and b in places:
            kerns[places[a], places[b]] = by
    table = np.array(texts)
    codes = table.view(np.uint32).reshape(len(texts), -1)
    lookup = np.zeros(int(codes.max()) + 1, np.int64)
    for code, place in places.items():
        lookup[code] = place
    at = lookup[codes]
    return (advances[at].sum(axis=1) + kerns[at[:, :-1], at[:, 1:]].sum(axis=1)).tolist()


@lru_cache(maxsize=512)
def _pruned(field: Field, lettering: Lettering) -> tuple[str, ...]:
    """Of all forms, for each first and last character the widest: no other can be part of a widest text."""
    texts = forms_of(field)
    best: dict[tuple[str, str], tuple[int, str]] = {}
    for text, width in zip(texts, _widths(texts, lettering), strict=True):
        key = text[:1], text[-1:]
        if key not in best or (width, text) > best[key]:
            best[key] = (width, text)
    return tuple(text for _, text in best.values())


def _shown_ways(field: Field, lettering: Lettering) -> list[tuple[TextPart, ...]]:
    """A field that has a reading, as parts of a text whose widest form is found: in one way, or one for each sign."""
    if field.value.kind == "text" and not forms_of(field):
        letters = [c for c in ANY if ord(c) in lettering.by_code]
        return [(max(letters, key=lambda c: lettering.by_code[ord(c)].advance, default="") * field.value.most_bytes,)]
    if not is_dense(field):
        return [(Choice(_pruned(field, lettering)),)] if forms_of(field) else [(number_of(field),)]
    unit = (f" {field.value.unit}",) if field.unit and field.value.unit else ()
    number = number_of(field)
    if field.number.plus != " ":
        return [(number, *unit)]
    # A blank stands before what is not negative, and nothing before the rest.
    signs = [
        ("", replace(number, high=min(-1, number.high))),
        (" ", replace(number, low=max(0, number.low), width=number.width - 1)),
    ]
    return [(blank, one, *unit) for blank, one in signs if one.low <= one.high]


def _options(field: Field, lettering: Lettering) -> list[tuple[TextPart, ...]]:
    """A field's reading, and what stands for an absent and an old one."""
    more = {field.value.absent, *((field.value.stale,) if field.value.stale and field.value.max_age_s else ())}
    return [*_shown_ways(field, lettering), *((words,) for words in sorted(more) if words)]


@lru_cache(maxsize=2048)
def _widest(text_pieces: tuple[Piece, ...], lettering: Lettering) -> tuple[str, int]:
    options = [[_older(p)] if isinstance(p, str) else _options(p, lettering) for p in text_pieces]
    ways = list(product(*options)) if len(options) < 9 else [tuple(o[min(n, len(o) - 1)] for o in options) for n in range(3)]
    found = [widest_of(FieldText("", tuple(part for parts in way for part in parts)), lettering) for way in ways]
    return max(found, key=lambda entry: entry[1])


def widest(text: str, values: Values, lettering: Lettering) -> tuple[str, int]:
    """The widest that a text can be, over all readings, absent and old ones, and its pixels."""
    if "{" not in text:
        return text, lettering.width_of(text)
    return _widest(pieces(text, values), lettering)


def widest_raw(field: Field, lettering: Lettering) -> Reading:
    """The reading that takes the most room in a field."""
    if field.value.kind == "text":
        texts = forms_of(field)
        return max(texts, key=lettering.width_of) if texts else _widest((field,), lettering)[0]
    raws = raws_of(field) if not field.value.named else range(len(field.value.named))
    if 0 < len(raws) <= 4000:
        widths = _widths([field.text_of(raw) for raw in raws], lettering)
        return raws[max(range(len(raws)), key=lambda number: (widths[number], abs(raws[number])))]
    if not is_dense(field):
        return field.value.bounds[1]
    shown, _ = widest_of(FieldText("", (number_of(field),)), lettering)
    digits = int(shown.replace(".", "").replace("+", "").replace(" ", "") or 0)
    behind = field.number.decimals - field.value.decimals
    return field.value.held(digits * 10 ** max(0, -behind) // 10 ** max(0, behind))


def characters_of(text: str, values: Values) -> set[str]:
    """Every character that a text can show, as far as that is known."""
    if "{" not in text:
        return set(text)
    found: set[str] = set()
    for piece in pieces(text, values):
        if isinstance(piece, str):
            found |= characters_used((FieldText("", _older(piece)),))
            continue
        value = piece.value
        found |= set(value.absent) | (set(value.stale) if value.max_age_s else set())
        if value.kind == "text":
            found |= set("".join(forms_of(piece)))
        elif is_dense(piece):
            found |= characters_used((FieldText("", (number_of(piece),)),)) | set(piece.number.plus)
            found |= set(f" {value.unit}") if piece.unit and value.unit else set()
        else:
            found |= set("".join(forms_of(piece))) or set("-0123456789.")
    return found


def in_bounds(text: str, values: Values) -> list[str]:
    """A text in the older notation, each value by its bounds or words: one line for readings, one for what stands for none."""
    lines = []
    for kind in ("shown", "absent", "stale"):
        out, different = "", kind == "shown"
        for piece in pieces(text, values):
            if isinstance(piece, str):
                out += piece
            elif kind == "shown":
                out += _bounds(piece)
            else:
                value = piece.value
                words = value.absent if kind == "absent" else value.stale if value.max_age_s else ""
                different |= bool(words)
                out += (words or value.absent).replace("{", "{{")
        if different:
            lines.append(out)
    return list(dict.fromkeys(lines))


PATTERNS = {
    "h:mm": "{0..23}:{00..59}", "hh:mm": "{00..23}:{00..59}", "h:mm:ss": "{0..23}:{00..59}:{00..59}",
    "hh:mm:ss": "{00..23}:{00..59}:{00..59}", "h:mm am": "{1..12}:{00..59} {am|pm}", "h am": "{1..12} {am|pm}",
    "yyyy-mm-dd": "{1900..2199}-{01..12}-{01..31}",
    "dd.mm.": "{01..31}.{01..12}.", "dd.mm.yyyy": "{01..31}.{01..12}.{1900..2199}",
    "mm/dd": "{01..12}/{01..31}", "d mon": "{1..31} {Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec}",
    "weekday": "{Mon|Tue|Wed|Thu|Fri|Sat|Sun}",
}  # fmt: skip


def _bounds(field: Field) -> str:
    value = field.value
    if value.kind == "text":
        listed = [text.replace("|", "/") for text in forms_of(field)]
        return f"{{{'|'.join(listed)}}}" if len(listed) > 1 else (listed or ["{A|M|W|g|0}"])[0]
    if value.named:
        return f"{{{'|'.join(value.named)}}}" if len(value.named) > 1 else "".join(value.named)
    if value.kind == "duration":
        most = max(abs(bound) for bound in value.bounds)
        sign = "{|-}" if value.bounds[0] < 0 else ""
        return sign + {
            "m:ss": f"{{0..{most // 60}}}:{{00..59}}", "h:mm": f"{{0..{most // 3600}}}:{{00..59}}",
            "h:mm:ss": f"{{0..{most // 3600}}}:{{00..59}}:{{00..59}}", "d h": f"{{0..{most // 86_400}}} d {{0..23}} h",
        }[field.form]  # fmt: skip
    if value.kind in ("time", "date"):
        return PATTERNS[field.form]
    number = number_of(field)
    ends = [number.text_of(end) for end in (number.low, number.high)]
    unit = f" {value.unit}" if field.unit and value.unit else ""
    return f"{{{ends[0]}..{ends[1]}}}{unit}"
