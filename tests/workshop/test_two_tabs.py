"""Every kind of write from two tabs that were loaded at one moment: the second is told, and the first's stays as it was kept."""

import re

import pytest
from django.forms.models import model_to_dict
from django.test import Client
from django.urls import reverse

from mosaic.animation.making import AnimationPlan
from mosaic.lettering.plan import LetteringPlan
from mosaic.segments.figure import FigurePlan
from mosaic.strips.cutting import StripPlan
from tests.conftest import gradient, png_of
from tests.mosaic.animation.test_animation import animated
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.documents import services as documents
from workshop.documents.models import Document, Revision
from workshop.documents.originals import keep_picture
from workshop.lettering.services import add_lettering
from workshop.pictures.documents import Animation, Figure, Strip

TOUCH = "tft-320x240-touch"
OF_BUILD = {
    "opening": (
        "mounting",
        {"x_mm": "1", "y_mm": "1", "width_mm": "20", "height_mm": "20", "corner_mm": "0"},
        {"width_mm": "19"},
    ),
    "how the panel lies": ("lay-build", {"rotation": "90"}, {"rotation": "180"}),
    "form of arrays": ("set-array-form", {"array_form": "words-low"}, {"array_form": "bytes-888"}),
    "first column": (("bringup-offset", "columns"), {"number": "0", "before": "0"}, {"number": "0", "before": "0"}),
    "fix of the build": ("fix-build", {"changes": '{"buffer_bands": 3}'}, {"changes": '{"buffer_bands": 4}'}),
}
OF_DOCUMENTS = {
    "pin plan": ("wiring", "wiring", {"wire-LED": ""}, {"wire-LED": "3V3"}),
    "readings": ("check-sheet", "readings", {"supply": "3.28"}, {"supply": "3.31"}),
    "stage": (("bringup-keep", "power"), "stages", {"done": "1"}, {"done": "1", "reading": "3.2"}),
    "texts": ("keep-texts", "texts", {"texts": "Ebb"}, {"texts": "Flood"}),
    "touch readings": (
        "bringup-touch",
        "touch",
        {"readings": "100 100\n900 110\n890 900\n110 890\n500 500"},
        {"readings": "101 101\n900 110\n890 900\n110 890\n500 500"},
    ),
}


@pytest.fixture
def tabs(maker):
    """Two tabs of one person."""
    clients = Client(), Client()
    for client in clients:
        client.force_login(maker)
    return clients


def state(build) -> tuple:
    """Everything that is kept of a build."""
    documents = Document.everything.filter(build=build).order_by("pk").values_list("pk", "name", "head_id", "group", "deleted")
    return model_to_dict(Build.objects.get(pk=build.pk)), list(documents), Revision.objects.filter(document__build=build).count()


def address(name, build) -> str:
    name, *more = (name,) if isinstance(name, str) else name
    return reverse(name, args=[build.pk, *more])


def in_turn(tabs, build, at: str, first: dict, second: dict) -> None:
    before = state(build)
    one = tabs[0].post(at, first)
    kept = state(build)
    assert one.status_code in (200, 302), re.findall(r"(?s)id=.notice.*?</div>", one.content.decode())
    assert kept != before
    two = tabs[1].post(at, {**first, **second})
    assert two.status_code == 409, two.status_code
    assert "another tab" in two.content.decode()
    assert state(build) == kept


@pytest.mark.parametrize("what", OF_BUILD)
def test_of_the_build_itself(tabs, maker, what):
    build = start_build(owner=maker, name="Round", panel="tft-240x240-round", board="low-power", link_kind="spi")
    name, first, second = OF_BUILD[what]
    in_turn(tabs, build, address(name, build), {"revision": build.revision, **first}, second)


@pytest.mark.parametrize("what", OF_DOCUMENTS)
def test_of_its_single_documents(tabs, maker, what):
    build = start_build(owner=maker, name="Touch", panel=TOUCH, board="low-power", link_kind="spi")
    name, kind, first, second = OF_DOCUMENTS[what]
    at = address(name, build)
    row = Document.objects.filter(build=build, kind=kind).first()
    in_turn(tabs, build, at, {"base": row.head_id if row else 0, **first}, second)


def test_a_plan_made_meanwhile_is_not_thrown_away_for_the_proposed_one(tabs, maker):
    build = start_build(owner=maker, name="Touch", panel=TOUCH, board="low-power", link_kind="spi")
    tabs[0].post(address("wiring", build), {"base": 0, "wire-LED": ""})
    row = Document.objects.get(build=build, kind="wiring")
    base = row.head_id
    tabs[0].post(address("wiring", build), {"base": base, "wire-LED": "3V3"})
    assert tabs[1].post(address("propose-wiring", build), {"base": base}).status_code == 409
    row.refresh_from_db()
    assert (row.deleted, row.head_id > base) == (None, True)


@pytest.mark.django_db(transaction=True)
def test_proposing_anew_outside_of_any_other_transaction(tabs, maker):
    build = start_build(owner=maker, name="Touch", panel=TOUCH, board="low-power", link_kind="spi")
    tabs[0].post(address("wiring", build), {"base": 0, "wire-LED": ""})
    row = Document.objects.get(build=build, kind="wiring")
    assert tabs[0].post(address("propose-wiring", build), {"base": row.head_id}).status_code == 302
    assert not Document.objects.filter(build=build, kind="wiring").exists()


@pytest.mark.parametrize(
    ("name", "first", "second"),
    [
        ("save-recipe", {"exposure": "0.3"}, {"exposure": "0.5"}),
        ("fix-picture", {"changes": '{"exposure": 0.2}'}, {"changes": '{"exposure": 0.4}'}),
        ("touch-picture", {"stroke": "[[1,1]]", "color": "0"}, {"stroke": "[[2,2]]"}),
        ("region", {"shape": "rect", "corners": "[[0,0],[9,9]]"}, {"corners": "[[0,0],[8,8]]"}),
    ],
)
def test_of_a_picture(tabs, picture, name, first, second):
    at = reverse(name, args=[picture.build_id, picture.pk])
    in_turn(tabs, picture.build, at, {"base": picture.head_id, **first}, second)


@pytest.mark.parametrize(
    ("name", "more", "first", "second"),
    [
        ("change-lettering", (), {"size_px": "20"}, {"size_px": "24"}),
        ("fix-lettering", (), {"changes": '{"spacing": 2}'}, {"changes": '{"spacing": 3}'}),
        ("touch-glyph", (65,), {"act": "stroke", "level": "15", "stroke": "[[0,-2]]"}, {"stroke": "[[1,-2]]"}),
    ],
)
def test_of_a_lettering(tabs, build, name, more, first, second):
    row = add_lettering(build=build, name="Figures", plan=LetteringPlan(size_by="pixels", size_px=16))
    in_turn(tabs, build, reverse(name, args=[build.pk, row.pk, *more]), {"base": row.head_id, **first}, second)


@pytest.mark.parametrize(
    ("kind", "record", "name", "field", "values"),
    [
        (Figure, FigurePlan(width=24, height=40, lit=1), "change-figure", "width", ("30", "31")),
        (Animation, AnimationPlan(), "make-animation", "exposure", ("0.3", "0.5")),
        (Strip, StripPlan(), "change-strip", "columns", ("2", "3")),
    ],
)
def test_of_figures_animations_and_strips(tabs, build, kind, record, name, field, values):
    files = {
        Figure: (), Animation: (("boat.gif", animated("GIF", (0, 8), (90,) * 2)),), Strip: (("marks.png", png_of(gradient(24, 12))),),
    }[kind]  # fmt: skip
    sources = [(keep_picture(data=data, file_name=name, owner=build.owner), name) for name, data in files]
    row = documents.add(kind, build=build, name="Boats", record=record, sources=sources)
    page = tabs[0].get(row.url).context
    asked = {key: page["form"][key].value() for key in page["form"].fields}
    form = {key: value for key, value in asked.items() if value is not None and value is not False}
    first, second = ({field: value} for value in values)
    in_turn(tabs, build, reverse(name, args=[build.pk, row.pk]), {"base": row.head_id, "name": row.name, **form, **first}, second)


@pytest.mark.parametrize("name", ["rename-document", "undo", "redo"])
def test_of_any_document(tabs, picture, name):
    tabs[0].post(
        reverse("fix-picture", args=[picture.build_id, picture.pk]), {"base": picture.head_id, "changes": '{"exposure": 0.2}'}
    )
    picture.refresh_from_db()
    base = picture.head_id
    if name == "redo":
        tabs[0].post(reverse("step-document", args=[picture.build_id, picture.pk, "undo"]), {"base": base})
        picture.refresh_from_db()
        base = picture.head_id
    args = [picture.build_id, picture.pk]
    at = reverse(name, args=args) if name == "rename-document" else reverse("step-document", args=[*args, name])
    in_turn(tabs, picture.build, at, {"base": base, "name": "Weir"}, {"name": "Slipway"})
