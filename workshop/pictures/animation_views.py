"""Animations: brought as one file or numbered frames, made in the background, shown at the rate the device keeps."""

from typing import Any

from django import forms
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.animation.frames import frames_of, read_clip
from mosaic.animation.making import AnimationPlan
from mosaic.conversion.pipeline import convert, fit_stage
from mosaic.exports.rasters import png_of_glass
from mosaic.exports.result import file_title
from mosaic.forms import from_record
from mosaic.reduce.methods import METHODS
from workshop.answers import check_key, go_to, image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.keys import digest
from workshop.documents.models import bytes_of
from workshop.documents.originals import keep_picture, read_upload
from workshop.jobs import services as jobs
from workshop.jobs.models import Job
from workshop.jobs.views import shown as job_shown
from workshop.look.fields import flag, problems_in_words, select, slide, whole
from workshop.pictures.animation_job import animation_plan, member, told_figures
from workshop.pictures.documents import Animation
from workshop.pictures.forms import ANCHORS, FITS, SCALINGS, method_choices
from workshop.pictures.shared_pages import list_page, refused, save_posted
from workshop.pictures.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

JOB = "animation"
RECIPE_FIELDS = ("method", "strength", "fit", "anchor", "scaling", "exposure", "contrast", "saturation")


class AnimationForm(forms.Form):
    """How an animation is made; the recipe's fields are those that make sense for all frames."""

    rate_fps = forms.FloatField(label="frames a second", min_value=0, max_value=120, widget=forms.NumberInput(
        attrs={"class": "fm-blank", "aria-label": "frames a second", "step": "any"}))  # fmt: skip
    every = whole("every so-manieth frame", 60, 1)
    hold = flag("pixels held where the source stands still")
    windows = flag("only changed windows sent")
    method = select("method", method_choices())
    strength = slide("strength", 0, 1, 0.01)
    fit = select("fit", FITS)
    anchor = select("kept part", ANCHORS)
    scaling = select("scaling", SCALINGS)
    exposure = slide("exposure", -2, 2, 0.05)
    contrast = slide("contrast", 0.5, 2, 0.05)
    saturation = slide("saturation", 0, 2.5, 0.05)

    @classmethod
    def of(cls, plan: AnimationPlan) -> "AnimationForm":
        own = {name: getattr(plan, name) for name in ("rate_fps", "every", "hold", "windows")}
        return cls(initial=own | {name: getattr(plan.recipe, name) for name in RECIPE_FIELDS})

    def to_plan(self, base: AnimationPlan) -> AnimationPlan:
        given = dict(self.cleaned_data)
        recipe = base.recipe.with_changes(**{name: given.pop(name) for name in RECIPE_FIELDS})
        return animation_plan({**given, "recipe": from_record(recipe), "form": 1})


def page(request: HttpRequest, build_id: int) -> HttpResponse:
    """The build's animations."""
    return list_page(request, build_id, Animation)


@require_POST
def add(request: HttpRequest, build_id: int) -> HttpResponse:
    """Bring an animation; it is looked through to its last frame before it is kept."""
    build = own_build(request, build_id)
    files = [(upload.name, read_upload(upload)) for upload in request.FILES.getlist("frames")]
    clip = read_clip(files)
    sources = [(keep_picture(data=data, file_name=name, owner=request.user), name) for name, data in clip.files]
    name = file_title(clip.files[0][0])
    row = documents.add(Animation, build=build, name=name, record=AnimationPlan(), sources=sources)
    return go_to(request, reverse("animation", args=[build.pk, row.pk]))


def animation(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """One animation: how it is made, and what was made of it."""
    build = own_build(request, build_id)
    row = shelf.own(build, Animation, document_id)
    plan = row.record
    return render(request, "pictures/animation.html", _context(build, row, AnimationForm.of(plan), plan))


def _context(build, row: Animation, form: AnimationForm, plan: AnimationPlan) -> dict[str, Any]:
    overview = overview_of(build)
    width, height = overview.device.size
    job = jobs.latest(build=build, kind=JOB, subject=row.pk)
    done = job is not None and job.state == Job.State.DONE
    fresh = done and job.asked == _asked(row, build)
    key = _key(build, row)
    return {
        **frame_context(overview, "pictures"),
        "tabs": tabs_of(build, "animations"),
        "document": row, "form": form, "width": width, "height": height,
        **(job_shown(job) if job else {"job": None}),
        "figures": told_figures(job) if done else None,
        "fresh": fresh,
        "preview_url": reverse("animation-preview", args=[build.pk, row.pk, job.pk]) if done else "",
        "frame_url": reverse("animation-frame", args=[build.pk, row.pk, key]),
        "crawls": METHODS[plan.recipe.method].family == "error diffusion",
        "frame_count": len(row.sources),
    }  # fmt: skip


def _asked(row: Animation, build) -> dict[str, Any]:
    """What a job is asked; another build, or another state of it, makes another animation."""
    return {"plan": row.description, "build": build.revision}


@require_POST
def make(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """Keep how it is made, and make it in the background."""
    build = own_build(request, build_id)
    row = shelf.own(build, Animation, document_id)
    plan = row.record
    form = AnimationForm(request.POST)
    if not form.is_valid():
        return refused(request, "pictures/animation.html", _context(build, row, form, plan), problems_in_words(form))
    plan = form.to_plan(plan)
    row = save_posted(request, row, plan)
    jobs.start(build=build, owner=request.user, kind=JOB, subject=row.pk, total=len(row.sources), asked=_asked(row, build))
    return redirect("animation", build.pk, row.pk)


def _key(build: Build, row: Animation) -> str:
    return digest("animation", row.pk, row.head_id, build.revision)


def one_frame(request: HttpRequest, build_id: int, document_id: int, key: str) -> HttpResponse:
    """The first frame on the glass, before anything was made."""
    build = own_build(request, build_id)
    row = shelf.own(build, Animation, document_id)
    check_key(key, _key(build, row))
    device, recipe = build.to_device(), row.record.recipe
    source = next(frames_of(read_clip(bytes_of(row.sources))))
    fitted = fit_stage(source, recipe, device.passport, device.turn)
    converted = convert(fitted, recipe, device.passport, device.turn, device.eye_sigma_px)
    return image(png_of_glass(converted.pixels, device.passport, device.turn))


def preview(request: HttpRequest, build_id: int, document_id: int, job_id: int) -> HttpResponse:
    """What was made, moving at the rate the device keeps."""
    build = own_build(request, build_id)
    row = shelf.own(build, Animation, document_id)
    job = build.jobs.filter(pk=job_id, kind=JOB, subject=row.pk, state=Job.State.DONE).defer("result").first()
    if job is None:
        raise Http404("nothing was made")
    return image(member(job, "preview.png"))
