"""Findings on serial panels: the map of their memory, decimals and ranges, the template, the line, slots."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from mosaic.device.device import Device
from mosaic.findings import Finding, Fix
from mosaic.quantities import how_many
from mosaic.serial.line import WORST_ERROR, budget, clock_error, slower
from mosaic.serial.memory import RANGES, Entry, ribbon, sent_number
from mosaic.serial.plan import SerialPlan
from mosaic.serial.slots import Thing, gone, shelves
from mosaic.values.value import Value

LINE_SHARE = 0.7
"""Of the line that values may take: touches and pages have to get through, too."""
TEN = 10


@dataclass(frozen=True)
class SerialSubject:
    """What rules on a serial panel look at.

    `shown` are ids of values that screens show, `every` ms between readings by value, `things` what may lie in slots; None where
    slots are not looked at.
    """

    device: Device
    plan: SerialPlan
    values: Sequence[Value]
    shown: frozenset[str] = frozenset()
    things: Sequence[Thing] | None = None
    every: tuple[tuple[str, int], ...] = ()

    def placed(self) -> list[tuple[Entry, Value]]:
        by_id = {value.id: value for value in self.values}
        return [(entry, by_id[entry.value]) for entry in self.plan.memory.entries if entry.value in by_id]


def _hex(address: int) -> str:
    return f"{address:04X}h"


def _found(ident: str, what: str, why: str, fix: Fix | None = None, *, must: bool = True) -> list[Finding]:
    return [Finding(f"serial.{ident}", "must fix" if must else "worth fixing", "Serial line", what, why, fix)]


def _anew(then: str) -> Fix:
    return Fix("Place all values again", "serial", {"anew": True}, then)


def places_overlap(subject: SerialSubject) -> list[Finding]:
    """Two values claim one place."""
    names = {value.id: value.name for value in subject.values}
    found = []
    for one in ribbon(subject.plan.memory):
        if one.overlaps:
            both = " and ".join(names.get(entry.value, entry.value) for entry in one.entries[:3])
            why = "Each write of the one changes what is shown of the other."
            found += _found("overlap", f"{both} overlap at {_hex(one.start)}", why, _anew("then none overlaps"))
    return found[:3]


def odd_places(subject: SerialSubject) -> list[Finding]:
    """A number of words begins at an odd byte."""
    if subject.plan.memory.unit == "words":
        return []
    odd = [(entry, value) for entry, value in subject.placed() if entry.start % 2]
    if not odd:
        return []
    entry, value = odd[0]
    why = "The panel keeps words of 16 bits; a number at an odd byte is split between two of them."
    return _found("odd-alignment", f"{value.name} begins at the odd byte {_hex(entry.start)}", why, _anew("then all are even"))


def units_mistaken(subject: SerialSubject) -> list[Finding]:
    """Places lie twice as far apart as they need to, or half as far: words were taken for bytes."""
    entries = sorted((entry for entry, _ in subject.placed() if entry.kind != "bit"), key=lambda one: one.start)
    if len(entries) < 3:
        return []
    unit = subject.plan.memory.unit
    gaps = [(b.start - a.start, a.size) for a, b in pairwise(entries)]
    if unit == "words" and all(gap == size for gap, size in gaps):
        what = "Addresses lie as far apart as bytes would, and the map counts words"
    elif unit == "bytes" and all(2 * gap == size for gap, size in gaps):
        what = "Addresses lie as far apart as words would, and the map counts bytes"
    else:
        return []
    other = "bytes" if unit == "words" else "words"
    fix = Fix(f"Count {other}", "serial", {"unit": other}, "then the places fit each other")
    return _found("unit-mistaken", what, "Every second number would be shown at a wrong place.", fix, must=False)


def texts_overrun(subject: SerialSubject) -> list[Finding]:
    """A text can be longer than its place."""
    found = []
    for entry, value in subject.placed():
        if entry.kind == "text" and value.kind == "text" and value.most_bytes > entry.bytes:
            what = f"{value.name} may have {value.most_bytes} B, and its place has {entry.bytes}"
            fix = Fix(
                f"Give it {value.most_bytes} B", "serial", {"entry": entry.value, "bytes": value.most_bytes}, "it is shown whole"
            )
            found += _found("text-overrun", what, "What is longer is cut off, or runs into the next value.", fix)
    return found


def decimals_differ(subject: SerialSubject) -> list[Finding]:
    """Decimals that lose a value's step, or make the panel show ten times as much."""
    found = []
    for entry, value in subject.placed():
        if entry.kind in ("text", "bit"):
            continue
        fix = Fix(
            f"Send {value.scale} decimals", "serial", {"entry": entry.value, "decimals": value.scale}, "then nothing is lost"
        )
        lost = value.scale - entry.decimals
        if lost > 0 and value.step % 10**lost:
            what = f"{value.name} has {value.scale} decimals, and {entry.decimals} are sent"
            found += _found("step-lost", what, f"Steps of {value.plain(value.step)} are not seen.", fix, must=False)
        elif lost < 0 and entry.scale == 1:
            what = f"{value.name} has {value.scale} decimals, and the panel is told {entry.decimals}"
            many = TEN**-lost
            why = f"Decimals are shown, not sent: a panel that is set to {value.scale} shows {many} times as much."
            found += _found("ten-times", what, why, fix, must=False)
    return found


def range_overflows(subject: SerialSubject) -> list[Finding]:
    """A number that can occur does not fit its form."""
    found = []
    for entry, value in subject.placed():
        if entry.kind in ("text", "bit"):
            continue
        low, high = RANGES[entry.kind]
        off = next((raw for raw in value.bounds if not low <= sent_number(entry, value, raw) <= high), None)
        if off is not None:
            wider = "s32" if min(sent_number(entry, value, raw) for raw in value.bounds) < 0 else "u32"
            fix = Fix(f"Make it {wider}", "serial", {"entry": entry.value, "kind": wider}, "then all of its range fits")
            sent = sent_number(entry, value, off)
            what = f"{value.name} can be {value.plain(off)}, sent as {sent}: {entry.kind} ends at {low} and {high}"
            found += _found("range-overflows", what, "It comes round and shows something else.", fix)
    return found


def values_without_address(subject: SerialSubject) -> list[Finding]:
    """Screens show values that have no place, or places belong to values that are gone."""
    placed = {entry.value for entry in subject.plan.memory.entries}
    missing = [value.name for value in subject.values if value.id in subject.shown and value.id not in placed and value.is_given]
    found: list[Finding] = []
    if missing:
        fix = Fix("Give them places", "serial", {"automatic": True}, "then each has one")
        named = ", ".join(missing[:4]) + (f" and {len(missing) - 4} more" if len(missing) > 4 else "")
        found += _found("no-address", f"Shown without an address: {named}", "The panel never gets them.", fix)
    known = {value.id for value in subject.values}
    lost = [entry for entry in subject.plan.memory.entries if entry.value not in known]
    if lost:
        fix = Fix("Take their places away", "serial", {"forget": True}, "then the map has values only")
        what = f"{how_many(len(lost), 'place')} of values that are gone"
        found += _found("no-value", what, "Nothing is ever written there.", fix, must=False)
    return found


def template_ambiguous(subject: SerialSubject) -> list[Finding]:
    """Frames that cannot be told from what they carry."""
    return [
        one for words in subject.plan.template.problems() for one in _found("template", words.capitalize(), MISREAD, must=False)
    ]


MISREAD = "After a disturbance something else is read than was sent; the manual of the panel may offer a check."


def line_too_busy(subject: SerialSubject) -> list[Finding]:
    """Values take more of the line than leaves room for the rest."""
    plan, baud = subject.plan, subject.device.clock_hz
    found = budget(
        plan.memory, subject.values, plan.template, baud, polls=plan.polls, parity=plan.parity, every=dict(subject.every)
    )
    if found.share <= LINE_SHARE:
        return []
    slow = slower(found, LINE_SHARE)
    fix = None
    if slow:
        use, rate = slow[0]
        ms = -(-int(1000 / rate) // 10) * 10
        fix = Fix(f"Send {use.name} every {ms:,} ms", "serial", {"entry": use.entry.value, "every_ms": ms}, "then there is room")
    what = f"Values take {found.share:.0%} of the line at {baud:,} bit/s"
    return _found("line-too-busy", what, "Touches and pages have to wait, and values come late.", fix, must=found.share > 1)


def clocks_apart(subject: SerialSubject) -> list[Finding]:
    """The board cannot make the rate near enough."""
    plan, baud = subject.plan, subject.device.clock_hz
    if not plan.board_clock_hz:
        return []
    error = clock_error(baud, plan.board_clock_hz, plan.divider)
    if error <= WORST_ERROR:
        return []
    better = [one for one in (9600, 19_200, 38_400, 57_600, 76_800, 115_200, 250_000, 500_000, 921_600)
              if clock_error(one, plan.board_clock_hz, plan.divider) <= WORST_ERROR / 2]  # fmt: skip
    near = f" {min(better, key=lambda one: abs(one - baud)):,} bit/s would do." if better else ""
    what = f"The board makes {baud:,} bit/s with an error of {error:.1%}"
    return _found("clocks-apart", what, f"Both ends may differ by 2 to 3 % in all: letters are lost or wrong.{near}")


def slots_wrong(subject: SerialSubject) -> list[Finding]:
    """What does not fit its slot, or is not there any more."""
    slots, plan = subject.device.passport.slots, subject.plan.slots
    if slots is None or subject.things is None:
        return []
    found: list[Finding] = []
    for one in shelves(plan, subject.things, slots, subject.device.size):
        if one.problem:
            fix = Fix("Place everything again", "serial", {"slots": True}, "the largest first")
            found += _found("slot", f"Slot {one.number}: {one.problem}", "The panel shows something else there.", fix, must=False)
    if gone(plan, subject.things):
        what = f"{len(gone(plan, subject.things))} slots hold something that is not in this build any more"
        fix = Fix("Place everything again", "serial", {"slots": True}, "the largest first")
        found += _found("slot-gone", what, "A picture called by number is another one.", fix, must=False)
    return found[:4]


RULES: tuple[Callable[[SerialSubject], list[Finding]], ...] = (
    places_overlap,
    odd_places,
    units_mistaken,
    texts_overrun,
    range_overflows,
    decimals_differ,
    values_without_address,
    template_ambiguous,
    line_too_busy,
    clocks_apart,
    slots_wrong,
)


def serial_findings(subject: SerialSubject) -> list[Finding]:
    """Findings on a serial panel, in the order of the rules, those that must be fixed first."""
    found = [finding for rule in RULES for finding in rule(subject)]
    return sorted(found, key=lambda one: one.severity != "must fix")
