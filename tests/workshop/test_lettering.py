"""Station 4 through its pages: faces, plans, characters, the glyph bench, measuring, packing, files."""

import gzip
import io
import json
import zipfile
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db.models import F
from django.urls import reverse
from PIL import Image

from mosaic.lettering.bdf import read_bdf
from mosaic.lettering.faces import FACES
from tests.conftest import png_of
from tests.mosaic.lettering.test_fonts import made_font
from tests.mosaic.strips.test_strips import SHEET
from tests.reading import kept, single
from workshop.builds.models import Build
from workshop.builds.services import set_array_form, start_build
from workshop.documents.models import Original
from workshop.documents.services import save
from workshop.lettering.documents import Lettering, TextsDocument
from workshop.pictures.documents import Strip
from workshop.stations.overview import overview_of

FOREIGN = gzip.decompress((Path(__file__).resolve().parents[1] / "vendor" / "fonts" / "fixed-5x8.bdf.gz").read_bytes())


def here(name, build: Build, *more):
    return reverse(name, args=[build.pk, *more])


def fresh(row: Lettering) -> Lettering:
    return Lettering.objects.select_related("head", "build").get(pk=row.pk)


@pytest.fixture
def lettering(signed_in, build):
    assert signed_in.post(here("start-lettering", build), {"face": "hyperlegible"}).status_code == 302
    return fresh(kept(build, Lettering).get())


def change(client, row, **fields):
    return client.post(here("change-lettering", row.build, row.pk), {"base": fresh(row).head_id, **fields})


def fix(client, row, changes, **more):
    data = {"base": fresh(row).head_id, "changes": json.dumps(changes), **more}
    return client.post(here("fix-lettering", row.build, row.pk), data)


class TestFaces:
    def test_every_face_can_be_started_and_is_shown(self, signed_in, build):
        page = signed_in.get(here("faces", build))
        assert page.content.count(b">Use this face<") == len(FACES)
        assert b"SIL Open Font License" in page.content
        for face, _, _, key in page.context["rows"]:
            specimen = signed_in.get(here("specimen", build, face.slug, key))
            assert Image.open(io.BytesIO(specimen.content)).width > 60
            signed_in.post(here("start-lettering", build), {"face": face.slug})
        assert kept(build, Lettering).count() == len(FACES)
        for row in kept(build, Lettering).all():
            assert signed_in.get(here("lettering", build, row.pk)).context["report"] is not None
        text = signed_in.get(reverse("face-licence", args=[build.pk, "sans"])).content.decode()
        assert "Permission is hereby granted" in text

    def test_an_unknown_face_is_told_with_the_known_ones(self, signed_in, build):
        answer = signed_in.post(here("start-lettering", build), {"face": "comic"})
        assert answer.status_code == 422
        assert "known: hyperlegible" in answer.content.decode()

    @pytest.mark.parametrize(
        ("name", "data", "preset", "glyphs", "size_by"),
        [
            ("square.ttf", made_font(), "all", 1, "distance"),
            ("fixed.bdf", FOREIGN, "basic", 95, "pixels"),
            ("fixed.pcf.gz", gzip.compress(FACES["fixed-5x8"].data), "basic", 95, "pixels"),
            ("plain.woff2", FACES["narrow"].data, "basic", 95, "distance"),
        ],
    )
    def test_a_font_of_ones_own_is_brought(self, signed_in, build, name, data, preset, glyphs, size_by):
        answer = signed_in.post(here("bring-lettering", build), {"font": SimpleUploadedFile(name, data)})
        row = fresh(kept(build, Lettering).get())
        assert answer.url == here("lettering", build, row.pk)
        assert (row.record.face, row.record.preset, row.record.size_by) == ("file", preset, size_by)
        page = signed_in.get(answer.url)
        assert len(page.context["glyphs"].glyphs) == glyphs
        assert name in page.content.decode()

    @pytest.mark.parametrize(
        ("name", "data", "message"),
        [
            ("notes.ttf", b"High water 14:20", "notes.ttf is no font that can be read"),
            ("broken.ttf", made_font()[:300], "broken.ttf is no font that can be read, or its tables are broken"),
            ("mapless.ttf", made_font(without="cmap"), "mapless.ttf has no Unicode character map"),
            ("huge.ttf", bytes(50 * 2**20), "huge.ttf is 50.0 MiB; fonts up to 16 MiB are accepted"),
            ("lying.bdf", FOREIGN.replace(b"BBX 5 8 0 -1", b"BBX 5 9 0 -1", 1), "the bitmap has 8 rows; its bounding box says 9"),
            ("", b"", "No file came with this"),
        ],
    )
    def test_what_is_no_font_is_told_and_nothing_is_kept(self, signed_in, build, name, data, message):
        files = {"font": SimpleUploadedFile(name, data)} if name else {}
        answer = signed_in.post(here("bring-lettering", build), files)
        assert answer.status_code == 422
        assert message in answer.content.decode()
        assert (kept(build, Lettering).count(), Original.objects.count()) == (0, 0)

    def test_pictures_of_a_strip_become_letters(self, signed_in, build):
        sheet = np.repeat((SHEET * 255)[..., None], 3, axis=2).astype(np.uint8)
        signed_in.post(here("add-strip", build), {"sheet": SimpleUploadedFile("marks.png", png_of(sheet))})
        strip = kept(build, Strip).get()
        save(strip, base=strip.head_id, record=replace(strip.record, columns=3, rows=1, names=("1", "minus", "ebb")))
        signed_in.post(here("lettering-of-cells", build), {"source": strip.ref})
        row = fresh(kept(build, Lettering).get())
        assert [use.code for use in row.record.pictures] == [0x31, 0x2D, 0xE000]
        shown = signed_in.get(here("lettering", build, row.pk)).context["glyphs"]
        assert [g.code for g in shown.glyphs] == [0x2D, 0x31, 0xE000]
        assert sum(int(g.levels.sum()) for g in shown.glyphs) > 20
        page = signed_in.get(here("lettering", build, row.pk))
        shown_glass = np.asarray(Image.open(io.BytesIO(signed_in.get(page.context["glass_url"]).content)).convert("L"))
        assert shown_glass.min() < 128 < shown_glass.max()
        assert {name for _, name, _ in page.context["largest"]} == {"1", "minus", "ebb"}
        assert "one size they were drawn in" in signed_in.get(here("lettering-sheet", build, row.pk)).content.decode()
        assert "is in use" in signed_in.post(here("delete-document", build, strip.pk)).content.decode()
        signed_in.post(here("delete-document", build, strip.pk), {"sure": "1"})
        found = signed_in.get(here("lettering", build, row.pk))
        assert "lacks every character asked for" in found.content.decode()


class TestOne:
    def test_a_change_is_kept_and_can_be_taken_back(self, signed_in, lettering):
        before = lettering.head_id
        assert change(signed_in, lettering, face="hyperlegible", size_by="pixels", size_px=31).status_code == 302
        assert fresh(lettering).record.size_px == 31
        # Boxes that were on the form and not ticked are off.
        assert fresh(lettering).record.kerning is False
        undo = here("step-lettering", lettering.build, lettering.pk, "undo")
        assert signed_in.post(undo, {"base": fresh(lettering).head_id}).status_code == 302
        assert fresh(lettering).head_id == before
        redo = here("step-lettering", lettering.build, lettering.pk, "redo")
        signed_in.post(redo, {"base": before})
        assert fresh(lettering).record.size_px == 31

    def test_fields_that_are_not_sent_stay(self, signed_in, lettering):
        change(signed_in, lettering, more="Ж")
        plan = fresh(lettering).record
        assert (plan.more, plan.kerning, plan.tabular, plan.preset) == ("Ж", True, True, "basic")

    @pytest.mark.parametrize(
        ("fields", "message"),
        [
            ({"size_px": "two"}, "Pixels to the em: Enter a whole number"),
            ({"size_px": 900}, "less than or equal to 256"),
            ({"more": "U+0430-U+"}, "is no range; one is written U+0041-U+005A"),
            ({"preset": "none"}, "0 characters are asked for"),
            ({"face": "file"}, "Select a valid choice"),
        ],
    )
    def test_what_cannot_be_is_told_and_nothing_changes(self, signed_in, lettering, fields, message):
        before = lettering.head_id
        answer = change(signed_in, lettering, **fields)
        assert answer.status_code == 422
        assert message in answer.content.decode()
        assert fresh(lettering).head_id == before

    def test_the_distance_is_that_of_the_build(self, signed_in, lettering):
        Build.objects.update(viewing_distance_mm=50_000, revision=F("revision") + 1)
        answer = change(signed_in, lettering, size_by="distance")
        assert answer.status_code == 422
        assert "eading at 50 m take" in answer.content.decode()
        assert "4 to 256 px can be set" in answer.content.decode()

    def test_live_parts_come_for_the_script(self, signed_in, lettering):
        data = {"base": lettering.head_id, "size_by": "pixels", "size_px": 22}
        answer = signed_in.post(here("change-lettering", lettering.build, lettering.pk), data, headers={"HX-Request": "true"})
        text = answer.content.decode()
        assert all(f'id="{part}"' in text for part in ("shown", "readings", "findings", "strip", "count", "path", "history"))
        assert 'id="recipe"' not in text
        data = {"base": fresh(lettering).head_id, "face": "sans"}
        answer = signed_in.post(here("change-lettering", lettering.build, lettering.pk), data, headers={"HX-Request": "true"})
        assert 'id="recipe"' in answer.content.decode()

    def test_a_preview_shows_everything_and_keeps_nothing(self, signed_in, lettering):
        data = {"base": lettering.head_id, "size_by": "pixels", "size_px": 60, "sample": "8"}
        address = here("preview-lettering", lettering.build, lettering.pk)
        answer = signed_in.post(address, data, headers={"HX-Request": "true"})
        text = answer.content.decode()
        assert 'data-glass="data:image/png;base64,' in text
        assert 'id="history"' not in text
        assert answer.context["packed"].flash_bytes == answer.context["budgets"][0].parts[-1].value
        assert fresh(lettering).head_id == lettering.head_id
        assert signed_in.post(address, data | {"size_px": 1}, headers={"HX-Request": "true"}).status_code == 422

    def test_the_glass_shows_it_in_the_panels_colours(self, signed_in, lettering):
        page = signed_in.get(here("lettering", lettering.build, lettering.pk))
        answer = signed_in.get(page.context["glass_url"])
        shown = np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGB"))
        assert shown.shape == (128, 296, 3)
        palette = lettering.build.to_device().passport.palette.measured_rgb
        assert {tuple(c) for c in shown.reshape(-1, 3).tolist()} == {tuple(int(v) for v in c) for c in palette}
        assert "immutable" in answer["Cache-Control"]

    def test_its_bytes_count_in_the_flash(self, signed_in, lettering):
        flash = overview_of(lettering.build).budgets[0]
        part = next(part for part in flash.parts if part.name == "lettering")
        page = signed_in.get(here("lettering", lettering.build, lettering.pk))
        assert part.value == page.context["packed"].flash_bytes > 500

    def test_another_font_rename_and_out(self, signed_in, lettering):
        build = lettering.build
        data = {"base": lettering.head_id, "font": SimpleUploadedFile("other.woff2", FACES["mono"].data)}
        signed_in.post(here("bring-font", build, lettering.pk), data)
        assert (fresh(lettering).record.face, fresh(lettering).file_name) == ("file", "other.woff2")
        first = fresh(lettering)
        data = {"base": first.head_id, "font": SimpleUploadedFile("third.ttf", made_font())}
        signed_in.post(here("bring-font", build, lettering.pk), data)
        fix(signed_in, lettering, {"preset": "all"})
        # A step back leads to the font of then, not only to its plan.
        for _ in range(2):
            signed_in.post(here("step-lettering", build, lettering.pk, "undo"), {"base": fresh(lettering).head_id})
        assert (fresh(lettering).original_id, fresh(lettering).file_name) == (first.original_id, "other.woff2")
        signed_in.post(here("rename-document", build, lettering.pk), {"name": "  Tide   text "})
        assert fresh(lettering).name == "Tide text"
        assert signed_in.post(here("rename-document", build, lettering.pk), {"name": " "}).status_code == 422
        signed_in.post(here("delete-document", build, lettering.pk))
        assert signed_in.get(here("letterings", build)).url == here("faces", build)

    def test_colours_of_another_panel_fall_back(self, signed_in, maker):
        build = start_build(owner=maker, name="Sign", panel="tft-320x240-touch", board="wireless", link_kind="spi")
        signed_in.post(here("start-lettering", build), {"face": "sans"})
        row = fresh(kept(build, Lettering).get())
        assert row.record.ink == 0xFFFFFF
        other = start_build(owner=maker, name="Counter", panel="mono-oled-128x64", board="small", link_kind="i2c")
        Lettering.objects.filter(pk=row.pk).update(build=other)
        assert signed_in.get(here("lettering", other, row.pk)).context["report"].plan.ink == 0


class TestFindings:
    def test_a_fix_is_carried_out(self, signed_in, lettering):
        change(signed_in, lettering, more="Ж")
        page = signed_in.get(here("lettering", lettering.build, lettering.pk))
        finding = next(f for f in page.context["here_findings"] if f["id"] == "lettering.characters-missing")
        assert page.context["stones"][3].words.startswith("here, ")
        assert fix(signed_in, lettering, finding["fix"]["changes"]).status_code == 302
        after = signed_in.get(here("lettering", lettering.build, lettering.pk)).context["here_findings"]
        assert "lettering.characters-missing" not in {f["id"] for f in after}

    @pytest.mark.parametrize("changes", ["", "[]", '{"size_px": 9000}', '{"bits": 3}'])
    def test_a_malformed_fix_is_refused(self, signed_in, lettering, changes):
        data = {"base": lettering.head_id, "changes": changes}
        assert signed_in.post(here("fix-lettering", lettering.build, lettering.pk), data).status_code == 422
        assert fresh(lettering).head_id == lettering.head_id

    def test_one_that_cannot_be_made_does_not_lock_its_build(self, signed_in, lettering):
        fix(signed_in, lettering, {"preset": "screens", "more": "A"})
        plan = fresh(lettering).head
        plan.description = {**plan.description, "more": ""}
        plan.save()
        page = signed_in.get(here("lettering", lettering.build, lettering.pk))
        assert page.status_code == 200
        assert "0 characters are asked for" in page.content.decode()
        assert signed_in.get(reverse("workshop")).status_code == 200
        assert change(signed_in, lettering, preset="digits").status_code == 302


class TestSheet:
    def test_each_cell_is_the_sample_at_its_size(self, signed_in, lettering):
        page = signed_in.get(here("lettering-sheet", lettering.build, lettering.pk) + "?zoom=3")
        rows = page.context["rows"]
        assert page.context["zoom"] == 3
        heights = [
            np.asarray(Image.open(io.BytesIO(signed_in.get(cells[0]["url"]).content))).shape[0] for _, _, _, _, cells in rows
        ]
        assert heights == sorted(heights)
        # A panel of two colours has no grey to compare.
        assert {len(cells) for *_, cells in rows} == {3}
        assert fix(signed_in, lettering, rows[2][4][1]["changes"], back="lettering-sheet").url.endswith("/sheet/")
        plan = fresh(lettering).record
        assert (plan.size_px, plan.mode) == (rows[2][0], "plain")

    def test_panels_with_levels_compare_grey_and_pixel_faces_their_steps(self, signed_in, maker):
        build = start_build(owner=maker, name="Sign", panel="tft-320x240-touch", board="wireless", link_kind="spi")
        for face, ways, sizes in (("sans", 6, 9), ("fixed-6x13", 1, 4)):
            signed_in.post(here("start-lettering", build), {"face": face})
            row = kept(build, Lettering).last()
            rows = signed_in.get(here("lettering-sheet", build, row.pk)).context["rows"]
            assert len(rows[0][4]) == ways
            assert len(rows) >= sizes

    def test_an_unknown_mode_is_refused(self, signed_in, lettering):
        address = here("lettering-cell", lettering.build, lettering.pk, "fuzzy", 1, 16, "0" * 32)
        assert signed_in.get(address).status_code == 422


class TestCharacters:
    def test_missing_ones_can_be_written_plainer_or_left_out(self, signed_in, lettering):
        change(signed_in, lettering, more="Жћ")
        address = here("lettering-characters", lettering.build, lettering.pk)
        page = signed_in.get(address)
        assert [m["hex"] for m in page.context["missing"]] == ["U+0416", "U+045B"]
        assert "cyrillic capital letter zhe" in page.content.decode()
        stand = here("lettering-stand-in", lettering.build, lettering.pk)
        signed_in.post(stand, {"base": fresh(lettering).head_id, "character": "Ж", "by": "K"})
        signed_in.post(stand, {"base": fresh(lettering).head_id, "character": "ћ", "by": "h", "act": "leave"})
        page = signed_in.get(address)
        assert page.context["missing"] == []
        assert page.context["replaced"] == [("Ж", "K", "cyrillic capital letter zhe")]
        assert fresh(lettering).record.left_out == "ћ"
        answer = signed_in.post(stand, {"base": fresh(lettering).head_id, "character": "Ж", "by": "KK"})
        assert "what stands in for it is one character; 2 are given" in answer.content.decode().lower()

    def test_what_the_texts_need_is_told(self, signed_in, lettering):
        signed_in.post(here("keep-texts", lettering.build), {"texts": "Tide {0..9} Ж"})
        page = signed_in.get(here("lettering-characters", lettering.build, lettering.pk))
        assert page.context["text_missing"] == ["Ж"]
        fix(signed_in, lettering, {"preset": "screens"})
        page = signed_in.get(here("lettering-characters", lettering.build, lettering.pk))
        assert "".join(t["character"] for t in page.context["tiles"]) == " 0123456789TdeiЖ"
        assert page.context["tiles"][-1]["state"] == "missing"


class TestGlyphs:
    def touch(self, client, row, code=65, **data):
        return client.post(here("touch-glyph", row.build, row.pk, code), {"base": fresh(row).head_id, **data})

    def test_pixels_shift_advance_and_back(self, signed_in, lettering):
        address = here("lettering-glyphs", lettering.build, lettering.pk) + "?code=65"
        before = signed_in.get(address).context["glyph"]
        self.touch(signed_in, lettering, act="stroke", level=15, stroke="[[0, 20], [1, 20]]")
        glyph = signed_in.get(address).context["glyph"]
        assert (glyph.top, glyph.levels[0].tolist()[:2]) == (21, [1, 1])
        self.touch(signed_in, lettering, act="up")
        self.touch(signed_in, lettering, act="wider")
        page = signed_in.get(address)
        assert (page.context["glyph"].top, page.context["glyph"].advance) == (22, before.advance + 1)
        field = np.asarray(Image.open(io.BytesIO(signed_in.get(page.context["bench_url"]).content)).convert("L"))
        assert field.shape == (page.context["field"].height, page.context["field"].width)
        dark = field < 128
        assert dark.sum() == int(page.context["glyph"].levels.sum())
        # Another size sets them aside; back at this one they are there again.
        em = page.context["report"].made.size.em_px
        fix(signed_in, lettering, {"size_by": "pixels", "size_px": 40})
        assert signed_in.get(address).context["report"].made.set_aside == (65,)
        signed_in.post(here("step-lettering", lettering.build, lettering.pk, "undo"), {"base": fresh(lettering).head_id})
        assert signed_in.get(address).context["touch"].em_px == em
        self.touch(signed_in, lettering, act="reset")
        assert signed_in.get(address).context["glyph"].same_as(before)

    def test_undo_leads_back_to_the_glyph(self, signed_in, lettering):
        self.touch(signed_in, lettering, code=103, act="left")
        data = {"base": fresh(lettering).head_id, "back": "lettering-glyphs", "code": "103"}
        answer = signed_in.post(here("step-lettering", lettering.build, lettering.pk, "undo"), data)
        assert answer.url.endswith("/glyphs/?code=103")
        assert fresh(lettering).record.glyph_edits == ()

    @pytest.mark.parametrize(
        ("data", "message"),
        [
            ({"act": "stroke", "level": "99", "stroke": "[[0,0]]"}, "from 0 to 15 is accepted"),
            ({"act": "stroke", "level": "15", "stroke": "[[0]]"}, "this stroke cannot be taken"),
            ({"act": "stroke", "level": "15", "stroke": "[[9000, 0]]"}, "within 240 px"),
            ({"act": "melt"}, "not known"),
        ],
    )
    def test_what_cannot_be_is_told(self, signed_in, lettering, data, message):
        answer = self.touch(signed_in, lettering, **data)
        assert answer.status_code == 422
        assert message in answer.content.decode().replace("This", "this")

    def test_a_glyph_that_is_not_there(self, signed_in, lettering):
        assert self.touch(signed_in, lettering, code=0x416, act="left").status_code == 404
        page = signed_in.get(here("lettering-glyphs", lettering.build, lettering.pk) + "?code=1046")
        assert page.context["code"] == 65


class TestMeasuring:
    def test_texts_are_kept_and_measured(self, signed_in, lettering):
        build = lettering.build
        signed_in.post(
            here("keep-texts", build), {"texts": "Tide {0.0..9.9} m\r\n\r\nHigh water in {0..23} hours and {0..59} minutes"}
        )
        page = signed_in.get(here("measuring", build) + "?w=60&h=30&text={8..12}")
        rows = page.context["rows"]
        assert [row["extent"].text for row in rows] == ["Tide 9.9 m", "High water in 23 hours and 59 minutes"]
        assert not rows[1]["measured"].fits_somewhere
        assert page.context["tried"]["extent"].text == "12"
        assert [fit.spot.name for fit in rows[0]["measured"].fits] == ["across the glass", "in your 60 × 30 px"]
        image = Image.open(io.BytesIO(signed_in.get(rows[0]["url"]).content))
        assert image.width == rows[0]["extent"].room + 6
        ids = {placed.finding["id"] for placed in overview_of(Build.objects.get(pk=build.pk)).findings}
        assert "lettering.no-size-serves" in ids

    def test_a_wrong_line_is_told_and_what_was_typed_stands(self, signed_in, lettering):
        answer = signed_in.post(here("keep-texts", lettering.build), {"texts": "Tide {0..9} m\nWind {9..0}"})
        text = answer.content.decode()
        assert answer.status_code == 422
        assert "Line 2: {9..0}: the lower bound stands first" in text
        assert "Wind {9..0}</textarea>" in text
        assert single(Build.objects.get(pk=lettering.build_id), TextsDocument) is None

    def test_a_try_that_cannot_be_read_is_told(self, signed_in, lettering):
        page = signed_in.get(here("measuring", lettering.build) + "?text={9")
        assert "a brace is opened and not closed" in page.content.decode()

    def test_without_a_lettering_it_shows_what_faces_hold(self, signed_in, build):
        page = signed_in.get(here("measuring", build))
        assert len(page.context["face_rows"]) == len(FACES)
        assert "There is no lettering yet" in page.content.decode()


class TestPacking:
    def test_every_way_and_depth_is_offered_and_taken(self, signed_in, lettering):
        page = signed_in.get(here("lettering-packing", lettering.build, lettering.pk))
        ways = page.context["ways"]
        assert len(ways) == 12
        assert page.context["reads_back"]
        best = min(ways, key=lambda way: way["flash"])
        fix(signed_in, lettering, best["changes"], back="lettering-packing")
        page = signed_in.get(here("lettering-packing", lettering.build, lettering.pk))
        assert page.context["packed"].flash_bytes == best["flash"]
        sizes = [row["bytes"] for row in page.context["rows"]]
        assert sizes == sorted(sizes, reverse=True)

    def test_files_are_taken(self, signed_in, lettering):
        take = lambda ending: signed_in.get(here("take-lettering", lettering.build, lettering.pk, ending))  # noqa: E731
        answer = take("bdf")
        assert answer["Content-Disposition"] == 'attachment; filename="atkinson_hyperlegible_next.bdf"'
        assert len(read_bdf(answer.content).glyphs) == 95
        archive = zipfile.ZipFile(io.BytesIO(take("zip").content))
        endings = {name.rpartition(".")[2] for name in archive.namelist()}
        assert endings == {"h", "py", "bdf", "png", "json"}
        assert take("exe").status_code == 404

    def test_a_bdf_comes_back_equal(self, signed_in, lettering):
        data = signed_in.get(here("take-lettering", lettering.build, lettering.pk, "bdf")).content
        signed_in.post(here("bring-lettering", lettering.build), {"font": SimpleUploadedFile("back.bdf", data)})
        row = fresh(kept(lettering.build, Lettering).last())
        again = signed_in.get(here("take-lettering", lettering.build, row.pk, "bdf")).content
        first, second = read_bdf(data), read_bdf(again)
        # Digits of equal room stay so; nothing is spaced or kerned anew.
        assert all(a.same_as(b) for a, b in zip(first.glyphs, second.glyphs, strict=True))


def test_glyphs_follow_the_form_of_the_builds_arrays(signed_in, lettering):
    """Rows, first pixel low, for all arrays of the build: the header of a lettering says so, too."""
    build = lettering.build
    set_array_form(build=build, name="rows-low", revision=build.revision)
    source = signed_in.get(here("take-lettering", build, lettering.pk, "h")).content.decode()
    on_palette = build.to_device().passport.palette is not None
    assert ("leftmost pixel in the low end" in source) == on_palette
    assert on_palette
