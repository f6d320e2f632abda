"""Drawing calls in somebody's program: found in C, C++ or Python by their shape, with the numbers, texts and names in them.

Nothing is carried out: constants and plain sums are worked out, everything else is told by its line.
"""

import ast
import re
from collections.abc import Mapping
from dataclasses import dataclass

from mosaic.errors import BadValueError

LONGEST, MOST_CALLS, MOST_DEPTH = 400_000, 4000, 30
CONTROL = {"if", "for", "while", "switch", "return", "sizeof", "catch", "elif", "and", "or", "not", "in", "print_r", "defined"}
_NAME = re.compile(r"[A-Za-z_]\w*(?:\s*(?:\.|->|::)\s*[A-Za-z_]\w*)*")
_TOKENS = re.compile(
    r"""(?P<comment>/\*.*?\*/|//[^\n]*)|(?P<hash>\#[^\n]*)|(?P<triple>\"{3}.*?\"{3}|'{3}.*?'{3})"""
    r"""|(?P<string>(?:[rbuLU]|u8)?"(?:\\.|[^"\\\n])*"|'(?:\\.|[^'\\\n])*')""",
    re.DOTALL,
)
_DEFINE = re.compile(r"^[ \t]*#[ \t]*define[ \t]+([A-Za-z_]\w*)(\([^)]*\))?[ \t]+(.+?)[ \t]*$", re.MULTILINE)
_CONSTANT = re.compile(
    r"^[ \t]*(?:(?:static|const|constexpr|unsigned|signed|final)\s+)*"
    r"(?:(?:u?int(?:8|16|32)?(?:_t)?|long|short|char|auto|byte)\s+)?"
    r"([A-Za-z_]\w*)\s*(?::\s*int\s*)?=\s*([^=;{\n][^;\n]*?)\s*;?\s*$",
    re.MULTILINE,
)
_ARRAY = re.compile(r"([A-Za-z_]\w*)\s*(?:\[[^\]]*\]\s*)+(?:[A-Z_]+\s*)?=\s*\{([^{}]*)\}", re.DOTALL)
_BYTES = re.compile(r"([A-Za-z_]\w*)\s*=\s*(?:bytes|bytearray)\s*\(\s*[\[(]([^\])]*)[\])]\s*\)", re.DOTALL)
_SUFFIX = re.compile(r"\b(0[xX][0-9A-Fa-f]+|\d+)[uUlL]+\b")


@dataclass(frozen=True)
class Argument:
    """What a call is given: a number, a text, the name of something, or what could not be worked out; its keyword, if any."""

    number: int | None = None
    text: str | None = None
    name: str = ""
    keyword: str = ""
    written: str = ""


@dataclass(frozen=True)
class FoundCall:
    line: int
    name: str
    arguments: tuple[Argument, ...]

    @property
    def numbers(self) -> tuple[int, ...]:
        return tuple(one.number for one in self.arguments if one.number is not None)

    @property
    def shape(self) -> str:
        """What it is given, in letters: n numbers, t texts, a names, ? what is not known."""
        return "".join(
            "n" if a.number is not None else "t" if a.text is not None else "a" if a.name else "?" for a in self.arguments
        )


@dataclass(frozen=True)
class Unread:
    """A line that could not be read, and why."""

    line: int
    written: str
    why: str


@dataclass(frozen=True)
class SourceCalls:
    """What was found in a text."""

    calls: tuple[FoundCall, ...]
    arrays: Mapping[str, bytes]
    unread: tuple[Unread, ...]

    @property
    def names(self) -> tuple[str, ...]:
        """Names of calls in the order of their first."""
        return tuple(dict.fromkeys(call.name for call in self.calls))


def _blanked(text: str, *, python: bool) -> tuple[str, dict[int, str]]:
    """The text with comments and texts blanked out, and the texts by where they begin."""
    texts: dict[int, str] = {}
    out: list[str] = []
    at = 0
    for match in _TOKENS.finditer(text):
        if match["hash"] and not python:
            continue
        out.append(text[at : match.start()])
        found = match[0]
        if match["string"] or match["triple"]:
            body = found[3:-3] if match["triple"] else found[found.index(found[-1]) + 1 : -1]
            texts[match.start()] = _unescaped(body)
            out.append('"' + re.sub(r"[^\n]", "_", found[1:]))
        else:
            out.append(re.sub(r"[^\n]", " ", found))
        at = match.end()
    out.append(text[at:])
    return "".join(out), texts


def _unescaped(body: str) -> str:
    plain = {"n": "\n", "t": "\t", "r": "", "0": "", "\\": "\\", '"': '"', "'": "'"}

    def one(match: re.Match[str]) -> str:
        word = match[1]
        if word[0] == "x":
            return chr(int(word[1:], 16)) if len(word) > 1 else ""
        return plain.get(word, chr(int(word, 8) & 255) if word.isdigit() else word)

    raw = re.sub(r"\\(x[0-9A-Fa-f]{1,2}|[0-7]{1,3}|.)", one, body)
    # Bytes above 127 that were written one by one are UTF-8, where they can be.
    if "\\" in body and any(127 < ord(c) < 256 for c in raw):
        try:
            return raw.encode("latin-1").decode()
        except UnicodeError:
            return raw
    return raw


def looks_like_python(text: str) -> bool:
    """Whether a text is Python: lines that end in no semicolon, and its own words."""
    lines = [line for line in text.splitlines() if line.strip()]
    ended = sum(line.rstrip().endswith((";", "{", "}")) for line in lines)
    return bool(re.search(r"^\s*(def|import|from)\s+\w", text, re.MULTILINE)) or ended * 4 < len(lines)


def worked_out(written: str, constants: Mapping[str, int]) -> int | None:
    """The whole number of a plain sum of numbers and constants; None where it is none.

    >>> worked_out("WIDTH / 2 - 0x10u", {"WIDTH": 129}), worked_out("-7 / 2", {}), worked_out("tide + 1", {})
    (48, -3, None)
    """
    plain = _SUFFIX.sub(r"\1", written.strip())
    if not plain or len(plain) > 200 or not re.fullmatch(r"[\w\s+\-*/%<>()|&~.]+", plain):
        return None
    try:
        tree = ast.parse(re.sub(r"\b0+(?=[1-9])", "", plain).strip(), mode="eval")
        found = _sum(tree.body, constants, 0)
    except (SyntaxError, ValueError, ZeroDivisionError, RecursionError, MemoryError):
        return None
    return found if abs(found) < 2**31 else None


def _sum(node: ast.AST, constants: Mapping[str, int], depth: int) -> int:
    if depth > MOST_DEPTH:
        raise ValueError("too deep")
    if isinstance(node, ast.Constant) and isinstance(node.value, (int, float)) and not isinstance(node.value, bool):
        if node.value != int(node.value):
            raise ValueError("a fraction")
        return int(node.value)
    if isinstance(node, ast.Name) and node.id in constants:
        return constants[node.id]
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, (ast.USub, ast.UAdd, ast.Invert)):
        value = _sum(node.operand, constants, depth + 1)
        return -value if isinstance(node.op, ast.USub) else ~value if isinstance(node.op, ast.Invert) else value
    if isinstance(node, ast.BinOp):
        a, b = _sum(node.left, constants, depth + 1), _sum(node.right, constants, depth + 1)
        if max(abs(a), abs(b)) >= 2**31 or (isinstance(node.op, (ast.LShift, ast.RShift)) and not 0 <= b < 32):
            raise ValueError("too large")
        match node.op:
            case ast.Add():
                return a + b
            case ast.Sub():
                return a - b
            case ast.Mult():
                return a * b
            case ast.Div() | ast.FloorDiv():
                quotient = abs(a) // abs(b)  # towards zero, as C does it
                return quotient if (a < 0) == (b < 0) else -quotient
            case ast.Mod():
                return abs(a) % abs(b) * (-1 if a < 0 else 1)
            case ast.LShift():
                return a << b
            case ast.RShift():
                return a >> b
            case ast.BitOr():
                return a | b
            case ast.BitAnd():
                return a & b
    raise ValueError("not a plain sum")


def _closing(text: str, start: int) -> int:
    """Where the parenthesis that opens at `start` closes; -1 where it does not."""
    depth = 0
    for at in range(start, min(len(text), start + 4000)):
        depth += (text[at] in "([{") - (text[at] in ")]}")
        if depth == 0:
            return at
    return -1


def _split(text: str, start: int, end: int) -> list[tuple[int, int]]:
    """Spans of arguments between two places, at commas outside of brackets."""
    found, depth, begin = [], 0, start
    for at in range(start, end):
        depth += (text[at] in "([{") - (text[at] in ")]}")
        if text[at] == "," and depth == 0:
            found.append((begin, at))
            begin = at + 1
    return [*found, (begin, end)] if text[begin:end].strip() or found else []


@dataclass(frozen=True)
class _Program:
    """A text as it was pasted, with comments and texts blanked out at the same places, its texts, its constants."""

    source: str
    text: str
    texts: Mapping[int, str]
    constants: Mapping[str, int]


def _argument(program: _Program, span: tuple[int, int]) -> list[Argument]:
    text, texts, constants = program.text, program.texts, program.constants
    start, end = span
    while start < end and text[start].isspace():
        start += 1
    written = text[start:end].strip()
    shown, keyword = program.source[start:end].strip(), ""
    named = re.match(r"([A-Za-z_]\w*)\s*=(?!=)\s*", written)
    if named:
        keyword, start = named[1], start + named.end()
        written = written[named.end() :]
    cast = re.match(r"\(\s*(?:const\s+)?(?:unsigned\s+)?\w+(?:\s*\*)?\s*\)\s*(?=[\w\"(])", written)
    if cast and not worked_out(written, constants):
        start, written = start + cast.end(), written[cast.end() :]
    if start in texts:
        joined, at = "", start  # texts that stand side by side are one
        while at in texts:
            joined += texts[at]
            closing = text.find('"', at + 1)
            rest = re.match(r"_*\s*", text[at + 1 : end])
            at += 1 + (rest.end() if rest else 0)
            if closing < 0:
                break
        return [Argument(text=joined, keyword=keyword, written=shown)]
    wrapped = re.fullmatch(r"[A-Za-z_]\w*\s*\(\s*(\"_*)\s*\)", written)
    if wrapped:  # a text in a macro of its own, such as one that keeps it in flash
        inside = start + written.index('"')
        if inside in texts:
            return [Argument(text=texts[inside], keyword=keyword, written=shown)]
    if written and written[0] in "([{" and written[-1] in ")]}":
        last = text.rfind(written[-1], start, end)
        inner = [one for part in _split(text, start + 1, last) for one in _argument(program, part)]
        if len(inner) > 1 or written[:1] != "(":
            return inner
    number = worked_out(written, constants)
    if number is not None:
        return [Argument(number=number, keyword=keyword, written=written)]
    plain = written.lstrip("&*").strip()
    if re.fullmatch(r"[A-Za-z_][\w.]*", plain):
        return [Argument(name=plain, keyword=keyword, written=written)]
    return [Argument(keyword=keyword, written=written)]


def read_calls(source: str) -> SourceCalls:
    """Everything in a text that has the shape of a call, the constants worked out, the arrays of bytes.

    Raises
    ------
    BadValueError
        It is too long, or has too many calls.
    """
    if len(source) > LONGEST:
        raise BadValueError(f"the text has {len(source):,} characters; up to {LONGEST:,} are accepted")
    python = looks_like_python(source)
    text, texts = _blanked(source, python=python)
    unread: list[Unread] = []
    constants: dict[str, int] = {}
    for pattern in (_DEFINE, _CONSTANT) if not python else (_CONSTANT,):
        for match in pattern.finditer(text):
            name, value = match[1], match[3] if pattern is _DEFINE else match[2]
            if pattern is _DEFINE and match[2]:
                unread.append(
                    Unread(
                        text.count("\n", 0, match.start()) + 1,
                        match[0].strip()[:80],
                        "macros with parameters are not carried out",
                    )
                )
                continue
            number = worked_out(value, constants)
            if number is not None:
                constants[name] = number
    arrays = {}
    for pattern in (_ARRAY, _BYTES):
        for match in pattern.finditer(text):
            numbers = [worked_out(cell, constants) for cell in match[2].split(",") if cell.strip()]
            if numbers and all(n is not None and 0 <= n <= 255 for n in numbers):
                arrays[match[1]] = bytes(n for n in numbers if n is not None)
    calls: list[FoundCall] = []
    program = _Program(source, text, texts, constants)
    skip = re.sub(r"^[ \t]*#[ \t]*define[^\n]*", lambda m: " " * len(m[0]), text, flags=re.MULTILINE) if not python else text
    for match in _NAME.finditer(skip):
        opening = match.end() + len(skip[match.end() :]) - len(skip[match.end() :].lstrip(" \t"))
        if skip[opening : opening + 1] != "(" or match[0] in CONTROL:
            continue
        closing = _closing(skip, opening)
        line = text.count("\n", 0, match.start()) + 1
        if closing < 0:
            unread.append(Unread(line, skip[match.start() : match.start() + 60].split("\n")[0], "its parentheses do not close"))
            continue
        before = skip[: match.start()].rstrip()
        after = skip[closing + 1 :].lstrip()
        if (
            after.startswith("{")
            or re.search(r"\b(def|class|void|struct|func)$", before)
            or (python and before.endswith(("def", "class")))
        ):
            continue  # where it is made, not where it is called
        given = [one for span in _split(skip, opening + 1, closing) for one in _argument(program, span)]
        calls.append(FoundCall(line, re.sub(r"\s+", "", match[0]), tuple(given)))
        if len(calls) > MOST_CALLS:
            raise BadValueError(f"the text has more than {MOST_CALLS:,} calls; paste the part that draws")
    return SourceCalls(tuple(calls), arrays, tuple(unread))
