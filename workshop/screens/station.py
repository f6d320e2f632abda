"""Station 5, Screens & behaviour."""

from collections.abc import Callable
from functools import partial
from typing import Any

from django.urls import reverse

from mosaic.behaviour.editing import dimming
from mosaic.behaviour.recording import happenings
from mosaic.cards.measuring import tells_touches
from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.screens.texts import texts_in
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.models import Document
from workshop.screens import demo
from workshop.screens.behaviour_services import (
    base_of_behaviour,
    behaviour_files,
    behaviour_item,
    behaviour_key,
    machine_of_build,
    plans_of,
    run_files,
    save_behaviour,
)
from workshop.screens.documents import (
    BehaviourDocument,
    DesignDocument,
    HostPageDocument,
    RecordingDocument,
    ScreenDocument,
    SerialDocument,
    behaviour_of,
    design_of,
)
from workshop.screens.files import ENDINGS, runtime_file, values_file, written
from workshop.screens.frames import frame_sources_of
from workshop.screens.items import screen_item
from workshop.screens.reports import key_of, rendered_of, screen_figures, states_of
from workshop.screens.serial.services import map_files, plan_of, serial_item
from workshop.stations.station import File, FrameSource, Item, Living, Pixels, ShownScreen, Station


class ScreensStation(Station):
    number, slug, name = 5, "screens", "Screens"
    home, urls = "screens", "workshop.screens.urls"
    begin = "lay out the first screen"
    documents = (ScreenDocument, DesignDocument, BehaviourDocument, RecordingDocument, HostPageDocument, SerialDocument)

    def items(self, build: Build, device: Device) -> list[Item]:
        rows = shelf.of_kind(build, ScreenDocument)
        found = [screen_item(row, screen_figures(row, device), row.derived_key) for row in rows]
        behaviour = behaviour_item(build, device)
        return [*found, *(one for one in (behaviour, serial_item(build, device)) if one is not None)]

    def pixels(self, build: Build, device: Device, ref: str) -> Pixels | None:
        row = next((row for row in shelf.of_kind(build, ScreenDocument) if row.ref == ref), None)
        if row is None:
            return None
        try:
            key = key_of(build, row.record, device)
            return Pixels(row.name, rendered_of(build, row.record, device, key=key).pixels, key)
        except MosaicError:
            return None

    def shown_screens(self, build: Build, device: Device) -> list[ShownScreen]:
        found = []
        for row in shelf.of_kind(build, ScreenDocument):
            key = key_of(build, row.record, device)
            try:
                rendered = rendered_of(build, row.record, device, key=key)
                states = tuple(states_of(build, row.record, device, key))
            except MosaicError:
                continue
            image = reverse("screen-glass", args=[build.pk, row.pk, key]) + f"?revision={row.head_id}"
            found.append(ShownScreen(row.ref, row.name, row.url, image, key, rendered, states))
        return found

    def dim_when_quiet(self, build: Build, after_ms: int, percent: int) -> bool:
        behaviour, device = behaviour_of(build), build.to_device()
        found = dimming(behaviour, after_ms, percent, by_touch=tells_touches(device.passport))
        if found is None:
            return False
        save_behaviour(build, found, base_of_behaviour(build))
        return True

    def living(self, build: Build, device: Device) -> Living | None:
        plans = plans_of(build, device)
        if not plans:
            return None
        machine = machine_of_build(build, device)
        runs = tuple(
            (row.ref, row.name, tuple(happenings(row.record, machine)[0])) for row in shelf.of_kind(build, RecordingDocument)
        )
        names = {row.ref: row.name for row in shelf.of_kind(build, ScreenDocument)}
        return Living(behaviour_key(build, device), machine, plans, names, runs)

    def frame_sources(self, build: Build, device: Device) -> list[FrameSource]:
        return frame_sources_of(build, device)

    def texts(self, build: Build) -> list[str]:
        design = design_of(build)
        elements = [e for row in shelf.of_kind(build, ScreenDocument) for e in row.record.elements]
        elements += [e for part in design.parts for e in part.elements]
        values = {value.id: value for value in design.values}
        return [text for element in elements for text in texts_in(element, values)]

    def files(self, build: Build, device: Device) -> list[Callable[[], list[File]]]:
        made = [partial(_files, row, device) for row in shelf.of_kind(build, ScreenDocument)]
        if made and design_of(build).values:
            made.append(partial(_values, build, device))
        if device.link_kind == "uart" and plan_of(build).memory.entries:
            made += [partial(_map, build), partial(_runtime, "line")]
        if shelf.single(build, BehaviourDocument) is None:
            return made
        runs = [partial(_run, name, source) for name, source in run_files(build, device).items()]
        # They are included by these names: first come, so that nothing else has them.
        return [
            partial(_behaviour, build, device),
            partial(_device, build, device),
            partial(_runtime, "behave"),
            partial(_runtime, "change"),
            *made,
            *runs,
        ]

    def copied(self) -> list[type[Document]]:
        return [ScreenDocument, DesignDocument, BehaviourDocument, RecordingDocument, HostPageDocument, SerialDocument]

    def demo(self, builds: dict[str, Build], person: Any) -> None:
        demo.load(builds)


def _map(build: Build) -> list[File]:
    return [File(*name.split("."), text.encode()) for name, text in map_files(build).items()]


def _values(build: Build, device: Device) -> list[File]:
    return [File("values", "h", values_file(build, device))]


def _behaviour(build: Build, device: Device) -> list[File]:
    return _named(build, device, "behaviour")


def _device(build: Build, device: Device) -> list[File]:
    return _named(build, device, "device")


def _named(build: Build, device: Device, name: str) -> list[File]:
    found = behaviour_files(build, device)
    return [File(name, file.partition(".")[2], text.encode()) for file, text in found.items() if file.startswith(f"{name}.")]


def _runtime(name: str) -> list[File]:
    return [File(name, ending, runtime_file(f"{name}.{ending}")) for ending in ("h", "c", "py")]


def _run(name: str, source: str) -> list[File]:
    return [File(name, "c", source.encode())]


def _files(row: ScreenDocument, device: Device) -> list[File]:
    rendered = rendered_of(row.build, row.record, device)
    if not rendered.proof.verified:
        raise BadValueError(f"the bytes of {row.name} do not show it on the virtual panel")
    return [File(row.name, ending, written(rendered, row.name, ending)) for ending in ENDINGS]


STATION = ScreensStation()
