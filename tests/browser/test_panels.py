"""Panels through the real page: shelf, passports, identify, choose, boards, and station 1."""

import re
import xml.etree.ElementTree as ET

import pytest
from playwright.sync_api import expect

from tests.reading import kept
from workshop.builds.models import Build
from workshop.panels.models import Comparison, OwnPassport
from workshop.pictures.documents import Picture

pytestmark = pytest.mark.browser


def test_from_the_shelf_to_ones_own_passport(workshop, complaints):
    page = workshop
    page.goto("/")
    page.get_by_role("link", name="Panels", exact=True).click()
    page.get_by_label("Find").fill("rounded 240x280")
    expect(page.locator("#cards")).to_contain_text("1 panel with")
    page.get_by_role("link", name=re.compile("rounded TFT 240x280")).click()
    expect(page.get_by_role("heading", level=1)).to_have_text("rounded TFT 240x280, 16 bits a pixel, 240x320 RAM")
    page.get_by_role("button", name="Copy to my own").click()
    page.get_by_label("marking printed on the part").fill("SB-169")
    page.get_by_label("columns of the glass").fill("wide")
    page.get_by_role("button", name="Save passport").click()
    expect(page.get_by_role("alert")).to_contain_text(
        "Columns of the glass: 'wide' is given; it is a whole number from 1 to 4096"
    )
    expect(page.get_by_label("marking printed on the part")).to_have_value("SB-169")
    page.get_by_label("columns of the glass").fill("240")
    page.get_by_role("button", name="Save passport").click()
    expect(page.locator(".fm-owned")).to_contain_text("SB-169")
    with page.expect_download() as waiting:
        page.get_by_role("link", name=".json", exact=True).click()
    text = waiting.value.path().read_text()
    page.goto("/panels/read/")
    page.get_by_label("or its text").fill(text.replace('"reflectance": 0.05', '"reflectance": 5'))
    page.get_by_role("button", name="Import").click()
    expect(page.get_by_role("alert")).to_contain_text("optics.reflectance: 5 is given; it is a number from 0 to 1")
    page.get_by_label("or its text").fill(text.replace("SB-169", "SB-170"))
    page.get_by_role("button", name="Import").click()
    expect(page.locator(".fm-owned")).to_contain_text("SB-170")
    assert OwnPassport.objects.filter(words__contains="sb-170").count() == 1
    assert complaints == []


def test_turning_with_the_keyboard(workshop, complaints):
    page = workshop
    page.goto("/panels/tft-135x240/")
    bar = page.locator(".fm-turnbar")
    expect(bar).to_contain_text("Turned 90° clockwise: 240 × 135, first column 40, first row 52")
    page.keyboard.press("t")
    expect(bar).to_contain_text("135 × 240, first column 53, first row 40")
    page.keyboard.press("m")
    expect(bar).to_contain_text("Turned 180° clockwise, mirrored: 135 × 240, first column 52, first row 40")
    page.locator("#turn-1").focus()
    page.keyboard.press("Enter")
    expect(bar).to_contain_text("240 × 135")
    assert page.evaluate("document.activeElement.id") == "turn-1"  # the hand stays where it was
    assert complaints == []


def test_a_build_lies_as_it_is_told(workshop, complaints):
    page = workshop
    page.goto("/")
    page.get_by_role("heading", name="Tide & wind board").get_by_role("link").click()
    page.locator("#recipe").wait_for()
    page.wait_for_load_state("domcontentloaded")  # keys are heard from then on
    page.keyboard.press("1")
    page.locator("#bed").wait_for()
    page.wait_for_load_state("domcontentloaded")
    page.keyboard.press("t")
    page.get_by_role("button", name="Use this orientation").click()
    expect(page.get_by_role("status").first).to_contain_text("The orientation was saved")
    assert Build.objects.get(name="Tide & wind board").rotation == 180
    expect(page.locator(".fm-fact").first).to_contain_text("128 × 296")
    assert complaints == []


def test_the_bezel_is_mended_and_the_template_measures_true(workshop, complaints):
    page = workshop
    page.goto("/")
    page.get_by_role("link", name="1 Panel & wiring").first.click()
    page.get_by_role("link", name="Mounting card").click()
    expect(page.locator("main")).to_contain_text("It hides 888 pixels: 2 rows at the top, 1 row at the bottom.")
    page.keyboard.press("f")
    page.keyboard.press("x")
    expect(page.locator("main")).to_contain_text("It hides no pixel")
    with page.expect_download() as waiting:
        page.get_by_role("link", name="template.svg").click()
    assert ET.parse(waiting.value.path()).getroot().get("width").endswith("mm")
    page.get_by_role("link", name="Print at life size").click()
    # On the page, too, a millimetre is 96 / 25.4 CSS pixels.
    outline = page.locator("#life .outline").bounding_box()
    assert outline["width"] == pytest.approx(89.5 * 96 / 25.4, abs=2)
    assert complaints == []


def test_identifying_as_one_types(workshop, complaints):
    page = workshop
    page.goto("/panels/identify/")
    page.get_by_label("Paste").fill("1.28 inch round LCD 240x240 SPI")
    expect(page.locator(".fm-families li").first).to_contain_text("round TFT 240x240")
    expect(page.locator("#ranked")).to_contain_text("Both take the same transmission")
    page.get_by_label("command bytes").fill("2A zz")
    expect(page.locator("#ranked")).to_contain_text("'zz' is no command byte")
    expect(page.locator(".fm-families li").first).to_contain_text("round TFT 240x240")
    assert complaints == []


def test_choosing_changes_with_the_purpose(workshop, complaints):
    page = workshop
    comparison = Comparison.objects.get()
    page.goto(f"/panels/choose/{comparison.pk}/")
    expect(page.locator(".fm-compare")).to_contain_text("not readable")
    page.get_by_label("Light of the place, lux").fill("200")
    page.get_by_label("Light of the place, lux").press("Tab")
    expect(page.locator(".fm-compare")).not_to_contain_text("not readable")
    page.get_by_label("Add to them").fill("mono-oled-128x64")
    page.get_by_role("button", name="Add it").click()
    expect(page.locator(".fm-compare thead th")).to_have_count(6)
    page.get_by_label("Price of mono OLED 128x64, page-column, 128-column RAM").fill("4.20 EUR")
    page.get_by_label("Price of mono OLED 128x64, page-column, 128-column RAM").press("Tab")
    expect(page.get_by_label("Price of mono OLED 128x64, page-column, 128-column RAM")).to_have_attribute("value", "4.20 EUR")
    page.get_by_role("button", name="remove").first.click()
    expect(page.locator(".fm-compare thead th")).to_have_count(5)
    page.reload()
    expect(page.get_by_label("Price of mono OLED 128x64, page-column, 128-column RAM")).to_have_value("4.20 EUR")
    page.get_by_label("Light of the place, lux").fill("bright")
    page.get_by_label("Light of the place, lux").press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("Light of the place, lux: Enter a number")
    assert complaints == []


def test_a_build_from_another(workshop, complaints):
    page = workshop
    page.goto("/builds/new/")
    page.get_by_label("Begin with").select_option(label="Barometer")
    expect(page.locator(".fm-along")).to_contain_text("3 pictures, 1 lettering, 1 screen, each as it is now")
    expect(page.locator("#own-parts")).to_be_hidden()
    page.get_by_label("Call it").fill("Second barometer")
    page.get_by_label("3 pictures").check()
    page.get_by_role("button", name="Create build").click()
    page.locator("#recipe").wait_for()
    assert kept(Build.objects.get(name="Second barometer"), Picture).count() == 3
    page.goto("/builds/new/")
    page.get_by_label("Find").fill("six colours")
    expect(page.locator("#panel-shelf")).to_contain_text("2 found")
    page.get_by_role("radio", name=re.compile("e-paper 600x400")).check(force=True)
    page.get_by_label("Find").fill("round")
    expect(page.locator("#panel-shelf .fm-part").first).to_contain_text("600 × 400")  # what was chosen stays in front
    assert complaints == []


def test_a_plan_is_broken_seen_and_mended(workshop, complaints):
    page = workshop
    page.goto("/")
    page.get_by_role("link", name="1 Panel & wiring").first.click()
    page.get_by_role("link", name="Pin plan").click()
    expect(page.locator("#findings")).to_contain_text("Levels, pins and currents go together")
    wires = page.locator(".fm-wiring path.wire").count()
    page.get_by_label("RST connects to").select_option("")
    page.get_by_role("button", name="Save plan").click()
    expect(page.locator("#findings")).to_contain_text("RST (reset) goes nowhere")
    expect(page.locator(".fm-wiring")).to_contain_text("goes nowhere")
    page.keyboard.press("f")
    page.keyboard.press("x")
    expect(page.locator("#findings")).to_contain_text("Levels, pins and currents go together")
    assert page.locator(".fm-wiring path.wire").count() == wires
    assert complaints == []
