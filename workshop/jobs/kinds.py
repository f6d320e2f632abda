"""The kinds of long work. A new one is its function and one line here."""

from collections.abc import Callable
from dataclasses import dataclass

from mosaic.registry import Registry
from workshop.jobs.files import make_files
from workshop.jobs.models import Job
from workshop.jobs.progress import Made, Progress
from workshop.pictures.animation_job import make_clip
from workshop.pictures.contact_sheet import make_sheet
from workshop.pictures.search_job import make_search, remake_pictures


@dataclass(frozen=True)
class JobKind:
    """One kind: what it is called while it runs and when it is done, and what does it.

    `shows_itself` is one whose page shows what was made, so that it is loaded again at the end.
    """

    name: str
    running: str
    take: str
    media_type: str
    run: Callable[[Job, Progress], Made]
    shows_itself: bool = True


KINDS: Registry[JobKind] = Registry(
    "kind of job",
    (
        JobKind("files", "making the files", "Take the files", "application/zip", make_files, False),
        JobKind("animation", "making the frames", "Take the files", "application/zip", make_clip),
        JobKind("search", "searching", "", "application/octet-stream", make_search),
        JobKind("set", "remaking the set", "", "application/octet-stream", remake_pictures),
        JobKind("contact-sheet", "trying every method", "", "application/json", make_sheet),
    ),
    lambda kind: kind.name,
)
