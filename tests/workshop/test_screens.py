"""Station 5 through its pages: what is done to a screen, what is refused, its files, and what it adds to its build."""

import io
import json
import zipfile

import numpy as np
import pytest
from django.urls import reverse
from PIL import Image

from mosaic.lettering.plan import LetteringPlan
from mosaic.screens.kinds import KINDS
from mosaic.screens.screen import Anchor, Design, Element, Screen, Size, Style
from workshop.builds.services import start_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.jobs.models import Job
from workshop.jobs.tasks import carry_out
from workshop.lettering.services import add_lettering
from workshop.screens.acts import ACTS
from workshop.screens.documents import DesignDocument, ScreenDocument, design_of
from workshop.screens.files import WRITERS
from workshop.stations.exchange import offered_lettering, pixels_of
from workshop.stations.overview import overview_of


@pytest.fixture
def build(maker):
    return start_build(owner=maker, name="Tide", panel="mono-oled-128x64", board="low-power", link_kind="spi")


@pytest.fixture
def small(build):
    return add_lettering(build=build, name="Small", plan=LetteringPlan(face="narrow", size_by="pixels", size_px=14))


@pytest.fixture
def row(build, small):
    screen = Screen(
        (
            Element("e1", "text", "Title", Anchor(plus=4), Anchor(plus=2), text="Tide"),
            Element(
                "e2",
                "rectangle",
                "",
                Anchor("start", "e1"),
                Anchor("start", "e1", "end", 3),
                Size("pixels", 30),
                Size("pixels", 9),
            ),
        )
    )
    return documents.add(ScreenDocument, build=build, name="Slip", record=screen)


def url(name, row, *more):
    return reverse(name, args=[row.build_id, row.pk, *more])


def now(row) -> Screen:
    return ScreenDocument.objects.of(row.build).get(pk=row.pk).record


def base(row) -> int:
    return ScreenDocument.objects.get(pk=row.pk).head_id


def act(client, row, **values):
    return client.post(url("act-screen", row), {"base": base(row), **values})


def filled(page) -> dict:
    """What the page's form would send."""
    form, ground = page.context["form"], page.context["ground_form"]
    values = {name: form[name].value() for name in form.fields} if form else {}
    values |= {name: ground[name].value() for name in ground.fields}
    known = {k: v for k, v in values.items() if v is not None and v is not False}
    return known | {"of": page.context["of"], "base": page.context["screen"].head_id}


def change(client, row, of, **changes):
    page = client.get(url("screen", row) + f"?e={of}")
    return client.post(url("change-screen", row), filled(page) | changes)


class TestBeginning:
    def test_without_a_screen_the_station_says_what_one_is(self, signed_in, build):
        page = signed_in.get(reverse("screens", args=[build.pk])).content.decode()
        assert "No screen yet" in page
        assert "There is no lettering in this build yet" in page
        answer = signed_in.post(reverse("add-screen", args=[build.pk]), {"name": "  Low water "})
        row = ScreenDocument.objects.get(build=build)
        assert (answer["Location"], row.name) == (row.url, "Low water")
        assert signed_in.get(reverse("screens", args=[build.pk]))["Location"] == row.url

    @pytest.mark.parametrize("kind", [k.name for k in KINDS.values() if not k.holds])
    def test_every_kind_can_be_begun_and_unfolds_its_sentence(self, signed_in, row, kind):
        assert act(signed_in, row, act="add", kind=kind, of="e1").status_code == 302
        made = now(row).elements[-1]
        assert (made.kind, made.id) == (kind, "e3")
        page = signed_in.get(url("screen", row) + "?e=e3")
        assert page.status_code == 200
        for name in KINDS[kind].blanks:
            assert f'name="{name}"' in page.content.decode(), name
        # What stands there, sent back as it is, changes nothing.
        signed_in.post(url("change-screen", row), filled(page))
        assert now(row).elements[-1] == made


class TestChanging:
    def test_blanks_are_kept(self, signed_in, row):
        change(signed_in, row, "e1", text="Ebb", x_at="end", x_to="glass", x_of="end", x_plus="-3", name="Head")
        element = now(row).element("e1")
        assert (element.text, element.x, element.name) == ("Ebb", Anchor("end", "glass", "end", -3), "Head")
        assert element.y == Anchor(plus=2)

    def test_what_stands_beside_follows_a_larger_lettering(self, signed_in, build, small, row):
        boxes = signed_in.get(url("screen", row)).context["boxes"]
        documents.save(small, base=small.head_id, record=small.record.with_changes(size_px=24))
        after = signed_in.get(url("screen", row)).context["boxes"]
        assert after[1][2] > boxes[1][2]
        assert after[0][:3] == boxes[0][:3]

    def test_a_drag_moves_what_is_held_and_keeps_the_blanks(self, signed_in, row):
        change(signed_in, row, "e1", drag="e2", dx="5", dy="-2", text="Ebb")
        assert now(row).element("e2").x.plus == 5
        assert now(row).element("e2").y.plus == 1
        assert now(row).element("e1").text == "Ebb"

    def test_on_the_window_grid(self, signed_in, maker):
        paper = start_build(owner=maker, name="Paper", panel="mono-oled-128x64", board="low-power", link_kind="spi")
        row = documents.add(ScreenDocument, build=paper, name="Slip", record=Screen((Element("e1", "rectangle"),)))
        grid = paper.to_device().passport.grid
        change(signed_in, row, "e1", drag="e1", dx="3", dy="11", grid="1")
        assert now(row).element("e1").y.plus == round(11 / grid.y_px) * grid.y_px
        assert now(row).element("e1").x.plus == round(3 / grid.x_px) * grid.x_px

    def test_a_preview_keeps_nothing_and_brings_its_pixels(self, signed_in, row):
        page = signed_in.get(url("screen", row) + "?e=e1")
        answer = signed_in.post(url("preview-screen", row), filled(page) | {"drag": "e1", "dx": "9"}, headers={"x-live": "1"})
        told = json.loads(b"".join(answer.streaming_content).split(b"\n")[0])
        assert told["glass"].startswith("data:image/png;base64,")
        assert told["boxes"][0][:3] == ["e1", 13, 2]
        assert now(row).element("e1").x.plus == 4

    def test_the_ground(self, signed_in, row):
        change(signed_in, row, "e1", ground_by="pattern", ground_tile="#./.#", ground_color="ink")
        assert (now(row).ground.by, now(row).ground.color) == ("pattern", "ink")

    @pytest.mark.parametrize(
        ("changes", "words"),
        [
            ({"width_by": "pixels", "width_pixels": "65535"}, "width in pixels"), ({"width_by": "pixels", "width_pixels": "-1"}, "width in pixels"),
            ({"text": "x" * 10_000}, "text: "), ({"x_to": "e9"}, "placed across by"), ({"color": "own", "color_own": "mauve"}, "mauve"),
            ({"x_to": "e2"}, "stand in a circle"), ({"x_plus": "5000"}, "pixels across"),
        ],
    )  # fmt: skip
    def test_what_cannot_be_is_told_and_nothing_is_lost(self, signed_in, row, changes, words):
        before = now(row)
        answer = change(signed_in, row, "e1", **changes)
        assert answer.status_code == 422
        assert words in answer.content.decode().lower()
        assert now(row) == before

    @pytest.mark.parametrize("points", ["1,2 x", "1;2 3", "a,b c,d"])
    def test_points_that_are_none(self, signed_in, row, points):
        act(signed_in, row, act="add", kind="polyline")
        answer = change(signed_in, row, "e3", points=points)
        assert answer.status_code == 422
        assert "points are written as x,y" in answer.content.decode().lower()
        assert now(row).element("e3").points == ((0, 12), (20, 0), (40, 8), (60, 2))

    def test_another_tab_is_told(self, signed_in, row):
        page = signed_in.get(url("screen", row) + "?e=e1")
        act(signed_in, row, act="move", of="e1", dx="1")
        answer = signed_in.post(url("change-screen", row), filled(page) | {"text": "Ebb"})
        assert answer.status_code == 409
        assert now(row).element("e1").text == "Tide"


class TestActs:
    def test_moved_aligned_ordered_duplicated_and_removed_and_all_undone(self, signed_in, row):
        first = now(row)
        assert act(signed_in, row, act="move", pick=["e1"], dx="2", dy="3").status_code == 302
        assert act(signed_in, row, act="align", pick=["e1", "e2"], how="right").status_code == 302
        assert now(row).element("e2").x == Anchor("end", "e1", "end")
        act(signed_in, row, act="later", of="e1")
        assert [e.id for e in now(row).elements] == ["e2", "e1"]
        act(signed_in, row, act="duplicate", pick=["e1", "e2"])
        assert len(now(row).elements) == 4
        act(signed_in, row, act="remove", of="e1")
        assert now(row).element("e1") is None
        for _ in range(5):
            signed_in.post(url("step-screen", row, "undo"), {"base": base(row)})
        assert now(row) == first

    def test_guides(self, signed_in, row):
        act(signed_in, row, act="guide", guide_upright="1", guide_plus="7", guide_of="end", guide_name="margin")
        guide = now(row).guides[0]
        assert (guide.id, guide.upright, guide.of, guide.plus, guide.name) == ("g1", True, "end", 7, "margin")
        act(signed_in, row, act="move-guide", guide="g1", plus="9")
        assert now(row).guides[0].plus == 9
        act(signed_in, row, act="drop-guide", guide="g1")
        assert now(row).guides == ()

    def test_rows_sizes_and_places(self, signed_in, row):
        act(signed_in, row, act="add", kind="row", pick=["e1", "e2"])
        assert now(row).elements[0].kind == "row"
        act(signed_in, row, act="order", of="e2", to="0")
        assert now(row).elements[0].id == "e2"

    @pytest.mark.parametrize("name", [*ACTS, "capsize", ""])
    def test_no_act_fails_whatever_comes_along(self, signed_in, row, name):
        for values in (
            {},
            {"of": "e1"},
            {"of": "e9", "dx": "²", "kind": "x"},
            {"pick": ["e1", "e2"], "how": "x", "to": "1e9", "w": "-4"},
        ):
            assert act(signed_in, row, act=name, **values).status_code in (302, 422)

    def test_fixes_mend(self, signed_in, row):
        act(signed_in, row, act="move", of="e2", dx="200")
        page = signed_in.get(url("screen", row))
        finding = next(f for f in page.context["here_findings"] if f["id"] == "screen.outside")
        signed_in.post(url("fix-screen", row), {"base": base(row), "changes": json.dumps(finding["fix"]["changes"])})
        assert not [f for f in signed_in.get(url("screen", row)).context["here_findings"] if f["id"] == "screen.outside"]

    def test_elements_are_copied_to_another_screen(self, signed_in, build, row):
        other = documents.add(ScreenDocument, build=build, name="Other", record=Screen())
        answer = signed_in.post(url("copy-elements", row), {"base": base(row), "pick": ["e1"], "to": other.pk})
        assert answer["Location"] == other.url
        assert [e.text for e in now(other).elements] == ["Tide"]
        assert signed_in.post(url("copy-elements", row), {"base": base(row), "to": other.pk}).status_code == 422


class TestDesign:
    def test_a_shared_part_is_made_changed_everywhere_and_undone_in_one_step(self, signed_in, build, row):
        signed_in.post(url("make-part", row), {"base": base(row), "pick": ["e1", "e2"], "part_name": "Head"})
        design = DesignDocument.objects.get(build=build)
        assert [part.name for part in design_of(build).parts] == ["Head"]
        assert [e.kind for e in now(row).elements] == ["part"]
        page = signed_in.get(reverse("design", args=[build.pk]))
        assert "on Slip" in page.content.decode()
        image = signed_in.get(page.context["parts"][0][2])
        assert Image.open(io.BytesIO(image.content)).size == (design_of(build).parts[0].width, design_of(build).parts[0].height)
        before = pixels_of(build, build.to_device(), row.ref).pixels
        answer = signed_in.post(
            reverse("change-design", args=[build.pk]), {"base": design.head_id, "text-p1-e1": "Ebb", "name-p1": "Foot"}
        )
        assert answer.status_code == 302
        shelf.forget(build)
        assert (pixels_of(build, build.to_device(), row.ref).pixels != before).any()
        signed_in.post(url("step-screen", row, "undo"), {"base": base(row)})
        assert len(now(row).elements) == 2

    def test_styles(self, signed_in, build, row):
        at = reverse("change-design", args=[build.pk])
        signed_in.post(at, {"base": 0, "new": "style"})
        head = DesignDocument.objects.get(build=build).head_id
        signed_in.post(at, {"base": head, "name-s1": "Quiet", "color-s1": "ground", "second-s1": "ink", "start": row.ref})
        shelf.forget(build)
        assert design_of(build) == Design((Style("s1", "Quiet", "ground", "ink"),), (), row.ref)
        change(signed_in, row, "e1", style="s1")
        assert now(row).element("e1").style == "s1"
        old = signed_in.post(at, {"base": head, "name-s1": "Loud"})
        assert old.status_code == 409
        head = DesignDocument.objects.get(build=build).head_id
        signed_in.post(at, {"base": head, "drop": "s1"})
        shelf.forget(build)
        assert design_of(build).styles == ()
        assert signed_in.get(url("screen", row)).status_code == 200

    def test_a_wrong_size_of_a_part_is_told(self, signed_in, build, row):
        signed_in.post(url("make-part", row), {"base": base(row), "pick": ["e1"], "part_name": "Head"})
        head = DesignDocument.objects.get(build=build).head_id
        answer = signed_in.post(reverse("change-design", args=[build.pk]), {"base": head, "width-p1": "0"})
        assert answer.status_code == 422
        assert "width of head" in answer.content.decode().lower()


class TestFiles:
    def test_every_file_and_all_of_them(self, signed_in, row):
        for ending in WRITERS:
            data = signed_in.get(url("take-screen", row, ending)).content
            assert data, ending
        assert json.loads(signed_in.get(url("take-screen", row, "json")).content)["elements"][0]["text"] == "Tide"
        shot = Image.open(io.BytesIO(signed_in.get(url("take-screen", row, "png")).content)).convert("RGB")
        glass = Image.open(io.BytesIO(signed_in.get(signed_in.get(url("screen", row)).context["glass_url"]).content)).convert(
            "RGB"
        )
        assert np.array_equal(np.asarray(shot), np.asarray(glass))
        archive = zipfile.ZipFile(io.BytesIO(signed_in.get(url("take-screen", row, "zip")).content))
        assert set(archive.namelist()) == {*(f"slip.{ending}" for ending in WRITERS), "draw.h", "draw.c", "draw.py"}
        assert signed_in.get(url("take-screen", row, "exe")).status_code == 404

    def test_all_files_of_the_build_hold_the_screens(self, signed_in, build, row):
        signed_in.post(reverse("start-files", args=[build.pk]))
        job = Job.objects.get()
        carry_out.call(job.pk)
        archive = zipfile.ZipFile(io.BytesIO(bytes(Job.objects.get().result)))
        assert {name for name in archive.namelist() if name.startswith("slip.")} == {f"slip.{ending}" for ending in WRITERS}


def test_a_screen_adds_its_findings_and_its_picture_to_the_build(signed_in, build, row):
    overview = overview_of(build)
    item = overview.by_station["screens"][0]
    assert item.summary == "2 elements"
    assert "pixels" in item.offers
    assert signed_in.get(item.image_url).status_code == 200
    assert signed_in.get(item.image_url.replace(item.image_url.split("/")[-1], "0" * 64 + ".png")).status_code == 404
    assert pixels_of(build, build.to_device(), row.ref).pixels.shape == (64, 128)


def test_letterings_keep_what_the_screens_show_and_measuring_counts_it(signed_in, build, row):
    kept = add_lettering(
        build=build, name="Kept", plan=LetteringPlan(face="narrow", size_by="pixels", size_px=14, preset="screens")
    )
    glyphs = offered_lettering(build, build.to_device(), kept.ref)
    assert {chr(code) for code in glyphs.by_code} == set("Tide")
    change(signed_in, row, "e1", text="Ebb", lettering=kept.ref)
    page = signed_in.get(url("screen", row) + "?e=e1")
    assert not [f for f in page.context["here_findings"] if f["id"] == "screen.glyph-missing"]
    measuring = signed_in.get(reverse("measuring", args=[build.pk]))
    assert "1 text more stands on the screens" in measuring.content.decode()
    assert measuring.context["written"] == ""
    signed_in.post(reverse("keep-texts", args=[build.pk]), {"base": 0, "texts": "Ebb"})
    assert "on the screens of station 5" not in signed_in.get(reverse("measuring", args=[build.pk])).content.decode()


def test_the_way_back_leads_to_the_sentence_that_needed_something(signed_in, build, row):
    here = row.url + "?e=e1"
    faces = signed_in.get(reverse("faces", args=[build.pk]), {"back": here})
    assert f'href="{here}"' in faces.content.decode()
    assert "Back to where this was begun" in signed_in.get(reverse("measuring", args=[build.pk])).content.decode()
    assert "Back to where this was begun" not in signed_in.get(here).content.decode()
    assert "Back to where this was begun" not in signed_in.get(reverse("measuring", args=[build.pk])).content.decode()
    elsewhere = signed_in.get(reverse("faces", args=[build.pk]), {"back": "https://elsewhere.example/builds/1/"})
    assert "Back to where this was begun" not in elsewhere.content.decode()


def test_what_a_screen_names_may_go_and_the_page_stays(signed_in, build, small, row):
    documents.delete(small)
    page = signed_in.get(url("screen", row))
    assert page.status_code == 200
    assert "names no lettering" in page.content.decode()
