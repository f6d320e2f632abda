"""A station is a folder and a line: a made-up one is found on the pages, in the budgets, in the files, in a copy."""

import io
import zipfile
from importlib import reload

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db.models import F
from django.urls import clear_url_caches, reverse

import workshop.stations as seam
import workshop.urls
from mosaic.device.notes import Texts
from mosaic.device.setup_card import MemoryPart, SetupCard
from tests.conftest import png_of
from tests.mosaic.strips.test_strips import SHEET
from tests.reading import base
from workshop.builds.models import Build, SetupDocument
from workshop.builds.services import set_setup_card
from workshop.documents import kinds, services
from workshop.documents.services import add
from workshop.jobs.models import Job
from workshop.lettering.documents import TextsDocument
from workshop.pictures.documents import Strip
from workshop.stations.overview import overview_of

FOLDER = "tests.workshop.made_up"


@pytest.fixture
def made_up(monkeypatch):
    """The list with a line more, as a developer would write it."""
    monkeypatch.setattr(seam, "STATIONS", (*seam.STATIONS, FOLDER))
    seam.stations.cache_clear()
    seam.register()
    reload(workshop.urls)
    clear_url_caches()
    yield seam.stations()[-1]
    kinds.forget(seam.stations()[-1].documents)
    monkeypatch.undo()
    seam.stations.cache_clear()
    reload(workshop.urls)
    clear_url_caches()


@pytest.fixture
def buoy(made_up, build):
    from tests.workshop.made_up.documents import Buoy, BuoyPlan

    return add(Buoy, build=build, name="Outer buoy", record=BuoyPlan(bells=3))


def test_its_stone_and_page_are_there(made_up, signed_in, build):
    page = signed_in.get(f"/builds/{build.pk}/buoys/")
    assert page.status_code == 200
    stone = page.context["stones"][-1]
    assert (stone.number, stone.name, stone.here, stone.words) == (9, "Buoys", True, "here")
    bench = signed_in.get("/").content.decode()
    assert f'href="/builds/{build.pk}/buoys/"' in bench


def test_its_document_counts_in_budgets_and_findings(buoy, signed_in, build):
    overview = overview_of(Build.objects.get())
    flash = overview.budgets[0]
    assert [(part.name, part.value) for part in flash.parts if part.name == "buoys"] == [("buoys", 300)]
    (placed,) = [placed for placed in overview.findings if placed.finding["id"] == "buoy.too-loud"]
    assert (placed.item.name, placed.station.name) == ("Outer buoy", "Buoys")
    bench = signed_in.get("/").content.decode()
    assert "Three bells are two too many" in bench
    assert "Look at it in Buoys" in bench


def test_its_files_are_made_with_all_others(buoy, signed_in, picture):
    signed_in.post(f"/builds/{picture.build_id}/files/")
    job = Job.objects.get(kind="files")
    assert job.state == Job.State.DONE, job.message
    names = zipfile.ZipFile(io.BytesIO(bytes(job.result))).namelist()
    assert {"outer_buoy.txt", "slip.h", "slip.bin", "slip.png"} == set(names)


def test_it_comes_along_to_a_copy(buoy, signed_in, build):
    page = signed_in.get("/builds/new/", {"from": f"build-{build.pk}"})
    assert "1 buoy, each as it is now" in page.content.decode()
    signed_in.post("/builds/new/", {"name": "Second", "from": f"build-{build.pk}", "along_parts": "1", "along_contents": "1"})
    (copied,) = type(buoy).objects.of(Build.objects.get(name="Second"))
    assert (copied.name, copied.record.bells) == ("Outer buoy", 3)


def test_its_kind_has_history_pages_and_files(buoy, signed_in, build, upload):
    at = f"/builds/{build.pk}/documents/{buoy.pk}/"
    signed_in.post(f"{at}rename/", {"name": "Inner buoy"})
    signed_in.post(f"{at}undo/")
    assert type(buoy).objects.get().name == "Outer buoy"
    data = signed_in.get(f"{at}take/").content
    signed_in.post(f"{at}delete/")
    assert not type(buoy).objects.exists()
    signed_in.post(f"/builds/{build.pk}/documents/bring/", {"file": upload(data, "buoy.json")})
    assert type(buoy).objects.of(build).get().record.bells == 3


def test_its_long_work_is_carried_out(buoy, signed_in, build):
    from workshop.jobs import services as jobs

    job = jobs.start(build=build, owner=build.owner, kind="ring", total=1)
    job.refresh_from_db()
    assert (job.state, bytes(job.result)) == (Job.State.DONE, b"ding")


def test_without_its_line_nothing_of_it_is_left(signed_in, build):
    assert signed_in.get(f"/builds/{build.pk}/buoys/").status_code == 404
    assert [station.number for station in seam.stations()] == [1, 2, 3, 4, 5, 6, 7, 8]


class TestKeptAs:
    """As an array of the program or as a file: chosen for each, or for all of a build."""

    def parts(self, build):
        build = Build.objects.get(pk=build.pk)
        flash = next(b for b in overview_of(build).budgets if b.slug == "flash")
        return {part.name: part.is_file for part in flash.parts if part.name != "program"}

    def test_each_and_all(self, signed_in, picture):
        build, address = picture.build, reverse("keep-document-as", args=[picture.build_id, picture.pk])
        assert self.parts(build) == {"pictures": False}
        signed_in.post(address, {"kept_as": "file"})
        assert self.parts(build) == {"pictures as files": True}
        signed_in.post(address, {"kept_as": ""})
        Build.objects.update(kept_as="file", revision=F("revision") + 1)
        assert self.parts(build) == {"pictures as files": True}
        signed_in.post(address, {"kept_as": "array"})
        assert self.parts(build) == {"pictures": False}
        assert signed_in.post(address, {"kept_as": "tape"}).status_code == 422

    def test_what_is_no_picture_is_an_array_always(self, signed_in, build):
        texts = add(TextsDocument, build=build, name="Texts", record=Texts())
        assert signed_in.post(reverse("keep-document-as", args=[build.pk, texts.pk]), {"kept_as": "file"}).status_code == 422

    def test_files_must_fit_their_part(self, signed_in, picture):
        build = picture.build
        services.keep_as(picture, "file")
        needed = build.to_device().passport.frame_bytes
        ids = {}
        for size in (needed, needed - 1, 0):
            memory = (MemoryPart("program", "program", 300_000), *((MemoryPart("tables", "files", size),) if size else ()))
            row = Build.objects.get(pk=build.pk)
            set_setup_card(build=row, card=SetupCard(memory=memory), base=base(row, SetupDocument))
            found = overview_of(Build.objects.get(pk=build.pk)).findings_on("setup-card")
            ids[size] = [finding["what"] for finding in found if finding["id"] == "setup-card.files-too-large"]
        assert ids[needed] == []
        assert ids[needed - 1] == ["Files take 4.6 KiB, the part for files has 4.6 KiB"]
        assert ids[0] == ["Files take 4.6 KiB, no part of the flash is set aside for files"]

    def test_a_copy_is_kept_likewise(self, picture):
        services.keep_as(picture, "file")
        assert services.duplicate(picture).kept_as == "file"


class TestArrayForm:
    def test_it_is_chosen_on_the_page_and_all_files_follow(self, signed_in, picture):
        build, page = picture.build, reverse("picture", args=[picture.build_id, picture.pk])
        take = reverse("take", args=[build.pk, picture.pk, "bin"])
        before = signed_in.get(take).content
        answer = signed_in.post(
            reverse("set-array-form", args=[build.pk]), {"array_form": "rows-low"}, HTTP_REFERER=f"http://testserver{page}"
        )
        assert answer["Location"].endswith(page)
        after = signed_in.get(take).content
        reverse_bits = bytes(int(f"{byte:08b}"[::-1], 2) for byte in before)
        assert after == reverse_bits != before
        shown = signed_in.get(page).content.decode()
        assert shown.count("left pixel at the low end, row by row") == 2  # at the files, and in the recipe's last step
        signed_in.post(reverse("set-array-form", args=[build.pk]), {"array_form": "panel"})
        assert signed_in.get(take).content == before
        assert Build.objects.get().sending is None

    @pytest.mark.parametrize("name", ["words-low", "", "other"])
    def test_what_does_not_go_with_the_panel(self, signed_in, build, name):
        assert signed_in.post(reverse("set-array-form", args=[build.pk]), {"array_form": name}).status_code == 422
        assert Build.objects.get().sending is None

    def test_strips_follow_it(self, signed_in, build):
        sheet = np.repeat((SHEET * 255)[..., None], 3, axis=2).astype(np.uint8)
        signed_in.post(reverse("add-strip", args=[build.pk]), {"sheet": SimpleUploadedFile("a.png", png_of(sheet))})
        (row,) = Strip.objects.filter(build=build)

        def first() -> bytes:
            data = signed_in.get(reverse("take-strip", args=[build.pk, row.pk])).content
            archive = zipfile.ZipFile(io.BytesIO(data))
            return archive.read(next(name for name in archive.namelist() if name.endswith(".bin")))

        before = first()
        signed_in.post(reverse("set-array-form", args=[build.pk]), {"array_form": "rows-low"})
        assert first() == bytes(int(f"{byte:08b}"[::-1], 2) for byte in before) != before
