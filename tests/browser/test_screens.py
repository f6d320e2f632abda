"""Station 5 by hand and by keys, on the demo data: laid, dragged, nudged, typed, lined up, and all of it taken back."""

import json

import numpy as np
import pytest
from django.conf import settings
from playwright.sync_api import expect

from mosaic.conversion.pipeline import unpack
from mosaic.panels.appearance import colors_of
from tests.browser.conftest import accessibility_faults as axe
from tests.browser.conftest import idle
from tests.browser.test_walk import glass_pixels
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.lettering.documents import Lettering
from workshop.screens.documents import ScreenDocument

pytestmark = pytest.mark.browser


def station(page, build_name: str) -> Build:
    build = Build.objects.get(name=build_name)
    page.goto(f"/builds/{build.pk}/screens/")
    return build


def rest(page) -> None:
    """Until everything that was done has its answer."""
    page.wait_for_timeout(60)
    page.locator("body:not([data-busy]):not([data-choosing])").wait_for()


def boxes(page) -> dict[str, list]:
    return {box[0]: box[1:6] for box in json.loads(page.evaluate("() => document.getElementById('shown').dataset.boxes"))}


def record(name: str):
    return ScreenDocument.objects.select_related("head").get(name=name).record


def place_of(page, ident: str) -> tuple[float, float]:
    """The middle of an element on the page."""
    at, (x, y, w, h, _) = page.locator("#overlay").bounding_box(), boxes(page)[ident]
    width, height = (int(v) for v in page.locator("#overlay").get_attribute("viewBox").split()[2:])
    return at["x"] + (x + w / 2) * at["width"] / width, at["y"] + (y + h / 2) * at["height"] / height


def choose(page, number: int) -> None:
    page.locator(".fm-choose").nth(number - 1).click()
    rest(page)


def test_a_text_is_laid_under_another_dragged_nudged_typed_lined_up_and_all_undone(workshop, complaints):
    page = workshop
    station(page, "Tide & wind board")
    first = glass_pixels(page)
    before = record("Tide")

    choose(page, 1)
    page.locator("#begin-kind").select_option("text")
    page.locator(".fm-begin").get_by_role("button", name="Add it").click()
    rest(page)
    added = record("Tide").elements[-1]
    assert (added.kind, added.x.to, added.y.to) == ("text", "e1", "e1")
    page.get_by_label("text", exact=True).fill("at the slip")
    page.get_by_label("text", exact=True).press("Tab")
    rest(page)
    assert record("Tide").elements[-1].text == "at the slip"
    start = boxes(page)[added.id][:2]
    expect(page.locator("#findings")).to_contain_text("runs into")

    # Dragged: the guide and the pixels follow, and it is one step.
    x, y = place_of(page, added.id)
    zoom = page.locator("#overlay").bounding_box()["width"] / 296
    shown = page.locator("#glass").evaluate("e => e.src")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 20 * zoom, y + 12 * zoom, steps=5)
    page.wait_for_function("src => document.getElementById('glass').src !== src", arg=shown)
    assert page.locator("#glass").evaluate("e => e.src").startswith("data:image/png")
    page.mouse.up()
    rest(page)
    assert boxes(page)[added.id][:2] == [start[0] + 20, start[1] + 12]
    assert record("Tide").elements[-1].x.to == "e1"

    # Nudged by keys: together they are one step.
    page.locator("#overlay").focus()
    for key in ("ArrowRight", "ArrowRight", "Shift+ArrowUp"):
        page.keyboard.press(key)
    page.wait_for_timeout(500)
    rest(page)
    assert boxes(page)[added.id][:2] == [start[0] + 22, start[1] + 4]

    # Typed.
    page.get_by_label("pixels across", exact=True).fill("3")
    page.get_by_label("pixels across", exact=True).press("Tab")
    rest(page)
    assert boxes(page)[added.id][0] == boxes(page)["e1"][0] + 3

    # Three lined up.
    for ident in ("e4", "e5"):
        page.locator(f".fm-pick[value={ident}]").check()
        rest(page)
    expect(page.get_by_text("The 3 chosen")).to_be_visible()
    page.get_by_role("button", name="right edges").click()
    rest(page)
    ends = {boxes(page)[ident][0] + boxes(page)[ident][2] for ident in ("e4", "e5", added.id)}
    assert len(ends) == 1

    steps = 0
    while page.locator("#undo").is_enabled():
        page.locator("#undo").click()
        rest(page)
        steps += 1
    assert steps == 6
    assert record("Tide") == before
    assert np.array_equal(glass_pixels(page), first)
    assert complaints == []


def test_sizes_and_guides_by_pointer_and_by_keys(workshop, complaints):
    page = workshop
    station(page, "Tide & wind board")
    choose(page, 3)
    at, zoom = page.locator("#overlay").bounding_box(), page.locator("#overlay").bounding_box()["width"] / 296
    x, y, w, h, _ = boxes(page)["e3"]
    page.mouse.move(at["x"] + (x + w) * zoom, at["y"] + (y + h) * zoom)
    page.mouse.down()
    page.mouse.move(at["x"] + (x + w - 12) * zoom, at["y"] + (y + h + 5) * zoom, steps=4)
    page.mouse.up()
    rest(page)
    assert boxes(page)["e3"][2:4] == [w - 12, h + 5]
    page.locator("#overlay").focus()
    page.keyboard.press("Alt+ArrowRight")
    page.keyboard.press("Alt+Shift+ArrowDown")
    page.wait_for_timeout(500)
    rest(page)
    assert boxes(page)["e3"][2:4] == [w - 11, h + 13]

    # A guide takes along what stands on it.
    page.mouse.move(at["x"] + 14 * zoom, at["y"] + 63 * zoom)
    page.mouse.down()
    page.mouse.move(at["x"] + 20 * zoom, at["y"] + 63 * zoom, steps=3)
    page.mouse.up()
    rest(page)
    assert record("Tide").guides[0].plus == 20
    assert {boxes(page)[ident][0] for ident in ("e1", "e2", "e3", "e4", "e5")} == {20}
    assert complaints == []


def test_the_glass_is_what_the_core_draws_and_a_larger_lettering_moves_what_stands_beside(workshop, complaints):
    page = workshop
    build = station(page, "Tide & wind board")
    device = build.to_device()
    packed = page.request.get(f"{page.url.rstrip('/')}/take/bin/").body()
    assert np.array_equal(
        glass_pixels(page), colors_of(unpack(packed, device.passport, device.turn), device.passport, device.turn)
    )
    under = boxes(page)["e3"]
    lettering = Lettering.objects.get(name="Tide figures")
    page.goto(f"{page.url.split('/screens')[0]}/lettering/{lettering.pk}/")
    page.get_by_label("pixels to the em").fill("36")
    page.get_by_label("pixels to the em").press("Enter")
    idle(page)
    station(page, "Tide & wind board")
    assert boxes(page)["e3"][1] > under[1]
    assert boxes(page)["e3"][0] == under[0]
    assert complaints == []


def test_by_keyboard_alone_and_without_findings_of_axe(workshop, complaints):
    page = workshop
    station(page, "Sign-out panel")
    page.locator(".fm-choose").nth(2).focus()
    page.keyboard.press("Enter")
    rest(page)
    expect(page.locator(".fm-choose").nth(2)).to_have_attribute("aria-current", "true")
    page.locator("#overlay").focus()
    start = boxes(page)["e3"][:2]
    page.keyboard.press("Shift+ArrowLeft")
    page.wait_for_timeout(500)
    rest(page)
    assert boxes(page)["e3"][0] == start[0] - 8
    # What is placed by it moves along.
    assert boxes(page)["e4"][0] == start[0] - 8
    page.keyboard.press("Delete")
    rest(page)
    assert "e3" not in boxes(page)
    page.keyboard.press("Control+z")
    rest(page)
    assert "e3" in boxes(page)
    choose(page, 3)
    assert axe(page) == ""
    assert complaints == []


def test_on_a_phone_and_the_other_pages(workshop, complaints):
    page = workshop
    page.set_viewport_size({"width": 390, "height": 800})
    station(page, "Barometer")
    choose(page, 4)
    assert page.evaluate("() => document.documentElement.scrollWidth <= innerWidth")
    assert axe(page) == ""
    page.get_by_label("text", exact=True).fill("998 hPa")
    page.get_by_label("text", exact=True).press("Tab")
    rest(page)
    assert record("Dial").element("e4").text == "998 hPa"
    page.set_viewport_size({"width": 1280, "height": 800})
    station(page, "Sign-out panel")
    page.get_by_role("link", name="Styles & parts").click()
    assert axe(page) == ""
    page.get_by_label("name of the part p1").fill("Top")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_label("name of the part p1")).to_have_value("Top")
    empty = start_build(
        owner=User.objects.get(username=settings.DEMO_USERNAME),
        name="New",
        panel="mono-oled-128x64",
        board="small",
        link_kind="i2c",
    )
    page.goto(f"/builds/{empty.pk}/screens/")
    expect(page.get_by_role("heading", name="No screen yet")).to_be_visible()
    assert axe(page) == ""
    assert complaints == []


def test_wrong_input_is_told_and_stays(workshop):
    page = workshop
    station(page, "Barometer")
    choose(page, 4)
    page.get_by_label("pixels across", exact=True).fill("9999")
    page.get_by_label("pixels across", exact=True).press("Tab")
    rest(page)
    expect(page.locator("#notice")).to_contain_text("4096")
    expect(page.get_by_label("pixels across", exact=True)).to_have_value("9999")
    assert record("Dial").element("e4").x.plus == 0
