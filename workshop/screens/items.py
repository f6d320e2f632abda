"""What a screen adds to its build."""

from typing import Any

from django.urls import reverse

from mosaic.device.budget import Need
from workshop.screens.documents import ScreenDocument
from workshop.stations.overview import Overview
from workshop.stations.station import Item


def screen_item(row: ScreenDocument, figures: dict[str, Any], key: str) -> Item:
    """A screen with its figures, as `reports.figures` gives them."""
    count = figures["elements"]
    return Item(
        row.ref,
        row.name,
        row.url,
        (
            Need("arrays", "screens", figures["flash_bytes"]),
            Need("arrays", "drawing of screens", figures["code_bytes"], "typical"),
        ),
        tuple(figures["findings"]),
        light_share=figures["light_share"],
        image_url=reverse("screen-glass", args=[row.build_id, row.pk, key]),
        offers=("pixels",),
        summary=f"{count} element{'' if count == 1 else 's'}",
    )


def shown_items(overview: Overview) -> list[Item]:
    """The screens of a build, without what else station 5 adds to it."""
    return [item for item in overview.by_station["screens"] if item.image_url]
