"""The live feed: a maker's own drawing code drives the virtual panel, line by line.

A client sends lines of ASCII, each ended by a line feed::

    hello TOKEN          first of all; answered with "ok" and the panel's size, or "no" and the reason
    c 2A                 bytes as command, hexadecimal, spaces or none between them
    d 00 00 00 EF        bytes as data
    reset                the reset line, low and high again
    delay 120            a pause in milliseconds; it passes in virtual time
    busy                 waits until the panel is idle; answered with "idle" and the milliseconds it took
    value tide 4.6       what a value of the screens is now; "value high water = 18:42" where its name has blanks

A program that listens is told what somebody does to the glass on the page, in pixels as the reader sees them::

    touch 120 44         a finger is felt there, until it is told that it was lifted
    lift
    pin 0 1              the level of a button, by its number
    lines 0 1 0          the two lines of an encoder
    reading 2 46         a reading of a value, by its number
    wake

What cannot be read is answered with "?" and the line's number, and passed over: the next line is taken as it stands, so
that half a line, or half a command, does no lasting harm. What the panel would ignore or take wrongly, such as a command
it does not know, is answered in the same way, each kind of it once.
"""

import re
from collections import deque
from collections.abc import Callable

from mosaic.narrowing import needed
from mosaic.panels.sequence import Transaction
from mosaic.virtual.base import VirtualController

LONGEST_LINE = 16 * 1024
MOST_VALUES, LONGEST_VALUE = 100, 120
"""Values that are kept of one session, and characters of one."""
MESSAGES_KEPT = 40
LONGEST_DELAY_MS = 600_000
MOST_ANSWERED = 64
"""Different misuses that are answered in one session."""
_DELAY = re.compile(r"[0-9]{1,6}")
_HEX = re.compile(r"(?:[0-9A-Fa-f]{2}\s*)+")


class FeedSession:
    """One client's conversation. `take` is handed whatever arrives and gives the lines to answer with.

    Parameters
    ----------
    admit : given a token, the virtual panel to be driven; raises PermissionError with the reason to refuse

    Attributes
    ----------
    messages : what was answered with "?" and what was misused, newest last
    values : what was sent of values, by name, as it was written
    """

    def __init__(self, admit: Callable[[str], VirtualController]) -> None:
        self._admit = admit
        self._rest = b""
        self._skipping = False
        self._answered: set[str] = set()
        self.panel: VirtualController | None = None
        self.is_closed = False
        self.line_count = 0
        self.messages: deque[str] = deque(maxlen=MESSAGES_KEPT)
        self.values: dict[str, str] = {}

    def take(self, chunk: bytes) -> list[str]:
        """Take bytes as they arrive; lines may be cut anywhere."""
        answers: list[str] = []
        *lines, self._rest = (self._rest + chunk).split(b"\n")
        if len(self._rest) > LONGEST_LINE:
            if not self._skipping:
                answers += self._refused(f"longer than {LONGEST_LINE:,} bytes; send pictures in several lines")
            self._rest, self._skipping = b"", True
        for line in lines:
            if self._skipping:  # the end of what was too long
                self._skipping = False
                self.line_count += 1
                continue
            if not self.is_closed:
                answers += self._line(line)
        return answers

    def close(self) -> list[str]:
        """The connection is gone: half a line that is left is told, and nothing of it is taken."""
        if self._rest.strip() and self.panel is not None:
            return self._refused(f"half a line at the end: {self._rest[:24].decode('ascii', 'replace')!r}", self.line_count + 1)
        return []

    def _line(self, raw: bytes) -> list[str]:
        self.line_count += 1
        text = raw.decode("ascii", "replace").strip()
        word, _, rest = text.partition(" ")
        if self.panel is None:
            return self._hello(word, rest.strip())
        if not text:
            return []
        if word in ("c", "d"):
            return self._bytes("command" if word == "c" else "data", rest)
        if word == "reset" and not rest:
            return self._play(Transaction("reset"))
        if word == "busy" and not rest:
            before = self.panel.now_ms
            return [*self._play(Transaction("busy")), f"idle {float(self.panel.now_ms - before):g}"]
        if word == "delay" and _DELAY.fullmatch(rest) and int(rest) <= LONGEST_DELAY_MS:
            return self._play(Transaction("delay", wait_ms=float(rest)))
        if word == "value":
            return self._value(raw)
        return self._refused(f"{text[:24]!r} is none of c, d, reset, delay MS, busy, value NAME READING")

    def _value(self, raw: bytes) -> list[str]:
        """What a value is now; whether there is such a value is known where it is shown."""
        rest = raw.decode("utf-8", "replace").strip()[len("value") :].strip()
        name, sign, reading = rest.partition("=")
        if not sign:
            name, _, reading = rest.rpartition(" ")
        name, reading = name.strip(), reading.strip()
        if not name or len(rest) > LONGEST_VALUE:
            return self._refused(f"{rest[:24]!r} is no value; value NAME READING is accepted, up to {LONGEST_VALUE} characters")
        if name not in self.values and len(self.values) >= MOST_VALUES:
            return self._refused(f"more than {MOST_VALUES} values are sent")
        self.values[name] = reading
        return []

    def _hello(self, word: str, token: str) -> list[str]:
        if word != "hello":
            self.is_closed = True
            return ["no the first line is: hello TOKEN"]
        try:
            self.panel = self._admit(token)
        except PermissionError as error:
            self.is_closed = True
            return [f"no {error}"]
        glass = self.panel.passport.glass
        return [f"ok {glass.width_px} {glass.height_px}"]

    def _bytes(self, kind: str, text: str) -> list[str]:
        if not _HEX.fullmatch(text.strip()):
            return self._refused(f"{text[:24]!r} is not whole bytes of two hexadecimal digits")
        return self._play(Transaction(kind, bytes.fromhex("".join(text.split()))))  # type: ignore[arg-type]

    def _play(self, transaction: Transaction) -> list[str]:
        panel = needed(self.panel, "a panel")
        panel.take(transaction)
        answers = []
        for said in panel.misuse:
            message = f"line {self.line_count}: {said.text}"
            self.messages.append(message)
            if said.text not in self._answered and len(self._answered) < MOST_ANSWERED:
                self._answered.add(said.text)
                answers.append(f"? {message}")
        panel.misuse.clear()  # a program may go wrong a million times
        return answers

    def _refused(self, words: str, line: int | None = None) -> list[str]:
        message = f"line {line or self.line_count}: {words}"
        self.messages.append(message)
        return [f"? {message}"]
