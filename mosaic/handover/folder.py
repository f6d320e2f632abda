"""A hand-over in a folder: what is written, what is left as it is, and what somebody has changed in it since."""

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

from mosaic.errors import BadValueError, MosaicError
from mosaic.forms import to_record
from mosaic.handover.making import MadeFile
from mosaic.handover.manifest import Manifest
from mosaic.json_text import read_json

MANIFEST = "manifest.json"
MOST_BYTES = 16 << 20


@dataclass(frozen=True)
class FolderPlan:
    """What writing into a folder does, by paths.

    Attributes
    ----------
    new, changed, same : of the files to be written. kept : the maker's own, which stay as they are. gone : of the hand-over
        before, not made any more and unchanged; they are removed. edited : generated, and changed by hand since.
    """

    new: tuple[str, ...]
    changed: tuple[str, ...]
    same: tuple[str, ...]
    kept: tuple[str, ...]
    gone: tuple[str, ...]
    edited: tuple[str, ...]


def manifest_of(data: bytes) -> Manifest:
    """A manifest that was written before; raises `MosaicError` where it is none."""
    found: Manifest = to_record(read_json(data, "manifest"), Manifest, "the manifest")
    return found


def plan_for(files: tuple[MadeFile, ...], there: Mapping[str, bytes], before: Manifest | None) -> FolderPlan:
    """What would happen to a folder's files `there`, by path; `before` : the manifest of the hand-over that wrote them."""
    made = {one.path: one for one in files}
    written = {one.path: one.sha256 for one in before.files} if before else {}
    new, changed, same, kept, edited = [], [], [], [], list[str]()
    for path, one in sorted(made.items()):
        data = there.get(path)
        if data is None:
            new.append(path)
        elif one.role == "yours":
            kept.append(path)
        elif data == one.data:
            same.append(path)
        else:
            changed.append(path)
            if path not in written or hashlib.sha256(data).hexdigest() != written[path]:
                edited.append(path)
    gone: list[str] = []
    for listed in before.files if before else ():
        if listed.path in made or listed.path not in there or listed.role == "yours":
            continue
        is_edited = hashlib.sha256(there[listed.path]).hexdigest() != listed.sha256
        (edited if is_edited else gone).append(listed.path)
    return FolderPlan(tuple(new), tuple(changed), tuple(same), tuple(kept), tuple(gone), tuple(edited))


def read_folder(folder: Path, paths: set[str]) -> dict[str, bytes]:
    """The files of these paths that are there."""
    found = {}
    for path in sorted(paths):
        place = folder / path
        if place.is_file() and not place.is_symlink() and place.stat().st_size <= MOST_BYTES:
            found[path] = place.read_bytes()
    return found


def write_folder(folder: Path, files: tuple[MadeFile, ...], manifest: bytes, *, force: bool = False) -> FolderPlan:
    """Write a hand-over into a folder; files of the maker's own are written only where they are not there.

    Raises
    ------
    BadValueError
        The folder is none, or a generated file in it was changed by hand and `force` is not given; nothing is written.
    """
    if folder.exists() and not folder.is_dir():
        raise BadValueError(f"{folder} is a file; a folder is accepted, new or used before")
    before: Manifest | None = None
    if (folder / MANIFEST).is_file():
        try:
            before = manifest_of((folder / MANIFEST).read_bytes())
        except MosaicError as error:
            raise BadValueError(f"{MANIFEST} in {folder} is of no hand-over ({error}); choose another folder") from None
    paths = {one.path for one in files} | {one.path for one in (before.files if before else ()) if _is_plain(one.path)}
    there = read_folder(folder, paths)
    plan = plan_for(files, there, before)
    if plan.edited and not force:
        named = ", ".join(plan.edited[:5]) + (f" and {len(plan.edited) - 5} more" if len(plan.edited) > 5 else "")
        raise BadValueError(
            f"{named} was changed by hand; it would be written anew. Move the changes to main.c or board.c, or give --force"
        )
    for one in files:
        if one.path in plan.kept or one.path in plan.same:
            continue
        place = folder / one.path
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_bytes(one.data)
    for path in plan.gone:
        (folder / path).unlink()
    (folder / MANIFEST).write_bytes(manifest)
    return plan


def _is_plain(path: str) -> bool:
    """Whether a path of a manifest stays within its folder."""
    parts = Path(path).parts
    return bool(parts) and not Path(path).is_absolute() and ".." not in parts
