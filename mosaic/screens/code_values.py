"""The values of a build in code: their names, a C header with all of them at a moment, and how Python holds them."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from mosaic.screens.plan import Plan
from mosaic.screens.screen import Design
from mosaic.source_text import comment, distinct, identifier
from mosaic.values.value import Value


@dataclass(frozen=True)
class ValueNames:
    """What values are called in code, by id."""

    by_id: Mapping[str, str]

    def of(self, value: Value) -> str:
        return self.by_id[value.id]


TAKEN = ["tick"]


def names_of(design: Design) -> ValueNames:
    """Names from the values' own, each once."""
    known = distinct([identifier(value.name, "value") for value in design.values], TAKEN)
    return ValueNames({value.id: name for value, name in zip(design.values, known, strict=True)})


def plotted(plans: Iterable[Plan]) -> dict[str, int]:
    """How many readings of which values screens plot, by the values' ids."""
    found: dict[str, int] = {}
    for plan in plans:
        for spot in plan.spots:
            value = plan.kit.values.get(spot.element.of)
            if spot.element.kind in ("sparkline", "plot") and value is not None and value.is_number:
                found[value.id] = max(found.get(value.id, 0), spot.element.count)
    return found


def _told(value: Value) -> str:
    """What a value is, for a comment."""
    low, high = value.bounds
    if value.named:
        return f"{value.name}: " + ", ".join(f"{number} {word}" for number, word in enumerate(value.named))
    if value.kind == "text":
        return f"{value.name}: up to {value.most_bytes} bytes of UTF-8"
    what = {
        "time": "seconds since midnight", "date": "days since 1970-01-01", "duration": "seconds",
    }.get(value.kind, f"in steps of 1/{10**value.decimals} {value.unit}".rstrip() if value.decimals else value.unit)  # fmt: skip
    return f"{value.name}: {low} to {high}{', ' if what else ''}{what}"


def c_values(design: Design, past: Mapping[str, int], title: str) -> str:
    """values.h: what all values are at a moment."""
    names = names_of(design)
    fields, begin = [], []
    for value in design.values:
        name = names.of(value)
        kind = "const char *" if value.kind == "text" else "int32_t "
        fields.append(f"    {kind}{name}; /* {comment(_told(value))} */")
        fields.append(f"    uint8_t {name}_is;")
        nothing = chr(34) * 2 if value.kind == "text" else "0"
        begin.append(f"    v->{name} = {nothing};\n    v->{name}_is = VALUE_ABSENT;")
        if value.id in past:
            fields.append(f"    int32_t {name}_past[{past[value.id]}]; /* the last readings, see draw_remember */")
            fields.append(f"    int32_t {name}_held;")
            begin.append(f"    v->{name}_held = 0;")
    words = []
    for value in design.values:
        if value.named:
            upper = names.of(value).upper()
            entries = distinct([f"{upper}_{identifier(word, 'word').upper()}" for word in value.named], [])
            words.append(f"enum {{ {', '.join(f'{entry} = {number}' for number, entry in enumerate(entries))} }};")
    listed = "\n".join(fields)
    return f"""/* {comment(title)}: what the screens show. */
#ifndef VALUES_H
#define VALUES_H

#include <stdint.h>

/* Whether a value has a reading, has none, or has one that is older than it may be. */
enum {{ VALUE_KNOWN = 0, VALUE_ABSENT = 1, VALUE_STALE = 2 }};
{chr(10).join(words)}
typedef struct {{
{listed}
    int32_t tick; /* tenths of a second, 0 to 863999, then anew */
}} screen_values;

/* No value has a reading yet. */
static inline void screen_values_begin(screen_values *v) {{
{chr(10).join(begin)}
    v->tick = 0;
}}

#endif
"""


def python_words(design: Design) -> str:
    """A comment that says how Python holds the values."""
    lines = [f"#   v[{names_of(design).of(value)!r}]: {comment(_told(value))}" for value in design.values]
    return "\n".join(
        [
            '# Values stand in a dict; a value that has no reading is None. v[NAME + "_stale"] may be true for one that is old.',
            *lines,
        ]
    )
