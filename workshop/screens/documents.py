"""What station 5 makes, as documents: screens, and the design that they share."""

from typing import Any

from mosaic.behaviour.behaviour import Behaviour
from mosaic.behaviour.recording import Recording
from mosaic.hosted.page import HostPage
from mosaic.screens.screen import Design, Screen
from mosaic.serial.plan import SerialPlan
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.models import Document

NAMED = ("lettering", "source")
"""Fields of elements and styles that name documents."""


def _refs(entries: list[dict[str, Any]]) -> set[str]:
    return {entry[name] for entry in entries for name in NAMED if entry.get(name)}


def _renamed(entries: list[dict[str, Any]], refs: dict[str, str]) -> list[dict[str, Any]]:
    return [{**entry, **{n: refs.get(entry[n], entry[n]) for n in NAMED if entry.get(n)}} for entry in entries]


class ScreenDocument(Document):
    """A screen of a build."""

    KIND, NOUN, RECORD, PAGE, LIST_PAGE, MOST = "screen", "screen", Screen, "screen", "screens", 60

    class Meta:
        proxy = True

    @classmethod
    def refs_in(cls, description: dict[str, Any]) -> set[str]:
        return _refs([*description.get("elements", []), description.get("ground", {})])

    @classmethod
    def with_refs(cls, description: dict[str, Any], refs: dict[str, str]) -> dict[str, Any]:
        elements = _renamed(description.get("elements", []), refs)
        return {**description, "elements": elements, "ground": _renamed([description.get("ground", {})], refs)[0]}


class DesignDocument(Document):
    """Styles and shared parts of a build's screens, and the screen it begins with."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "design", "design of the screens", Design, "design", True

    class Meta:
        proxy = True

    @classmethod
    def refs_in(cls, description: dict[str, Any]) -> set[str]:
        inner = [element for part in description.get("parts", []) for element in part.get("elements", [])]
        return _refs([*description.get("styles", []), *inner])

    @classmethod
    def with_refs(cls, description: dict[str, Any], refs: dict[str, str]) -> dict[str, Any]:
        parts = [{**part, "elements": _renamed(part.get("elements", []), refs)} for part in description.get("parts", [])]
        start = description.get("start", "")
        return {
            **description,
            "styles": _renamed(description.get("styles", []), refs),
            "parts": parts,
            "start": refs.get(start, start),
        }


class HostPageDocument(Document):
    """A drawing or page whose frames a host computes."""

    KIND, NOUN, RECORD, PAGE, LIST_PAGE, MOST = "hostpage", "host page", HostPage, "host-page", "host-pages", 20

    class Meta:
        proxy = True


class BehaviourDocument(Document):
    """What a build does: areas, inputs, outputs, events and rules."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "behaviour", "behaviour", Behaviour, "behaviour", True

    class Meta:
        proxy = True

    @classmethod
    def refs_in(cls, description: dict[str, Any]) -> set[str]:
        named = [*description.get("areas", []), *description.get("rules", [])]
        targets = [action.get("to", "") for rule in description.get("rules", []) for action in rule.get("actions", [])]
        return {ref for ref in (*(one.get("screen", "") for one in named), *targets) if "-" in ref}

    @classmethod
    def with_refs(cls, description: dict[str, Any], refs: dict[str, str]) -> dict[str, Any]:
        def screen(one: dict[str, Any]) -> dict[str, Any]:
            return {**one, "screen": refs.get(one.get("screen", ""), one.get("screen", ""))}

        rules = []
        for rule in description.get("rules", []):
            actions = [{**one, "to": refs.get(one.get("to", ""), one.get("to", ""))} for one in rule.get("actions", [])]
            rules.append({**screen(rule), "actions": actions})
        return {**description, "areas": [screen(one) for one in description.get("areas", [])], "rules": rules}


class RecordingDocument(Document):
    """A run of the device that was played and kept."""

    KIND, NOUN, RECORD, PAGE, LIST_PAGE, MOST = "recording", "recorded run", Recording, "recording", "device", 40

    class Meta:
        proxy = True

    @classmethod
    def refs_in(cls, description: dict[str, Any]) -> set[str]:
        return {one.get("of", "") for one in description.get("told", []) if "-" in one.get("of", "")}

    @classmethod
    def with_refs(cls, description: dict[str, Any], refs: dict[str, str]) -> dict[str, Any]:
        told = [{**one, "of": refs.get(one.get("of", ""), one.get("of", ""))} for one in description.get("told", [])]
        return {**description, "told": told}


class SerialDocument(Document):
    """The map, the frames and the slots of a serial panel."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "serial", "serial line", SerialPlan, "serial", True

    class Meta:
        proxy = True

    @classmethod
    def refs_in(cls, description: dict[str, Any]) -> set[str]:
        return {one.get("ref", "") for one in description.get("slots", {}).get("placed", [])}

    @classmethod
    def with_refs(cls, description: dict[str, Any], refs: dict[str, str]) -> dict[str, Any]:
        slots = description.get("slots", {})
        placed = [{**one, "ref": refs.get(one.get("ref", ""), one.get("ref", ""))} for one in slots.get("placed", [])]
        return {**description, "slots": {**slots, "placed": placed}}


def behaviour_of(build: Build) -> Behaviour:
    """What a build does."""
    row = shelf.single(build, BehaviourDocument)
    return row.record if row else Behaviour()


def design_of(build: Build) -> Design:
    """What the screens of a build share."""
    row = shelf.single(build, DesignDocument)
    return row.record if row else Design()
