"""Variants with their contact sheet, recipes by name and as files, sets, and the command line."""

import io
import json
import shlex
from types import SimpleNamespace

import numpy as np
import pytest
from django.urls import reverse
from PIL import Image

from mosaic.cli.main import main
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from tests.conftest import gradient, png_of
from tests.workshop.test_pictures import HTMX, posted, url
from tests.workshop.test_touch_up import now
from workshop.builds.services import start_build
from workshop.documents import services as documents
from workshop.documents.models import Original
from workshop.documents.originals import keep_picture
from workshop.jobs.models import Job
from workshop.jobs.services import latest
from workshop.jobs.tasks import carry_out
from workshop.pictures import services
from workshop.pictures.contact_sheet import cells_of_sheet


@pytest.fixture
def sheet(signed_in, picture):
    signed_in.post(url("try-all", picture))
    return latest(build=picture.build, kind="contact-sheet", subject=picture.pk)


class TestContactSheet:
    def test_every_method_is_tried_with_its_figures(self, sheet, picture):
        assert sheet.state == Job.State.DONE
        cells = cells_of_sheet(sheet)
        assert {cell["recipe"]["method"] for cell in cells} == set(METHODS)
        assert len(cells) == len(METHODS) + 2
        best = min(cells, key=lambda cell: cell["error"])
        assert best["recipe"]["polish"] is True

    def test_is_sorted_as_asked(self, signed_in, sheet, picture):
        for order, key in (("error", "error"), ("bytes", "compressed")):
            shown = signed_in.get(url("variants", picture) + f"?by={order}").context["cells"]
            values = [cell[key] for cell in shown]
            assert values == sorted(values)

    def test_a_trial_can_be_seen_kept_and_used(self, signed_in, sheet, picture):
        cell = cells_of_sheet(sheet)[3]
        shown = Image.open(io.BytesIO(signed_in.get(url("trial", picture, sheet.pk, 3)).content))
        assert shown.size == (296, 128)
        signed_in.post(url("keep-variant", picture), {"job": sheet.pk, "number": 3})
        assert [v.name for v in picture.variants.all()] == [cell["title"]]
        signed_in.post(url("take-variant", picture), {"job": sheet.pk, "number": 3, "base": picture.head_id})
        assert now(picture).record.method == cell["recipe"]["method"]
        assert signed_in.get(url("trial", picture, sheet.pk, 99)).status_code == 404

    def test_says_when_settings_have_changed_since(self, signed_in, sheet, picture):
        assert not signed_in.get(url("variants", picture)).context["stale"]
        signed_in.post(url("save-recipe", picture), posted(picture, contrast=1.4), **HTMX)
        assert signed_in.get(url("variants", picture)).context["stale"]

    def test_can_be_stopped_without_a_trace(self, signed_in, picture, monkeypatch):
        monkeypatch.setattr("workshop.jobs.services.carry_out", SimpleNamespace(enqueue=lambda job_id: None))
        signed_in.post(url("try-all", picture))
        job = latest(build=picture.build, kind="contact-sheet", subject=picture.pk)
        assert "trying every method" in signed_in.get(url("variants", picture)).content.decode()
        signed_in.post(reverse("cancel-job", args=[job.pk]))
        job.refresh_from_db()
        assert (job.state, job.result) == (Job.State.CANCELLED, None)


class TestComparing:
    def test_two_variants_and_where_they_differ(self, signed_in, picture):
        other = services.keep_variant(picture=picture, name="Grid", recipe=Recipe(method="bayer-4"))
        page = signed_in.get(url("variants", picture) + f"?a=now&b={other.pk}&way=difference")
        assert [side.name for side in page.context["sides"]] == ["as it is now", "Grid"]
        shots = [
            np.asarray(Image.open(io.BytesIO(signed_in.get(side.url).content)).convert("RGB")) for side in page.context["sides"]
        ]
        marked = np.asarray(Image.open(io.BytesIO(signed_in.get(page.context["difference_url"]).content)).convert("RGB"))
        assert np.array_equal((marked == (162, 59, 31)).all(axis=-1), (shots[0] != shots[1]).any(axis=-1))
        signed_in.post(url("drop-variant", picture, other.pk))
        assert not picture.variants.exists()

    def test_twelve_variants_take_no_more_queries_than_one(self, signed_in, picture, django_assert_max_num_queries):
        for number in range(12):
            services.keep_variant(picture=picture, name=f"way {number}", recipe=Recipe(method="bayer-4", exposure=number / 10))
        signed_in.get(url("variants", picture))
        with django_assert_max_num_queries(14):
            signed_in.get(url("variants", picture))
        assert signed_in.post(url("keep-variant", picture), {"name": "one more"}).status_code == 422

    def test_advice_names_a_method_and_why(self, signed_in, picture):
        advice = signed_in.get(url("variants", picture)).context["advice"]
        assert len(advice) == 3
        assert all(a.changes["method"] in METHODS and len(a.why) > 30 for _, a, _, _ in advice)

    def test_wrong_names_are_not_there(self, signed_in, picture):
        assert signed_in.get(url("shot", picture, "now", "0" * 64)).status_code == 404
        assert signed_in.get(url("shot", picture, "99", "0" * 64)).status_code == 404
        assert signed_in.post(url("keep-variant", picture), {"name": "x" * 99}).status_code == 422


class TestRecipesByName:
    def test_kept_used_in_another_build_and_deleted(self, signed_in, picture, maker):
        own = Recipe(method="stucki", contrast=1.3, crop_width=200, pixel_edits=((1, 1, 2, 0),))
        services.save_recipe(picture=picture, base=picture.head_id, recipe=own)
        signed_in.post(url("save-named", picture), {"name": "Crisp"})
        other_build = start_build(owner=maker, name="Counter", panel="mono-oled-128x64", board="low-power", link_kind="i2c")
        other = services.add_picture(
            build=other_build, original=picture.sources[0].original, file_name="slip.png", recipe=Recipe(crop_x=9)
        )
        row = maker.recipes.get()
        signed_in.post(url("use-recipe", other), {"recipe": row.pk, "base": other.head_id})
        assert now(other).record == Recipe(method="stucki", contrast=1.3, crop_x=9)
        assert json.loads(signed_in.get(reverse("take-saved", args=[picture.build_id, row.pk])).content)["method"] == "stucki"
        signed_in.post(url("forget-recipe", other, row.pk))
        assert not maker.recipes.exists()

    def test_export_and_import(self, signed_in, picture, upload):
        own = Recipe(method="burkes", pixel_edits=((1, 1, 2, 0),), crop_width=200)
        services.save_recipe(picture=picture, base=picture.head_id, recipe=own)
        data = signed_in.get(url("take-recipe", picture, "recipe")).content
        services.save_recipe(picture=picture, base=now(picture).head_id, recipe=Recipe())
        signed_in.post(url("bring-recipe", picture), {"file": upload(data, "recipe.json"), "base": now(picture).head_id})
        assert now(picture).record == own

    @pytest.mark.parametrize(
        ("data", "message"),
        [
            (b"{", "a name in double quotes is missing"),
            (b"\xff\xfe{", "no text from byte 1 on"),
            (b'{"metod": "stucki"}', "near it: method"),
            (b'{"method": "magic"}', "no reduction method"),
            (b"[]", "table"),
        ],
    )
    def test_a_file_that_is_none_is_told(self, signed_in, picture, upload, data, message):
        answer = signed_in.post(url("bring-recipe", picture), {"file": upload(data, "recipe.json"), "base": picture.head_id})
        assert answer.status_code == 422
        assert message.lower() in answer.content.decode().lower()

    def test_a_name_is_needed(self, signed_in, picture):
        assert signed_in.post(url("save-named", picture), {"name": " "}).status_code == 422


class TestCommandLine:
    @pytest.mark.parametrize(
        "recipe",
        [
            Recipe(), Recipe(method="blue-noise", contrast=1.2, left_out=()), Recipe(method="jarvis", polish=True, compression="packbits"),
            Recipe(pixel_edits=((3, 4, 5, 0),), black_point=12, white_point=240, sharpening=0.5, exposure=0.25, fit="contain", turn=90),
        ],
    )  # fmt: skip
    def test_gives_the_files_of_the_page_byte_for_byte(self, signed_in, picture, recipe, tmp_path, monkeypatch):
        picture = services.save_recipe(picture=picture, base=picture.head_id, recipe=recipe)
        picture = documents.rename(picture, base=picture.head_id, name="The slip's end")
        context = signed_in.get(url("recipes", picture)).context["command"]
        monkeypatch.chdir(tmp_path)
        (tmp_path / "slip.png").write_bytes(bytes(Original.objects.get(pk=picture.original_id).data))
        for name in context["needs"]:
            (tmp_path / f"{name}.json").write_bytes(signed_in.get(url("take-recipe", picture, name)).content)
        words = shlex.split(context["text"])
        assert words[:2] == ["bin/mosaic", "convert"]
        assert main([*words[1:], "--out", "all.json", "--out", "all.py"]) == 0
        for ending in ("bin", "h", "png"):
            assert (tmp_path / f"the_slip_s_end.{ending}").read_bytes() == signed_in.get(url("take", picture, ending)).content
        assert (tmp_path / "all.json").read_bytes() == signed_in.get(url("take", picture, "json")).content
        assert (tmp_path / "all.py").read_bytes() == signed_in.get(url("take", picture, "py")).content

    def test_a_changed_passport_and_another_form_of_arrays_come_along(self, signed_in, picture, tmp_path, monkeypatch):
        build = picture.build
        build.passport["optics"] = {**build.passport["optics"], "reflectance": 0.31}
        build.sending = {"array": {**build.passport["format"], "first": "lsb"}}
        build.save()
        context = signed_in.get(url("recipes", picture)).context["command"]
        assert context["needs"] == ["passport", "sending"]
        monkeypatch.chdir(tmp_path)
        (tmp_path / "slip.png").write_bytes(bytes(Original.objects.get(pk=picture.original_id).data))
        for name in context["needs"]:
            (tmp_path / f"{name}.json").write_bytes(signed_in.get(url("take-recipe", picture, name)).content)
        assert main(shlex.split(context["text"])[1:]) == 0
        assert (tmp_path / "slip.h").read_bytes() == signed_in.get(url("take", picture, "h")).content


class TestSets:
    @pytest.fixture
    def three(self, build):
        rows = []
        for name in ("dawn", "noon", "dusk"):
            original = keep_picture(data=png_of(gradient(60, 90)), file_name=f"{name}.png", owner=build.owner)
            rows.append(
                services.add_picture(build=build, original=original, file_name=f"{name}.png", recipe=Recipe(crop_x=len(rows)))
            )
        return rows

    def test_one_change_remakes_all_but_for_their_places(self, signed_in, build, three):
        data = {"name": "Skies", "picture": [p.pk for p in three], "leader": three[0].pk}
        signed_in.post(reverse("lay-set", args=[build.pk]), data)
        signed_in.post(url("save-recipe", three[1]), posted(now(three[1]), method="blue-noise"), **HTMX)
        recipes = [now(p).record for p in three]
        assert [r.method for r in recipes] == ["blue-noise"] * 3
        assert [r.crop_x for r in recipes] == [0, 1, 2]
        signed_in.post(url("step", three[1], "undo"), {"base": now(three[1]).head_id}, **HTMX)
        assert [now(p).record.method for p in three] == ["floyd-steinberg"] * 3
        page = signed_in.get(reverse("sets", args=[build.pk])).content.decode()
        assert "Skies" in page
        signed_in.post(reverse("dissolve-set", args=[build.pk]), {"name": "Skies"})
        signed_in.post(url("save-recipe", three[0]), posted(now(three[0]), method="threshold"), **HTMX)
        assert now(three[1]).record.method == "floyd-steinberg"

    def test_what_is_wrong_is_told(self, signed_in, build, three):
        assert signed_in.post(reverse("lay-set", args=[build.pk]), {"name": "", "picture": three[0].pk}).status_code == 422
        assert signed_in.post(reverse("lay-set", args=[build.pk]), {"name": "Skies"}).status_code == 422


class TestSearchBeside:
    """On large panels the search runs as a job; what it finds is kept, and touch-up does not ask for it again."""

    @pytest.fixture
    def large(self, maker):
        build = start_build(
            owner=maker, name="Race board", panel="epaper-600x448-seven-colour", board="wireless", link_kind="spi"
        )
        original = keep_picture(data=png_of(gradient(200, 300)), file_name="slip.png", owner=maker)
        return services.add_picture(build=build, original=original, file_name="slip.png", recipe=Recipe())

    def test_a_save_does_not_wait_and_the_job_finds(self, signed_in, large, monkeypatch):
        monkeypatch.setattr("workshop.jobs.services.carry_out", SimpleNamespace(enqueue=lambda job_id: None))
        answer = signed_in.post(url("save-recipe", large), posted(large, polish="on"), **HTMX)
        assert answer.context["report"].awaits_search
        assert "searching: 0 of 8" in answer.content.decode()
        page = signed_in.get(url("picture", large))
        before = signed_in.get(page.context["glass_url"])
        assert before.status_code == 200
        job = latest(build=large.build, kind="search", subject=large.pk)
        carry_out.func(job.pk)
        progress = signed_in.get(reverse("job", args=[job.pk]), **HTMX)
        assert progress["HX-Refresh"] == "true"
        page = signed_in.get(url("picture", large))
        assert not page.context["report"].awaits_search
        assert page.context["converted"].perceived_error < page.context["converted"].unpolished_error
        assert signed_in.get(page.context["glass_url"]).content != before.content
        touched = {"base": now(large).head_id, "stroke": "[[1,1]]", "color": "0"}
        assert not signed_in.post(url("touch-picture", large), touched, **HTMX).context["report"].awaits_search

    def test_stopped_it_leaves_no_trace_and_can_be_begun_again(self, signed_in, large, monkeypatch):
        monkeypatch.setattr("workshop.jobs.services.carry_out", SimpleNamespace(enqueue=lambda job_id: None))
        signed_in.post(url("save-recipe", large), posted(large, polish="on", contrast=1.3), **HTMX)
        job = latest(build=large.build, kind="search", subject=large.pk)
        Job.objects.filter(pk=job.pk).update(cancel_asked=True)
        carry_out.func(job.pk)
        job.refresh_from_db()
        assert job.state == Job.State.CANCELLED
        assert not large.searches.exists()
        assert "Search now" in signed_in.get(url("picture", large)).content.decode()
        # Files are never given out without what the recipe asks for.
        monkeypatch.undo()
        with_search = signed_in.get(url("take", large, "bin")).content
        assert large.searches.count() == 1
        services.save_recipe(picture=large, base=now(large).head_id, recipe=Recipe())
        assert signed_in.get(url("take", large, "bin")).content != with_search


class TestLargeSets:
    def test_pages_do_not_wait_for_all_of_a_set(self, signed_in, build, monkeypatch):
        monkeypatch.setattr("workshop.jobs.services.carry_out", SimpleNamespace(enqueue=lambda job_id: None))
        original = keep_picture(data=png_of(gradient(30, 60)), file_name="a.png", owner=build.owner)
        rows = [services.add_picture(build=build, original=original, file_name=f"{n}.png") for n in range(15)]
        for _ in range(2):  # twelve at most are carried out with a page, so two visits make all fifteen
            signed_in.get(url("picture", rows[0]))
        signed_in.post(reverse("lay-set", args=[build.pk]), {"name": "Skies", "picture": [p.pk for p in rows]})
        answer = signed_in.post(url("save-recipe", rows[0]), posted(now(rows[0]), method="blue-noise", contrast=1.1), **HTMX)
        assert answer.status_code == 200
        page = signed_in.get(reverse("sets", args=[build.pk]))
        assert "remaking the set: 0 of 15" in page.content.decode()
        job = latest(build=build, kind="set", subject=rows[0].pk)
        carry_out.func(job.pk)
        job.refresh_from_db()
        assert (job.state, job.done) == (Job.State.DONE, 15)
        keys = {now(p).derived_key for p in rows}
        assert len(keys) == 1
