"""The live feed over its socket: C and Python transports, one client at a time, tokens, and what the page shows."""

import importlib.util
import io
import socket
import subprocess
import threading
import time
from pathlib import Path

import numpy as np
import pytest
from django.urls import reverse
from PIL import Image

from mosaic.cards.registry import CARDS, painted
from mosaic.conversion.program import Setting, transmission
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import Orientation
from mosaic.panels.sending import Sending
from workshop.bringup.feed_server import FeedServer
from workshop.bringup.models import Feed
from workshop.builds.services import start_build

EXAMPLES = Path(__file__).resolve().parents[2] / "examples" / "feed"


@pytest.fixture
def server(transactional_db):
    running = FeedServer(0)
    thread = threading.Thread(target=running.serve_forever, kwargs={"poll_interval": 0.02}, daemon=True)
    thread.start()
    yield running
    running.stop()
    thread.join(5)


@pytest.fixture
def feed(server, django_user_model):
    owner = django_user_model.objects.create_user("maker", password="a-long-password-1")
    build = start_build(owner=owner, name="Counter", panel="mono-oled-128x64", board="small", link_kind="i2c")
    return Feed.objects.create(build=build)


def port_of(server):
    return server.server_address[1]


def card_of(feed):
    device = feed.build.to_device()
    setting = Setting(device.passport, device.turn)
    pixels = painted(CARDS["letter"], device.passport, device.turn)
    sent = [t for part in transmission(pixels, setting, Sending()) for t in part.transactions]
    return pixels, sent


def wait_for(question, seconds=10.0):
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if question():
            return True
        time.sleep(0.05)
    return False


def glass_of(feed):
    feed.refresh_from_db()
    return np.asarray(Image.open(io.BytesIO(bytes(feed.png))).convert("RGB"))


def is_drawn(feed, pixels):
    feed.refresh_from_db()
    passport = feed.build.to_device().passport
    return bool(feed.png) and np.array_equal(glass_of(feed), colors_of(pixels, passport, Orientation()))


def say(server, *lines, closing=True):
    """Send lines as they are and give what is answered."""
    client = socket.create_connection(("127.0.0.1", port_of(server)), 5)
    client.settimeout(60)
    for line in lines:
        client.sendall(line)
    if not closing:
        return client
    client.shutdown(socket.SHUT_WR)
    answers = b""
    while chunk := client.recv(4096):
        answers += chunk
    client.close()
    return answers.decode()


def python_transport():
    spec = importlib.util.spec_from_file_location("panel_feed", EXAMPLES / "panel_feed.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module.PanelFeed


def test_the_c_transport_draws_a_test_card(server, feed, tmp_path):
    pixels, sent = card_of(feed)
    calls = []
    for number, transaction in enumerate(sent):
        if transaction.kind in ("command", "data"):
            values = ", ".join(str(b) for b in transaction.data)
            calls.append(
                f"static const uint8_t b{number}[] = {{{values}}}; panel_{transaction.kind}(b{number}, sizeof b{number});"
            )
        else:
            calls.append(
                {"reset": "panel_reset();", "busy": "panel_busy();", "delay": f"panel_delay({int(transaction.wait_ms)});"}[
                    transaction.kind
                ]
            )
    body = "\n".join("{ " + call + " }" for call in calls)
    (tmp_path / "draw.c").write_text(
        '#include "panel_feed.h"\n#include <stdlib.h>\nint main(int n, char **v) {\n(void)n;\n'
        f"if (panel_feed_open((unsigned)atoi(v[1]), v[2]) != 0) return 2;\n{body}\nreturn panel_feed_close();\n}}\n"
    )
    flags = ["-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic", f"-I{EXAMPLES}"]
    subprocess.run(["gcc", *flags, "draw.c", str(EXAMPLES / "panel_feed.c"), "-o", "draw"], cwd=tmp_path, check=True)
    run = [tmp_path / "draw", str(port_of(server))]
    assert subprocess.run([*run, feed.token], check=False, timeout=60).returncode == 0
    assert wait_for(lambda: is_drawn(feed, pixels))
    assert feed.byte_count == sum(len(t.data) for t in sent)
    refused = subprocess.run([*run, "wrong"], check=False, timeout=60, capture_output=True, text=True)
    assert refused.returncode == 2
    assert "this token belongs to no build" in refused.stderr


def test_the_python_transport_draws_it_too_and_passes_complaints_on(server, feed, capsys):
    pixels, sent = card_of(feed)
    with python_transport()(port_of(server), feed.token) as panel:
        assert (panel.width, panel.height) == (128, 64)
        for transaction in sent:
            if transaction.kind == "reset":
                panel.reset()
            else:
                getattr(panel, transaction.kind)(transaction.data)
        panel._send("d 0")
        assert panel.busy() == 0
        assert "is not whole bytes" in panel.complaints[0]
    assert wait_for(lambda: is_drawn(feed, pixels))
    with pytest.raises(PermissionError, match="belongs to no build"):
        python_transport()(port_of(server), "wrong")


def test_a_second_program_is_refused_until_the_first_has_gone(server, feed):
    first = say(server, f"hello {feed.token}\n".encode(), closing=False)
    assert first.recv(100) == b"ok 128 64\n"
    assert "no another program is feeding this build" in say(server, f"hello {feed.token}\n".encode())
    first.close()
    assert wait_for(lambda: say(server, f"hello {feed.token}\n".encode()).startswith("ok"))


def test_a_half_sent_command_resynchronises_with_a_message(server, feed):
    answers = say(server, f"hello {feed.token}\nreset\nc A".encode(), b"\nc AE\nc A", b"F\n")
    assert answers == "ok 128 64\n? line 3: 'A' is not whole bytes of two hexadecimal digits\n"
    assert wait_for(lambda: Feed.objects.get(pk=feed.pk).line_count == 5)
    feed.refresh_from_db()
    assert feed.messages == ["line 3: 'A' is not whole bytes of two hexadecimal digits"]
    assert feed.session == ""


def test_the_page_asks_only_for_what_is_new(server, feed, client):
    client.force_login(feed.build.owner)
    page = client.get(reverse("bringup-feed", args=[feed.build_id])).content.decode()
    assert feed.token in page
    state = reverse("bringup-feed-state", args=[feed.build_id])
    assert client.get(f"{state}?since={feed.version}&live=0").status_code == 204
    say(server, f"hello {feed.token}\nreset\nc AF\nd 00\n".encode())
    assert wait_for(lambda: Feed.objects.get(pk=feed.pk).version > feed.version)
    answer = client.get(f"{state}?since={feed.version}&live=0")
    assert answer.status_code == 200
    assert "this was drawn last" in answer.content.decode()
    assert client.get(reverse("bringup-feed-png", args=[feed.build_id, 1]))["Cache-Control"] == "private, no-store"


def test_a_fresh_token_shuts_out_the_old_one(server, feed, client):
    client.force_login(feed.build.owner)
    client.post(reverse("bringup-feed-token", args=[feed.build_id]))
    assert "belongs to no build" in say(server, f"hello {feed.token}\n".encode())
    feed.refresh_from_db()
    assert say(server, f"hello {feed.token}\n".encode()).startswith("ok")


def test_transports_are_given_out_as_they_lie_in_the_folder(feed, client):
    client.force_login(feed.build.owner)
    for name in ("panel_feed.h", "panel_feed.c", "panel_feed.py"):
        answer = client.get(reverse("bringup-feed-file", args=[feed.build_id, name]))
        assert answer.content == (EXAMPLES / name).read_bytes()
    assert client.get(reverse("bringup-feed-file", args=[feed.build_id, "settings.py"])).status_code == 404
