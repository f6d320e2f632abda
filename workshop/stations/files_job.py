"""All files of everything in a build, each read back, in one zip."""

import io
import zipfile

from mosaic.source_text import distinct, identifier
from workshop.jobs.kinds import JobKind
from workshop.jobs.models import Job
from workshop.jobs.progress import Made, Progress
from workshop.stations import stations


def make_files(job: Job, progress: Progress) -> Made:
    """The files of every document of the job's build that has any."""
    device = job.build.to_device()
    makers = [make for station in stations() for make in station.files(job.build, device)]
    out = io.BytesIO()
    count = 0
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        taken: set[str] = set()
        for number, make in enumerate(makers):
            progress.step(number, len(makers))
            files = make()
            (name,) = distinct([identifier(files[0].title)], taken) if files else ("",)
            taken.add(name)
            for file in files:
                archive.writestr(f"{name}.{file.ending}", file.data)
            count += len(files)
    progress.step(len(makers), len(makers))
    words = f"{count} files of {len(makers)} documents, every file read back"
    return Made(out.getvalue(), f"{identifier(job.build.name)}.zip", words)


FILES = JobKind("files", "making the files", "Download", "application/zip", make_files, shows_itself=False)
