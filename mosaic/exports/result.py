"""What an exporter is handed, and what it must be able to prove."""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import PurePath
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.panels.geometry import Orientation, Turn, orientation_of, to_host
from mosaic.panels.passport import Passport
from mosaic.pixels.compression import COMPRESSIONS, Compression
from mosaic.pixels.formats import IndexedFormat, Plane
from mosaic.pixels.indexed import pack_indexed
from mosaic.reduce.recipe import Recipe
from mosaic.source_text import identifier
from mosaic.tables import PLAIN, TableStyle


@dataclass(frozen=True, eq=False)
class ExportResult:
    """One finished picture.

    `pixels` is what the reader sees: palette indices (H, W) or 8-bit RGB (H, W, 3); `shown`
    (H, W, 3) the colours of the glass; `packed` the bytes; `coverage` (H, W) where it is opaque,
    for a second array; `tables` how C keeps and reads them.
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
    tables: TableStyle = PLAIN

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
        """One bit a pixel, 1 opaque, lying and packed as the array of pixels is; along rows where that holds colours by value."""
        if self.coverage is None:
            return None
        covered = np.ascontiguousarray(to_host(self.coverage.astype(np.uint8), self.passport, self.turn))
        return pack_indexed(covered, self.mask_format)

    @property
    def mask_format(self) -> IndexedFormat:
        form, plane = self.passport.format, (Plane("mask", (0, 1)),)
        return IndexedFormat(1, form.along, form.first, form.follow, plane) if isinstance(form, IndexedFormat) else _BY_ROWS

    @property
    def orientation(self) -> Orientation:
        return orientation_of(self.turn)

    @property
    def identifier(self) -> str:
        """The name as a C and Python identifier."""
        return identifier(self.name)


_BY_ROWS = IndexedFormat(1, "row", "msb", "rows", (Plane("mask", (0, 1)),))


def file_title(file_name: str) -> str:
    """A picture's first name, made of its file's.

    >>> file_title("slip-at_dusk.final.png")
    'Slip at dusk.final'
    >>> len(file_title("a" * 81 + ".png"))
    80
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
