"""E-paper, wear and current traces through their pages: kept, taken, read by a worker, and refused in words."""

import html
import re
from io import BytesIO

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from mosaic.behaviour.behaviour import Behaviour, Button
from mosaic.refresh.paper.cleaning import Cleaning
from mosaic.refresh.wear.remedies import WearPlan
from mosaic.screens.screen import Anchor, Design, Element, Screen, Size
from tests.workshop.test_energy import TIDE
from tests.workshop.test_energy import build as slip
from workshop.builds.services import start_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.jobs.models import Job
from workshop.jobs.services import latest
from workshop.refresh.documents import EnergyDocument, GhostDocument, ScheduleDocument, WearDocument
from workshop.refresh.models import TraceBlock, TraceFile
from workshop.refresh.trace_services import TRACE
from workshop.screens.documents import BehaviourDocument, DesignDocument, ScreenDocument, behaviour_of
from workshop.stations.overview import overview_of


@pytest.fixture
def build(maker):
    return slip.__wrapped__(maker)


def said(answer) -> str:
    return html.unescape(re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", answer.content.decode())))


def single(build, kind):
    build.refresh_from_db()
    shelf.forget(build)
    return shelf.single(build, kind)


def head(build, kind) -> str:
    row = single(build, kind)
    return str(row.head_id if row else 0)


def colors(client, address) -> np.ndarray:
    return np.asarray(Image.open(BytesIO(client.get(address).content)).convert("RGB")).astype(int)


# E-paper


def cleaned(client, build, **more):
    told = {"base": head(build, ScheduleDocument), "refresh": "1", "mode": "0", "previous": "board", "between": "asleep", **more}
    return client.post(reverse("keep-cleaning", args=[build.pk]), told)


def test_rules_are_kept_and_change_ghost_and_strip(build, signed_in):
    page = reverse("paper", args=[build.pk])
    assert "refreshed by full" in said(signed_in.get(page))
    clean = colors(signed_in, reverse("paper-glass", args=[build.pk]) + "?at=200&times=8")
    assert cleaned(signed_in, build).status_code == 302
    words = said(signed_in.get(page))
    assert "No full update in 24 hours" in words
    assert "287 partial updates in a row" in words
    ghost = colors(signed_in, reverse("paper-glass", args=[build.pk]) + "?at=200&times=8")
    meant = colors(signed_in, reverse("paper-glass", args=[build.pk]) + "?at=200&times=0")
    assert np.abs(ghost - meant).max() > 40 > np.abs(clean - meant).max()
    cleaned(signed_in, build, after="10", at="3:00, 15:30", from_percent="60")
    assert single(build, ScheduleDocument).record.cleaning == Cleaning(
        after=10, at_min=(180, 930), from_share=0.6, previous="board"
    )
    assert "partial updates in a row;" not in said(signed_in.get(page))
    frame = next(one for one in overview_of(build).budgets if one.slug == "frame")
    assert any(part.name.startswith("refresh") for part in frame.parts)


def test_a_finding_on_the_page_is_mended(build, signed_in):
    cleaned(signed_in, build)
    finding = next(one for one in overview_of(build).findings_of("energy-0") if one["id"] == "paper.never-cleaned")
    import json

    told = {"base": head(build, ScheduleDocument), "changes": json.dumps(finding["fix"]["changes"]), "back": "paper"}
    answer = signed_in.post(reverse("fix-schedule", args=[build.pk]), told)
    assert answer.url == reverse("paper", args=[build.pk])
    assert single(build, ScheduleDocument).record.cleaning.at_min == (180,)
    assert single(build, ScheduleDocument).record.cleaning.previous == "board"


def test_schools_are_compared_and_one_is_taken(build, signed_in):
    cleaned(signed_in, build)
    table = said(signed_in.get(reverse("paper-schools", args=[build.pk])))
    assert "In full after every 10 partial updates" in table
    assert "A clean before each update, which is in full too 19.2 min" in table  # 288 times twice 2 s
    assert "Each update in full 9.6 min" in table
    told = {"base": head(build, ScheduleDocument), "school": "after"}
    signed_in.post(reverse("take-school", args=[build.pk]), told)
    kept = single(build, ScheduleDocument).record
    assert (kept.refresh, kept.cleaning.after, kept.cleaning.previous) == (1, 10, "board")
    assert "taken" in said(signed_in.get(reverse("paper-schools", args=[build.pk])))
    assert signed_in.post(reverse("take-school", args=[build.pk]), {**told, "school": "magic"}).status_code in (400, 422)


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"at": "soon"}, "'soon' is no time"),
        ({"after": "many"}, "many"),
        ({"from_percent": "150"}, "1.5"),
        ({"between": "off"}, "off"),
    ],
)
def test_wrong_rules_are_said_and_stay(build, signed_in, changes, words):
    answer = cleaned(signed_in, build, **changes)
    assert answer.status_code == 422
    assert words in said(answer)
    (name, value), *_ = changes.items()
    assert name == "between" or f'value="{value}"' in answer.content.decode()
    assert single(build, ScheduleDocument) is None


def test_the_models_constants_and_a_photo(build, signed_in):
    told = {"partial_change": "10", "partial_keep": "80", "full_change": "1", "full_keep": "5", "per_degree": "0"}
    signed_in.post(reverse("keep-ghost", args=[build.pk]), {"base": "0", **told})
    model = single(build, GhostDocument).record
    assert (model.partial_change, model.partial_keep, model.full_keep) == (0.1, 0.8, 0.05)
    wrong = signed_in.post(
        reverse("keep-ghost", args=[build.pk]), {"base": head(build, GhostDocument), **told, "partial_keep": "100"}
    )
    assert wrong.status_code == 422
    assert 'name="partial_keep" value="100"' in wrong.content.decode()
    out = BytesIO()
    Image.new("RGB", (1000, 500), (90, 80, 70)).save(out, "JPEG")
    bring = reverse("keep-paper-photo", args=[build.pk])
    photo = SimpleUploadedFile("own.jpg", out.getvalue(), "image/jpeg")
    signed_in.post(bring, {"base": head(build, GhostDocument), "photo": photo})
    page = signed_in.get(reverse("paper", args=[build.pk])).content.decode()
    address = re.search(r'src="([^"]*photo-[^"]*)"', page)[1]
    assert colors(signed_in, address).shape == (250, 500, 3)
    assert single(build, GhostDocument).record == model
    assert signed_in.post(bring, {"base": "0", "photo": SimpleUploadedFile("x.png", b"no")}).status_code == 422
    assert signed_in.post(bring, {"base": "0"}).status_code == 422


def test_moments(build, signed_in):
    cleaned(signed_in, build)
    words = said(signed_in.get(reverse("paper-moment", args=[build.pk]) + "?at=12&times=8"))
    assert "After update 13 of 288, at 1:00 , refreshed by partial" in words
    assert signed_in.get(reverse("paper-moment", args=[build.pk]) + "?at=x&times=x").status_code == 200
    assert signed_in.get(reverse("paper-glass", args=[build.pk]) + "?at=9999").status_code == 404
    assert signed_in.get(reverse("wear", args=[build.pk])).status_code == 404


# Wear


@pytest.fixture
def clock(maker):
    made = start_build(owner=maker, name="Lamp", panel="mono-oled-128x64", board="small", link_kind="i2c")
    documents.save_single(DesignDocument, build=made, base=0, record=Design(values=(TIDE,)))
    bar = Element("e1", "rectangle", "Bar", Anchor(plus=0), Anchor(plus=0), width=Size("pixels", 128), height=Size("pixels", 10))
    documents.add(ScreenDocument, build=made, name="Water", record=Screen((bar,)))
    return made


def test_where_a_bar_burns_in_and_what_helps(clock, signed_in):
    page = reverse("wear", args=[clock.pk])
    words = said(signed_in.get(page))
    assert re.search(r"First at .*Bar.* on Water, by pixel \d+, 9 ", words)
    lit = colors(signed_in, reverse("wear-picture", args=[clock.pk, "lit"]))
    assert lit[9].sum() > lit[10].sum() == lit[40].sum()
    worn = colors(signed_in, reverse("wear-picture", args=[clock.pk, "worn-10"]))
    assert worn[5, 5].max() < worn[40, 5].min() == 255
    signed_in.post(reverse("take-remedy", args=[clock.pk]), {"base": "0", "remedy": "half"})
    assert single(clock, WearDocument).record == WearPlan(light=0.5)
    assert "if nothing were done, after" in said(signed_in.get(page))
    told = {
        "base": head(clock, WearDocument),
        "shift_px": "3",
        "shift_min": "10",
        "light": "100",
        "night_light": "20",
        "beta": "1",
    }
    signed_in.post(reverse("keep-wear", args=[clock.pk]), told)
    kept = single(clock, WearDocument).record
    assert (kept.shift_px, kept.night_light, kept.model.beta) == (3, 0.2, 1.0)
    code = signed_in.get(reverse("wear-code", args=[clock.pk, "wear.h"])).content.decode()
    assert "places[12][2]" in code
    assert "? 20 : 100;" in code
    wrong = signed_in.post(reverse("keep-wear", args=[clock.pk]), {**told, "shift_px": "90"})
    assert (wrong.status_code, 'name="shift_px" value="90"' in wrong.content.decode()) == (422, True)


def test_dimming_is_put_into_the_behaviour_where_something_can_wake_it(clock, signed_in):
    dim = reverse("wear-rules", args=[clock.pk])
    assert signed_in.post(dim, {"after": "10", "percent": "10"}).status_code in (400, 422)
    documents.save_single(BehaviourDocument, build=clock, base=0, record=Behaviour(buttons=(Button("b1", "Wake"),)))
    shelf.forget(clock)
    for percent in ("10", "20"):  # the second time the rules of the first are replaced
        signed_in.post(dim, {"after": "10", "percent": percent})
    clock.refresh_from_db()
    shelf.forget(clock)
    rules = behaviour_of(clock).rules
    assert [(rule.trigger.when, rule.trigger.ms, rule.actions[0].by) for rule in rules] == [
        ("quiet", 600_000, 20), ("button pressed", 0, 100)
    ]  # fmt: skip
    before = said(signed_in.get(reverse("wear", args=[clock.pk])))
    assert "A difference is seen after" in before


# Traces


def trace(idle=0.9, rows=40_000) -> bytes:
    time = np.arange(rows) * 0.05
    current = np.where(time % 300 < 4, 30.0, 0.0) + idle + np.random.default_rng(2).normal(0, 0.01, rows)
    return (
        "t (s);I (mA)\n" + "".join(f"{t:.2f};{i:.4f}\n".replace(".", ",") for t, i in zip(time, current, strict=True))
    ).encode()


def bring(client, build, data, **more):
    told = {"trace": SimpleUploadedFile("meter.csv", data, "text/csv"), **more}
    return client.post(reverse("bring-trace", args=[build.pk]), told)


@pytest.mark.django_db(transaction=True)
def test_a_trace_is_read_and_taken(build, signed_in):
    assert bring(signed_in, build, trace()).status_code == 302
    assert latest(build=build, kind=TRACE).state == Job.State.DONE
    assert not TraceFile.objects.exists()
    assert not TraceBlock.objects.exists()
    words = said(signed_in.get(reverse("trace", args=[build.pk])))
    assert "It rests at 900 µA" in words
    assert "7, taken for drawings" in words
    signed_in.post(reverse("take-trace", args=[build.pk]), {"base": "0"})
    measured = single(build, EnergyDocument).record.measured
    assert measured.event_mc == pytest.approx(120, rel=0.02)
    assert (measured.idle_ma, measured.source) == (pytest.approx(0.9, rel=0.01), "meter.csv")
    energy = said(signed_in.get(reverse("energy", args=[build.pk])))
    assert "Measured: meter.csv" in energy
    assert next(one for one in overview_of(build).budgets if one.slug == "energy").basis == "measured"
    signed_in.post(reverse("take-trace", args=[build.pk]), {"base": head(build, EnergyDocument), "leave": "1"})
    assert single(build, EnergyDocument).record.measured is None


@pytest.mark.parametrize(
    ("data", "more", "words"),
    [
        (b"", {}, "no line of this file"),
        (b"\x00\x01binary", {}, "not text"),
        (b"hello\nworld\n", {}, "no line of this file"),
        (b"1.5\n1.6\n1.7\n", {}, "how long it is from row to row"),
        (b"1\n2\n", {"step_ms": "soon"}, "'soon' from row to row"),
    ],
)
def test_what_is_no_trace_is_said(build, signed_in, data, more, words):
    answer = bring(signed_in, build, data, **more)
    assert answer.status_code == 422
    assert words in said(answer).replace("No line", "no line")
    assert not Job.objects.filter(kind=TRACE).exists()
    assert not more or f'value="{more["step_ms"]}"' in answer.content.decode()
