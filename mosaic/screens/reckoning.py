"""What elements reckon with values, written out: the order of questions, what is reckoned once, sums in C and in Python."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

from mosaic.screens.calls import Call
from mosaic.screens.code_values import ValueNames
from mosaic.screens.sheet import Sheet
from mosaic.screens.symbols import Question, Symbol, Way, Whole, bounds
from mosaic.screens.words import Words, piece_text
from mosaic.values.maps import Map
from mosaic.values.notation import Field
from mosaic.values.states import State

CHEAP = ("raw", "known", "tick")
LARGEST = 2**31 - 1


@dataclass
class Writer:
    """One language: how it writes what it is given. `local` are names of what was reckoned before."""

    sheet: Sheet
    names: ValueNames
    local: dict[Any, str] = field(default_factory=dict)

    def sum(self, number: Whole) -> str:
        """A number or a sum."""
        if isinstance(number, int):
            return str(number)
        known = self.local.get(number.key)
        return known if known is not None else self.op(number)

    def op(self, number: Symbol) -> str:
        raise NotImplementedError

    def color(self, color: Whole | None) -> Whole:
        """A colour as the runtimes take it; -1 for none."""
        if not isinstance(color, Symbol):
            return self.sheet.value(color)
        if color.op == "map":
            map_, raw = color.parts
            points = tuple((at, self.sheet.value(out)) for at, out in map_.points)
            outs = [out for _, out in points]
            return Symbol("map", (Map("steps", points), raw), min(outs), max(outs))
        known, yes, no = color.parts
        (a, b), (c, d) = bounds(self.color(yes)), bounds(self.color(no))
        return Symbol("if", (known, self.color(yes), self.color(no)), min(a, c), max(b, d))


def symbols_in(given: Any) -> list[Symbol]:
    """All symbols of what a call is given, those inside of others before them."""
    if isinstance(given, Symbol):
        return [*(one for part in given.parts for one in symbols_in(part)), given]
    if isinstance(given, Question):
        return [*symbols_in(given.left), *symbols_in(given.right)]
    if isinstance(given, tuple):
        return [one for part in given for one in symbols_in(part)]
    return []


def words_in(ways: Sequence[Way]) -> list[Words]:
    """All texts whose values are not known, each once."""
    found: dict[str, Words] = {}
    for way in ways:
        for call in way.result or ():
            for given in call.given:
                if isinstance(given, Words):
                    found.setdefault(given.source, given)
        for one in _all_symbols([way]):
            if one.op == "width":
                found.setdefault(one.parts[0].source, one.parts[0])
    return list(found.values())


def _all_symbols(ways: Sequence[Way]) -> list[Symbol]:
    found = [one for way in ways for question, _ in way.asked for one in symbols_in(question)]
    return found + [one for way in ways for call in way.result or () for one in symbols_in(call.given)]


def shared(ways: Sequence[Way]) -> list[Symbol]:
    """Sums that are needed more than once, or are a text's width, in an order in which each can be reckoned."""
    counts: dict[Any, int] = {}
    first: dict[Any, Symbol] = {}
    for one in _all_symbols(ways):
        counts[one.key] = counts.get(one.key, 0) + 1
        first.setdefault(one.key, one)
    return [one for key, one in first.items() if one.op not in CHEAP and (counts[key] > 1 or one.op == "width")]


def written(
    ways: Sequence[Way], ask: Callable[[Question, list[str], list[str]], list[str]], line: Callable[[Sequence[Call]], list[str]]
) -> list[str]:
    """Lines of all ways: questions in the order in which they were asked; where both answers lead to the same, none is asked."""

    def below(here: list[Way], depth: int) -> list[str]:
        if len(here) == 1:
            return line(here[0].result or ())
        question = here[0].asked[depth][0]
        yes, no = ([way for way in here if way.asked[depth][1] is answer] for answer in (True, False))
        first, second = below(yes, depth + 1) if yes else [], below(no, depth + 1) if no else []
        return first if first == second else ask(question, first, second)

    return below(list(ways), 0)


def needed(reckoned: Sequence[tuple[str, list[str]]], body: list[str]) -> list[str]:
    """Lines that reckon what is used before those that use it; (name, its lines) of each. What is not used is left out."""
    lines = body
    for name, own in reversed(reckoned):
        if any(re.search(rf"\b{name}\b", line) for line in lines):
            lines = own + lines
    return lines


def room_of(words: Words) -> int:
    """Bytes that a text can need at most, whatever the raw values are, with its closing zero."""
    total = 1
    for piece in words.pieces:
        if isinstance(piece, str):
            total += len(piece_text(piece, State()).encode())
            continue
        value = piece.value
        instead = max(len(value.absent.encode()), len(value.stale.encode()))
        total += max(instead, _most_bytes(piece))
    return total


def _most_bytes(piece: Field) -> int:
    value = piece.value
    if value.kind == "text":
        return value.most_bytes
    if value.named:
        return max(len(word.encode()) for word in value.named)
    if value.kind in ("time", "date", "duration"):
        return 18
    unit = len(f" {value.unit}".encode()) if piece.unit and value.unit else 0
    return max(piece.number.width, 13 + piece.number.decimals) + unit
