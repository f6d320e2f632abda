"""Findings on e-paper, each broken and mended, at its boundary."""

from dataclasses import replace

import pytest

from mosaic.device.device import Supply
from mosaic.findings.paper import long_findings
from mosaic.findings.schedule import DaySubject
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import DayFigures, StepFigures, Stretch
from mosaic.refresh.paper.cleaning import Cleaning
from tests.mosaic.screens.made_up import device

DAY = 86_400_000
PAPER = "epaper-296x128-black-white"
SOUND = Cleaning(at_min=(180,), previous="board")


def a_day(**changes):
    usual = {
        "steps": 24, "refreshed": ((0, 2), (1, 22)), "longest_row": 21, "uncleaned_ms": DAY - 3 * 3_600_000, "shortest_ms": 3_600_000,
    }  # fmt: skip
    stretch = Stretch(0, DAY, 0, 0, 0, 0, changes.pop("refreshing_ms", 1000))
    made = DayFigures(
        changes.pop("length_ms", DAY), (stretch,), (), (), (), 0, 0, 0, 0, 0, 0.0, "", (), 0, 0,
        worst=StepFigures("all", 1, 1, 2000.0, 10, 1),
    )  # fmt: skip
    return replace(made, **{**usual, **changes})


def ids(day=None, cleaning=SOUND, slug=PAPER, usual=1, **more):
    program = Program(refresh=usual, cleaning=cleaning)
    return [one.id for one in long_findings(DaySubject(device(slug), day or a_day(), program, **more))]


def test_what_is_sound_has_none():
    assert ids() == []
    assert ids(slug="tft-320x240-touch", usual=0) == []
    assert ids(usual=2) == ids(usual=99) == []  # no more than two refreshes are known: the last of them counts


@pytest.mark.parametrize(("shortest_ms", "found"), [(179_999, True), (180_000, False), (0, False)])
def test_shorter_than_the_least_interval(shortest_ms, found):
    day = a_day(shortest_ms=shortest_ms, refreshed=((0, 24),), longest_row=0)
    colours = "epaper-296x128-four-colour"
    assert (ids(day, slug=colours, usual=0) == ["paper.updates-too-often"]) == found
    if found:
        subject = DaySubject(device(colours), day, Program(cleaning=SOUND))
        assert long_findings(subject)[0].fix.changes == {"least_ms": 300_000}


@pytest.mark.parametrize(
    ("cleaning", "changes", "found"),
    [
        (Cleaning(previous="board"), {}, True), (SOUND, {"uncleaned_ms": DAY}, False), (SOUND, {"uncleaned_ms": DAY + 1}, True),
        (SOUND, {"refreshed": ((0, 1), (1, 23))}, True), (SOUND, {"refreshed": ((0, 1), (1, 2)), "length_ms": DAY - 1}, False),
        (Cleaning(after=10, previous="board"), {}, False), (Cleaning(each=True, previous="board"), {}, False),
    ],
)  # fmt: skip
def test_no_full_update_in_24_hours(cleaning, changes, found):
    assert (ids(a_day(**changes), cleaning) == ["paper.never-cleaned"]) == found
    assert "paper.never-cleaned" not in ids(a_day(**changes), cleaning, usual=0)


@pytest.mark.parametrize(("row", "found"), [(30, []), (31, ["paper.many-partials"])])
def test_too_many_partial_updates(row, found):
    assert ids(a_day(longest_row=row)) == found


@pytest.mark.parametrize(("celsius", "found"), [(-1, "paper.too-cold"), (0, None), (50, None), (51, "paper.too-warm")])
def test_too_cold_or_too_warm(celsius, found):
    low, high = device(PAPER).passport.operating_c
    assert (low, high) == (0, 50)
    assert ids(celsius=celsius) == ([found] if found else [])


@pytest.mark.parametrize(
    ("between", "found"), [("asleep", []), ("awake", ["paper.not-asleep"]), ("powered", ["paper.left-powered"])]
)
def test_what_it_is_left_in(between, found):
    assert ids(cleaning=replace(SOUND, between=between)) == found


@pytest.mark.parametrize(
    ("previous", "between", "severity"),
    [("board", "asleep", None), ("panel", "awake", None), ("panel", "asleep", "worth fixing"), ("nobody", "awake", "must fix")],
)
def test_who_keeps_the_picture_before(previous, between, severity):
    subject = DaySubject(device(PAPER), a_day(), Program(refresh=1, cleaning=replace(SOUND, previous=previous, between=between)))
    found = [one for one in long_findings(subject) if one.id == "paper.picture-before-not-held"]
    assert [one.severity for one in found] == ([severity] if severity else [])
    assert ["left to chance" in one.why for one in found] == ([severity == "must fix"] if severity else [])
    full = DaySubject(device(PAPER), a_day(), Program(refresh=0, cleaning=replace(SOUND, previous=previous)))
    assert not [one for one in long_findings(full) if one.id == "paper.picture-before-not-held"]


@pytest.mark.parametrize(("a_day_s", "found"), [(547, []), (548, ["paper.life-used-up"])])
def test_a_million_updates_in_five_years(a_day_s, found):
    """1,000,000 / (5 * 365.25) are 547.6 a day."""
    day = a_day(refreshed=((0, 2), (1, a_day_s - 2)))
    assert ids(day) == found


@pytest.mark.parametrize(
    ("merged", "refreshing", "found"), [(24, 0.5, True), (24, 0.49, False), (23, 0.5, False), (0, 0.9, False)]
)
def test_changes_that_wait_for_the_panel(merged, refreshing, found):
    day = a_day(merged=merged, refreshing_ms=refreshing * DAY)
    assert (ids(day) == ["paper.updates-overlap"]) == found


@pytest.mark.parametrize(("takes", "found"), [(12.0, []), (12.1, ["energy.day-over-limit"])])
def test_energy_of_a_day(takes, found):
    dev = replace(device(PAPER), energy_limit_mwh=12.0, supply=Supply("cell"))
    subject = DaySubject(dev, a_day(), Program(refresh=1, cleaning=SOUND), 0.0, 20.0, takes, 1.2, 300.0)
    findings = long_findings(subject)
    assert [one.id for one in findings] == found
    if found:
        """10.9 mWh of 24 drawings a day have to become 10.8: every 61 min is taken as the next usual one, 2 h."""
        assert findings[0].fix.changes == {"least_ms": 7_200_000}
        assert "300 days" in findings[0].why
    on_mains = replace(dev, supply=Supply("mains"))
    assert not long_findings(replace(subject, device=on_mains))


@pytest.mark.parametrize(("limit", "label", "then"), [(2.0, "60 min", "then 2.0 mWh"), (1.0, "2 h", "then 1.0 mWh")])
def test_drawings_so_far_apart_that_the_day_s_energy_fits(limit, label, then):
    """Drawn each minute it takes 120 mWh."""
    dev = replace(device(PAPER), energy_limit_mwh=limit, supply=Supply("cell"))
    subject = DaySubject(dev, a_day(steps=1440), Program(refresh=1, cleaning=SOUND), energy_mwh=120.0)
    (fix,) = [one.fix for one in long_findings(subject) if one.id == "energy.day-over-limit"]
    assert (fix.label, fix.then) == (f"Draw every {label} at most", then)
    for none in (replace(subject, asleep_mwh=limit), replace(subject, day=replace(subject.day, steps=0))):
        assert [one.fix for one in long_findings(none) if one.id == "energy.day-over-limit"] == [None]
