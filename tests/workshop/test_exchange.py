"""Exchanging parts: nothing is lost unasked, what still applies stays, and one step leads back."""

from dataclasses import replace

import pytest
from django.urls import reverse

from mosaic.device.notes import PatchPhoto, Reading, Readings, StageNote, StageNotes, TouchReadings
from tests.reading import kept, single, wiring
from workshop.bringup.documents import PatchPhotoDocument, StageNotesDocument, TouchReadingsDocument
from workshop.builds.models import Build, WiringDocument
from workshop.builds.services import set_wiring, start_build
from workshop.documents.services import add, save_single
from workshop.panelwork.documents import ReadingsDocument, device_checks

TOUCH = "300 400\n3700 400\n300 3600\n3700 3600\n2000 2000\n"


@pytest.fixture
def build(maker):
    """A build with everything that speaks of its parts."""
    made = start_build(owner=maker, name="Barometer", panel="tft-320x240-touch", board="wireless", link_kind="spi")
    plan = replace(made.to_device().wiring, program="#define TFT_CS 15")
    set_wiring(build=made, plan=plan, base=0)
    first = device_checks(made.to_device())[0].id
    save_single(ReadingsDocument, build=made, base=0, record=Readings({first: Reading(0.4, "2026-03-14")}))
    save_single(StageNotesDocument, build=made, base=0, record=StageNotes({"power": StageNote(True, "2026-03-14", 3.3)}))
    save_single(TouchReadingsDocument, build=made, base=0, record=TouchReadings(TOUCH))
    add(PatchPhotoDocument, build=made, name="Photo", record=PatchPhoto())
    Build.objects.filter(pk=made.pk).update(sending={"sent_share": 0.5, "form": 1}, clock_hz=20_000_000)
    return Build.objects.get()


KINDS = (WiringDocument, ReadingsDocument, StageNotesDocument, PatchPhotoDocument, TouchReadingsDocument)


def state(build: Build) -> dict:
    """Everything that an exchange could lose."""
    row = Build.objects.get(pk=build.pk)
    fields = {
        f.attname: getattr(row, f.attname)
        for f in Build._meta.concrete_fields
        if f.name not in ("revision", "content", "changed")
    }
    return {**fields, **{kind.KIND: single(row, kind) for kind in KINDS}}


def exchange(client, build, **chosen):
    post = {"panel": build.passport_slug, "board": build.board_slug, "link_kind": build.link_kind, **chosen}
    return client.post(reverse("exchange-parts", args=[build.pk]), post, follow=True)


def test_equal_parts_change_nothing(signed_in, build):
    before, revision = state(build), Build.objects.get().revision
    answer = exchange(signed_in, build)
    assert "Nothing was changed" in answer.content.decode()
    assert (state(build), Build.objects.get().revision) == (before, revision)


def test_what_would_be_lost_is_asked_about_and_nothing_is_done(signed_in, build):
    before = state(build)
    page = exchange(signed_in, build, panel="tft-240x240-round").content.decode()
    for words in ("1 tick of the stages", "readings of the touch panel", "photo of the patch card", "noted of the program"):
        assert words in page
    assert state(build) == before


def test_another_board_leaves_what_is_of_the_panel(signed_in, build):
    exchange(signed_in, build, board="wireless-large", sure="1")
    row = Build.objects.get()
    assert (row.board_slug, row.clock_hz, row.sending["sent_share"]) == ("wireless-large", 20_000_000, 0.5)
    assert single(row, TouchReadingsDocument) == TouchReadings(TOUCH)
    assert single(row, PatchPhotoDocument) == PatchPhoto()
    assert single(row, StageNotesDocument) is None
    assert wiring(row).program == "#define TFT_CS 15"


def test_a_passport_that_was_measured_stays_with_its_panel(signed_in, build):
    plain = {**build.passport, "power": {**build.passport["power"], "full_on_ma": 21.0}}
    Build.objects.update(passport=plain)
    exchange(signed_in, build, board="wireless-large", sure="1")
    assert Build.objects.get().to_device().passport.power.full_on_ma == 21.0
    page = exchange(signed_in, Build.objects.get(), panel="tft-240x240-round").content.decode()
    assert "power.full_on_ma" in page


def test_undo_brings_all_of_it_back(signed_in, build):
    before = state(build)
    page = exchange(signed_in, build, panel="mono-oled-128x64", board="small", link_kind="i2c", sure="1")
    row = Build.objects.get()
    assert (row.passport_slug, row.board_slug, row.link_kind, row.sending) == ("mono-oled-128x64", "small", "i2c", None)
    assert not kept(row, TouchReadingsDocument).exists()
    undo = reverse("undo-exchange", args=[build.pk, row.exchanges.get().pk])
    assert f'action="{undo}"' in page.content.decode()
    signed_in.post(undo)
    assert state(build) == before
    assert Build.objects.get().revision > row.revision
    assert signed_in.post(undo).status_code == 422


def test_undo_after_another_change_would_lose_that(signed_in, build):
    exchange(signed_in, build, board="wireless-large", sure="1")
    row = Build.objects.get()
    signed_in.post(reverse("lay-build", args=[build.pk]), {"rotation": "180"})
    answer = signed_in.post(reverse("undo-exchange", args=[build.pk, row.exchanges.get().pk]))
    assert answer.status_code == 409
    assert (Build.objects.get().rotation, Build.objects.get().board_slug) == (180, "wireless-large")
