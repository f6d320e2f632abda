"""The whole path as a maker walks it, through the real interface."""

import base64
import io
import re
import subprocess

import numpy as np
import pytest
from django.conf import settings
from django.test import Client
from PIL import Image
from playwright.sync_api import expect

from mosaic.conversion.pipeline import unpack
from mosaic.panels.appearance import colors_of
from mosaic.panels.loader import catalogue
from tests.browser.conftest import accessibility_faults, faults_at_all_widths, idle, until
from tests.conftest import gradient, png_of
from tests.crawl import each_kind
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.pictures.documents import Picture

pytestmark = pytest.mark.browser
FOUR = catalogue()["epaper-296x128-four-colour"]


def open_build(page, name):
    page.goto("/")
    page.get_by_role("heading", name=name).get_by_role("link").click()
    page.locator("#recipe").wait_for()
    page.wait_for_load_state("domcontentloaded")


def glass_pixels(page) -> np.ndarray:
    """The very picture the page shows on its glass."""
    page.wait_for_function(
        "() => document.getElementById('glass')?.complete && document.getElementById('glass').naturalWidth > 0"
    )
    url = page.locator("#glass").evaluate("e => e.src")
    data = base64.b64decode(url.partition(",")[2]) if url.startswith("data:") else page.request.get(url).body()
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


def move(page, label, value, *, kept=True):
    """Move a slider as a hand does: the value changes at once, and settles on release."""
    before = page.locator("#glass").evaluate("e => e.src")
    slide = page.get_by_label(label, exact=True)
    slide.evaluate("(e, v) => { e.value = v; e.dispatchEvent(new Event('input', {bubbles: true})); }", str(value))
    page.wait_for_function("src => document.getElementById('glass').src !== src", arg=before)
    slide.evaluate("e => e.dispatchEvent(new Event('change', {bubbles: true}))")
    # A preview carries its picture; what is kept has an address.
    if kept:
        page.wait_for_function("() => !document.getElementById('glass').src.startsWith('data:')")


def download(page, ending) -> bytes:
    with page.expect_download() as waiting:
        page.get_by_role("link", name=f".{ending}", exact=True).click()
    return waiting.value.path().read_bytes()


def test_from_a_photo_to_verified_bytes(workshop, tmp_path, complaints):
    page = workshop
    open_build(page, "Tide & wind board")
    expect(page.locator("#zoom-words")).to_contain_text("zoom 2×, 2.3 times life size")
    assert page.locator("#rulers text").count() > 12

    # a photo of one's own
    page.locator("#drop-file").set_input_files(
        {"name": "my-slip.png", "mimeType": "image/png", "buffer": png_of(gradient(500, 900))}
    )
    expect(page.get_by_role("heading", name="My slip")).to_be_visible()
    first = glass_pixels(page)
    assert first.shape == (128, 296, 3)

    # crop, fit, tone, reduction: each changes the glass
    page.get_by_label("cut width in source pixels").fill("600")
    page.get_by_label("cut width in source pixels").press("Enter")
    page.get_by_label("fit", exact=True).select_option("contain")
    page.get_by_label("method", exact=True).select_option("bayer-8")
    expect(page.get_by_label("scan", exact=True)).to_be_hidden()
    move(page, "exposure", 0.6)
    expect(page.locator("#undo")).to_be_enabled()
    idle(page)
    second = glass_pixels(page)
    assert (first != second).any(axis=2).mean() > 0.2
    expect(page.locator("#proof")).to_contain_text("verified: 9,472 of 9,472 bytes, read back through the virtual panel")

    # the picture on the page is the bytes in the file
    raw = download(page, "bin")
    assert np.array_equal(colors_of(unpack(raw, FOUR, 90), FOUR, 90), second)
    (tmp_path / "p.h").write_bytes(download(page, "h"))
    (tmp_path / "m.c").write_text(
        '#include "p.h"\n#include <stdio.h>\nint main(void) { fwrite(my_slip, 1, sizeof my_slip, stdout); return 0; }\n'
    )
    subprocess.run(["gcc", "-Wall", "-Wextra", "-Werror", "-o", "m", "m.c"], cwd=tmp_path, check=True)
    assert subprocess.run([tmp_path / "m"], capture_output=True, check=True).stdout == raw
    assert np.array_equal(np.asarray(Image.open(io.BytesIO(download(page, "png"))).convert("RGB")), second)

    # what was kept outlives the page
    page.reload()
    assert np.array_equal(glass_pixels(page), second)
    assert complaints == []


def test_a_build_of_ones_own_from_a_dropped_picture(workshop, complaints):
    page = workshop
    page.goto("/")
    page.locator("#drop-file").set_input_files(
        {"name": "low-water.png", "mimeType": "image/png", "buffer": png_of(gradient(300, 500))}
    )
    expect(page.get_by_text("low-water.png, 500 × 300 px, comes along.")).to_be_visible()
    page.get_by_role("radio", name=re.compile("mono OLED 128x64, page-column, 128")).check(force=True)
    page.get_by_role("radio", name=re.compile("Small board")).check(force=True)
    page.get_by_role("radio", name=re.compile("^I2C")).check(force=True)
    page.get_by_role("button", name="Create build").click()
    expect(page.locator("#proof")).to_contain_text("verified: 1,024 of 1,024 bytes")
    expect(page.locator("#readings")).to_contain_text("Send, 400 kHz")
    assert Build.objects.get(name="Low water").link_kind == "i2c"
    assert complaints == []


def test_dropping_and_pasting_anywhere_on_the_page(workshop):
    page = workshop
    open_build(page, "Tide & wind board")
    bring = """([data, name, kind]) => {
      const bytes = Uint8Array.from(atob(data), c => c.charCodeAt(0)), box = new DataTransfer();
      box.items.add(new File([bytes], name, {type: 'image/png'}));
      dispatchEvent(kind === 'drop' ? new DragEvent('drop', {dataTransfer: box, cancelable: true})
                                    : new ClipboardEvent('paste', {clipboardData: box}));
    }"""
    data = base64.b64encode(png_of(gradient(200, 400))).decode()
    for kind, title in (("drop", "Dropped"), ("paste", "Pasted")):
        page.evaluate(bring, [data, f"{title.lower()}.png", kind])
        expect(page.get_by_role("heading", name=title)).to_be_visible()
    expect(page.locator("#proof")).to_contain_text("verified")


def test_taking_back_and_again(workshop):
    page = workshop
    open_build(page, "Tide & wind board")
    before = glass_pixels(page)
    move(page, "contrast", 1.8)
    expect(page.locator("#undo")).to_be_enabled()
    after = glass_pixels(page)
    for key, label, wanted in (("z", "1.00", before), ("Shift+Z", "1.80", after)):
        shown = page.locator("#glass").evaluate("e => e.src")
        page.keyboard.press(key)
        page.wait_for_function("src => document.getElementById('glass').src !== src", arg=shown)
        assert np.array_equal(glass_pixels(page), wanted)
        expect(page.locator("output[for=id_contrast]")).to_have_text(label)


def test_older_answers_never_replace_newer_ones(workshop):
    page = workshop
    open_build(page, "Stroke-rate counter")
    page.get_by_role("link", name="Slip, small").click()
    page.get_by_role("heading", name="Slip, small").wait_for()
    first = page.locator("#glass").evaluate("e => e.src")
    held = []
    page.route("**/preview/", lambda route: held.append(route))
    slide = page.get_by_label("exposure", exact=True)
    slide.evaluate("(e, v) => { e.value = v; e.dispatchEvent(new Event('input', {bubbles: true})); }", "1.5")
    until(page, lambda: held)
    # While the preview is held back, the control settles elsewhere and is kept.
    with page.expect_response("**/save/"):
        slide.evaluate("(e, v) => { e.value = v; e.dispatchEvent(new Event('change', {bubbles: true})); }", "-1.5")
    page.wait_for_function("src => document.getElementById('glass').src !== src", arg=first)
    newest = page.locator("#glass").evaluate("e => e.src")
    assert len(held) == 1
    with page.expect_response("**/preview/"):
        held[0].continue_()
    idle(page)
    assert page.locator("#glass").evaluate("e => e.src") == newest
    assert Picture.objects.get(name="Slip, small").record.exposure == -1.5


def test_a_finding_is_fixed_by_its_button(workshop):
    page = workshop
    open_build(page, "Barometer")
    expect(page.locator("#count")).to_contain_text("2 must fix")  # the other one is on its screen
    page.keyboard.press("f")  # nothing here, but the way to where it is
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Buffers", exact=True).wait_for()
    page.wait_for_load_state("domcontentloaded")  # keys are heard from then on
    page.keyboard.press("f")
    assert "A full frame does not fit the RAM" in page.evaluate("document.activeElement.innerText")
    page.keyboard.press("x")
    expect(page.locator("#count")).to_contain_text("1 must fix")
    expect(page.locator("#strip")).to_contain_text("10.5 KiB free")


def test_wrong_input_is_told_and_nothing_is_lost(workshop):
    page = workshop
    open_build(page, "Tide & wind board")
    before = glass_pixels(page)
    page.locator("#drop-file").set_input_files({"name": "tides.png", "mimeType": "image/png", "buffer": b"High water 14:20"})
    expect(page.get_by_role("alert")).to_contain_text("tides.png is a text file, not a picture")
    assert page.locator("#drop-file").get_attribute("data-most-mib") == "24"
    page.locator("#drop-file").evaluate("field => { field.dataset.mostMib = 1; }")  # 25 MiB take the test's driver 20 s
    page.locator("#drop-file").set_input_files({"name": "scan.png", "mimeType": "image/png", "buffer": b"0" * (2 * 2**20)})
    expect(page.get_by_role("alert")).to_contain_text("scan.png is 2.0 MiB; pictures up to 1 MiB are accepted")
    page.get_by_label("cut begins at column").fill("9000")
    page.get_by_label("cut begins at column").press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("The crop begins at 9000, 0; the picture has 1600 x 692 pixels")
    assert page.get_by_label("cut begins at column").input_value() == "9000"
    assert np.array_equal(glass_pixels(page), before)
    page.get_by_label("cut begins at column").fill("10")
    page.get_by_label("cut begins at column").press("Tab")
    expect(page.get_by_role("alert")).to_be_hidden()


def test_two_tabs(workshop):
    page = workshop
    open_build(page, "Tide & wind board")
    other = page.context.new_page()
    other.goto(page.url)
    other.locator("#recipe").wait_for()
    move(page, "exposure", 1)
    expect(page.locator("#undo")).to_be_enabled()
    move(other, "exposure", -1, kept=False)
    expect(other.get_by_role("alert")).to_contain_text("was changed in another tab")
    assert Picture.objects.get(name="Slip at dusk").record.exposure == 1
    other.get_by_role("button", name="Keep mine").click()
    expect(other.get_by_role("alert")).to_be_hidden()
    assert Picture.objects.get(name="Slip at dusk").record.exposure == -1


def test_cutting_by_hand_with_the_keyboard(workshop):
    page = workshop
    open_build(page, "Tide & wind board")
    page.get_by_role("button", name="by hand").click()
    for _ in range(10):
        page.keyboard.press("Shift+ArrowLeft")
    page.keyboard.press("ArrowRight")
    page.get_by_role("button", name="Cut here").click()
    expect(page.get_by_label("cut width in source pixels")).to_have_value("1440")
    expect(page.get_by_label("cut begins at column")).to_have_value("16")
    expect(page.locator("#undo")).to_be_enabled()
    assert Picture.objects.get(name="Slip at dusk").record.crop_width == 1440


def test_keys_zoom_split_and_help(workshop):
    page = workshop
    open_build(page, "Stroke-rate counter")
    expect(page.locator("#zoom-words")).to_contain_text("zoom 4×")
    page.keyboard.press("-")
    expect(page.locator("#zoom-words")).to_contain_text("zoom 3×")
    assert page.locator("#glass").bounding_box()["width"] == 384
    page.keyboard.press("l")
    expect(page.locator("#zoom-words")).to_contain_text("zoom 1×")
    page.keyboard.press(".")
    assert page.locator("#split-range").input_value() == "33"
    page.keyboard.press("v")
    page.get_by_role("heading", name="Slip, small").wait_for()
    page.wait_for_load_state("domcontentloaded")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("0")
    page.get_by_role("heading", name="5 builds on the bench").wait_for()


def test_all_files_in_the_background(workshop):
    page = workshop
    open_build(page, "Barometer")
    page.get_by_role("button", name="Make all files of this build").click()
    with page.expect_download() as waiting:
        page.get_by_role("link", name="Download barometer.zip").click()
    assert waiting.value.path().read_bytes()[:2] == b"PK"


@pytest.fixture(scope="session")
def pages(laid_out):
    """One address of each kind of page that links lead to."""
    client = Client()
    client.force_login(User.objects.get(username=settings.DEMO_USERNAME))
    return [address for address, answer in each_kind(client) if not answer.streaming and b"<html" in answer.content[:60]]


@pytest.mark.parametrize("quarter", range(4))
def test_every_page_is_accessible_and_fits(workshop, pages, quarter, complaints):
    page, faults = workshop, []
    letters = page.context.new_cdp_session(page)
    assert len(pages) > 100
    for address in pages[quarter::4]:
        page.goto(address)
        faults += [f"{address}: {fault}" for fault in faults_at_all_widths(page)]
        # with letters of twice the size, as a browser may be set to
        letters.send("Page.setFontSizes", {"fontSizes": {"standard": 32, "fixed": 26}})
        assert page.evaluate("getComputedStyle(document.documentElement).fontSize") == "32px"
        wide = page.evaluate("document.documentElement.scrollWidth - innerWidth")
        faults += [f"{address}: {wide} px too wide with large letters"] if wide > 0 else []
        letters.send("Page.setFontSizes", {"fontSizes": {"standard": 16, "fixed": 13}})
    assert not faults, "\n".join(faults)
    assert complaints == []


def test_the_mat_lies_high_and_only_smaller_pictures_are_drawn_smoothly(workshop):
    page = workshop
    page.goto("/")
    expect(page.locator(".fm-bench image.is-smooth").first).to_be_attached()
    page.goto(f"/builds/{Build.objects.first().pk}/pictures/")
    assert page.locator(".fm-mat").bounding_box()["y"] < 190
    expect(page.locator(".fm-thumb img.is-smooth").first).to_be_visible()
    expect(page.locator(".fm-split img.is-smooth:not(.was)")).to_have_count(0)


def test_the_door_is_accessible(page, demo):
    page.goto("/")
    page.get_by_role("button", name="Walk into the demo workshop").wait_for()
    assert accessibility_faults(page) == ""


def test_dim_for_the_bench_at_night(workshop, complaints):
    """Chosen by one key and kept; what is read keeps its contrast."""
    page = workshop
    numbers = {build.name: build.pk for build in Build.objects.order_by("pk")}
    tide, counter = (f"builds/{numbers[name]}" for name in ("Tide & wind board", "Stroke-rate counter"))
    page.goto("/")
    page.keyboard.press("d")
    for address in (
        "",
        f"{tide}/pictures/",
        f"{tide}/refresh/energy/",
        f"{tide}/log/measured/",
        "desk/runtime/",
        f"{counter}/hand-over/",
    ):
        page.goto(f"/{address}")
        assert page.evaluate("'dim' in document.documentElement.dataset")
        assert accessibility_faults(page, ["color-contrast"]) == ""
    page.keyboard.press("d")
    page.reload()
    assert not page.evaluate("'dim' in document.documentElement.dataset")
    assert complaints == []
