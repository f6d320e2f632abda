"""The log of a build: what is written, what is refused, what stations write by themselves, and factors of measurements."""

import io
from datetime import timedelta

import numpy as np
import pytest
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from mosaic.device.setup_card import SetupCard, Tool
from tests.conftest import gradient, png_of
from tests.mosaic.measured.test_measured import CORNERS, photographed, screen
from workshop.builds.models import Build
from workshop.builds.services import set_setup_card
from workshop.handover.frames import feed_of, report
from workshop.journal import services as journal
from workshop.journal.models import LogEntry
from workshop.log.documents import CalibrationDocument
from workshop.log.views import predictions_of
from workshop.stations.overview import overview_of


def at(name, build, *more):
    return reverse(name, args=[build.pk, *more])


def entries(build):
    return list(LogEntry.objects.filter(build=build))


class TestWriting:
    def test_a_note_with_its_tags(self, signed_in, build):
        signed_in.post(at("add-entry", build), {"kind": "note", "text": "Hung under the eaves.", "tags": "#Place eaves, place"})
        (one,) = entries(build)
        assert (one.kind, one.text, one.tag_list, one.by_itself) == ("note", "Hung under the eaves.", ["place", "eaves"], False)
        assert one.state.startswith("e-paper 296x128, black and white; Low-power board, 32-bit; spi, 4,000,000 Hz; device ")
        page = signed_in.get(at("log", build)).content.decode()
        assert "1 entry" in page.lower()
        assert "Hung under the eaves." in page

    def test_a_reading_makes_a_measurement_with_what_was_predicted(self, signed_in, build):
        foretold = predictions_of(overview_of(build))["frame-time"]
        post = {"kind": "note", "quantity": "frame-time", "reading": "2,1 s", "instrument": "stop watch", "conditions": "20 °C"}
        signed_in.post(at("add-entry", build), post)
        (one,) = entries(build)
        assert (one.kind, one.value, one.predicted) == ("measurement", 2100.0, pytest.approx(foretold))
        page = signed_in.get(at("log", build)).content.decode()
        assert "2.1 s" in page
        assert "stop watch" in page

    def test_a_trial_keeps_wires_and_set_up_card_as_they_were(self, signed_in, build):
        set_setup_card(build=build, card=SetupCard((Tool("display library", "1.4.0"),)), base=0)
        signed_in.post(at("propose-wiring", build))
        signed_in.post(at("add-entry", build), {"worked": "no", "text": "White."})
        one = LogEntry.objects.get(build=build, by_itself=False)
        assert (one.kind, one.worked) == ("trial", False)
        assert "display library 1.4.0" in one.setup.splitlines()
        assert any(line.startswith("BUSY to ") for line in one.setup.splitlines())
        page = signed_in.get(at("log-entry", build, one.pk)).content.decode()
        assert "display library 1.4.0" in page

    @pytest.mark.parametrize(
        ("post", "words"),
        [
            ({"quantity": "voltage", "reading": "3 furlongs"}, "'furlongs' is no unit of voltage; V, mV are accepted"),
            ({"quantity": "gravity", "reading": "3 V"}, "quantity is named 'gravity'"),
            ({"kind": "measurement", "quantity": "voltage", "reading": ""}, "is no voltage"),
            ({"text": "x", "made": "2999-01-01"}, "is still to come"),
            ({"text": "x", "made": "1999-12-31T23:59"}, "a year from 2000 on is accepted"),
            ({"text": "x", "made": "yesterday"}, "is no time"),
            ({"text": ""}, "the entry says nothing"),
            ({"text": "x", "kind": "song"}, "is no kind of entry"),
            ({"text": "x", "tags": " ".join(f"t{n}" for n in range(13))}, "13 tags"),
            ({"text": "y" * 20_001}, "20,001 characters; up to 20,000 are accepted"),
            ({"text": "x", "instrument": "y" * 81}, "up to 80 are accepted"),
        ],
    )
    def test_what_is_refused_stays_in_its_field(self, signed_in, build, post, words):
        answer = signed_in.post(at("add-entry", build), {"conditions": "keep me", **post})
        page = answer.content.decode().replace("&#x27;", "'")
        assert answer.status_code == 422
        assert words.lower() in page.lower()
        assert "keep me" in page
        assert entries(build) == []

    def test_bounds_are_let_pass(self, signed_in, build):
        signed_in.post(
            at("add-entry", build), {"text": "y" * 20_000, "made": "2000-01-01", "tags": " ".join(f"t{n}" for n in range(12))}
        )
        (one,) = entries(build)
        assert (len(one.text), len(one.tag_list), one.made.year) == (20_000, 12, timezone.localtime(one.made).year)

    def test_two_megabytes_of_text_are_refused_in_words(self, signed_in, build):
        answer = signed_in.post(at("add-entry", build), {"text": "y" * 2_000_000})
        assert (answer.status_code, entries(build)) == (422, [])
        assert "2,000,000 characters" in answer.content.decode()

    def test_scripts_are_only_text(self, signed_in, build):
        signed_in.post(
            at("add-entry", build), {"text": "<script>alert(1)</script>", "tags": "<b>", "page": "javascript:alert(1)"}
        )
        assert entries(build)[0].page == ""
        for page in (at("log", build), at("book", build), f"{reverse('search')}?q=alert"):
            text = signed_in.get(page).content.decode()
            assert "<script>alert" not in text
            assert "&lt;script&gt;alert(1)" in text

    def test_changed_deleted_and_brought_back(self, signed_in, build):
        one = journal.write(build, "measurement", "first", quantity="frame-time", value=5.0, predicted=4.0)
        signed_in.post(
            at("change-entry", build, one.pk),
            {"kind": "measurement", "text": "second", "quantity": "frame-time", "reading": "6 ms"},
        )
        one.refresh_from_db()
        assert (one.text, one.value, one.predicted) == ("second", 6.0, 4.0)
        assert journal.found_in(LogEntry.objects.all(), "second").get() == one
        wrong = signed_in.post(at("change-entry", build, one.pk), {"kind": "note", "text": ""})
        assert wrong.status_code == 422
        signed_in.post(at("delete-entry", build, one.pk))
        assert entries(build) == []
        signed_in.post(reverse("bring-back", args=["journal.logentry", one.pk]))
        assert entries(build) == [one]

    def test_the_line_of_a_page_knows_what_is_measured_there(self, signed_in, build):
        page = signed_in.get(at("quick-entry", build), {"page": at("energy", build)}).content.decode()
        assert 'value="energy-a-day" selected' in page
        assert f'name="page" value="{at("energy", build)}"' in page
        page = signed_in.get(at("quick-entry", build), {"page": at("bringup-faults", build)}).content.decode()
        assert 'value="trial" selected' in page
        assert 'name="page" value=""' in signed_in.get(at("quick-entry", build), {"page": "//elsewhere"}).content.decode()
        done = signed_in.post(at("add-entry", build), {"text": "quick"}, headers={"HX-Request": "true"})
        assert "Written down" in done.content.decode()

    def test_one_running_page_or_a_heading_each_day(self, signed_in, build):
        now = timezone.now()
        for days in (0, 0, 3):
            journal.write(build, text=f"day {days}", made=now - timedelta(days=days))
        assert signed_in.get(at("log", build)).content.decode().count("fm-day") == 0
        assert signed_in.get(at("log", build), {"by": "day"}).content.decode().count('<h3 class="fm-day"') == 2


class TestPhotos:
    def photo(self, **options):
        return io.BytesIO(png_of(gradient(300, 2000), format="JPEG", **options))

    def test_a_photo_is_scaled_and_forgets_where_it_was_taken(self, signed_in, build, upload):
        exif = Image.Exif()
        exif[0x8825] = {1: "N", 2: (51.0, 2.0, 3.0)}
        exif[0x010F] = "made by"
        file = upload(self.photo(exif=exif).getvalue(), "slip.jpg")
        signed_in.post(at("add-entry", build), {"text": "", "photo": file})
        (one,) = entries(build)
        assert one.kind == "photo"
        shown = signed_in.get(at("entry-photo", build, one.pk)).content
        with Image.open(io.BytesIO(shown)) as image:
            assert (image.size, image.format, dict(image.getexif())) == ((1600, 240), "PNG", {})

    @pytest.mark.parametrize(
        ("data", "words"),
        [
            (b"\0\0\0\x18ftypheic" + bytes(40), "HEIC, which cannot be read here"),
            (b"no picture", "x.heic"),
            (b"", "empty"),
        ],
    )
    def test_what_is_no_photo(self, signed_in, build, upload, data, words):
        answer = signed_in.post(at("add-entry", build), {"text": "keep me", "photo": upload(data, "x.heic")})
        assert (answer.status_code, entries(build)) == (422, [])
        assert words.lower() in answer.content.decode().lower()
        assert "keep me" in answer.content.decode()

    def test_sixty_megapixels_are_refused_in_words(self, signed_in, build, upload):
        out = io.BytesIO()
        Image.new("1", (10_000, 6_000)).save(out, "PNG")
        answer = signed_in.post(at("add-entry", build), {"text": "keep me", "photo": upload(out.getvalue(), "huge.png")})
        assert (answer.status_code, entries(build)) == (422, [])
        assert "40 million pixels" in answer.content.decode()
        assert "keep me" in answer.content.decode()


class TestByThemselves:
    def test_stages_checks_mends_and_devices(self, signed_in, build):
        signed_in.post(at("propose-wiring", build))
        signed_in.post(reverse("bringup-keep", args=[build.pk, "power"]), {"done": "1", "reading": "3.3"})
        assert entries(build)[0].text.startswith("Power")
        page = signed_in.get(at("check-sheet", build))
        check = page.context["lines"][0].check
        signed_in.post(at("check-sheet", build), {check.id: "1"})
        one = entries(build)[0]
        assert (one.subject, one.worked, one.by_itself) == ("Check sheet", check.holds(1), True)
        assert f"1 {check.unit}, expected {check.expected}" in one.text
        feed = feed_of(build)
        report(feed, {"battery_v": 3.7, "signal_dbm": -60})
        report(feed, {"battery_v": 3.6, "temperature_c": 4})
        told = {e.quantity: e.value for e in entries(build) if e.subject == "Frame feed"}
        assert told == {"voltage": 3.7, "temperature": 4.0}  # the second voltage came within six hours
        LogEntry.objects.filter(quantity="voltage").update(made=timezone.now() - timedelta(hours=6, minutes=1))
        report(feed, {"battery_v": 3.5})
        assert LogEntry.objects.filter(build=build, quantity="voltage").count() == 2

    def test_a_full_log_stops_nothing(self, build, monkeypatch):
        monkeypatch.setattr(journal, "MOST_ENTRIES", 1)
        journal.note(build, "note", "one")
        journal.note(build, "note", "two")
        assert len(entries(build)) == 1
        with pytest.raises(Exception, match="which is the most"):
            journal.write(build, text="three")


class TestMeasured:
    def measured(self, build, *pairs):
        for n, (value, predicted) in enumerate(pairs):
            made = timezone.now() - timedelta(days=n)
            journal.write(build, "measurement", quantity="frame-time", value=value, predicted=predicted, made=made)

    def test_a_factor_is_taken_into_the_build_and_left_again(self, signed_in, build):
        """p 10, 20, 30 and m 12, 21, 33: 1530 / 1400, worked in the tests of the core."""
        self.measured(build, (12, 10), (21, 20), (33, 30))
        before = next(one for one in overview_of(build).budgets if one.slug == "frame").value
        page = signed_in.get(at("measured", build)).content.decode()
        assert "1.093" in page
        assert "1.040" in page
        assert "1.145" in page
        signed_in.post(at("take-factor", build), {"quantity": "frame-time", "base": 0})
        build = Build.objects.get(pk=build.pk)
        frame = next(one for one in overview_of(build).budgets if one.slug == "frame")
        assert frame.value == pytest.approx(before * 1530 / 1400, rel=1e-5)
        assert frame.parts[-1].basis == "measured"
        assert predictions_of(overview_of(build))["frame-time"] == pytest.approx(before)  # a prediction is never that of itself
        row = CalibrationDocument.objects.of(build.pk).get()
        signed_in.post(at("take-factor", build), {"quantity": "frame-time", "base": row.head_id, "leave": "1"})
        build = Build.objects.get(pk=build.pk)
        assert next(one for one in overview_of(build).budgets if one.slug == "frame").value == pytest.approx(before)

    def test_an_outlier_is_named(self, signed_in, build):
        self.measured(build, (10, 10), (10.2, 10), (9.8, 10), (10.1, 10), (30, 10))
        page = signed_in.get(at("measured", build)).content.decode()
        assert "Left out, as far from the others" in page
        assert ">30 ms of" in page
        assert page.count("is-far") == 1

    def test_what_cannot_be_taken(self, signed_in, build):
        journal.write(build, "measurement", quantity="voltage", value=3.7)
        page = signed_in.get(at("measured", build)).content.decode()
        assert "there is no factor" in page
        for slug in ("voltage", "frame-time", "gravity"):
            assert signed_in.post(at("take-factor", build), {"quantity": slug, "base": 0}).status_code == 422
        self.measured(build, (210, 10))
        assert signed_in.post(at("take-factor", build), {"quantity": "frame-time", "base": 0}).status_code == 422


class TestGlassPhoto:
    @pytest.fixture
    def shown(self, signed_in, maker, monkeypatch):
        from mosaic.build_file import write
        from tests.mosaic.handover.made_up import build as made_build
        from workshop.log import photo_views
        from workshop.stations.build_file import bring_build

        file = made_build("mono-oled-128x64")
        build = bring_build(write(file.build, file.files), owner=maker)
        monkeypatch.setattr(photo_views, "_shown_in", lambda screen, key: screen_64())
        return build

    def post(self, signed_in, build, upload, **more):
        page = signed_in.get(at("glass-photo", build))
        ref = page.context["screens"][0].ref
        corners = {f"{axis}{n}": str(value) for n, place in enumerate(CORNERS) for axis, value in zip("xy", place, strict=True)}
        return signed_in.post(at("read-glass-photo", build), {"screen": ref, "state": "", **corners, **more})

    def test_wrong_pixels_and_a_dead_row_are_told_and_kept(self, signed_in, shown, upload):
        wrong = screen_64().copy()
        wrong[12] = wrong[0]
        wrong[26, 10] = (235, 240, 245)
        photo = upload(png_of(photographed(wrong)), "glass.png")
        answer = self.post(signed_in, shown, upload, photo=photo)
        page = answer.content.decode()
        assert answer.status_code == 200
        assert "Dark rows: 12." in page
        assert "(10, 26)" in page
        kept = answer.context["kept"]
        self.post(signed_in, shown, upload, kept=kept, keep="1")
        one = entries(shown)[0]
        assert (one.kind, one.photo_id) == ("photo", kept)
        assert "1 row stays dark" in one.text

    def test_corners_come_after_the_photo(self, signed_in, shown, upload):
        photo = upload(png_of(photographed(screen_64())), "glass.png")
        answer = signed_in.post(at("read-glass-photo", shown), {"photo": photo, "screen": "", "x0": ""})
        assert "mark the four corners" in answer.content.decode()
        kept = answer.context["kept"]
        for more, words in (
            ({"x0": "left"}, "has no place"),
            ({"screen": "screen-0"}, "none of the build"),
            ({"x1": "0"}, "clockwise"),
        ):
            wrong = self.post(signed_in, shown, upload, kept=kept, **more)
            assert wrong.status_code == 422
            assert words in wrong.content.decode().replace("&#x27;", "'")
        assert "No photo was chosen" in self.post(signed_in, shown, upload).content.decode()


def screen_64() -> np.ndarray:
    """What the photos are of, instead of the build's own screen."""
    return screen()


def test_a_build_without_screens_is_led_on(signed_in, build):
    assert "There is no screen" in signed_in.get(at("glass-photo", build)).content.decode()


@pytest.mark.parametrize(("minutes", "is_told"), [(-1, False), (1, False), (3, True)])
def test_a_clock_that_was_set_back_is_told(signed_in, build, minutes, is_told):
    Build.objects.filter(pk=build.pk).update(changed=timezone.now() + timedelta(minutes=minutes))
    page = signed_in.get(reverse("log", args=[build.pk])).content.decode()
    assert ("the clock was set back, or was wrong before" in page) == is_told
    Build.objects.filter(pk=build.pk).update(changed=timezone.now() - timedelta(days=1))
    entry = journal.write(build, text="from tomorrow")
    LogEntry.objects.filter(pk=entry.pk).update(created=timezone.now() + timedelta(minutes=minutes))
    page = signed_in.get(reverse("log", args=[build.pk])).content.decode()
    assert ("the clock was set back, or was wrong before" in page) == is_told
