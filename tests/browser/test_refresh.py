"""The Refresh plan by pointer: figures of a screen, a buffer taken, the strip that follows."""

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import faults_at_both_widths
from workshop.builds.models import Build

pytestmark = pytest.mark.browser


def test_a_buffer_is_taken_and_the_strip_follows(workshop, complaints):
    page = workshop
    build = Build.objects.get(name="Barometer")
    page.goto(f"{page.url.split('/builds')[0].rstrip('/')}/builds/{build.pk}/refresh/")
    expect(page.get_by_role("heading", name="Dial: what takes longest")).to_be_visible()
    expect(page.get_by_role("region", name="Kinds of elements")).to_contain_text("all together")
    assert faults_at_both_widths(page) == []
    page.get_by_role("link", name="Buffers").click()
    ram = page.locator(".fm-budget", has_text="RAM").first
    before = ram.inner_text()
    assert "over by" in before
    page.get_by_role("button", name="Take it: 15 bands of rows").click()
    expect(page.locator("tr.is-here")).to_contain_text("15 bands")
    expect(ram).not_to_contain_text("over by")
    assert Build.objects.get(pk=build.pk).buffer_bands == 15
    assert faults_at_both_widths(page) == []
    page.get_by_role("link", name="Links").click()
    expect(page.locator("tr.is-here")).to_contain_text("at hand")
    assert faults_at_both_widths(page) == []
    assert complaints == []
