"""How the arrays of a hand-over are written: a prefix of their names, bytes a line, one file or many."""

import re
from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.source_text import identifier

USUAL_LINE = 12
PREFIX_WORDS = "up to 16 letters, digits and _, a digit not first"
_BYTES = re.compile(rb"(?m)^(?:    (?:0x[0-9A-F]{2}, ?)*0x[0-9A-F]{2},?\n)+")


@dataclass(frozen=True)
class FileLayout:
    """What the maker wants of the arrays.

    `prefix` stands before the names of all arrays and of their files; `per_line` bytes stand in a line; with `one_file` all C
    arrays are in arrays/arrays.h.
    """

    prefix: Annotated[str, Meta(pattern=r"^([A-Za-z_][A-Za-z0-9_]{0,15})?$", description=PREFIX_WORDS)] = ""
    per_line: Annotated[int, Meta(ge=1, le=64)] = USUAL_LINE
    one_file: bool = False
    form: Literal[1] = 1

    def named(self, name: str) -> str:
        """A name with the prefix before it.

        >>> FileLayout("ui_").named("Slip at dusk"), FileLayout().named("Slip")
        ('ui_slip_at_dusk', 'Slip')
        """
        return f"{self.prefix}{identifier(name, 'picture')}" if self.prefix else name


def rewrapped(source: bytes, per_line: int) -> bytes:
    """C with so many bytes in each line of its arrays.

    >>> rewrapped(b"x = {\\n    0x01, 0x02, 0x03,\\n    0x04\\n};\\n", 2)
    b'x = {\\n    0x01, 0x02,\\n    0x03, 0x04\\n};\\n'
    """
    if per_line == USUAL_LINE:
        return source

    def again(match: re.Match[bytes]) -> bytes:
        found = re.findall(rb"0x[0-9A-F]{2}", match[0])
        rows = [b"    " + b", ".join(found[at : at + per_line]) for at in range(0, len(found), per_line)]
        return b",\n".join(rows) + (b",\n" if match[0].rstrip().endswith(b",") else b"\n")

    return _BYTES.sub(again, source)
