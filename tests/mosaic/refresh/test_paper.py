"""E-paper: schools of cleaning by hand, the ghost against a plain loop, and the glass over a day."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadDescriptionError
from mosaic.panels.loader import catalogue
from mosaic.panels.supply import RefreshMode
from mosaic.panels.windows import Rect, host_size
from mosaic.panels.wire import frame_parts, setup_part, window_parts
from mosaic.refresh.day.engine import run_day
from mosaic.refresh.day.film import filmed, standing
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import figures_of as day_figures
from mosaic.refresh.energy.plan import refresh_ma
from mosaic.refresh.paper.cleaning import DAY_NS, MINUTE_NS, Cleaner, Cleaning
from mosaic.refresh.paper.ghost import GhostModel, after, bound, residues, seen
from mosaic.refresh.paper.schools import figures_of, full_mode, partial_mode, schools_of
from mosaic.screens.moments import by_hand
from mosaic.screens.rendering import drawn_in
from mosaic.screens.screen import Anchor, Element, Follow, Screen, Size
from mosaic.values.courses import reader
from mosaic.values.maps import Map
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Source, Value
from mosaic.virtual.panel import virtual_panel
from tests.mosaic.refresh.days import scene_of

HOUR, DAY = 3_600_000, 86_400_000
FULL, PARTIAL = RefreshMode("full", 2000.0, 26.0), RefreshMode("partial", 400.0, 8.0, flashes=False)
MODES = (FULL, PARTIAL)
PAPER = "epaper-296x128-black-white"


def hourly(slug=PAPER):
    """A board that shows another number every hour."""
    value = Value("v1", "tide", high=999, source=Source(every_ms=HOUR), stand_in=StandIn("ramp", every_ms=HOUR, period_s=86_400))
    line = Element("e1", "text", x=Anchor(plus=10), y=Anchor(plus=40), text="{v1}", lettering="lettering-2")
    return scene_of(slug, [value], {"Board": Screen((line,))}, refresh=1)


def modes_of(cleaning, usual, shares, every_min=60):
    cleaner = Cleaner(cleaning, MODES, usual)
    return [cleaner.update(n * every_min * MINUTE_NS, share) for n, share in enumerate(shares)], cleaner


# When it is cleaned


def test_after_so_many_partial_updates_comes_a_full_one():
    """The first is full, for nobody knows what stands there; then three partial ones, a full one, and so on."""
    taken, cleaner = modes_of(Cleaning(after=3), 1, [0.1] * 9)
    assert taken == [(0,), (1,), (1,), (1,), (0,), (1,), (1,), (1,), (0,)]
    assert (cleaner.longest, cleaner.counts) == (3, {0: 3, 1: 6})


def test_before_each_update_and_with_full_ones_only():
    assert modes_of(Cleaning(each=True), 1, [1.0] * 3)[0] == [(0,), (0, 1), (0, 1)]
    assert modes_of(Cleaning(each=True), 0, [1.0] * 2)[0] == [(0, 0), (0, 0)]
    assert modes_of(Cleaning(after=1), 0, [1.0] * 3)[0] == [(0,)] * 3


@pytest.mark.parametrize(("share", "mode"), [(0.299, 1), (0.3, 0), (1.0, 0)])
def test_where_much_is_sent(share, mode):
    assert modes_of(Cleaning(from_share=0.3), 1, [1.0, share])[0][1] == (mode,)


def test_at_set_times():
    cleaner = Cleaner(Cleaning(at_min=(180, 900)), MODES, 1)
    assert cleaner.next_at(-1) == 180 * MINUTE_NS
    assert cleaner.next_at(180 * MINUTE_NS - 1) == 180 * MINUTE_NS
    assert cleaner.next_at(180 * MINUTE_NS) == 900 * MINUTE_NS
    assert cleaner.next_at(900 * MINUTE_NS) == DAY_NS + 180 * MINUTE_NS
    assert Cleaner(Cleaning(), MODES, 1).next_at(0) is None
    assert cleaner.update(0, 1.0, is_scheduled=True) == (0,)


def test_times_stand_in_order():
    with pytest.raises(BadDescriptionError):
        Cleaning(at_min=(900, 180))


# The schools on an hourly board: 24 updates a day, full 2 s and 26 mJ, partial 0.4 s and 8 mJ


@pytest.mark.parametrize(
    ("slug", "full", "partial", "flashing_s", "energy_mj", "row", "uncleaned_h"),
    [
        ("each", 48, 0, 96.0, 48 * 26, 0, 1), ("full", 24, 0, 48.0, 24 * 26, 0, 1),
        ("after", 3, 21, 6.0, 3 * 26 + 21 * 8, 10, 11),  # at 0, 11 and 22 h
        ("times", 2, 22, 4.0, 2 * 26 + 22 * 8, 20, 21),  # at 0 and 3 h; what changes at 3 h is cleaned along
        ("never", 1, 23, 2.0, 26 + 23 * 8, 23, 24),
    ],
)  # fmt: skip
def test_schools_on_an_hourly_board(slug, full, partial, flashing_s, energy_mj, row, uncleaned_h):
    machine, scene = hourly()
    passport = catalogue()[PAPER]
    school = next(one for one in schools_of(passport, Program()) if one.slug == slug)
    day = run_day(machine, scene, school.program, DAY, modes=passport.refresh)
    found = figures_of(day, passport.refresh)
    assert (found.full, found.flashing_s) == (full, pytest.approx(flashing_s))
    assert (found.partial, found.energy_mj, found.longest_row) == (partial, pytest.approx(energy_mj), row)
    assert found.uncleaned_h == pytest.approx(uncleaned_h, abs=0.05)


def test_rules_together():
    """By day partial ones with a full one after every four, and a clean at 3:00."""
    machine, scene = hourly()
    program = Program(refresh=1, cleaning=Cleaning(after=4, at_min=(180,)))
    day = run_day(machine, scene, program, DAY, modes=MODES)
    assert any(one.is_scheduled and one.begin == 180 * MINUTE_NS for one in day.refreshes)
    assert day.longest_row == 4
    modes = [mode for one in day.refreshes for mode in one.modes]
    rows = "".join(str(mode) for mode in modes).split("0")
    assert max(len(one) for one in rows) == 4


def test_the_board_that_keeps_the_picture_before_sends_two():
    machine, scene = hourly()
    alone = run_day(machine, scene, Program(refresh=1), DAY, modes=MODES)
    both = run_day(machine, scene, Program(refresh=1, cleaning=Cleaning(previous="board")), DAY, modes=MODES)
    first = next(iter(alone.refreshes))
    assert first.modes == (0,)
    assert alone.first is not None
    partly = alone.sent_bytes - alone.first.sent_bytes
    assert both.sent_bytes == alone.first.sent_bytes + 2 * partly


def test_a_panel_without_partial_updates_has_two_schools():
    colours = catalogue()["epaper-296x128-four-colour"]
    assert [one.slug for one in schools_of(colours, Program())] == ["each", "full"]
    assert (partial_mode(colours), full_mode(colours)) == (None, 0)
    assert partial_mode(catalogue()[PAPER]) == 1


def test_a_day_takes_what_the_virtual_panels_own_updates_take():
    """Each update of a day is sent to the virtual panel; the modes it refreshes by have the energy that the day is told to have."""
    machine, scene = hourly()
    dev = scene.device(0)
    program = Program(refresh=1, cleaning=Cleaning(after=3))
    day, film = filmed(machine, scene, program, DAY, modes=dev.passport.refresh)
    panel = virtual_panel(dev.passport)
    panel.play(setup_part(dev.passport, dev.turn).transactions)
    before = b""
    for shot in film.shots:
        packed = drawn_bytes(film.pixels(shot.picture), dev)
        is_partial = not dev.passport.refresh[shot.modes[-1]].flashes
        whole = Rect(0, 0, *host_size(dev.passport, dev.turn))
        parts = (
            window_parts(dev.passport, dev.turn, whole, packed, before)
            if is_partial
            else frame_parts(dev.passport, dev.turn, packed)
        )
        for part in parts:
            panel.play(part.transactions)
        panel.finish()
        before = packed
    assert len(panel.changes) == len(film) == 24
    energy = sum(change.mode.energy_mj for change in panel.changes)
    assert energy == 6 * 26 + 18 * 8
    figures = day_figures(day, program)
    seconds = sum(change.mode.time_ms for change in panel.changes) / 1000
    assert refresh_ma(figures, dev, program) * seconds * dev.passport.power.supply_v == pytest.approx(energy)


def drawn_bytes(pixels, dev):
    from mosaic.conversion.pipeline import pack

    return pack(np.ascontiguousarray(pixels), dev.passport, dev.turn)


# The ghost


@given(st.lists(st.tuples(st.lists(st.floats(0, 1, width=32), min_size=3, max_size=3), st.booleans()), min_size=1, max_size=12))
def test_the_ghost_is_a_plain_loop(updates):
    model = GhostModel()
    pictures = [(np.array([[values]], np.float32), (1,) if is_partial else (0,)) for values, is_partial in updates]
    found = list(residues(pictures, MODES, model))
    for column in range(3):
        old, residue = 1.0, 0.0
        for number, (values, is_partial) in enumerate(updates):
            change, keep = (0.06, 0.9) if is_partial else (0.005, 0.1)
            residue = change * (old - values[column]) + keep * residue
            old = values[column]
            assert found[number][1][0, 0, column] == pytest.approx(residue, abs=1e-6)
            assert abs(residue) <= bound(model)


def test_a_residue_by_hand():
    """From white to black: 6 % stay, after a second partial update with the same picture 5.4 %, after a full one 0.54 %."""
    white, black = np.ones((1, 1), np.float32), np.zeros((1, 1), np.float32)
    first = after(np.zeros((1, 1), np.float32), white, black, [PARTIAL], GhostModel(), 20)
    second = after(first, black, black, [PARTIAL], GhostModel(), 20)
    third = after(second, black, black, [FULL], GhostModel(), 20)
    assert [float(one[0, 0]) for one in (first, second, third)] == pytest.approx([0.06, 0.054, 0.0054])
    twice = after(np.zeros((1, 1), np.float32), white, black, [FULL, PARTIAL], GhostModel(), 20)
    assert float(twice[0, 0]) == pytest.approx(0.005 * 0.9)


def test_full_updates_clean_and_cold_leaves_more():
    ghost = np.full((1, 1), 0.5, np.float32)
    for _ in range(9):
        ghost = after(ghost, ghost * 0, ghost * 0, [FULL], GhostModel(), 20)
    assert float(ghost[0, 0]) < 1e-8
    assert GhostModel().shares(False, 0)[0] == pytest.approx(0.06 * 1.4)
    assert GhostModel().shares(False, 30) == (0.06, 0.9)
    assert bound(GhostModel()) == pytest.approx(0.6)
    assert seen(np.float32([0.9]), np.float32([0.2])).tolist() == [1.0]
    assert seen(np.float32([0.1]), np.float32([-0.2]), 0).tolist() == [pytest.approx(0.1)]


# The glass over a day


def moving(slug):
    """Digits, a needle over them and a bar, with something that stands still between."""
    value = Value("v1", "tide", high=60, source=Source(every_ms=HOUR), stand_in=StandIn("ramp", every_ms=HOUR, period_s=86_400))
    elements = (
        Element("e1", "text", x=Anchor(plus=10), y=Anchor(plus=30), text="{v1}", lettering="lettering-2"),
        Element("e2", "rectangle", x=Anchor(plus=20), y=Anchor(plus=20), width=Size("pixels", 40), height=Size("pixels", 30)),
        Element("e3", "needle", "Hand", x=Anchor(plus=10), y=Anchor(plus=4), width=Size("pixels", 60), height=Size("pixels", 60),
                of="v1", low=0, high=59, follows=(Follow("value", "v1", Map("itself")),)),
    )  # fmt: skip
    return scene_of(slug, [value], {"Board": Screen(elements)}, refresh=1)


@pytest.mark.parametrize("slug", [PAPER, "mono-oled-128x64", "tft-320x240-touch"])
def test_a_film_shows_what_a_screen_shows_with_its_readings(slug):
    machine, scene = moving(slug)
    _, film = filmed(machine, scene, Program(refresh=1), DAY, modes=scene.device(0).passport.refresh)
    plan = scene.screens[0].plan
    assert len(film) == 24
    read = reader(machine.values[0])
    for number, shot in enumerate(film.shots):
        meant = drawn_in(plan, by_hand(plan, {"v1": read(number * HOUR)})).pixels
        assert (film.pixels(shot.picture) == meant).all(), number


def test_how_long_each_picture_stands():
    machine, scene = hourly("mono-oled-128x64")
    pictures, is_sampled = standing(machine, scene, Program(), DAY)
    assert not is_sampled
    assert len(pictures) == 24
    assert [share for _, share in pictures] == pytest.approx([1 / 24] * 24, abs=1e-4)
    assert sum(share for _, share in pictures) == pytest.approx(1.0)


def test_many_pictures_are_looked_at_in_moments():
    value = Value("v1", "second", high=86_399, stand_in=StandIn("ramp", at=0, every_ms=1000, period_s=86_400))
    line = Element("e1", "text", x=Anchor(plus=4), y=Anchor(plus=30), text="{v1}")
    machine, scene = scene_of("mono-oled-128x64", [value], {"Board": Screen((line,))})
    pictures, is_sampled = standing(machine, scene, Program(), HOUR)
    assert is_sampled
    assert 200 <= len(pictures) <= 241
    assert sum(share for _, share in pictures) == pytest.approx(1.0)


def test_a_film_ends_where_there_is_too_much():
    machine, scene = hourly()
    _, film = filmed(machine, scene, Program(refresh=1), DAY, modes=MODES, most=5)
    assert (len(film), film.length_ms) == (5, film.shots[-1].at_ms)
    assert sum(film.lasting_ms()) == film.length_ms - film.shots[0].at_ms
    whole = filmed(machine, scene, Program(refresh=1), DAY, modes=MODES)[1]
    assert whole.key != film.key
