"""What the pages of the serial line have in common."""

from typing import Any

from django.http import Http404, HttpRequest
from django.urls import reverse

from mosaic.errors import MosaicError
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import shelf
from workshop.screens.documents import SerialDocument, design_of
from workshop.screens.serial.services import REF, base_of_serial, plan_of
from workshop.screens.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import Overview, overview_of

PAGES = (
    ("serial", "Map"),
    ("serial-frames", "Frames"),
    ("serial-line", "Line"),
    ("serial-slots", "Slots & card"),
    ("serial-live", "Live panel"),
)


def own_serial(request: HttpRequest, build_id: int) -> Build:
    """A build of the one signed in whose panel is on a serial line."""
    build = own_build(request, build_id)
    if build.link_kind != "uart":
        raise Http404("this build has no serial panel")
    return build


def context_of(build: Build, here: str, wrong: MosaicError | None = None) -> tuple[Overview, dict[str, Any]]:
    """The overview, and what every page of the line shows."""
    overview = overview_of(build)
    plan = plan_of(build)
    parts = {"serial-frames": ("template",), "serial-line": ("line", "clocks"), "serial-slots": ("slot",)}.get(here, ())
    found = overview.findings_of(REF)
    mine = (
        [one for one in found if any(one["id"].startswith(f"serial.{part}") for part in parts)]
        if parts
        else [
            one for one in found if not one["id"].startswith(("serial.template", "serial.line", "serial.clocks", "serial.slot"))
        ]
    )
    return overview, {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "serial"), "here": here, "plan_of_line": plan,
        "pages": [(name, reverse(slug, args=[build.pk]), slug == here) for slug, name in PAGES],
        "values": design_of(build).values, "base": base_of_serial(build), "document": shelf.single(build, SerialDocument),
        "findings": mine,
        "wired": overview.findings_on("wiring") if here == "serial-line" else [],
        "wrong": str(wrong) if wrong else "", "baud": overview.device.clock_hz,
    }  # fmt: skip
