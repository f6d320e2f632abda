"""Hand over, see the generated program live and touch it, see what changed, take a build out and bring it in."""

import contextlib
import os
import re
import signal
import subprocess
import threading
import zipfile

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import faults_at_all_widths
from workshop.bringup.feed_server import FeedServer
from workshop.builds.models import Build

pytestmark = pytest.mark.browser


@pytest.fixture
def server(workshop, settings):
    made = FeedServer(0)
    settings.FEED_PORT = made.server_address[1]
    thread = threading.Thread(target=made.serve_forever, kwargs={"poll_interval": 0.02}, daemon=True)
    thread.start()
    yield made
    made.stop()
    thread.join(10)


def address(page, name, rest=""):
    build = Build.objects.filter(name=name).latest("pk")
    return f"/builds/{build.pk}/hand-over/{rest}"


def test_handed_over_compiled_and_live(workshop, server, complaints, tmp_path):
    page = workshop
    page.goto(address(page, "Sign-out panel"))
    expect(page.get_by_role("heading", name="Hand everything over")).to_be_visible()
    page.get_by_role("button", name="Hand over", exact=True).click()
    expect(page.get_by_role("heading", name="Hand-over 1")).to_be_visible()
    expect(page.locator(".fm-proofs")).to_contain_text("The C was compiled without a warning.")
    expect(page.locator(".fm-proofs")).to_contain_text("44 states were drawn; all equal to their previews.")
    assert faults_at_all_widths(page) == []
    with page.expect_download() as taken:
        page.get_by_role("link", name="Download sign_out_panel-1.zip").click()
    with zipfile.ZipFile(taken.value.path()) as archive:
        archive.extractall(tmp_path)
    for name in ("Sizes", "Frame feed", "Live"):
        page.get_by_role("navigation", name="Pages of this station").get_by_role("link", name=name).click()
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        assert faults_at_all_widths(page) == []
    command = page.locator("pre.fm-code").inner_text().partition("&&")[2].strip()
    told = {"stdout": subprocess.PIPE, "stderr": subprocess.STDOUT}
    program = subprocess.Popen(command.split(), cwd=tmp_path, start_new_session=True, **told)
    try:
        expect(page.locator("#feed-state")).to_contain_text("A program is drawing.")
        expect(page.locator("#glass")).to_have_attribute("src", re.compile(r"/feed/[1-9]\d*\.png"))
        before = page.locator("#glass").get_attribute("src")
        box = page.locator("#glass").bounding_box()
        page.mouse.move(box["x"] + box["width"] * 0.15, box["y"] + box["height"] * 0.62)
        page.mouse.down()
        page.wait_for_timeout(60)
        page.mouse.up()
        expect(page.locator("#glass")).not_to_have_attribute("src", before)
        page.get_by_role("button", name="Touch Teal").focus()
        page.keyboard.press("Enter")
        expect(page.locator("#feed-state")).to_contain_text("Nothing.")
    finally:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(program.pid, signal.SIGTERM)  # with what it has started
        said = program.communicate(timeout=20)[0].decode()
    assert "event" in said
    assert complaints == []


def test_what_changed_since_the_last_time(workshop, complaints):
    page = workshop
    page.goto(address(page, "Stroke-rate counter"))
    page.get_by_role("button", name="Hand over", exact=True).click()
    expect(page.get_by_role("heading", name="Hand-over 1")).to_be_visible()
    page.get_by_role("navigation", name="Pages of this station").get_by_role("link", name="What changed").click()
    expect(page.get_by_text("no file would be another one")).to_be_visible()
    here = page.url
    page.get_by_role("link", name="Build sheet").click()
    page.locator("#id_rotation").select_option("180")
    page.get_by_role("button", name="Save sheet").click()
    page.goto(here)
    expect(page.get_by_text("rotation: 0 → 180")).to_be_visible()
    expect(page.get_by_text("The program: compile it and flash it again.")).to_be_visible()
    assert faults_at_all_widths(page) == []
    page.get_by_label("Copy", exact=True).set_input_files(
        {"name": "mine.zip", "mimeType": "application/zip", "buffer": b"no zip"}
    )
    page.get_by_role("button", name="Look through it").click()
    expect(page.get_by_role("alert")).to_contain_text("This is no zip")
    assert [done for done in complaints if "422" not in done] == []


def test_a_build_goes_out_as_a_file_and_comes_in_again(workshop, complaints):
    page = workshop
    page.goto(address(page, "Barometer").replace("hand-over/", "sheet/"))
    with page.expect_download() as taken:
        page.get_by_role("link", name="Download build file").click()
    page.goto("/")
    page.get_by_label("Or bring a build file").set_input_files({"name": "x.zip", "mimeType": "application/zip", "buffer": b"PK"})
    page.get_by_role("button", name="Bring it in").click()
    expect(page.get_by_text("this is no build file", exact=False).first).to_be_visible()
    page.goto("/")
    page.get_by_label("Or bring a build file").set_input_files(taken.value.path())
    page.get_by_role("button", name="Bring it in").click()
    expect(page.get_by_text("Barometer is here as a build of its own.")).to_be_visible()
    assert Build.objects.filter(name="Barometer").count() == 2
    assert [done for done in complaints if "422" not in done] == []
