"""Screens of the demo's builds."""

from typing import Any

from mosaic.behaviour.behaviour import Behaviour
from mosaic.forms import from_record, to_record
from mosaic.screens.screen import Design, Screen
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.scenario import club_room
from workshop.scenario.behaviour import BEHAVIOURS
from workshop.scenario.screens import DESIGNS, SCREENS
from workshop.screens.documents import BehaviourDocument, DesignDocument, ScreenDocument, SerialDocument


def load(builds: dict[str, Build]) -> None:
    """Lay them into the demo's builds, by name."""
    for name, screens in SCREENS.items():
        build = builds[name]
        shelf.forget(build)
        refs = {row.name: row.ref for row in shelf.all_documents(build)}
        if name in DESIGNS:
            record = to_record(_named(from_record(DESIGNS[name]), refs), Design, "the design")
            documents.save_single(DesignDocument, build=build, base=0, record=record)
        for title, screen in screens.items():
            record = to_record(_named(from_record(screen), refs), Screen, title)
            documents.add(ScreenDocument, build=build, name=title, record=record)
        if name in BEHAVIOURS:
            shelf.forget(build)
            screens = {row.name: row.ref for row in shelf.of_kind(build, ScreenDocument)}
            record = to_record(_on_screens(from_record(BEHAVIOURS[name]), screens), Behaviour, "the behaviour")
            documents.save_single(BehaviourDocument, build=build, base=0, record=record)
    documents.save_single(SerialDocument, build=builds[club_room.NAME], base=0, record=club_room.PLAN)


def _on_screens(plain: Any, screens: dict[str, str]) -> Any:
    """A behaviour in which screens are told by name, with their references instead."""

    def named(one: dict[str, Any], field: str) -> dict[str, Any]:
        return {**one, field: screens.get(one[field], one[field])}

    rules = [{**named(rule, "screen"), "actions": [named(one, "to") for one in rule["actions"]]} for rule in plain["rules"]]
    return {**plain, "areas": [named(area, "screen") for area in plain["areas"]], "rules": rules}


def _named(plain: Any, refs: dict[str, str]) -> Any:
    """Plain values in which documents are told by name, with their references instead."""
    if isinstance(plain, dict):
        return {
            key: refs[value] if key in ("lettering", "source") and value and isinstance(value, str) else _named(value, refs)
            for key, value in plain.items()
        }
    return [_named(value, refs) for value in plain] if isinstance(plain, list) else plain
