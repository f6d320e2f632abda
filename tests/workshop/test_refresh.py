"""The Refresh plan through its pages: speed, buffers, links, and what is taken."""

import html
import re
from dataclasses import replace

import pytest
from django.urls import reverse

from mosaic.refresh.day.program import Program
from mosaic.screens.screen import Anchor, Element, Screen, Size
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.documents import services as documents
from workshop.refresh.documents import program_of
from workshop.screens.documents import ScreenDocument
from workshop.stations.overview import overview_of


@pytest.fixture
def build(maker):
    made = start_build(owner=maker, name="Slip", panel="tft-320x240-touch", board="wireless", link_kind="spi")
    box = Element("e1", "rectangle", "Deck", Anchor(plus=10), Anchor(plus=10), Size("pixels", 100), Size("pixels", 50))
    line = Element("e2", "line", "Oar", Anchor(plus=0), Anchor(plus=100), Size("pixels", 100), Size("pixels", 50))
    documents.add(ScreenDocument, build=made, name="Racks", record=Screen((box, line)))
    return made


def said(answer) -> str:
    return html.unescape(re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", answer.content.decode())))


def test_a_build_without_screens_says_what_is_needed(maker, signed_in):
    empty = start_build(owner=maker, name="Empty", panel="tft-320x240-touch", board="wireless", link_kind="spi")
    for page in ("refresh", "buffers"):
        assert "There is no screen yet" in said(signed_in.get(reverse(page, args=[empty.pk])))
    assert signed_in.get(reverse("links", args=[empty.pk])).status_code == 200


def test_speed_by_way_and_by_element(build, signed_in):
    page = said(signed_in.get(reverse("refresh", args=[build.pk])))
    # The ground and the deck are a window each, the oar fifty of two pixels: 52 windows of 11 bytes, and all their pixels.
    assert f"52 windows, {52 * 11 + 153_600 + 10_000 + 200:,} B" in page
    assert "1 window, 153,611 B, 1,228,888 clocks; 153,600 B of RAM" in page
    deck = re.search(r"“Deck” 5,000 [\d.]+ [\d.]+ 1 10,011 ", page)
    assert deck, page


def test_moving_an_element_by_a_pixel_changes_nothing_but_where(build, signed_in):
    before = said(signed_in.get(reverse("refresh", args=[build.pk])))
    row = ScreenDocument.objects.of(build).get()
    row.build = build
    moved = row.record.element("e1")
    elements = (replace(moved, x=Anchor(plus=11)), row.record.element("e2"))
    documents.save(row, base=row.head_id, record=Screen(elements))
    assert said(signed_in.get(reverse("refresh", args=[build.pk]))) == before
    taller = replace(moved, height=Size("pixels", 51))
    row = ScreenDocument.objects.of(build).get()
    row.build = build
    documents.save(row, base=row.head_id, record=Screen((taller, row.record.element("e2"))))
    assert "“Deck” 5,100" in said(signed_in.get(reverse("refresh", args=[build.pk])))


def test_a_buffer_and_a_clock_are_taken(build, signed_in):
    page = said(signed_in.get(reverse("buffers", args=[build.pk])))
    assert "Worked out for Racks" in page
    answer = signed_in.post(reverse("take-plan", args=[build.pk]), {"buffer_bands": "4", "back": "buffers"})
    assert answer.url == reverse("buffers", args=[build.pk])
    assert Build.objects.get(pk=build.pk).buffer_bands == 4
    signed_in.post(reverse("take-plan", args=[build.pk]), {"clock_hz": "10000000", "back": "links"})
    assert Build.objects.get(pk=build.pk).clock_hz == 10_000_000
    assert "at hand" in said(signed_in.get(reverse("links", args=[build.pk])))


def test_two_full_buffers_are_taken_and_given_back(build, signed_in):
    signed_in.post(reverse("take-plan", args=[build.pk]), {"buffer_bands": "-1", "back": "buffers"})
    row = Build.objects.get(pk=build.pk)
    assert row.buffer_bands == 1
    assert program_of(row) == Program(sends_itself=True, two_buffers=True)
    ram = next(budget for budget in overview_of(row).budgets if budget.slug == "ram")
    assert [part.value for part in ram.parts if "buffer" in part.name] == [153_600, 153_600]
    assert "Two full buffers 307,200 B 1 time" in said(signed_in.get(reverse("buffers", args=[build.pk])))
    signed_in.post(reverse("take-plan", args=[build.pk]), {"buffer_bands": "4", "back": "buffers"})
    row = Build.objects.get(pk=build.pk)
    assert row.buffer_bands == 4
    assert program_of(row) == Program(sends_itself=True)


@pytest.mark.parametrize(
    ("fields", "told"),
    [
        ({}, "nothing was chosen"),
        ({"buffer_bands": "33"}, "33 bands of this panel"),
        ({"buffer_bands": "many"}, "the number of bands"),
        ({"clock_hz": "0"}, "the clock, in hz,"),
    ],
)
def test_refused_in_words(build, signed_in, fields, told):
    answer = signed_in.post(reverse("take-plan", args=[build.pk]), fields)
    assert answer.status_code in (400, 422)
    assert told in said(answer).lower()
    assert Build.objects.get(pk=build.pk).buffer_bands == 1
