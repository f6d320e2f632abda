"""The notation in which passports say what is sent.

One step a line; what stands behind # explains it in words::

    reset                              pulse the reset line
    delay 120                          wait this many milliseconds
    busy                               wait until the panel is idle
    c 2A d {x0:u16} {x1:u16}           bytes as command (c), then as data (d), hexadecimal
    c {B0+page}                        a value in braces: base + name / divisor : type

Types: u8 (one byte, the default), u16 (two, high byte first), u16le (low byte first), low and
high (one byte of the two), lo and hi (low and high nibble). A whole plane of packed bytes is {plane}.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

from mosaic.errors import BadDescriptionError
from mosaic.numbers import whole

Kind = Literal["reset", "delay", "busy", "command", "data"]

_TOKEN = re.compile(
    r"\{(?:(?P<base>[0-9A-F]{1,2})\+)?(?P<name>[a-z][a-z0-9_]*)(?:/(?P<divisor>[1-9][0-9]{0,4}))?"
    r"(?::(?P<type>u8|u16|u16le|low|high|lo|hi))?\}"
)
PLANE = "{plane}"
VALUES = ("width", "height", "x0", "x1", "y0", "y1", "turn", "page", "plane")
LONGEST_DELAY_MS = 3_600_000
"""An hour."""
_BYTE = re.compile(r"[0-9A-F]{2}")


@dataclass(frozen=True)
class Transaction:
    """One thing on the wire: a reset, a wait, or bytes sent as command or as data.

    `is_pixels` marks the bytes of a picture, which some links send on more lines than the rest.
    """

    kind: Kind
    data: bytes = b""
    wait_ms: float = 0.0
    note: str = ""
    is_pixels: bool = False


@dataclass(frozen=True)
class Step:
    """One run of a line: its kind, its tokens and the words behind #."""

    kind: Kind
    tokens: tuple[str, ...] = ()
    wait_ms: float = 0.0
    note: str = ""


@lru_cache(maxsize=256)
def parse(text: str) -> tuple[Step, ...]:
    """The steps of a sequence.

    Raises
    ------
    BadDescriptionError
        A line is not of the notation; the text gives its number and what is accepted.
    """
    steps: list[Step] = []
    for number, line in enumerate(text.splitlines(), 1):
        words, _, note = line.partition("#")
        if words.strip():
            steps.extend(_parse_line(words.split(), note.strip(), number))
    return tuple(steps)


def problem_of(text: str) -> str:
    """What is wrong with a sequence, or "" if nothing is."""
    try:
        steps = parse(text)
    except BadDescriptionError as error:
        return error.reason
    named = {match["name"] for step in steps for token in step.tokens if (match := _TOKEN.fullmatch(token))}
    strange = sorted(named - set(VALUES))
    return f"{{{strange[0]}}} names no value; known: {', '.join(VALUES)}" if strange else ""


def _parse_line(words: list[str], note: str, number: int) -> list[Step]:
    if words == ["reset"] or words == ["busy"]:
        return [Step(words[0], note=note)]  # type: ignore[arg-type]
    if words[0] == "delay":
        wait = whole(words[1], most=LONGEST_DELAY_MS) if len(words) == 2 else None
        if wait is None:
            took = f"whole milliseconds up to {LONGEST_DELAY_MS:,}, for example: delay 120"
            raise BadDescriptionError(f"line {number}: delay takes {took}")
        return [Step("delay", wait_ms=float(wait), note=note)]
    if words[0] not in ("c", "d"):
        raise BadDescriptionError(f"line {number}: starts with {words[0][:24]!r}; it is reset, busy, delay, c or d")
    steps, kind = [], words[0]
    tokens: list[Any] = []
    for word in [*words[1:], "c"]:
        if word in ("c", "d"):
            if not tokens:
                raise BadDescriptionError(f"line {number}: no byte after {kind!r}")
            steps.append(Step("command" if kind == "c" else "data", tuple(tokens), note=note))
            kind, tokens = word, []
        elif _BYTE.fullmatch(word) or _TOKEN.fullmatch(word):
            tokens.append(word)
        else:
            raise BadDescriptionError(
                f"line {number}: {word[:24]!r} is neither a byte (two digits 0-9, A-F) nor a value such as {{x0:u16}}"
            )
    return steps


def _value_bytes(token: str, values: Mapping[str, int | bytes]) -> bytes:
    match = _TOKEN.fullmatch(token)
    if match is None:
        return bytes.fromhex(token)
    if match["name"] not in values:
        raise BadDescriptionError(f"{token} names no value known here; known: {', '.join(values)}")
    value = values[match["name"]]
    if isinstance(value, bytes):
        return value
    value //= int(match["divisor"] or 1)
    kind = match["type"] or "u8"
    if kind in ("lo", "hi"):
        value = value & 15 if kind == "lo" else value >> 4
    elif kind in ("low", "high"):
        value = value & 255 if kind == "low" else value >> 8
    value += int(match["base"] or "0", 16)
    size = 2 if kind.startswith("u16") else 1
    try:
        return value.to_bytes(size, "little" if kind == "u16le" else "big")
    except OverflowError:
        raise BadDescriptionError(f"{token} is {value}, which does not fit {size} byte(s)") from None


def expand(text: str, values: Mapping[str, int | bytes]) -> list[Transaction]:
    """The transactions of a sequence with these values put in.

    >>> [t.data.hex() for t in expand("c 2A d {x0:u16} {x1:u16}", {"x0": 0, "x1": 239})]
    ['2a', '000000ef']
    """
    return [
        Transaction(
            step.kind, b"".join(_value_bytes(t, values) for t in step.tokens), step.wait_ms, step.note, PLANE in step.tokens
        )
        for step in parse(text)
    ]  # fmt: skip
