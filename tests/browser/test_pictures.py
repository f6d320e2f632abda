"""Station 3 by hand: cutting, regions, touch-up, variants, strips, figures and animations, on the demo data."""

import io
import zipfile

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from mosaic.panels.loader import catalogue
from tests.browser.conftest import idle, until
from tests.browser.test_walk import glass_pixels, open_build
from workshop.builds.models import Build
from workshop.pictures.documents import Picture

pytestmark = pytest.mark.browser
FOUR = catalogue()["epaper-296x128-four-colour"]


def recipe_of(name: str):
    return Picture.objects.select_related("head").get(name=name).record


def drag(page, points):
    """From the first to the last of places on the glass (panel pixels), with the button held."""
    box = page.locator("#overlay").bounding_box()
    width, height = (int(page.locator("#mat").get_attribute(f"data-{side}")) for side in ("width", "height"))
    at = [(box["x"] + x * box["width"] / width, box["y"] + y * box["height"] / height) for x, y in points]
    page.mouse.move(*at[0])
    page.mouse.down()
    for place in at[1:]:
        page.mouse.move(*place, steps=4)
    page.mouse.up()


def tool(page, name):
    page.get_by_role("toolbar", name="Tools on the glass").get_by_role("button", name=name, exact=True).click()


def test_cutting_by_hand_with_handles_and_keys(workshop, complaints):
    page = workshop
    open_build(page, "Tide & wind board")
    page.get_by_role("button", name="by hand").click()
    sheet = page.get_by_role("dialog", name="Cut the picture by hand")
    frame = sheet.get_by_role("group", name="cut")
    box = frame.bounding_box()
    # the lower right handle, inwards by a quarter
    page.mouse.move(box["x"] + box["width"] - 2, box["y"] + box["height"] - 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.75, box["y"] + box["height"] * 0.75, steps=5)
    page.mouse.up()
    frame.focus()
    page.keyboard.press("ArrowRight")
    sheet.get_by_role("button", name="Cut here").click()
    expect(page.locator("#undo")).to_be_enabled()
    recipe = recipe_of("Slip at dusk")
    assert recipe.crop_width == pytest.approx(1200, abs=20)
    assert recipe.crop_height == pytest.approx(519, abs=12)
    assert recipe.crop_x == 16
    assert complaints == []


def test_a_region_by_pointer_and_by_keys(workshop, complaints):
    page = workshop
    open_build(page, "Tide & wind board")
    tool(page, "Region")
    before = glass_pixels(page)
    drag(page, [(150, 20), (250, 80)])
    expect(page.get_by_role("form", name="Region 1")).to_be_visible()
    idle(page)
    assert recipe_of("Slip at dusk").regions[0].corners == ((150, 20), (250, 80))
    after = glass_pixels(page)
    changed = (before != after).any(axis=2)
    assert changed[20:80, 150:250].mean() > 0.1
    changed[20:80, 150:250] = False
    assert not changed.any()

    # its method, from the list below the glass
    page.get_by_label("method of region 1").select_option("pattern")
    expect(page.get_by_label("pattern of region 1")).to_be_visible()
    assert recipe_of("Slip at dusk").regions[0].method == "pattern"

    # the same by keys alone: a lasso of three corners
    lasso = page.get_by_role("button", name="Lasso", exact=True)
    lasso.focus()
    page.keyboard.press("Enter")
    expect(page.locator("#overlay")).to_be_focused()
    for keys in (["Enter"], ["Shift+ArrowRight"] * 6, ["Enter"], ["Shift+ArrowDown"] * 6, ["Enter"], ["c"]):
        for key in keys:
            page.keyboard.press(key)
    expect(page.get_by_role("form", name="Region 2")).to_contain_text("outlined by 3 corners")
    page.get_by_role("button", name="Delete region 1").click()
    expect(page.get_by_role("form", name="Region 2")).to_have_count(0)
    assert [r.shape for r in recipe_of("Slip at dusk").regions] == ["lasso"]
    assert complaints == []


def test_touch_up_with_undo_survives_another_method(workshop, complaints):
    page = workshop
    open_build(page, "Tide & wind board")
    tool(page, "Touch up")
    page.get_by_role("button", name="red", exact=True).click()
    drag(page, [(20.5, 10.5), (60.5, 10.5)])
    expect(page.locator("#regions")).to_contain_text("41 pixels set by hand")
    idle(page)
    red = FOUR.palette.measured_rgb[2]
    until(page, lambda: (glass_pixels(page)[10, 20:61] == red).all())

    # one more pixel by keys, in another colour
    page.get_by_role("button", name="white", exact=True).click()
    page.locator("#overlay").focus()
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press(" ")
    expect(page.locator("#regions")).to_contain_text("42 pixels set by hand")

    page.locator("#undo").click()
    expect(page.locator("#regions")).to_contain_text("41 pixels set by hand")
    page.locator("#redo").click()
    expect(page.locator("#regions")).to_contain_text("42 pixels set by hand")

    page.get_by_label("method", exact=True).select_option("blue-noise")
    page.wait_for_function("() => !document.getElementById('glass').src.startsWith('data:')")
    idle(page)
    until(page, lambda: (glass_pixels(page)[10, 20:61] == red).all())
    page.get_by_role("button", name="Delete all of them").click()
    expect(page.locator("#regions")).not_to_contain_text("set by hand")
    assert recipe_of("Slip at dusk").pixel_edits == ()
    assert complaints == []


def test_handles_on_the_histogram_and_a_proposal(workshop, complaints):
    page = workshop
    open_build(page, "Tide & wind board")
    page.get_by_label("black point").focus()
    for _ in range(12):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Tab")
    expect(page.locator("#undo")).to_be_enabled()
    idle(page)
    assert recipe_of("Slip at dusk").black_point == 12
    page.get_by_role("button", name="Apply this").click()
    expect(page.get_by_role("button", name="Apply this")).to_have_count(0)
    recipe = recipe_of("Slip at dusk")
    assert recipe.sharpening > 0
    assert recipe.black_point < recipe.white_point
    assert complaints == []


def test_every_method_tried_one_kept_and_compared(workshop, complaints):
    page = workshop
    open_build(page, "Tide & wind board")
    page.get_by_role("navigation", name="Pages of this station").get_by_role("link", name="Variants").click()
    page.get_by_role("button", name="Try them all").click()
    expect(page.get_by_role("button", name="Save Clustered dots")).to_be_visible(timeout=60_000)
    page.get_by_role("link", name="bytes, compressed").click()
    figures = [
        int(t.split("·")[1].split("B")[0].replace(",", ""))
        for t in page.locator("article.fm-trial p:has-text('compressed')").all_inner_texts()
    ]
    assert figures == sorted(figures)
    page.get_by_role("button", name="Save Clustered dots").click()
    page.get_by_role("link", name="Compare Clustered dots").click()
    expect(page.get_by_label("right", exact=True)).to_have_value(str(Picture.objects.get(name="Slip at dusk").variants.last().pk))
    page.get_by_label("by", exact=True).select_option("blink")
    page.get_by_role("button", name="Blink").click()
    expect(page.locator("#pair.is-b")).to_be_visible()
    page.get_by_role("button", name="Use Clustered dots").first.click()
    expect(page.locator("#recipe")).to_be_visible()
    assert recipe_of("Slip at dusk").method == "clustered-dot"
    assert complaints == []


def test_a_strip_is_cut_and_taken(workshop, complaints):
    page = workshop
    counter = Build.objects.get(name="Stroke-rate counter")
    page.goto(f"/builds/{counter.pk}/pictures/strips/")
    page.get_by_role("link", name="Tide dials").click()
    expect(page.locator(".fm-cut rect")).to_have_count(8)
    page.get_by_label("cut by").select_option("gaps")
    expect(page.get_by_label("columns", exact=True)).to_be_hidden()
    page.get_by_label("space between").fill("-4")
    page.get_by_role("button", name="Cut").click()
    expect(page.get_by_text("of its pixels").first).to_be_visible()
    page.get_by_label("On a line").fill("slack-low half-flood")
    page.wait_for_function("() => document.getElementById('line-shot').complete")
    with page.expect_download() as waiting:
        page.get_by_role("link", name="Download .h .py").click()
    assert "tide_dials.h" in zipfile.ZipFile(waiting.value.path()).namelist()
    assert complaints == []


def test_a_figure_is_changed_and_all_symbols_follow(workshop, complaints):
    page = workshop
    counter = Build.objects.get(name="Stroke-rate counter")
    page.goto(f"/builds/{counter.pk}/pictures/figures/")
    page.get_by_role("link", name="Stroke rate").click()
    shot = page.locator("#line-shot")
    first = shot.get_attribute("src")
    before = page.request.get(first).body()
    page.get_by_label("unlit segments").select_option("pattern")
    expect(page.get_by_label("pattern", exact=True)).to_be_visible()
    page.get_by_role("button", name="Make all of them").click()
    expect(shot).not_to_have_attribute("src", first)
    assert page.request.get(shot.get_attribute("src")).body() != before
    page.get_by_label("table of symbols").fill("7: a b zz")
    page.get_by_role("button", name="Make all of them").click()
    expect(page.get_by_role("alert")).to_contain_text("'zz', which the figure has not")
    expect(page.get_by_label("table of symbols")).to_have_value("7: a b zz")
    assert complaints == []


def test_an_animation_is_made_and_stands_still_when_asked(workshop, complaints):
    page = workshop
    counter = Build.objects.get(name="Stroke-rate counter")
    page.goto(f"/builds/{counter.pk}/pictures/animations/")
    page.get_by_role("link", name="Boat passing").click()
    page.get_by_role("button", name="Make the frames").click()
    expect(page.get_by_role("button", name="Pause")).to_be_visible(timeout=60_000)
    expect(page.locator(".fm-made-readings")).to_contain_text("24")
    moving = Image.open(io.BytesIO(page.request.get(page.locator("#moving").evaluate("e => e.src")).body()))
    assert moving.n_frames == 24
    assert np.asarray(moving.convert("RGB")).shape == (64, 128, 3)
    page.get_by_role("button", name="Pause").click()
    assert "/frame/" in page.locator("#moving").evaluate("e => e.src")
    assert complaints == []
