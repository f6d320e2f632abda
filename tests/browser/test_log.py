"""A line for the log by one key, the chart, the search, the bin, a version, the book; by keyboard and on a phone."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import faults_at_all_widths
from workshop.builds.models import Build
from workshop.journal.models import LogEntry

pytestmark = pytest.mark.browser


def address(page, name, rest=""):
    build = Build.objects.filter(name=name).latest("pk")
    return f"/builds/{build.pk}/{rest}"


def test_a_line_by_one_key_from_any_page(workshop, complaints):
    page = workshop
    page.goto(address(page, "Tide & wind board", "refresh/paper/"))
    page.keyboard.press("n")
    line = page.get_by_role("dialog", name="A line for the log")
    expect(line).to_be_visible()
    expect(line.get_by_label("quantity", exact=True)).to_have_value("refresh-time")
    line.get_by_label("what happened").fill("On the slipway, with a watch.")
    line.get_by_label("reading with its unit").fill("16 furlongs")
    line.get_by_role("button", name="Save", exact=True).press("Enter")
    expect(page.get_by_text("is no unit of time of a refresh", exact=False)).to_be_visible()
    expect(line.get_by_label("what happened")).to_have_value("On the slipway, with a watch.")
    line.get_by_label("reading with its unit").fill("16 s")
    line.get_by_role("button", name="Save", exact=True).press("Enter")
    expect(line).to_contain_text("Written down")
    line.get_by_role("link", name="To the log").click()
    first = page.locator(".fm-entry").first
    expect(first).to_contain_text("16 s time of a refresh, predicted 17 s")
    expect(first).to_contain_text("On the slipway, with a watch.")
    assert faults_at_all_widths(page) == []
    first.get_by_role("link", name="Change").click()
    assert faults_at_all_widths(page) == []
    page.get_by_role("button", name="Delete", exact=True).click()
    page.get_by_role("button", name="Undo").click()
    assert LogEntry.objects.filter(text="On the slipway, with a watch.").exists()
    assert [done for done in complaints if "422" not in done] == []


def test_measured_beside_predicted(workshop, complaints):
    page = workshop
    page.goto(address(page, "Tide & wind board", "log/measured/"))
    energy = page.get_by_role("region", name="Energy of a day")
    expect(energy.locator("circle")).to_have_count(5)
    expect(energy.locator("circle.is-far")).to_have_count(1)
    expect(energy).to_contain_text("Left out, as far from the others: 61 mWh")
    before = page.locator("#strip, .fm-strip").first.inner_text()
    energy.get_by_role("button", name="Take the factor into the build").click()
    expect(page.get_by_text("is multiplied with")).to_be_visible()
    assert page.locator("#strip, .fm-strip").first.inner_text() != before
    assert faults_at_all_widths(page) == []
    page.get_by_role("button", name="Leave the prediction as it is").click()
    expect(energy.get_by_role("button", name="Take the factor into the build")).to_be_visible()
    page.wait_for_load_state()
    assert page.locator("#strip, .fm-strip").first.inner_text() == before
    assert complaints == []


def test_found_over_all_builds_and_brought_back_from_the_bin(workshop, complaints):
    page = workshop
    page.goto("/")
    page.get_by_role("navigation", name="Parts").get_by_role("link", name="Search").click()
    page.get_by_label("words").fill("address 3C")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="1 entry")).to_be_visible()
    page.get_by_role("button", name="Save this search").click()
    expect(page.get_by_role("link", name="address 3C")).to_be_visible()
    assert faults_at_all_widths(page) == []
    page.locator(".fm-entry").get_by_role("link", name="Change").click()
    page.get_by_role("button", name="Delete", exact=True).click()
    page.get_by_role("link", name="Saltmarsh Boathouse").first.click()
    page.get_by_role("navigation", name="Parts").get_by_role("link", name="Bin").click()
    assert faults_at_all_widths(page) == []
    page.get_by_role("button", name="Bring back").first.click()
    expect(page.get_by_text("is back.")).to_be_visible()
    assert LogEntry.objects.filter(text__contains="answers at 3C").exists()
    page.get_by_role("navigation", name="Parts").get_by_role("link", name="Account").click()
    expect(page.get_by_role("heading", name="Your data")).to_be_visible()
    assert faults_at_all_widths(page) == []
    assert complaints == []


def test_a_version_is_kept_compared_and_returned_to(workshop, complaints):
    page = workshop
    page.goto(address(page, "Stroke-rate counter", "log/versions/"))
    page.get_by_label("Save it as it is, as").fill("before winter")
    page.keyboard.press("Enter")
    expect(page.locator(".fm-version")).to_have_count(1)
    here = page.url
    page.get_by_role("link", name="Build sheet").click()
    page.locator("#id_rotation").select_option("180")
    page.get_by_role("button", name="Save sheet").click()
    page.goto(here)
    page.get_by_role("link", name="Compare").click()
    expect(page.get_by_text("rotation: 0 → 180")).to_be_visible()
    assert faults_at_all_widths(page) == []
    page.get_by_role("button", name="Return to it").click()
    expect(page.locator(".fm-version")).to_have_count(2)
    expect(page.locator(".fm-version").first).to_contain_text("before before winter")
    assert faults_at_all_widths(page) == []
    assert Build.objects.filter(name="Stroke-rate counter").latest("pk").rotation == 0
    assert complaints == []


def test_the_book_and_its_link(workshop, complaints):
    page = workshop
    page.goto(address(page, "Stroke-rate counter", "log/book/"))
    expect(page.get_by_role("heading", name="Stroke-rate counter")).to_be_visible()
    page.get_by_role("button", name="Make a link to read it").click()
    link = page.get_by_role("status").locator("code").inner_text()
    page.context.clear_cookies()
    page.goto(link)
    expect(page.get_by_role("heading", name="Stroke-rate counter")).to_be_visible()
    expect(page.get_by_role("link")).to_have_count(0)
    assert faults_at_all_widths(page) == []
    assert complaints == []


def test_corners_are_set_on_the_photo(workshop, complaints, tmp_path):
    from PIL import Image

    page, photo = workshop, tmp_path / "glass.png"
    Image.new("RGB", (640, 400), (40, 40, 40)).save(photo)
    page.goto(address(page, "Stroke-rate counter", "log/photo/"))
    page.get_by_label("photo", exact=True).set_input_files(photo)
    page.get_by_role("button", name="Read the photo").click()
    picture = page.locator("#corners img")
    expect(picture).to_be_visible()
    box = picture.bounding_box()
    for x, y in ((0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)):
        page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])
    expect(page.locator("#corners b")).to_have_count(4)
    expect(page.get_by_label("lower right x")).to_have_value(re.compile(r"^57\d"))
    page.get_by_role("button", name="Read the photo").click()
    expect(page.get_by_role("heading", name="What may be behind it")).to_be_visible()
    assert faults_at_all_widths(page) == []
    assert complaints == []
