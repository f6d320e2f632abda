"""What works where scripts are switched off: undo, find, later pages of the shelf, and the file fields."""

import re

import pytest
from django.conf import settings
from playwright.sync_api import expect

from tests.conftest import gradient, png_of

pytestmark = pytest.mark.browser


@pytest.fixture
def bare(browser, live_server, browser_context_args, laid_out, demo):
    """A page without scripts, signed in."""
    context = browser.new_context(base_url=live_server.url, java_script_enabled=False, **browser_context_args)
    yield context
    context.close()


def test_undo_find_pages_and_files(bare, live_server, laid_out):
    bare.add_cookies([{"name": settings.SESSION_COOKIE_NAME, "value": laid_out.session, "url": live_server.url}])
    page = bare.new_page()

    page.goto("/")
    page.get_by_role("link", name=re.compile("Barometer")).first.click()
    page.get_by_role("navigation", name="Stations").get_by_role("link", name="Pictures").click()
    contrast = page.locator("#recipe [name=contrast]")
    before = contrast.input_value()
    page.get_by_role("combobox", name="method").select_option(index=2)
    page.get_by_role("button", name="Save recipe").click()
    chosen = page.get_by_role("combobox", name="method").input_value()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("combobox", name="method")).not_to_have_value(chosen)
    page.get_by_role("button", name="Redo").click()
    expect(page.get_by_role("combobox", name="method")).to_have_value(chosen)
    assert contrast.input_value() == before
    page.locator("#drop-file").set_input_files({"name": "gate.png", "mimeType": "image/png", "buffer": png_of(gradient(60, 40))})
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_role("heading", name="gate")).to_be_visible()

    page.goto("/panels/")
    page.get_by_role("link", name="Next page").click()
    expect(page.locator("#cards")).to_contain_text("page 2 of")
    page.get_by_label("Find").fill("320x240 touch")
    page.get_by_role("button", name="Find").click()
    expect(page.locator("#cards")).to_contain_text("320")

    page.goto("/builds/new/")
    page.get_by_label("Call it").fill("Slipway lamp")
    page.get_by_label("Find").fill("six colours")
    page.get_by_label("Find").press("Enter")
    expect(page.locator("#panel-shelf")).to_contain_text("2 found")
    expect(page.get_by_label("Call it")).to_have_value("Slipway lamp")
    page.get_by_label("Find").fill("")
    page.get_by_label("Find").press("Enter")
    page.get_by_role("button", name="Next page").click()
    expect(page.locator("#panel-shelf")).to_contain_text("page 2 of")
    expect(page.get_by_label("Call it")).to_have_value("Slipway lamp")

    page.goto("/")
    page.get_by_role("link", name=re.compile("Barometer")).first.click()
    page.get_by_role("navigation", name="Stations").get_by_role("link", name="Lettering").click()
    spacing = page.locator("[name=spacing]")
    before = spacing.input_value()
    spacing.fill("3")
    page.get_by_role("button", name="Apply", exact=True).click()
    expect(spacing).to_have_value("3")
    page.get_by_role("button", name="Undo").click()
    expect(spacing).to_have_value(before)
