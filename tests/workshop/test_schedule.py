"""Schedule, windows and benchmark through their pages."""

import html
import json
import re
from dataclasses import replace

import pytest
from django.urls import reverse

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Rule, Trigger
from mosaic.behaviour.recording import Reached, Recording
from mosaic.lettering.plan import LetteringPlan
from mosaic.refresh.day.program import Program
from mosaic.refresh.measuring.fitting import fitted
from mosaic.refresh.measuring.record import benchmark_of
from mosaic.screens.screen import Anchor, Design, Element, Screen
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Source, Value
from workshop.builds.services import start_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.jobs.models import Job
from workshop.jobs.tasks import carry_out
from workshop.lettering.services import add_lettering
from workshop.refresh.benchmark_views import listing_of
from workshop.refresh.documents import BenchmarkDocument, ScheduleDocument, program_of
from workshop.screens.documents import BehaviourDocument, DesignDocument, RecordingDocument, ScreenDocument
from workshop.stations.overview import overview_of

TIDE = Value(
    "v1", "tide", high=999, source=Source(every_ms=100, blocks_ms=250), stand_in=StandIn("ramp", every_ms=100, period_s=100)
)
WIND = Value("v2", "wind", high=99, source=Source(every_ms=2000), stand_in=StandIn("walk", every_ms=2000))


@pytest.fixture
def build(maker):
    made = start_build(owner=maker, name="Slip", panel="tft-320x240-touch", board="wireless", link_kind="spi")
    add_lettering(build=made, name="Small", plan=LetteringPlan(face="narrow", size_by="pixels", size_px=14))
    documents.save_single(DesignDocument, build=made, base=0, record=Design(values=(TIDE, WIND)))
    texts = (
        Element("e1", "value", "Tide", Anchor(plus=10), Anchor(plus=10), of="v1"),
        Element("e2", "value", "Wind", Anchor(plus=10), Anchor(plus=90), of="v2"),
    )
    documents.add(ScreenDocument, build=made, name="Water", record=Screen(texts))
    return made


def said(answer) -> str:
    return html.unescape(re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", answer.content.decode())))


def page(client, build, **asked):
    return client.get(reverse("schedule", args=[build.pk]), asked)


def fields(**more):
    return {"length": "minute", "every_v1": "100", "every_v2": "2000", "least_ms": "0", "night_from": "22:00", "night_to": "6:00",
            "night_slower": "1", **more}  # fmt: skip


def test_readings_are_missed_and_a_rate_is_proposed(build, signed_in):
    words = said(page(signed_in, build, length="minute"))
    # Read every 100 ms, which takes 250: of 600 that are due in a minute one in three is taken, and the wind's thirty besides.
    assert re.search(r"tide 100 ms 2\d\d 3\d\d 250\.\d ms", words), words
    assert "Readings missed" in words
    assert re.search(r"tide: every 500 ms instead of 100 ms", words)


def test_findings_are_fixed_into_the_schedule(build, signed_in):
    found = {finding["id"]: finding for finding in overview_of(build).findings_of("schedule-0")}
    assert {"refresh.step-misses-interval", "refresh.reading-blocks-drawing"} <= set(found)
    for ident in ("refresh.step-misses-interval", "refresh.reading-blocks-drawing"):
        row = shelf.single(build, ScheduleDocument)
        answer = signed_in.post(
            reverse("fix-schedule", args=[build.pk]),
            {"base": row.head_id if row else 0, "changes": json.dumps(found[ident]["fix"]["changes"])},
        )
        assert answer.status_code == 302
        build.refresh_from_db()
        shelf.forget(build)
    kept = program_of(build)
    assert kept.every == (("v1", 500),)
    assert kept.splits
    left = {finding["id"] for finding in overview_of(build).findings_of("schedule-0")}
    assert not {"refresh.step-misses-interval", "refresh.reading-blocks-drawing"} & left


def test_two_schedules_stand_side_by_side_and_one_is_kept(build, signed_in):
    words = said(page(signed_in, build, **fields(every_v1="1000", **{"try": "1"})))
    assert "as kept as filled in" in words
    assert program_of(build) is None
    answer = signed_in.post(reverse("keep-schedule", args=[build.pk]), {**fields(every_v1="1000", splits="1"), "base": "0"})
    assert answer.status_code == 302
    build.refresh_from_db()
    shelf.forget(build)
    assert program_of(build) == Program(every=(("v1", 1000),), splits=True)
    stale = signed_in.post(reverse("keep-schedule", args=[build.pk]), {**fields(), "base": "0"})
    assert stale.status_code == 409


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"every_v1": "0"}, "the interval of tide, in ms"),
        ({"every_v1": "often"}, "the interval of tide, in ms"),
        ({"least_ms": "-5"}, "the least time between drawings"),
        ({"night_from": "soon"}, "a time such as 22:00 is accepted"),
        ({"night_slower": "0"}, "how many times as rarely"),
    ],
)
def test_what_cannot_be_is_said_and_stays(build, signed_in, changes, words):
    answer = page(signed_in, build, **fields(**changes, **{"try": "1"}))
    assert answer.status_code == 422
    assert words in said(answer).lower()
    (value,) = changes.values()
    assert f'value="{value}"' in answer.content.decode()
    assert signed_in.post(reverse("keep-schedule", args=[build.pk]), {**fields(**changes), "base": "0"}).status_code in (400, 422)
    assert program_of(build) is None


def test_a_long_day_is_a_workers_and_is_shown_when_it_is_done(build, signed_in):
    documents.save_single(ScheduleDocument, build=build, base=0, record=Program(every=(("v1", 60_000),)))
    words = said(page(signed_in, build, length="day"))
    assert "a worker runs through them" in words
    job = Job.objects.get(build=build, kind="day")
    carry_out.func(job.pk) if job.state == Job.State.WAITING else None
    job.refresh_from_db()
    assert job.state == Job.State.DONE, job.message
    words = said(page(signed_in, build, length="day"))
    assert "a worker runs through them" not in words
    assert "43,200" in words  # the wind is read every two seconds of a day


def test_a_kept_run_is_the_day(build, signed_in):
    press = Behaviour(
        areas=(Area("a1", "all", width=320, height=240),), rules=(Rule("r1", Trigger("press", "a1"), (Action("refresh"),)),)
    )
    documents.save_single(BehaviourDocument, build=build, base=0, record=press)
    touches = tuple(Reached(5000 + 20 * n, "touch", "", 40, 40) for n in range(6))
    run = documents.add(RecordingDocument, build=build, name="A touch", record=Recording(touches))
    words = said(page(signed_in, build, length=run.ref))
    assert "The run of Slip" in words
    # A finger that lies on the glass for a tenth of a second is gone before a program looks that stands still for a quarter.
    assert "nothing was answered" in words
    assert "1 touch and levels" in words
    documents.save_single(ScheduleDocument, build=build, base=0, record=Program(splits=True))
    words = said(page(signed_in, build, length=run.ref))
    assert re.search(r"From touch to glass up to [\d.]+ ms, 1 time", words), words[-3000:]


def test_the_strip_shows_the_worst_step(build):
    frame = next(budget for budget in overview_of(build).budgets if budget.slug == "frame")
    names = [part.name for part in frame.parts]
    assert names[1] == "sending it"
    assert names[0].startswith("drawing ")


def test_windows_of_a_change(build, signed_in):
    empty = said(signed_in.get(reverse("windows", args=[build.pk])))
    assert "Windows from the typical state" in empty
    assert "lowest" in empty
    assert signed_in.get(reverse("windows", args=[build.pk]), {"s": "screen-0", "to": "nothing"}).status_code == 200


def answers(found, run=2.0):
    lines = [f"drawing-times 1 {found.key} {len(found.rows)}"]
    mega = found.device.board.cpu_mhz
    for row in found.rows:
        us = row.us if row.is_sent else (row.work.runs * 45 * run + row.work.pixels * 16) / mega
        lines.append(f"{row.name} {row.times} {max(1, round(us * row.times))}")
    return "\n".join([*lines, f"end {len(found.rows)}"])


def test_a_benchmark_is_pasted_counts_and_is_left_aside(build, signed_in):
    address = reverse("benchmark", args=[build.pk])
    assert "Nothing has been measured yet" in said(signed_in.get(address))
    for name in ("measure.h", "measure.c", "measure.py"):
        assert signed_in.get(reverse("benchmark-source", args=[build.pk, name])).status_code == 200
    assert signed_in.get(reverse("benchmark-source", args=[build.pk, "other.c"])).status_code == 404
    text = answers(listing_of(build, build.to_device()))
    refused = signed_in.post(reverse("paste-benchmark", args=[build.pk]), {"base": "0", "lines": text[: len(text) // 2]})
    assert refused.status_code == 422
    assert "cut off" in said(refused)
    assert text.splitlines()[3] in html.unescape(refused.content.decode())
    assert signed_in.post(reverse("paste-benchmark", args=[build.pk]), {"base": "0", "lines": text}).status_code == 302
    words = said(signed_in.get(address))
    assert "A run of drawing 2.00 times the typical cycles" in words
    assert "drawing is measured" in words
    speed = said(signed_in.get(reverse("refresh", args=[build.pk])))
    assert "drawing, measured" in speed
    build.refresh_from_db()
    shelf.forget(build)
    frame = next(budget for budget in overview_of(build).budgets if budget.slug == "frame")
    assert frame.parts[0].basis == "measured"
    row = shelf.single(build, BenchmarkDocument)
    signed_in.post(reverse("use-benchmark", args=[build.pk]), {"base": row.head_id, "take": "0"})
    assert "It is left aside" in said(signed_in.get(address))
    assert "drawing, typical" in said(signed_in.get(reverse("refresh", args=[build.pk])))


def test_a_benchmark_of_another_board_does_not_count(build):
    record = fitted_record(build)
    device = build.to_device()
    assert record.pace_for(device).is_measured
    other = replace(device, clock_hz=device.clock_hz // 2)
    assert (record.pace_for(other).wire, record.pace_for(other).run) == (1.0, pytest.approx(2.0, rel=0.01))
    assert not record.pace_for(replace(device, board=replace(device.board, slug="mine"))).is_measured


def fitted_record(build):
    device = build.to_device()
    found = listing_of(build, device)
    return benchmark_of(fitted(answers(found), found), device)
