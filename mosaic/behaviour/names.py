"""What screens, events, inputs and outputs are called in code."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from mosaic.behaviour.machine import Machine
from mosaic.screens.code_values import names_of
from mosaic.screens.screen import Design
from mosaic.source_text import distinct, identifier

GROUPS = ("screen", "event", "button", "encoder", "output", "value")


@dataclass(frozen=True)
class CodeNames:
    """Names of the entries of each group of an enum, in upper case, with their numbers."""

    groups: Mapping[str, Sequence[tuple[str, int]]]

    def c_enums(self) -> str:
        lines = []
        for entries in self.groups.values():
            if entries:
                lines.append(f"enum {{ {', '.join(f'{name} = {number}' for name, number in entries)} }};")
        return "\n".join(lines)

    def python_constants(self) -> str:
        return "\n".join(f"{name} = {number}" for entries in self.groups.values() for name, number in entries)


def code_names(machine: Machine, screen_names: Mapping[str, str]) -> CodeNames:
    """The names of a machine; `screen_names` by reference."""
    behaviour = machine.behaviour
    listed: dict[str, list[tuple[str, int]]] = {
        "screen": [(screen_names.get(ref, ref), number) for number, ref in enumerate(machine.screens)],
        "event": [(event.name, event.code) for event in sorted(behaviour.events, key=lambda event: event.code)],
        "button": _numbered(behaviour.buttons),
        "encoder": _numbered(behaviour.encoders),
        "output": _numbered(behaviour.outputs),
        "value": _numbered(machine.values),
    }
    taken: list[str] = []
    groups: dict[str, list[tuple[str, int]]] = {}
    for group in GROUPS:
        names = distinct([f"{group}_{identifier(name, group)}" for name, _ in listed[group]], taken)
        taken += names
        groups[group] = [(name.upper(), number) for name, (_, number) in zip(names, listed[group], strict=True)]
    return CodeNames(groups)


def value_names(machine: Machine) -> Mapping[str, str]:
    """What screens call the values in code, by id."""
    return names_of(Design(values=machine.values)).by_id


def _numbered(group: Sequence[Any]) -> list[tuple[str, int]]:
    return [(one.name, number) for number, one in enumerate(group)]
