"""A whole build as one file: a zip of JSON and of the files that its documents are made of.

* `build.json`: the build's parts and settings, and its documents in order; of one form, published as a schema.
* `files/SHA-256`: the files that documents are made of, each once, under its own sum.

Nothing in it tells the time or the place: the same build gives the same bytes. A file is read as a whole before anything of it is
taken: names, sizes, sums and forms.
"""

import hashlib
import io
import re
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

import msgspec
from msgspec import Meta

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.forms import from_record, to_record
from mosaic.json_text import read_json

FORM = 1
MOST_ENTRIES = 2000
MOST_BYTES, MOST_JSON_BYTES, MOST_FILE_BYTES = 512 << 20, 32 << 20, 64 << 20
MOST_DOCUMENTS = 1000
INDEX, FILES = "build.json", "files/"
EPOCH = (1980, 1, 1, 0, 0, 0)
"""The earliest date that a zip can tell, for all entries."""
_SUM = re.compile(r"[0-9a-f]{64}")
Name = Annotated[str, Meta(min_length=1, max_length=80)]
Sum = Annotated[str, Meta(pattern="^[0-9a-f]{64}$")]


@dataclass(frozen=True)
class FileOf:
    """A file that a document is made of: what it was called, and its SHA-256."""

    name: Annotated[str, Meta(max_length=120)]
    sum: Sum


@dataclass(frozen=True)
class DocumentOf:
    """A document of the build: what others call it, its kind, name, group, place, how it is kept, and what it is."""

    ref: Annotated[str, Meta(max_length=40)]
    kind: Annotated[str, Meta(max_length=20)]
    name: Name
    description: dict[str, Any] = field(hash=False)
    group: Annotated[str, Meta(max_length=80)] = ""
    position: Annotated[int, Meta(ge=0, le=1_000_000)] = 0
    kept_as: Literal["", "array", "file"] = ""
    files: Annotated[tuple[FileOf, ...], Meta(max_length=600)] = ()


@dataclass(frozen=True)
class BuildRecord:
    """A build.

    Attributes
    ----------
    passport, board : as the build has them, whole. passport_slug, board_slug : of the catalogue, where they come from it.
    settings : supply, distance, light, limits and the like, by their names.
    """

    name: Name
    passport: dict[str, Any] = field(hash=False)
    board: dict[str, Any] = field(hash=False)
    place: Annotated[str, Meta(max_length=80)] = ""
    passport_slug: Annotated[str, Meta(max_length=80)] = ""
    board_slug: Annotated[str, Meta(max_length=80)] = ""
    settings: dict[str, Any] = field(default_factory=dict, hash=False)
    documents: Annotated[tuple[DocumentOf, ...], Meta(max_length=MOST_DOCUMENTS)] = ()
    form: Literal[1] = 1


@dataclass(frozen=True)
class BuildFile:
    """A build and the files of its documents, by their sums."""

    build: BuildRecord
    files: Mapping[str, bytes]


def sum_of(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def write(build: BuildRecord, files: Mapping[str, bytes]) -> bytes:
    """The file of a build; `files` by their sums."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        text = msgspec.json.format(msgspec.json.encode(from_record(build), order="sorted"), indent=1)
        for name, data in ((INDEX, text), *((FILES + one, files[one]) for one in sorted(files))):
            entry = zipfile.ZipInfo(name, EPOCH)
            entry.compress_type, entry.external_attr, entry.create_system = zipfile.ZIP_DEFLATED, 0o644 << 16, 3
            archive.writestr(entry, data)
    return out.getvalue()


def read(data: bytes) -> BuildFile:
    """A build's file, checked as a whole.

    Raises
    ------
    BadValueError, BadDescriptionError
        It is none, or not whole; the text says what is wrong.
    """
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
        entries = archive.infolist()
    except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError, EOFError):
        raise BadValueError(
            "this is no build file, or it was cut short; a zip that Fine Mosaic has written is accepted"
        ) from None
    _check_names(entries)
    told = {entry.filename: entry for entry in entries}
    if INDEX not in told:
        raise BadValueError(f"the build file has no {INDEX}; bring the whole file as it was downloaded")
    build = _record(_bytes(archive, told[INDEX], MOST_JSON_BYTES))
    wanted = {one.sum: one.name for document in build.documents for one in document.files}
    files = {}
    for name, entry in told.items():
        if name == INDEX:
            continue
        sum_ = name.removeprefix(FILES)
        if sum_ not in wanted:
            raise BadValueError(f"the build file holds {name[:80]!r}, which nothing in it uses")
        found = _bytes(archive, entry, MOST_FILE_BYTES)
        if sum_of(found) != sum_:
            raise BadValueError(f"{wanted[sum_]} in the build file is not what it was: its SHA-256 differs")
        files[sum_] = found
    missing = next((name for one, name in wanted.items() if one not in files), None)
    if missing is not None:
        raise BadValueError(f"{missing} is missing from the build file")
    return BuildFile(build, files)


def _check_names(entries: list[zipfile.ZipInfo]) -> None:
    if len(entries) > MOST_ENTRIES:
        raise BadValueError(f"the build file has {len(entries):,} entries; up to {MOST_ENTRIES:,} are accepted")
    seen: set[str] = set()
    total = 0
    for entry in entries:
        name = entry.filename
        if name != INDEX and not (name.startswith(FILES) and _SUM.fullmatch(name.removeprefix(FILES))):
            raise BadValueError(f"{name[:80]!r} has no place in a build file; {INDEX} and {FILES}… with a SHA-256 are accepted")
        if name.lower() in seen:
            raise BadValueError(f"{name[:80]!r} stands in the build file twice")
        seen.add(name.lower())
        if entry.flag_bits & 1:
            raise BadValueError("the build file is locked with a password; bring it unlocked")
        total += entry.file_size
    if total > MOST_BYTES:
        raise BadValueError(f"unpacked the build file would have {total >> 20:,} MiB; up to {MOST_BYTES >> 20} are accepted")


def _bytes(archive: zipfile.ZipFile, entry: zipfile.ZipInfo, most: int) -> bytes:
    """An entry, no more of it than it says and than is accepted."""
    if entry.file_size > most:
        raise BadValueError(f"{entry.filename} has {entry.file_size >> 20:,} MiB; up to {most >> 20} are accepted")
    try:
        with archive.open(entry) as source:
            data = source.read(entry.file_size + 1)
    except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError, EOFError, RuntimeError):
        raise BadValueError(f"{entry.filename} in the build file cannot be unpacked; the file is damaged") from None
    except Exception as error:  # zlib and others have errors of their own
        if type(error).__module__ in ("zlib", "lzma", "bz2", "_lzma"):
            raise BadValueError(f"{entry.filename} in the build file cannot be unpacked; the file is damaged") from None
        raise
    if len(data) != entry.file_size:
        raise BadValueError(f"{entry.filename} in the build file is longer than it says; the file is damaged")
    return data


def _record(text: bytes) -> BuildRecord:
    plain = read_json(text, "build file")
    if isinstance(plain, dict) and isinstance(plain.get("form"), int) and plain["form"] > FORM:
        raise BadValueError(
            f"this build file is of form {plain['form']}, from a newer Fine Mosaic; this one reads form {FORM}. Bring it there"
        )
    build: BuildRecord = to_record(plain, BuildRecord, "the build file")
    refs = [one.ref for one in build.documents]
    twice = next((ref for ref in refs if refs.count(ref) > 1), None)
    if twice is not None:
        raise BadDescriptionError(f"two documents are called {twice}; each has a reference of its own", path="$.documents")
    return build
