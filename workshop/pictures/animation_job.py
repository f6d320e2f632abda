"""Making an animation: what the job does, and how a page reads what it made."""

import io
import json
import zipfile
from typing import Any

from mosaic.animation.files import figures, zip_of
from mosaic.animation.frames import read_clip
from mosaic.animation.making import AnimationPlan, make_animation
from mosaic.forms import to_record
from mosaic.source_text import identifier
from workshop.documents.models import bytes_of
from workshop.jobs.models import Job
from workshop.jobs.progress import Made, Progress
from workshop.pictures.documents import Animation


def animation_plan(description: dict[str, Any]) -> AnimationPlan:
    """How an animation is made, of its saved form."""
    return to_record(description, AnimationPlan, "animation")


def make_clip(job: Job, progress: Progress) -> Made:
    """A zip of all files of the animation the job works on."""
    row = Animation.objects.of(job.build).get(pk=job.subject)
    device = job.build.to_device()
    made = make_animation(read_clip(bytes_of(row.sources)), animation_plan(job.asked["plan"]), device, progress.step)
    data = zip_of(row.name, made, device)
    told = figures(made, device)
    words = f"{told['frames']} frames, {told['bytes']:,} B, every frame shown by the virtual panel"
    return Made(data, f"{identifier(row.name)}.zip", words)


def member(job: Job, name: str) -> bytes:
    """One file of what a finished job made."""
    data = Job.objects.values_list("result", flat=True).get(pk=job.pk)
    return zipfile.ZipFile(io.BytesIO(bytes(data))).read(name)


def told_figures(job: Job) -> dict[str, Any]:
    return json.loads(member(job, "figures.json"))
