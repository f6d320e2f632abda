"""Screens and host pages as frames, for whoever serves them."""

from functools import partial
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.forms import from_record
from mosaic.hosted.page import HostPage, filled, values_named
from mosaic.screens.plan import Plan
from mosaic.screens.rendering import drawn_in
from mosaic.values.states import State
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.keys import digest, panel_part
from workshop.screens.documents import HostPageDocument, ScreenDocument, design_of
from workshop.screens.reports import key_of, plan_of
from workshop.stations.station import FrameSource


def _screen(plan: Plan, state: State) -> npt.NDArray[np.uint8]:
    return drawn_in(plan, state).pixels


def _page(page: HostPage, values: Any, device: Device, state: State) -> npt.NDArray[np.uint8]:
    from mosaic.hosted.rendering import frame_of  # a library that screens do not need

    return frame_of(page, filled(page.text, values, state), device)


def frame_sources_of(build: Build, device: Device) -> list[FrameSource]:
    """Screens that can be drawn, the first that the device shows first; then host pages."""
    design, found = design_of(build), []
    by_id, by_name = ({getattr(value, key): value for value in design.values} for key in ("id", "name"))
    rows = sorted(shelf.of_kind(build, ScreenDocument), key=lambda row: row.ref != design.start)
    for row in rows:
        key = key_of(build, row.record, device)
        try:
            plan = plan_of(build, row.record, device, key)
        except MosaicError:
            continue
        values = tuple(by_id[ident] for ident in plan.values if ident in by_id)
        found.append(FrameSource(row.ref, row.name, key, values, partial(_screen, plan)))
    for page in shelf.of_kind(build, HostPageDocument):
        record = page.record
        key = digest("host page", from_record(record), from_record(design), *panel_part(device))
        values = tuple(values_named(record.text, by_name))
        found.append(FrameSource(page.ref, page.name, key, values, partial(_page, record, by_name, device)))
    return found
