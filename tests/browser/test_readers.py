"""Readers, live feed, colours and touch through the real page."""

import importlib.util
import re
import threading

import pytest
from playwright.sync_api import expect

from mosaic.cards.registry import CARDS, painted
from mosaic.conversion.program import Setting, transmission
from mosaic.panels.sending import Sending
from tests.browser.conftest import until
from tests.browser.test_bringup import glass, open_tab
from tests.reading import kept
from tests.workshop.test_feed import EXAMPLES
from workshop.bringup.feed_server import FeedServer
from workshop.bringup.models import Feed
from workshop.pictures.documents import Picture

pytestmark = pytest.mark.browser


def test_a_capture_is_replayed(workshop, complaints):
    page = workshop
    open_tab(page, "Barometer", "captures/")
    expect(page.locator(".fm-lines .is-wrong").first).to_contain_text("left with 3 of 4 operands")
    expect(page.locator(".fm-right")).to_contain_text("1.35 ×")
    page.get_by_label("Paste a capture").fill("reset,\nC,11\nwait,5\nC,29\nC,2Q\n")
    page.get_by_role("button", name="Play it into the panel").click()
    expect(page.get_by_role("alert").last).to_contain_text("Line 5: '2Q' is no byte")
    expect(page.get_by_label("Paste a capture")).to_have_value("reset,\nC,11\nwait,5\nC,29\nC,2Q\n")
    page.get_by_label("Paste a capture").fill("reset,\nC,11\nwait,5\nC,29\n")
    page.get_by_role("button", name="Play it into the panel").click()
    expect(page.locator("#main")).to_contain_text("Nowhere: the panel takes every byte.")
    assert complaints == []


def test_an_array_becomes_a_picture(workshop, complaints):
    page = workshop
    build = open_tab(page, "Stroke-rate counter", "arrays/")
    first = page.locator(".fm-guess").first
    expect(first).to_contain_text("128 × 64")
    expect(first).to_contain_text("bytes along a row, left pixel at the low end")
    first.get_by_role("button", name="Make it a picture").click()
    page.locator("#recipe").wait_for()
    expect(page.locator("#proof")).to_contain_text("verified: 1,024 of 1,024 bytes")
    assert kept(build, Picture).filter(name="From an array, 128 × 64").exists()
    assert complaints == []


def test_two_set_ups_are_compared_and_a_command_taken_over(workshop, complaints):
    page = workshop
    build = open_tab(page, "Barometer", "setups/")
    row = page.locator(".fm-commands tr.is-marked")
    expect(row).to_contain_text("inversion")
    row.get_by_role("checkbox").check()
    page.get_by_role("button", name="Apply the chosen to the passport").click()
    expect(page.get_by_role("status").first).to_contain_text("The passport’s set-up has now: no inversion.")
    build.refresh_from_db()
    assert "c 20" in build.passport["sequences"]["setup"]
    page.get_by_label("Found elsewhere").fill("cmd(0x11);\ncmd(what);")
    page.get_by_role("button", name="Compare side by side").click()
    expect(page.get_by_role("alert").last).to_contain_text("Found, line 2: cmd(what) gives no byte")
    assert complaints == []


def test_the_glass_follows_a_program(workshop, complaints):
    page = workshop
    server = FeedServer(0)
    threading.Thread(target=server.serve_forever, kwargs={"poll_interval": 0.05}, daemon=True).start()
    try:
        build = open_tab(page, "Stroke-rate counter", "feed/")
        expect(page.locator("#feed-state")).to_contain_text("this was drawn last")
        before = glass(page)
        spec = importlib.util.spec_from_file_location("panel_feed", EXAMPLES / "panel_feed.py")
        module = importlib.util.module_from_spec(spec)
        spec.loader.exec_module(module)
        device = build.to_device()
        setting = Setting(device.passport, device.turn)
        card = painted(CARDS["checks"], device.passport, device.turn)
        shown = page.locator("#glass").evaluate("e => e.src")
        with module.PanelFeed(server.server_address[1], Feed.objects.get(build=build).token) as panel:
            for sent in (t for part in transmission(card, setting, Sending()) for t in part.transactions):
                panel.reset() if sent.kind == "reset" else getattr(panel, sent.kind)(sent.data)
            panel.busy()
            expect(page.locator("#feed-state")).to_contain_text("A program is drawing.")
        page.wait_for_function("src => document.getElementById('glass').src !== src", arg=shown)
        expect(page.locator("#feed-state")).to_contain_text("Nobody is connected")
        until(page, lambda: (glass(page) != before).any())
        assert complaints == []
    finally:
        server.stop()


def test_colours_are_clicked_by_hand_and_by_keys(workshop, complaints):
    page = workshop
    build = open_tab(page, "Tide & wind board", "colours/")
    expect(page.locator(".fm-measured li")).to_have_count(4)
    page.get_by_role("button", name="Start again").click()
    expect(page.locator("#points-next")).to_have_text("next: corner 1 of 4")
    page.get_by_role("button", name="Measure").click()
    expect(page.get_by_role("alert").last).to_contain_text("0 corners are set")
    expect(page.locator("#points-next")).to_have_text("next: corner 1 of 4")  # written by the script: clicks count from here on
    bed = page.locator("#photo-bed")
    box = bed.locator("img").bounding_box()
    for x, y in ((236, 150), (742, 118), (790, 402), (204, 446), (90, 90), (900, 80)):
        page.mouse.click(box["x"] + x / 1000 * box["width"], box["y"] + y / 640 * box["height"])
    expect(page.locator("#points-next")).to_have_text("next: white paper, 3 of 3 or more")
    bed.focus()
    for _ in range(6):
        page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Enter")
    expect(page.locator("#points-next")).to_contain_text("enough points")
    page.get_by_role("button", name="Measure").click()
    expect(page.locator(".fm-measured")).to_contain_text(re.compile("yellow.*#d[56]"))
    page.get_by_role("button", name="Apply these colours").click()
    expect(page.get_by_role("status").first).to_contain_text("in the passport")
    build.refresh_from_db()
    assert build.passport["palette"]["measured"][3].startswith("#d")
    assert build.passport["palette"]["measured"] != ["#1f1d1e", "#e6e4da", "#b0261e", "#e3b81c"]
    assert complaints == []


def test_touches_are_fitted(workshop, complaints):
    page = workshop
    open_tab(page, "Sign-out panel", "touch/")
    expect(page.locator(".fm-right")).to_contain_text("Good for targets of 9 mm")
    page.get_by_label("Raw x and y").fill("1 1\n2 2\n3 3\n4 4\n5 5")
    page.get_by_role("button", name="Fit them").click()
    expect(page.get_by_role("alert").last).to_contain_text("lie in a line")
    page.get_by_label("Raw x and y").fill("402 441\n388 3702\n3655 3688\n3671 430\n2026 2071")
    page.get_by_role("button", name="Fit them").click()
    expect(page.locator(".fm-right")).to_contain_text("swapped")
    with page.expect_download() as waiting:
        page.get_by_role("link", name="touch_fit.h").click()
    assert "touch_place" in waiting.value.path().read_text()
    assert complaints == []
