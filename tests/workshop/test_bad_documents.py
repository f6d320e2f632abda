"""A document that cannot be read or made shows that in its place, and nothing else of its build or the workshop is harmed."""

import pytest
from django.urls import reverse

from workshop.builds.models import Build
from workshop.builds.services import set_wiring
from workshop.documents.kinds import as_its_kind
from workshop.documents.models import Document
from workshop.documents.services import note_change
from workshop.stations.overview import overview_of


@pytest.fixture
def person(demo, client):
    client.force_login(demo)
    build = demo.builds.order_by("pk").first()
    set_wiring(build=build, plan=build.to_device().wiring, base=0)
    return demo


KINDS = {
    "picture", "lettering", "strip", "figure", "animation", "wiring", "readings", "stages", "texts", "setup-card", "touch",
    "patches",
}  # fmt: skip
PAGES = ("/", *("{home}/" + page for page in ("", "sheet/", "wiring/", "pictures/", "lettering/", "bring-up/", "panel/")))


BROKEN_WAYS = ["cannot be read", "of a later form", "cannot be made"]


@pytest.mark.parametrize("broken", BROKEN_WAYS)
def test_its_build_and_the_workshop_are_not_harmed(client, person, broken):
    """Of the pages of its build each is looked at beside one of the ways to be broken; each kind is broken in one way at least."""
    some = sorted(KINDS)[BROKEN_WAYS.index(broken) :: len(BROKEN_WAYS)] if broken != "cannot be read" else KINDS
    seen, pages = set(), PAGES[BROKEN_WAYS.index(broken) :: len(BROKEN_WAYS)]
    for document in Document.objects.filter(build__owner=person).select_related("head").order_by("pk"):
        if document.kind in seen or document.kind not in some:
            continue
        seen.add(document.kind)
        before = document.head.description
        told = {"cannot be read": {"nonsense": 1, "form": 1}, "of a later form": {"form": 99}}
        keep(document, told.get(broken) or {**before, **BROKEN.get(document.kind, {})})
        look(client, document, pages)
        keep(document, before)
        Document.everything.filter(pk=document.pk).update(deleted=None)
    assert {"picture", "lettering", "strip", "figure", "animation", "wiring", "texts"} & set(some) <= seen


def keep(document, description) -> None:
    document.head.description = description
    document.head.save()
    Document.everything.filter(pk=document.pk).update(derived_key="")
    note_change(document.build)


def look(client, document, pages) -> None:
    """Every page but its own is as always; its own says what is wrong, and deleting it mends all."""
    own = as_its_kind(document)
    own.build = document.build
    for page in pages:
        answer = client.get(page.format(home=f"/builds/{document.build_id}"), follow=True)
        its_own = document.name in answer.content.decode() and ">Delete<" in answer.content.decode()
        assert answer.status_code in (200, 404) or (answer.status_code == 422 and its_own), (page, document.kind)
    words = client.get(own.url, follow=True)
    assert words.status_code == (200 if own.SINGLE or not own.problem else 422)
    found = {placed.finding["id"] for placed in overview_of(Build.objects.get(pk=document.build_id)).findings}
    assert ("document.cannot-be-read" in found) == bool(own.problem)
    deleted = client.post(reverse("delete-document", args=[document.build_id, document.pk]), {"sure": "1"})
    assert deleted.status_code == 302
    assert client.get("/").status_code == 200


def test_saving_a_single_document_replaces_one_that_cannot_be_read(client, person):
    row = Document.objects.filter(kind="texts", build__owner=person).select_related("head").first()
    row.head.description = {"form": 99}
    row.head.save()
    page = reverse("measuring", args=[row.build_id])
    base = client.get(page).context["base"]
    assert base == row.head_id
    assert client.post(reverse("keep-texts", args=[row.build_id]), {"texts": "Ebb", "base": base}).status_code == 302
    row = Document.objects.get(pk=row.pk)
    assert row.description["lines"] == "Ebb"


BROKEN = {
    "picture": {"left_out": ["black", "white"]},
    "lettering": {"size_by": "pixels", "size_px": 100_000},
    "strip": {"columns": 60_000},
    "figure": {"height_px": 60_000},
    "wiring": {"wires": [{"signal": "nothing", "to": "nowhere"}]},
}
