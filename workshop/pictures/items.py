"""What station 3 adds to a build: the figures of each picture, strip, figure and animation."""

from typing import Any

from mosaic.device.budget import Need
from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.findings import Finding
from mosaic.forms import from_record
from mosaic.strips.files import index
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.keys import digest, panel_part
from workshop.documents.models import Document
from workshop.jobs.models import Job
from workshop.pictures.animation_job import told_figures
from workshop.pictures.cells import document_cells
from workshop.pictures.documents import Animation, Figure, Picture, Strip
from workshop.pictures.reports import derived_of, glass_address, glass_key, report_key
from workshop.stations.station import Item

MOST_AT_ONCE = 12
"""Pictures that a page carries out by itself; of more, the rest keep their older figures until a job has remade them."""


def items_of(build: Build, device: Device) -> list[Item]:
    """Items of all documents of the station, pictures first."""
    strips, figures = shelf.of_kind(build, Strip), shelf.of_kind(build, Figure)
    return [*_pictures(build, device), *(_of_cells(row, device) for row in (*strips, *figures)), *_animations(build)]


def picture_item(picture: Picture, figures: dict[str, Any], *, settled: bool = True) -> Item:
    """A picture with its figures, as `derived_figures` gives them."""
    address = glass_address(picture, figures["glass_key"]) if figures["glass_key"] else ""
    return Item(
        picture.ref, picture.name, picture.url, (Need(picture.place, "pictures", figures["bytes"]),), tuple(figures["findings"]),
        figures["light_share"], address, ("pixels",), settled, picture.group,
    )  # fmt: skip


def _pictures(build: Build, device: Device) -> list[Item]:
    found, carried_out = [], 0
    for picture in shelf.of_kind(build, Picture):
        recipe = picture.record
        stale = picture.derived_key != report_key(picture.original_id, recipe, device)
        if stale and carried_out >= MOST_AT_ONCE and picture.derived:
            # The picture itself is right at once: its address holds the new key, and it is made when it is looked at.
            older = {**picture.derived, "glass_key": glass_key(picture.original_id, recipe, device)}
            found.append(picture_item(picture, older, settled=False))
            continue
        carried_out += stale
        found.append(picture_item(picture, _figures(picture, device) if stale else picture.derived))
    return found


def _figures(picture: Picture, device: Device) -> dict[str, Any]:
    """Its figures; a picture that cannot be made any more is a finding, and must not lock its build."""
    try:
        return derived_of(picture, device)
    except MosaicError as error:
        finding = Finding(
            "picture.cannot-be-made", "must fix", "Picture", f"{picture.name} cannot be made: {error}",
            "No file of it can be given out until its recipe is changed.",
        )  # fmt: skip
        return {"bytes": 0, "light_share": None, "glass_key": "", "findings": [from_record(finding)]}


def _of_cells(document: Document, device: Device) -> Item:
    """A strip or a figure: the bytes of its cells, kept with it as long as nothing they depend on changes."""
    sources = [source.original_id for source in document.sources]
    key = digest("cells", document.kind, document.description, sources, *panel_part(device))
    if document.derived_key != key:
        try:
            total = sum(row[-1] for row in index(document_cells(document, device), device))
        except MosaicError:
            total = 0
        document.derived_key, document.derived = key, {"bytes": total}
        Document.everything.filter(pk=document.pk).update(derived_key=key, derived=document.derived)
    needs = (Need(document.place, f"{document.NOUN}s", document.derived["bytes"]),)
    return Item(document.ref, document.name, document.url, needs, offers=("cells",))


def _animations(build: Build) -> list[Item]:
    """Animations: what was made of them last takes flash; one that was never made takes none yet."""
    rows = shelf.of_kind(build, Animation)
    done = {}
    if rows:
        jobs = build.jobs.filter(kind="animation", state=Job.State.DONE, subject__in=[row.pk for row in rows])
        done = {job.subject: job for job in jobs.order_by("id").defer("result")}
    return [Item(row.ref, row.name, row.url, _made(row, done.get(row.pk)), offers=("cells",)) for row in rows]


def _made(row: Animation, job: Job | None) -> tuple[Need, ...]:
    if job is None:
        return ()
    key = f"job-{job.pk}"
    if row.derived_key != key:
        row.derived_key, row.derived = key, {"bytes": told_figures(job)["bytes"]}
        Document.everything.filter(pk=row.pk).update(derived_key=key, derived=row.derived)
    return (Need(row.place, "animations", row.derived["bytes"]),)
