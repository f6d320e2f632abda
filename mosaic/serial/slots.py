"""Pictures in numbered slots of a panel's flash, and files on its card: what goes where, and what does not fit."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.errors import BadDescriptionError
from mosaic.panels.supply import PictureSlots

MOST_PLACED = 256


@dataclass(frozen=True)
class Thing:
    """What can be put into a slot: its reference, name, size in pixels (0 where it is no picture) and bytes."""

    ref: str
    name: str
    width: int
    height: int
    bytes: int


@dataclass(frozen=True)
class Placed:
    """A thing in a slot, by its reference."""

    ref: Annotated[str, Meta(min_length=1, max_length=60)]
    slot: Annotated[int, Meta(ge=0, le=65_535)]


@dataclass(frozen=True)
class SlotPlan:
    """What lies where, and how files of the card are named.

    `name` holds {n} for the slot's number, {n3} with three digits, {name} for what lies there; `longest` letters at most.
    """

    placed: Annotated[tuple[Placed, ...], Meta(max_length=MOST_PLACED)] = ()
    name: Annotated[str, Meta(min_length=1, max_length=40)] = "{n3}.bin"
    longest: Annotated[int, Meta(ge=3, le=64)] = 12
    capitals: bool = True
    file_system: Literal["FAT16", "FAT32", "exFAT"] = "FAT32"
    card_gb: Annotated[float, Meta(gt=0, le=2048)] = 8.0
    cluster_kib: Annotated[int, Meta(ge=1, le=256)] = 4

    def __post_init__(self) -> None:
        refs = [one.ref for one in self.placed]
        if len(set(refs)) != len(refs):
            raise BadDescriptionError("one thing lies in two slots; each lies in one", path="$.placed")


@dataclass(frozen=True)
class Shelf:
    """A slot with what lies in it.

    `begins` is false where a thing from an earlier slot runs on into it. `problem` says what is wrong, "" for nothing.
    """

    number: int
    things: tuple[Thing, ...]
    begins: bool = True
    problem: str = ""


def slots_of(thing: Thing, slots: PictureSlots) -> int:
    """How many slots a thing takes."""
    return max(1, -(-thing.bytes // slots.slot_bytes))


def fitted(slots: PictureSlots) -> int:
    """Slots that the flash which is fitted holds."""
    return min(slots.count, slots.flash_bytes // slots.slot_bytes)


def automatic(things: Sequence[Thing], slots: PictureSlots, known: SlotPlan) -> SlotPlan:
    """All things into slots, the largest first; what does not fit any more is left out."""
    free, found = [True] * fitted(slots), []
    for thing in sorted(things, key=lambda one: (-one.bytes, one.name)):
        need = slots_of(thing, slots)
        at = next((n for n in range(len(free) - need + 1) if all(free[n : n + need])), None)
        if at is not None:
            free[at : at + need] = [False] * need
            found.append(Placed(thing.ref, at))
    return replace(known, placed=tuple(sorted(found, key=lambda one: one.slot)))


def shelves(plan: SlotPlan, things: Sequence[Thing], slots: PictureSlots, size: tuple[int, int]) -> list[Shelf]:
    """Every slot that is used, in order, with what is wrong about it; `size` is that of the panel."""
    by_ref = {one.ref: one for one in things}
    lying: dict[int, list[tuple[Thing, bool]]] = {}
    for one in plan.placed:
        thing = by_ref.get(one.ref)
        if thing is not None:
            for step in range(slots_of(thing, slots)):
                lying.setdefault(one.slot + step, []).append((thing, step == 0))
    found = []
    for number in sorted(lying):
        mine = lying[number]
        found.append(
            Shelf(number, tuple(thing for thing, _ in mine), any(first for _, first in mine), _problem(number, mine, slots, size))
        )
    return found


def _problem(number: int, mine: list[tuple[Thing, bool]], slots: PictureSlots, size: tuple[int, int]) -> str:
    if number >= slots.count:
        return f"the panel counts {slots.count} slots, from 0 on"
    if number >= fitted(slots):
        return f"the flash that is fitted, {slots.flash_bytes >> 20} MiB, ends before this slot"
    if len(mine) > 1:
        return " and ".join(thing.name for thing, _ in mine) + " both lie here: the later one overwrites the other"
    thing, _ = mine[0]
    if thing.width and (thing.width, thing.height) != size:
        return (
            f"{thing.name} has {thing.width} × {thing.height} px, the panel {size[0]} × {size[1]}: it is shown as a part, or torn"
        )
    return ""


def gone(plan: SlotPlan, things: Sequence[Thing]) -> list[Placed]:
    """What is to lie in a slot and is not there any more."""
    known = {one.ref for one in things}
    return [one for one in plan.placed if one.ref not in known]


def file_name(plan: SlotPlan, slot: int, thing: Thing) -> str:
    """The name of a slot's file by the plan's rule: letters, digits, point, hyphen and underscore, no longer than allowed."""
    plain = re.sub(r"[^A-Za-z0-9]+", "_", thing.name).strip("_") or "picture"
    name = plan.name.replace("{n3}", f"{slot:03}").replace("{n}", str(slot)).replace("{name}", plain)
    name = re.sub(r"[^A-Za-z0-9._-]+", "_", name)
    stem, point, ending = name.rpartition(".")
    if len(name) > plan.longest and point:
        name = stem[: max(1, plan.longest - len(ending) - 1)] + point + ending
    name = name[: plan.longest]
    return name.upper() if plan.capitals else name


FAT16_MOST_GB, FAT32_MOST_GB = 2.0, 32.0


def card_checks(plan: SlotPlan, things: Sequence[Thing]) -> list[tuple[str, str, bool]]:
    """What to see to on a card, in turn: (what, how, whether the plan as it is holds to it)."""
    by_ref = {one.ref: one for one in things}
    names = [file_name(plan, one.slot, by_ref[one.ref]) for one in plan.placed if one.ref in by_ref]
    most = FAT16_MOST_GB if plan.file_system == "FAT16" else FAT32_MOST_GB
    fits_system = plan.file_system == "exFAT" or plan.card_gb <= most
    cluster = plan.cluster_kib * 1024
    taken = sum(-(-by_ref[one.ref].bytes // cluster) * cluster for one in plan.placed if one.ref in by_ref)
    return [
        ("Card", f"{plan.card_gb:g} GB; panels often take no more than 16 GB (typical)", plan.card_gb <= 16),
        ("File system", f"{plan.file_system}; up to {most:g} GB, and most panels read FAT32 only" if plan.file_system != "exFAT"
         else "exFAT; most panels read FAT32 only (typical)", fits_system and plan.file_system == "FAT32"),
        ("Cluster", f"{plan.cluster_kib} KiB; {taken:,} B are taken on the card", plan.cluster_kib == 4),
        ("Names", f"{len(names)} files, each with a name of its own", len({name.lower() for name in names}) == len(names)),
        ("Place", "all files in the folder that the manual names, often the root or one folder with a fixed name", True),
        ("Power", "panel off, card in, panel on; wait until it says that it is done", True),
        ("Verify", "show each slot once and compare it with the preview", True),
        ("Remove", "panel off, card out, panel on: with the card in it may load everything again at each start", True),
    ]  # fmt: skip
