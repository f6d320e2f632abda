"""Trying every method on one picture, with figures: what the job makes, and how a page reads it."""

import base64
import json
from dataclasses import replace
from typing import Any

from mosaic.pixels.compression import compressed_sizes
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe, recipe_from_plain, recipe_to_plain
from workshop.jobs.models import Job
from workshop.jobs.progress import Made, Progress
from workshop.pictures.documents import Picture
from workshop.pictures.reports import glass_png, report_of


def trials(recipe: Recipe, *, searched: bool) -> list[tuple[str, Recipe]]:
    """Every method with the recipe's other settings, and the best diffusion polished by search where there is a palette."""
    plain = replace(recipe, polish=False)
    found = [(method.title, replace(plain, method=name)) for name, method in METHODS.items()]
    if searched:
        polished = ("floyd-steinberg", "blue-noise")
        found += [(f"{METHODS[name].title}, polished", replace(plain, method=name, polish=True)) for name in polished]
    return found


def make_sheet(job: Job, progress: Progress) -> Made:
    """JSON of every trial: title, recipe, perceived error, bytes as they are and compressed, and the picture as PNG."""
    device = job.build.to_device()
    picture = Picture.objects.of(job.build).get(pk=job.subject)
    recipe = recipe_from_plain(job.asked["recipe"])
    tried = trials(recipe, searched=device.passport.palette is not None)
    cells = []
    for count, (title, trial) in enumerate(tried):
        progress.step(count, len(tried))
        report = report_of(picture, trial, device)
        sizes = compressed_sizes(report.converted.packed)
        cells.append(
            {
                "title": title,
                "recipe": recipe_to_plain(trial),
                "error": round(report.converted.perceived_error, 3),
                "bytes": len(report.converted.packed),
                "compressed": min(size.byte_count for size in sizes),
                "png": base64.b64encode(glass_png(report, device)).decode(),
            }
        )
    progress.step(len(tried), len(tried))
    return Made(json.dumps(cells).encode(), "contact-sheet.json", f"{len(tried)} ways tried")


def cells_of_sheet(job: Job) -> list[dict[str, Any]]:
    """The trials of a finished sheet, numbered, without their pictures."""
    data = Job.objects.values_list("result", flat=True).get(pk=job.pk)
    cells = json.loads(bytes(data))
    return [{"number": number, **{k: v for k, v in cell.items() if k != "png"}} for number, cell in enumerate(cells)]


def cell_of(job: Job, number: int) -> dict[str, Any]:
    """One trial with its picture, PNG bytes."""
    data = Job.objects.values_list("result", flat=True).get(pk=job.pk)
    cell = json.loads(bytes(data))[number]
    return {**cell, "png": base64.b64decode(cell["png"])}
