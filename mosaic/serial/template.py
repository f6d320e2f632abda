"""How frames on a serial line are built, as the manual in hand says it."""

from dataclasses import dataclass, field
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.errors import BadDescriptionError
from mosaic.serial.checks import Check, Order

Framing = Literal["length", "terminator", "text"]
Counts = Literal["what follows", "what follows without the check", "the whole frame", "the payload"]
Act = Literal["write", "read", "answer", "page", "light", "sound", "touch"]
ACTS: tuple[Act, ...] = ("write", "read", "answer", "page", "light", "sound", "touch")
ADDRESSED: tuple[Act, ...] = ("write", "read", "answer")
MOST_DATA = 250
Byte = Annotated[int, Meta(ge=0, le=255)]
Hex = Annotated[str, Meta(pattern="^([0-9A-Fa-f]{2}( [0-9A-Fa-f]{2}){0,3})?$")]
Short = Annotated[str, Meta(max_length=8, pattern="^[!-~]*$")]


@dataclass(frozen=True)
class Codes:
    """The byte that says what a frame does; -1 for what the panel has no frame for."""

    write: Annotated[int, Meta(ge=-1, le=255)] = 0x31
    read: Annotated[int, Meta(ge=-1, le=255)] = 0x32
    answer: Annotated[int, Meta(ge=-1, le=255)] = 0x33
    page: Annotated[int, Meta(ge=-1, le=255)] = 0x34
    light: Annotated[int, Meta(ge=-1, le=255)] = 0x35
    sound: Annotated[int, Meta(ge=-1, le=255)] = 0x36
    touch: Annotated[int, Meta(ge=-1, le=255)] = 0x37

    def of(self, act: Act) -> int:
        return int(getattr(self, act))

    def act(self, code: int) -> Act | None:
        """What a byte stands for; None for nothing."""
        return next((act for act in ACTS if self.of(act) == code), None)


@dataclass(frozen=True)
class Template:
    """How frames are built.

    By length: header, length, code, address, payload, check. By terminator: header, code, address, payload, check, terminator,
    with bytes that would be taken for one of them escaped. As text: code, address and payload as words of a line.

    Attributes
    ----------
    header, terminator : bytes in hexadecimal. length_bytes, counts : of the length, and what it counts.
    address_bytes : of an address; order : of addresses, lengths and numbers. escape, escape_xor : the byte before one that is
        escaped, and what that is exclusive-ored with; -1 for no escaping.
    between : what parts the words of a line. words : the codes of text, in the order of `ACTS`, parted by blanks.
    """

    name: Annotated[str, Meta(min_length=1, max_length=40)] = "frames by length"
    framing: Framing = "length"
    header: Hex = "A5 5A"
    length_bytes: Literal[1, 2] = 1
    counts: Counts = "what follows"
    codes: Codes = field(default=Codes())
    address_bytes: Literal[1, 2] = 2
    order: Order = "high first"
    check: Check = field(default=Check())
    terminator: Hex = "0D 0A"
    escape: Annotated[int, Meta(ge=-1, le=255)] = -1
    escape_xor: Byte = 0x20
    between: Short = "="
    words: Annotated[str, Meta(max_length=80)] = "set get is page light beep touch"

    def __post_init__(self) -> None:
        codes = [self.codes.of(act) for act in ACTS if self.codes.of(act) >= 0]
        if self.framing != "text" and len(set(codes)) != len(codes):
            raise BadDescriptionError("two kinds of frames have one code; each has a code of its own", path="$.codes")
        if self.framing == "terminator" and not self.terminator:
            raise BadDescriptionError("a frame ends with its terminator; one byte or more are accepted", path="$.terminator")
        if self.framing == "text":
            named = self.words.split()
            if len(named) != len(ACTS) or len(set(named)) != len(named):
                raise BadDescriptionError(
                    f"lines need {len(ACTS)} different words, for {', '.join(ACTS)}; {len(set(named))} are given", path="$.words"
                )
            if not self.between or any(one.isalnum() for one in self.between):
                raise BadDescriptionError("words of a line are parted by a sign such as = or :", path="$.between")

    @property
    def head(self) -> bytes:
        return bytes.fromhex(self.header)

    @property
    def tail(self) -> bytes:
        return bytes.fromhex(self.terminator)

    @property
    def byte_order(self) -> Literal["big", "little"]:
        return "big" if self.order == "high first" else "little"

    @property
    def escaped(self) -> frozenset[int]:
        """Bytes that are escaped inside of a frame."""
        return frozenset({self.escape, *self.tail, *self.head}) if self.escape >= 0 else frozenset()

    def problems(self) -> list[str]:
        """Why frames could not be told from what they carry, in words."""
        found = []
        if self.framing == "length" and not self.header:
            found.append("without a header nobody can tell where a frame begins after a byte was lost")
        if self.framing == "terminator" and self.escape < 0:
            found.append(f"a payload may hold {self.terminator}, and nothing is escaped: a frame would end in its middle")
        if self.framing != "text" and self.check.kind == "none":
            found.append("without a check a damaged number is shown as if it were right")
        return found


PACKETS = Template("packets by length", header="A5 5A", check=Check("crc16", 0xA001, 0xFFFF, reflected=True), codes=Codes())
"""Header, length, code, address, payload and a CRC."""
MARKED = Template(
    "packets with an end mark", "terminator", header="", terminator="7F", escape=0x7D, check=Check("xor"), order="low first"
)
"""Everything up to an end mark; the mark is escaped."""
TEMPLATES = {one.name: one for one in (PACKETS, MARKED, Template("lines of text", "text"))}
"""Of the project's own invention; the manual of the panel in hand says how its own are."""
