"""Values, states, play, another panel and read code through their pages: what is kept, what is refused, what comes of it."""

import html
import json
import re
import zipfile
from io import BytesIO

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from mosaic.lettering.plan import LetteringPlan
from mosaic.screens.screen import Anchor, Design, Element, Follow, Screen, Size
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Source, Value
from workshop.bringup.models import Feed
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.lettering.documents import Lettering, texts_of
from workshop.lettering.services import add_lettering
from workshop.pictures.documents import Strip
from workshop.screens.documents import DesignDocument, ScreenDocument, design_of

TIDE = Value(
    "v1",
    "tide",
    decimals=1,
    low=0,
    high=68,
    unit="m",
    source=Source("sensor", every_ms=500),
    stand_in=StandIn("ramp", every_ms=500, period_s=34),
)


@pytest.fixture
def build(maker):
    return start_build(owner=maker, name="Tide", panel="mono-oled-128x64", board="low-power", link_kind="spi")


@pytest.fixture
def row(build):
    add_lettering(build=build, name="Small", plan=LetteringPlan(face="narrow", size_by="pixels", size_px=14))
    documents.save_single(DesignDocument, build=build, base=0, record=Design(values=(TIDE, Value("v2", "lamp", "yes/no"))))
    elements = (
        Element("e1", "text", "Height", Anchor(plus=4), Anchor(plus=2), text="Tide {v1} m"),
        Element("e2", "bar", "Level", Anchor(plus=4), Anchor(plus=40), high=68, follows=(Follow("value", "v1"),)),
        Element("e3", "circle", "Lamp", Anchor(plus=100), Anchor(plus=20), radius=6, follows=(Follow("shown", "v2"),)),
    )
    return documents.add(ScreenDocument, build=build, name="Slip", record=Screen(elements))


def said(answer) -> str:
    """The words of a page."""
    return html.unescape(re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", answer.content.decode()))).lower()


def again(row):
    return ScreenDocument.objects.select_related("head", "build").get(pk=row.pk)


def design(build):
    shelf.forget(build)
    return design_of(Build.objects.get(pk=build.pk))


def base(build):
    shelf.forget(build)
    row = shelf.single(build, DesignDocument)
    return row.head_id if row else 0


def blanks(page, ident):
    """What stands in a value's form."""
    form = next(form for value, form, *_ in page.context["rows"] if value.id == ident)
    return {form[name].html_name: "" if form[name].value() is None else form[name].value() for name in form.fields}


class TestValues:
    def test_a_value_is_made_changed_and_undone(self, signed_in, build):
        made = signed_in.post(reverse("add-value", args=[build.pk]), {"name": "wind", "kind": "number", "base": 0}, follow=True)
        assert [v.name for v in design(build).values] == ["wind"]
        filled = blanks(made, "v1") | {"v1-unit": "kn", "v1-high": "60", "v1-stand_by": "sine", "base": base(build)}
        signed_in.post(reverse("change-value", args=[build.pk, "v1"]), filled)
        (value,) = design(build).values
        assert (value.unit, value.high, value.stand_in.by) == ("kn", 60, "sine")
        page = signed_in.get(reverse("values", args=[build.pk]))
        assert "polyline" in page.content.decode()
        document = shelf.single(build, DesignDocument)
        signed_in.post(reverse("step-document", args=[build.pk, document.pk, "undo"]), {"base": base(build)})
        assert design(build).values[0].unit == ""

    @pytest.mark.parametrize(("changes", "words"), [
        ({"v1-low": "9", "v1-high": "3"}, "exchange them"), ({"v1-step": "0"}, "goes nowhere"), ({"v1-unit": "k" * 400}, "at most 12 characters"), ({"v1-low": "low"}, "a number such as 7.5"),
        ({"v1-source_points": "0=0"}, "one point makes no line"), ({"v1-source_points": "512"}, "reading=value"), ({"v1-name": "lamp"}, "two values are called lamp"),
        ({"v1-kind": "word", "v1-words": "one"}, "two words or more"), ({"v1-name": "a{b"}, "name"), ({"v1-listed": "4, high"}, "a number such as"), ({"v1-decimals": "99"}, "decimals"),
    ])  # fmt: skip
    def test_what_makes_no_sense_is_refused_and_what_was_typed_stays(self, signed_in, build, row, changes, words):
        page = signed_in.get(reverse("values", args=[build.pk]))
        url = reverse("change-value", args=[build.pk, "v1"])
        from_page = {"Referer": f"http://testserver{reverse('values', args=[build.pk])}"}
        answer = signed_in.post(url, blanks(page, "v1") | changes | {"base": base(build)}, headers=from_page)
        assert answer.status_code == 422
        assert words in said(answer), said(answer)
        assert design(build).values[0] == TIDE
        typed = next(v for v in changes.values())
        assert typed[:12] in answer.content.decode()

    def test_filled_in_as_it_stands_nothing_changes(self, signed_in, build, row):
        page = signed_in.get(reverse("values", args=[build.pk]))
        for ident in ("v1", "v2"):
            signed_in.post(reverse("change-value", args=[build.pk, ident]), blanks(page, ident) | {"base": base(build)})
        assert design(build).values[0] == TIDE

    def test_two_tabs_are_told_apart(self, signed_in, build, row):
        page, before = signed_in.get(reverse("values", args=[build.pk])), base(build)
        signed_in.post(reverse("change-value", args=[build.pk, "v1"]), blanks(page, "v1") | {"v1-unit": "ft", "base": before})
        answer = signed_in.post(
            reverse("change-value", args=[build.pk, "v1"]), blanks(page, "v1") | {"v1-unit": "cm", "base": before}
        )
        assert answer.status_code == 409
        assert design(build).values[0].unit == "ft"

    def test_a_file_of_readings_stands_in(self, signed_in, build, row):
        page = signed_in.get(reverse("values", args=[build.pk]))
        file = SimpleUploadedFile("log.csv", b"zeit;tide\n0;1,5\n60;2,5\n")
        signed_in.post(reverse("change-value", args=[build.pk, "v1"]), blanks(page, "v1") | {"base": base(build), "file": file})
        assert design(build).values[0].stand_in.replayed == ((0, 15), (60_000, 25))
        broken = SimpleUploadedFile("log.csv", b"0,1\n9,high\n")
        answer = signed_in.post(
            reverse("change-value", args=[build.pk, "v1"]), blanks(page, "v1") | {"base": base(build), "file": broken}
        )
        assert "line 2: tide is" in said(answer), said(answer)

    def test_a_value_in_use_is_not_deleted_without_a_word(self, signed_in, build, row):
        url = reverse("remove-value", args=[build.pk, "v1"])
        asked = signed_in.post(url, {"base": base(build)}, follow=True)
        assert "Delete it all the same" in asked.content.decode()
        assert len(design(build).values) == 2
        signed_in.post(url, {"base": base(build), "sure": "1"})
        assert [v.id for v in design(build).values] == ["v2"]
        found = signed_in.get(reverse("screen", args=[build.pk, row.pk])).content.decode()
        assert "follows a value that is not there any more" in found

    def test_what_screens_show_is_measured_in_station_4(self, build, row):
        shelf.forget(build)
        assert "Tide {0.0..6.8} m" in texts_of(build).splitlines()
        assert "Tide -- m" in texts_of(build).splitlines()


class TestOnTheScreen:
    def post(self, signed_in, row, act, **more):
        return signed_in.post(
            reverse("act-screen", args=[row.build_id, row.pk]), {"act": act, "base": again(row).head_id, **more}
        )

    def test_something_follows_a_value_and_stands_still_again(self, signed_in, row):
        self.post(signed_in, row, "follow", of="e3", what="color", value_id="v1")
        follow = again(row).record.element("e3").follows[1]
        assert (follow.what, follow.value, follow.map.by, follow.map.points) == ("color", "v1", "steps", ((0, 0), (34, 0)))
        self.post(signed_in, row, "unfollow", of="e3", what="color")
        assert len(again(row).record.element("e3").follows) == 1
        self.post(signed_in, row, "follow", of="e1", what="radius", value_id="v1")
        assert again(row).record.element("e1").follows == ()

    def test_a_bar_that_begins_to_follow_takes_its_value_s_range(self, signed_in, row):
        self.post(signed_in, row, "add", kind="bar")
        ident = again(row).record.elements[-1].id
        self.post(signed_in, row, "follow", of=ident, what="value", value_id="v1")
        bar = again(row).record.element(ident)
        assert (bar.low, bar.high) == (0, 68)

    def test_texts_are_written_with_names_and_kept_with_ids(self, signed_in, row):
        page = signed_in.get(reverse("screen", args=[row.build_id, row.pk]) + "?e=e1")
        form = page.context["form"]
        assert form["text"].value() == "Tide {tide} m"
        filled = {
            name: form[name].value() for name in form.fields if form[name].value() is not None and form[name].value() is not False
        }
        filled |= {"of": "e1", "base": again(row).head_id}
        url = reverse("change-screen", args=[row.build_id, row.pk])
        signed_in.post(url, filled | {"text": "At {tide:.0u}"})
        assert again(row).record.element("e1").text == "At {v1:.0u}"
        answer = signed_in.post(url, filled | {"text": "At {tied}", "base": again(row).head_id})
        assert "{tied} is no value; known are {tide}, {lamp}" in answer.content.decode().replace("&#x27;", "'")
        signed_in.post(
            reverse("change-value", args=[row.build_id, "v1"]),
            blanks(signed_in.get(reverse("values", args=[row.build_id])), "v1") | {"v1-name": "level", "base": base(row.build)},
        )
        assert "At {level:.0u}" in signed_in.get(reverse("screen", args=[row.build_id, row.pk])).content.decode()

    @pytest.mark.parametrize(
        ("points", "words"),
        [
            ("0.0=0", "2 or more are accepted"),
            ("a=1 2=3", "a number such as"),
            ("0.0:1", "reading=number"),
            ("0.0=ink 1.0=2", "whole number"),
        ],
    )
    def test_points_of_a_map_are_read_as_they_are_written(self, signed_in, row, points, words):
        self.post(signed_in, row, "follow", of="e3", what="x", value_id="v1")
        form = signed_in.get(reverse("screen", args=[row.build_id, row.pk]) + "?e=e3").context["form"]
        assert form["follow_x_points"].value() == "0.0=100  6.8=124"
        filled = {
            name: form[name].value() for name in form.fields if form[name].value() is not None and form[name].value() is not False
        }
        filled |= {"of": "e3", "base": again(row).head_id}
        url = reverse("change-screen", args=[row.build_id, row.pk])
        refused = signed_in.post(url, filled | {"follow_x_points": points})
        assert refused.status_code == 422
        assert words in said(refused), said(refused)
        signed_in.post(url, filled | {"follow_x_by": "steps", "follow_x_points": "3.0=50  1.0=90"})
        assert again(row).record.element("e3").follows[1].map.points == ((10, 90), (30, 50))

    def test_the_tray_shows_every_state_as_it_is_drawn(self, signed_in, row):
        page = signed_in.get(reverse("screen", args=[row.build_id, row.pk]))
        names = [state.name for _, state, _ in page.context["states"]]
        assert names[:5] == ["typical", "lowest", "highest", "widest", "no readings"]
        sheet = np.asarray(Image.open(BytesIO(signed_in.get(page.context["states_url"]).content)).convert("L"))
        assert sheet.shape == (64 * len(names), 128)
        number = names.index("highest")
        shown = signed_in.get(reverse("screen", args=[row.build_id, row.pk]) + "?state=highest")
        glass = np.asarray(Image.open(BytesIO(signed_in.get(shown.context["glass_url"]).content)).convert("L"))
        assert np.array_equal(sheet[64 * number : 64 * number + 64], glass)
        assert not np.array_equal(sheet[:64], glass)

    def test_readings_by_hand_are_shown_and_kept_as_a_state(self, signed_in, row):
        filled = {"state": "hand", "hand_v1": "6.8", "hand_v2": "yes", "base": again(row).head_id, "dx": "0", "dy": "0"}
        shown = signed_in.post(reverse("preview-screen", args=[row.build_id, row.pk]), filled, headers={"HX-Request": "true"})
        assert shown.status_code == 200
        refused = signed_in.post(
            reverse("preview-screen", args=[row.build_id, row.pk]), filled | {"hand_v1": "high"}, headers={"HX-Request": "true"}
        )
        assert "a number such as 7.5 is accepted" in refused.content.decode()
        signed_in.post(reverse("keep-moment", args=[row.build_id, row.pk]), filled | {"moment_name": "Spring tide"})
        (moment,) = design(row.build).moments
        assert (moment.name, moment.readings) == ("Spring tide", {"v1": 68, "v2": 1})
        assert "Spring tide" in signed_in.get(reverse("screen", args=[row.build_id, row.pk])).content.decode()
        signed_in.post(reverse("change-states", args=[row.build_id, row.pk]), {"drop_moment": moment.id, "base": base(row.build)})
        assert design(row.build).moments == ()

    def test_a_fix_mends_a_value(self, signed_in, row):
        page = signed_in.get(reverse("screen", args=[row.build_id, row.pk]))
        freezes = next(f for f in page.context["here_findings"] if f["id"] == "screen.freezes")
        changes = freezes["fix"]["changes"]
        signed_in.post(
            reverse("fix-screen", args=[row.build_id, row.pk]), {"changes": json.dumps(changes), "base": again(row).head_id}
        )
        value = design(row.build).values[0]
        assert (value.max_age_s, value.stale) == (3, "--")

    def test_the_zip_holds_what_living_screens_need(self, signed_in, row):
        answer = signed_in.get(reverse("take-screen", args=[row.build_id, row.pk, "zip"]))
        names = zipfile.ZipFile(BytesIO(answer.content)).namelist()
        assert {"values.h", "update.c", "maps.py", "show.h", "draw.c", "slip.c", "slip.py"} <= set(names)


class TestStates:
    def test_what_is_sent_from_one_state_to_another(self, signed_in, row):
        page = signed_in.get(reverse("states", args=[row.build_id, row.pk]) + "?from=lowest&to=highest")
        assert page.context["windows"]
        assert page.context["sent_bytes"] < page.context["frame_bytes"] == 1024
        assert [name for name, _ in page.context["elements"]] == ["“Height”", "“Level”", "“Lamp”"]
        same = signed_in.get(reverse("states", args=[row.build_id, row.pk]) + "?from=typical&to=typical")
        assert "Nothing changes between these two" in same.content.decode()

    def test_pairs_are_struck_out_and_let_be_again(self, signed_in, row):
        url = reverse("change-states", args=[row.build_id, row.pk])
        signed_in.post(url, {"first": "v1", "first_is": "lowest", "second": "v2", "second_is": "lowest", "base": base(row.build)})
        assert len(design(row.build).never) == 1
        refused = signed_in.post(
            url, {"first": "v1", "first_is": "lowest", "second": "v1", "second_is": "highest", "base": base(row.build)}
        )
        assert "two different values" in refused.content.decode()
        refused = signed_in.post(
            url, {"first": "v1", "first_is": "odd", "second": "v2", "second_is": "highest", "base": base(row.build)}
        )
        assert refused.status_code == 422
        signed_in.post(url, {"drop_never": "0", "base": base(row.build)})
        assert design(row.build).never == ()

    def test_all_screens_in_all_states_to_print(self, signed_in, row):
        words = signed_in.get(reverse("states-sheet", args=[row.build_id])).content.decode()
        assert words.count("<figure>") == len(signed_in.get(reverse("screen", args=[row.build_id, row.pk])).context["states"])


class TestPlay:
    def run(self, signed_in, row, query=""):
        return signed_in.get(reverse("play-run", args=[row.build_id, row.pk]) + f"?seconds=10{query}")

    def test_a_piece_of_its_life(self, signed_in, row):
        told = self.run(signed_in, row).json()
        assert len(told["frames"]) == 20  # a reading each half second
        assert told["frames"][0]["bytes"] == 1024
        glass = Image.open(BytesIO(__import__("base64").b64decode(told["frames"][0]["patches"][0]["png"].split(",")[1])))
        assert glass.size == (128, 64)
        assert "Readings missed" in told["words"]
        assert signed_in.get(reverse("play", args=[row.build_id, row.pk])).status_code == 200

    def test_unplugged_and_held(self, signed_in, row):
        assert len(self.run(signed_in, row, "&unplugged=v1").json()["frames"]) == 1
        assert len(self.run(signed_in, row, "&hand_v1=3.4").json()["frames"]) == 1
        assert "a number such as 7.5" in self.run(signed_in, row, "&hand_v1=high").content.decode()

    @pytest.mark.parametrize("seconds", ["0", "86401", "x", "-1"])
    def test_lengths_that_cannot_be(self, signed_in, row, seconds):
        answer = signed_in.get(reverse("play-run", args=[row.build_id, row.pk]) + f"?seconds={seconds}")
        assert "1 to 86,400 is accepted" in answer.content.decode()

    def test_a_program_sends_its_readings(self, signed_in, row):
        Feed.objects.create(build=row.build, values={"tide": "6.8", "lamp": "perhaps", "rain": "3"})
        told = signed_in.get(reverse("play-live", args=[row.build_id, row.pk])).json()
        assert told["readings"] == ["tide 6.8"]


class TestAnotherPanel:
    @pytest.mark.parametrize("panel", ["epaper-296x128-four-colour", "tft-240x240-round"])
    def test_no_element_is_lost_and_it_is_kept_as_a_build(self, signed_in, row, panel):
        page = signed_in.get(reverse("another-panel", args=[row.build_id]) + f"?panel={panel}&lengths=glass")
        (pair,) = page.context["pairs"]
        assert (pair["count"], pair["problem"]) == (3, "")
        shot = Image.open(BytesIO(signed_in.get(pair["url"]).content))
        assert shot.size == {"epaper-296x128-four-colour": (296, 128), "tft-240x240-round": (240, 240)}[panel]
        signed_in.post(reverse("keep-on-panel", args=[row.build_id]), {"panel": panel, "lengths": "glass", "name": "Moved"})
        made = Build.objects.get(name="Moved")
        screen = shelf.of_kind(made, ScreenDocument)[0].record
        assert [e.id for e in screen.elements] == ["e1", "e2", "e3"]
        assert screen.element("e3").x.plus == (231 if panel.startswith("epaper") else 188)
        assert shelf.of_kind(made, Lettering)[0].record.size_px != 14
        assert design_of(made).values == design_of(row.build).values
        kept = Image.open(
            BytesIO(
                signed_in.get(
                    signed_in.get(reverse("screen", args=[made.pk, shelf.of_kind(made, ScreenDocument)[0].pk])).context[
                        "glass_url"
                    ]
                ).content
            )
        )
        assert np.array_equal(np.asarray(kept.convert("RGB")), np.asarray(shot.convert("RGB")))

    def test_what_cannot_be_is_said(self, signed_in, row):
        url = reverse("another-panel", args=[row.build_id])
        assert "there is no such panel" in said(signed_in.get(url + "?panel=boat"))
        assert "are accepted" in signed_in.get(url + "?panel=tft-240x240-round&lengths=yards").content.decode()
        assert "no panel is chosen" in said(signed_in.post(reverse("keep-on-panel", args=[row.build_id]), {"panel": ""}))


class TestReadCode:
    SOURCE = 'static const uint8_t oar[2] = {0xFF, 0x81};\nfillBox(2, 3, 20, 9, 1);\nsay(4, 30, "Tide");\nputImage(60, 20, oar, 8, 2);\n'

    def test_what_names_mean_is_asked_and_a_screen_comes_of_it(self, signed_in, build, row):
        url = reverse("read-code", args=[build.pk])
        page = signed_in.post(url, {"source": self.SOURCE})
        kinds = {entry["name"]: entry["meaning"].kind for entry in page.context["rows"]}
        assert kinds == {"fillBox": "rectangle", "say": "nothing", "putImage": "picture"}
        answers = {"source": self.SOURCE, "name-1": "say", "kind-1": "text", "order-1": "x, y and a text", "y-1": "start"}
        page = signed_in.post(url, answers)
        assert page.context["rows"][1]["is_text"]
        signed_in.post(reverse("make-of-code", args=[build.pk]), answers | {"name": "From code"})
        shelf.forget(build)
        made = next(row for row in shelf.of_kind(build, ScreenDocument) if row.name == "From code")
        strip = shelf.of_kind(build, Strip)[0]
        assert [(e.kind, e.text, e.y.at, e.source) for e in made.record.elements] == [
            ("rectangle", "", "start", ""),
            ("text", "Tide", "start", ""),
            ("picture", "", "start", strip.ref),
        ]
        page = signed_in.get(reverse("screen", args=[build.pk, made.pk]))
        glass = np.asarray(Image.open(BytesIO(signed_in.get(page.context["glass_url"]).content)).convert("L"))
        lit = glass > glass.min()
        assert lit[20, 60:68].all()
        assert list(np.flatnonzero(lit[21, 60:68])) == [0, 7]
        assert lit[3:12, 2:22].all()

    def test_what_is_no_code_says_so(self, signed_in, build):
        assert (
            "No call was found"
            in signed_in.post(reverse("read-code", args=[build.pk]), {"source": "Low water at six."}).content.decode()
        )
        assert "nothing in the text is drawn yet" in said(
            signed_in.post(reverse("make-of-code", args=[build.pk]), {"source": "tide(1);"})
        )


class TestWhatIsInUse:
    def test_its_users_are_listed_and_another_takes_its_place(self, signed_in, build, row):
        first = shelf.of_kind(build, Lettering)[0]
        other = add_lettering(build=build, name="Large", plan=LetteringPlan(face="narrow", size_by="pixels", size_px=24))
        record = again(row).record
        elements = tuple(
            __import__("dataclasses").replace(e, lettering=first.ref) if e.kind == "text" else e for e in record.elements
        )
        documents.save(again(row), base=again(row).head_id, record=Screen(elements))
        url = reverse("delete-document", args=[build.pk, first.pk])
        asked = signed_in.post(url).content.decode()
        assert "It is used by" in asked
        assert "Slip" in asked
        signed_in.post(url, {"sure": "1", "instead": other.ref})
        assert again(row).record.element("e1").lettering == other.ref

    def test_what_was_begun_from_a_sentence_comes_back_into_it(self, signed_in, build, row):
        page = reverse("screen", args=[build.pk, row.pk]) + "?e=e1"
        other = add_lettering(build=build, name="Large", plan=LetteringPlan(face="narrow", size_by="pixels", size_px=24))
        there = signed_in.get(other.url + f"?back={page}")
        action = re.search(r'action="([^"]*take-made[^"]*)"', there.content.decode())[1].replace("&amp;", "&")
        signed_in.post(action, {"made": other.ref})
        assert again(row).record.element("e1").lettering == other.ref

    def test_deleting_says_what_stood_by_it(self, signed_in, row):
        record = again(row).record
        beside = Element(
            "e4",
            "rectangle",
            "Mark",
            Anchor("start", "e2", "end", 4),
            Anchor("start", "e2"),
            Size("pixels", 5),
            Size("pixels", 5),
        )
        documents.save(again(row), base=again(row).head_id, record=Screen((*record.elements, beside)))
        answer = signed_in.post(
            reverse("act-screen", args=[row.build_id, row.pk]),
            {"act": "remove", "of": "e2", "base": again(row).head_id},
            headers={"HX-Request": "true"},
        )
        assert "“Mark” stood by it, and stay where they are" in answer.content.decode()
        assert again(row).record.element("e4").x.to == "glass"


class TestHostPages:
    @pytest.mark.parametrize(("kind", "text"), [
        ("drawing", '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 128 64"><rect width="128" height="64" fill="white"/><text x="4" y="40" font-size="30">{tide}</text></svg>'),
        ("page", "<style>h1 { font-size: 40px; margin: 0 }</style><h1>{tide}</h1>"),
    ])  # fmt: skip
    def test_one_is_written_seen_in_its_states_kept_and_undone(self, signed_in, build, row, kind, text):
        begun = signed_in.post(reverse("add-host-page", args=[build.pk]), {"kind": kind, "name": "Morning"}, follow=True)
        document = begun.context["document"]
        url = reverse("host-page", args=[build.pk, document.pk])
        shown = signed_in.post(url, {"text": text, "method": "threshold"})
        assert not shown.context["kept"]
        assert [state.name for state in shown.context["states"]][:3] == ["typical", "lowest", "highest"]
        pictures = {
            key: signed_in.post(url, {"text": text, "method": "threshold", "state": key}).context["glass"]
            for key in ("lowest", "highest")
        }
        assert pictures["lowest"] != pictures["highest"]
        signed_in.post(
            reverse("change-host-page", args=[build.pk, document.pk]),
            {"text": text, "method": "threshold", "base": document.head_id},
        )
        assert signed_in.get(url).context["kept"]
        assert signed_in.get(reverse("take-host-page", args=[build.pk, document.pk])).content.decode() == text

    @pytest.mark.parametrize(
        ("text", "words"),
        [
            ("<script>x</script>", "scripts are not run"),
            ("<img src=http://a.example/>", "nothing is fetched"),
            ("<div>" * 300, "nests more than 200"),
            ("{tide:noon}", "a number is shown as"),
        ],
    )
    def test_what_wants_more_is_refused_and_nothing_is_lost(self, signed_in, build, row, text, words):
        begun = signed_in.post(reverse("add-host-page", args=[build.pk]), {"kind": "page"}, follow=True)
        document = begun.context["document"]
        url = reverse("host-page", args=[build.pk, document.pk])
        shown = signed_in.post(url, {"text": text, "method": "threshold"})
        assert words in said(shown)
        if words != "a number is shown as":
            refused = signed_in.post(
                reverse("change-host-page", args=[build.pk, document.pk]),
                {"text": text, "method": "threshold", "base": document.head_id},
            )
            assert refused.status_code == 422
        assert "Slipway" in signed_in.get(url).context["page"].text

    def test_all_screens_in_one_file(self, signed_in, build, row):
        from mosaic.screens import bundle

        screens, device, kit = bundle.read(signed_in.get(reverse("take-bundle", args=[build.pk])).content)
        assert (list(screens), device.size, [v.name for v in kit.values.values()]) == (["Slip"], (128, 64), ["tide", "lamp"])
