"""Pair kerning of an outline font, in its own units: from GPOS, or from the older kern table."""

import io
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

from fontTools.ttLib import TTFont
from fontTools.varLib.models import normalizeLocation, piecewiseLinearMap
from fontTools.varLib.varStore import VarStoreInstancer

from mosaic.apart import apart
from mosaic.lettering.source import WEB_FONTS, unpacked

Pairs = dict[tuple[int, int], float]
AxisValues = tuple[tuple[str, float], ...]
PAIR_ADJUSTMENT, EXTENSION = 2, 9
VARIATION_INDEX = 0x8000
"""Format of a device table that names a delta of the variation store (OpenType, "Device and VariationIndex tables")."""


@lru_cache(maxsize=32)
@apart()
def kerning_units(data: bytes, codes: tuple[int, ...], axes: AxisValues = ()) -> tuple[Pairs, int]:
    """((first, second) -> font units, 0 left out) of these code points, and the units of an em.

    Of GPOS the feature `kern` is taken in every script, at the values of a variable font's `axes`, its defaults for those
    left out. A font whose tables cannot be read has no kerning.
    """
    try:
        font = TTFont(io.BytesIO(unpacked(data) if data[:4] in WEB_FONTS else data), lazy=True)
        names = {code: name for code, name in font.getBestCmap().items() if code in set(codes)}
        by_name: dict[str, list[int]] = {}
        for code, name in names.items():
            by_name.setdefault(name, []).append(code)
        found = _gpos(font, by_name, _deltas(font, dict(axes))) if "GPOS" in font else _kern(font, by_name)
        return {(first, second): by for (a, b), by in found.items() for first in by_name[a] for second in by_name[b] if by}, font[
            "head"
        ].unitsPerEm
    except Exception:  # broken or unusual tables: letters still stand side by side
        return {}, 1000


def _kern(font: TTFont, wanted: dict[str, Any]) -> dict[tuple[str, str], int]:
    if "kern" not in font:
        return {}
    tables = [table.kernTable for table in font["kern"].kernTables if hasattr(table, "kernTable")]
    return {pair: by for table in tables for pair, by in table.items() if pair[0] in wanted and pair[1] in wanted}


def _deltas(font: TTFont, axes: dict[str, float]) -> VarStoreInstancer | None:
    """What the axes add to values of GPOS; None where nothing does."""
    store = getattr(font["GDEF"].table, "VarStore", None) if "GDEF" in font and "fvar" in font else None
    if store is None or not axes:
        return None
    bounds = {a.axisTag: (a.minValue, a.defaultValue, a.maxValue) for a in font["fvar"].axes}
    place = normalizeLocation({tag: axes.get(tag, bounds[tag][1]) for tag in bounds}, bounds)
    if "avar" in font:
        maps = font["avar"].segments
        place = {tag: piecewiseLinearMap(value, maps[tag]) if maps.get(tag) else value for tag, value in place.items()}
    return VarStoreInstancer(store, font["fvar"].axes, place)


def _gpos(font: TTFont, wanted: dict[str, Any], deltas: VarStoreInstancer | None) -> dict[tuple[str, str], float]:
    table = font["GPOS"].table
    if not table.FeatureList or not table.LookupList:
        return {}
    lookups = sorted({i for f in table.FeatureList.FeatureRecord if f.FeatureTag == "kern" for i in f.Feature.LookupListIndex})
    total: dict[tuple[str, str], float] = {}
    for number in lookups:
        own: dict[tuple[str, str], float] = {}
        # Within a lookup the first subtable that knows a pair decides; one of classes knows every pair of its first glyphs.
        decided: set[str] = set()
        for subtable in _pair_tables(table.LookupList.Lookup[number]):
            covered = [(i, name) for i, name in enumerate(subtable.Coverage.glyphs) if name in wanted and name not in decided]
            pairs = _single if subtable.Format == 1 else _classes
            for pair, value in pairs(subtable, covered, wanted):
                own.setdefault(pair, _by(value, deltas))
            decided |= {name for _, name in covered} if subtable.Format == 2 else set()
        for pair, by in own.items():
            total[pair] = total.get(pair, 0) + by
    return total


def _pair_tables(lookup: Any) -> Iterator[Any]:
    for subtable in lookup.SubTable:
        inner = subtable.ExtSubTable if lookup.LookupType == EXTENSION else subtable
        if getattr(inner, "LookupType", PAIR_ADJUSTMENT) == PAIR_ADJUSTMENT and hasattr(inner, "ValueFormat1"):
            yield inner


def _by(value: Any, deltas: VarStoreInstancer | None) -> float:
    if value is None:
        return 0
    device = getattr(value, "XAdvDevice", None)
    by: float = getattr(value, "XAdvance", 0) or 0
    if deltas is not None and device is not None and device.DeltaFormat == VARIATION_INDEX:
        by += deltas[(device.StartSize << 16) + device.EndSize]
    return by


def _single(subtable: Any, covered: list[tuple[int, str]], wanted: dict[str, Any]) -> Iterator[tuple[tuple[str, str], Any]]:
    for i, first in covered:
        for record in subtable.PairSet[i].PairValueRecord:
            if record.SecondGlyph in wanted:
                yield (first, record.SecondGlyph), record.Value1


def _classes(subtable: Any, covered: list[tuple[int, str]], wanted: dict[str, Any]) -> Iterator[tuple[tuple[str, str], Any]]:
    seconds: dict[int, list[str]] = {}
    for name in wanted:
        seconds.setdefault(subtable.ClassDef2.classDefs.get(name, 0), []).append(name)
    for _, first in covered:
        row = subtable.Class1Record[subtable.ClassDef1.classDefs.get(first, 0)].Class2Record
        for number, names in seconds.items():
            for second in names:
                yield (first, second), row[number].Value1
