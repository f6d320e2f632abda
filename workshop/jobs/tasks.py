"""Work that worker processes carry out."""

import io
import zipfile

from django_tasks import task

from mosaic.errors import MosaicError
from mosaic.exports.registry import export
from mosaic.exports.result import identifier
from workshop.errors import message_of
from workshop.jobs.models import Job
from workshop.pictures.reports import export_result, report_of

ENDINGS = ("h", "bin", "png")


class CancelledError(Exception):
    """The maker has asked for an end."""


@task()
def make_files(job_id: int) -> None:
    """Header, raw bytes and PNG of every picture of a build, each read back, in one zip."""
    job = Job.objects.filter(pk=job_id, state=Job.State.WAITING).first()
    if job is None:
        return
    _update(job, state=Job.State.RUNNING)
    try:
        data = _zip_of(job)
    except CancelledError:
        _update(job, state=Job.State.CANCELLED, message="cancelled; nothing was made")
    except MosaicError as error:
        _update(job, state=Job.State.FAILED, message=message_of(error)[:300])
    else:
        name = f"{identifier(job.build.name)}.zip"
        _update(job, state=Job.State.DONE, result=data, result_name=name, message=f"{job.total} pictures, every file read back")


def _update(job: Job, **values) -> None:
    Job.objects.filter(pk=job.pk).update(**values)


def _zip_of(job: Job) -> bytes:
    device = job.build.to_device()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        taken: set[str] = set()
        for count, picture in enumerate(job.build.pictures.select_related("head"), 1):
            if Job.objects.values_list("cancel_asked", flat=True).get(pk=job.pk):
                raise CancelledError
            recipe = picture.to_recipe()
            result = export_result(picture, recipe, device, report_of(picture, recipe, device))
            name = _free_name(identifier(picture.name), taken)
            for ending in ENDINGS:
                archive.writestr(f"{name}.{ending}", export(result, ending))
            _update(job, done=count)
    return out.getvalue()


def _free_name(name: str, taken: set[str]) -> str:
    free, number = name, 2
    while free in taken:
        free, number = f"{name}_{number}", number + 1
    taken.add(free)
    return free
