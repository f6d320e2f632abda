"""All files of all pictures of a build, each read back, in one zip."""

import io
import zipfile

from mosaic.exports.registry import export
from mosaic.exports.result import identifier
from workshop.jobs.models import Job
from workshop.jobs.progress import Made, Progress
from workshop.pictures.reports import export_result, report_of

ENDINGS = ("h", "bin", "png")


def make_files(job: Job, progress: Progress) -> Made:
    """Header, raw bytes and PNG of every picture of the job's build."""
    device = job.build.to_device()
    out = io.BytesIO()
    pictures = list(job.build.pictures.select_related("head"))
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        taken: set[str] = set()
        for count, picture in enumerate(pictures):
            progress.step(count, len(pictures))
            recipe = picture.to_recipe()
            result = export_result(picture, recipe, device, report_of(picture, recipe, device))
            name = free_name(identifier(picture.name), taken)
            for ending in ENDINGS:
                archive.writestr(f"{name}.{ending}", export(result, ending))
    progress.step(len(pictures), len(pictures))
    return Made(out.getvalue(), f"{identifier(job.build.name)}.zip", f"{len(pictures)} pictures, every file read back")


def free_name(name: str, taken: set[str]) -> str:
    """The name, or one with a number behind it that is not taken; it is taken now."""
    free, number = name, 2
    while free in taken:
        free, number = f"{name}_{number}", number + 1
    taken.add(free)
    return free
