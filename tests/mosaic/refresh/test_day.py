"""A day on a time line: against a plain simulation, against days worked by hand, and as a sum that always holds."""

from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Encoder, Rule, Trigger
from mosaic.behaviour.machine import machine_of
from mosaic.behaviour.state import Happening
from mosaic.links import total_s, wire_steps
from mosaic.panels.windows import Rect, host_size
from mosaic.panels.wire import window_parts
from mosaic.refresh.costs import Wire
from mosaic.refresh.day.engine import DRAW, LINK, MS, READ, REFRESH, WAIT, Step, run_day
from mosaic.refresh.day.program import Program
from mosaic.refresh.speed import change_cost
from mosaic.screens.playing import played
from mosaic.screens.rendering import drawn_in
from mosaic.screens.screen import Design, Element, Follow, Screen
from mosaic.values.bands import Band, Bands
from mosaic.values.maps import Map
from mosaic.values.stand_in import StandIn
from mosaic.values.states import State
from mosaic.values.value import Source, Value
from tests.mosaic.refresh.days import at, clock, px, scene_of


class Plain:
    """A scene that is a number: each screen looks like the readings of all values, and every step costs the same."""

    def __init__(self, values, draw_ms=2, link_ms=5, refresh_ms=0):
        self.values = range(len(values))
        self.step = Step("all", draw_ms * MS, link_ms * MS, refresh_ms * MS, 100, 800)
        self.first = replace(self.step, name="first")
        self.asked = []

    def follows(self, screen):
        return frozenset(self.values)

    def plots(self, number):
        return 0

    def ticks(self, screen):
        return False

    def look(self, screen, values, tick):
        return tuple(values.of(number) for number in self.values)

    def change(self, screen, before, now):
        return self.step

    def whole(self, screen, effect):
        self.asked.append((screen, effect))
        return self.first


def machine(values, behaviour=None):
    return machine_of(behaviour or Behaviour(), Design(values=tuple(values)), {}, (128, 64), ("screen-1", "screen-2"))


def source(ident, every, blocks=0, **more):
    stand_in = StandIn("ramp", at=0, every_ms=every, period_s=10)
    return Value(ident, ident, high=9999, stand_in=stand_in, source=Source(every_ms=every, blocks_ms=blocks), **more)


def test_a_day_by_hand():
    """Read every 100 ms, which takes 30; drawn in 2, sent in 5: of each 100 ms 37 are spent, the panel is never in the way."""
    values = [source("v1", 100, 30)]
    day = run_day(machine(values), Plain(values), Program(), 1000, bins=10)
    assert day.steps == 10
    assert [[share // MS for share in one] for one in day.bins] == [[30, 2, 5, 5, 0]] * 10
    assert (day.sources[0].reads, day.sources[0].missed, day.sources[0].unseen, day.merged) == (10, 0, 0, 0)
    # From the end of one look at the inputs to the next: drawn and sent, then idle; or read while nobody looks.
    assert day.away_ns == 30 * MS
    assert day.away == "v1 is read"
    assert (day.clocks, day.sent_bytes) == (8000, 1000)


def test_readings_that_come_too_late_are_missed():
    """Two sources, one every 100 ms that takes 250: of the other's ten readings a second, those that fall into it are missed."""
    values = [source("v1", 1000, 250), source("v2", 100)]
    day = run_day(machine(values), Plain(values, 0, 0), Program(), 2000)
    slow, quick = day.sources
    # At 0 and 1000 the first is read until 250 and 1250; the second was due at 0, 100 and 200, and is read at 250 for all of them.
    assert (slow.reads, slow.missed, slow.blocked_ns) == (2, 0, 500 * MS)
    assert (quick.reads, quick.missed, quick.latest_ns) == (16, 4, 250 * MS)


def test_a_reading_that_is_begun_and_fetched_holds_nothing_up():
    values = [source("v1", 1000, 250), source("v2", 100)]
    day = run_day(machine(values), Plain(values, 0, 0), Program(splits=True), 2000)
    assert [one.missed for one in day.sources] == [0, 0]
    assert day.total(READ) == 0


def test_a_panel_that_refreshes_merges_what_comes_meanwhile():
    """An e-paper that refreshes for 350 ms, read every 100: drawn at 0, and from then on at each end of a refresh."""
    values = [source("v1", 100)]
    day = run_day(machine(values), Plain(values, 0, 0, 350), Program(), 1000)
    begun = [event.begin // MS for event in day.log if event.what == "draw"]
    assert begun == [0, 350, 700]
    # At 350 the reading of 300 is shown, and those of 100 and 200 never were; at 700 those of 400, 500 and 600 were not.
    assert day.sources[0].unseen == 5
    # Of what waits, 100, 400 and 800 come first; 200 and 300, 500 and 600, and 900 come to it.
    assert day.merged == 5
    assert day.total(REFRESH) == 1000 * MS


def test_a_link_that_sends_by_itself_leaves_the_program_free():
    values = [source("v1", 10)]
    waits = run_day(machine(values), Plain(values, 4, 5), Program(), 1000)
    goes_on = run_day(machine(values), Plain(values, 4, 5), Program(sends_itself=True), 1000)
    assert (waits.steps, goes_on.steps) == (100, 100)
    assert (waits.total(WAIT), goes_on.total(WAIT)) == (500 * MS, 0)
    assert waits.total(LINK) == goes_on.total(LINK) == 500 * MS
    assert waits.total(DRAW) == goes_on.total(DRAW) == 400 * MS


def test_with_two_buffers_the_longer_of_drawing_and_sending_counts():
    """Read every millisecond, drawn in 4, sent in 5: with one buffer a frame every 9 ms, with two every 5."""
    values = [source("v1", 1)]
    one = run_day(machine(values), Plain(values, 4, 5), Program(sends_itself=True), 900)
    two = run_day(machine(values), Plain(values, 4, 5), Program(sends_itself=True, two_buffers=True), 900)
    begun = [[event.begin // MS for event in day.log if event.what == "send"] for day in (one, two)]
    assert begun[0][:4] == [4, 13, 22, 31]
    assert begun[1][:4] == [4, 9, 14, 19]
    assert (one.steps, two.steps) == (100, 181)  # the second is begun at once, at 4
    # A program that waits for the link has nothing of a second buffer.
    assert run_day(machine(values), Plain(values, 4, 5), Program(two_buffers=True), 900).steps == 100


def test_drawing_no_more_often_than_is_asked_for():
    values = [source("v1", 100)]
    day = run_day(machine(values), Plain(values, 1, 1), Program(least_ms=400), 2000)
    assert [event.begin // MS for event in day.log if event.what == "draw"] == [0, 400, 800, 1200, 1600]


def test_own_intervals_of_the_schedule():
    values = [source("v1", 100)]
    day = run_day(machine(values), Plain(values, 0, 0), Program(every=(("v1", 500),)), 2000)
    assert day.sources[0].reads == 4


def test_from_a_touch_to_its_answer():
    """Touched from 600 on while a reading holds the program from 400 to 650: seen at 650, drawn by 652 and sent by 657."""
    press = Rule("r1", Trigger("press", "a1"), (Action("screen", "screen-2"),))
    behaviour = Behaviour(areas=(Area("a1", "all", width=128, height=64),), rules=(press,))
    values = [source("v1", 400, 250)]
    dev = machine(values, replace(behaviour, touch=replace(behaviour.touch, samples=1)))
    scene = Plain(values)
    day = run_day(dev, scene, Program(), 1000, inputs=[(ms, Happening("touch", 0, 5, 5)) for ms in (600, 620, 640)])
    assert [screen for screen, _ in scene.asked] == [0, 1]
    assert day.lags == [(600 * MS, 657 * MS)]
    assert day.overlooked == 0


@pytest.mark.parametrize(("last", "seen"), [(590, 1), (589, 0)])
def test_a_finger_that_has_left_was_never_there(last, seen):
    """It lies there still if it was felt no more than 60 ms before the program looks, at 650."""
    press = Rule("r1", Trigger("press", "a1"), (Action("screen", "screen-2"),))
    behaviour = Behaviour(areas=(Area("a1", "all", width=128, height=64),), rules=(press,))
    values = [source("v1", 400, 250)]
    dev = machine(values, replace(behaviour, touch=replace(behaviour.touch, samples=1)))
    day = run_day(dev, Plain(values), Program(), 1000, inputs=[(last, Happening("touch", 0, 5, 5))])
    assert (len(day.lags), day.overlooked) == (seen, 1 - seen)


def test_edges_of_a_knob_are_lost_while_a_reading_blocks():
    """Of eight changes of its two lines at 10 ms each, six fall into a reading: only the last level of them is seen."""
    knob = Encoder("k1", "knob", steps=4)
    turned = Rule("r1", Trigger("turned up", "k1"), (Action("event", "x1"),))
    behaviour = Behaviour(encoders=(knob,), rules=(turned,))
    values = [source("v1", 1000, 60)]
    lines = [(0, 0), (1, 0), (1, 1), (0, 1)]
    edges = [(990 + 10 * n, Happening("lines", 0, *lines[n % 4])) for n in range(8)]
    day = run_day(machine(values, behaviour), Plain(values, 0, 0), Program(), 2000, inputs=edges)
    # At 1000 the reading begins, with the edge of 1000 in it: those of 1000 to 1060 are looked at together.
    assert day.overlooked == 6
    called = machine(values, replace(behaviour, encoders=(replace(knob, interrupt=True),)))
    assert run_day(called, Plain(values, 0, 0), Program(), 2000, inputs=edges).overlooked == 0


@given(st.data())
@settings(max_examples=120, deadline=None)
def test_time_is_conserved(data):
    """Whatever is read, drawn and sent, and however: reading, drawing, waiting and idling are the day, stretch by stretch."""
    count = data.draw(st.integers(1, 4))
    values = [
        source(f"v{n}", data.draw(st.sampled_from([10, 33, 100, 250, 1000])), data.draw(st.sampled_from([0, 0, 1, 40, 300])))
        for n in range(count)
    ]
    program = Program(
        splits=data.draw(st.booleans()), sends_itself=data.draw(st.booleans()), two_buffers=data.draw(st.booleans()),
        least_ms=data.draw(st.sampled_from([0, 0, 70, 1500])),
    )  # fmt: skip
    scene = Plain(values, *(data.draw(st.sampled_from([0, 1, 7, 60])) for _ in range(2)), data.draw(st.sampled_from([0, 400])))
    length, bins = data.draw(st.integers(1, 4000)), data.draw(st.integers(1, 13))
    day = run_day(machine(values), scene, program, length, bins=bins)
    for number in range(len(day.bins)):
        size = min(day.bin_ns, length * MS - number * day.bin_ns)
        assert 0 <= day.idle_ns(number) <= size
        assert day.busy_ns(number) + day.idle_ns(number) == size
        assert 0 <= day.bins[number][LINK] <= size
        assert 0 <= day.bins[number][REFRESH] <= size
    for one in day.sources:
        due = -(-length * MS // one.every_ns)
        assert 0 <= due - (one.reads + one.missed) <= 1 + (scene.step.total_ns + 300 * MS * count) // one.every_ns
        assert 0 <= one.unseen <= one.changes <= one.reads
    events = [event for event in day.log if event.what in ("read", "draw")]
    assert all(a.end <= b.begin for a, b in pairwise(events))


class Undrawn:
    """A device's scene whose drawing takes no time, to be compared with a simulation that does not count it."""

    def __init__(self, scene):
        self.scene = scene

    def __getattr__(self, name):
        return getattr(self.scene, name)

    def change(self, *given):
        found = self.scene.change(*given)
        return None if found is None else replace(found, draw_ns=0)

    def whole(self, *given):
        return replace(self.scene.whole(*given), draw_ns=0)


@pytest.mark.parametrize("slug", ["tft-320x240-touch", "mono-oled-128x64", "epaper-296x128-black-white"])
def test_it_is_the_plain_simulation_of_screens(slug):
    """Frames begin and end at the same moments, with the same windows and bytes, as where each is drawn and compared as a whole."""
    values = [
        Value("v1", "level", low=-99, high=450, decimals=2, source=Source(every_ms=300, blocks_ms=20),
              stand_in=StandIn("walk", at=46, every_ms=300, reach=40)),
        Value("v2", "state", "word", words=("ebb", "slack", "flood"), stand_in=StandIn("list", listed=(0, 1, 2), every_ms=700),
              source=Source(every_ms=500)),
        Value("v3", "late", high=99, stand_in=StandIn("ramp", every_ms=400, period_s=9), source=Source(every_ms=900, blocks_ms=310)),
    ]  # fmt: skip
    screen = Screen((
        Element("e1", "text", **at(3, 2), text="{v1:.1u} and {v2}"),
        Element("e2", "bar", **at(3, 20, width=px(60), height=px(8)), of="v3", second="ground"),
        Element("e3", "text", **at(70, 20), text="late", follows=(Follow("shown", "v3", Map("steps", ((0, 0), (50, 1)))),)),
        Element("e4", "sparkline", **at(3, 34, width=px(60), height=px(18)), of="v1", count=12),
    ))  # fmt: skip
    dev, scene = scene_of(slug, values, {"One": screen})
    length = 40_000
    plain = played(scene.screens[0].plan, length, most_frames=10_000)
    day = run_day(dev, Undrawn(scene), Program(), length)
    sent = [(event.begin, event.end) for event in day.log if event.what == "send"]
    frames = [one for one in plain.frames if one.begin < length]
    assert [begin for begin, _ in sent] == pytest.approx([float(one.begin) * MS for one in frames], abs=len(frames))
    assert [end for _, end in sent] == pytest.approx([float(one.end) * MS for one in frames], abs=len(frames))
    assert day.windows == sum(len(one.windows) for one in frames)
    assert {one.value.id: one.missed for one in day.sources} == plain.missed


def test_steps_cost_what_the_wire_says():
    """Each step of a clock: the clocks that the panel counts of its windows, and the drawing that a change of states takes."""
    dev, scene = clock()
    day = run_day(dev, scene, Program(), 61_000)
    looks = scene.screens[0]
    wire = Wire(looks.plan.device, looks.plan.device.link)
    passport, turn = looks.plan.device.passport, looks.plan.device.turn
    states = [State("s", "s", {"v1": second, "v2": second % 60}) for second in (41, 42)]
    before, now = (drawn_in(looks.plan, state) for state in states)
    change = change_cost(before, now, wire)
    step = [event for event in day.log if event.what == "send" and event.begin // (1000 * MS) == 42]
    assert len(step) == 1
    clocks = 0
    for window in change.windows:
        parts = window_parts(passport, turn, window, bytes(passport.format.frame_bytes(window.width, window.height)))
        clocks += sum(one.clocks for one in wire_steps(parts, looks.plan.device.link))
    assert change.cost.clocks == clocks
    assert step[0].end - step[0].begin == pytest.approx(float(total_s(wire_steps(parts, looks.plan.device.link))) * 1e9, abs=1)
    assert day.steps == 61
    assert (day.first.name, day.worst.name) == ("Clock as a whole", "“Second hand”, “Digits” on Clock")
    whole = Rect(0, 0, *host_size(passport, turn))
    assert day.first.clocks == wire.window(whole).clocks
    names = {name: count for name, count, _, _ in day.by_element.values()}
    assert names == {"“Second hand” on Clock": 60, "“Digits” on Clock": 1}


def test_seconds_that_are_not_shown_are_not_missed():
    """Hours and minutes are shown of a time that is read every second: what comes between is nothing that could be seen."""
    values = [Value("v1", "time", "time", high=86_399, stand_in=StandIn("clock", at=0))]
    screen = Screen((Element("e1", "text", **at(10, 4), text="{v1:hh:mm}"),))
    day = run_day(*scene_of("tft-320x240-touch", values, {"One": screen}), Program(), 300_000)
    assert (day.steps, day.sources[0].changes, day.sources[0].unseen) == (5, 300, 0)


def test_moving_an_element_by_one_pixel_changes_its_own_figures_only():
    def day_of(x):
        values = [source("v1", 1000), source("v2", 2000)]
        screen = Screen((Element("e1", "text", **at(x, 4), text="{v1}"), Element("e2", "text", **at(20, 60), text="{v2}")))
        return run_day(*scene_of("tft-320x240-touch", values, {"One": screen}), Program(), 20_000)

    here, there = day_of(10), day_of(11)
    assert here.by_element == there.by_element  # the same letters, one pixel to the right, are as many bytes
    assert (here.steps, here.sent_bytes) == (there.steps, there.sent_bytes)
    near, over = day_of(10), day_of(236)  # cut off by the edge of the glass: fewer pixels, of this element only
    assert near.by_element["One e2"] == over.by_element["One e2"]
    assert near.by_element["One e1"][2] > over.by_element["One e1"][2]


@pytest.mark.parametrize(
    ("begins", "ends", "reads"), [(1, 2, 60 + 15 + 60), (0, 1, 15 + 60 + 60), (2, 2, 180), (2, 1, 15 + 60 + 15)]
)
def test_at_night_everything_is_rarer(begins, ends, reads):
    """Read every second for three minutes; in a minute of the night every fourth one only. A night may go over midnight."""
    values = [source("v1", 1000)]
    program = Program(night_from_min=begins, night_to_min=ends, night_slower=4)
    day = run_day(machine(values), Plain(values, 0, 0), program, 180_000)
    assert day.sources[0].reads == reads
    assert run_day(machine(values), Plain(values, 0, 0), replace(program, night_slower=1), 180_000).sources[0].reads == 180


def test_drawing_is_rarer_at_night_too():
    values = [replace(source("v1", 1000), stand_in=StandIn("ramp", every_ms=1000, period_s=997))]
    program = Program(least_ms=2000, night_from_min=1, night_to_min=2, night_slower=5)
    day = run_day(machine(values), Plain(values, 0, 0), program, 120_000)
    begun = [event.begin // (1000 * MS) for event in day.log if event.what == "draw"]
    assert begun == [*range(0, 60, 2), 60, 70, 80, 90, 100, 110]


def test_readings_that_are_the_same_count_where_they_are_averaged():
    """0, 10, 10: the mean of three is 5 first and then 7, which is another band, though the third reading is the second one again."""
    bands = Bands((Band(None, 6), Band(6, None)), mean_of=3)
    listed = StandIn("list", listed=(0, 10, 10, 10), every_ms=1000)
    value = Value("v1", "v1", high=99, stand_in=listed, source=Source(every_ms=1000), bands=bands)
    rules = (Rule("r1", Trigger("band", "v1", 1), (Action("screen", "screen-2"),)),)
    scene = Plain([value], 0, 0)
    day = run_day(machine([value], Behaviour(rules=rules)), scene, Program(), 4000)
    assert [screen for screen, _ in scene.asked] == [0, 1]
    assert [event.begin // MS for event in day.log if event.name == "first"][::2] == [0, 2000]


def test_what_a_timer_brings_is_no_answer_to_a_touch_long_ago():
    """A screen that comes by itself after three seconds; touched at half a second in vain."""
    rules = (Rule("r1", Trigger("after", ms=3000), (Action("screen", "screen-2"),)),)
    values = [source("v1", 1000)]
    dev = machine(values, Behaviour(rules=rules))
    for inputs in ([], [(500, Happening("touch", 0, 5, 5))]):
        scene = Plain(values)
        day = run_day(dev, scene, Program(), 5000, inputs=inputs)
        assert [screen for screen, _ in scene.asked] == [0, 1]
        assert day.lags == []
    soon = [(2000, Happening("touch", 0, 5, 5))]
    assert len(run_day(dev, Plain(values), Program(), 5000, inputs=soon).lags) == 1  # within two seconds it counts as one
