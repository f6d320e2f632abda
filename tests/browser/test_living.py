"""Values on screens by hand and by keys: bound, seen at their widest, mended, played, unplugged; files, another panel, code."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import accessibility_faults as axe
from tests.browser.conftest import faults_at_all_widths, until
from tests.browser.test_screens import choose, record, rest, station
from tests.browser.test_walk import glass_pixels
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.screens.documents import ScreenDocument, design_of

pytestmark = pytest.mark.browser


def test_a_value_is_bound_seen_at_its_widest_mended_and_moved_on_its_curve(workshop, complaints):
    page = workshop
    build = station(page, "Tide & wind board")
    page.get_by_role("link", name="Values", exact=True).click()
    page.get_by_label("A new value called").fill("draught")
    page.get_by_role("button", name="Make it").click()
    form = page.locator("details[open] form")
    form.get_by_label("highest").fill("12345")
    form.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("details[open] summary")).to_contain_text("0 to 12345")
    assert design_of(Build.objects.get(pk=build.pk)).values[-1].high == 12_345

    page.get_by_role("link", name="One screen").click()
    choose(page, 1)
    page.get_by_label("text", exact=True).fill("{draught} mm")
    page.get_by_label("text", exact=True).press("Tab")
    rest(page)
    assert record("Tide").element("e1").text == "{v5} mm"
    page.get_by_label("width by").select_option("pixels")
    page.get_by_label("width in pixels").fill("20")
    page.get_by_label("width in pixels").press("Tab")
    rest(page)
    typical = glass_pixels(page)
    page.locator(".fm-state", has_text="widest").first.click()
    rest(page)
    until(page, lambda: not (glass_pixels(page) == typical).all())
    finding = page.locator("#findings article", has_text="px wide, in a place of 20 px")
    finding.get_by_role("button", name="Make room for it").click()
    rest(page)
    expect(finding).to_have_count(0)
    assert record("Tide").element("e1").width.pixels > 40

    choose(page, 8)
    page.get_by_label("what of it follows a value").select_option("x")
    page.get_by_label("the value it follows").select_option(label="tide")
    page.get_by_role("button", name="Let it", exact=True).click()
    rest(page)
    before = record("Tide").element("e8").follows[1].map.points
    point = page.locator(".fm-map circle").last
    point.scroll_into_view_if_needed()
    box = point.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] - 40, box["y"] + 12, steps=3)
    page.mouse.up()
    rest(page)
    after = record("Tide").element("e8").follows[1].map.points
    assert after[0] == before[0]
    assert after[1][0] < before[1][0]
    assert after[1][1] < before[1][1]
    page.locator("#undo").click()
    rest(page)
    assert record("Tide").element("e8").follows[1].map.points == before
    assert axe(page) == ""


def test_a_screen_is_played_unplugged_and_stepped_by_keys_too(workshop, complaints):
    page = workshop
    station(page, "Stroke-rate counter")
    page.get_by_role("link", name="Play", exact=True).focus()
    page.keyboard.press("Enter")
    shot = "() => document.getElementById('glass').toDataURL()"
    page.wait_for_function("() => document.getElementById('glass').toDataURL().length > 800")
    first = page.evaluate(shot)
    page.get_by_label("Play", exact=True).select_option("10")
    page.locator("#speed").select_option("100")
    page.locator("#play").focus()
    page.keyboard.press("Enter")
    expect(page.locator("#clock")).to_have_text("10.0 s")
    expect(page.locator("#played")).to_contain_text("Readings missed")
    assert page.evaluate(shot) != first
    assert page.locator("#timeline rect.read").count() > 10
    page.locator("#step").press("Enter")
    assert float(page.locator("#clock").inner_text().split()[0]) < 1
    page.get_by_label("unplugged").first.check()
    page.get_by_label("unplugged").last.check()
    page.locator("#play").click()
    expect(page.locator("#played dd").nth(1)).to_contain_text("1, ")
    assert faults_at_all_widths(page) == []


def test_readings_come_from_a_file_and_states_are_struck_out(workshop, tmp_path, complaints):
    page = workshop
    build = station(page, "Tide & wind board")
    page.get_by_role("link", name="Values", exact=True).click()
    page.locator("details.fm-value summary").first.click()
    log = tmp_path / "log.csv"
    log.write_text("time;tide\n0;1,5\n600;2,5\n1200;\n1800;4,0\n")
    form = page.locator("details[open] form")
    form.get_by_label("Readings from a CSV file").set_input_files(log)
    form.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("details[open] figcaption")).to_contain_text("4 readings from a file")
    assert faults_at_all_widths(page) == []
    page.get_by_role("link", name="States", exact=True).click()
    count = page.locator(".fm-tray--states a").count()
    page.get_by_label("value 2", exact=True).select_option(label="wind")
    page.get_by_role("button", name="Strike it out").click()
    expect(page.locator(".fm-tray--states a", has_text="lowest, wind typical")).to_have_count(1)
    assert page.locator(".fm-tray--states a").count() == count + 1
    assert len(design_of(Build.objects.get(pk=build.pk)).never) == 1
    assert faults_at_all_widths(page) == []


def test_a_screen_moves_to_another_panel_and_code_becomes_one(workshop, complaints):
    page = workshop
    station(page, "Stroke-rate counter")
    page.get_by_role("link", name="Another panel").click()
    page.get_by_label("On", exact=True).select_option("tft-240x240-round")
    page.get_by_role("button", name="Show").click()
    expect(page.get_by_text("elements are there")).to_have_count(2)
    assert faults_at_all_widths(page) == []
    page.get_by_label("Keep them as a build of its own").fill("Round counter")
    page.get_by_role("button", name="Save", exact=True).click()
    page.wait_for_url("**/screens/*/")
    made = Build.objects.get(name="Round counter")
    assert [row.name for row in shelf.of_kind(made, ScreenDocument)] == ["Rate", "Distance"]

    page.get_by_role("link", name="Read code").click()
    page.get_by_label("The text").fill("fillBox(20, 30, 40, 12, 0xF800);\nsplash(4, 5);\nfor (;;) dot(i, 3);")
    page.get_by_role("button", name="Read it").click()
    page.get_by_label("splash draws").select_option("pixel")
    page.get_by_role("button", name="Show it so").click()
    expect(page.get_by_text("2 elements")).to_be_visible()
    expect(page.get_by_text("not all of its numbers are known")).to_be_visible()
    assert faults_at_all_widths(page) == []
    page.get_by_role("button", name="Make it", exact=True).click()
    page.wait_for_url("**/screens/*/")
    expect(page.locator(".fm-choose")).to_have_count(2)
