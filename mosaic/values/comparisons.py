"""Bands from comparisons as they stand in programs: chains of if and else, of ? and :, of case, or a table of ranges."""

import re
from dataclasses import dataclass

from mosaic.errors import BadValueError
from mosaic.values.bands import MOST_BANDS, Band, Bands, stretches
from mosaic.values.value import Value

LONGEST = 4000
NUMBER = r"[-+]?\d+(?:[.,]\d+)?"
NAME = r"[A-Za-z_][\w.\[\]>-]*?(?:\(\))?"
_SIDES = re.compile(rf"({NUMBER})\s*(<=|<|>=|>)\s*({NAME})(?=\W|$)|({NAME})\s*(<=|>=|==|<|>)\s*({NUMBER})")
_BRANCH = re.compile(r"\b(else\s*if|elif|elsif|elseif|if|else)\b|(?<![\w\"'])(case|default)\b")
_RANGE = re.compile(rf"^\s*({NUMBER})\s*(?:\.\.\.?|-|–|to|bis)\s*({NUMBER})\s*[:=,;\t ]+\s*(.+?)\s*[,;]?$")
_CASE = re.compile(rf"({NUMBER})\s*(?:\.\.\.\s*({NUMBER}))?\s*:")
_QUOTED = re.compile(r"\"([^\"\n]{1,24})\"|'([^'\n]{1,24})'")
_FLIP = {"<": ">", "<=": ">=", ">": "<", ">=": "<="}


@dataclass(frozen=True)
class Read:
    """What was read: bands, the name that is compared, and what was left out, in words."""

    bands: Bands
    name: str
    left_out: tuple[str, ...] = ()


def read_comparisons(text: str, value: Value) -> Read:
    """Bands of a value from pasted comparisons.

    With else, a branch begins where those before it end; without, each stands for itself, and overlaps are kept as they are.

    Raises
    ------
    BadValueError
        Nothing is compared, several names are, or there are too many bands.
    """
    if len(text) > LONGEST:
        raise BadValueError(f"{len(text):,} characters are too many; up to {LONGEST:,} are read")
    plain = re.sub(r"//[^\n]*|/\*.*?\*/|#[^\n]*", " ", text, flags=re.DOTALL).replace("&&", " and ")
    reader = _Reader(value)
    if re.search(r"\bcase\b", plain):
        reader.cases(plain)
    elif "?" in plain and not _BRANCH.search(plain):
        reader.ternary(plain)
    elif _BRANCH.search(plain):
        reader.branches(plain)
    else:
        reader.lines(plain)
    if not reader.bands:
        raise BadValueError(
            "no comparison was found; if a < 2 ... else if a > 2 and a < 6, case 2 ... 5:, a < 2 ? x : y and 0-2 low are read"
        )
    if len(reader.bands) > MOST_BANDS:
        raise BadValueError(f"there are {len(reader.bands)} bands; up to {MOST_BANDS} are accepted")
    if len(reader.names) > 1:
        raise BadValueError(f"{' and '.join(sorted(reader.names))} are compared; the bands of one value are read at a time")
    return Read(Bands(tuple(reader.bands)), next(iter(reader.names), value.name), tuple(reader.left_out))


class _Reader:
    def __init__(self, value: Value) -> None:
        self.value = value
        self.bands: list[Band] = []
        self.names: set[str] = set()
        self.left_out: list[str] = []

    def raw(self, typed: str) -> int:
        return round(float(typed.replace(",", ".")) * 10**self.value.scale)

    def interval(self, condition: str) -> tuple[int | None, int | None] | None:
        """The raw numbers from and below which a condition is true; None where it says nothing."""
        if re.search(r"\|\||\bor\b|!=|<>", condition):
            self.left_out.append(f"{condition.strip()[:40]}: more than one stretch")
            return None
        start: int | None = None
        end: int | None = None
        found = False
        # 2 < a < 6 is two comparisons that share their middle.
        spread = re.sub(rf"({NUMBER}\s*(?:<=|<|>=|>)\s*)({NAME})(\s*(?:<=|<|>=|>)\s*{NUMBER})", r"\1\2 and \2\3", condition)
        for left, left_op, left_name, right_name, right_op, right in _SIDES.findall(spread):
            name, op, number = (left_name, _FLIP[left_op], left) if left else (right_name, right_op, right)
            at, found = self.raw(number), True
            self.names.add(name)
            if op in (">", ">=", "=="):
                low = at + (op == ">")
                start = low if start is None else max(start, low)
            if op in ("<", "<=", "=="):
                high = at + (op != "<")
                end = high if end is None else min(end, high)
        return (start, end) if found else None

    def add(self, interval: tuple[int | None, int | None], rest: str, chained: bool) -> None:
        start, end = interval
        if chained:
            start, end = self.beyond(start, end)
        quoted = _QUOTED.search(rest)
        word = next((group for group in quoted.groups() if group), "") if quoted else ""
        if start is not None and end is not None and start >= end:
            self.left_out.append(f"{word or f'branch {len(self.bands) + 1}'}: those before it leave nothing of it")
            return
        self.bands.append(Band(start, end, word))

    def beyond(self, start: int | None, end: int | None) -> tuple[int | None, int | None]:
        """A branch after others begins where those that lie at its own lower end stop, and ends where those above begin."""
        for band in self.bands:
            if band.end is not None and (start is None or band.holds(start)) and (end is None or band.end < end or start is None):
                if band.start is None or (start is not None and band.start <= start):
                    start = band.end if start is None else max(start, band.end)
            elif band.end is None and band.start is not None and (end is None or end > band.start):
                end = band.start
        return start, end

    def branches(self, plain: str) -> None:
        parts = _BRANCH.split(plain)
        # The text before the first word, then of each branch its word (twice, one of them empty) and what follows it.
        chained = False
        for word, _, rest in zip(parts[1::3], parts[2::3], parts[3::3], strict=True):
            kind = re.sub(r"\s", "", word or "")
            condition, _, body = rest.partition(":") if ":" in rest.split("\n")[0] and "?" not in rest else (rest, "", rest)
            chained = (chained and kind != "if") or kind in ("elseif", "elif", "elsif", "else")
            if kind == "else":
                self.rest_of(rest)
                continue
            interval = self.interval(_condition(condition))
            if interval is not None:
                self.add(interval, body or rest, chained)

    def rest_of(self, body: str) -> None:
        """What is left for an else: the open end above all, or else below all."""
        tops = [band.end for band in self.bands]
        bottoms = [band.start for band in self.bands]
        quoted = _QUOTED.search(body)
        word = next((group for group in quoted.groups() if group), "") if quoted else ""
        if self.bands and None not in tops:
            self.bands.append(Band(max(end for end in tops if end is not None), None, word))
        elif self.bands and None not in bottoms:
            self.bands.append(Band(None, min(start for start in bottoms if start is not None), word))
        low, high = self.value.bounds
        gaps = [one for one in stretches(Bands(tuple(self.bands)), low, high) if one.is_gap]
        for gap in gaps:
            plain = self.value.plain(gap.start)
            plain = plain if gap.start == gap.end else f"{plain} to {self.value.plain(gap.end)}"
            self.left_out.append(f"else: it also holds {plain}, which lies between the others")

    def ternary(self, plain: str) -> None:
        pieces = plain.split("?")
        condition = pieces[0].rpartition("=")[2] if re.search(r"[^<>=!]=[^=]", pieces[0]) else pieces[0]
        for piece in pieces[1:]:
            yes, _, no = piece.partition(":")
            interval = self.interval(condition)
            if interval is not None:
                self.add(interval, yes, bool(self.bands))
            condition = no
        self.rest_of(condition)

    def cases(self, plain: str) -> None:
        for start, end, rest in re.findall(
            rf"case\s+({NUMBER})\s*(?:\.\.\.\s*({NUMBER}))?\s*:(.*?)(?=\bcase\b|\bdefault\b|$)", plain, re.DOTALL
        ):
            self.add((self.raw(start), self.raw(end or start) + 1), rest, False)
        switched = re.search(rf"switch\s*\(\s*({NAME})\s*\)", plain)
        if switched:
            self.names.add(switched[1])
        if "default" in plain:
            self.left_out.append("default: it holds what lies between and beyond")

    def lines(self, plain: str) -> None:
        for line in re.split(r"[\n;]|,\s+(?=[-\d])", plain):
            row = _RANGE.match(line)
            if row:
                self.add((self.raw(row[1]), self.raw(row[2])), f'"{row[3][:24]}"', False)
                continue
            interval = self.interval(line)
            if interval is not None:
                quoted = _QUOTED.search(line)
                rest = (
                    re.split(r"[:=]\s*|\s{2,}|\t|->", line)[-1].strip()
                    if not quoted and not _SIDES.search(line.strip().split(":")[-1])
                    else ""
                )
                self.add(interval, line if quoted else f'"{rest[:24]}"' if rest else "", False)


def _condition(rest: str) -> str:
    """What stands in the brackets behind if, or up to the end of its line."""
    rest = rest.lstrip()
    if not rest.startswith("("):
        return re.split(r"\bthen\b|\{|\n|\"|'|\.\.\.", rest)[0]
    depth = 0
    for number, mark in enumerate(rest):
        depth += (mark == "(") - (mark == ")")
        if depth == 0:
            tail = rest[number + 1 :].lstrip()
            return rest[: number + 1] if not tail.startswith(("and", "&")) else re.split(r"\{|\n|:", rest)[0]
    return rest
