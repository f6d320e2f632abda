"""Reading a set-up sequence: the notation of passports, calls of functions, or a list of bytes.

Calls are told by their names (``writeCommand(0x36)``, ``send_data(0x48)``, ``delay(120)``). A list of bytes is taken
command by command, each with as many operands as the controller's family gives it, or with a count behind each command.
"""

import re
from dataclasses import dataclass

from mosaic.errors import BadDescriptionError, BadLinesError, LineProblem
from mosaic.numbers import whole
from mosaic.panels.sequence import LONGEST_DELAY_MS, Transaction, expand, parse
from mosaic.source_text import without_block_comments
from mosaic.virtual.panel import FAMILIES
from mosaic.virtual.vocabulary import Spoken, operand_count, spoken

MOST_PROBLEMS = 20
MOST_COMMANDS = 2000
DELAY_FLAG = 0x80
_LINE_COMMENT = re.compile(r"//.*|#.*")
_CALL = re.compile(r"(?<![\w.>-])([A-Za-z_][\w.>-]*)\s*\(([^()]*)\)")
_BYTE = re.compile(r"0[xX][0-9A-Fa-f]{1,4}|0[bB][01]{1,8}|\b[0-9A-Fa-f]{2}\b|\b[0-9]{1,3}\b")
_NOTATION = re.compile(r"\s*(reset|busy|delay\s+[0-9]|[cd]\s+[0-9A-F{])")


@dataclass(frozen=True)
class Step:
    """One thing of a sequence: a command with its operands in words, or a reset or wait; and its line."""

    kind: str
    line: int
    said: Spoken | None = None
    wait_ms: float = 0.0

    @property
    def words(self) -> str:
        if self.said is not None:
            return self.said.words
        return f"wait {self.wait_ms:g} ms" if self.kind == "delay" else {"reset": "reset", "busy": "wait until idle"}[self.kind]


@dataclass(frozen=True)
class Sequence:
    """A sequence as it was read."""

    steps: tuple[Step, ...]
    written_as: str

    @property
    def commands(self) -> tuple[Spoken, ...]:
        return tuple(step.said for step in self.steps if step.said is not None)

    def transactions(self, family: str) -> tuple[Transaction, ...]:
        """What goes over the wire."""
        as_commands = FAMILIES[family][1].OPERANDS_ARE_COMMANDS
        out: list[Transaction] = []
        for step in self.steps:
            if step.said is None:
                out.append(Transaction(step.kind, wait_ms=step.wait_ms))  # type: ignore[arg-type]
                continue
            code, operands = bytes([step.said.code]), bytes(step.said.operands)
            if family == "quad-window":
                code = bytes([0x32 if step.said.code == 0x2C else 0x02, 0, step.said.code, 0])
            if as_commands:
                out.append(Transaction("command", code + operands))
            else:
                out.append(Transaction("command", code))
                out += [Transaction("data", operands)] if operands else []
        return tuple(out)


def read_sequence(text: str, family: str, values: dict[str, int | bytes] | None = None) -> Sequence:
    """A sequence in words.

    Parameters
    ----------
    values : what braces of the passports' notation stand for

    Raises
    ------
    BadLinesError
        Lines that cannot be read, with their numbers and what is accepted.
    """
    lines = [
        (number, _LINE_COMMENT.sub("", without_block_comments(line)).strip()) for number, line in enumerate(text.splitlines(), 1)
    ]
    filled = [(number, line) for number, line in lines if line]
    if not filled:
        raise BadLinesError((LineProblem(1, "nothing to read; paste commands such as c A8 3F, cmd(0xA8), or 0xA8, 0x3F"),))
    if 2 * sum(bool(_NOTATION.match(line)) for _, line in filled) >= len(filled):
        return _from_notation(filled, family, values or {})
    if sum(bool(_CALL.search(line)) for _, line in filled) > len(filled) / 2:
        return _from_calls(filled, family)
    return _from_bytes(filled, family)


def _from_notation(lines: list[tuple[int, str]], family: str, values: dict[str, int | bytes]) -> Sequence:
    stream: list[tuple[int, Transaction]] = []
    problems = []
    for number, line in lines:
        try:
            parse(line)
            stream += [(number, t) for t in expand(line, values)]
        except BadDescriptionError as error:
            problems.append(LineProblem(number, re.sub(r"^line 1: ", "", error.reason)))
    return _assembled(stream, family, problems, "notation of passports")


def _from_calls(lines: list[tuple[int, str]], family: str) -> Sequence:
    stream: list[tuple[int, Transaction]] = []
    problems = []
    for number, line in lines:
        calls = _CALL.findall(line)
        if not calls and re.search(r"\w", line.strip("{}();")):
            problems.append(LineProblem(number, f"{line[:32]!r} is no call; calls look like cmd(0xA8) or data(0x3F)"))
        for name, inner in calls:
            low = name.lower()
            if re.search(r"delay|sleep|wait|msec", low) and (found := re.search(r"[0-9]+", inner)):
                wait = whole(found[0], most=LONGEST_DELAY_MS)
                if wait is None:
                    words = f"{name[:24]}({inner[:16]}) waits too long; up to {LONGEST_DELAY_MS:,} ms are accepted"
                    problems.append(LineProblem(number, words))
                stream.append((number, Transaction("delay", wait_ms=float(wait or 0))))
            elif "reset" in low or "rst" in low:
                stream.append((number, Transaction("reset")))
            elif re.search(r"busy|idle", low):
                stream.append((number, Transaction("busy")))
            else:
                values = _bytes_of(inner)
                if not values:
                    problems.append(LineProblem(number, f"{name[:24]}({inner[:16]}) gives no byte; write it as 0x2A"))
                elif re.search(r"c(om)?m(an)?d|_c$|^c$|reg", low):
                    stream.append((number, Transaction("command", bytes(values[:1]))))
                    stream += [(number, Transaction("data", bytes(values[1:])))] if values[1:] else []
                elif re.search(r"da?t|_d$|^d$|byte", low):
                    stream.append((number, Transaction("data", bytes(values))))
                else:
                    words = f"{name[:24]}() is neither command nor data by its name; names hold cmd or data"
                    problems.append(LineProblem(number, words))
    return _assembled(stream, family, problems, "calls")


def _bytes_of(text: str) -> list[int]:
    out = []
    for word in _BYTE.findall(text):
        low = word.lower()
        is_hex = low.startswith("0x") or (not low.startswith("0b") and (re.search("[a-f]", low) or not low.isdigit()))
        value = int(low, 16) if is_hex else int(low, 0) if low.startswith("0b") else int(low)
        if value <= 255:
            out.append(value)
    return out


def _assembled(stream: list[tuple[int, Transaction]], family: str, problems: list[LineProblem], written_as: str) -> Sequence:
    """Commands with their operands, however they were sent."""
    steps: list[Step] = []
    open_: tuple[int, int, list[int]] | None = None  # line, code, operands so far

    def close() -> None:
        nonlocal open_
        if open_ is not None:
            steps.append(Step("command", open_[0], spoken(family, open_[1], tuple(open_[2]))))
            open_ = None

    for line, transaction in stream:
        if transaction.kind in ("reset", "busy", "delay"):
            close()
            steps.append(Step(transaction.kind, line, wait_ms=transaction.wait_ms))
            continue
        data = list(transaction.data)
        if transaction.kind == "command" and family == "quad-window" and len(data) == 4:
            data = data[2:3]
        for position, byte in enumerate(data):
            is_command = transaction.kind == "command"
            wants = open_ is not None and len(open_[2]) < (operand_count(family, open_[1]) or 0)
            if is_command and not (wants and (position > 0 or FAMILIES[family][1].OPERANDS_ARE_COMMANDS)):
                close()
                open_ = (line, byte, [])
            elif open_ is None:
                problems.append(LineProblem(line, f"{byte:02X} is data before any command"))
                break
            else:
                open_[2].append(byte)
        if len(steps) > MOST_COMMANDS:
            problems.append(LineProblem(line, f"more than {MOST_COMMANDS:,} commands; paste the set-up alone"))
            break
    close()
    if problems:
        raise BadLinesError(tuple(problems[:MOST_PROBLEMS]))
    return Sequence(tuple(steps), written_as)


def _from_bytes(lines: list[tuple[int, str]], family: str) -> Sequence:
    """A list of bytes: with counts behind commands if that fits to the end, else by the family's own counts."""
    flat = []
    for number, line in lines:
        body = re.sub(r"\b(?:static|const|uint8_t|unsigned|char|PROGMEM|\w+\[\w*\])\s*|[{}=;]", " ", line)
        strange = [w for w in re.findall(r"[^\s,]+", body) if not _BYTE.fullmatch(w) and re.search(r"\w", w)]
        if strange:
            words = f"{strange[0][:24]!r} is no byte; bytes look like 0xA8 or A8, with commas or spaces between"
            raise BadLinesError((LineProblem(number, words),))
        flat += [(number, value) for value in _bytes_of(body)]
    counted = _counted(flat, family)
    if counted is not None:
        return counted
    steps, problems, at = [], [], 0
    while at < len(flat):
        number, code = flat[at]
        wanted = operand_count(family, code)
        if wanted is None:
            problems.append(LineProblem(number, f"{code:02X} is no command of this controller; is a byte missing above it?"))
            break
        operands = tuple(value for _, value in flat[at + 1 : at + 1 + wanted])
        if len(operands) < wanted:
            problems.append(LineProblem(number, f"{code:02X} takes {wanted} operand(s), and the list ends after {len(operands)}"))
            break
        steps.append(Step("command", number, spoken(family, code, operands)))
        at += 1 + wanted
    if problems:
        raise BadLinesError(tuple(problems))
    return Sequence(tuple(steps), "list of bytes")


def _counted(flat: list[tuple[int, int]], family: str) -> Sequence | None:
    """Command, count, operands, and with the count's high bit a pause behind them; None if it does not come out even."""
    steps: list[Step] = []
    at, matching = 0, 0
    while at < len(flat):
        number, code = flat[at]
        if code == 0 and at == len(flat) - 1:
            break  # a closing 0
        if at + 1 >= len(flat):
            return None
        count = flat[at + 1][1]
        size = count & ~DELAY_FLAG
        end = at + 2 + size + (1 if count & DELAY_FLAG else 0)
        if end > len(flat) or operand_count(family, code) is None or size > 64:
            return None
        operands = tuple(value for _, value in flat[at + 2 : at + 2 + size])
        matching += size == operand_count(family, code)
        steps.append(Step("command", number, spoken(family, code, operands)))
        if count & DELAY_FLAG:
            wait = flat[at + 2 + size][1]
            steps.append(Step("delay", number, wait_ms=500.0 if wait == 255 else float(wait)))
        at = end
    commands = sum(step.kind == "command" for step in steps)
    return Sequence(tuple(steps), "list with counts") if commands > 1 and matching >= 0.8 * commands else None
