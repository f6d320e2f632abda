"""Every glyph as a part of one picture of all: where it lies there, at a whole zoom."""

from dataclasses import dataclass
from typing import Any

from mosaic.lettering.files import SHEET_COLUMNS, sheet_cells
from workshop.lettering.documents import Lettering
from workshop.lettering.pages import address
from workshop.lettering.reports import Report

TO_PX, MOST_ZOOM = 30, 3


@dataclass(frozen=True)
class Places:
    """Places of the glyphs by code point, in CSS pixels, and what the page sets once for all of them."""

    at: dict[int, tuple[int, int]]
    frame: dict[str, Any]

    @classmethod
    def of(cls, shown: Lettering, report: Report) -> "Places":
        """Of a lettering as it is saved."""
        width, height, pens = sheet_cells(report.glyphs)
        high = report.glyphs.line_height + 2
        zoom = max(1, min(MOST_ZOOM, TO_PX // high))
        columns = max(1, min(SHEET_COLUMNS, len(pens)))
        wide = width // columns
        at = {g.code: (-(i % columns) * wide * zoom, -(i // columns) * high * zoom) for i, g in enumerate(report.glyphs.glyphs)}
        frame = {
            "cell_w": wide * zoom, "cell_h": high * zoom, "all_w": width * zoom, "all_h": height * zoom,
            "all_url": address(shown, report, "lettering-all"),
        }  # fmt: skip
        return cls(at, frame)
