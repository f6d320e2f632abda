"""Images whose addresses hold the key of what they show: kept for ever under the right key, not there under another."""

import html
import re

import pytest
from django.urls import resolve, reverse

from workshop.answers import FOR_EVER

PAGES = (
    "pictures/", "pictures/strips/", "pictures/animations/", "lettering/", "lettering/faces/", "lettering/measuring/", "bring-up/", "bring-up/virtual/",
    "bring-up/cards/", "bring-up/faults/", "bring-up/drills/", "bring-up/colours/", "bring-up/touch/", "panel/",
)  # fmt: skip
INNER = re.compile(
    r'href="(/builds/\d+/(?:pictures/(?:strips/|animations/)?\d+/|pictures/\d+/variants/|lettering/\d+/(?:sheet/|glyphs/|packing/)?))"'
)
IMAGE = re.compile(r'["\'](/[^"\'\s]+\.png(?:\?[^"\'\s]*)?)["\']')


@pytest.fixture
def addresses(demo, client):
    """One address of each kind of keyed image that the demo's pages show."""
    client.force_login(demo)
    pages = ["/panels/", *(f"/builds/{b.pk}/{page}" for b in demo.builds.all() for page in PAGES)]
    seen, found = set(pages), {}
    while pages:
        answer = client.get(pages.pop(), follow=True)
        text = html.unescape(answer.content.decode()) if answer.status_code == 200 else ""
        for address in IMAGE.findall(text):
            match = resolve(address.partition("?")[0])
            if "key" in match.kwargs:
                found.setdefault(match.url_name, address)
        for inner in INNER.findall(text):
            if inner not in seen:
                seen.add(inner)
                pages.append(inner)
    return found


def test_every_kind_is_there_under_its_key_only(client, addresses):
    kinds = {
        "glass", "original-fitted", "shot", "lettering-glass", "glyph-png", "lettering-all", "measured-line", "lettering-cell", "specimen",
        "strip-sheet", "animation-frame", "bringup-film", "bringup-card-png", "bringup-right", "bringup-rendering", "bringup-snapshot",
        "bringup-drill-png",
    }  # fmt: skip
    assert kinds <= set(addresses), kinds - set(addresses)
    for name, address in addresses.items():
        path, _, query = address.partition("?")
        match = resolve(path)
        answer = client.get(address)
        assert (answer.status_code, answer["Cache-Control"]) == (200, FOR_EVER), name
        other = reverse(name, kwargs=match.kwargs | {"key": "0" * len(match.kwargs["key"])})
        wrong = client.get(f"{other}?{query}")
        assert wrong.status_code == 404 or wrong["Cache-Control"] == "no-store", name
