"""The Refresh plan by pointer and keys: a buffer, a clock, a rate and a benchmark taken, the strip that follows."""

import re
from pathlib import Path

import pytest
from django.conf import settings
from playwright.sync_api import expect

from tests.browser.conftest import faults_at_all_widths
from tests.workshop.test_energy import build as make_slip
from tests.workshop.test_paper_wear_trace import trace
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.refresh.benchmark_views import listing_of

pytestmark = pytest.mark.browser


def test_a_buffer_is_taken_and_the_strip_follows(workshop, complaints):
    page = workshop
    build = Build.objects.get(name="Barometer")
    page.goto(f"/builds/{build.pk}/refresh/")
    expect(page.get_by_role("heading", name="Dial: what takes longest")).to_be_visible()
    expect(page.get_by_role("region", name="Kinds of elements")).to_contain_text("together")
    page.get_by_role("link", name="Buffers").click()
    ram = page.locator(".fm-budget", has_text="RAM").first
    before = ram.inner_text()
    assert "over by" in before
    page.get_by_role("button", name="Take it: 15 bands of rows").click()
    expect(page.locator("tr.is-here")).to_contain_text("15 bands")
    expect(ram).not_to_contain_text("over by")
    assert Build.objects.get(pk=build.pk).buffer_bands == 15
    assert faults_at_all_widths(page) == []
    page.get_by_role("link", name="Links").click()
    expect(page.get_by_role("region", name="Links", exact=True).locator("tr.is-here")).to_contain_text("at hand")
    assert complaints == []


def address(page, name, rest):
    build = Build.objects.get(name=name)
    return f"/builds/{build.pk}/refresh/{rest}"


def strip(page, name):
    return page.locator(".fm-budget", has_text=name).first


def test_a_faster_clock_makes_the_frame_shorter(workshop, complaints):
    page = workshop
    page.goto(address(page, "Club room screen", "links/"))
    before = strip(page, "Frame").inner_text()
    page.get_by_role("button", name=re.compile("^Take it: ")).first.click()
    expect(page.get_by_role("region", name="Links", exact=True).locator("tr.is-here")).to_contain_text("at hand")
    expect(strip(page, "Frame")).not_to_have_text(before)
    assert complaints == []


def test_what_a_change_takes_is_seen_on_the_glass(workshop, complaints):
    page = workshop
    page.goto(address(page, "Barometer", "windows/"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("Dial")
    ways = page.get_by_role("region", name="Ways to send it")
    expect(ways).to_contain_text("The runtime’s rectangles")
    assert page.locator(".fm-overlay rect.is-cheapest").count() > 5
    page.get_by_role("link", name="trend rising").click()
    expect(page.get_by_role("heading", name="Dial: trend rising")).to_be_visible()
    expect(ways).to_contain_text("times as long")
    assert complaints == []


def test_a_rate_is_tried_by_keys_beside_the_kept_one_and_kept(workshop, complaints):
    page = workshop
    page.goto(address(page, "Barometer", "schedule/?length=hour"))
    interval = page.get_by_label("pressure: read every, in ms")
    interval.fill("0")
    interval.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("The interval of pressure")
    expect(interval).to_have_value("0")
    interval.fill("1000")
    interval.press("Enter")
    figures = page.get_by_role("region", name="Figures of the day")
    expect(figures).to_contain_text("as filled in")
    assert faults_at_all_widths(page) == []
    page.get_by_role("button", name="Save as the schedule").click()
    expect(figures).not_to_contain_text("as filled in")
    expect(interval).to_have_value("1000")
    assert [done for done in complaints if "422" not in done] == []


def test_a_benchmark_is_pasted_and_the_strip_says_measured(workshop, complaints):
    page = workshop
    build = Build.objects.get(name="Barometer")
    page.goto(address(page, "Barometer", "benchmark/"))
    page.get_by_label("What it printed").fill("hello")
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_role("alert")).to_contain_text("No line begins with")
    expect(page.get_by_label("What it printed")).to_have_value("hello")
    found = listing_of(build, build.to_device())
    lines = [f"{row.name} {row.times} {max(1, round(1.5 * row.us * row.times))}" for row in found.rows]
    text = "\n".join([f"drawing-times 1 {found.key} {len(found.rows)}", *lines, f"end {len(found.rows)}"])
    page.get_by_label("What it printed").fill(text)
    page.get_by_role("button", name="Read it").click()
    expect(page.locator(".fm-facts")).to_contain_text("1.50 times the typical cycles")
    expect(strip(page, "Frame")).to_contain_text("measured")
    assert faults_at_all_widths(page) == []
    page.get_by_role("button", name="Leave it aside").click()
    expect(strip(page, "Frame")).to_contain_text("typical")
    assert complaints == []


def test_another_cell_lasts_longer_and_the_curve_follows(workshop, complaints):
    page = workshop
    page.goto(address(page, "Tide & wind board", "energy/"))
    lasts = page.get_by_role("heading", level=1, name=re.compile("^It lasts"))
    before = lasts.inner_text()
    drawn = page.locator(".fm-runtime .is-curve").get_attribute("d")
    page.get_by_label("From", exact=True).select_option("round-18")
    page.get_by_role("button", name="Calculate with it").click()
    expect(lasts).not_to_have_text(before)
    assert page.locator(".fm-runtime .is-curve").get_attribute("d") != drawn
    expect(page.get_by_role("region", name="Other cells").locator("tr.is-here")).to_contain_text("18 mm across")
    page.get_by_text("Losses, cold and age").click()
    page.get_by_label("efficiency at load 1, in %").fill("120")
    page.get_by_label("regulator", exact=True).select_option("switching")
    page.get_by_role("button", name="Calculate with it").click()
    expect(page.get_by_role("alert")).to_contain_text("120%")
    expect(page.get_by_label("efficiency at load 1, in %")).to_have_value("120")
    assert [done for done in complaints if "422" not in done] == []


@pytest.fixture
def slip(workshop):
    """A board of black and white e-paper that counts every five minutes."""
    return make_slip.__wrapped__(User.objects.get(username=settings.DEMO_USERNAME))


def test_the_interval_changes_curve_and_strip(workshop, slip, complaints):
    page = workshop
    page.goto(address(page, slip.name, "energy/"))
    lasts, before = page.get_by_role("heading", level=1, name=re.compile("^It lasts")), strip(page, "Energy").inner_text()
    now = lasts.inner_text()
    page.goto(address(page, slip.name, "schedule/"))
    page.locator("[name=least_ms]").fill("900000")
    page.get_by_role("button", name="Save as the schedule").click()
    expect(strip(page, "Energy")).not_to_have_text(before, use_inner_text=True)
    page.wait_for_load_state()
    page.goto(address(page, slip.name, "energy/"))
    expect(lasts).not_to_have_text(now)
    expect(page.get_by_role("region", name="Changes")).to_contain_text("instead of every 15 min")
    assert complaints == []


def test_a_school_is_taken_and_the_ghost_goes(workshop, slip, complaints):
    page = workshop
    page.goto(address(page, slip.name, "paper/"))
    page.get_by_label("Updates are").select_option("1")
    page.get_by_role("button", name="Clean it so").click()
    told = page.locator("#moment")
    expect(page.get_by_role("heading", name="No full update in 24 hours")).to_be_visible()
    worst = told.inner_text()
    page.get_by_label("how strong the ghost is drawn").select_option("8")
    expect(page.locator("#glass")).to_have_attribute("src", re.compile("times=8"))
    assert faults_at_all_widths(page) == []
    page.get_by_label("Update", exact=True).focus()
    page.keyboard.press("Home")
    expect(told).to_contain_text("After update 1 of 288")
    page.keyboard.press("ArrowRight")
    expect(told).to_contain_text("After update 2 of 288")
    page.get_by_role("button", name="Show the worst").click()
    expect(told).to_have_text(worst, use_inner_text=True)
    page.get_by_role("button", name="Take it: In full after every 10 partial updates").click()
    expect(page.get_by_role("region", name="Schools of cleaning").locator("tr.is-here")).to_contain_text("after every 10")
    expect(page.get_by_role("heading", name="No full update in 24 hours")).to_have_count(0)
    assert told.inner_text() != worst
    page.get_by_label("times to clean at").fill("soon")
    page.get_by_role("button", name="Clean it so").click()
    expect(page.get_by_role("alert")).to_contain_text("is no time")
    expect(page.get_by_label("times to clean at")).to_have_value("soon")
    assert [done for done in complaints if "422" not in done] == []


def test_where_a_panel_wears_and_what_helps(workshop, complaints):
    page = workshop
    page.goto(address(page, "Stroke-rate counter", "wear/"))
    title = page.get_by_role("heading", level=1, name=re.compile("^A difference is seen after"))
    before = title.inner_text()
    page.get_by_role("button", name="Take it: Half the light").click()
    expect(title).not_to_have_text(before)
    halved = title.inner_text()
    page.get_by_role("button", name="Take it: Dark by night").click()
    expect(title).not_to_have_text(halved)
    page.get_by_role("button", name="Undo").click()
    expect(title).to_have_text(halved)
    page.get_by_label("Show").select_option("worn-10")
    page.get_by_role("button", name="Show").click()
    expect(page.locator("#glass")).to_have_attribute("alt", "The glass lit full, worn")
    with page.expect_download() as taken:
        page.get_by_role("link", name="wear.h").click()
    assert "wear_shift" in Path(taken.value.path()).read_text()
    assert complaints == []


def test_a_trace_is_dropped_read_and_taken(workshop, slip, complaints, tmp_path):
    page = workshop
    page.goto(address(page, slip.name, "trace/"))
    (tmp_path / "words.csv").write_text("nothing\nto\nread\n")
    page.get_by_label("Trace", exact=True).set_input_files(tmp_path / "words.csv")
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_role("alert")).to_contain_text("No line of this file")
    (tmp_path / "meter.csv").write_bytes(trace(rows=20_000))
    page.get_by_label("Trace", exact=True).set_input_files(tmp_path / "meter.csv")
    page.get_by_role("button", name="Read it").click()
    table = page.get_by_role("region", name="Measured and expected")
    expect(table).to_contain_text("It rests at 900 µA")
    assert faults_at_all_widths(page) == []
    page.get_by_role("button", name="Take it into the build as measured").click()
    expect(page.get_by_text("The energy of this build is measured")).to_be_visible()
    expect(strip(page, "Energy")).to_contain_text("measured")
    page.get_by_role("button", name="Go back to typical currents").click()
    expect(strip(page, "Energy")).to_contain_text("typical")
    assert [done for done in complaints if "422" not in done] == []
