"""What has changed from one hand-over to the next: by meaning, by file, and by what has to be flashed again."""

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from mosaic.build_file import BuildFile, DocumentOf
from mosaic.errors import MosaicError
from mosaic.handover.manifest import ListedFile, Manifest
from mosaic.handover.project import Project

MOST_WORDS = 400
LABELS = {
    "start": "lower limit", "end": "upper limit", "low": "lowest", "high": "highest", "plus": "pixels",
    "size_px": "size in pixels", "size_mm": "size in mm", "kept_as": "kept", "hysteresis": "hysteresis", "to": "leads to",
    "pixel_edits": "touched-up pixels", "elements": "elements", "rules": "rules", "events": "events", "areas": "touch areas",
    "values": "values", "bands": "bands", "styles": "styles", "outputs": "outputs", "buttons": "buttons", "encoders": "encoders",
    "crop_x": "crop", "crop_y": "crop", "crop_width": "crop", "crop_height": "crop",
}  # fmt: skip
"""What fields are called, where their own name says too little."""
SINGULAR = {"elements": "element", "rules": "rule", "events": "event", "areas": "touch area", "values": "value", "bands": "band",
            "styles": "style", "outputs": "output", "buttons": "button", "encoders": "encoder", "parts": "shared part",
            "memory": "part of memory", "wires": "wire", "entries": "entry of the map"}  # fmt: skip
RAW = ("start", "end", "low", "high", "step", "hysteresis")
"""Fields of a value that are whole steps of it."""


@dataclass(frozen=True)
class Change:
    """Something that differs: the document it is in, and in words what."""

    ref: str
    name: str
    words: str


@dataclass(frozen=True)
class FileChanges:
    """Files by path: those that are new, changed, or gone; and how many are as they were.

    `program` : whether the program has to be compiled and flashed again. `data` : what has to be written to partition or card.
    """

    new: tuple[ListedFile, ...]
    changed: tuple[tuple[ListedFile, ListedFile], ...]
    gone: tuple[ListedFile, ...]
    same: int

    @property
    def program(self) -> bool:
        touched = [*self.new, *(now for _, now in self.changed), *self.gone]
        return any(
            one.role in ("generated", "runtime") and one.path.startswith(("src/", "arrays/", "serial/")) for one in touched
        )

    @property
    def data(self) -> tuple[str, ...]:
        return tuple(one.path for one in [*self.new, *(now for _, now in self.changed)] if one.role == "data")

    @property
    def data_gone(self) -> tuple[str, ...]:
        return tuple(one.path for one in self.gone if one.role == "data")

    @property
    def previews(self) -> tuple[str, ...]:
        """Pictures that look otherwise."""
        return tuple(now.path for _, now in self.changed if now.role == "preview")

    @property
    def is_none(self) -> bool:
        return not (self.new or self.changed or self.gone)


def by_file(before: Manifest, now: Manifest) -> FileChanges:
    """The files of two hand-overs, compared by their sums."""
    was, is_ = ({one.path: one for one in manifest.files} for manifest in (before, now))
    both = sorted(was.keys() & is_.keys())
    changed = tuple((was[path], is_[path]) for path in both if was[path].sha256 != is_[path].sha256)
    return FileChanges(
        tuple(is_[path] for path in sorted(is_.keys() - was.keys())), changed,
        tuple(was[path] for path in sorted(was.keys() - is_.keys())), len(both) - len(changed),
    )  # fmt: skip


def by_meaning(before: BuildFile, now: BuildFile) -> list[Change]:
    """What was changed in a build, document by document."""
    found = [Change("", now.build.name, words) for words in _settings(before, now)]
    pairs, added, taken = _paired(before.build.documents, now.build.documents)
    found += [Change(one.ref, one.name, "was added") for one in added]
    found += [Change(one.ref, one.name, "was deleted") for one in taken]
    measures = _measures(before), _measures(now)
    for was, is_ in pairs:
        if was.name != is_.name:
            found.append(Change(is_.ref, is_.name, f"was called {was.name}"))
        if was.kept_as != is_.kept_as:
            words = {"": "as the build does", "array": "as arrays of the program", "file": "as files"}
            found.append(Change(is_.ref, is_.name, f"is kept {words[is_.kept_as]}, no more {words[was.kept_as]}"))
        if [one.sum for one in was.files] != [one.sum for one in is_.files]:
            found.append(Change(is_.ref, is_.name, "is made of another file"))
        found += [Change(is_.ref, is_.name, words) for words in _letters(measures, was.ref, is_.ref)]
        found += [Change(is_.ref, is_.name, words) for words in _described(was.description, is_.description)]
    return found


def _settings(before: BuildFile, now: BuildFile) -> Iterator[str]:
    was, is_ = before.build, now.build
    if was.name != is_.name:
        yield f"the build was called {was.name}"
    for name in ("passport", "board"):
        if getattr(was, name) != getattr(is_, name):
            old, new = getattr(was, name).get("name", ""), getattr(is_, name).get("name", "")
            yield (
                f"{'panel' if name == 'passport' else name}: {old} → {new}" if old != new else f"the record of {new} was changed"
            )
    for name in sorted(is_.settings.keys() | was.settings.keys()):
        a, b = was.settings.get(name), is_.settings.get(name)
        if a != b:
            yield f"{name.replace('_', ' ')}: {_shown(a)} → {_shown(b)}"


def _paired(
    before: tuple[DocumentOf, ...], now: tuple[DocumentOf, ...]
) -> tuple[list[tuple[DocumentOf, DocumentOf]], list[DocumentOf], list[DocumentOf]]:
    """Documents that are the same: by kind and name, else by kind and what they say, else the last ones left of a kind."""
    left, pairs, waiting = list(before), [], []
    for one in now:
        match = next((old for old in left if (old.kind, old.name) == (one.kind, one.name)), None)
        if match is None:
            waiting.append(one)
            continue
        left.remove(match)
        pairs.append((match, one))
    added = []
    for one in waiting:
        match = next((old for old in left if old.kind == one.kind and old.description == one.description), None)
        rest = [old for old in left if old.kind == one.kind]
        if match is None and len(rest) == 1 and sum(other.kind == one.kind for other in waiting) == 1:
            match = rest[0]
        if match is None:
            added.append(one)
            continue
        left.remove(match)
        pairs.append((match, one))
    return pairs, added, left


def _measures(file: BuildFile) -> "Measures":
    """Of each lettering the height of its capitals, of its line, and the count of its letters."""
    found: dict[str, tuple[int, int, int]] = {}
    try:
        project = Project(file)
        for part in project.of("lettering"):
            glyphs = project.packed(part).lettering
            found[part.ref] = (glyphs.capital, glyphs.line_height, len(glyphs.glyphs))
    except MosaicError:
        return found
    return found


Measures = Mapping[str, tuple[int, int, int]]


def _letters(measures: tuple[Measures, Measures], was: str, now: str) -> Iterator[str]:
    a, b = measures[0].get(was), measures[1].get(now)
    if a is None or b is None:
        return
    if a[0] != b[0]:
        yield f"letters are {abs(b[0] - a[0])} px {'taller' if b[0] > a[0] else 'lower'}: capitals {a[0]} → {b[0]} px"
    if a[1] != b[1]:
        yield f"line height {a[1]} → {b[1]} px"
    if a[2] != b[2]:
        yield f"{a[2]} → {b[2]} letters"


def _described(was: Mapping[str, Any], now: Mapping[str, Any]) -> Iterator[str]:
    yield from _compared("", was, now, (), None)


def _called(entry: Mapping[str, Any]) -> str:
    """What an entry of a list is called: by its name, its text, or its id."""
    for key in ("name", "word", "text", "label", "signal", "value"):
        if isinstance(entry.get(key), str) and entry[key].strip():
            return str(entry[key]).splitlines()[0][:40]
    return str(entry.get("id", ""))


def _compared(field: str, was: Any, now: Any, trail: tuple[str, ...], value: Mapping[str, Any] | None) -> Iterator[str]:
    if was == now:
        return
    where = ", ".join(trail)
    label = LABELS.get(field, field.replace("_", " "))
    if isinstance(was, Mapping) and isinstance(now, Mapping):
        inner = now if "decimals" in now and "unit" in now else value
        for key in sorted(was.keys() | now.keys(), key=lambda one: (one == "id", one)):
            yield from _compared(key, was.get(key), now.get(key), trail, inner)
        return
    if isinstance(was, list) and isinstance(now, list) and all(isinstance(one, Mapping) for one in [*was, *now]) and (was or now):
        yield from _listed(field, was, now, trail, value)
        return
    if field in RAW and value is not None and isinstance(was, int | None) and isinstance(now, int | None):
        was, now = _plain(was, value), _plain(now, value)
    yield f"{f'{where}: ' if where else ''}{label} {_shown(was)} → {_shown(now)}"[:MOST_WORDS]


def _listed(
    field: str,
    was: list[Mapping[str, Any]],
    now: list[Mapping[str, Any]],
    trail: tuple[str, ...],
    value: Mapping[str, Any] | None,
) -> Iterator[str]:
    noun = SINGULAR.get(field, LABELS.get(field, field.replace("_", " ")))
    prefix = f"{', '.join(trail)}: " if trail else ""

    def key(entry: Mapping[str, Any], number: int) -> str:
        return str(entry.get("id") or entry.get("code") or entry.get("signal") or entry.get("word") or number)

    old = {key(entry, number): entry for number, entry in enumerate(was)}
    new = {key(entry, number): entry for number, entry in enumerate(now)}
    for ident, entry in new.items():
        if ident not in old:
            code = f", code {entry['code']}" if field == "events" else ""
            yield f"{prefix}{noun} {_called(entry) or ident} was added{code}"[:MOST_WORDS]
    for ident, entry in old.items():
        if ident not in new:
            yield f"{prefix}{noun} {_called(entry) or ident} was deleted"[:MOST_WORDS]
    for ident, entry in new.items():
        if ident in old:
            yield from _compared("", old[ident], entry, (*trail, f"{noun} {_called(entry) or ident}"), value)
    if list(old) != [ident for ident in new if ident in old] and sorted(old) == sorted(new):
        yield f"{prefix}{LABELS.get(field, field)} stand in another order"


def _plain(raw: int | None, value: Mapping[str, Any]) -> str:
    if raw is None:
        return "none"
    decimals = int(value.get("decimals", 0))
    unit = f" {value['unit']}" if value.get("unit") else ""
    return f"{raw / 10**decimals:.{decimals}f}{unit}"


def _shown(value: Any) -> str:
    if value is None or value == "" or value == []:
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, str | int):
        return str(value)[:60]
    text = json.dumps(value, ensure_ascii=False)
    return text if len(text) <= 60 else f"{len(value)} entries" if isinstance(value, list) else "another one"
