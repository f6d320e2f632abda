"""What an exporter is handed, and what it must be able to prove."""

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import PurePath
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.panels.geometry import Orientation, Turn, orientation_of
from mosaic.panels.passport import Passport
from mosaic.pixels.compression import COMPRESSIONS, Compression
from mosaic.reduce.recipe import Recipe


@dataclass(frozen=True, eq=False)
class ExportResult:
    """One finished picture.

    `pixels` is what the reader sees: palette indices (H, W) or 8-bit RGB (H, W, 3); `shown`
    (H, W, 3) the colours of the glass; `packed` the bytes; `coverage` (H, W) where it is opaque,
    for a second array.
    """

    name: str
    passport: Passport
    turn: Turn
    recipe: Recipe
    pixels: npt.NDArray[np.uint8]
    shown: npt.NDArray[np.uint8]
    packed: bytes
    figures: dict[str, Any] = field(default_factory=dict)
    coverage: npt.NDArray[np.bool_] | None = None

    @cached_property
    def stored(self) -> bytes:
        """The packed bytes as they are kept: compressed, where the recipe says so."""
        return COMPRESSIONS[self.recipe.compression].compress(self.packed)

    @property
    def compression(self) -> Compression | None:
        """How the stored bytes are compressed; None where they are as they go to the panel."""
        return None if self.recipe.compression == "none" else COMPRESSIONS[self.recipe.compression]

    @cached_property
    def mask(self) -> bytes | None:
        """One bit a pixel, rows from the left, the leftmost in the high end, each row in whole bytes: 1 is opaque."""
        return None if self.coverage is None else np.packbits(self.coverage, axis=1).tobytes()

    @property
    def orientation(self) -> Orientation:
        return orientation_of(self.turn)

    @property
    def identifier(self) -> str:
        """The name as a C and Python identifier."""
        return identifier(self.name)


def file_title(file_name: str) -> str:
    """A picture's first name, made of its file's.

    >>> file_title("slip-at_dusk.final.png")
    'Slip at dusk.final'
    """
    words = PurePath(file_name).stem.replace("-", " ").replace("_", " ").strip()
    return (words[:1].upper() + words[1:])[:80] or "Picture"


@dataclass(frozen=True)
class Exporter:
    """One kind of file: how it is written, whether it fits a result, and how it is read back.

    `problem` says in words why a panel's results cannot be written so, or gives "". `check`
    reads the written bytes back and says whether they hold the result.
    """

    ending: str
    title: str
    media_type: str
    write: Callable[[ExportResult], bytes]
    check: Callable[[bytes, ExportResult], bool]
    problem: Callable[[Passport], str] = lambda passport: ""


def identifier(name: str) -> str:
    """A C and Python identifier made of any name.

    >>> identifier("Slip at dusk, 2nd.png")
    'slip_at_dusk_2nd_png'
    >>> identifier("7 boats"), identifier("")
    ('picture_7_boats', 'picture')
    """
    word = re.sub(r"[^a-z0-9]+", "_", name.lower()).strip("_") or "picture"
    word = f"picture_{word}" if word[0].isdigit() else word
    return f"{word}_" if word in _RESERVED else word


# Words that are taken in C or Python.
_RESERVED = frozenset(
    [
        "auto",
        "break",
        "case",
        "char",
        "const",
        "continue",
        "default",
        "do",
        "double",
        "else",
        "enum",
        "extern",
        "float",
        "for",
        "goto",
        "if",
        "inline",
        "int",
        "long",
        "register",
        "restrict",
        "return",
        "short",
        "signed",
        "sizeof",
        "static",
        "struct",
        "switch",
        "typedef",
        "union",
        "unsigned",
        "void",
        "volatile",
        "while",
        "and",
        "as",
        "assert",
        "async",
        "await",
        "class",
        "def",
        "del",
        "elif",
        "except",
        "finally",
        "from",
        "global",
        "import",
        "in",
        "is",
        "lambda",
        "nonlocal",
        "not",
        "or",
        "pass",
        "raise",
        "try",
        "with",
        "yield",
    ]
)
