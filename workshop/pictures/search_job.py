"""The search of one picture, and the remaking of a set, as jobs."""

from workshop.jobs.models import Job
from workshop.jobs.progress import Made, Progress
from workshop.pictures.documents import Picture
from workshop.pictures.reports import derived_of, fitted_of, report_of
from workshop.pictures.searching import find, runs_beside


def make_search(job: Job, progress: Progress) -> Made:
    """Search for a better arrangement of the picture the job works on; what is found is kept with the picture."""
    picture = Picture.objects.of(job.build).get(pk=job.subject)
    recipe, device = picture.record, job.build.to_device()
    fitted = fitted_of(picture.original_id, picture.file_name, recipe, device)
    find(picture, fitted, recipe, device, progress.step)
    return Made(b"", "", "searched")


def remake_pictures(job: Job, progress: Progress) -> Made:
    """Apply every picture of the job's set, so that pages find their figures ready."""
    device = job.build.to_device()
    rows = list(Picture.objects.of(job.build).filter(group=job.asked["set"]))
    for count, picture in enumerate(rows):
        progress.step(count, len(rows))
        recipe = picture.record
        if runs_beside(recipe, device):
            report_of(picture, recipe, device)
        derived_of(picture, device)
    progress.step(len(rows), len(rows))
    return Made(b"", "", f"{len(rows)} pictures remade")
