"""What a lettering adds to its build."""

from typing import Any

from mosaic.device.budget import Need
from workshop.lettering.documents import Lettering
from workshop.stations.station import Item


def lettering_item(row: Lettering, figures: dict[str, Any]) -> Item:
    """A lettering with its figures, as `reports.figures` gives them."""
    needs = (Need("arrays", "lettering", figures["flash_bytes"]),)
    words = f"{figures['glyphs']} glyphs, line {figures['line']} px"
    return Item(row.ref, row.name, row.url, needs, tuple(figures["findings"]), offers=("lettering",), summary=words)
