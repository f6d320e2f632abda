"""Frames over HTTP for devices: tokens, tags, values, reports, limits, and many devices at once."""

import io
import json
import subprocess
import sys
import threading
import urllib.error
import urllib.request

import numpy as np
import pytest
from django.urls import reverse
from PIL import Image

from mosaic.build_file import write
from mosaic.conversion.pipeline import pack
from mosaic.errors import BadValueError
from mosaic.handover.frame_device import c_device, python_device
from mosaic.values.given import at_moment, readings_given
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Origin, Source, Value
from tests.mosaic.handover.made_up import build as made_build
from workshop.handover import frames
from workshop.handover.frames import Bucket, feed_of, frame_of, renew
from workshop.handover.models import FrameFeed, FrameReport
from workshop.stations.build_file import bring_build


@pytest.fixture
def slip(maker):
    file = made_build("mono-oled-128x64")
    return bring_build(write(file.build, file.files), owner=maker)


@pytest.fixture
def device(client, slip, monkeypatch):
    """Asks as a device does, with the build's token."""
    monkeypatch.setattr(frames, "POLLS", Bucket(1200, 20))
    token = renew(feed_of(slip))

    def ask(what="frame.bin", data=None, token=token, **headers):
        told = {"Authorization": f"Bearer {token}", **headers}
        address = f"/builds/{slip.pk}/{what}"
        if data is None:
            return client.get(address, headers=told)
        return client.post(address, data, content_type="application/json", headers=told)

    ask.token = token
    return ask


def test_a_frame_as_bytes_as_a_picture_and_pixel_by_pixel(device, slip):
    answer = device()
    assert (answer.status_code, len(answer.content)) == (200, 1024)
    raw = np.frombuffer(device("frame.raw").content, np.uint8).reshape(64, 128)
    made = slip.to_device()
    assert pack(raw, made.passport, made.turn) == answer.content
    png = np.asarray(Image.open(io.BytesIO(device("frame.png").content)).convert("RGB"))
    assert png.shape == (64, 128, 3)
    assert len(np.unique(png.reshape(-1, 3), axis=0)) == len(np.unique(raw)) == 2
    assert device("frame.gif").status_code == 404


def test_an_unchanged_frame_is_a_small_answer(device, slip):
    first = device()
    same = device(**{"If-None-Match": first["ETag"]})
    assert (same.status_code, same.content, same["ETag"]) == (304, b"", first["ETag"])
    assert int(first["X-Ask-Again"]) >= 1
    assert device(**{"If-None-Match": '"another"'}).status_code == 200
    assert json.loads(device("frame/values", b'{"tide": 4.6}').content) == {"kept": 1}
    changed = device(**{"If-None-Match": first["ETag"]})
    assert changed.status_code == 200
    assert changed.content != first.content
    feed_of(slip)
    assert device(**{"If-None-Match": f'"x", W/{changed["ETag"]}'}).status_code == 304


def test_values_of_another_program(device, slip):
    for data, words in (
        (b'{"tides": 1}', "no value called tides"), (b"[1]", "no object"), (b"{", "JSON"), (b'{"tide": "much"}', "tide"),
        (b'{"tide": [1]}', "a list or an object"), (b"\xff", "JSON"),
    ):  # fmt: skip
        answer = device("frame/values", data)
        assert (answer.status_code, words.lower() in json.loads(answer.content)["error"].lower()) == (422, True), answer.content
    assert FrameFeed.objects.get(build=slip).values == {}
    assert device("frame/values", b"1" * 70_000).status_code == 413
    assert device("frame/values").status_code == 405
    device("frame/values", b'{"tide": 1.2, "page": 3}')
    device("frame/values", b'{"tide": null}')
    kept = FrameFeed.objects.get(build=slip).values
    assert [reading for reading, _ in (kept["v1"], kept["v4"])] == [None, 3]


def test_reports_are_kept_as_measurements(device, slip, signed_in):
    assert json.loads(device("frame/report", b'{"battery_v": 3.71, "temperature_c": -4}').content) == {"kept": 2}
    told = [(one.quantity, one.value, one.unit) for one in FrameReport.objects.filter(feed__build=slip)]
    assert sorted(told) == [("battery", 3.71, "V"), ("temperature", -4.0, "°C")]
    for data in (b'{"battery_v": 61}', b'{"battery_v": true}', b'{"mood": 3}', b"{}", b'{"battery_v": "3"}'):
        assert device("frame/report", data).status_code == 422
    assert device("frame/report", b'{"battery_v": 60, "temperature_c": 125}').status_code == 200
    page = signed_in.get(reverse("frame-feed", args=[slip.pk])).content.decode()
    assert "3.71 V" in page


def test_tokens(client, device, slip, signed_in, monkeypatch):
    monkeypatch.setattr("workshop.handover.device_views.WRONG", Bucket(3, 0.01))
    assert client.get(f"/builds/{slip.pk}/frame.bin").status_code == 401
    assert device(token="wrong").status_code == 401
    feed = FrameFeed.objects.get(build=slip)
    assert device.token not in (feed.token_hash, str(feed.__dict__))
    page = signed_in.post(reverse("change-frame-feed", args=[slip.pk]), {"renew": "1"}).content.decode()
    assert device().status_code == 401  # the old one
    assert device.token not in page
    late = device(token="wrong")
    assert (late.status_code, int(late["Retry-After"]) > 0) == (429, True)
    signed_in.post(reverse("change-frame-feed", args=[slip.pk]), {"close": "1"})
    assert not FrameFeed.objects.get(build=slip).is_open
    refused = signed_in.post(reverse("change-frame-feed", args=[slip.pk]), {"source": "screen-0"})
    assert refused.status_code == 422


def test_a_feed_that_is_asked_too_often(device, monkeypatch):
    monkeypatch.setattr("workshop.handover.device_views.POLLS", Bucket(2, 0.5))
    assert [device().status_code for _ in range(3)] == [200, 200, 429]


def test_a_bucket_fills_again():
    bucket = Bucket(2, 0.5)
    assert [bucket.wait_s("a", 10.0) for _ in range(2)] == [0.0, 0.0]
    assert bucket.wait_s("a", 10.0) == 2.0
    assert bucket.wait_s("b", 10.0) == 0.0
    assert bucket.wait_s("a", 12.0) == 0.0
    assert bucket.wait_s("a", 12.5) == 1.5


def test_what_is_served_follows_the_build(device, slip, signed_in):
    first = device()
    sources = frames.sources_of(slip)
    assert [one.name for one in sources] == ["Tide", "Draw", "Still"]
    signed_in.post(reverse("change-frame-feed", args=[slip.pk]), {"source": sources[2].ref})
    assert device().content != first.content
    part = signed_in.get(reverse("frame-device", args=[slip.pk]), {"had": frame_of(feed_of(slip)).tag}).content.decode()
    assert "304: the frame is the one it has" in part
    part = signed_in.get(reverse("frame-device", args=[slip.pk]), {"had": "x"}).content.decode()
    assert "200: 1,024 bytes" in part


def test_a_build_without_screens_says_so(signed_in, client, build):
    token = renew(feed_of(build))
    answer = client.get(f"/builds/{build.pk}/frame.bin", headers={"Authorization": f"Bearer {token}"})
    assert (answer.status_code, "no screen" in json.loads(answer.content)["error"]) == (422, True)
    assert "no screen that can be drawn" in signed_in.get(reverse("frame-feed", args=[build.pk])).content.decode()


CLOCK = Value("v1", "now", "time", low=0, high=86_399, source=Source("clock", every_ms=60_000), stand_in=StandIn("clock"))
DAY = Value("v2", "day", "date", low=0, high=40_000, stand_in=StandIn("clock"))
TIDE = Value("v3", "tide", decimals=1, low=0, high=68, max_age_s=600)
LAMP = Value("v4", "lamp", "yes/no", words=("off", "on"))
PAGE = Value("v5", "page", low=1, high=9, origin=Origin("rules", first=2))


def test_values_at_a_moment():
    values = (CLOCK, DAY, TIDE, LAMP, PAGE)
    state = at_moment(values, {"v3": (46, 1000.0), "v4": (1, 1000.0)}, 1600.0, 3725, 20_000)
    assert dict(state.readings) == {"v1": 3720, "v2": 20_000, "v3": 46, "v4": 1, "v5": 2}
    assert (state.stale, state.tick) == (frozenset(), 37_250)
    later = at_moment(values, {"v3": (46, 1000.0)}, 1600.5, 0, 50_000)
    assert (later.stale, later.readings["v2"], later.readings["v4"]) == (frozenset({"v3"}), 40_000, None)


def test_readings_that_are_given():
    values = (TIDE, LAMP)
    assert readings_given({"Tide": 4.6, "lamp": "on"}, values) == {"v3": 46, "v4": 1}
    assert readings_given({"tide": None, "lamp": True}, values) == {"v3": None, "v4": 1}
    with pytest.raises(BadValueError, match="no value called wind; tide, lamp are there"):
        readings_given({"wind": 3}, values)
    with pytest.raises(BadValueError, match="up to 512"):
        readings_given({str(n): 1 for n in range(513)}, values)


def test_four_hundred_polls_by_twenty_devices_at_once(live_server, transactional_db, django_user_model, tmp_path):
    owner = django_user_model.objects.create_user("maker", password="a-long-password-1")
    file = made_build("mono-oled-128x64")
    build = bring_build(write(file.build, file.files), owner=owner)
    token = renew(feed_of(build))
    address = f"{live_server.url}/builds/{build.pk}/frame.bin"
    told, wrong = [], []

    def ask(tag):
        request = urllib.request.Request(
            address, headers={"Authorization": f"Bearer {token}", **({"If-None-Match": tag} if tag else {})}
        )
        try:
            with urllib.request.urlopen(request, timeout=60) as answer:
                return answer.status, answer.headers["ETag"], len(answer.read())
        except urllib.error.HTTPError as error:
            return error.code, error.headers["ETag"], len(error.read())

    def live():
        tag = ""
        for _ in range(20):
            try:
                status, tag, size = ask(tag)
                told.append((status, size))
            except OSError as error:
                wrong.append(error)

    devices = [threading.Thread(target=live) for _ in range(20)]
    for one in devices:
        one.start()
    for one in devices:
        one.join()
    assert wrong == []
    assert len(told) == 400
    assert set(told) == {(200, 1024), (304, 0)}
    assert told.count((304, 0)) >= 400 - 2 * 20  # a blink may have come between
    # the two programs for devices, as they are given out
    host, port = live_server.url.removeprefix("http://").split(":")
    path = f"/builds/{build.pk}/frame.bin"
    (tmp_path / "device.c").write_text(c_device("Slip */ board", host, int(port), path))
    (tmp_path / "device.py").write_text(python_device("Slip\nboard", host, int(port), path))
    words = ["gcc", "-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Werror", "device.c", "-o", "device"]
    subprocess.run(words, cwd=tmp_path, check=True)
    for command in (["./device", token, "1"], [sys.executable, "device.py", token, "1"]):
        done = subprocess.run(command, cwd=tmp_path, capture_output=True, check=True, timeout=60)
        assert done.stdout == b"1024 bytes to show\n", done
