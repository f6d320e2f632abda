"""Whole numbers that are not known yet: what elements reckon with them becomes code that reckons the same on the device.

A `Symbol` takes part in sums like a number and keeps how it came about and between which bounds it lies. Where a rule asks
something of it that its bounds leave open, both answers are followed: `branches` runs the rule once for each way through.
"""

from collections.abc import Callable, Iterable
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Any, TypeVar, Union

from mosaic.errors import BadValueError

T = TypeVar("T")
Whole = Union[int, "Symbol"]
MOST_WAYS = 400


@dataclass(frozen=True, eq=False)
class Symbol:
    """A number: how it comes about (`op` of `parts`), and its bounds.

    Ops: "raw" (of a value), "known" (whether a value is known), "tick", "map" (a map of a number), "width" (of words in a
    font), "+", "-", "*", "//" (rounded down), "least", "most", "across" and "along" (of a direction in degrees), "if".
    """

    op: str
    parts: tuple[Any, ...]
    low: int
    high: int

    @property
    def key(self) -> tuple[Any, ...]:
        """Equal for what is reckoned alike."""
        return self.op, *(part.key if isinstance(part, Symbol) else part for part in self.parts)

    def __add__(self, other: Whole) -> Whole:
        if isinstance(other, int):
            if other == 0:
                return self
            if self.op == "+" and isinstance(self.parts[1], int):
                return self.parts[0] + (self.parts[1] + other)
        low, high = bounds(other)
        return Symbol("+", (self, other), self.low + low, self.high + high)

    __radd__ = __add__

    def __neg__(self) -> Whole:
        return 0 - self

    def __sub__(self, other: Whole) -> Whole:
        if isinstance(other, int):
            return self + -other
        if other.key == self.key:
            return 0
        return Symbol("-", (self, other), self.low - other.high, self.high - other.low)

    def __rsub__(self, other: int) -> Whole:
        return Symbol("-", (other, self), other - self.high, other - self.low)

    def __mul__(self, other: Whole) -> Whole:
        if other == 0:
            return 0
        if isinstance(other, int) and other == 1:
            return self
        low, high = bounds(other)
        ends = [a * b for a in (self.low, self.high) for b in (low, high)]
        return Symbol("*", (self, other), min(ends), max(ends))

    __rmul__ = __mul__

    def __floordiv__(self, other: int) -> Whole:
        if not isinstance(other, int) or other <= 0:
            raise BadValueError("numbers that follow a value are divided by known numbers above zero only")
        return self if other == 1 else Symbol("//", (self, other), self.low // other, self.high // other)

    def __mod__(self, other: int) -> Whole:
        return self - self // other * other

    def __abs__(self) -> Whole:
        return most(self, 0 - self)

    def __lt__(self, other: Whole) -> Any:
        return compared("<", self, other)

    def __le__(self, other: Whole) -> Any:
        return compared("<=", self, other)

    def __gt__(self, other: Whole) -> Any:
        return compared("<", other, self)

    def __ge__(self, other: Whole) -> Any:
        return compared("<=", other, self)

    def __eq__(self, other: object) -> Any:
        return compared("==", self, other) if isinstance(other, (int, Symbol)) else False

    def __ne__(self, other: object) -> Any:
        return compared("!=", self, other) if isinstance(other, (int, Symbol)) else True

    def __hash__(self) -> int:
        return hash(self.key)

    def __bool__(self) -> bool:
        return bool(self != 0)

    def __index__(self) -> int:
        return settled(self)


@dataclass(frozen=True, eq=False)
class Question:
    """A comparison whose answer depends on values; asked for its truth, both answers are followed."""

    op: str
    left: Whole
    right: Whole

    @property
    def key(self) -> tuple[Any, ...]:
        return self.op, *(side.key if isinstance(side, Symbol) else side for side in (self.left, self.right))

    def __bool__(self) -> bool:
        deciding = _deciding.get()
        if deciding is None:
            raise BadValueError("a number that follows a value was asked for where only a known one can stand")
        return deciding.answer(self)


def bounds(number: Whole) -> tuple[int, int]:
    """The lowest and highest that it can be."""
    return (number.low, number.high) if isinstance(number, Symbol) else (number, number)


def compared(op: str, left: Whole, right: Whole) -> bool | Question:
    """A comparison: its answer where the bounds have one already."""
    (a, b), (c, d) = bounds(left), bounds(right)
    if op == "<":
        return True if b < c else False if a >= d else Question(op, left, right)
    if op == "<=":
        return True if b <= c else False if a > d else Question(op, left, right)
    if b < c or d < a:
        return op == "!="
    if a == b == c == d:
        return op == "=="
    return Question(op, left, right)


def least(a: Whole, b: Whole) -> Any:
    """The smaller of two numbers."""
    if type(a) is int and type(b) is int:
        return a if a < b else b
    (a0, a1), (b0, b1) = bounds(a), bounds(b)
    if a1 <= b0:
        return a
    return b if b1 <= a0 else Symbol("least", (a, b), min(a0, b0), min(a1, b1))


def most(a: Whole, b: Whole) -> Any:
    """The larger of two numbers."""
    if type(a) is int and type(b) is int:
        return a if a > b else b
    (a0, a1), (b0, b1) = bounds(a), bounds(b)
    if a0 >= b1:
        return a
    return b if b0 >= a1 else Symbol("most", (a, b), max(a0, b0), max(a1, b1))


class _Deciding:
    """Answers of one way through a rule: those given, then yes."""

    def __init__(self, given: tuple[bool, ...]) -> None:
        self.given = given
        self.asked: list[tuple[Question, bool]] = []
        self.known: dict[tuple[Any, ...], bool] = {}

    def answer(self, question: Question) -> bool:
        key = question.key
        if key not in self.known:
            at = len(self.asked)
            self.known[key] = self.given[at] if at < len(self.given) else True
            self.asked.append((question, self.known[key]))
        return self.known[key]


_deciding: ContextVar[_Deciding | None] = ContextVar("deciding", default=None)


@contextmanager
def _follow(given: tuple[bool, ...]) -> Any:
    deciding = _Deciding(given)
    token = _deciding.set(deciding)
    try:
        yield deciding
    finally:
        _deciding.reset(token)


@dataclass(frozen=True, eq=False)
class Way:
    """One way through a rule: what was asked and answered, and what came of it."""

    asked: tuple[tuple[Question, bool], ...]
    result: Any


def branches(rule: Callable[[], T]) -> list[Way]:
    """Every way through a rule, those with yes first.

    Raises
    ------
    BadValueError
        There are too many.
    """
    found: list[Way] = []
    open_: list[tuple[bool, ...]] = [()]
    while open_:
        given = open_.pop()
        with _follow(given) as deciding:
            result = rule()
        found.append(Way(tuple(deciding.asked), result))
        answers = tuple(answer for _, answer in deciding.asked)
        open_ += [(*answers[:at], False) for at in range(len(given), len(answers))]
        if len(found) > MOST_WAYS:
            raise BadValueError(f"an element follows values in more than {MOST_WAYS} ways; map them to fewer numbers")
    return found


def possible(number: Whole) -> Iterable[int]:
    """What a number can be; all between its bounds where its map does not say."""
    if isinstance(number, int):
        return (number,)
    if number.op == "if":
        return sorted({*possible(number.parts[1]), *possible(number.parts[2])})
    if number.op == "map" and number.parts[0].by == "steps":
        return sorted({out for _, out in number.parts[0].points})
    return range(number.low, number.high + 1)


def settled(number: Whole) -> int:
    """A number that has to be known: each that it can be is followed by itself."""
    if isinstance(number, int):
        return number
    *others, last = possible(number)
    for one in others:
        if number == one:
            return one
    return last
