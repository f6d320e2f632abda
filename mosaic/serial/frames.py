"""Frames made and read: by their template, byte by byte, and out of a stream in which bytes are lost or wrong."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Literal

from mosaic.errors import BadValueError
from mosaic.quantities import how_many
from mosaic.serial.template import ACTS, ADDRESSED, MOST_DATA, Act, Template

FaultKind = Literal["garbage", "length", "check", "code", "escape", "short", "field", "long", "cut"]
FAULTS: tuple[FaultKind, ...] = ("garbage", "length", "check", "code", "escape", "short", "field", "long", "cut")
MOST_FRAME = 2 * (MOST_DATA + 16)
MOST_LINE = 3 * MOST_DATA


@dataclass(frozen=True)
class Message:
    """What a frame says: what is done, the address (of "write", "read" and "answer"), and the payload.

    Payloads: of "write" and "answer" the bytes of the value; of "read" how many bytes are wanted, in one; of "page" and "touch"
    a number of 16 bits (the page; the event), of "light" and "sound" one byte.
    """

    act: Act
    address: int = 0
    data: bytes = b""


@dataclass(frozen=True)
class Part:
    """A stretch of a frame: from which byte to which, what it is called, what it says."""

    begin: int
    end: int
    name: str
    words: str = ""


@dataclass(frozen=True)
class Fault:
    """What is wrong in a stream: of which kind, at which byte of all, in words."""

    kind: FaultKind
    place: int
    words: str


def encode(message: Message, template: Template) -> bytes:
    """The frame of a message.

    Raises
    ------
    BadValueError
        The panel has no such frame, the address or the payload does not fit.
    """
    return b"".join(part for part, _, _ in _parts(message, template))


def _parts(message: Message, template: Template) -> Iterator[tuple[bytes, str, str]]:
    """A frame in its parts: (bytes, name, what they say)."""
    if template.framing == "text":
        yield from _line_parts(message, template)
        return
    code = template.codes.of(message.act)
    if code < 0:
        raise BadValueError(f"this panel has no frame to {message.act}; give it a code in the template")
    if len(message.data) > MOST_DATA:
        raise BadValueError(f"a payload of {len(message.data)} bytes is too long; up to {MOST_DATA} are accepted")
    address = b""
    if message.act in ADDRESSED:
        most = (1 << 8 * template.address_bytes) - 1
        if not 0 <= message.address <= most:
            raise BadValueError(
                f"address {message.address} does not fit {how_many(template.address_bytes, 'byte')}; 0 to {most} are accepted"
            )
        address = message.address.to_bytes(template.address_bytes, template.byte_order)
    inside = [
        (bytes([code]), "code", message.act), (address, "address", f"{message.address:X}h"), (message.data, "payload", "")
    ]  # fmt: skip
    if template.framing == "length":
        length = _length_of(len(address) + len(message.data) + 1, len(message.data), template)
        if length >= 1 << 8 * template.length_bytes:
            raise BadValueError(f"a length of {length} does not fit {template.length_bytes} byte; a shorter payload is accepted")
        inside.insert(0, (length.to_bytes(template.length_bytes, template.byte_order), "length", str(length)))
    counted = b"".join(data for data, _, _ in inside)
    check = template.check.packed(template.head + counted if template.check.from_header else counted)
    ended = (template.tail, "terminator", "") if template.framing == "terminator" else (b"", "", "")
    for data, name, words in ((template.head, "header", ""), *inside, (check, template.check.kind, ""), ended):
        if data:
            is_inner = name not in ("header", "terminator")
            yield _escaped(data, template) if is_inner and template.framing == "terminator" else data, name, words


def _length_of(inner: int, payload: int, template: Template) -> int:
    check = template.check.size
    return {
        "what follows": inner + check, "what follows without the check": inner, "the payload": payload,
        "the whole frame": len(template.head) + template.length_bytes + inner + check,
    }[template.counts]  # fmt: skip


def _escaped(data: bytes, template: Template) -> bytes:
    found = bytearray()
    for byte in data:
        found += bytes([template.escape, byte ^ template.escape_xor]) if byte in template.escaped else bytes([byte])
    return bytes(found)


def _line_parts(message: Message, template: Template) -> Iterator[tuple[bytes, str, str]]:
    words = template.words.split()
    yield words[ACTS.index(message.act)].encode(), "code", message.act
    if message.act in ADDRESSED:
        yield f"{template.between}{message.address}".encode(), "address", str(message.address)
    if message.data:
        yield f"{template.between}{message.data.hex().upper()}".encode(), "payload", ""
    if template.check.size:
        line = template.between.join(
            [words[ACTS.index(message.act)], *([str(message.address)] if message.act in ADDRESSED else []),
             *([message.data.hex().upper()] if message.data else [])]
        )  # fmt: skip
        yield f"*{template.check.packed(line.encode()).hex().upper()}".encode(), template.check.kind, ""
    yield b"\n", "end of line", ""


def annotated(message: Message, template: Template) -> list[Part]:
    """What each byte of a message's frame is."""
    found, at = [], 0
    for data, name, words in _parts(message, template):
        found.append(Part(at, at + len(data), name, words))
        at += len(data)
    return found


@dataclass
class Reader:
    """Takes bytes as they come, and gives messages and faults.

    After a fault it goes on with the next byte that may begin a frame.

    Attributes
    ----------
    frames, skipped : frames that were taken, bytes that belong to none. counts : faults by kind.
    """

    template: Template
    frames: int = 0
    skipped: int = 0
    counts: dict[FaultKind, int] = field(default_factory=dict)
    _rest: bytearray = field(default_factory=bytearray)
    _place: int = 0
    _is_lost: bool = False

    def feed(self, data: bytes) -> list[Message | Fault]:
        """Some bytes more."""
        self._rest += data
        found: list[Message | Fault] = []
        step = {"length": self._by_length, "terminator": self._by_terminator, "text": self._by_line}[self.template.framing]
        while (one := step()) is not None:
            if isinstance(one, Fault):
                self.counts[one.kind] = self.counts.get(one.kind, 0) + 1
                found.append(one)
            elif isinstance(one, Message):
                self.frames += 1
                found.append(one)
        return found

    def finish(self) -> list[Message | Fault]:
        """Nothing more comes for a while: what waits is no whole frame, and frames inside of it are taken."""
        found: list[Message | Fault] = []
        while self._rest:
            cut = Fault("cut", self._place, f"{how_many(len(self._rest), 'byte')} left over, which make no whole frame")
            self.counts["cut"] = self.counts.get("cut", 0) + 1
            found.append(cut)
            self._drop(1)
            found += self.feed(b"")
            if self.template.framing != "length":
                self._drop(len(self._rest))
        return found

    def _drop(self, count: int, *, is_frame: bool = False) -> None:
        del self._rest[:count]
        self._place += count
        self.skipped += 0 if is_frame else count

    def _fault(self, kind: FaultKind, words: str) -> Fault:
        return Fault(kind, self._place, words)

    def _by_length(self) -> Message | Fault | bool | None:
        """One step: a message, a fault, True where it goes on, None where more bytes are needed."""
        template, rest, head = self.template, self._rest, self.template.head
        if rest and not head.startswith(bytes(rest[: len(head)])):
            place, is_first, self._is_lost = self._place, not self._is_lost, True
            self._drop(1)
            return Fault("garbage", place, "bytes that begin no frame") if is_first else True
        begin = len(head)
        if len(rest) < begin + template.length_bytes + (template.counts == "the payload"):
            return None
        length = int.from_bytes(rest[begin : begin + template.length_bytes], template.byte_order)
        total, least = self._total(length), begin + template.length_bytes + 1 + template.check.size
        if not least <= total <= MOST_FRAME:
            fault = self._fault("length", f"a length of {length} is that of no frame")
            self._drop(1)
            return fault
        if len(rest) < total:
            return None
        frame = bytes(rest[:total])
        checked = frame[0 if template.check.from_header else begin : total - template.check.size]
        if template.check.packed(checked) != frame[total - template.check.size :]:
            fault = self._fault("check", f"the check is {frame[total - template.check.size :].hex(' ')}, and "
                                f"{template.check.packed(checked).hex(' ')} would be right")  # fmt: skip
            self._drop(1)
            return fault
        self._is_lost = False
        found = self._inner(frame[begin + template.length_bytes : total - template.check.size])
        self._drop(total, is_frame=isinstance(found, Message))
        return found

    def _total(self, length: int) -> int:
        template = self.template
        before = len(template.head) + template.length_bytes
        if template.counts == "the whole frame":
            return length
        if template.counts == "what follows":
            return before + length
        if template.counts == "what follows without the check":
            return before + length + template.check.size
        act = template.codes.act(self._rest[before])
        addressed = template.address_bytes if act in ADDRESSED else 0
        return before + 1 + addressed + length + template.check.size

    def _inner(self, inner: bytes) -> Message | Fault:
        """Code, address and payload."""
        template = self.template
        act = template.codes.act(inner[0])
        if act is None:
            return self._fault("code", f"code {inner[0]:02X} is none of the template's")
        addressed = template.address_bytes if act in ADDRESSED else 0
        if len(inner) < 1 + addressed:
            return self._fault("short", "the frame ends before its address does")
        if len(inner) - 1 - addressed > MOST_DATA:
            return self._fault("long", f"a payload of {len(inner) - 1 - addressed} bytes")
        if not addressed:
            return Message(act, 0, inner[1:])
        address = int.from_bytes(inner[1 : 1 + template.address_bytes], template.byte_order)
        return Message(act, address, inner[1 + template.address_bytes :])

    def _by_terminator(self) -> Message | Fault | bool | None:
        rest, tail, head = self._rest, self.template.tail, self.template.head
        at = rest.find(tail, 0, MOST_FRAME + 1)
        if at < 0:
            if len(rest) > MOST_FRAME:
                fault = self._fault("long", f"{MOST_FRAME} bytes without a terminator")
                self._drop(MOST_FRAME + 2 - len(tail))
                return fault
            return None
        raw, size = bytes(rest[:at]), at + len(tail)
        start = raw.rfind(head) if head else 0
        if start > 0:  # a header does not stand inside of a frame: what is before it is the rest of another one
            fault = self._fault("garbage", "bytes that begin no frame")
            self._drop(start)
            return fault
        found = self._ended(raw)
        self._drop(size, is_frame=isinstance(found, Message))
        return found

    def _ended(self, raw: bytes) -> Message | Fault:
        template = self.template
        if not raw.startswith(template.head):
            return self._fault("garbage", "bytes that begin no frame")
        plain = bytearray()
        data = iter(raw[len(template.head) :])
        for byte in data:
            if byte == template.escape:
                following = next(data, None)
                if following is None or following ^ template.escape_xor not in template.escaped:
                    return self._fault("escape", "an escape stands before a byte that needs none")
                plain.append(following ^ template.escape_xor)
            else:
                plain.append(byte)
        size = template.check.size
        if len(plain) < 1 + size:
            return self._fault("short", "the frame is shorter than code and check")
        inner, check = bytes(plain[: len(plain) - size]), bytes(plain[len(plain) - size :])
        right = template.check.packed(template.head + inner if template.check.from_header else inner)
        if right != check:
            return self._fault("check", f"the check is {check.hex(' ')}, and {right.hex(' ')} would be right")
        return self._inner(inner)

    def _by_line(self) -> Message | Fault | bool | None:
        at = self._rest.find(b"\n", 0, MOST_LINE + 1)
        if at < 0:
            if len(self._rest) > MOST_LINE:
                fault = self._fault("long", f"{MOST_LINE} bytes without an end of line")
                self._drop(MOST_LINE + 1)
                return fault
            return None
        line = bytes(self._rest[:at]).rstrip(b"\r")
        found = self._said(line)
        self._drop(at + 1, is_frame=isinstance(found, Message))
        return found

    def _said(self, line: bytes) -> Message | Fault:
        template = self.template
        try:
            text = line.decode("ascii")
        except UnicodeDecodeError:
            return self._fault("garbage", "bytes that are no letters")
        if template.check.size:
            text, star, check = text.rpartition("*")
            if not star or check != template.check.packed(text.encode()).hex().upper():
                return self._fault("check", "the check of the line is wrong or missing")
        word, *fields = text.split(template.between)
        words = template.words.split()
        if word not in words:
            return self._fault("code", f"{word[:20]!r} is none of the template's words")
        act = ACTS[words.index(word)]
        address = 0
        if act in ADDRESSED:
            if not fields or not fields[0].isdecimal() or len(fields[0]) > 5 or int(fields[0]) > 0xFFFF:
                return self._fault("field", "the address is no number from 0 to 65535")
            address = int(fields.pop(0))
        data = fields[0] if fields else ""
        if len(fields) > 1 or len(data) % 2 or len(data) > 2 * MOST_DATA or any(c not in "0123456789ABCDEF" for c in data):
            return self._fault("field", "the payload is no even row of hexadecimal digits")
        return Message(act, address, bytes.fromhex(data))
