"""Making a hand-over, keeping it, and comparing it with the build as it is."""

import io
import zipfile
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Max

from mosaic.build_file import read
from mosaic.errors import BadValueError
from mosaic.forms import from_record, to_record
from mosaic.handover.changes import Change, FileChanges, by_file, by_meaning
from mosaic.handover.making import HandOver as Made
from mosaic.handover.making import MadeFile, hand_over, manifest_file
from mosaic.handover.manifest import Manifest
from mosaic.handover.proof import Proof, RunProof, prove
from mosaic.handover.sizes import DataFile, SizePart, Sizes, sizes_of
from mosaic.source_text import identifier
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.keys import digest
from workshop.documents.services import held
from workshop.handover.models import HandOver
from workshop.jobs.kinds import JobKind
from workshop.jobs.models import Job
from workshop.jobs.progress import Made as Result
from workshop.jobs.progress import Progress
from workshop.journal import services as journal
from workshop.stations.build_file import SETTINGS, build_file

KIND = "hand-over"
MOST_KEPT = 12
"""Hand-overs that are kept of a build; the oldest go."""
MOST_COPY = 64 * 2**20


def archive_of(made: Made, manifest: bytes, folder: str, build: bytes) -> bytes:
    """Everything as one zip, in a folder; no dates in it."""
    out = io.BytesIO()
    files = [*((one.path, one.data) for one in made.files), ("manifest.json", manifest), ("build.zip", build)]
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        for path, data in sorted(files):
            entry = zipfile.ZipInfo(f"{folder}/{path}", (1980, 1, 1, 0, 0, 0))
            entry.compress_type, entry.external_attr, entry.create_system = zipfile.ZIP_DEFLATED, 0o644 << 16, 3
            archive.writestr(entry, data)
    return out.getvalue()


def make(job: Job, progress: Progress) -> Result:
    """Make the hand-over of the job's build, prove it and keep it."""
    build = job.build
    state, data = state_of(build), build_file(build)
    made = hand_over(read(data), lambda done, of: progress.step(done, of * 3))
    proof = prove(made, lambda done, of: progress.step(of + done * 2, of * 3))
    manifest = made.manifest(data)
    folder = identifier(build.name, "build")
    archive = archive_of(made, manifest_file(manifest), folder, data)
    row = keep(build, state, data, archive, manifest, proof, sizes_of(made, proof))
    progress.step(1, 1)
    words = f"{len(made.files)} files" + (", compiled and proved" if proof.is_right else "")
    return Result(archive, f"{folder}-{row.number}.zip", words)


@transaction.atomic
def keep(build: Build, state: str, data: bytes, archive: bytes, manifest: Manifest, proof: Proof, sizes: Sizes) -> HandOver:
    """Keep a hand-over under the next number."""
    held(build)
    rows = HandOver.objects.filter(build=build)
    last = rows.aggregate(last=Max("number"))["last"] or 0
    row = HandOver.objects.create(
        build=build, number=last + 1, state=state, build_file=data, archive=archive, manifest=from_record(manifest),
        proof=from_record(proof), sizes=from_record(sizes),
    )  # fmt: skip
    old = list(rows.values_list("pk", flat=True)[MOST_KEPT:])
    HandOver.objects.filter(pk__in=old).delete()
    _note(build, row, proof, sizes)
    return row


def _note(build: Build, row: HandOver, proof: Proof, sizes: Sizes) -> None:
    """A line for the log: which hand-over it is, how large, and what its proof says."""
    told = [words for holds, words in proof_words(proof) if not holds]
    said = " ".join(told) or "Every proof holds."
    journal.note(
        build, "trial", f"Hand-over {row.number}. {said}", worked=None if not told else False, subject=f"Hand-over {row.number}"
    )


def state_of(build: Build) -> str:
    """Key of everything that a build's file holds."""
    rows = sorted(shelf.all_documents(build), key=lambda row: row.pk)
    heads = [(row.pk, row.head_id, row.name, row.group, row.kept_as, row.position) for row in rows]
    settings = [str(getattr(build, name)) for name in SETTINGS]
    return digest("hand-over 1", build.name, build.place, build.revision, settings, heads)


JOB = JobKind(KIND, "handing over", "Download", "application/zip", make)


@dataclass(frozen=True, eq=False)
class Kept:
    """A hand-over as it was kept."""

    row: HandOver
    manifest: Manifest
    proof: Proof
    sizes: Sizes

    @property
    def is_current(self) -> bool:
        """Whether the build is as it was then."""
        return bool(self.row.state == state_of(self.row.build))


def kept_of(row: HandOver) -> Kept:
    """A row, read."""
    proof = {**row.proof, "runs": tuple(RunProof(**one) for one in row.proof["runs"])}
    proof["kept_runs"] = tuple((name, ok) for name, ok in proof["kept_runs"])
    proof["code_bytes"] = tuple(tuple(one) for one in proof["code_bytes"])
    sizes = row.sizes
    parts = {name: tuple(SizePart(**one) for one in sizes[name]) for name in ("flash", "ram")}
    files = tuple(DataFile(**one) for one in sizes["files"])
    told = Sizes(parts["flash"], parts["ram"], files, sizes["partition_bytes"])
    wrong, misuse = tuple(proof.pop("wrong_states")), tuple(proof.pop("misuse"))
    return Kept(row, to_record(row.manifest, Manifest, "the manifest"), Proof(**proof, wrong_states=wrong, misuse=misuse), told)


def last_of(build: Build) -> Kept | None:
    """The last hand-over of a build; None where there is none yet."""
    row = HandOver.objects.filter(build=build).defer("archive", "build_file").first()
    if row is None:
        return None
    row.build = build
    return kept_of(row)


def numbered(build: Build, number: int) -> HandOver | None:
    row = HandOver.objects.filter(build=build, number=number).first()
    if row is not None:
        row.build = build
    return row


@dataclass(frozen=True, eq=False)
class Compared:
    """The build as it is beside a hand-over: by meaning, by file, and the files themselves."""

    changes: tuple[Change, ...]
    files: FileChanges
    now: Made


def compared(build: Build, row: HandOver) -> Compared:
    """What has changed since a hand-over; raises `MosaicError` where the build cannot be handed over."""
    data = build_file(build)
    now = hand_over(read(data))
    before = to_record(row.manifest, Manifest, "the manifest")
    changes = by_meaning(read(bytes(row.build_file)), read(data))
    return Compared(tuple(changes), by_file(before, now.manifest(data)), now)


def file_in(row: HandOver, path: str) -> bytes | None:
    """A file of a hand-over; None where it has none of this path."""
    with zipfile.ZipFile(io.BytesIO(bytes(row.archive))) as archive:
        name = next((one for one in archive.namelist() if one.partition("/")[2] == path), None)
        return archive.read(name) if name else None


@dataclass(frozen=True)
class CopyOfFile:
    """A file of the maker's copy that is not as it was handed over: its path, and the lines that differ."""

    path: str
    lines: tuple[str, ...]


def read_copy(data: bytes) -> dict[str, bytes]:
    """The files of a zip of a maker's folder, by their paths within it.

    Raises
    ------
    BadValueError
        It is none, or it is too large.
    """
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
        entries = [entry for entry in archive.infolist() if not entry.is_dir()]
        if len(entries) > 5000 or sum(entry.file_size for entry in entries) > MOST_COPY:
            raise BadValueError(f"this copy is too large; up to 5,000 files and {MOST_COPY >> 20} MiB are accepted")
        found = {entry.filename: archive.read(entry) for entry in entries}
    except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError, EOFError, RuntimeError):
        raise BadValueError(
            "this is no zip, or it was cut short; zip the folder of the hand-over as it is on your computer"
        ) from None
    top = next((name.rpartition("manifest.json")[0] for name in sorted(found, key=len) if name.endswith("manifest.json")), None)
    if top is None:
        raise BadValueError("there is no manifest.json in this zip; zip the whole folder of the hand-over")
    return {name.removeprefix(top): data for name, data in found.items() if name.startswith(top)}


def made_files(made: Made) -> dict[str, MadeFile]:
    return {one.path: one for one in made.files}


def proof_words(proof: Proof) -> list[tuple[bool, str]]:
    """What was proved and what was not, in sentences: (whether it holds, words)."""
    if not proof.compiled:
        return [(False, f"The C was not compiled: {proof.why}.")]
    found = [(True, "The C was compiled without a warning.")]
    wrong = ", ".join(proof.wrong_states)
    found.append(
        (
            not wrong,
            f"{proof.states} states were drawn; "
            + (f"other than the preview: {wrong}." if wrong else "all equal to their previews."),
        )
    )
    if proof.python_states and not proof.python_why:
        found.append((True, f"The program in Python drew the same {proof.python_states} states, all equal."))
    elif proof.python_why:
        found.append((False, f"{proof.python_why}."))
    for run in proof.runs:
        told = f"The run “{run.name}” of {run.steps} steps went through the virtual panel: "
        found.append(
            (run.is_right, told + ("the glass was right after each." if run.is_right else f"wrong after step {run.wrong_at}."))
        )
    for name, ok in proof.kept_runs:
        found.append(
            (ok, f"The kept run {name} " + ("does what it did." if ok else "does something else than when it was kept."))
        )
    found += [(False, f"The panel would take amiss: {words}.") for words in proof.misuse]
    return found


def figures(kept: Kept) -> dict[str, Any]:
    """What the page tells of a hand-over."""
    count: dict[str, int] = {}
    for one in kept.manifest.files:
        count[one.role] = count.get(one.role, 0) + 1
    return {"count": count, "total": sum(one.size for one in kept.manifest.files)}
