"""A build's behaviour with all that it refers to, and how it is kept."""

from typing import Any

from django.urls import reverse

from mosaic.behaviour import code
from mosaic.behaviour.behaviour import Behaviour
from mosaic.behaviour.device_code import device_header, device_source, screen_code
from mosaic.behaviour.machine import Machine, machine_of
from mosaic.behaviour.recording import c_test, file_name
from mosaic.behaviour.tables import Tables, as_python, tables_bytes
from mosaic.behaviour.words import Speaker
from mosaic.device.budget import Need
from mosaic.device.device import Device
from mosaic.device.notes import TouchReadings
from mosaic.errors import MosaicError
from mosaic.exports.registry import NotProvenError
from mosaic.findings.behaviour import BehaviourSubject, behaviour_findings
from mosaic.forms import from_record, to_record
from mosaic.screens.plan import Plan
from mosaic.source_text import distinct
from mosaic.touch.fit import Fit, crosses, fit, read_readings
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.keys import digest, panel_part
from workshop.memory import ByteCache
from workshop.screens.documents import BehaviourDocument, RecordingDocument, ScreenDocument, behaviour_of, design_of
from workshop.screens.reports import key_of, plan_of, rendered_of
from workshop.stations.overview import Overview
from workshop.stations.station import Item

_machines, _figures = ByteCache("machines", 2**20), ByteCache("behaviour", 2**20)


def screens_of(build: Build) -> list[ScreenDocument]:
    return shelf.of_kind(build, ScreenDocument)


def plans_of(build: Build, device: Device) -> dict[str, Plan]:
    """The screens of a build by reference, but for those that cannot be drawn: a finding says so there."""
    found = {}
    for row in screens_of(build):
        try:
            found[row.ref] = plan_of(build, row.record, device)
        except MosaicError:
            continue
    return found


def behaviour_key(build: Build, device: Device) -> str:
    """Key of everything that a device does."""
    screens = [(row.ref, row.name, key_of(build, row.record, device)) for row in screens_of(build)]
    return digest("behaviour 1", from_record(behaviour_of(build)), from_record(design_of(build)), screens)


def machine_of_build(build: Build, device: Device, behaviour: Behaviour | None = None) -> Machine:
    """The machine of a build; of a behaviour that is not kept yet where one is given."""
    refs = [row.ref for row in screens_of(build)]

    def made() -> Machine:
        return machine_of(behaviour or behaviour_of(build), design_of(build), plans_of(build, device), device.size, refs)

    return made() if behaviour is not None else _machines.get_or_make(behaviour_key(build, device), made, lambda one: 20_000)


def speaker_of(build: Build, behaviour: Behaviour | None = None) -> Speaker:
    """Knows what everything of the build is called."""
    names = {row.ref: row.name for row in screens_of(build)}
    return Speaker(behaviour or behaviour_of(build), design_of(build), names)


def save_behaviour(build: Build, behaviour: Behaviour, base: int) -> BehaviourDocument:
    """Keep the behaviour as it was changed; raises what saving raises, and `BadDescriptionError`."""
    record = to_record(from_record(behaviour), Behaviour, "the behaviour")
    return documents.save_single(BehaviourDocument, build=build, base=base, record=record)


def base_of_behaviour(build: Build) -> int:
    row = shelf.single(build, BehaviourDocument)
    return row.head_id or 0 if row else 0


def figures_of(build: Build, device: Device) -> dict[str, Any]:
    """What budgets and stones need of the behaviour: its findings, and what its tables take."""
    taken = frozenset(wire.to for wire in device.wiring.wires if wire.to) if device.wiring else frozenset()
    machine, speaker = machine_of_build(build, device), speaker_of(build)
    found = behaviour_findings(BehaviourSubject(device, machine, speaker, plans_of(build, device), taken))
    return {"findings": [from_record(finding) for finding in found], "flash_bytes": tables_bytes(machine)}


def behaviour_item(build: Build, device: Device) -> Item | None:
    """What the behaviour adds to its build; None where there is none, and no value has bands."""
    row = shelf.single(build, BehaviourDocument)
    if row is None:
        return None
    key = behaviour_key(build, device)
    taken = device.wiring.wires if device.wiring else ()
    key = digest(key, [(wire.signal, wire.to) for wire in taken], *panel_part(device), device.link_kind, device.clock_hz)
    figures = _figures.get_or_make(key, lambda: figures_of(build, device), lambda found: 500 + 600 * len(found["findings"]))
    count = len(row.record.rules)
    return Item(
        row.ref, "Behaviour", reverse("behaviour", args=[build.pk]),
        (Need("arrays", "tables of behaviour", figures["flash_bytes"]),),
        tuple(figures["findings"]), summary=f"{count} rule{'' if count == 1 else 's'}",
    )  # fmt: skip


def found_on_behaviour(overview: Overview) -> list[dict[str, Any]]:
    """Findings on the behaviour of a build."""
    row = shelf.single(overview.build, BehaviourDocument)
    return overview.findings_of(row.ref) if row else []


def fit_of(build: Build, device: Device) -> Fit | None:
    """The fit of the build's touch panel, from the readings that were kept of its crosses; None where there are none."""
    row = next((row for row in shelf.all_documents(build) if isinstance(row.record, TouchReadings)), None)
    if row is None:
        return None
    places = crosses(*device.size)
    try:
        return fit(read_readings(row.record.readings, len(places)), [(float(x), float(y)) for x, y in places])
    except MosaicError:
        return None


def behaviour_files(build: Build, device: Device) -> dict[str, str]:
    """The behaviour's own files by name; the Python is run, and has to hold the machine.

    Raises
    ------
    NotProvenError
        It does not.
    """
    machine, names = machine_of_build(build, device), {row.ref: row.name for row in screens_of(build)}
    fitted = fit_of(build, device)
    python = code.python_source(machine, names, build.name, (fitted, device.size) if fitted is not None else None)
    known: dict[str, Any] = {}
    exec(compile(python, "behaviour", "exec"), known)
    if known["DEVICE"] != as_python(Tables(machine)):
        raise NotProvenError(".py: the written program, run, holds another device; it was not given out")
    return {
        "behaviour.h": code.c_header(machine, names, build.name), "behaviour.c": code.c_source(machine, build.name),
        "behaviour.py": python, "device.h": device_header(build.name), "device.c": device_code(build, device, machine),
    }  # fmt: skip


def device_code(build: Build, device: Device, machine: Machine) -> str:
    """device.c: what binds the screens that can be drawn to the behaviour."""
    codes = []
    for number, row in enumerate(screens_of(build)):
        try:
            codes.append(screen_code(number, rendered_of(build, row.record, device), row.name))
        except MosaicError:
            continue
    return device_source(machine, design_of(build), codes, build.name)


def run_files(build: Build, device: Device) -> dict[str, str]:
    """Kept runs as tests in C, by the names of their files."""
    machine = machine_of_build(build, device)
    rows = shelf.of_kind(build, RecordingDocument)
    names = distinct([file_name(row.name) for row in rows])
    return {name: c_test(row.record, machine, row.name, build.name) for name, row in zip(names, rows, strict=True)}
