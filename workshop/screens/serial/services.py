"""What a build knows of its serial panel, and what it adds to the build."""

from dataclasses import replace
from typing import Any

from django.urls import reverse

from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.findings.serial import SerialSubject, serial_findings
from mosaic.forms import from_record, to_record
from mosaic.serial.code import c_map, check_c_map, python_map
from mosaic.serial.memory import automatic
from mosaic.serial.plan import SerialPlan
from mosaic.serial.slots import Thing
from mosaic.serial.slots import automatic as into_slots
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.screens.behaviour_services import plans_of
from workshop.screens.documents import SerialDocument, behaviour_of, design_of
from workshop.stations.overview import Overview
from workshop.stations.station import Item

REF = "serial-0"


def plan_of(build: Build) -> SerialPlan:
    """Map, frames and slots of a build."""
    row = shelf.single(build, SerialDocument)
    return row.record if row else SerialPlan()


def base_of_serial(build: Build) -> int:
    row = shelf.single(build, SerialDocument)
    return row.head_id or 0 if row else 0


def save_plan(build: Build, plan: SerialPlan, base: int) -> None:
    """Keep it; raises what saving raises, and `BadDescriptionError`."""
    record = to_record(from_record(plan), SerialPlan, "the serial line")
    documents.save_single(SerialDocument, build=build, base=base, record=record)


def subject_of(build: Build, device: Device, things: list[Thing] | None = None) -> SerialSubject:
    """What rules look at."""
    shown = frozenset(ident for plan in plans_of(build, device).values() for ident in plan.values)
    return SerialSubject(device, plan_of(build), design_of(build).values, shown, things)


def serial_item(build: Build, device: Device) -> Item | None:
    """Findings on the line of a serial panel; None for other panels, and where there is no value and no map."""
    if device.link_kind != "uart" or not (design_of(build).values or shelf.single(build, SerialDocument)):
        return None
    found = tuple(from_record(one) for one in serial_findings(subject_of(build, device)))
    count = len(plan_of(build).memory.entries)
    words = f"{count} value{'' if count == 1 else 's'} with an address"
    return Item(REF, "Serial line", reverse("serial", args=[build.pk]), (), found, summary=words)


def map_files(build: Build) -> dict[str, str]:
    """The map as code, read back before it is given out; raises `BadValueError` where it does not."""
    plan, values = plan_of(build), design_of(build).values
    events = [(event.name, event.code) for event in behaviour_of(build).events]
    header = c_map(plan, values, events)
    check_c_map(header, plan, values)
    return {"panel_map.h": header, "panel_map.py": python_map(plan, values, events)}


def things_of(overview: Overview) -> list[Thing]:
    """What can be put into slots: pictures of the whole glass, letterings, screens as pictures."""
    device = overview.device
    width, height = device.size
    whole = device.passport.frame_bytes
    found = []
    for item in overview.items:
        if "pixels" in item.offers:
            found.append(Thing(item.ref, item.name, width, height, whole))
        elif "lettering" in item.offers and item.byte_count:
            found.append(Thing(item.ref, item.name, 0, 0, item.byte_count))
    return found


def with_changes(build: Build, changes: dict[str, Any], overview: Overview) -> SerialPlan:
    """The plan with what a fix, or a key of the page, changes.

    Raises
    ------
    BadValueError, BadDescriptionError
        There is no such place, or it cannot be.
    """
    plan, values = plan_of(build), design_of(build).values
    memory = plan.memory
    if changes.get("anew") or changes.get("automatic"):
        memory = automatic(values, memory, anew=bool(changes.get("anew")))
    if changes.get("forget"):
        known = {value.id for value in values}
        memory = replace(memory, entries=tuple(one for one in memory.entries if one.value in known))
    if changes.get("unit"):
        plain = {**from_record(memory), "unit": changes["unit"]}
        memory = to_record(plain, type(memory), "the map")
    if changes.get("entry"):
        told = {name: value for name, value in changes.items() if name != "entry"}
        if memory.entry(changes["entry"]) is None:
            raise BadValueError("this value has no address any more; give it one first")
        entries = [{**from_record(one), **told} if one.value == changes["entry"] else from_record(one) for one in memory.entries]
        memory = to_record({**from_record(memory), "entries": entries}, type(memory), "the map")
    slots = plan.slots
    passport = overview.device.passport
    if changes.get("slots") and passport.slots is not None:
        slots = into_slots(things_of(overview), passport.slots, slots)
    return replace(plan, memory=memory, slots=slots)
