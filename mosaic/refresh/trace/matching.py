"""A trace beside what the schedule says: what is as expected, and what is not, by name."""

from dataclasses import dataclass

from mosaic.refresh.energy.measured import Measured
from mosaic.refresh.trace.finding import EventKind, Found

ALIKE = 1.25
"""Figures that differ by less than this factor agree, for typical ones are no better."""


@dataclass(frozen=True)
class Expected:
    """What the schedule and typical currents give: mA with nothing to do, mC more for a drawing, s from one to the next."""

    idle_ma: float
    event_mc: float
    period_s: float
    idle_name: str = "at rest"


@dataclass(frozen=True)
class Beside:
    """One figure, measured and expected, in words, and whether they agree."""

    name: str
    measured: str
    expected: str
    agrees: bool
    words: str = ""


def amps(ma: float) -> str:
    """A current in words.

    >>> amps(0.004), amps(1.2), amps(0.0000005), amps(1500)
    ('4 µA', '1.2 mA', '0.5 nA', '1.5 A')
    """
    size = abs(ma)
    if size >= 1000:
        return f"{ma / 1000:.3g} A"
    if size >= 1:
        return f"{ma:.3g} mA"
    return f"{1000 * ma:.3g} µA" if size >= 1e-4 or not size else f"{1e6 * ma:.3g} nA"


def charge(mc: float) -> str:
    """A charge in words.

    >>> charge(120), charge(0.5), charge(3600)
    ('120 mC', '500 µC', '3.6 C')
    """
    if abs(mc) >= 1000:
        return f"{mc / 1000:.3g} C"
    return f"{mc:.3g} mC" if abs(mc) >= 1 or not mc else f"{1000 * mc:.3g} µC"


def seconds(s: float) -> str:
    """A time in words.

    >>> seconds(0.02), seconds(4), seconds(300)
    ('20 ms', '4 s', '5 min')
    """
    if s < 1:
        return f"{1000 * s:.3g} ms"
    return f"{s:.4g} s" if s < 120 else f"{s / 60:.4g} min"


def _agree(a: float, b: float) -> bool:
    return a == b or (min(a, b) > 0 and max(a, b) <= ALIKE * min(a, b))


def matching_kind(found: Found, expected: Expected) -> EventKind | None:
    """Of the kinds of events the one that is most like a drawing: by its period, where that is like the schedule's, else the
    one that takes most."""
    like = [one for one in found.kinds if one.period_s and _agree(one.period_s, expected.period_s)]
    return like[0] if like else (found.kinds[0] if found.kinds else None)


def beside(found: Found, expected: Expected) -> list[Beside]:
    """Measured figures beside expected ones; what disagrees is named."""
    rows = []

    def add(name: str, a: float, b: float, words, sentence: str) -> None:  # type: ignore[no-untyped-def]
        agrees = _agree(a, b)
        said = "" if agrees else sentence.format(words(a), words(b))
        rows.append(Beside(name, words(a), words(b), agrees, said))

    more = found.idle_ma > expected.idle_ma
    hint = " Something stays awake: the panel, a regulator, a pull-up, a lamp." if more else ""
    add(expected.idle_name, found.idle_ma, expected.idle_ma, amps, "It rests at {}, {} expected." + hint)
    kind = matching_kind(found, expected)
    if kind is not None and expected.event_mc:
        add("a drawing", kind.charge_mc, expected.event_mc, charge, "A drawing takes {}, {} expected.")
    if kind is not None and kind.period_s and expected.period_s:
        add("from one to the next", kind.period_s, expected.period_s, seconds, "It draws every {}, {} expected.")
    return rows


def measured_of(found: Found, kind: EventKind | None, source: str) -> Measured:
    """What is taken into a build: the floor, and the kind of events that stands for drawings; all other events count as rest."""
    if kind is None or not kind.period_s:
        return Measured(max(0.0, found.average_ma), 0.0, 0.0, max(found.length_s, 1e-6), source[:80])
    others = sum(one.count * one.charge_mc for one in found.kinds if one is not kind)
    return Measured(
        max(0.0, found.idle_ma + others / found.length_s), max(0.0, kind.charge_mc), kind.length_s, kind.period_s, source[:80]
    )
