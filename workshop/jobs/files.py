"""All files of all pictures and letterings of a build, each read back, in one zip."""

import io
import zipfile

from mosaic.errors import BadValueError
from mosaic.exports.registry import export
from mosaic.exports.result import identifier
from mosaic.lettering.files import written
from mosaic.lettering.packing import reads_back
from workshop.jobs.models import Job
from workshop.jobs.progress import Made, Progress
from workshop.lettering.reports import report_of as lettering_report
from workshop.pictures.reports import export_result, report_of

ENDINGS = ("h", "bin", "png")
LETTERING_ENDINGS = ("h", "bdf")


def make_files(job: Job, progress: Progress) -> Made:
    """Header, raw bytes and PNG of every picture of the job's build; header and BDF of every lettering."""
    device = job.build.to_device()
    out = io.BytesIO()
    pictures, letterings = (list(kept.select_related("head")) for kept in (job.build.pictures, job.build.letterings))
    total = len(pictures) + len(letterings)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        taken: set[str] = set()
        for count, picture in enumerate(pictures):
            progress.step(count, total)
            recipe = picture.to_recipe()
            result = export_result(picture, recipe, device, report_of(picture, recipe, device))
            name = free_name(identifier(picture.name), taken)
            for ending in ENDINGS:
                archive.writestr(f"{name}.{ending}", export(result, ending))
        for count, lettering in enumerate(letterings, len(pictures)):
            progress.step(count, total)
            packed = lettering_report(lettering, lettering.to_plan(), device, job.build.texts).packed
            if not reads_back(packed):
                raise BadValueError(f"the bytes of {lettering.name} do not read back to its glyphs")
            name = free_name(identifier(lettering.name), taken)
            for ending in LETTERING_ENDINGS:
                archive.writestr(f"{name}.{ending}", written(packed, ending))
    progress.step(total, total)
    words = f"{len(pictures)} pictures and {len(letterings)} letterings" if letterings else f"{len(pictures)} pictures"
    return Made(out.getvalue(), f"{identifier(job.build.name)}.zip", f"{words}, every file read back")


def free_name(name: str, taken: set[str]) -> str:
    """The name, or one with a number behind it that is not taken; it is taken now."""
    free, number = name, 2
    while free in taken:
        free, number = f"{name}_{number}", number + 1
    taken.add(free)
    return free
