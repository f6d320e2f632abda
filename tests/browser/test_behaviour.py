"""Behaviour by pointer and keys: areas drawn and led, the device touched, findings mended, limits dragged, the map."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import accessibility_faults as axe
from tests.browser.conftest import faults_at_all_widths, until
from tests.browser.test_screens import station
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.screens.documents import behaviour_of, design_of

pytestmark = pytest.mark.browser


def now(build):
    """The behaviour as it is kept."""
    build = Build.objects.get(pk=build.pk)
    shelf.forget(build)
    return behaviour_of(build)


def tab(page, name):
    page.get_by_role("navigation", name="Pages of this station").get_by_role("link", name=name, exact=True).click()
    page.wait_for_load_state("networkidle")


def dragged(page, locator, start, end):
    """Drag on something from a share of its width and height to another."""
    box = locator.bounding_box()
    at = [(box["x"] + box["width"] * x, box["y"] + box["height"] * y) for x, y in (start, end)]
    page.mouse.move(*at[0])
    page.mouse.down()
    page.mouse.move(*at[1], steps=4)
    page.mouse.up()


def test_an_area_is_drawn_led_to_another_screen_and_touched(workshop, complaints):
    page = workshop
    build = station(page, "Sign-out panel")
    tab(page, "Behaviour")
    page.get_by_label("On", exact=True).select_option(label="Help")
    page.wait_for_url("**?s=*")
    page.wait_for_load_state("networkidle")
    before = len(now(build).areas)
    dragged(page, page.locator("#overlay"), (0.02, 0.02), (0.4, 0.12))
    page.wait_for_url("**c=a*")
    until(page, lambda: len(now(build).areas) == before + 1)
    area = now(build).areas[-1]
    assert 115 <= area.width <= 128
    page.get_by_label("name of the area").fill("Club name")
    page.locator("section.fm-area").get_by_role("button", name="Save", exact=True).click()
    until(page, lambda: now(build).areas[-1].name == "Club name")
    page.get_by_label("screen it leads to").select_option(label="Times")
    page.get_by_role("button", name="Lead there").click()
    expect(page.locator("#rules-title")).to_be_visible()
    until(page, lambda: now(build).rules[-1].trigger.on == area.id)
    expect(
        page.get_by_role("link", name="When “Club name” is released: show Times; tell the program 3 times shown.")
    ).to_be_visible()

    page.locator(".fm-chip", has_text="Club name").click()
    page.wait_for_load_state("networkidle")
    overlay = page.locator("#overlay")
    overlay.focus()
    for key, place in (("ArrowDown", (area.x, area.y + 1)), ("Shift+ArrowRight", (area.x + 8, area.y + 1))):
        overlay.press(key)  # each is a step of its own once the one before it is kept
        until(page, lambda place=place: (now(build).areas[-1].x, now(build).areas[-1].y) == place)
        page.wait_for_load_state("networkidle")
    page.get_by_role("button", name="Undo").click()
    until(page, lambda: (now(build).areas[-1].x, now(build).areas[-1].y) == (area.x, area.y + 1))
    assert faults_at_all_widths(page) == []
    assert complaints == []


def test_the_device_is_played_by_touch_and_by_keys(workshop, complaints):
    page = workshop
    station(page, "Sign-out panel")
    tab(page, "Device")
    told, glass = page.locator("#told"), page.locator("#overlay")
    expect(told).to_contain_text("shows Racks")
    box = glass.bounding_box()
    page.mouse.move(box["x"] + 0.8 * box["width"], box["y"] + 0.25 * box["height"])  # Out
    page.mouse.down()
    page.wait_for_timeout(80)
    page.mouse.up()
    expect(told).to_contain_text("shows Boat")
    expect(told).to_contain_text("tells the program 2 boat shown")
    expect(page.locator("#on-screen")).to_have_text("Boat")

    page.get_by_role("button", name="Start again").click()
    expect(page.locator("#on-screen")).to_have_text("Racks")
    expect(told).not_to_contain_text("boat shown")
    glass.focus()
    glass.press("Shift+ArrowLeft")
    expect(page.locator("#on-screen")).to_have_text("Water")
    glass.press("Shift+ArrowRight")
    expect(page.locator("#on-screen")).to_have_text("Racks")
    for _ in range(16):
        glass.press("ArrowLeft")
    glass.press("ArrowUp")
    glass.press("Space")
    expect(told).to_contain_text("boat chosen")

    page.get_by_label("Keep this run as").fill("there and back")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator(".fm-runs")).to_contain_text("there and back does the same")
    assert axe(page) == ""
    page.get_by_role("link", name="there and back").click()
    expect(page.locator("main")).to_contain_text("Played now, the device does the same.")
    assert axe(page) == ""
    tab(page, "Device")
    assert faults_at_all_widths(page) == []
    assert complaints == []


def test_two_buttons_are_held_and_the_time_runs(workshop, complaints):
    page = workshop
    station(page, "Stroke-rate counter")
    tab(page, "Device")
    button = page.get_by_role("button", name="page", exact=True)
    button.press("Space")
    expect(page.locator("#on-screen")).to_have_text("Distance")
    page.get_by_label("speed").select_option("100")
    page.get_by_role("button", name="Run").click()
    expect(page.locator("#on-screen")).to_have_text("Rate")
    page.get_by_role("button", name="Stop").click()
    expect(page.locator("#told")).to_contain_text("rate shown")
    assert complaints == []


def test_no_way_back_is_found_and_mended(workshop, complaints):
    page = workshop
    build = station(page, "Sign-out panel")
    tab(page, "Behaviour")
    page.get_by_label("On", exact=True).select_option(label="Water")
    page.wait_for_url("**?s=*")
    for words in ("When a finger swipes right", "When nothing has been touched for 60 s"):
        page.get_by_role("link", name=words).click()
        page.wait_for_load_state("networkidle")
        page.locator(".fm-rule").first.get_by_role("button", name="Delete", exact=True).click()
        page.wait_for_load_state("networkidle")
    finding = page.locator("#findings article", has_text="Water leads nowhere")
    expect(finding).to_be_visible()
    finding.get_by_role("button", name="Return to Racks after 30 s without a touch").click()
    expect(page.locator("#findings article", has_text="Water leads nowhere")).to_have_count(0)
    assert (now(build).rules[-1].trigger.when, now(build).rules[-1].trigger.ms) == ("quiet", 30_000)
    tab(page, "Map")
    expect(page.get_by_role("link", name="Water: what happens there")).to_be_visible()
    assert faults_at_all_widths(page) == []
    page.get_by_role("link", name="Water: what happens there").click()
    expect(page.get_by_role("heading", name="Water: where it is touched")).to_be_visible()
    assert complaints == []


def test_a_limit_is_moved_by_keys_and_dragged_shut(workshop, complaints):
    page = workshop
    build = station(page, "Sign-out panel")
    tab(page, "Bands")

    def limits():
        shelf.forget(Build.objects.get(pk=build.pk))
        value = next(v for v in design_of(Build.objects.get(pk=build.pk)).values if v.name == "wind")
        return [(band.start, band.end) for band in value.bands.bands]

    assert limits() == [(None, 12), (12, 28), (28, None)]
    first = page.locator("#line .limit").first
    first.focus()
    first.press("ArrowRight")
    first.press("ArrowRight")
    until(page, lambda: limits() == [(None, 14), (14, 28), (28, None)])
    page.wait_for_load_state("networkidle")
    line = page.locator("#line")
    last = page.locator("#line .limit").last.bounding_box()
    box = line.bounding_box()
    page.mouse.move(last["x"] + last["width"] / 2, last["y"] + last["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.2, last["y"] + 10, steps=5)
    page.mouse.up()
    until(page, lambda: limits() == [(None, 14), (14, None)])
    page.wait_for_load_state("networkidle")
    expect(page.get_by_label("word of band 2")).to_have_value("storm")
    page.get_by_role("button", name="Undo").click()
    until(page, lambda: len(limits()) == 3)
    assert faults_at_all_widths(page) == []
    tab(page, "In & out")
    expect(page.get_by_role("table", name="Truth table of sounder, computed")).to_contain_text("wind enters storm")
    assert faults_at_all_widths(page) == []
    assert complaints == []
