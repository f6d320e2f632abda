"""A device's life in virtual time, worked by hand: what is read when, what is missed, what is sent."""

from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

import pytest

from mosaic.links import total_s, wire_steps
from mosaic.panels.wire import window_parts
from mosaic.screens.plan import planned
from mosaic.screens.playing import played
from mosaic.screens.screen import Anchor, Design, Element, Follow, Screen, Size
from mosaic.values.maps import Map
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Source, Value
from mosaic.virtual.panel import virtual_panel
from tests.mosaic.screens.made_up import device, kit_of


def plan_with(*values, elements=None, slug="mono-oled-128x64"):
    dev = device(slug)
    texts = elements or tuple(
        Element(f"e{n}", "text", x=Anchor(plus=2), y=Anchor(plus=16 * n), text=f"{{{value.id}}}")
        for n, value in enumerate(values)
    )
    return planned(Screen(texts), dev, kit_of(dev, Design(values=values)))


FAST = Value("v1", "fast", high=9, source=Source("a", every_ms=100), stand_in=StandIn("ramp", every_ms=100, period_s=1))
SLOW = Value(
    "v2", "slow", high=9, source=Source("b", every_ms=1000, blocks_ms=750), stand_in=StandIn("ramp", every_ms=1000, period_s=10)
)


def test_a_source_that_blocks_750_ms_costs_its_neighbour_six_readings_each_second():
    """Both are due at 0; reading the slow one lasts until 750. The fast one was due at 100 to 700: the last of them is taken
    late, six are missed. Then it is read at 800 and 900, and from 1,000 on it begins anew."""
    plan = plan_with(FAST, SLOW)
    run = played(plan, 3000)
    assert [one.begin for one in run.readings if one.value == "v2"] == [0, 1000, 2000]
    late = [one for one in run.readings if one.value == "v1" and one.missed]
    assert [one.missed for one in late] == [6, 6, 6]
    assert run.missed == {"v1": 18, "v2": 0}
    assert [int(one.begin) for one in run.readings if one.value == "v1"][:5] == [0, 751, 800, 900, 1000]


def test_what_is_sent_takes_the_link_s_own_time():
    plan = plan_with(FAST)
    run = played(plan, 1000)
    whole = run.frames[0]
    rendered = whole.rendered
    assert whole.link_ms == Fraction(total_s(wire_steps(rendered.parts, plan.device.link))) * 1000
    assert whole.sent_bytes == len(rendered.packed) == 1024
    later = run.frames[1]
    # A digit of 4 px in letters of 15 px, on a grid of pages of 8 rows: two pages of its columns.
    (window,) = later.windows
    assert (window.height, later.sent_bytes) == (16, window.width * 2)
    # A frame for each of the ten readings of a second: the link is faster than they come.
    assert len(run.frames) == 10


def test_frames_come_as_fast_as_the_virtual_panel_s_clock_has_them():
    """Readings come faster than a frame is sent: the rate is the link's, and the panel that takes the same bytes agrees."""
    flicker = replace(FAST, high=1, source=Source("a", every_ms=1), stand_in=StandIn("list", listed=(0, 1), every_ms=1))
    area = Element(
        "e1",
        "rectangle",
        width=Size("as"),
        height=Size("as"),
        follows=(Follow("color", "v1", Map("steps", ((0, 0), (1, 0)), ("ink", "ground"))),),
    )
    plan = plan_with(flicker, elements=(area,), slug="tft-240x240-round")
    run = played(plan, 2000)
    passport, turn = plan.device.passport, plan.device.turn
    panel = virtual_panel(passport)
    for frame in run.frames:
        for window in frame.windows:
            parts = window_parts(passport, turn, window, bytes(passport.format.frame_bytes(window.width, window.height)))
            for part in parts:
                for transaction in part.transactions:
                    panel.take(transaction, Fraction(plan.device.link.clocks([transaction]), plan.device.link.clock_hz) * 1000)
    lasted = run.frames[-1].end - run.frames[0].begin
    assert len(run.frames) >= 5
    assert float(panel.now_ms) == pytest.approx(float(sum(frame.link_ms for frame in run.frames)), rel=0.01)
    assert float(lasted) == pytest.approx(float(panel.now_ms), rel=0.01)


def test_what_does_not_change_is_not_sent():
    still = replace(FAST, stand_in=StandIn("constant", at=4))
    run = played(plan_with(still), 1000)
    assert len(run.readings) == 10
    assert len(run.frames) == 1


def test_an_unplugged_source_grows_old_and_shows_it():
    aging = replace(FAST, max_age_s=1, stale="old", stand_in=StandIn("constant", at=4))
    plan = plan_with(aging)
    words = [frame.rendered.drawn[0].calls[0].given[2] for frame in played(plan, 5000, unplugged=frozenset({"v1"})).frames]
    assert words == ["--"]
    known = played(plan, 500)
    assert known.frames[-1].rendered.kit.state.stale == frozenset()
    state = known.frames[-1].rendered.kit.state
    assert state.readings["v1"] == 4


def test_a_reading_set_by_hand_is_what_its_source_gives():
    assert {one.reading for one in played(plan_with(FAST), 500, held={"v1": 7}).readings} == {7}


def test_an_epaper_is_busy_until_it_has_refreshed_and_then_shows_the_newest():
    plan = plan_with(
        replace(FAST, stand_in=StandIn("ramp", every_ms=5000, period_s=50), source=Source("a", every_ms=5000)),
        slug="epaper-296x128-four-colour",
    )
    busy = plan.device.passport.refresh[0].time_ms
    frames = played(plan, 60_000).frames
    gaps = [float(b.begin - a.end) for a, b in pairwise(frames)]
    assert min(gaps) >= busy > 5000


def test_a_plot_remembers_what_was_read():
    plan = plan_with(FAST, elements=(Element("e1", "sparkline", of="v1", high=9, count=4),))
    last = played(plan, 600).frames[-1].rendered.kit.state
    assert last.past["v1"] == (2, 3, 4, 5)
