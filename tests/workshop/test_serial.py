"""Serial panels through their pages and lines: map, frames, line, slots; programs of their own on the port and the pseudo terminal."""

import html
import os
import re
import socket
import subprocess
import sys
import threading
import time
from io import BytesIO
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import close_old_connections
from django.urls import reverse
from PIL import Image

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Event, Rule, Trigger
from mosaic.lettering.plan import LetteringPlan
from mosaic.screens.screen import Anchor, Design, Element, Screen
from mosaic.serial.frames import Message, Reader, encode
from mosaic.serial.memory import Entry, packed
from mosaic.serial.template import MARKED, PACKETS
from mosaic.values.value import Source, Value
from workshop.builds.services import start_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.lettering.services import add_lettering
from workshop.screens.documents import BehaviourDocument, DesignDocument, ScreenDocument, SerialDocument
from workshop.screens.models import SerialLine, SerialTouch
from workshop.screens.serial.server import LineServer
from workshop.screens.serial.services import plan_of
from workshop.stations.overview import overview_of

FIRMWARE = Path(__file__).resolve().parent.parent.parent / "mosaic" / "firmware"
TIDE = Value("v1", "tide", decimals=1, low=-50, high=680, unit="m", source=Source(every_ms=1000))
NAME = Value("v2", "name", "text", most_bytes=8, source=Source(every_ms=10_000))
LAMP = Value("v3", "lamp", "yes/no", source=Source(every_ms=1000))


@pytest.fixture
def build(maker):
    made = start_build(owner=maker, name="Table", panel="serial-tft-320x240", board="wireless", link_kind="uart")
    add_lettering(build=made, name="Small", plan=LetteringPlan(face="narrow", size_by="pixels", size_px=24))
    documents.save_single(DesignDocument, build=made, base=0, record=Design(values=(TIDE, NAME, LAMP)))
    text = Element("e1", "text", "Tide", Anchor(plus=20), Anchor(plus=20), text="{v1} {v3}")
    first = documents.add(ScreenDocument, build=made, name="Water", record=Screen((text,)))
    documents.add(ScreenDocument, build=made, name="Boats", record=Screen((Element("e1", "text", "T", text="Boats"),)))
    behaviour = Behaviour(
        areas=(Area("a1", "Boats", first.ref, x=100, y=100, width=80, height=60),), events=(Event("x1", 7, "boats wanted"),),
        rules=(Rule("r1", Trigger("release", "a1"), (Action("event", "x1"),)),), next_code=8,
    )  # fmt: skip
    documents.save_single(BehaviourDocument, build=made, base=0, record=behaviour)
    return made


def said(answer) -> str:
    return html.unescape(re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", answer.content.decode())))


def base(build) -> str:
    build.refresh_from_db()
    shelf.forget(build)
    row = shelf.single(build, SerialDocument)
    return str(row.head_id if row else 0)


def placed(client, build, how="automatic", **more):
    address = reverse("keep-serial-map", args=[build.pk])
    return client.post(address, {"base": base(build), "unit": "words", "first": "1000", "spacing": "1", "how": how, **more})


# Map


def test_values_are_placed_by_themselves_and_by_hand(build, signed_in):
    assert "Shown without an address: tide, lamp" in said(signed_in.get(reverse("serial", args=[build.pk])))
    placed(signed_in, build)
    base(build)
    assert [(one.value, one.start, one.kind) for one in plan_of(build).memory.entries] == [
        ("v1", 0x1000, "s16"), ("v2", 0x1001, "text"), ("v3", 0x1005, "bit"),
    ]  # fmt: skip
    page = signed_in.get(reverse("serial", args=[build.pk])).content.decode()
    assert page.count("<title>10") == 3
    told = {"start_v1": "2000", "decimals_v1": "0", "kind_v1": "s16", "direction_v1": "both", "every_ms_v1": "250"}
    placed(signed_in, build, how="", **told)
    base(build)
    (entry,) = plan_of(build).memory.entries
    assert entry == Entry("v1", 0x2000, "s16", 0, direction="both", every_ms=250)
    words = said(signed_in.get(reverse("serial", args=[build.pk])))
    assert "tide has 1 decimals, and 0 are sent" in words
    assert "Shown without an address: lamp" in words


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"start_v1": "here"}, "the address of tide is 'here'"), ({"start_v1": "10", "decimals_v1": "x"}, "decimals of tide is 'x'"),
        ({"first": "99999"}, "the first address is '99999'"), ({"start_v1": "10", "kind_v1": "f32"}, "f32"),
        ({"start_v1": "10", "decimals_v1": "9"}, "9"),
    ],
)  # fmt: skip
def test_a_wrong_map_is_said_and_stays(build, signed_in, changes, words):
    answer = placed(signed_in, build, how="", **changes)
    assert answer.status_code == 422
    assert words in said(answer).replace("The ", "the ").replace("Decimals", "decimals")
    assert base(build) == "0"
    typed = next((value for name, value in changes.items() if name.endswith("_v1") and name != "kind_v1"), None)
    assert typed is None or f'value="{typed}"' in answer.content.decode()


def test_a_table_out_and_in_and_code(build, signed_in):
    placed(signed_in, build)
    text = signed_in.get(reverse("serial-table", args=[build.pk])).content.decode()
    assert "tide,0x1000,s16,1,1" in text
    bring = reverse("bring-serial-table", args=[build.pk])
    changed = SimpleUploadedFile("map.csv", text.replace("0x1000", "0x3000").encode(), "text/csv")
    signed_in.post(bring, {"base": base(build), "table": changed})
    base(build)
    assert plan_of(build).memory.entry("v1").start == 0x3000
    wrong = signed_in.post(bring, {"base": base(build), "table": SimpleUploadedFile("map.csv", b"value,address\nwind,1\n")})
    assert (wrong.status_code, "no value is called" in said(wrong)) == (422, True)
    code = signed_in.get(reverse("serial-source", args=[build.pk, "panel_map.h"])).content.decode()
    assert "static const line_entry panel_tide = {0x3000, LINE_S16, 2, 0, 1};" in code
    assert signed_in.get(reverse("serial-source", args=[build.pk, "line.c"])).content == (FIRMWARE / "line.c").read_bytes()


def test_a_finding_is_mended(build, signed_in):
    placed(signed_in, build, how="", start_v1="10", decimals_v1="0", kind_v1="s16", start_v3="11", kind_v3="bit")
    finding = next(one for one in overview_of(build).findings_of("serial-0") if one["id"] == "serial.step-lost")
    import json

    signed_in.post(
        reverse("fix-serial", args=[build.pk]), {"base": base(build), "changes": json.dumps(finding["fix"]["changes"])}
    )
    base(build)
    assert plan_of(build).memory.entry("v1").decimals == 1


def test_other_panels_have_no_line(maker, signed_in):
    other = start_build(owner=maker, name="Slip", panel="mono-oled-128x64", board="small", link_kind="i2c")
    for name in ("serial", "serial-frames", "serial-line", "serial-slots", "serial-live"):
        assert signed_in.get(reverse(name, args=[other.pk])).status_code == 404


# Frames


def test_a_frame_is_shown_and_bytes_are_decoded(build, signed_in):
    placed(signed_in, build)
    base(build)
    page = reverse("serial-frames", args=[build.pk])
    entry = plan_of(build).memory.entry("v1")
    frame = encode(Message("write", entry.start, packed(entry, TIDE, -21, plan_of(build).memory, "high first")), PACKETS)
    words = said(signed_in.get(page, {"what": "v1", "reading": "-2.1"}))
    assert "A5 5A header 07 length 7 31 code write 10 00 address 1000h FF EB payload" in words
    assert f"{len(frame)} B, 0.868 ms at 115,200 bit/s" in words
    decoded = said(signed_in.get(page, {"pasted": "00 " + frame.hex(" ") + frame[:-1].hex() + "ff"}))
    assert "write tide = -2.1 m" in decoded
    assert "garbage at byte 0" in decoded
    assert f"check at byte {1 + len(frame)}" in decoded
    assert signed_in.get(page, {"pasted": "xyz"}).status_code == 422
    assert "no bytes in hexadecimal" in said(signed_in.get(page, {"pasted": "A5 5"}))
    assert "too large for light" in said(signed_in.get(page, {"what": "light", "reading": "300"}))


def test_a_template_is_taken_and_filled_in(build, signed_in):
    keep = reverse("keep-serial-template", args=[build.pk])
    signed_in.post(keep, {"base": "0", "take": MARKED.name})
    base(build)
    assert plan_of(build).template == MARKED
    told = {
        "framing": "length", "header": "5aa5", "length_bytes": "1", "counts": "what follows", "address_bytes": "2",
        "order": "high first", "check": "own", "polynomial": "8005", "start": "FFFF", "final": "0", "terminator": "",
        **{f"code_{act}": code for act, code in zip(("write", "read", "answer", "page", "light", "sound", "touch"),
                                                    ("82", "83", "84", "85", "86", "", "88"), strict=True)},
    }  # fmt: skip
    signed_in.post(keep, {"base": base(build), **told})
    base(build)
    kept = plan_of(build).template
    assert (kept.header, kept.codes.write, kept.codes.sound, kept.check.polynomial) == ("5A A5", 0x82, -1, 0x8005)
    for wrong, words in (
        ({"header": "5A A"}, "the header is"), ({"code_write": "zz"}, "the code of write"), ({"code_read": "82"}, "one code"),
        ({"framing": "terminator"}, "ends with its terminator"), ({"polynomial": "12345"}, "the polynomial"), ({"take": "magic"}, "no template"),
    ):  # fmt: skip
        answer = signed_in.post(keep, {"base": base(build), **told, **wrong})
        assert (answer.status_code, words.lower() in said(answer).lower()) == (422, True), words


# Line and slots


def test_the_line_and_its_clock(build, signed_in):
    placed(signed_in, build)
    keep = reverse("keep-serial-line", args=[build.pk])
    signed_in.post(keep, {"base": base(build), "board_mhz": "16", "divider": "16", "polls": "1"})
    words = said(signed_in.get(reverse("serial-line", args=[build.pk])))
    assert "The rate is missed by 3.55%" in words
    assert "with an error of 3.5%" in words
    assert "tide 1.00 10 B" in words
    answer = signed_in.post(keep, {"base": base(build), "board_mhz": "fast"})
    assert (answer.status_code, "'fast'" in said(answer), 'value="fast"' in answer.content.decode()) == (422, True, True)


def test_slots_by_themselves_and_by_hand(build, signed_in):
    keep = reverse("keep-serial-slots", args=[build.pk])
    signed_in.post(keep, {"base": base(build), "anew": "1", "name": "{n3}.bin", "capitals": "1"})
    base(build)
    assert len(plan_of(build).slots.placed) == 3
    refs = [one.ref for one in plan_of(build).slots.placed]
    told = {f"slot_{refs[0]}": "2", f"slot_{refs[1]}": "2", "name": "{name}.jpg", "card_gb": "64", "cluster_kib": "4"}
    signed_in.post(keep, {"base": base(build), **told})
    words = said(signed_in.get(reverse("serial-slots", args=[build.pk])))
    assert "both lie here" in words
    assert "64 GB" in words
    answer = signed_in.post(keep, {"base": base(build), **told, f"slot_{refs[0]}": "first"})
    assert (answer.status_code, 'value="first"' in answer.content.decode()) == (422, True)


# The stand-in


@pytest.fixture
def server(transactional_db):
    made = LineServer(0)
    thread = threading.Thread(target=made.run, daemon=True)
    thread.start()
    yield made
    made.stop()
    thread.join(10)
    deadline = time.monotonic() + 120
    while made.clients and time.monotonic() < deadline:
        time.sleep(0.02)
    for one in made.terminals.values():
        one.join(10)
    close_old_connections()


def opened(server, token) -> socket.socket:
    client = socket.create_connection(("127.0.0.1", server.port), timeout=60)
    client.sendall(f"serial {token}\n".encode())
    return client


def until(condition, seconds=20.0):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        found = condition()
        if found:
            return found
        time.sleep(0.01)
    raise AssertionError("it never came about")


def line_of(build) -> SerialLine:
    return SerialLine.objects.get_or_create(build=build)[0]


def test_values_arrive_pages_change_and_touches_are_told(build, signed_in, server):
    placed(signed_in, build)
    base(build)
    plan, entry = plan_of(build), plan_of(build).memory.entry("v1")
    signed_in.get(reverse("serial-live", args=[build.pk]))
    with opened(server, line_of(build).token) as client:
        assert client.recv(3) == b"ok\n"
        client.sendall(encode(Message("write", entry.start, packed(entry, TIDE, 345, plan.memory, "high first")), PACKETS))
        until(lambda: line_of(build).state.get("readings") == {"v1": 345})
        words = said(signed_in.get(reverse("serial-live-state", args=[build.pk])))
        assert "tide 34.5 m" in words
        first = signed_in.get(reverse("serial-glass", args=[build.pk, 1])).content
        client.sendall(encode(Message("page", 0, b"\x00\x01"), PACKETS))
        until(lambda: line_of(build).state.get("page") == 1)
        second = signed_in.get(reverse("serial-glass", args=[build.pk, 2])).content
        assert Image.open(BytesIO(first)).size == (320, 240)
        assert first != second
        client.sendall(encode(Message("page", 0, b"\x00\x00"), PACKETS))
        until(lambda: line_of(build).state.get("page") == 0)
        touch = reverse("serial-touch", args=[build.pk])
        assert signed_in.post(touch, {"x": "20", "y": "20"}).status_code in (400, 422)
        began = time.monotonic()
        signed_in.post(touch, {"x": "140", "y": "130"})
        reader = Reader(PACKETS)
        (message,) = reader.feed(client.recv(100))
        assert (message.act, message.data) == ("touch", b"\x00\x07")
        assert time.monotonic() - began < 1.0
        other = opened(server, line_of(build).token)
        assert b"another program is on this line" in other.recv(200)
        other.close()
        client.sendall(b"\xff" * 65_536 + encode(Message("light", 0, b"\x32"), PACKETS))
        until(lambda: line_of(build).state.get("light") == 50)
        assert line_of(build).state["counts"]["garbage"] == 1
    until(lambda: line_of(build).session == "")
    with opened(server, "nobody") as stranger:
        assert b"this token belongs to no build" in stranger.recv(200)


SENDER = """
import os, random, sys
sys.path.insert(0, sys.argv[2])
import line
from panel_map import *
path, damaged = sys.argv[1], float(sys.argv[3])
import tty
fd = os.open(path, os.O_RDWR | os.O_NOCTTY)
tty.setraw(fd)
dice, whole = random.Random(4), 0
for n in range(10_000):
    frame = bytearray(line.number(TEMPLATE, TIDE, n % 600))
    hit = False
    for at in range(len(frame)):
        if dice.random() < damaged:
            frame[at] ^= dice.randrange(1, 256)
            hit = True
    whole += not hit
    while frame:
        del frame[: os.write(fd, frame)]
os.write(fd, line.number(TEMPLATE, TIDE, 601))
print(whole)
"""


@pytest.mark.parametrize("damaged", [0.0, 0.05])
def test_a_process_of_its_own_sends_ten_thousand_frames_over_the_pseudo_terminal(build, signed_in, server, tmp_path, damaged):
    placed(signed_in, build)
    for name in ("line.py", "panel_map.py"):
        (tmp_path / name).write_bytes(signed_in.get(reverse("serial-source", args=[build.pk, name])).content)
    signed_in.post(reverse("serial-terminal", args=[build.pk]), {"open": "1"})
    path = until(lambda: line_of(build).terminal)
    assert os.path.exists(path)
    answer = subprocess.run(
        [sys.executable, "-c", SENDER, path, str(tmp_path), str(damaged)], check=True, capture_output=True, text=True, timeout=120
    )
    whole = int(answer.stdout) + 1
    until(lambda: line_of(build).state.get("readings", {}).get("v1") == 601, 60)
    state = line_of(build).state
    assert state["frames"] >= whole
    assert state["frames"] <= whole + 5  # a damaged one may have a right check by chance: one in 65,536
    assert (sum(state["counts"].values()) > 0) == bool(damaged)
    assert state["skipped"] == 0 or damaged
    signed_in.post(reverse("serial-terminal", args=[build.pk]), {"close": "1"})
    until(lambda: line_of(build).terminal == "")


def test_the_senders_compile_and_run(build, signed_in, server, tmp_path, settings):
    settings.LINE_PORT = server.port
    placed(signed_in, build)
    for name in ("line.c", "line.h", "line.py", "panel_map.h", "panel_map.py"):
        (tmp_path / name).write_bytes(signed_in.get(reverse("serial-source", args=[build.pk, name])).content)
    signed_in.get(reverse("serial-live", args=[build.pk]))
    for name in ("panel_sender.c", "panel_sender.py"):
        (tmp_path / name).write_bytes(signed_in.get(reverse("serial-sender", args=[build.pk, name])).content)
    warnings = ["-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Werror"]
    subprocess.run(["gcc", *warnings, "panel_sender.c", "line.c", "-o", "sender"], cwd=tmp_path, check=True)
    for command in (["./sender"], [sys.executable, "panel_sender.py"]):
        SerialLine.objects.update(state={}, session="")
        with subprocess.Popen(command, cwd=tmp_path, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True) as program:
            try:
                until(lambda: len(line_of(build).state.get("readings", {})) == 3)
                SerialTouch.objects.create(line=line_of(build), event=7)
                assert program.stdout.readline() == "touch 7\n"
            finally:
                program.kill()
        until(lambda: line_of(build).session == "")
        assert not line_of(build).state["counts"]


def test_a_program_that_never_reads_loses_bytes_and_the_page_stays(build, signed_in, server):
    placed(signed_in, build)
    base(build)
    read = encode(Message("read", plan_of(build).memory.entry("v1").start, b"\xfa"), PACKETS)
    signed_in.get(reverse("serial-live", args=[build.pk]))
    with opened(server, line_of(build).token) as client:
        assert client.recv(3) == b"ok\n"
        client.setblocking(False)
        sent = 0
        deadline = time.monotonic() + 120
        while time.monotonic() < deadline and not line_of(build).state.get("lost"):
            try:
                sent += client.send(read * 200)
            except BlockingIOError:
                time.sleep(0.05)
        assert line_of(build).state["lost"] > 0
        assert signed_in.get(reverse("serial-live", args=[build.pk])).status_code == 200
        assert sent
