"""Each rule on values: a screen that has the finding, the last one that has it not, and the fix that takes it away."""

from dataclasses import replace

import pytest

from mosaic.findings import screens as screen_rules
from mosaic.findings import values as rules
from mosaic.findings.rules import screen_findings
from mosaic.findings.subjects import ScreenSubject
from mosaic.screens.calls import Font
from mosaic.screens.moments import states_of
from mosaic.screens.plan import planned
from mosaic.screens.rendering import drawn_in
from mosaic.screens.screen import Anchor, Design, Element, Follow, Ground, Screen, Size
from mosaic.values.maps import Map
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Source, Value
from tests.mosaic.screens.made_up import device, kit_of
from workshop.screens.acts import Asked, carried_out
from workshop.screens.value_services import mended as mended_value

TIDE = Value("v1", "tide", decimals=1, low=0, high=68, unit="m")
SENSOR = Source("level sensor", every_ms=1000)


def subject(elements, *values, slug="mono-oled-128x64", ground=None):
    dev = device(slug)
    kit = kit_of(dev, Design(values=values or (TIDE,)))
    font = kit.letterings["lettering-1"].lettering
    uneven = replace(font, glyphs=tuple(replace(g, advance=g.advance - (g.code == ord("1"))) for g in font.glyphs))
    kit = replace(kit, letterings={**kit.letterings, "lettering-3": Font("uneven", uneven)})
    plan = planned(Screen(tuple(elements), ground=ground or Ground()), dev, kit)
    looks = tuple(drawn_in(plan, state) for state in states_of(plan))
    return ScreenSubject(dev, looks[0], looks)


def shows(text="{v1}", ident="e1", **more):
    return Element(ident, "text", x=Anchor(plus=4), y=Anchor(plus=8), text=text, **more)


def fixed(found, before):
    """The subject after a finding's fix, as the page carries it out."""
    changes, rendered = found.fix.changes, before.rendered
    design = rendered.kit.design
    if changes["act"] == "value":
        values = tuple(mended_value(v, changes["fields"]) if v.id == changes["value"] else v for v in design.values)
        return subject(rendered.screen.elements, *values, slug=before.device.passport.slug, ground=rendered.screen.ground)
    ids = (changes["ids"],) if changes["ids"] else ()
    done = carried_out(changes["act"], Asked(rendered.screen, rendered, ids, {**changes})).screen
    return subject(done.elements, *design.values, slug=before.device.passport.slug, ground=done.ground)


def mended(rule, before):
    found = rule(before)
    assert len(found) == 1, found
    assert found[0].fix is not None
    assert not rule(fixed(found[0], before)), found[0].fix
    return found[0]


def test_a_value_that_is_gone_is_told_of_its_element():
    gone = mended(rules.values_gone, subject([Element("e1", "bar", follows=(Follow("value", "v9"),))]))
    assert gone.what == "the bar e1 follows a value that is not there any more"
    assert "names no value yet" in mended(rules.values_gone, subject([Element("e1", "plot")])).what
    assert rules.values_gone(subject([Element("e1", "bar", follows=(Follow("value", "v1"),))])) == []


@pytest.mark.parametrize(("less", "told"), [(0, False), (1, True)])
def test_a_place_one_pixel_too_narrow_for_the_widest(less, told):
    probe = subject([shows()])
    wide = probe.rendered.boxes["e1"].width
    narrow = subject([shows(width=Size("pixels", wide - less))])
    if not told:
        assert rules.too_wide_for_their_place(narrow) == []
        return
    found = mended(rules.too_wide_for_their_place, narrow)
    assert (found.severity, found.fix.changes["width_pixels"]) == ("must fix", wide)
    assert rules.too_wide_for_their_place(subject([shows(width=Size("pixels", wide - 1), overflow="clip")])) == []
    at_the_edge = subject([shows(width=Size("pixels", wide - 1), **{"align": "start"})])
    edge = replace(at_the_edge.rendered.screen.elements[0], x=Anchor(plus=128 - wide + 1))
    assert mended(rules.too_wide_for_their_place, subject([edge])).fix.changes["overflow"] == "dashes"
    for what, way in (("width", "overflow"), ("shown", "width_pixels")):  # room is made where nothing else sets it
        follows = shows("{v1} above zero", width=Size("pixels", 12), follows=(Follow(what, "v1"),))
        assert way in rules.too_wide_for_their_place(subject([follows]))[0].fix.changes


@pytest.mark.parametrize("absent", ["", " ", "0"])
def test_nothing_and_nought_look_measured(absent):
    assert mended(rules.looks_measured, subject([shows()], replace(TIDE, absent=absent))).severity == "must fix"
    assert rules.looks_measured(subject([shows()], replace(TIDE, absent="-"))) == []


def test_a_reading_that_never_grows_old_freezes():
    found = mended(rules.looks_measured, subject([shows()], replace(TIDE, source=SENSOR)))
    assert found.fix.label == "Show -- after 3 s"
    assert rules.looks_measured(subject([shows()], replace(TIDE, source=SENSOR, max_age_s=9, stale="old"))) == []
    slow = replace(TIDE, source=replace(SENSOR, every_ms=60_001))
    assert mended(rules.looks_measured, subject([shows()], slow)).fix.label == "Show -- after 181 s"


@pytest.mark.parametrize("value", [
    replace(TIDE, stand_in=StandIn("list", listed=(0, 69))), replace(TIDE, stand_in=StandIn("constant", at=-1)),
    replace(TIDE, source=Source(points=((0, 0), (9, 70)))), replace(TIDE, stand_in=StandIn("replay", replayed=((0, 5), (1, 99)))),
])  # fmt: skip
def test_stand_ins_and_sources_beyond_the_range(value):
    assert "its range is 0.0 to 6.8" in mended(rules.beyond_their_range, subject([shows()], value)).what


@pytest.mark.parametrize(("raws", "worst"), [((-3, 70), "-0.3"), ((-1, 70), "7.0"), ((-40, -5), "-4.0")])
def test_what_lies_furthest_beyond_the_range_is_told(raws, worst):
    """Of 0.0 to 6.8 m."""
    (found,) = rules.beyond_their_range(subject([shows()], replace(TIDE, stand_in=StandIn("list", listed=raws))))
    assert f"gives {worst};" in found.what


def test_the_ends_of_the_range_are_within_it():
    assert rules.beyond_their_range(subject([shows()], replace(TIDE, stand_in=StandIn("list", listed=(0, 68))))) == []


def test_units_unlike_the_source_s():
    other = replace(TIDE, source=Source(unit="cm"))
    assert "shown in m and read in cm" in mended(rules.units_differ, subject([shows()], other)).what
    assert rules.units_differ(subject([shows()], replace(other, source=Source(unit="cm", points=((0, 0), (680, 68)))))) == []


@pytest.mark.parametrize(
    ("known", "missed"), [(None, False), ((50, 30), False), ((50, 34), False), ((50, 35), True), ((50, 29), True)]
)
def test_a_known_point_that_the_points_miss(known, missed):
    before = subject([shows()], replace(TIDE, step=2, source=Source(points=((0, 0), (100, 64)), known=known)))
    assert bool(rules.known_point_missed(before)) == missed
    if missed:
        mended(rules.known_point_missed, before)


def test_digits_that_are_not_equally_wide_jump_unless_they_stand_on_their_right():
    assert rules.digits_jump(subject([shows()])) == []
    before = subject([shows(lettering="lettering-3")])
    assert "px wide" in mended(rules.digits_jump, before).what
    assert rules.digits_jump(subject([shows(text="ebb", lettering="lettering-3")])) == []


@pytest.mark.parametrize(("step", "hidden"), [(1, True), (9, True), (10, False)])
def test_rounding_that_hides_more_than_ten_steps(step, hidden):
    before = subject([shows("{v1:.0}")], Value("v1", "tide", decimals=2, high=680, step=step))
    assert bool(rules.rounding_hides(before)) == hidden
    if hidden:
        assert mended(rules.rounding_hides, before).fix.then == ".1"


@pytest.mark.parametrize(("text", "align", "moves"), [
    ("Tide {v1}", "start", False), ("{v1} m", "start", True), ("{v1} m", "end", False), ("Tide {v1}", "end", True),
    ("Tide {v1}", "middle", True), ("{v1}", "middle", False),
])  # fmt: skip
def test_fixed_words_that_move_with_a_value(text, align, moves):
    before = subject([shows(text, align=align)], Value("v1", "tide", high=120))
    assert bool(rules.words_move(before)) == moves
    if moves:
        mended(rules.words_move, before)


def test_a_window_off_the_grid_of_pages():
    bar = Element(
        "e1", "bar", x=Anchor(plus=4), y=Anchor(plus=4), height=Size("pixels", 8), high=68, follows=(Follow("value", "v1"),)
    )
    found = mended(rules.off_the_window_grid, subject([bar]))
    assert "windows of 1,280 px; 640 px would do" in found.what
    assert rules.off_the_window_grid(subject([replace(bar, y=Anchor(plus=8))])) == []
    assert len(rules.off_the_window_grid(subject([replace(bar, x=Anchor(), width=Size("pixels", 128))]))) == 1  # up to both edges


def test_of_all_rules_those_alone_find_something_that_should():
    """Letters of 7 rows on this small glass, and nothing that would tell an old reading from a new one."""
    tide = replace(TIDE, source=SENSOR, absent="--", max_age_s=60)
    beside = [
        Element("e2", "rectangle", x=Anchor(plus=80), y=Anchor(plus=40)),
        Element("e3", "line", y=Anchor(plus=40)),
        shows(" ", ident="e4"),
    ]
    found = [one.id.partition(".")[2] for one in screen_findings(subject([shows(width=Size("pixels", 60)), *beside], tide))]
    assert found == ["too-small", "freezes"]


@pytest.mark.parametrize(("height", "told"), [(12, False), (13, True)])
def test_a_fifth_of_an_oled_that_is_always_bright(height, told):
    area = Element("e1", "rectangle", width=Size("as"), height=Size("pixels", height))
    before = subject([area])
    assert bool(rules.bright_for_ever(before)) == told
    if told:
        mended(rules.bright_for_ever, before)
    assert rules.bright_for_ever(subject([area], slug="tft-320x240-touch")) == []
    assert (
        rules.bright_for_ever(
            subject([replace(area, height=Size("as"), follows=(Follow("shown", "v1", Map("steps", ((0, 0), (9, 1)))),))])
        )
        == []
    )


def test_a_bright_ground_is_exchanged_for_a_dark_one():
    mended(rules.bright_for_ever, subject([Element("e1", "text", text="Ebb", color="ground")], ground=Ground("color", "ink")))


def test_values_that_come_faster_than_the_link_can_show_them():
    fast = replace(TIDE, source=replace(SENSOR, every_ms=1))
    area = Element(
        "e1",
        "rectangle",
        width=Size("as"),
        height=Size("as"),
        follows=(Follow("color", "v1", Map("steps", ((0, 0), (34, 0)), ("ink", "ground"))),),
    )
    found = mended(rules.slower_than_its_values, subject([area], fast, slug="tft-320x240-touch"))
    assert "is read every 1 ms" in found.what
    assert rules.slower_than_its_values(subject([area], fast, slug="mono-oled-128x64"))[0].id == "screen.slower-than-values"
    assert rules.slower_than_its_values(subject([area], replace(fast, source=SENSOR))) == []


def test_what_follows_in_vain():
    still = Element("e1", "rectangle", follows=(Follow("radius", "v1"),))
    assert "looks the same in every state" in mended(rules.nothing_changes, subject([still])).what
    assert rules.nothing_changes(subject([Element("e1", "bar", high=68, follows=(Follow("value", "v1"),))])) == []


def test_rules_look_at_every_state():
    low = Element("e1", "text", x=Anchor(plus=20), y=Anchor(plus=4), text="Ebb")
    moving = Element(
        "e2",
        "text",
        x=Anchor(plus=90),
        y=Anchor(plus=4),
        text="Oar",
        follows=(Follow("x", "v1", Map("steps", ((0, 20), (30, 90)))),),
    )
    found = screen_rules.text_over_text(subject([low, moving]))
    assert [finding.what.split(", in ")[1] for finding in found] == ["the state “lowest”"]
    covered = [
        Element("e1", "rectangle"),
        Element("e2", "rectangle", follows=(Follow("shown", "v1", Map("steps", ((0, 0), (10, 1)))),)),
    ]
    assert screen_rules.hidden_by_others(subject(covered)) == []
    assert len(screen_rules.hidden_by_others(subject([covered[0], replace(covered[1], follows=())]))) == 1
