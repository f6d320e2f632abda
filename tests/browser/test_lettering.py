"""Station 4 by hand: making lettering, covering characters, touching a glyph up and taking it back, on the demo data."""

import io

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from mosaic.lettering.bdf import read_bdf
from mosaic.lettering.faces import FACES
from tests.browser.conftest import idle, until
from tests.browser.test_walk import glass_pixels
from workshop.builds.models import Build
from workshop.lettering.documents import Lettering

pytestmark = pytest.mark.browser


def station(page, build_name: str) -> Build:
    build = Build.objects.get(name=build_name)
    page.goto(f"/builds/{build.pk}/lettering/")
    return build


def kept_plan(name: str):
    return Lettering.objects.select_related("head").get(name=name).record


def settled(page, act):
    """What a change brings with it: its answer, and the glass that follows."""
    before = page.locator("#glass").evaluate("e => e.src")
    with page.expect_response(lambda r: r.request.method == "POST"):
        act()
    page.wait_for_function("src => document.getElementById('glass').src !== src", arg=before)


def test_lettering_is_made_of_a_face_and_taken(workshop, complaints):
    page = workshop
    station(page, "Tide & wind board")
    page.get_by_role("link", name="Another lettering").click()
    page.get_by_role("button", name="Use this face: DejaVu Sans Condensed").click()
    expect(page.get_by_role("heading", name="DejaVu Sans Condensed", level=1)).to_be_visible()
    first = glass_pixels(page)
    assert first.shape == (128, 296, 3)
    flash = page.locator("#strip").inner_text()

    page.get_by_label("set by").select_option("pixels")
    page.get_by_label("pixels to the em").fill("31")
    settled(page, lambda: page.get_by_label("pixels to the em").press("Enter"))
    expect(page.locator("#size-words")).to_contain_text("31 px; capitals 23 px")
    expect(page.get_by_label("height of capitals in mm")).to_be_hidden()
    assert (glass_pixels(page) != first).any()
    settled(page, lambda: page.get_by_label("rendering").select_option("plain"))
    slide = page.get_by_label("threshold", exact=True)
    revisions = Lettering.objects.get(name="DejaVu Sans Condensed").revisions.count()
    settled(page, lambda: slide.evaluate("e => { e.value = 0.6; e.dispatchEvent(new Event('input', {bubbles: true})); }"))
    # While it moves it is shown and not kept.
    assert page.locator("#glass").evaluate("e => e.src").startswith("data:image/png")
    assert Lettering.objects.get(name="DejaVu Sans Condensed").revisions.count() == revisions
    settled(page, lambda: slide.evaluate("e => { e.value = 0.3; e.dispatchEvent(new Event('change', {bubbles: true})); }"))
    expect(page.locator("output[for=id_threshold]")).to_have_text("0.30")
    expect(page.locator("#strip")).not_to_have_text(flash)
    assert (kept_plan("DejaVu Sans Condensed").size_px, kept_plan("DejaVu Sans Condensed").threshold) == (31, 0.3)

    # What is on the glass is in the file: the first line's glyphs, pixel for pixel.
    with page.expect_download() as waiting:
        page.get_by_role("link", name=".bdf", exact=True).click()
    lettering = read_bdf(waiting.value.path().read_bytes())
    shown = glass_pixels(page).max(axis=2) < 128
    glyph = lettering.by_code[ord("H")]
    part = shown[lettering.ascent - glyph.top : lettering.ascent - glyph.bottom, 1 + glyph.left : 1 + glyph.right]
    assert np.array_equal(part, glyph.levels == 1)
    assert complaints == []


def test_taking_back_and_findings_by_keys(workshop, complaints):
    page = workshop
    station(page, "Barometer")
    before = glass_pixels(page)
    expect(page.locator("#path")).to_contain_text("here, 1 finding")
    page.keyboard.press("f")
    assert "Capitals of" in page.evaluate("document.activeElement.innerText")
    settled(page, lambda: page.keyboard.press("x"))
    expect(page.get_by_label("set by")).to_have_value("distance")
    settled(page, lambda: page.keyboard.press("z"))
    expect(page.get_by_label("set by")).to_have_value("pixels")
    assert np.array_equal(glass_pixels(page), before)
    assert complaints == []


def test_two_tabs_and_half_typed_values(workshop, complaints):
    page = workshop
    station(page, "Barometer")
    other = page.context.new_page()
    other.goto(page.url)
    settled(page, lambda: page.get_by_label("rendering").select_option("plain"))
    other.get_by_label("pixels to the em").fill("2")
    idle(other)
    expect(other.get_by_role("alert")).to_be_hidden()  # a number half typed is not sent
    other.get_by_label("pixels to the em").fill("24")
    other.get_by_label("pixels to the em").press("Tab")
    expect(other.get_by_role("alert")).to_contain_text("was changed in another tab")
    assert (kept_plan("Dial").mode, kept_plan("Dial").size_px) == ("plain", 28)
    settled(other, lambda: other.get_by_role("button", name="Keep mine").click())
    assert kept_plan("Dial").size_px == 24
    assert complaints == []


def test_coverage_is_told_and_mended(workshop, complaints):
    page = workshop
    station(page, "Tide & wind board")
    page.get_by_label("further characters").fill("ЖИ’")
    page.get_by_label("further characters").press("Tab")
    expect(page.locator("#recipe")).to_contain_text("2 missing")
    page.get_by_role("link", name="Characters", exact=True).click()
    expect(page.get_by_role("heading", name="2 of")).to_be_visible()
    expect(page.locator(".fm-missing")).to_contain_text("U+0416 cyrillic capital letter zhe")
    page.get_by_label("written instead of U+0416").fill("K")
    page.get_by_role("button", name="Write it instead of U+0416").click()
    expect(page.locator(".fm-replaced")).to_contain_text("Ж as K")
    page.get_by_role("button", name="Use 1 of DejaVu Sans").click()
    expect(page.locator(".fm-below")).to_contain_text("characters are there")
    assert kept_plan("Tide figures").fallback == "sans"
    page.keyboard.press("z")
    expect(page.get_by_role("heading", name="1 of")).to_be_visible()
    assert complaints == []


def cell_of(page, x: int, up: int) -> tuple[float, float]:
    """Where a pixel of the grid lies on the page: column from the pen, row above the baseline."""
    box = page.locator("#glyph-grid").bounding_box()
    left, top, width, height = (float(v) for v in page.locator("#glyph-grid").get_attribute("viewBox").split())
    return box["x"] + (x + 0.5 - left) * box["width"] / width, box["y"] + (-up - 0.5 - top) * box["height"] / height


def test_a_glyph_is_touched_up_and_taken_back(workshop, complaints):
    page = workshop
    station(page, "Tide & wind board")
    page.get_by_role("link", name="Glyph bench").click()
    page.get_by_role("link", name="latin capital letter h").click()
    expect(page.get_by_role("heading", name="latin capital letter h")).to_be_visible()
    base = page.locator("#bench").get_attribute("data-levels")

    # a stroke with the pointer, above the capital
    page.mouse.move(*cell_of(page, 2, 21))
    page.mouse.down()
    page.mouse.move(*cell_of(page, 6, 21), steps=4)
    page.mouse.up()
    expect(page.locator(".fm-glyph-side")).to_contain_text("Set by hand5 px")
    assert kept_plan("Tide figures").edit_of(ord("H"), 28.0).pixels == tuple((x, 21, 15) for x in range(2, 7))
    expect(page.locator("#glyph-list .is-touched")).to_have_count(2)

    # one pixel more by keys, and the glyph shifted
    page.locator("#glyph-grid").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Space")
    expect(page.locator(".fm-glyph-side")).to_contain_text("Set by hand6 px")
    page.get_by_role("button", name="Shift right").click()
    expect(page.locator(".fm-glyph-side")).to_contain_text("Left bearing3 px")

    # what the bench shows is the glyph, pixel for pixel
    url = page.locator(".fm-glyph-field img").evaluate("e => e.src")
    shown = np.asarray(Image.open(io.BytesIO(page.request.get(url).body())).convert("L")) < 128
    rows = page.locator("#bench").get_attribute("data-levels").split()
    assert [["1" if dark else "0" for dark in row] for row in shown.tolist()] == [list(row) for row in rows]

    # what is pressed while a stroke is on its way waits for it
    held = []
    page.route("**/touch/", lambda route: route.continue_() if held else held.append(route))
    page.locator("#glyph-grid").focus()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Space")
    until(page, lambda: held)
    page.get_by_role("button", name="Wider by 1 px").click()
    held[0].continue_()
    expect(page.locator(".fm-glyph-side")).to_contain_text("Advance21 px")
    page.wait_for_function("() => !document.querySelector('.htmx-settling, .htmx-added')")
    page.keyboard.press("z")
    expect(page.locator(".fm-glyph-side")).to_contain_text("Advance20 px")
    page.wait_for_load_state()
    page.keyboard.press("z")
    expect(page.locator(".fm-glyph-side")).to_contain_text("Set by hand6 px")

    # back to what it was, step by step
    for said in ("Left bearing2 px", "Set by hand5 px", "Set by hand0 px"):
        page.wait_for_load_state()
        page.keyboard.press("z")
        expect(page.locator(".fm-glyph-side")).to_contain_text(said)
    assert page.locator("#bench").get_attribute("data-levels") == base
    page.wait_for_load_state()
    page.keyboard.press("Shift+Z")
    expect(page.locator(".fm-glyph-side")).to_contain_text("Set by hand5 px")
    assert complaints == []


def test_fonts_of_ones_own_and_wrong_ones(workshop, tmp_path):
    page = workshop
    station(page, "Stroke-rate counter")
    page.get_by_role("link", name="Faces").click()
    drop = page.locator("#drop-file")
    drop.set_input_files({"name": "tides.ttf", "mimeType": "font/ttf", "buffer": b"High water 14:20"})
    expect(page.get_by_role("alert")).to_contain_text("tides.ttf is no font that can be read")
    (tmp_path / "huge.otf").write_bytes(bytes(50 * 2**20))
    drop.set_input_files(tmp_path / "huge.otf")
    expect(page.get_by_role("alert")).to_contain_text("huge.otf is 50.0 MiB; fonts up to 16 MiB are accepted")
    drop.set_input_files({"name": "club-face.pcf", "mimeType": "application/octet-stream", "buffer": FACES["fixed-5x8"].data})
    expect(page.get_by_role("heading", name="Club face")).to_be_visible()
    page.get_by_label("further characters").fill("U+0430-U+")
    page.get_by_label("further characters").press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("is no range")
    assert page.get_by_label("further characters").input_value() == "U+0430-U+"


def test_texts_are_measured_at_their_widest(workshop, complaints):
    page = workshop
    station(page, "Sign-out panel")
    page.get_by_role("link", name="Measuring").click()
    page.get_by_label("What this build’s screens show").fill("Boats out: {0..24}\nThe whole fleet, oars and all, is on the water")
    page.get_by_role("button", name="Save and measure").click()
    expect(page.get_by_role("status").first).to_contain_text("measured again")
    rows = page.locator(".fm-measured-list > li")
    expect(rows.nth(0)).to_contain_text("widest as Boats out: 2")
    expect(rows.nth(1)).to_contain_text("px too wide")
    page.get_by_label("a text or a value to try").fill("{-9..35} °C")
    page.get_by_label("a text or a value to try").press("Enter")
    expect(page.get_by_label("What was tried")).to_contain_text("mm")
    page.get_by_label("What this build’s screens show").fill("Boats {0..")
    page.get_by_role("button", name="Save and measure").click()
    expect(page.get_by_role("alert")).to_contain_text("Line 1")
    assert page.get_by_label("What this build’s screens show").input_value() == "Boats {0.."


def test_sizes_modes_and_packing_are_taken(workshop, complaints):
    page = workshop
    station(page, "Sign-out panel")
    page.get_by_role("link", name="Sizes & modes").click()
    expect(page.locator(".fm-cells figure.is-here")).to_contain_text("hinted, 4 levels, in use")
    page.get_by_role("button", name="Use 20 px, fitted, 16 levels").click()
    expect(page.locator(".fm-cells figure.is-here")).to_contain_text("in use")
    assert (kept_plan("Rack list").size_px, kept_plan("Rack list").bits) == (20, 4)
    page.get_by_role("link", name="Packing").click()
    page.get_by_role("button", name="Use this packing: cropped to its ink, rows, first pixel high, as runs").click()
    expect(page.locator("tr.is-here").first).to_contain_text("as runs")
    expect(page.get_by_text("Read back from its bytes")).to_be_visible()
    assert kept_plan("Rack list").compression == "runs"
    assert complaints == []


def test_a_quick_hand_loses_nothing(workshop, complaints):
    """Taking back right after a change waits until the change is kept, and takes back that one."""
    page = workshop
    station(page, "Barometer")
    held = []
    page.route("**/change/", lambda route: held.append(route))
    page.get_by_label("rendering").select_option("plain")
    until(page, lambda: held)
    page.locator("#undo").evaluate("e => { e.disabled = false; e.click(); }")
    assert len(held) == 1
    with page.expect_response("**/undo/"):
        held[0].continue_()
    expect(page.get_by_label("rendering")).to_have_value("hinted")
    expect(page.locator("#redo")).to_be_enabled()
    assert kept_plan("Dial").mode == "hinted"
    assert Lettering.objects.get(name="Dial").revisions.count() == 2
    assert complaints == []
