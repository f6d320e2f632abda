"""What screens show: texts with values in them, every character they can need, and their widest form.

A value is written in braces by its bounds: ``{0..99}``, ``{-9.9..42.5}`` (as many decimals as the
bounds have), ``{000..359}`` (padded with zeros to the bounds' width), ``{  0..999}`` (with blanks),
``{+0..+9}`` (with its sign), or by its words: ``{slack|flood|ebb}``. ``{{`` is a brace.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from mosaic.errors import BadValueError
from mosaic.lettering.glyph import Lettering

MOST_TEXT = 200
MOST_LINES = 100
_BOUND = re.compile(r"( *)([+-]?)(\d+)(?:\.(\d+))?")


@dataclass(frozen=True)
class Number:
    """Every value from `low` to `high`, in units of the last decimal.

    `pad` is what fills up to `width` characters, sign and point counted; "" for nothing. `plus` shows the sign of
    what is not negative.
    """

    low: int
    high: int
    decimals: int = 0
    pad: str = ""
    width: int = 0
    plus: bool = False

    def text_of(self, value: int) -> str:
        """One value as it is shown.

        >>> Number(-99, 425, 1).text_of(-5), Number(0, 359, 0, "0", 3).text_of(7)
        ('-0.5', '007')
        """
        sign, digits = self._sign(value < 0), str(abs(value)).rjust(self.decimals + 1, "0")
        return self._padded(sign, self._pointed(digits))

    def values(self) -> Iterator[int]:
        return iter(range(self.low, self.high + 1))

    def _sign(self, negative: bool) -> str:
        return "-" if negative else "+" if self.plus else ""

    def _pointed(self, digits: str) -> str:
        return f"{digits[: -self.decimals]}.{digits[-self.decimals :]}" if self.decimals else digits

    def _padded(self, sign: str, body: str) -> str:
        room = max(0, self.width - len(sign) - len(body))
        return f"{sign}{'0' * room}{body}" if self.pad == "0" else f"{' ' * room if self.pad else ''}{sign}{body}"

    def spans(self) -> Iterator[tuple[str, int, int, int]]:
        """(what stands before the digits, count of digits, least, most magnitude): all values, by sign and length."""
        for negative in (True, False):
            least = max(1, -self.high) if negative else max(0, self.low)
            most = -self.low if negative else self.high
            for length in range(self.decimals + 1, max(self.decimals + 1, len(str(most))) + 1):
                first = 0 if length == self.decimals + 1 else 10 ** (length - 1)
                low, high = max(least, first), min(most, 10**length - 1)
                if low <= high:
                    body = length + (1 if self.decimals else 0)
                    head = self._padded(self._sign(negative), "x" * body)
                    yield head[: len(head) - body], length, low, high


@dataclass(frozen=True)
class Choice:
    """One of several words."""

    words: tuple[str, ...]


Part = str | Number | Choice


@dataclass(frozen=True)
class FieldText:
    """One text of a screen: as it was written, and its parts."""

    written: str
    parts: tuple[Part, ...]

    @property
    def has_numbers(self) -> bool:
        return any(isinstance(part, Number) for part in self.parts)


def parse_text(written: str) -> FieldText:
    """The parts of a text with values.

    >>> parse_text("Tide {0.0..9.9} m").parts
    ('Tide ', Number(low=0, high=99, decimals=1, pad='', width=0, plus=False), ' m')

    Raises
    ------
    BadValueError
        A brace is not closed, a value has no bounds or words, or the text is too long; the text says what is accepted.
    """
    if len(written) > MOST_TEXT:
        raise BadValueError(f"a text has {len(written)} characters; up to {MOST_TEXT} are accepted")
    parts: list[Part] = []
    at = 0
    while at < len(written):
        if written[at] != "{" or written[at : at + 2] == "{{":
            step = 2 if written[at : at + 2] == "{{" else 1
            last = parts.pop() if parts and isinstance(parts[-1], str) else ""
            parts.append(f"{last}{written[at]}")
            at += step
            continue
        end = written.find("}", at)
        if end < 0:
            raise BadValueError(
                f"in {written!r} a brace is opened and not closed; a value is written as {{0..99}}, a brace as {{{{"
            )
        parts.append(_value(written[at + 1 : end]))
        at = end + 1
    return FieldText(written, tuple(parts))


def _value(inside: str) -> Part:
    low_text, dots, high_text = inside.partition("..")
    if not dots:
        words = tuple(inside.split("|"))
        if len(words) < 2:
            raise BadValueError(
                f"{{{inside}}} has neither bounds nor words; values are {{0..99}}, {{-9.9..42.5}} or {{slack|flood|ebb}}"
            )
        return Choice(words)
    low, high = _BOUND.fullmatch(low_text), _BOUND.fullmatch(high_text)
    if low is None or high is None:
        raise BadValueError(f"{{{inside}}}: bounds are numbers such as 0, -9.9 or 000")
    decimals = max(len(low[4] or ""), len(high[4] or ""))
    if len(low[3]) + decimals > 9 or len(high[3]) + decimals > 9:
        raise BadValueError(f"{{{inside}}}: values have up to nine digits")
    first, last = _scaled(low, decimals), _scaled(high, decimals)
    if first > last:
        raise BadValueError(f"{{{inside}}}: the lower bound stands first, as in {{{high_text.strip()}..{low_text.strip()}}}")
    zeros = any(len(bound[3]) > 1 and bound[3][0] == "0" for bound in (low, high))
    pad = "0" if zeros else " " if low[1] or high[1] else ""
    width = max(len(low_text), len(high_text)) if pad else 0
    return Number(first, last, decimals, pad, width, high[2] == "+")


def _scaled(bound: re.Match[str], decimals: int) -> int:
    number = int(bound[3] + (bound[4] or "").ljust(decimals, "0"))
    return -number if bound[2] == "-" else number


def parse_texts(written: str) -> tuple[FieldText, ...]:
    """Texts, one a line; empty lines are passed over. Raises as `parse_text`, with the line."""
    lines = written.splitlines()
    if len(lines) > MOST_LINES:
        raise BadValueError(f"there are {len(lines)} lines; up to {MOST_LINES} are accepted")
    found = []
    for number, line in enumerate(lines, 1):
        if line.strip():
            try:
                found.append(parse_text(line.rstrip()))
            except BadValueError as error:
                raise BadValueError(f"line {number}: {error}") from error
    return tuple(found)


@dataclass(frozen=True, order=True)
class _Best:
    """The widest text so far that ends in one character, and its width in pixels; of equal ones that of larger digits."""

    width: int
    text: str


def widest(text: FieldText, lettering: Lettering) -> tuple[str, int]:
    """The form of a text that moves the pen furthest, and by how many pixels.

    Found digit by digit: of all ways to the same last character only the widest is kept, within
    the bounds that the digits before it leave open. Kerning is counted; characters that the
    lettering lacks take no room.
    """
    front: dict[str, _Best] = {"": _Best(0, "")}
    for part in text.parts:
        match part:
            case str():
                front = _through(front, part, lettering)
            case Choice():
                front = _merged([_through(front, word, lettering) for word in part.words])
            case Number():
                front = _merged([_digits(_through(front, span[0], lettering), part, span, lettering) for span in part.spans()])
    best = max(front.values())
    return best.text, best.width


def _step(best: _Best, last: str, character: str, lettering: Lettering) -> tuple[str, _Best]:
    """The pen's way over one more character, and the character that the next one kerns against."""
    glyph = lettering.by_code.get(ord(character))
    if glyph is None:
        return last, _Best(best.width, best.text + character)
    kern = lettering.kern(ord(last), glyph.code) if last else 0
    return character, _Best(best.width + kern + glyph.advance, best.text + character)


def _keep(front: dict[Any, _Best], key: object, best: _Best) -> None:
    if key not in front or best > front[key]:
        front[key] = best


def _through(front: dict[str, _Best], word: str, lettering: Lettering) -> dict[str, _Best]:
    for character in word:
        ahead: dict[str, _Best] = {}
        for last, best in front.items():
            now, longer = _step(best, last, character, lettering)
            _keep(ahead, now, longer)
        front = ahead
    return front


def _merged(fronts: list[dict[str, _Best]]) -> dict[str, _Best]:
    merged: dict[str, _Best] = {}
    for front in fronts:
        for last, best in front.items():
            _keep(merged, last, best)
    return merged


def _choices(low: str, high: str, place: int, tight: tuple[bool, bool]) -> Iterator[tuple[int, tuple[bool, bool]]]:
    """Digits that may stand at a place, and whether what follows is still bounded below and above."""
    first = int(low[place]) if tight[0] else 0
    last = int(high[place]) if tight[1] else 9
    for digit in range(first, last + 1):
        yield digit, (tight[0] and digit == first, tight[1] and digit == last)


def _digits(front: dict[str, _Best], number: Number, span: tuple[str, int, int, int], lettering: Lettering) -> dict[str, _Best]:
    _, length, least, most = span
    low, high = str(least).rjust(length, "0"), str(most).rjust(length, "0")
    states = {(last, (True, True)): best for last, best in front.items()}
    for place in range(length):
        ahead: dict[tuple[str, tuple[bool, bool]], _Best] = {}
        for (last, tight), best in states.items():
            if number.decimals and place == length - number.decimals:
                last, best = _step(best, last, ".", lettering)
            for digit, tighter in _choices(low, high, place, tight):
                now, longer = _step(best, last, str(digit), lettering)
                _keep(ahead, (now, tighter), longer)
        states = ahead
    return _merged([{last: best} for (last, _), best in states.items()])


def characters_used(texts: tuple[FieldText, ...]) -> set[str]:
    """Every character that some value of some text shows: digits only where they can occur."""
    used: set[str] = set()
    for text in texts:
        for part in text.parts:
            match part:
                case str():
                    used |= set(part)
                case Choice():
                    used |= set("".join(part.words))
                case Number():
                    used |= _number_characters(part)
    return used


def _number_characters(number: Number) -> set[str]:
    used = {"."} if number.decimals else set()
    for head, length, least, most in number.spans():
        used |= set(head)
        low, high = str(least).rjust(length, "0"), str(most).rjust(length, "0")
        tights = {(True, True)}
        for place in range(length):
            steps = [step for tight in tights for step in _choices(low, high, place, tight)]
            used |= {str(digit) for digit, _ in steps}
            tights = {tighter for _, tighter in steps}
    return used
