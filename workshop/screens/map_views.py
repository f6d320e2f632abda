"""The map of screens."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse

from mosaic.behaviour.screen_map import CARD, PAD, ROW, TITLE, map_of
from mosaic.errors import MosaicError
from workshop.builds.pages import own_build
from workshop.screens.behaviour_services import base_of_behaviour, found_on_behaviour, machine_of_build, screens_of, speaker_of
from workshop.screens.documents import ScreenDocument
from workshop.screens.looks import TYPICAL, glass_url
from workshop.screens.reports import key_of, plan_of
from workshop.screens.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of


def map_of_screens(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    laid = map_of(machine_of_build(build, device), speaker_of(build), device.size)
    rows = {row.ref: row for row in screens_of(build)}

    def picture(row: ScreenDocument) -> str:
        try:
            plan_of(build, row.record, device)
        except MosaicError:
            return ""
        return glass_url(build, row, key_of(build, row.record, device), TYPICAL)

    cards, marks = [], marks_of(found_on_behaviour(overview))
    for card in laid.cards:
        row = rows.get(card.ref)
        leads = [
            (one, card.row_y(number), reverse("behaviour", args=[build.pk]) + f"?s={card.ref}&c={one.rule}#chosen")
            for number, one in enumerate(card.rows)
        ]  # fmt: skip
        cards.append(
            (
                card,
                picture(row) if row else "",
                leads,
                reverse("behaviour", args=[build.pk]) + f"?s={card.ref}",
                marks.get(card.name, ""),
            )
        )
    lines = [(line, " ".join(f"{'M' if not n else 'L'}{x} {y}" for n, (x, y) in enumerate(line.points))) for line in laid.lines]
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "map"), "here_findings": found_on_behaviour(overview),
        "base": base_of_behaviour(build), "map": laid, "cards": cards, "lines": lines,
        "card_width": CARD, "pad": PAD, "row": ROW, "title": TITLE, "inner": CARD - 2 * PAD, "mark_x": CARD - PAD,
    }  # fmt: skip
    return render(request, "screens/map.html", context)


def marks_of(findings: list[dict[str, Any]]) -> dict[str, str]:
    """What is to be mended, by the name of the screen: "1 must fix", "2 worth fixing"."""
    counts: dict[str, dict[str, int]] = {}
    for finding in findings:
        found = counts.setdefault(finding["where"], {})
        found[finding["severity"]] = found.get(finding["severity"], 0) + 1
    return {
        name: next(f"{found[severity]} {severity}" for severity in ("must fix", "worth fixing") if severity in found)
        for name, found in counts.items()
    }
