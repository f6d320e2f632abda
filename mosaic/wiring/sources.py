"""A pin plan as source: a C header, and a Python module."""

import re

from mosaic.source_text import comment, distinct
from mosaic.wiring.plan import TIED, PinPlan
from mosaic.wiring.signals import Signal

_NUMBERED = re.compile(r"(?:GPIO|GP|IO)?(\d+)$")
_NAME = re.compile(r"[A-Za-z_]\w*$")


def constant_name(label: str) -> str:
    """A line's label as the name of a constant.

    >>> constant_name("D/C#"), constant_name("5V")
    ('PANEL_D_C', 'PANEL_5V')
    """
    return "PANEL_" + (re.sub(r"\W+", "_", label, flags=re.ASCII).strip("_").upper() or "LINE")


def _wired(plan: PinPlan, signals: tuple[Signal, ...]) -> list[tuple[Signal, str]]:
    """Lines with a pin of their own that a program has to know: no supplies, nothing tied."""
    return [
        (signal, to)
        for signal in signals
        if (to := plan.to_of(signal.label)) and to not in TIED and signal.need not in ("supply", "ground", "none", "rail")
    ]


def _named(plan: PinPlan, signals: tuple[Signal, ...]) -> list[tuple[str, tuple[Signal, str]]]:
    """Those lines, each with a name of its own."""
    wired = _wired(plan, signals)
    return list(zip(distinct([constant_name(signal.label) for signal, _ in wired]), wired, strict=True))


def c_header(plan: PinPlan, signals: tuple[Signal, ...], title: str) -> str:
    """A C header of the plan: numbers where pins are numbered, else the pin's name as the board's headers define it."""
    lines = [f"/* {comment(title)}: pins of the panel */", "#ifndef PANEL_PINS_H", "#define PANEL_PINS_H", ""]
    for name, (signal, to) in _named(plan, signals):
        lines.append(f"#define {name} {_c_value(to)}  /* {comment(signal.function)} */")
    return "\n".join([*lines, "", "#endif", ""])


def _c_value(to: str) -> str:
    number = _NUMBERED.match(to)
    if number:
        return number[1]
    return to if _NAME.match(to) else f"(-1) /* {comment(to)} */"


def python_module(plan: PinPlan, signals: tuple[Signal, ...], title: str) -> str:
    """A Python module of the plan: numbers where pins are numbered, else names."""
    lines = [f'"""{comment(title)}: pins of the panel."""', ""]
    for name, (signal, to) in _named(plan, signals):
        number = _NUMBERED.match(to)
        value = number[1] if number else repr(to)
        lines.append(f"{name} = {value}  # {comment(signal.function)}")
    return "\n".join([*lines, ""])
