"""A build as one file and a file as a build: nothing is lost on the way, and what is damaged is refused in words."""

import io
import json
import random
import zipfile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from mosaic.build_file import MOST_ENTRIES, BuildRecord, read, sum_of, write
from mosaic.errors import MosaicError
from mosaic.handover.plan import plan_of
from mosaic.handover.project import Project
from workshop.builds.models import Build
from workshop.documents.kinds import as_its_kind
from workshop.documents.models import Document
from workshop.stations.build_file import bring_build, build_file
from workshop.stations.overview import overview_of


def entries_of(data):
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def zipped(entries, **options):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", options.get("how", zipfile.ZIP_DEFLATED)) as archive:
        for name, data in entries:
            archive.writestr(name, data)
    return out.getvalue()


def test_every_build_of_the_demo_comes_back_as_it_was(demo, maker):
    builds = list(Build.objects.all())
    assert len(builds) == 5
    for build in builds:
        data = build_file(build)
        assert build_file(Build.objects.get(pk=build.pk)) == data
        again = bring_build(data, owner=maker)
        assert build_file(again) == data, build.name
        assert (again.owner, again.name) == (maker, build.name)
        told = (
            Document.objects.filter(build=again)
            .values_list("kind", "name", "group", "kept_as")
            .order_by("kind", "position", "id")
        )
        kept = (
            Document.objects.filter(build=build)
            .values_list("kind", "name", "group", "kept_as")
            .order_by("kind", "position", "id")
        )
        assert list(told) == list(kept)
        numbers = {row.ref for row in Document.objects.filter(build=again)}
        for row in Document.objects.filter(build=again).select_related("head"):
            assert as_its_kind(row).refs_in(row.description) <= numbers, row.name  # of this build, not of the one it was


def damaged(data):
    """60 files that are not what was written, with a word that the answer must hold."""
    dice, entries = random.Random(24), entries_of(data)
    plain = json.loads(entries["build.json"])
    files = [name for name in entries if name != "build.json"]

    def told(**changes):
        return zipped([("build.json", json.dumps(plain | changes)), *((name, entries[name]) for name in files)])

    def document(**changes):
        documents = [dict(one) for one in plain["documents"]]
        documents[0] |= changes
        return told(documents=documents)

    for cut in range(1, 21):
        yield data[: len(data) * cut // 21], "cut short"
    for _ in range(10):  # a bit falls over within what is packed
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entry = archive.getinfo(files[0])
        at = entry.header_offset + 30 + len(entry.filename) + dice.randrange(entry.compress_size)
        yield data[:at] + bytes([data[at] ^ 1 << dice.randrange(8)]) + data[at + 1 :], "damaged"
    whole = list(entries.items())
    for name in (
        "../build.json",
        "/etc/passwd",
        "files/../../x",
        "files\\x",
        "C:\\x",
        "files/" + "A" * 64,
        "BUILD.JSON",
        "notes.txt",
    ):
        yield zipped([*whole, (name, b"x")]), "no place"
    yield zipped(whole[1:]), "build.json"
    yield zipped(whole[:1]), "missing"
    yield zipped([*whole, (files[0], entries[files[0]])]), "twice"
    yield zipped([*whole[:1], (files[0], b"other")]), "SHA-256"
    yield zipped([*whole, ("files/" + sum_of(b"x"), b"x")]), "nothing in it uses"
    yield zipped([*whole, *((f"files/{n:064x}", b"") for n in range(10_000))]), f"{MOST_ENTRIES:,}"
    yield zipped([(name, bytes(600 << 20) if name == files[0] else text) for name, text in whole]), "MiB"
    yield zipped([("build.json", b"[" * 100_000), *whole[1:]]), "brackets"
    yield zipped([("build.json", b"{}"), *whole[1:]]), "name"
    yield b"", "cut short"
    yield b"\x89PNG", "cut short"
    yield told(form=2), "newer"
    yield told(form="one"), "form"
    yield told(name=""), "name"
    yield told(passport={}), "passport"
    yield told(board={"name": 3}), "board"
    yield told(settings=plain["settings"] | {"owner": 1}), "owner"
    yield told(settings=plain["settings"] | {"rotation": 45}), "rotation"
    yield told(settings=plain["settings"] | {"clock_hz": "fast"}), "clock"
    yield document(kind="spell"), "spell"
    yield document(description={"form": 99}), "form"
    yield document(ref=plain["documents"][1]["ref"]), "two documents"


@pytest.mark.filterwarnings("ignore:Duplicate name")
def test_sixty_damaged_files_are_answered_in_words(demo, maker):
    build = max(Build.objects.all(), key=lambda one: one.documents.filter(kind="picture").count())
    before = Build.objects.count(), Document.everything.count()
    cases = list(damaged(build_file(build)))
    assert len(cases) == 60
    for number, (data, word) in enumerate(cases):
        with pytest.raises(MosaicError) as refused:
            bring_build(data, owner=maker)
        assert word.lower() in str(refused.value).lower(), (number, word, str(refused.value))
    assert before == (Build.objects.count(), Document.everything.count())


def test_out_of_the_page_and_in_again(signed_in, picture):
    build = picture.build
    taken = signed_in.get(reverse("take-build", args=[build.pk]))
    assert taken["Content-Disposition"] == 'attachment; filename="tide_board.build.zip"'
    answer = signed_in.post(reverse("bring-build"), {"file": SimpleUploadedFile("x.zip", taken.content)})
    again = Build.objects.exclude(pk=build.pk).get()
    assert answer.url == reverse("build", args=[again.pk])
    assert signed_in.get(reverse("take-build", args=[again.pk])).content == taken.content
    sheet = signed_in.get(reverse("sheet", args=[again.pk])).content.decode()
    assert f'href="{reverse("take-build", args=[again.pk])}"' in sheet
    refused = signed_in.post(reverse("bring-build"), {"file": SimpleUploadedFile("x.zip", b"no zip")})
    assert refused.status_code == 422
    assert "no build file" in refused.content.decode()
    assert signed_in.post(reverse("bring-build")).status_code == 422


def test_two_writings_of_one_build_are_the_same_bytes():
    record = BuildRecord("Slip", {"a": 1}, {"b": 2})
    files = {sum_of(data): data for data in (b"two", b"one")}
    assert write(record, files) == write(record, dict(reversed(files.items())))
    with zipfile.ZipFile(io.BytesIO(write(record, files))) as archive:
        assert {entry.date_time for entry in archive.infolist()} == {(1980, 1, 1, 0, 0, 0)}
        assert json.loads(archive.read("build.json"))["name"] == "Slip"
    with pytest.raises(MosaicError, match="nothing in it uses"):
        read(write(record, files))


def test_the_plan_of_a_build_file_is_what_the_pages_say(demo):
    compared = 0
    for build in Build.objects.filter(name__in=("Tide & wind board", "Barometer", "Club room screen")):
        told = {one.slug: one for one in plan_of(Project(read(build_file(build)))).budgets}
        for budget in overview_of(build).budgets:
            if budget.slug == "frame":
                continue  # where a day is long, pages look at an hour of it
            # an animation that no worker has made yet takes nothing on the pages
            made = sum(part.value for part in told[budget.slug].parts if part.name != "animations")
            assert made == pytest.approx(budget.value, rel=0.002), (build.name, budget.slug)
            compared += 1
    assert compared == 9
