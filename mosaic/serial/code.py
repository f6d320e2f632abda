"""Map and template as code: what the runtimes `mosaic/firmware/line.c` and `line.py` are given for a build."""

from collections.abc import Sequence

from mosaic.serial.memory import Entry, MemoryMap
from mosaic.serial.plan import SerialPlan
from mosaic.serial.template import ACTS, Template
from mosaic.source_text import distinct, identifier
from mosaic.values.value import Value

FRAMINGS = {"length": "LINE_BY_LENGTH", "terminator": "LINE_BY_TERMINATOR", "text": "LINE_AS_TEXT"}
COUNTS = {
    "what follows": "LINE_FOLLOWS", "what follows without the check": "LINE_UNCHECKED", "the whole frame": "LINE_WHOLE",
    "the payload": "LINE_PAYLOAD",
}  # fmt: skip
CHECKS = {"none": "LINE_NO_CHECK", "sum": "LINE_SUM", "xor": "LINE_XOR", "crc8": "LINE_CRC8", "crc16": "LINE_CRC16"}
KINDS = {"u16": "LINE_U16", "s16": "LINE_S16", "u32": "LINE_U32", "s32": "LINE_S32", "text": "LINE_TEXT", "bit": "LINE_BIT"}


def names_of(known: MemoryMap, values: Sequence[Value]) -> dict[str, str]:
    """What each value of the map is called in code, by its id."""
    by_id = {value.id: value.name for value in values}
    placed = [entry.value for entry in known.entries if entry.value in by_id]
    names = distinct([identifier(by_id[one], "value") for one in placed])
    return dict(zip(placed, names, strict=True))


def _bytes(data: bytes) -> str:
    return "{" + ", ".join(f"0x{byte:02X}" for byte in data.ljust(4, b"\0")) + "}"


def c_template(template: Template, name: str = "panel") -> str:
    """The template as a table of C."""
    check = template.check
    words = template.words.split() if template.framing == "text" else [""] * len(ACTS)
    codes = ", ".join(str(template.codes.of(act)) for act in ACTS)
    told = ", ".join(f'"{word}"' for word in words)
    return f"""static const line_template {name}_template = {{
    {FRAMINGS[template.framing]}, {COUNTS[template.counts]}, {template.length_bytes}, {template.address_bytes}, {int(template.order == "high first")}, {len(template.head)}, {len(template.tail)},
    {_bytes(template.head)}, {_bytes(template.tail)}, {{{codes}}}, {template.escape},
    0x{template.escape_xor:02X}, {CHECKS[check.kind]}, {int(check.reflected)}, {int(check.order == "high first")}, {int(check.from_header)}, 0x{check.polynomial:04X}, 0x{check.start:04X}, 0x{check.final:04X},
    "{template.between}", {{{told}}}
}};"""  # noqa: E501


def c_entry(entry: Entry, known: MemoryMap) -> str:
    """An entry as a table of C."""
    size = entry.bytes if entry.kind == "text" else entry.size
    return f"{{0x{entry.start:04X}, {KINDS[entry.kind]}, {size}, {entry.bit}, {int(known.words == 'high first')}}}"


def c_map(plan: SerialPlan, values: Sequence[Value], name: str = "panel") -> str:
    """A header with the template, the entries, and how their numbers are to be read."""
    names, by_id = names_of(plan.memory, values), {value.id: value for value in values}
    lines = []
    for entry in plan.memory.entries:
        if entry.value in names:
            value = by_id[entry.value]
            said = f"{entry.kind}, {entry.direction}"
            said += f", {entry.decimals} decimals" if entry.decimals else ""
            said += f", times {entry.scale}" if entry.scale > 1 else ""
            lines.append(f"/* {value.name}: {said} */")
            lines.append(f"static const line_entry {name}_{names[entry.value]} = {c_entry(entry, plan.memory)};")
    body = "\n".join(lines)
    return f"""/* Generated: a serial panel's memory, and the template of its frames. Addresses count {plan.memory.unit}.
   Needs line.h and line.c, which come along. */
#ifndef {name.upper()}_MAP_H
#define {name.upper()}_MAP_H

#include "line.h"

{c_template(plan.template, name)}

{body}

#endif
"""


def python_template(template: Template) -> str:
    """The template as a dict of Python."""
    check = template.check
    return f"""TEMPLATE = {{
    "framing": "{template.framing}", "counts": "{template.counts}", "length_bytes": {template.length_bytes},
    "address_bytes": {template.address_bytes}, "big": {template.order == "high first"}, "head": {template.head!r},
    "tail": {template.tail!r}, "codes": {tuple(template.codes.of(act) for act in ACTS)!r}, "escape": {template.escape},
    "escape_xor": {template.escape_xor}, "check": "{check.kind}", "reflected": {check.reflected},
    "check_big": {check.order == "high first"}, "from_header": {check.from_header}, "polynomial": {check.polynomial},
    "start": {check.start}, "final": {check.final}, "between": {template.between!r}, "words": {tuple(template.words.split())!r},
}}"""


def python_map(plan: SerialPlan, values: Sequence[Value]) -> str:
    """A module with the template and the entries: (address, kind, bytes of a text, bit, whether the high word stands first)."""
    names, by_id = names_of(plan.memory, values), {value.id: value for value in values}
    lines = []
    for entry in plan.memory.entries:
        if entry.value in names:
            size = entry.bytes if entry.kind == "text" else entry.size
            told = (entry.start, entry.kind, size, entry.bit, plan.memory.words == "high first")
            said = f"{by_id[entry.value].name}, {entry.direction}" + (f", {entry.decimals} decimals" if entry.decimals else "")
            said += f", times {entry.scale}" if entry.scale > 1 else ""
            lines.append(f"{names[entry.value].upper()} = {told!r}  # {said}")
    body = "\n".join(lines)
    return f"""# Generated: the map of a serial panel's memory and the template of its frames. Addresses count {plan.memory.unit}.
# Needs line.py, which comes along.

{python_template(plan.template)}

{body}
"""
