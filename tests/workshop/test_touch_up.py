"""Strokes, regions, tone proposals and the rest of the recipe, through the pages."""

import io
import json

import numpy as np
import pytest
from django.urls import reverse
from PIL import Image

from mosaic.conversion.pipeline import unpack
from tests.conftest import png_of
from tests.reading import kept
from tests.workshop.test_pictures import HTMX, posted, url
from workshop.documents.originals import keep_picture
from workshop.pictures import services
from workshop.pictures.documents import Picture


def now(picture) -> Picture:
    return Picture.objects.select_related("head").get(pk=picture.pk)


def pixels_of(signed_in, picture) -> np.ndarray:
    device = picture.build.to_device()
    return unpack(signed_in.get(url("take", picture, "bin")).content, device.passport, device.turn)


class TestTouchUp:
    def send(self, signed_in, picture, stroke, color="0", **more):
        data = {"base": now(picture).head_id, "stroke": json.dumps(stroke), "color": color, **more}
        return signed_in.post(url("touch-picture", picture), data, **HTMX)

    def test_a_stroke_is_on_the_glass_and_survives_another_method(self, signed_in, picture):
        answer = self.send(signed_in, picture, [[4, 6], [5, 6], [6, 6]])
        assert answer.status_code == 200
        assert "3</b> pixels set by hand" in answer.content.decode()
        assert pixels_of(signed_in, picture)[6, 4:7].tolist() == [0, 0, 0]
        signed_in.post(url("save-recipe", picture), posted(now(picture), method="threshold", threshold=1), **HTMX)
        after = pixels_of(signed_in, picture)
        assert after[6, 4:7].tolist() == [0, 0, 0]
        assert after[7, 4:7].tolist() == [1, 1, 1]

    def test_undo_redo_and_clear(self, signed_in, picture):
        self.send(signed_in, picture, [[4, 6]])
        self.send(signed_in, picture, [[9, 9]])
        signed_in.post(url("step", picture, "undo"), {"base": now(picture).head_id}, **HTMX)
        assert now(picture).record.pixel_edits == ((4, 6, 1, 0),)
        signed_in.post(url("step", picture, "redo"), {"base": now(picture).head_id}, **HTMX)
        assert now(picture).record.pixel_edits == ((4, 6, 1, 0), (9, 9, 1, 0))
        self.send(signed_in, picture, [[4, 6]], color="off")
        assert now(picture).record.pixel_edits == ((9, 9, 1, 0),)
        signed_in.post(url("touch-picture", picture), {"base": now(picture).head_id, "clear": "1"}, **HTMX)
        assert now(picture).record.pixel_edits == ()

    @pytest.mark.parametrize(
        ("stroke", "color", "message"),
        [
            ("nonsense", "0", "pixels"), ([[1]], "0", "column and a row"), ([["a", 2]], "0", "whole numbers"), ([], "0", "1 to"),
            ([[1, 1]], "7", "black, white"), ([[1, 1]], "", "none of this panel"),
        ],
    )  # fmt: skip
    def test_malformed_strokes_are_told(self, signed_in, picture, stroke, color, message):
        answer = self.send(signed_in, picture, stroke, color)
        assert answer.status_code == 422
        assert message.lower() in answer.content.decode().lower()

    def test_outside_pixels_are_passed_over_and_an_old_page_is_told(self, signed_in, picture):
        first = picture.head_id
        self.send(signed_in, picture, [[-5, 2], [400, 2], [3, 2]])
        assert now(picture).record.pixel_edits == ((3, 2, 1, 0),)
        data = {"base": first, "stroke": "[[1,1]]", "color": "0"}
        assert signed_in.post(url("touch-picture", picture), data, **HTMX).status_code == 409


class TestRegions:
    def send(self, signed_in, picture, **data):
        return signed_in.post(url("region", picture), {"base": now(picture).head_id, **data}, **HTMX)

    def test_add_change_and_take_away(self, signed_in, picture):
        self.send(signed_in, picture, shape="rect", corners="[[40,30],[10,10]]", method="threshold")
        region = now(picture).record.regions[0]
        assert region.corners == ((10, 10), (40, 30))
        answer = self.send(signed_in, picture, at="0", method="pattern", pattern="net", x="0", y="0", width="50", height="9")
        assert "outlined" not in answer.content.decode()
        region = now(picture).record.regions[0]
        assert (region.method, region.pattern, region.corners) == ("pattern", "net", ((0, 0), (50, 9)))
        self.send(signed_in, picture, shape="lasso", corners="[[0,0],[90,0],[40,60]]", method="bayer-4")
        assert [r.shape for r in now(picture).record.regions] == ["rect", "lasso"]
        self.send(signed_in, picture, remove="0")
        assert [r.shape for r in now(picture).record.regions] == ["lasso"]

    @pytest.mark.parametrize(
        ("data", "message"),
        [
            ({"shape": "rect", "corners": "[[5,5],[5,9]]"}, "holds no pixel"),
            ({"shape": "rect", "corners": "{"}, "this is to be JSON"),
            ({"shape": "lasso", "corners": "[[0,0],[9,9]]"}, "3 to 400"),
            ({"shape": "rect", "corners": "[[0,0],[9,9]]", "method": "magic"}, "no reduction method is named"),
            ({"shape": "star", "corners": "[[0,0],[9,9]]"}, "rect"),
            ({"shape": "rect", "corners": '[["a",0],[9,9]]'}, "pairs"),
        ],
    )
    def test_what_is_wrong_is_told(self, signed_in, picture, data, message):
        answer = self.send(signed_in, picture, **data)
        assert answer.status_code == 422
        assert message.lower() in answer.content.decode().lower()
        assert now(picture).record.regions == ()


class TestRecipeFields:
    def test_every_field_of_the_form_is_kept(self, signed_in, picture):
        wanted = {
            "method": "pattern", "pattern": "own", "tile": "01/32", "noise": 0.4, "error_limit": 0.5, "window": 9, "polish": "on",
            "black_point": 20, "white_point": 230, "mid_tone": 1.4, "local_contrast": 0.3, "sharpening": 0.8, "compression": "packbits",
            "scaling": "whole",
        }  # fmt: skip
        assert signed_in.post(url("save-recipe", picture), posted(picture, **wanted), **HTMX).status_code == 200
        kept = now(picture).record
        assert all(getattr(kept, name) == (True if value == "on" else value) for name, value in wanted.items())

    def test_what_a_page_does_not_show_keeps_its_value(self, signed_in, picture):
        services.save_recipe(picture=picture, base=picture.head_id, recipe=picture.record.with_changes(mask=True, polish=True))
        data = posted(now(picture), contrast=1.2)
        for name in ("mask", "polish"):
            data.pop(name)
        data["unseen"] = ["mask"]
        signed_in.post(url("save-recipe", picture), data, **HTMX)
        assert now(picture).record.mask is True
        assert now(picture).record.polish is False

    @pytest.mark.parametrize(
        ("changes", "message"),
        [
            ({"method": "pattern", "pattern": "own", "tile": "0!"}, "holds !"),
            ({"black_point": 250, "white_point": 6}, "at least 5 above"),
            ({"window": 2}, "window side"), ({"noise": 3}, "threshold noise"),
            ({"left_out": ["green"]}, "colours left out"),
        ],
    )  # fmt: skip
    def test_what_is_wrong_is_told_and_nothing_is_kept(self, signed_in, picture, changes, message):
        answer = signed_in.post(url("save-recipe", picture), posted(picture, **changes), **HTMX)
        assert answer.status_code == 422
        assert message.lower() in answer.content.decode().lower()
        assert now(picture).head_id == picture.head_id

    def test_a_proposal_can_be_taken_once(self, signed_in, build):
        dull = np.repeat(np.linspace(90, 150, 600).astype(np.uint8)[None, :], 300, axis=0)
        original = keep_picture(data=png_of(np.repeat(dull[..., None], 3, axis=2)), file_name="fog.png", owner=build.owner)
        picture = services.add_picture(build=build, original=original, file_name="fog.png")
        page = signed_in.get(url("picture", picture))
        assert page.context["proposal"]["black_point"] > 60
        answer = signed_in.post(
            url("fix-picture", picture), {"base": picture.head_id, "changes": page.context["proposal_json"]}, **HTMX
        )
        assert answer.context["proposal"] is None
        assert now(picture).record.black_point == page.context["proposal"]["black_point"]

    def test_ways_of_keeping_are_told_and_count_in_the_budget(self, signed_in, picture):
        page = signed_in.get(url("picture", picture))
        raw, *_ = page.context["sizes"]["ways"]
        assert raw.byte_count == 4736
        changes = {"method": "threshold", "threshold": 128, "compression": "run-length"}
        answer = signed_in.post(url("save-recipe", picture), posted(picture, **changes), **HTMX)
        flash = answer.context["budgets"][0]
        kept = next(part.value for part in flash.parts if part.name == "pictures")
        assert kept < 4736
        assert len(signed_in.get(url("take", picture, "bin")).content) < kept


class TestBringing:
    def test_svg_and_see_through_pictures(self, signed_in, build, upload):
        text = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 296 128"><rect width="148" height="128"/></svg>'
        signed_in.post(reverse("add-picture", args=[build.pk]), {"picture": upload(text, "gauge.svg")})
        picture = kept(build, Picture).get()
        page = signed_in.get(url("picture", picture)).content.decode()
        assert "see-through parts kept as a mask array" in page
        assert pixels_of(signed_in, picture)[:, :140].max() == 0
        signed_in.post(url("save-recipe", picture), posted(picture, mask="on"), **HTMX)
        header = signed_in.get(url("take", picture, "h")).content.decode()
        assert "gauge_mask[4736]" in header
        sheet = Image.open(io.BytesIO(signed_in.get(url("source", picture)).content))
        assert sheet.size == (296, 128)

    def test_svg_with_text_is_refused_in_words(self, signed_in, build, upload):
        text = b'<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><text>tide</text></svg>'
        answer = signed_in.post(reverse("add-picture", args=[build.pk]), {"picture": upload(text, "gauge.svg")}, **HTMX)
        assert answer.status_code == 422
        assert "turn text into outlines" in answer.content.decode()
