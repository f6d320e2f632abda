"""Pair kerning of an outline font, in its own units: from GPOS, or from the older kern table."""

import io
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

from fontTools.ttLib import TTFont

from mosaic.lettering.source import WEB_FONTS, unpacked

Pairs = dict[tuple[int, int], int]
PAIR_ADJUSTMENT, EXTENSION = 2, 9


@lru_cache(maxsize=32)
def kerning_units(data: bytes, codes: tuple[int, ...]) -> tuple[Pairs, int]:
    """((first, second) -> font units, 0 left out) of these code points, and the units of an em.

    Of GPOS the feature `kern` is taken in every script; what depends on a variable font's axes is left at its default.
    A font whose tables cannot be read has no kerning.
    """
    try:
        font = TTFont(io.BytesIO(unpacked(data) if data[:4] in WEB_FONTS else data), lazy=True)
        names = {code: name for code, name in font.getBestCmap().items() if code in set(codes)}
        by_name: dict[str, list[int]] = {}
        for code, name in names.items():
            by_name.setdefault(name, []).append(code)
        found = _gpos(font, by_name) if "GPOS" in font else _kern(font, by_name)
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


def _gpos(font: TTFont, wanted: dict[str, Any]) -> dict[tuple[str, str], int]:
    table = font["GPOS"].table
    if not table.FeatureList or not table.LookupList:
        return {}
    lookups = sorted({i for f in table.FeatureList.FeatureRecord if f.FeatureTag == "kern" for i in f.Feature.LookupListIndex})
    total: dict[tuple[str, str], int] = {}
    for number in lookups:
        own: dict[tuple[str, str], int] = {}
        # Within a lookup the first subtable that knows a pair decides; one of classes knows every pair of its first glyphs.
        decided: set[str] = set()
        for subtable in _pair_tables(table.LookupList.Lookup[number]):
            covered = [(i, name) for i, name in enumerate(subtable.Coverage.glyphs) if name in wanted and name not in decided]
            for pair, by in _single(subtable, covered, wanted) if subtable.Format == 1 else _classes(subtable, covered, wanted):
                own.setdefault(pair, by)
            decided |= {name for _, name in covered} if subtable.Format == 2 else set()
        for pair, by in own.items():
            total[pair] = total.get(pair, 0) + by
    return total


def _pair_tables(lookup: Any) -> Iterator[Any]:
    for subtable in lookup.SubTable:
        inner = subtable.ExtSubTable if lookup.LookupType == EXTENSION else subtable
        if getattr(inner, "LookupType", PAIR_ADJUSTMENT) == PAIR_ADJUSTMENT and hasattr(inner, "ValueFormat1"):
            yield inner


def _by(value: Any) -> int:
    return getattr(value, "XAdvance", 0) or 0 if value is not None else 0


def _single(subtable: Any, covered: list[tuple[int, str]], wanted: dict[str, Any]) -> Iterator[tuple[tuple[str, str], int]]:
    for i, first in covered:
        for record in subtable.PairSet[i].PairValueRecord:
            if record.SecondGlyph in wanted:
                yield (first, record.SecondGlyph), _by(record.Value1)


def _classes(subtable: Any, covered: list[tuple[int, str]], wanted: dict[str, Any]) -> Iterator[tuple[tuple[str, str], int]]:
    seconds: dict[int, list[str]] = {}
    for name in wanted:
        seconds.setdefault(subtable.ClassDef2.classDefs.get(name, 0), []).append(name)
    for _, first in covered:
        row = subtable.Class1Record[subtable.ClassDef1.classDefs.get(first, 0)].Class2Record
        for number, names in seconds.items():
            by = _by(row[number].Value1)
            for second in names if by else ():
                yield (first, second), by
