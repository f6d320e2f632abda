"""The club room's serial panel: placed, framed, and live with a program on its line."""

import re
import socket
import threading

import pytest
from playwright.sync_api import expect

from mosaic.serial.frames import Message, Reader, encode
from mosaic.serial.memory import packed
from tests.browser.conftest import faults_at_all_widths
from workshop.builds.models import Build
from workshop.screens.documents import design_of
from workshop.screens.models import SerialLine
from workshop.screens.serial.server import LineServer
from workshop.screens.serial.services import plan_of

pytestmark = pytest.mark.browser


def address(page, rest=""):
    build = Build.objects.get(name="Club room screen")
    return f"/builds/{build.pk}/screens/serial/{rest}"


@pytest.fixture
def server(workshop):
    made = LineServer(0)
    thread = threading.Thread(target=made.run, daemon=True)
    thread.start()
    yield made
    made.stop()
    thread.join(10)


def test_values_are_placed_and_their_frames_read(workshop, complaints):
    page = workshop
    page.goto(address(page))
    expect(page.get_by_role("heading", name="Address map")).to_be_visible()
    page.get_by_label("address of wind", exact=True).fill("1002")
    page.get_by_role("button", name="Save map").click()
    expect(page.get_by_role("heading", name="tide and wind overlap at 1002h")).to_be_visible()
    page.get_by_role("button", name="Place all values again").click()
    expect(page.get_by_label("address of wind", exact=True)).to_have_value("1003")
    page.get_by_label("address of wind", exact=True).fill("here")
    page.get_by_role("button", name="Save map").click()
    expect(page.get_by_role("alert")).to_contain_text("The address of wind is 'here'")
    expect(page.get_by_label("address of wind", exact=True)).to_have_value("here")
    page.get_by_role("navigation", name="Serial line").get_by_role("link", name="Frames").click()
    page.get_by_label("what the frame does").select_option("v2")
    page.get_by_label("the value", exact=True).fill("4.6")
    page.get_by_role("button", name="Make it").click()
    told = page.locator(".fm-frame")
    expect(told).to_contain_text("00 2E")
    frame = " ".join(told.locator("b").all_inner_texts())
    page.get_by_label(re.compile("^Bytes, in hexadecimal")).fill(f"FF {frame}")
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_role("region", name="Frames that came")).to_contain_text("tide = 4.6 m")
    assert faults_at_all_widths(page) == []
    for name in ("Line", "Slots & card"):
        page.get_by_role("navigation", name="Serial line").get_by_role("link", name=name, exact=True).click()
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        assert faults_at_all_widths(page) == []
    page.get_by_role("button", name="Place everything again, the largest first").click()
    expect(page.locator(".fm-shelf-slots li")).to_have_count(4)
    assert [done for done in complaints if "422" not in done] == []


def test_a_value_arrives_a_page_changes_and_a_touch_is_told(workshop, server, complaints):
    page = workshop
    page.goto(address(page, "live/"))
    build = Build.objects.get(name="Club room screen")
    plan, values = plan_of(build), {value.id: value for value in design_of(build).values}
    state = page.locator("#line-state")
    expect(state).to_contain_text("Nobody is on the line")
    with socket.create_connection(("127.0.0.1", server.port), timeout=20) as program:
        program.sendall(f"serial {SerialLine.objects.get(build=build).token}\n".encode())
        assert program.recv(3) == b"ok\n"
        tide = plan.memory.entry("v2")
        program.sendall(
            encode(Message("write", tide.start, packed(tide, values["v2"], 46, plan.memory, "high first")), plan.template)
        )
        expect(state).to_contain_text("4.6 m")
        before = page.locator("#glass").get_attribute("src")
        page.get_by_role("button", name="Boats", exact=True).click()
        (told,) = Reader(plan.template).feed(program.recv(100))
        assert (told.act, told.data) == ("touch", b"\x00\x01")
        program.sendall(encode(Message("page", 0, b"\x00\x01"), plan.template))
        expect(page.get_by_role("button", name="Lamp", exact=True)).to_be_visible()
        expect(page.locator("#glass")).not_to_have_attribute("src", before)
        box = page.locator("#glass").bounding_box()
        page.mouse.click(box["x"] + 600 * box["width"] / 1024, box["y"] + 320 * box["height"] / 600)
        (told,) = Reader(plan.template).feed(program.recv(100))
        assert (told.act, told.data) == ("touch", b"\x00\x02")
        program.sendall(b"\x00\x01garbage")
        expect(state).to_contain_text("bytes that begin no frame")
    expect(state).to_contain_text("Nobody is on the line")
    assert complaints == []
