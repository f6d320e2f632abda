"""Strips, segmented figures and animations, through their pages."""

import io
import json
import zipfile
from types import SimpleNamespace

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from tests.conftest import gradient, png_of
from tests.mosaic.animation.test_animation import animated
from tests.mosaic.segments.test_segments import OWN
from tests.mosaic.strips.test_strips import SHEET
from tests.reading import kept
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.documents import shelf
from workshop.documents.services import keep_as
from workshop.jobs import progress
from workshop.jobs.models import Job
from workshop.jobs.services import latest
from workshop.jobs.tasks import carry_out
from workshop.pictures.documents import Animation, Figure, Strip
from workshop.pictures.station import STATION


def here(name, build: Build, *more):
    return reverse(name, args=[build.pk, *more])


def file(name: str, data: bytes) -> SimpleUploadedFile:
    return SimpleUploadedFile(name, data)


def form_of(page) -> dict:
    """What the page's form would send, with its hidden parts."""
    form, document = page.context["form"], page.context["document"]
    values = {name: form[name].value() for name in form.fields}
    return {k: v for k, v in values.items() if v is not False and v is not None} | {
        "base": document.head_id,
        "name": document.name,
    }


class TestStrip:
    @pytest.fixture
    def strip(self, signed_in, build):
        sheet = np.repeat((SHEET * 255)[..., None], 3, axis=2).astype(np.uint8)
        signed_in.post(here("add-strip", build), {"sheet": file("tide-marks.png", png_of(sheet))})
        return kept(build, Strip).get()

    def change(self, signed_in, build, strip, **changes):
        page = signed_in.get(here("strip", build, strip.pk))
        return signed_in.post(here("change-strip", build, strip.pk), form_of(page) | changes)

    def test_is_cut_named_and_taken(self, signed_in, build, strip):
        answer = self.change(signed_in, build, strip, columns=3, rows=1, baseline=2, names="block bar dash", equal_advance="on")
        assert answer.status_code == 302, answer.context["problem"]
        page = signed_in.get(here("strip", build, strip.pk))
        assert [row[1] for row in page.context["rows"]] == ["block", "bar", "dash"]
        assert {row[6] for row in page.context["rows"]} == {9}
        archive = zipfile.ZipFile(io.BytesIO(signed_in.get(here("take-strip", build, strip.pk)).content))
        assert json.loads(archive.read("tide_marks.json"))["names"] == ["block", "bar", "dash"]
        line = Image.open(io.BytesIO(signed_in.get(here("strip-line", build, strip.pk) + "?names=bar+dash").content))
        assert line.height == 8

    def test_cells_that_crop_each_other_are_told(self, signed_in, build, strip):
        self.change(signed_in, build, strip, columns=3, rows=1, spacing=-3)
        page = signed_in.get(here("strip", build, strip.pk))
        assert page.context["overlaps"]
        assert "erases" in page.content.decode()

    def test_cells_stand_anywhere_and_only_those_that_meet_are_told(self, signed_in, build, strip):
        self.change(signed_in, build, strip, columns=3, rows=1, spacing=-3, names="a b c", line="a@0,0 b@200,0")
        page = signed_in.get(here("strip", build, strip.pk))
        assert not page.context["overlaps"]
        assert Image.open(io.BytesIO(signed_in.get(here("strip-line", build, strip.pk) + "?names=a+b@200,0").content)).width > 200
        self.change(signed_in, build, strip, line="a@0,0 b@1,0")
        assert signed_in.get(here("strip", build, strip.pk)).context["overlaps"]
        self.change(signed_in, build, strip, drawn="see-through")
        assert "see-through, no cell crops" in signed_in.get(here("strip", build, strip.pk)).content.decode()
        refused = self.change(signed_in, build, strip, line="a nobody@3,4")
        assert refused.status_code == 422
        assert "o cell is called &#x27;nobody&#x27;" in refused.content.decode()
        assert 'value="a nobody@3,4"' in refused.content.decode()

    def test_what_cannot_be_cut_is_told_and_what_was_typed_stands(self, signed_in, build, strip):
        answer = self.change(signed_in, build, strip, columns=500)
        assert answer.status_code == 422
        assert "do not fit 36 x 10" in answer.content.decode()
        assert 'value="500"' in answer.content.decode()
        answer = self.change(signed_in, build, strip, columns="many")
        assert answer.status_code == 422
        assert "columns: Enter a whole number" in answer.content.decode()

    def test_another_tab_is_told(self, signed_in, build, strip):
        self.change(signed_in, build, strip, columns=3)
        old = form_of(signed_in.get(here("strip", build, strip.pk))) | {"base": strip.head_id, "columns": 4}
        assert signed_in.post(here("change-strip", build, strip.pk), old).status_code == 409

    def test_sheet_picture_and_removal(self, signed_in, build, strip):
        page = signed_in.get(here("strip", build, strip.pk))
        shown = Image.open(io.BytesIO(signed_in.get(here("strip-sheet", build, strip.pk, page.context["key"])).content))
        assert shown.size == (36, 10)
        signed_in.post(here("delete-document", build, strip.pk))
        assert not kept(build, Strip).exists()


class TestFigure:
    @pytest.fixture
    def figure(self, signed_in, build):
        signed_in.post(here("add-figure", build), {"name": "Clock"})
        return kept(build, Figure).get()

    def change(self, signed_in, build, figure, **changes):
        page = signed_in.get(here("figure", build, figure.pk))
        return signed_in.post(here("change-figure", build, figure.pk), form_of(page) | changes)

    def test_every_symbol_is_made_and_one_change_remakes_all(self, signed_in, build, figure):
        page = signed_in.get(here("figure", build, figure.pk))
        assert len(page.context["rows"]) == 21
        before = signed_in.get(here("figure-line", build, figure.pk) + "?names=8").content
        answer = self.change(signed_in, build, figure, thickness="0.3", unlit="pattern")
        assert answer.status_code == 302, answer.context["problem"]
        assert signed_in.get(here("figure-line", build, figure.pk) + "?names=8").content != before
        names = zipfile.ZipFile(io.BytesIO(signed_in.get(here("take-figure", build, figure.pk)).content)).namelist()
        assert "clock_cells.h" in names

    def test_another_layout_brings_its_own_table_and_a_typed_one_is_kept(self, signed_in, build, figure):
        self.change(signed_in, build, figure, layout="fourteen")
        assert len(signed_in.get(here("figure", build, figure.pk)).context["rows"]) == 40
        self.change(signed_in, build, figure, table="Z: a d j k")
        assert [row[1] for row in signed_in.get(here("figure", build, figure.pk)).context["rows"]] == ["Z"]

    def test_a_drawing_of_ones_own(self, signed_in, build, figure):
        answer = self.change(signed_in, build, figure, layout="own", drawing=file("lamps.svg", OWN))
        assert answer.status_code == 302
        page = signed_in.get(here("figure", build, figure.pk))
        assert [row[1] for row in page.context["rows"]] == ["frame-less", "left", "right"]
        self.change(signed_in, build, figure, table="L: left\nboth: left right")
        line = np.asarray(Image.open(io.BytesIO(signed_in.get(here("figure-line", build, figure.pk) + "?names=both").content)))
        assert len(np.unique(line.reshape(-1, line.shape[-1]), axis=0)) == 1

    @pytest.mark.parametrize(
        ("changes", "message"),
        [
            ({"table": "7: a q"}, "which the figure has not"), ({"table": "seven"}, "a colon and segments"),
            ({"layout": "own"}, "needs a drawing"), ({"width": "2"}, "width in pixels"),
        ],
    )  # fmt: skip
    def test_what_is_wrong_is_told_and_what_was_typed_stands(self, signed_in, build, figure, changes, message):
        answer = self.change(signed_in, build, figure, **changes)
        assert answer.status_code == 422
        assert message.lower() in answer.content.decode().lower()
        if "table" in changes:
            assert changes["table"] in answer.content.decode()

    def test_a_drawing_that_is_none(self, signed_in, build, figure):
        answer = self.change(signed_in, build, figure, layout="own", drawing=file("photo.png", png_of(gradient(8, 8))))
        assert answer.status_code == 422
        assert "is no SVG" in answer.content.decode()


class TestAnimation:
    @pytest.fixture
    def animation(self, signed_in, build):
        signed_in.post(here("add-animation", build), {"frames": file("boat.gif", animated("GIF", (0, 8, 16, 30), (90,) * 4))})
        return kept(build, Animation).get()

    def make(self, signed_in, build, animation, **changes):
        page = signed_in.get(here("animation", build, animation.pk))
        return signed_in.post(here("make-animation", build, animation.pk), form_of(page) | changes)

    def job(self, build, animation) -> Job:
        return latest(build=build, kind="animation", subject=animation.pk)

    def test_is_made_shown_and_taken(self, signed_in, build, animation):
        before = signed_in.get(here("animation", build, animation.pk))
        assert Image.open(io.BytesIO(signed_in.get(before.context["frame_url"]).content)).size == (296, 128)
        self.make(signed_in, build, animation, rate_fps=5)
        page = signed_in.get(here("animation", build, animation.pk))
        assert page.context["fresh"]
        assert page.context["figures"]["frames"] == 4
        moving = Image.open(io.BytesIO(signed_in.get(page.context["preview_url"]).content))
        assert moving.n_frames == 4
        job = self.job(build, animation)
        names = zipfile.ZipFile(io.BytesIO(signed_in.get(reverse("take-job", args=[job.pk])).content)).namelist()
        assert "boat.h" in names

    def test_a_change_of_settings_says_that_it_was_made_before(self, signed_in, build, animation, monkeypatch):
        self.make(signed_in, build, animation)
        monkeypatch.setattr("workshop.jobs.services.carry_out", SimpleNamespace(enqueue=lambda job_id: None))
        self.make(signed_in, build, animation, contrast="1.5")
        page = signed_in.get(here("animation", build, animation.pk))
        assert not page.context["fresh"]
        assert "making the frames" in page.content.decode()

    def test_stopped_half_way_it_leaves_no_trace(self, signed_in, build, animation, monkeypatch):

        monkeypatch.setattr("workshop.jobs.services.carry_out", SimpleNamespace(enqueue=lambda job_id: None))
        self.make(signed_in, build, animation)
        job = self.job(build, animation)
        monkeypatch.setattr(progress, "EVERY_S", 0)
        real = progress.Progress.step

        def step(self, done, total):
            real(self, done, total)
            if done == 2:
                Job.objects.filter(pk=self.job.pk).update(cancel_asked=True)

        monkeypatch.setattr(progress.Progress, "step", step)
        carry_out.func(job.pk)
        job.refresh_from_db()
        assert (job.state, job.result, job.result_name) == (Job.State.CANCELLED, None, "")
        assert job.done == 2

    def test_numbered_pictures_come_together(self, signed_in, build):
        frames = [file(f"f{n}.png", png_of(gradient(20, 30 + n))) for n in (10, 9)]
        signed_in.post(here("add-animation", build), {"frames": frames})
        made = kept(build, Animation).get()
        assert [s.file_name for s in made.sources] == ["f9.png", "f10.png"]

    def test_what_cannot_be_taken_is_told(self, signed_in, build, animation):
        answer = signed_in.post(here("add-animation", build), {"frames": file("still.png", png_of(gradient(8, 8)))})
        assert answer.status_code == 422
        assert "holds one frame" in answer.content.decode()
        assert self.make(signed_in, build, animation, rate_fps=900).status_code == 422
        signed_in.post(here("delete-document", build, animation.pk))
        assert not kept(build, Animation).exists()


class TestBeginnings:
    def test_a_page_without_a_picture_leads_to_everything_else(self, signed_in, build):
        page = signed_in.get(here("pictures", build)).content.decode()
        for name in ("sets", "strips", "figures", "animations"):
            assert f'href="{here(name, build)}"' in page

    def bring(self, signed_in, build):
        gif = file("boat.gif", animated("GIF", (0, 8, 16, 30), (90,) * 4))
        return signed_in.post(here("add-picture", build), {"picture": gif}, follow=True)

    def test_a_file_that_moves_asks_what_it_is_to_be(self, signed_in, build):
        page = self.bring(signed_in, build)
        assert "It holds 4 frames" in page.content.decode()
        assert not build.documents.exists()
        key = {"original": page.context["upload"].original_id}
        signed_in.post(here("take-moving", build), {**key, "as": "animation"})
        assert kept(build, Animation).get().name == "Boat"
        signed_in.post(here("take-moving", build), {**key, "as": "still"})
        assert [row.kind for row in build.documents.all()] == ["animation", "picture"]

    def test_nobody_elses_file(self, signed_in, client, django_user_model, build):
        key = self.bring(signed_in, build).context["upload"].original_id
        other = django_user_model.objects.create_user("other")
        client.force_login(other)
        own = start_build(owner=other, name="b", panel="mono-oled-128x64", board="small", link_kind="i2c")
        assert client.get(here("moving-picture", own) + f"?original={key}").status_code == 404
        assert client.post(here("take-moving", own), {"original": key, "as": "still"}).status_code == 404

    def test_all_files_hold_an_animation(self, signed_in, build):
        page = self.bring(signed_in, build)
        signed_in.post(here("take-moving", build), {"original": page.context["upload"].original_id, "as": "animation"})
        for how, endings in (("array", ["h"]), ("file", ["bin", "csv"])):
            row = kept(build, Animation).get()
            row.build = build
            keep_as(row, how)
            shelf.forget(build)
            (make,) = STATION.files(build, build.to_device())
            assert [made.ending for made in make()] == endings
