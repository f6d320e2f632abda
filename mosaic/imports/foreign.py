"""Bytes out of whatever somebody pasted: C and Python arrays, hex dumps, decimal lists, binary literals, raw files.

Comments, line numbers and names are passed over. What is read decides itself by the text: numbers in braces are an
array; lines that begin with an address are a dump; quoted strings with escapes are Python's; else it is a list of
numbers.
"""

import re
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from mosaic.errors import BadLinesError, LineProblem
from mosaic.source_text import without_block_comments

MOST_BYTES = 8 * 1024 * 1024
MOST_PROBLEMS = 20
MOST_DIGITS = 18
_DIGITS = "0123456789abcdefABCDEF"
FEWEST_BYTES = 8
_LINE_COMMENT = re.compile(r"//.*|#(?!define|if|endif|include|ifndef).*")
_NUMBER = re.compile(r"0[xX]([0-9A-Fa-f]+)|0[bB]([01]+)|B([01]{8})|([0-9]+)")
_WORD = re.compile(r"[A-Za-z_][A-Za-z0-9_]*|[^\s,;{}()\[\]=]+")
_ADDRESS = re.compile(r"\s*(?:0x)?[0-9A-Fa-f]{4,8}(?::\s*|\s+)(?=[0-9A-Fa-f]{2})")
_ESCAPES = re.compile(r"\\x([0-9A-Fa-f]{2})|\\([\\'\"nrt0abfv])|([^\\])", re.S)
_SINGLE = {"n": 10, "r": 13, "t": 9, "0": 0, "a": 7, "b": 8, "f": 12, "v": 11}
_SIZES = re.compile(r"(?i)(\d{1,4})\s*[x×]\s*(\d{1,4})|width\D{0,12}?(\d{1,4})|height\D{0,12}?(\d{1,4})")


@dataclass(frozen=True)
class Found:
    """Bytes, what they were written as, and the (width, height) that words around them name, if any."""

    data: bytes
    written_as: str
    size: tuple[int, int] | None = None


def read_foreign(text: str) -> Found:
    """The bytes in a text.

    Raises
    ------
    BadLinesError
        What cannot be read, line by line, with what is accepted.
    """
    size = size_in_words(text)
    body = without_block_comments(_without_line_numbers(text))
    braces = _longest_braces(body)
    if braces is not None:
        start = body.count("\n", 0, braces[0])
        return Found(_numbers(body[braces[0] : braces[1]], start, "the array"), "array in braces", size)
    lines = body.splitlines()
    dumped = [_dump_line(line) for line in lines]
    filled = [line for line in lines if line.strip()]
    if filled and sum(found is not None for found in dumped) > 0.6 * len(filled) and len(filled) > 1:
        return Found(_dump(lines), "hex dump", size)
    if re.search(r"\\x[0-9A-Fa-f]{2}", body):
        return Found(_escaped(body), "quoted bytes", size)
    return Found(_numbers(body, 0, "the list"), "list of numbers", size)


def _without_line_numbers(text: str) -> str:
    """The text without an editor's numbers before its lines: one more on each, three lines or more."""
    lines = text.splitlines()
    heads = [re.match(r"\s*([0-9]{1,9})\s*[:|\t]", line) for line in lines if line.strip()]
    numbers = [int(head[1]) for head in heads if head]
    if len(numbers) < max(3, len(heads)) or any(b - a != 1 for a, b in pairwise(numbers)):
        return text
    return "\n".join(re.sub(r"^\s*[0-9]{1,9}\s*[:|\t]", "", line) for line in lines)


def found_raw(data: bytes, name: str) -> Found:
    """A raw file: text that holds numbers is read, anything else is the bytes themselves."""
    head = data[:4096]
    printable = sum(32 <= byte < 127 or byte in (9, 10, 13) for byte in head)
    if head and printable / len(head) > 0.97:
        try:
            return read_foreign(data.decode("utf-8", "replace"))
        except BadLinesError:
            pass
    if len(data) < FEWEST_BYTES:
        raise BadLinesError(
            (LineProblem(1, f"{name or 'the file'} holds {len(data)} bytes; a picture has {FEWEST_BYTES} or more"),)
        )
    return Found(data, "raw file", size_in_words(name))


def size_in_words(text: str) -> tuple[int, int] | None:
    """A size that names, comments or definitions give: "128x64", "WIDTH 128 ... HEIGHT 64"."""
    width = height = None
    for match in _SIZES.finditer(text[:20_000]):
        if match[1]:
            pair = int(match[1]), int(match[2])
            if min(pair) >= 4:
                return pair
        width = width or (int(match[3]) if match[3] else None)
        height = height or (int(match[4]) if match[4] else None)
    return (width, height) if width and height else None


def _longest_braces(text: str) -> tuple[int, int] | None:
    """(start, end) of what stands in the longest pair of outermost braces that holds numbers."""
    spans, depth, start = [], 0, 0
    for match in re.finditer(r"[{}]", text):
        if match[0] == "{":
            start = match.end() if depth == 0 else start
            depth += 1
        elif depth:
            depth -= 1
            if depth == 0:
                spans.append((start, match.start()))
    if depth:  # a brace that was never closed: what was pasted ends in the middle
        spans.append((start, len(text)))
    spans = [span for span in spans if re.search(r"\d", text[slice(*span)])]
    return max(spans, key=lambda span: span[1] - span[0], default=None)


def _numbers(text: str, first_line: int, what: str) -> bytes:
    """Numbers from 0 to 255 (or words of 16 bits, high byte first) in a text."""
    problems: list[LineProblem] = []
    values: list[int] = []
    widest = 2
    plain_hex = _is_plain_hex(text)
    seen: dict[str, tuple[int | None, int]] = {}  # there are far fewer ways of writing a byte than bytes
    for number, line in enumerate(text.splitlines(), first_line + 1):
        for word in _WORD.findall(_LINE_COMMENT.sub("", line)):
            known = seen.get(word)
            if known is None:
                known = seen[word] = _value(word, plain_hex)
            value, digits = known
            if value is None:
                problems.append(LineProblem(number, f"{word[:24]!r} is no byte; numbers look like 0x2A, 42, 0b00101010 or 2A"))
            elif value > 0xFFFF:
                problems.append(LineProblem(number, f"{word[:24]} is more than two bytes can hold (65,535)"))
            else:
                values.append(value)
                widest = max(widest, digits)
            if len(problems) >= MOST_PROBLEMS:
                break
        if len(problems) >= MOST_PROBLEMS:
            break
    words = widest > 2 or max(values, default=0) > 255
    if not problems and len(values) * (2 if words else 1) < FEWEST_BYTES:
        text = f"{what} holds {len(values)} numbers; a picture has {FEWEST_BYTES} bytes or more"
        problems.append(LineProblem(first_line + 1, text))
    if problems:
        raise BadLinesError(tuple(problems))
    return (np.array(values, ">u2").tobytes() if words else bytes(values))[:MOST_BYTES]


def _is_plain_hex(text: str) -> bool:
    """Whether a list is hexadecimal without saying so: pairs of digits, some of them letters, and no prefix."""
    words = _WORD.findall(_LINE_COMMENT.sub("", text))
    pairs = [word for word in words if len(word) == 2 and not word.strip(_DIGITS)]
    return len(pairs) > 0.9 * max(1, len(words)) and any(re.search("[A-Fa-f]", word) for word in pairs)


def _value(word: str, plain_hex: bool) -> tuple[int | None, int]:
    """(value, hexadecimal digits written) of a number; None for anything else."""
    if plain_hex:
        return (int(word, 16), 2) if re.fullmatch(r"[0-9A-Fa-f]{1,2}", word) else (None, 0)
    match = _NUMBER.fullmatch(word.rstrip("uUlL"))
    if match is None:
        return None, 0
    if match[1]:
        return int(match[1], 16), len(match[1])
    if match[2] or match[3]:
        bits = match[2] or match[3]
        return int(bits, 2), 4 if len(bits) > 8 else 2
    return (int(match[4]) if len(match[4]) <= MOST_DIGITS else 0x10000), 2


def _dump_line(line: str) -> bytes | None:
    """The bytes behind an address; what stands after two spaces or a bar is letters. None for any other line."""
    head = _ADDRESS.match(line)
    if head is None:
        return None
    out = bytearray()
    for part in re.split(r"\s{2,}|[|*>]", line[head.end() :].strip()):
        words = part.replace("-", " ").split()
        if not all(re.fullmatch(r"(?:[0-9A-Fa-f]{2}){1,4}", word) for word in words):
            return bytes(out) if out else None
        out += bytes.fromhex("".join(words))
    return bytes(out)


def _dump(lines: list[str]) -> bytes:
    """Bytes of lines such as ``0010: 2A FF 00 00  *...``; addresses and letters at the end are passed over."""
    out, problems = bytearray(), []
    for number, line in enumerate(lines, 1):
        if not line.strip():
            continue
        found = _dump_line(line)
        if found is None:
            problems.append(LineProblem(number, f"{line.strip()[:24]!r} has no address and bytes, such as 0010: 2A FF"))
            continue
        out += found
    if not problems and len(out) < FEWEST_BYTES:
        problems.append(LineProblem(1, f"the dump holds {len(out)} bytes; a picture has {FEWEST_BYTES} or more"))
    if problems:
        raise BadLinesError(tuple(problems[:MOST_PROBLEMS]))
    return bytes(out[:MOST_BYTES])


def _escaped(text: str) -> bytes:
    """Bytes of quoted strings with escapes; what stands outside of quotes is passed over."""
    out = bytearray()
    for quoted in re.finditer(r"\"((?:[^\"\\\n]|\\.)*)\"|'((?:[^'\\\n]|\\.)*)'", text):
        inner = quoted[1] if quoted[1] is not None else quoted[2]
        for match in _ESCAPES.finditer(inner):
            if match[1]:
                out.append(int(match[1], 16))
            elif match[2]:
                out.append(_SINGLE.get(match[2], ord(match[2])))
            else:
                code = ord(match[3])
                if code > 255:
                    line = text.count("\n", 0, quoted.start()) + 1
                    raise BadLinesError((LineProblem(line, f"{match[3]!r} is no byte; write it as \\x and two digits"),))
                out.append(code)
    if len(out) < FEWEST_BYTES:
        raise BadLinesError((LineProblem(1, f"the quoted text holds {len(out)} bytes; a picture has {FEWEST_BYTES} or more"),))
    return bytes(out[:MOST_BYTES])
