"""The Pictures station: recipes, revisions, images, files, and what goes wrong."""

import io
import json
import subprocess

import numpy as np
import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from PIL import Image

from mosaic.conversion.pipeline import unpack
from mosaic.panels.appearance import colors_of
from mosaic.reduce.recipe import Recipe
from tests.conftest import gradient, png_of
from tests.mosaic.imports.test_pictures import png_header
from tests.reading import kept
from workshop.documents import services as documents
from workshop.documents.models import Original
from workshop.errors import ConflictError
from workshop.memory import ByteCache
from workshop.pictures import reports
from workshop.pictures.context import decode_recipe, encode_recipe
from workshop.pictures.documents import Picture
from workshop.pictures.forms import RecipeForm
from workshop.pictures.services import add_picture


def url(name, picture, *more):
    return reverse(name, args=[picture.build_id, picture.pk, *more])


def posted(picture, **changes):
    """A whole recipe form as the page would send it."""
    values = {name: getattr(picture.record, name) for name in RecipeForm.base_fields}
    values.update(changes)
    return {"base": picture.head_id, **{k: v for k, v in values.items() if v is not False}}


HTMX = {
    "HTTP_HX_REQUEST": "true",
}


class TestStation:
    def test_page_shows_the_result_and_its_figures(self, signed_in, picture):
        page = signed_in.get(url("picture", picture)).content.decode()
        assert "verified: 4,736 of 4,736 bytes, read back through the <a" in page
        assert "epaper" not in page.split("<main")[0].replace("is-epaper", "")
        for part in ('id="recipe"', 'id="readings"', 'id="findings"', 'id="strip"', 'aria-label="Stations"'):
            assert part in page

    def test_images_have_addresses_that_never_grow_old(self, signed_in, picture):
        page = signed_in.get(url("picture", picture))
        report, device = page.context["report"], page.context["device"]
        answer = signed_in.get(page.context["glass_url"])
        assert answer["Cache-Control"] == "private, max-age=31536000, immutable"
        shown = np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGB"))
        bytes_out = signed_in.get(url("take", picture, "bin")).content
        decoded = colors_of(unpack(bytes_out, device.passport, device.rotation), device.passport, device.rotation)
        assert np.array_equal(shown, decoded)
        assert bytes_out == report.converted.packed
        was = Image.open(io.BytesIO(signed_in.get(page.context["original_url"]).content))
        assert was.size == (592, 256)
        wrong = page.context["glass_url"].replace(report.key[:8], "00000000")
        assert signed_in.get(wrong).status_code == 404
        assert signed_in.get(url("glass", picture, report.key) + "?revision=%%%").status_code == 404

    def test_source_sheet(self, signed_in, picture):
        assert Image.open(io.BytesIO(signed_in.get(url("source", picture)).content)).size == (600, 300)

    def test_an_empty_build_waits_for_a_picture(self, signed_in, build):
        page = signed_in.get(reverse("pictures", args=[build.pk])).content.decode()
        assert "No picture on this mat yet" in page


class TestRecipe:
    def test_a_preview_costs_the_same_however_many_pictures_there_are(self, signed_in, picture, monkeypatch):
        """At most 12 queries, and nothing is reduced or asked for but the picture itself."""
        made = []
        monkeypatch.setattr(reports, "make_pixels", lambda *a, real=reports.make_pixels, **k: made.append(1) or real(*a, **k))
        counts = []
        for more in (0, 24):
            for number in range(more):
                add_picture(build=picture.build, original=Original.objects.get(), file_name=f"{number}.png")
            signed_in.get(url("picture", picture))  # figures of new pictures are made by the first page that shows them
            made.clear()
            with CaptureQueriesContext(connection) as queries:
                live = signed_in.post(url("preview", picture), posted(picture, exposure=1 + more / 100), **HTMX, HTTP_X_LIVE="1")
                assert b"glass" in live.getvalue()
            counts.append((len(queries), len(made)))
        assert counts[0] == counts[1]
        assert counts[0][0] <= 12
        assert counts[0][1] == 1

    def test_preview_keeps_nothing(self, signed_in, picture):
        answer = signed_in.post(url("preview", picture), posted(picture, exposure=1), **HTMX)
        assert answer.status_code == 200
        assert picture.revisions.count() == 1
        page = answer.content.decode()
        for part in ("shown", "readings", "findings", "strip", "count", "path"):
            assert f'id="{part}"' in page
        assert 'id="recipe"' not in page
        # An old tab must not learn of a newer revision by a preview, or it would overwrite it.
        assert 'id="history"' not in page
        live = signed_in.post(url("preview", picture), posted(picture, exposure=1), **HTMX, HTTP_X_LIVE="1")
        first, _, rest = live.getvalue().decode().partition("\n")
        told = json.loads(first)
        assert set(told) == {"glass", "original", "fields"}
        assert told["glass"].startswith("data:image/png;base64,")
        assert 'id="shown"' not in rest
        assert 'id="readings"' in rest

    def test_save_undo_redo_and_a_new_branch(self, signed_in, picture):
        def now():
            return Picture.objects.select_related("head").get(pk=picture.pk)

        for exposure in (0.5, 1.0):
            signed_in.post(url("save-recipe", picture), posted(now(), exposure=exposure), **HTMX)
        assert now().record.exposure == 1.0
        answer = signed_in.post(url("step", picture, "undo"), {"base": now().head_id}, **HTMX)
        assert 'id="recipe"' in answer.content.decode()
        assert now().record.exposure == 0.5
        signed_in.post(url("step", picture, "redo"), {"base": now().head_id}, **HTMX)
        assert now().record.exposure == 1.0
        signed_in.post(url("step", picture, "undo"), {"base": now().head_id}, **HTMX)
        signed_in.post(url("save-recipe", picture), posted(now(), exposure=-1), **HTMX)
        signed_in.post(url("step", picture, "redo"), {"base": now().head_id}, **HTMX)
        assert now().record.exposure == -1
        assert picture.revisions.count() == 4  # nothing is ever lost

    def test_the_same_recipe_again_makes_no_revision(self, signed_in, picture):
        signed_in.post(url("save-recipe", picture), posted(picture), **HTMX)
        assert picture.revisions.count() == 1

    def test_flags_that_are_not_ticked_are_off(self, signed_in, picture):
        signed_in.post(url("save-recipe", picture), posted(picture, invert="on"), **HTMX)
        picture.refresh_from_db()
        assert picture.record.invert
        signed_in.post(url("save-recipe", picture), {k: v for k, v in posted(picture).items() if k != "invert"}, **HTMX)
        picture.refresh_from_db()
        assert not picture.record.invert

    def test_two_tabs_are_told(self, signed_in, picture):
        stale = posted(picture, exposure=0.3)
        signed_in.post(url("save-recipe", picture), posted(picture, exposure=0.9), **HTMX)
        answer = signed_in.post(url("save-recipe", picture), stale, **HTMX)
        assert answer.status_code == 409
        assert "nothing was overwritten" in answer.content.decode()
        assert answer["HX-Retarget"] == "#notice"
        with pytest.raises(ConflictError):
            documents.undo(picture, base=stale["base"])

    @pytest.mark.parametrize(
        ("changes", "message"),
        [
            ({"exposure": "bright"}, "exposure: Enter a number"),
            ({"contrast": "9"}, "contrast: Ensure this value is less than or equal to 2"),
            ({"crop_x": "5000"}, "The crop begins at 5000, 0; the picture has 600 x 300 pixels"),
            ({"method": "magic"}, "method: Select a valid choice"),
            ({"ground": "white"}, "ground"),
            ({"base": ""}, "which revision it began from"),
        ],
    )
    def test_wrong_values_are_refused_in_words(self, signed_in, picture, changes, message):
        answer = signed_in.post(url("save-recipe", picture), posted(picture, **changes), **HTMX)
        assert answer.status_code == 422
        assert message.lower() in answer.content.decode().lower()
        assert picture.revisions.count() == 1

    def test_without_script_saving_goes_back_to_the_page(self, signed_in, picture):
        answer = signed_in.post(url("save-recipe", picture), posted(picture, exposure=1))
        assert answer.status_code == 302

    def test_a_fix_changes_the_recipe(self, signed_in, picture):
        data = {"base": picture.head_id, "changes": json.dumps({"scaling": "nearest"})}
        assert signed_in.post(url("fix-picture", picture), data, **HTMX).status_code == 200
        picture.refresh_from_db()
        assert picture.record.scaling == "nearest"
        for wrong in ("", "[1]", '{"nothing": 1}'):
            assert signed_in.post(url("fix-picture", picture), {**data, "changes": wrong}, **HTMX).status_code == 422

    def test_a_recipe_that_no_longer_works_does_not_lock_its_maker_out(self, signed_in, picture):
        head = picture.head
        head.description = {**head.description, "crop_x": 60_000}
        head.save()
        page = signed_in.get(url("picture", picture))
        assert page.status_code == 200
        assert "The crop begins at 60000" in page.content.decode()

    def test_recipes_in_addresses(self):
        """Only what decides the fit goes into an address: the original does not depend on the rest."""
        recipe = Recipe(exposure=0.25, method="threshold", fit="contain", crop_x=4)
        assert decode_recipe(encode_recipe(recipe)) == Recipe(fit="contain", crop_x=4)


class TestBring:
    def send(self, client, build, *files):
        return client.post(reverse("add-picture", args=[build.pk]), {"picture": list(files)}, HTTP_HX_REQUEST="true")

    def test_one_file_is_kept_once(self, signed_in, build, upload):
        data = png_of(gradient())
        for _ in range(2):
            answer = self.send(signed_in, build, upload(data))
        assert answer["HX-Redirect"].endswith(f"/pictures/{kept(build, Picture).last().pk}/")
        assert kept(build, Picture).count() == 2
        assert Original.objects.count() == 1
        assert bytes(Original.objects.get().data) == data

    @pytest.mark.parametrize(
        ("data", "name", "message"),
        [
            (b"Tide tables", "notes.png", "notes.png is a text file, not a picture"),
            (png_of(gradient(300, 300), format="JPEG")[:2000], "slip.jpg", "breaks off before its end"),
            (png_header(40_000, 40_000), "huge.png", "40,000 x 40,000 pixels"),
            (b"", "empty.png", "empty"),
            (b"\xff" * (30 * 1024 * 1024), "long.png", "30.0 MiB"),
        ],
    )
    def test_bad_files_are_refused_in_words_and_nothing_is_lost(self, signed_in, picture, upload, data, name, message):
        answer = self.send(signed_in, picture.build, upload(data, name))
        assert answer.status_code == 422
        assert message in answer.content.decode()
        assert kept(picture.build, Picture).count() == Original.objects.count() == 1
        assert signed_in.get(url("picture", picture)).status_code == 200

    @pytest.mark.parametrize("mode", ["CMYK", "P", "LA", "1"])
    def test_odd_modes_work(self, signed_in, build, upload, mode):
        data = png_of(gradient(), mode, format="TIFF" if mode == "CMYK" else "PNG")
        assert self.send(signed_in, build, upload(data)).status_code == 204

    def test_an_original_of_24_mib_fits_the_database(self, signed_in, build, upload):
        noise = np.random.default_rng(0).integers(0, 256, (2600, 3200, 3), np.uint8)
        data = png_of(noise, format="BMP")
        assert 23 * 2**20 < len(data) <= 24 * 2**20
        assert self.send(signed_in, build, upload(data, "large.bmp")).status_code == 204
        assert Original.objects.get().byte_count == len(data)

    def test_no_file_at_all(self, signed_in, build):
        assert "no file came with this" in self.send(signed_in, build).content.decode().lower()


class TestTake:
    def test_the_header_compiles_to_the_raw_bytes(self, signed_in, picture, tmp_path):
        header = signed_in.get(url("take", picture, "h"))
        assert header["Content-Disposition"] == 'attachment; filename="slip.h"'
        (tmp_path / "slip.h").write_bytes(header.content)
        main = '#include "slip.h"\n#include <stdio.h>\nint main(void) { fwrite(slip, 1, SLIP_BYTES, stdout); return 0; }\n'
        (tmp_path / "main.c").write_text(main)
        subprocess.run(["gcc", "-std=c99", "-Wall", "-Wextra", "-Werror", "main.c", "-o", "show"], cwd=tmp_path, check=True)
        shown = subprocess.run([tmp_path / "show"], capture_output=True, check=True).stdout
        assert shown == signed_in.get(url("take", picture, "bin")).content

    def test_unknown_kinds(self, signed_in, picture):
        assert signed_in.get(url("take", picture, "exe")).status_code == 404

    def test_a_seeded_wrong_bit_order_turns_the_badge_red(self, signed_in, picture, monkeypatch):
        from mosaic.pixels import indexed
        from workshop.pictures import reports

        monkeypatch.setattr(reports, "_results", ByteCache("none", 0))
        monkeypatch.setattr(indexed, "_fold_rows", lambda values, fmt, columns: np.packbits(values, axis=1, bitorder="little"))
        page = signed_in.get(url("picture", picture)).content.decode()
        assert "fm-proof--over" in page
        assert "not verified" in page
        assert "pixels differ on the virtual panel" in page


def test_the_cache_is_bounded_by_bytes():
    cache, made = ByteCache("small", 100), []

    def get(key, size):
        return cache.get_or_make(key, lambda: made.append(key) or key, lambda _: size)

    for key in ("a", "b", "a", "c", "a", "b"):
        get(key, 40)
    assert made == ["a", "b", "c", "b"]  # b was used least when c came
    get("large", 101)
    get("large", 101)
    assert made[-2:] == ["large", "large"]
