"""Hand-overs through their pages: made, proved, compared; the maker's copy; the generated program at the live feed."""

import io
import json
import subprocess
import threading
import time
import zipfile
from dataclasses import replace

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from mosaic.build_file import read, write
from mosaic.handover.changes import by_file, by_meaning
from mosaic.handover.making import hand_over
from tests.mosaic.handover.made_up import build as made_build
from workshop.bringup.feed_server import FeedServer
from workshop.bringup.models import Feed, FeedInput
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.handover.documents import LayoutDocument
from workshop.handover.models import HandOver
from workshop.handover.services import MOST_KEPT, kept_of, last_of
from workshop.jobs.models import Job
from workshop.screens.documents import BehaviourDocument, ScreenDocument
from workshop.stations.build_file import bring_build


@pytest.fixture
def slip(maker):
    """A whole build on a small OLED."""
    file = made_build("mono-oled-128x64")
    return bring_build(write(file.build, file.files), owner=maker)


def made(signed_in, build):
    signed_in.post(reverse("make-hand-over", args=[build.pk]))
    job = Job.objects.filter(build=build, kind="hand-over").latest("pk")
    assert job.state == "done", job.message
    return HandOver.objects.filter(build=build).first()


def files_of(row):
    with zipfile.ZipFile(io.BytesIO(bytes(row.archive))) as archive:
        return {name.partition("/")[2]: archive.read(name) for name in archive.namelist()}


def test_a_hand_over_is_made_proved_and_given_out(signed_in, slip):
    page = signed_in.get(reverse("hand-over", args=[slip.pk])).content.decode()
    assert "Hand everything over" in page
    row = made(signed_in, slip)
    kept = last_of(slip)
    assert (kept.proof.is_right, kept.is_current) == (True, True)
    assert (row.number, kept.proof.states, len(kept.proof.runs)) == (1, kept.proof.python_states, 2)
    page = signed_in.get(reverse("hand-over", args=[slip.pk])).content.decode()
    assert "compiled without a warning" in page
    assert "The build is as it was handed over" in page
    files = files_of(row)
    assert {one["path"] for one in row.manifest["files"]} | {"manifest.json", "build.zip"} == set(files)
    assert json.loads(files["manifest.json"]) == row.manifest
    assert read(files["build.zip"]).build.name == slip.name
    assert signed_in.get(reverse("take-hand-over", args=[slip.pk, 1])).content == bytes(row.archive)
    assert signed_in.get(reverse("hand-over-file", args=[slip.pk, 1, "src/app.c"])).content == files["src/app.c"]
    assert signed_in.get(reverse("hand-over-file", args=[slip.pk, 1, "previews/tide/typical.png"]))["Content-Type"] == "image/png"
    for path in ("src/none.c", "../manage.py", "..%2Fmanifest.json"):
        assert signed_in.get(reverse("hand-over", args=[slip.pk]) + f"1/file/{path}").status_code == 404
    assert signed_in.get(reverse("take-hand-over", args=[slip.pk, 9])).status_code == 404
    sizes = signed_in.get(reverse("hand-over-sizes", args=[slip.pk])).content.decode()
    assert "buffer to draw in" in sizes.lower()
    parts = {part.name: part.bytes for part in kept.sizes.ram}
    assert parts["buffer to draw in"] == 1024  # 128 x 64 / 8
    assert made(signed_in, slip).number == 2
    assert bytes(HandOver.objects.get(build=slip, number=2).archive) == bytes(row.archive)


def test_no_more_are_kept_than_a_dozen(signed_in, slip):
    row = made(signed_in, slip)
    for number in range(2, MOST_KEPT + 3):
        row.pk, row.number = None, number
        row.save()
    made(signed_in, slip)
    numbers = list(HandOver.objects.filter(build=slip).values_list("number", flat=True))
    assert (len(numbers), numbers[0], numbers[-1]) == (MOST_KEPT, 15, 4)


def test_what_changed_is_told_by_meaning_by_file_and_by_what_is_flashed(signed_in, slip):
    made(signed_in, slip)
    at = reverse("hand-over-changes", args=[slip.pk])
    assert "no file would be another one" in signed_in.get(at).content.decode()
    row = ScreenDocument.objects.of(slip).get(name="Draw")
    description = json.loads(json.dumps(row.description).replace("p {v4}", "q {v4}"))
    documents.save(row, base=row.head_id, record=row.read(description))
    page = signed_in.get(at).content.decode()
    assert "text p {v4} → q {v4}" in page.replace("&quot;", '"')
    assert "compile it and flash it again" in page
    assert "src/screen_draw.c" in page
    assert "src/tide.c" not in page
    picture = signed_in.get(reverse("hand-over-now", args=[slip.pk, "previews/screen_draw/typical.png"]))
    assert picture.content.startswith(b"\x89PNG")
    assert not last_of(Build.objects.get(pk=slip.pk)).is_current


def test_changes_by_meaning():
    """Names of what changed, old and new: a band's limit, an event with its code, a screen that is gone."""
    before = made_build("mono-oled-128x64")
    plain = json.loads(json.dumps([one.description for one in before.build.documents]))
    kinds = [one.kind for one in before.build.documents]
    design, behaviour, lettering = (plain[kinds.index(kind)] for kind in ("design", "behaviour", "lettering"))
    design["values"][0]["bands"]["bands"][1]["end"] = 55
    behaviour["events"].append({"id": "x2", "code": 7, "name": "anchor up"})
    lettering["size_px"] = 14
    rows = [replace(one, description=told) for one, told in zip(before.build.documents, plain, strict=True)]
    after = replace(before, build=replace(before.build, documents=tuple(rows[:-1])))
    told = {f"{change.name}: {change.words}" for change in by_meaning(before, after)}
    assert "Design: value tide, band half: upper limit 5.0 m → 5.5 m" in told
    assert "Behaviour: event anchor up was added, code 7" in told
    assert "Still: was deleted" in told
    assert any(words.startswith("Small: letters are ") and "px taller: capitals" in words for words in told)
    files = by_file(hand_over(before).manifest(b""), hand_over(after).manifest(b""))
    assert {one.path for one in files.gone} >= {"src/still.c", "src/still.h", "python/still.py", "previews/still/typical.png"}
    assert (files.program, files.data) == (True, ())
    assert by_meaning(before, before) == []


def test_a_picture_kept_as_a_file_is_told_for_the_card(signed_in, slip, picture):
    documents.keep_as(picture, "file")
    build = picture.build
    row = made(signed_in, build)
    assert not kept_of(row).proof.compiled  # there is no screen
    assert "no screen that can be drawn" in row.proof["why"]
    data = [one for one in row.manifest["files"] if one["role"] == "data"]
    assert [one["path"] for one in data] == ["files/slip.bin"]
    sizes = kept_of(row).sizes
    assert [(one.bytes, one.on_partition, one.on_card) for one in sizes.files] == [(4736, 8192, 32768)]  # 296 x 128 / 8
    documents.keep_as(picture, "array")
    page = signed_in.get(reverse("hand-over-changes", args=[build.pk])).content.decode()
    assert "is kept as arrays of the program, no more as files" in page
    assert "To be deleted there: files/slip.bin" in page


def zipped(files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return SimpleUploadedFile("mine.zip", out.getvalue())


def test_edits_in_a_copy_that_would_be_lost_are_shown(signed_in, slip):
    row = made(signed_in, slip)
    at = reverse("hand-over-copy", args=[slip.pk])
    files = {f"mine/{path}": data for path, data in files_of(row).items()}
    page = signed_in.post(at, {"copy": zipped(files)}).content.decode()
    assert "nothing would be lost" in page
    files["mine/main.c"] = b"/* all mine */\n"
    files["mine/src/app.c"] = files["mine/src/app.c"].replace(b"send_all();\n", b"send_all(); blink();\n", 1)
    page = signed_in.post(at, {"copy": zipped(files)}).content.decode()
    assert "1 generated file of mine.zip was changed by hand" in page
    assert "send_all(); blink();" in page
    assert "all mine" not in page
    for data, words in ((b"no zip", "this is no zip"), (b"", "this is no zip")):
        answer = signed_in.post(at, {"copy": SimpleUploadedFile("x.zip", data or b"PK")})
        assert (answer.status_code, words in answer.content.decode().lower()) == (422, True)
    answer = signed_in.post(at, {"copy": zipped({"a.txt": b"x"})})
    assert "no manifest.json" in answer.content.decode()
    assert signed_in.post(at).status_code == 422


def test_the_generated_program_runs_at_the_live_feed_and_is_touched(
    transactional_db, django_user_model, client, tmp_path, settings
):
    owner = django_user_model.objects.create_user("maker", password="a-long-password-1")
    client.force_login(owner)
    file = made_build("mono-oled-128x64")
    build = bring_build(write(file.build, file.files), owner=owner)
    server = FeedServer(0)
    thread = threading.Thread(target=server.serve_forever, kwargs={"poll_interval": 0.02}, daemon=True)
    thread.start()
    settings.FEED_PORT = server.server_address[1]
    row = made(client, build)
    for path, data in files_of(row).items():
        place = tmp_path / path
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_bytes(data)
    page = client.get(reverse("hand-over-live", args=[build.pk])).content.decode()
    feed = Feed.objects.get(build=build)
    command = f"make -C slip_board live FEED=127.0.0.1:{settings.FEED_PORT} TOKEN={feed.token}"
    assert command in page.replace("&amp;", "&")
    give = reverse("bringup-feed-input", args=[build.pk])
    refused = client.post(give, {"what": "touch", "x": 5, "y": 5})
    assert (refused.status_code, "no program is connected" in refused.content.decode().lower()) == (422, True)
    program = subprocess.Popen(
        ["make", "live", *command.split()[-2:]], cwd=tmp_path, stdout=subprocess.PIPE, stderr=subprocess.STDOUT
    )

    def wait_for(question):
        until = time.monotonic() + 120
        while time.monotonic() < until:
            feed.refresh_from_db()
            if question():
                return True
            time.sleep(0.05)
        return False

    try:
        assert wait_for(lambda: feed.session and feed.version > 1 and feed.byte_count > 1024)
        before = bytes(feed.png)
        # a touch of the first screen's area leads to the second, which follows no reading
        for what, x, y in (("touch", 10, 6), ("touch", 11, 6), ("lift", 0, 0)):
            assert client.post(give, {"what": what, "x": x, "y": y}, headers={"HX-Request": "true"}).status_code == 204
            time.sleep(0.1)
        assert wait_for(lambda: bytes(feed.png) != before)
        assert wait_for(lambda: not FeedInput.objects.filter(feed=feed).exists())
        for given in ({"what": "pin", "of": 0, "down": 0}, {"what": "reading", "of": 0, "raw": 33}, {"what": "wake"}):
            assert client.post(give, given, headers={"HX-Request": "true"}).status_code == 204
        for given in ({"what": "touch", "x": "left", "y": 2}, {"what": "dance"}, {"what": "pin", "of": 99, "down": 0}, {}):
            assert client.post(give, given, headers={"HX-Request": "true"}).status_code == 422
        assert feed.messages == []
    finally:
        subprocess.run(["pkill", "-f", f"build/device 127.0.0.1:{settings.FEED_PORT}"], check=False)
        said = program.communicate(timeout=20)[0].decode()
        server.stop()
        thread.join(5)
    assert "event 1" in said


def test_a_station_that_has_nothing_to_hand_over_says_so(signed_in, build):
    page = signed_in.get(reverse("hand-over-live", args=[build.pk])).content.decode()
    assert "there is no program" in page
    row = made(signed_in, build)
    paths = {one["path"] for one in row.manifest["files"]}
    assert {"src/pins.h", "python/pins.py", "README.txt"} == paths
    assert BehaviourDocument.objects.filter(build=build).count() == 0


def test_the_form_of_the_files_is_kept_and_refused_in_words(signed_in, slip):
    at = reverse("keep-layout", args=[slip.pk])
    assert signed_in.post(at, {"base": 0, "prefix": "ui_", "per_line": "16", "one_file": "1"}).status_code == 302
    row = LayoutDocument.objects.of(slip).get()
    assert (row.record.prefix, row.record.per_line, row.record.one_file) == ("ui_", 16, True)
    for wrong, words in (
        ({"prefix": "a b"}, "the prefix"),
        ({"per_line": "0"}, "bytes a line"),
        ({"per_line": "many"}, "bytes a line"),
    ):
        given = {"base": row.head_id, "prefix": "ui_", "per_line": "16", "one_file": "0"} | wrong
        answer = signed_in.post(at, given)
        assert (answer.status_code, words in answer.content.decode().lower()) == (422, True)
    assert signed_in.post(at, {"base": 0, "prefix": "x", "per_line": "12", "one_file": "0"}).status_code == 409
    assert 'value="ui_"' in signed_in.get(reverse("hand-over", args=[slip.pk])).content.decode()


def test_a_build_begins_with_an_example(signed_in):
    assert signed_in.post(reverse("bring-build"), {"example": "tide_wind_board"}).status_code == 302
    assert Build.objects.get().name == "Tide & wind board"
    assert signed_in.post(reverse("bring-build"), {"example": "../secrets"}).status_code == 422
