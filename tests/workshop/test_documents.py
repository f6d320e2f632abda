"""What holds for documents of every kind: one history, two tabs, a name, a place, a copy, a file, deleting and coming back."""

import json
import re
from dataclasses import replace

import jsonschema
import pytest

from mosaic.animation.making import AnimationPlan
from mosaic.behaviour.behaviour import Area, Behaviour
from mosaic.behaviour.recording import Reached, Recording
from mosaic.device.notes import PatchPhoto, Reading, Readings, StageNote, StageNotes, Texts, TouchReadings
from mosaic.device.setup_card import SetupCard, Tool
from mosaic.errors import BadDescriptionError, BadValueError, MosaicError, UnknownNameError
from mosaic.handover.layout import FileLayout
from mosaic.hosted.page import HostPage
from mosaic.lettering.faces import FACES
from mosaic.lettering.plan import LetteringPlan, PictureUse
from mosaic.measured.calibration import Calibration
from mosaic.reduce.recipe import Recipe
from mosaic.refresh.day.program import Program
from mosaic.refresh.energy.plan import EnergyPlan
from mosaic.refresh.measuring.record import Benchmark
from mosaic.refresh.paper.ghost import GhostModel
from mosaic.refresh.wear.remedies import WearPlan
from mosaic.screens.screen import Design, Element, Screen, Style
from mosaic.segments.figure import FigurePlan
from mosaic.serial.plan import SerialPlan
from mosaic.strips.cutting import StripPlan
from mosaic.wiring.plan import PinPlan
from tests.conftest import gradient, png_of
from tests.test_docs import FORMATS
from tests.workshop.conftest import PageClient
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.documents import services, shelf, transfer
from workshop.documents.kinds import all_kinds, kind_of
from workshop.documents.models import Document, Original, Revision
from workshop.errors import ConflictError
from workshop.stations import stations

# For each kind two records that differ, and the file it is made of, if any.
EXAMPLES = {
    "picture": (Recipe(), Recipe(exposure=0.5), ("slip.png", png_of(gradient(30, 60)))),
    "strip": (StripPlan(columns=2), StripPlan(columns=4), ("dials.png", png_of(gradient(8, 32)))),
    "figure": (FigurePlan(width=20), FigurePlan(width=24), None),
    "animation": (AnimationPlan(), AnimationPlan(every=2), ("boat.png", png_of(gradient(8, 9)))),
    "lettering": (LetteringPlan(), LetteringPlan(size_px=20), ("mono.woff2", FACES["mono"].data)),
    "wiring": (PinPlan(), PinPlan(shifter=True), None),
    "setup-card": (SetupCard(), SetupCard(tools=(Tool("build tool"),)), None),
    "readings": (Readings(), Readings({"rail-VCC": Reading(3.3, "2026-03-14")}), None),
    "stages": (StageNotes(), StageNotes({"power": StageNote(True, "2026-03-14", 3.3)}), None),
    "patches": (PatchPhoto(), PatchPhoto(((1.0, 2.0),) * 4, (), 0.9), ("card.png", png_of(gradient(30, 60)))),
    "touch": (TouchReadings(), TouchReadings("300 400\n3700 400\n300 3600\n3700 3600\n2000 2000\n"), None),
    "texts": (Texts(), Texts("Tide {0..9} m"), None),
    "screen": (Screen(), Screen((Element("e1", "text", text="Ebb"),)), None),
    "design": (Design(), Design((Style("s1", "Quiet"),)), None),
    "behaviour": (Behaviour(), Behaviour((Area("a1", "Out"),)), None),
    "recording": (Recording(), Recording((Reached(20, "touch", "", 5, 9),)), None),
    "schedule": (Program(), Program(splits=True), None),
    "benchmark": (Benchmark(1.0, 1.0, 1.0, 0.0, "small", "i2c", 400_000), Benchmark(2.0, 1.0, 1.0, 0.0, "small", "i2c", 1), None),
    "energy": (EnergyPlan(), EnergyPlan(sleeps=False), None),
    "serial": (SerialPlan(), SerialPlan(polls=True), None),
    "ghost": (GhostModel(), GhostModel(partial_change=0.1), None),
    "wear": (WearPlan(), WearPlan(shift_px=2), None),
    "layout": (FileLayout(), FileLayout("ui_"), None),
    "calibration": (Calibration({}), Calibration({"frame": 1.05}), None),
    "hostpage": (HostPage(), HostPage("page", "<p>{tide}</p>"), None),
}
KINDS = list(EXAMPLES)


def made(build: Build, name: str, record=None, called: str = "First") -> Document:
    kind, (first, _, file) = kind_of(name), EXAMPLES[name]
    sources = [(kind.keep_source(data=file[1], file_name=file[0], owner=build.owner), file[0])] if file else []
    return services.add(kind, build=build, name=called, record=record or first, sources=sources)


def now(document: Document) -> Document:
    row = type(document).objects.of(document.build).get(pk=document.pk)
    row.build = document.build
    return row


def test_every_kind_has_an_example():
    assert set(KINDS) == {kind.KIND for kind in all_kinds()} == {k.KIND for s in stations() for k in s.documents}
    with pytest.raises(UnknownNameError, match="no kind of document is named 'sculpture'"):
        kind_of("sculpture")


@pytest.mark.parametrize("name", KINDS)
class TestEveryKind:
    def test_a_change_is_a_revision_that_undo_and_redo_lead_to(self, build, name):
        document, (first, second, _) = made(build, name), EXAMPLES[name]
        saved = services.save(document, base=document.head_id, record=second)
        assert now(document).record == second
        assert [s.file_name for s in now(document).sources] == [s.file_name for s in document.sources]
        back = services.undo(saved, base=saved.head_id)
        assert (now(document).record, back.can_undo, back.can_redo) == (first, False, True)
        assert services.undo(back, base=back.head_id).head_id == back.head_id
        on = services.redo(back, base=back.head_id)
        assert (on.head_id, now(document).record, on.can_redo) == (saved.head_id, second, False)

    def test_the_same_again_makes_no_revision(self, build, name):
        document = made(build, name)
        services.save(document, base=document.head_id, record=EXAMPLES[name][0], name="First")
        assert document.revisions.count() == 1

    def test_an_old_tab_is_told_and_overwrites_nothing(self, build, name):
        document, second = made(build, name), EXAMPLES[name][1]
        base = document.head_id
        services.save(document, base=base, record=second)
        for act in (
            lambda: services.save(document, base=base, record=EXAMPLES[name][0]),
            lambda: services.undo(document, base=base),
            lambda: services.redo(document, base=base),
            lambda: services.rename(document, base=base, name="Other"),
        ):
            with pytest.raises(ConflictError, match="nothing was overwritten") as told:
                act()
            assert told.value.head == now(document).head_id
        assert (now(document).record, now(document).name) == (second, "First")

    def test_a_name_is_part_of_the_history(self, build, name):
        document = made(build, name)
        renamed = services.rename(document, base=document.head_id, name="  Low   water ")
        assert (now(document).name, now(document).record) == ("Low water", EXAMPLES[name][0])
        services.undo(renamed, base=renamed.head_id)
        assert now(document).name == "First"
        for wrong in (" ", "x" * 81):
            with pytest.raises(BadValueError, match="1 to 80 are accepted"):
                services.rename(document, base=now(document).head_id, name=wrong)

    def test_deleted_it_is_gone_and_comes_back_with_all(self, build, name):
        document = made(build, name)
        services.delete(document)
        assert not type(document).objects.filter(build=build).exists()
        with pytest.raises(ConflictError, match="was deleted"):
            services.save(document, base=document.head_id, record=EXAMPLES[name][1])
        services.bring_back(document)
        assert (now(document).head_id, now(document).record) == (document.head_id, EXAMPLES[name][0])

    def test_a_build_has_no_more_than_it_may(self, build, name, monkeypatch):
        kind = kind_of(name)
        monkeypatch.setattr(kind, "MOST", 1)
        first = made(build, name)
        with pytest.raises(BadValueError, match="1 are accepted"):
            made(build, name)
        services.delete(first)
        made(build, name)
        with pytest.raises(BadValueError, match="which is the most"):
            services.bring_back(first)

    def test_to_a_file_and_into_another_build(self, build, maker, name):
        document = made(build, name)
        plain = json.loads(json.dumps(transfer.to_plain([document])))
        schema = json.loads((FORMATS / "documents.schema.json").read_text())
        jsonschema.validate(plain, schema)
        other = start_build(owner=maker, name="Other", panel="mono-oled-128x64", board="small", link_kind="i2c")
        (copy,) = transfer.from_json(json.dumps(plain).encode(), build=other, owner=maker)
        assert (copy.kind, copy.name, now(copy).record) == (name, "First", document.record)
        assert [s.original_id for s in now(copy).sources] == [s.original_id for s in document.sources]

    def test_every_change_is_noted_on_the_build(self, build, name):
        document = made(build, name)
        seen = {Build.objects.get().content}
        saved = services.save(document, base=document.head_id, record=EXAMPLES[name][1])
        seen.add(Build.objects.get().content)
        back = services.undo(saved, base=saved.head_id)
        seen.add(Build.objects.get().content)
        services.redo(back, base=back.head_id)
        seen.add(Build.objects.get().content)
        services.delete(document)
        seen.add(Build.objects.get().content)
        services.bring_back(document)
        seen.add(Build.objects.get().content)
        assert len(seen) == 6
        assert (Build.objects.get().revision > 1) == document.OF_DEVICE

    def test_pages_step_rename_delete_and_bring_back(self, signed_in, build, name):
        document = made(build, name)
        services.save(document, base=document.head_id, record=EXAMPLES[name][1])
        at = f"/builds/{build.pk}/documents/{document.pk}/"
        assert signed_in.post(f"{at}undo/").url == document.url
        assert now(document).record == EXAMPLES[name][0]
        assert signed_in.post(f"{at}redo/").status_code == 302
        assert signed_in.post(f"{at}undo/", {"base": "0"}).status_code == 409
        assert signed_in.post(f"{at}undo/", {"base": "x"}).status_code == 422
        assert signed_in.post(f"{at}rename/", {"name": "Low water"}).status_code == 302
        assert signed_in.post(f"{at}rename/", {"name": ""}).status_code == 422
        assert now(document).name == "Low water"
        page = signed_in.post(f"{at}delete/", follow=True)
        assert f'action="{at}bring-back/"' in page.content.decode()
        assert signed_in.post(f"{at}undo/").status_code == 404
        assert signed_in.post(f"{at}bring-back/").url == document.url
        assert now(document).record == EXAMPLES[name][1]
        theirs = PageClient()
        theirs.force_login(User.objects.create_user("other", password="a-long-password-2"))
        for act in ("undo", "rename", "duplicate", "move", "delete", "bring-back"):
            assert theirs.post(f"{at}{act}/").status_code == 404
        assert theirs.get(f"{at}take/").status_code == 404

    def test_a_file_of_it_is_brought_by_a_page(self, signed_in, build, upload, name):
        document = made(build, name)
        at = f"/builds/{build.pk}/documents/"
        data = signed_in.get(f"{at}{document.pk}/take/").content
        if document.SINGLE:
            assert signed_in.post(f"{at}{document.pk}/duplicate/").status_code == 422
            services.delete(document)
        else:
            assert signed_in.post(f"{at}{document.pk}/duplicate/").status_code == 302
        assert signed_in.post(f"{at}bring/", {"file": upload(data, "a.json")}).status_code == 302
        rows = type(document).objects.filter(build=build)
        assert [row.name for row in rows] == (["First"] if document.SINGLE else ["First", "First copy", "First"])
        for wrong in (b"", b"{", b"[]", b'{"documents": []}', data.replace(b'"kind": "', b'"kind": "no-')):
            assert signed_in.post(f"{at}bring/", {"file": upload(wrong, "a.json")}).status_code == 422
        assert type(document).objects.filter(build=build).count() == rows.count()


class TestSteps:
    def test_what_changes_together_is_undone_together(self, build):
        rows = [made(build, "picture", called=f"P{n}") for n in range(3)]
        changes = [services.Change(row, Recipe(exposure=1.0)) for row in rows[1:]]
        saved = services.save(rows[0], base=rows[0].head_id, record=Recipe(exposure=1.0), along=changes)
        assert [now(row).record.exposure for row in rows] == [1, 1, 1]
        back = services.undo(saved, base=saved.head_id)
        assert [now(row).record.exposure for row in rows] == [0, 0, 0]
        services.redo(back, base=back.head_id)
        assert [now(row).record.exposure for row in rows] == [1, 1, 1]

    def test_what_was_changed_again_since_is_left(self, build):
        first, second = made(build, "picture"), made(build, "picture")
        saved = services.save(
            first, base=first.head_id, record=Recipe(exposure=1.0), along=[services.Change(second, Recipe(exposure=1.0))]
        )
        services.save(now(second), base=now(second).head_id, record=Recipe(exposure=2.0))
        services.undo(saved, base=saved.head_id)
        assert (now(first).record.exposure, now(second).record.exposure) == (0, 2)

    def test_a_step_of_one_kind_leaves_other_builds_alone(self, build, maker):
        other = start_build(owner=maker, name="Other", panel="mono-oled-128x64", board="small", link_kind="i2c")
        here, there = made(build, "picture"), made(other, "picture")
        saved = services.save(here, base=here.head_id, record=Recipe(exposure=1.0))
        assert Revision.objects.get(pk=saved.head_id).step is None
        assert there.revisions.count() == 1


PANELS = {
    "touch": ("tft-320x240-touch", "wireless"), "patches": ("epaper-296x128-four-colour", "low-power"),
    "wear": ("grey-oled-128x128", "low-power"), "serial": ("serial-tft-320x240", "wireless"),
}  # fmt: skip
"""Kinds that few panels have."""


@pytest.mark.parametrize("name", KINDS)
def test_its_page_undoes_a_change(signed_in, build, name):
    if name in PANELS:
        panel, board = PANELS[name]
        build = start_build(
            owner=build.owner, name="Other", panel=panel, board=board, link_kind="uart" if name == "serial" else "spi"
        )
    document = made(build, name)
    saved = services.save(document, base=document.head_id, record=EXAMPLES[name][1])
    page = signed_in.get(saved.url).content.decode()
    for word, act in (("Undo", "undo"), ("Redo", "redo")):
        key = re.search(rf"<button[^>]*>{word}</button>", page).group()
        assert ("disabled" in key) == (act == "redo")


class TestPlaces:
    def test_documents_are_moved_among_their_kind(self, build):
        rows = [made(build, "strip", called=name) for name in "abc"]
        made(build, "figure")
        order = lambda: "".join(row.name for row in kind_of("strip").objects.filter(build=build))  # noqa: E731
        services.move(rows[2], to=0)
        assert order() == "cab"
        services.move(rows[2], to=1)
        assert order() == "acb"
        services.move(rows[0], to=99)
        assert order() == "cba"
        services.move(rows[0], to=-5)
        assert order() == "acb"

    def test_a_copy_stands_behind_the_first(self, build):
        first, last = made(build, "strip", called="a"), made(build, "strip", called="b")
        services.duplicate(first)
        assert [row.name for row in kind_of("strip").objects.filter(build=build)] == ["a", "a copy", "b"]
        services.duplicate(last)
        assert [row.name for row in kind_of("strip").objects.filter(build=build)] == ["a", "a copy", "b", "b copy"]

    def test_the_longest_name_leaves_room_for_the_word(self, build):
        copy = services.duplicate(made(build, "strip", called="x" * 80))
        assert copy.name == "x" * 75 + " copy"


class TestReferences:
    def lettered(self, build):
        strip = made(build, "strip")
        plan = replace(LetteringPlan(), pictures=(PictureUse(0xE000, strip.ref, "1"),))
        return strip, services.add(kind_of("lettering"), build=build, name="Dials", record=plan)

    def test_a_file_holds_what_it_refers_to_and_renames_it(self, build, maker):
        strip, lettering = self.lettered(build)
        plain = transfer.to_plain([lettering])
        assert [saved["ref"] for saved in plain["documents"]] == [strip.ref, lettering.ref]
        brought = transfer.from_plain(plain, build=build, owner=maker)
        assert brought[1].record.pictures[0].source == brought[0].ref != strip.ref

    def test_a_copy_of_the_build_refers_to_its_own(self, signed_in, build):
        strip, _ = self.lettered(build)
        post = {"name": "Second", "from": f"build-{build.pk}", "along_parts": "1", "along_contents": "1"}
        signed_in.post("/builds/new/", post)
        second = Build.objects.get(name="Second")
        (copied,) = kind_of("strip").objects.filter(build=second)
        (lettering,) = kind_of("lettering").objects.of(second)
        assert lettering.record.pictures[0].source == copied.ref != strip.ref


class TestFiles:
    def test_broken_bytes_and_unknown_fields_leave_nothing(self, build, maker):
        plain = transfer.to_plain([made(build, "picture")])
        for change, error in (
            (lambda p: p["documents"][0]["sources"][0].update(data="%%"), BadDescriptionError),
            (lambda p: p["documents"][0]["sources"][0].update(data="AAAA"), MosaicError),
            (lambda p: p["documents"][0]["description"].update(exposure=9), BadDescriptionError),
            (lambda p: p["documents"][0].update(colour="red"), BadDescriptionError),
        ):
            wrong = json.loads(json.dumps(plain))
            change(wrong)
            with pytest.raises(error):
                transfer.from_plain(wrong, build=build, owner=maker)
        assert (Document.objects.count(), Original.objects.count()) == (1, 1)

    def test_a_second_of_a_single_kind_is_refused(self, build, maker):
        plain = transfer.to_plain([made(build, "texts")])
        with pytest.raises(BadValueError, match="1 are accepted"):
            transfer.from_plain(plain, build=build, owner=maker)


def test_a_reference_names_nothing_of_another_build_or_kind(build, maker):
    other = start_build(owner=maker, name="Other", panel="mono-oled-128x64", board="small", link_kind="i2c")
    strip = made(build, "strip")
    assert shelf.named(build, strip.ref).pk == strip.pk
    for ref in (f"figure-{strip.pk}", "strip-", "strip-x", "strip", "", f"strip-{'9' * 30}"):
        assert shelf.named(build, ref) is None
    assert shelf.named(other, strip.ref) is None
    services.delete(strip)
    assert shelf.named(build, strip.ref) is None
