"""Station 2 through the real page: stages walked, films in virtual time, faults found and mended, drills."""

import io
import re
from datetime import datetime

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.conftest import faults_at_all_widths
from tests.reading import single
from workshop.bringup.documents import StageNotesDocument
from workshop.builds.models import Build

pytestmark = pytest.mark.browser


def open_tab(page, name, leaf=""):
    build = Build.objects.get(name=name)
    page.goto(f"/builds/{build.pk}/bring-up/{leaf}")
    page.locator("#main").wait_for()
    return build


def glass(page) -> np.ndarray:
    """The very picture that the page shows on its glass."""
    page.wait_for_function("() => document.getElementById('glass').complete")
    data = page.request.get(page.locator("#glass").evaluate("e => e.src")).body()
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


def test_the_stages_of_an_epaper_are_walked_through(workshop, complaints):
    page = workshop
    build = open_tab(page, "Tide & wind board")
    # What the demo's makers have done so far leads to the full picture: whole frames have no offset to read.
    expect(page.get_by_role("heading", level=1)).to_have_text("6. Full picture")
    expect(page.locator(".fm-proved")).to_contain_text("One test card has proved: Bytes, direction and depth are right.")
    page.get_by_label("From the first byte to the picture standing").fill("a while")
    page.get_by_role("button", name="Passed").click()
    expect(page.get_by_role("alert").last).to_contain_text("'a while' is no number; at most 22.2 s is expected")
    expect(page.locator("#reading")).to_have_value("a while")
    page.locator("#reading").fill("18,4")
    page.get_by_role("button", name="Passed").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("8. Live values")
    expect(page.locator(".fm-proved")).to_contain_text("Full picture has proved")
    page.locator("#reading").fill("900")
    page.locator("#reading").press("Enter")
    expect(page.locator(".fm-stages")).to_contain_text("900.0 s")
    build.refresh_from_db()
    assert single(build, StageNotesDocument).stages["picture"].reading == 18.4
    assert complaints == []


def test_the_stages_of_an_oled_lead_from_a_wrong_reading_to_its_suspect(workshop, complaints):
    page = workshop
    open_tab(page, "Stroke-rate counter")
    expect(page.get_by_role("heading", level=1)).to_have_text("6. Full picture")
    expect(page.locator("#main")).to_contain_text("61.0 ms measured 2026-04-03 is not what is expected")
    assert glass(page).shape == (64, 128, 3)
    page.get_by_role("link", name="Half is missing").click()
    expect(page.locator("#chosen")).to_contain_text("The length is that of another panel")
    page.get_by_role("link", name="Stages", exact=True).click()
    page.locator("#reading").fill("27")
    page.get_by_role("button", name="Passed").click()
    for name in ("7. Update by parts", "8. Live values"):
        expect(page.get_by_role("heading", level=1)).to_have_text(name)
        page.get_by_role("button", name="Passed").click()
    expect(page.locator(".fm-stages")).to_contain_text("done")
    expect(page.locator("header", has_text="Stage by stage")).to_contain_text("8 of 8 done")
    page.get_by_role("link", name="Reset and set-up").click()
    noise = glass(page)
    assert 0.3 < (noise.sum(axis=2) > 200).mean() < 0.7
    assert complaints == []


@pytest.mark.own_context
def test_the_player_keeps_virtual_time(workshop, complaints):
    page = workshop
    open_tab(page, "Stroke-rate counter", "virtual/?on=card-frame&before=card-letter")
    page.clock.install(time=datetime(2026, 1, 1))
    page.reload()
    page.locator("#player").wait_for()
    page.clock.pause_at(datetime(2026, 1, 1, 1))  # from here on time passes only when it is told to
    total = page.locator("#film-total").inner_text()
    # By hand: 8 pages of 128 bytes, in transactions of at most 31 bytes of data over I2C at 400 kHz, and 3 command bytes that
    # share one.
    clocks = 8 * ((128 + 2 * 5) * 9 + 2 * 5 + (3 + 2) * 9 + 2)
    assert total == f"{clocks / 400:,.3f} ms"
    assert page.locator("#film-clocks").inner_text() == f"{clocks:,}"
    page.locator("#film-speed").select_option("0.01")
    page.keyboard.press("p")
    page.clock.run_for(1000)  # a second at a hundredth of the speed: 10 ms of the wire
    page.keyboard.press("p")
    shown = float(page.locator("#film-clock").inner_text().split()[0])
    assert shown == pytest.approx(10, abs=0.2)  # the last picture drawn may be a sixtieth of a second old
    middle = glass(page)
    page.keyboard.press("p")
    page.clock.run_for(3000)
    expect(page.locator("#film-clock")).to_have_text(total)
    expect(page.locator("#film-play")).to_have_text("Play again")
    assert not np.array_equal(glass(page), middle)
    page.keyboard.press(",")  # a moment back
    assert page.locator("#film-clock").inner_text() != total
    page.locator("#film-log li").first.click()
    expect(page.locator("#film-clock")).to_have_text("0.000 ms")
    expect(page.locator("#film-words")).to_have_text("before anything is sent")
    assert complaints == []


def test_a_sending_mistake_chosen_from_the_sentence_is_told_with_its_place(workshop, complaints):
    page = workshop
    open_tab(page, "Tide & wind board", "virtual/")
    expect(page.locator(".fm-told")).to_contain_text("Nothing: it takes every byte.")
    page.get_by_label("Leave out").select_option(label="never waiting for busy")
    # By hand: reset, pause, three commands with their data, voltages on: 9; the tenth comes while they rise.
    expect(page.locator(".fm-told")).to_contain_text(re.compile("sent while the panel is busy.*transaction 10"))
    expect(page.locator("#film-log .is-wrong").first).to_be_attached()
    assert complaints == []


def test_from_the_symptom_to_the_mend(workshop, complaints):
    page = workshop
    build = open_tab(page, "Stroke-rate counter", "faults/")
    page.get_by_label("It was sent").select_option(label="test card Letter")
    page.get_by_role("link", name="Mirrored left to right").focus()
    page.keyboard.press("Enter")
    expect(page.locator("#chosen")).to_contain_text("Letters read as in a mirror.")
    page.get_by_role("link", name="Glass inverts").click()
    expect(page.locator("#chosen")).to_contain_text("On this picture it looks like light and dark exchanged in the array")
    page.get_by_role("link", name="Mirrored left to right").click()
    expect(page.locator("#chosen h2")).to_have_text("Mirrored left to right")
    page.wait_for_load_state("networkidle")  # renderings that are still asked for belong to the build as it was
    page.get_by_role("button", name="Apply this fix").click()
    expect(page.get_by_role("status").first).to_contain_text("Mirrored left to right: mended in what is believed of the panel")
    build.refresh_from_db()
    assert build.mirrored
    page.wait_for_load_state("networkidle")
    page.get_by_role("button", name="Apply this fix").click()
    page.get_by_role("link", name="Glass begins at another column").click()
    page.get_by_label("further in by").fill("400")
    page.get_by_label("further in by").press("Tab")
    expect(page.locator("#chosen")).to_contain_text("no room for the glass there")
    page.get_by_role("link", name="None of these").click()
    for answer in ("Nothing at all", "Yes", "No, it stays dark", "No"):
        page.get_by_role("link", name=answer, exact=True).click()
    page.get_by_role("link", name="Not found, or found elsewhere").click()
    expect(page.locator(".fm-answer")).to_contain_text("Spoken to at another address")
    assert complaints == []


def test_a_fault_noted_of_the_program_is_a_finding_until_it_is_mended(workshop, complaints):
    page = workshop
    open_tab(page, "Sign-out panel")
    finding = page.locator(".fm-finding", has_text="opaque cells crop their neighbours")
    expect(finding).to_be_visible()
    page.keyboard.press("f")
    page.keyboard.press("x")
    expect(page.locator("#findings")).to_contain_text("None is known of the program")
    assert complaints == []


def test_an_offset_is_read_off_a_ruler(workshop, complaints):
    page = workshop
    build = open_tab(page, "Barometer", "cards/rows/")
    expect(page.locator("#main")).to_contain_text("its first row is 0")
    page.get_by_label("First number on the glass").fill("100")
    page.get_by_label("Rows between the edge and its mark").fill("20")
    page.get_by_role("button", name="Set this offset").click()
    expect(page.get_by_role("status").first).to_contain_text("The glass begins at row 80 now")
    build.refresh_from_db()
    assert build.passport["ram"]["offset_y"] == 80
    assert complaints == []


def test_a_drill(workshop, complaints):
    page = workshop
    open_tab(page, "Stroke-rate counter", "drills/?number=11")
    expect(page.locator(".fm-confused")).to_contain_text("taken for bytes along the other direction, 2 times")
    page.get_by_role("radio").first.check()
    page.get_by_role("button", name="This is the cause").click()
    expect(page.locator(".fm-verdict")).to_contain_text("The mistake is in")
    expect(page.locator("#record-title + dl")).to_contain_text("8")
    page.get_by_role("link", name="Next drill").click()
    expect(page.get_by_role("button", name="This is the cause")).to_be_visible()
    assert complaints == []


def test_pages_in_their_states_are_accessible_and_fit(workshop, complaints):
    page = workshop
    faults = []
    for name, leaves in (
        ("Tide & wind board", ("?stage=offset", "questions/?path=0.0")),
        ("Stroke-rate counter", ("?stage=picture", "virtual/?mistake=no-reset", "faults/?fault=panel.column-offset", "drills/?number=2")),
        ("Barometer", ("faults/?on=card-rings&fault=array.byte-order",)),
    ):  # fmt: skip
        for leaf in leaves:
            open_tab(page, name, leaf)
            faults += [f"{name} {leaf}: {fault}" for fault in faults_at_all_widths(page)]
    assert not faults, "\n".join(faults)
    assert complaints == []
