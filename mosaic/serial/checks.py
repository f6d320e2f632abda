"""Checks at the end of a frame: none, a sum, an exclusive-or, or a CRC with its parameters."""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

Order = Literal["high first", "low first"]
CheckKind = Literal["none", "sum", "xor", "crc8", "crc16"]
Word = Annotated[int, Meta(ge=0, le=0xFFFF)]
SIZES: dict[str, int] = {"none": 0, "sum": 1, "xor": 1, "crc8": 1, "crc16": 2}


@dataclass(frozen=True)
class Check:
    """How a frame is checked.

    Attributes
    ----------
    polynomial, start, final : of a CRC; `final` is exclusive-ored at the end. reflected : bits go in lowest first, and the
        polynomial is written so (A001 for 8005).
    order : of a CRC of 16 bits. from_header : the header is counted in, too.
    """

    kind: CheckKind = "none"
    polynomial: Word = 0
    start: Word = 0
    final: Word = 0
    reflected: bool = False
    order: Order = "low first"
    from_header: bool = False

    @property
    def size(self) -> int:
        """Bytes of it."""
        return SIZES[self.kind]

    def of(self, data: bytes) -> int:
        """The check of some bytes, as a number.

        >>> hex(Check("crc16", 0xA001, 0xFFFF, reflected=True).of(b"123456789"))
        '0x4b37'
        """
        if self.kind == "none":
            return 0
        if self.kind == "sum":
            return sum(data) & 0xFF
        if self.kind == "xor":
            found = 0
            for byte in data:
                found ^= byte
            return found
        bits = 8 * self.size
        mask, top, value = (1 << bits) - 1, 1 << (bits - 1), self.start
        for byte in data:
            value ^= byte if self.reflected else byte << (bits - 8)
            for _ in range(8):
                if self.reflected:
                    value = value >> 1 ^ (self.polynomial if value & 1 else 0)
                else:
                    value = value << 1 & mask ^ (self.polynomial if value & top else 0)
        return (value ^ self.final) & mask

    def packed(self, data: bytes) -> bytes:
        """The check of some bytes, as it stands in a frame."""
        return self.of(data).to_bytes(self.size, "big" if self.order == "high first" else "little") if self.size else b""
