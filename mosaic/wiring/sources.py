"""A pin plan as source: a C header, and a Python module."""

import re

from mosaic.wiring.plan import TIED, PinPlan
from mosaic.wiring.signals import Signal

_NUMBERED = re.compile(r"(?:GPIO|GP|IO)?(\d+)$")
_NAME = re.compile(r"[A-Za-z_]\w*$")


def constant_name(label: str) -> str:
    """A line's label as the name of a constant.

    >>> constant_name("D/C#"), constant_name("5V")
    ('PANEL_D_C', 'PANEL_5V')
    """
    return "PANEL_" + re.sub(r"\W+", "_", label).strip("_").upper()


def _wired(plan: PinPlan, signals: tuple[Signal, ...]) -> list[tuple[Signal, str]]:
    """Lines with a pin of their own that a program has to know: no supplies, nothing tied."""
    return [
        (signal, to)
        for signal in signals
        if (to := plan.to_of(signal.label)) and to not in TIED and signal.need not in ("supply", "ground", "none", "rail")
    ]


def c_header(plan: PinPlan, signals: tuple[Signal, ...], title: str) -> str:
    """A C header of the plan: numbers where pins are numbered, else the pin's name as the board's headers define it."""
    lines = [f"/* {title.replace('*/', '* /')}: pins of the panel */", "#ifndef PANEL_PINS_H", "#define PANEL_PINS_H", ""]
    for signal, to in _wired(plan, signals):
        lines.append(f"#define {constant_name(signal.label)} {_c_value(to)}  /* {signal.function} */")
    return "\n".join([*lines, "", "#endif", ""])


def _c_value(to: str) -> str:
    number = _NUMBERED.match(to)
    if number:
        return number[1]
    return to if _NAME.match(to) else f"(-1) /* {to.replace('*/', '* /')} */"


def python_module(plan: PinPlan, signals: tuple[Signal, ...], title: str) -> str:
    """A Python module of the plan: numbers where pins are numbered, else names."""
    lines = [f'"""{title}: pins of the panel."""'.replace("\\", "/"), ""]
    for signal, to in _wired(plan, signals):
        number = _NUMBERED.match(to)
        value = number[1] if number else repr(to)
        lines.append(f"{constant_name(signal.label)} = {value}  # {signal.function}")
    return "\n".join([*lines, ""])
