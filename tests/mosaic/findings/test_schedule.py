"""Findings on a schedule, at their boundaries."""

from dataclasses import replace

import pytest

from mosaic.findings.schedule import day_findings
from mosaic.refresh.day.judging import proposals, tearing, usual_ms
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import DayFigures, SourceFigures, StepFigures
from mosaic.refresh.windows.comparing import wasted_share
from tests.mosaic.screens.made_up import device

TFT, SYNCED, SCANNED, PAPER = "tft-320x240-touch", "amoled-466x466-round", "rgb-tft-800x480", "epaper-296x128-black-white"


def day(*sources, steps=1, length_s=10, **more):
    figures = DayFigures(
        length_s * 1000, (), sources, (), (), steps, 0, 0, 0, 0, 0.0, "", (), 0, 0, None, StepFigures("all", 1.0, 10.0, 0.0, 9, 1)
    )
    return replace(figures, **more)


def source(missed=0, blocks=0, every=100, late=0.0, reads=10):
    return SourceFigures("v1", "tide", every, blocks, reads, missed, 0.0, late, 0, 0)


def ids(found):
    return [finding.id.partition(".")[2] for finding in found]


@pytest.mark.parametrize(
    ("one", "program", "instead"),
    [
        (source(), Program(), []),
        (source(missed=1, late=100.0), Program(), [200]),
        (source(missed=1, late=100.1), Program(), [250]),
        (source(missed=1, blocks=600, late=0.0), Program(), [1000]),
        (source(missed=1, blocks=600, late=0.0), Program(splits=True), [100]),
    ],
)
def test_rates_that_are_kept(one, program, instead):
    assert [proposal.instead_ms for proposal in proposals(day(one), program)] == instead


@pytest.mark.parametrize(("blocks", "found"), [(50, []), (51, ["reading-blocks-drawing"])])
def test_a_reading_that_stands_in_the_way(blocks, found):
    dev = device("mono-oled-128x64")
    assert ids(day_findings(dev, day(source(blocks=blocks)), Program())) == found
    assert ids(day_findings(dev, day(source(blocks=blocks)), Program(splits=True))) == []


@pytest.mark.parametrize(("away", "found"), [(89.0, []), (89.1, ["touch-lags"])])
def test_a_touch_that_is_answered_late(away, found):
    """The worst step takes 11 ms: with 89 ms of not looking that are 100."""
    assert ids(day_findings(device(TFT), day(source(), away_ms=away), Program())) == found
    assert ids(day_findings(device("mono-oled-128x64"), day(source(), away_ms=away), Program())) == []


@pytest.mark.parametrize(("lag", "found"), [(100.0, []), (100.5, ["touch-lags"])])
def test_lags_that_were_measured_count_first(lag, found):
    assert ids(day_findings(device(TFT), day(source(), away_ms=500.0, lags_ms=(20.0, lag)), Program())) == found


@pytest.mark.parametrize(("wasted", "found"), [(0.75, []), (0.751, ["unchanged-pixels-sent"])])
def test_pixels_that_are_sent_for_nothing(wasted, found):
    assert ids(day_findings(device("mono-oled-128x64"), day(source()), Program(), wasted)) == found


@pytest.mark.parametrize(
    ("slug", "steps", "link_ms", "state"),
    [
        (TFT, 49, 100.0, "safe"),  # 4.9 drawings a second
        (TFT, 50, 0.1, "likely"),
        (SCANNED, 49, 0.0, "safe"),
        (SCANNED, 50, 0.0, "likely"),
        (SYNCED, 500, 33.3, "safe"),  # two scans at 60 Hz are 33.33 ms
        (SYNCED, 500, 33.4, "likely"),
        (PAPER, 500, 1000.0, "none"),
    ],
)
def test_tearing(slug, steps, link_ms, state):
    torn = tearing(device(slug), day(steps=steps, worst=StepFigures("all", 1.0, link_ms, 0.0, 9, 1)))
    assert torn.state == state
    assert torn.words


def test_nothing_sent_is_nothing_wasted():
    assert wasted_share([]) == 0.0


def test_what_findings_say():
    dev = device(TFT)
    (missed,) = day_findings(device("mono-oled-128x64"), day(source(missed=3, reads=1, late=100.0)), Program())
    assert "75% of its readings are left out" in missed.why
    assert missed.fix.changes == {"every": {"v1": 200}}
    (lag,) = day_findings(dev, day(source(), away_ms=200.0, away="tide is read"), Program())
    assert lag.what.endswith("after up to 211 ms")
    assert lag.why.endswith("for up to 200 ms: tide is read.")
    (lag,) = day_findings(dev, day(source(), away_ms=200.0), Program())
    assert lag.why.endswith("it draws and sends.")


@pytest.mark.parametrize(
    ("least", "usual"), [(3_600_000, 3_600_000), (3_600_001, 7_200_000), (7_200_000, 7_200_000), (2001, 5000), (5001, 10_000)]
)
def test_usual_intervals(least, usual):
    assert usual_ms(least) == usual
