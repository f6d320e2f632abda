"""What is done with screens: nothing that was placed by something breaks when that moves or goes."""

import pytest

from mosaic.errors import BadValueError
from mosaic.screens import editing
from mosaic.screens.plan import part_boxes
from mosaic.screens.rendering import render
from mosaic.screens.screen import Anchor, Design, Element, Ground, Guide, Screen, Size
from tests.mosaic.screens.made_up import all_kinds, device, kit_of

BOARD = device("tft-320x240-touch")


def boxes_of(screen: Screen, design: Design | None = None):
    return render(screen, BOARD, kit_of(BOARD, design)).boxes


def corners(screen: Screen, *ids: str):
    boxes = boxes_of(screen)
    return [(boxes[i].x, boxes[i].y) for i in ids]


CORNER = Anchor()


def rect(ident, x=CORNER, y=CORNER, w=20, h=10, **more):
    return Element(ident, "rectangle", x=x, y=y, width=Size("pixels", w), height=Size("pixels", h), **more)


THREE = Screen(
    (
        rect("e1", Anchor(plus=10), Anchor(plus=20)),
        rect("e2", Anchor("start", "e1", "end", 4), Anchor("start", "e1"), 30, 16),
        rect("e3", Anchor("start", "e2", "start", 1), Anchor("start", "e2", "end", 5), 8, 6),
    )
)


def test_moving_changes_offsets_and_never_what_something_is_placed_by():
    moved = editing.moved(THREE, ["e1"], 5, -2)
    assert corners(moved, "e1", "e2", "e3") == [(15, 18), (39, 18), (40, 39)]
    assert moved.element("e2") == THREE.element("e2")
    alone = editing.moved(THREE, ["e2"], 3, 0)
    assert corners(alone, "e1", "e2", "e3") == [(10, 20), (37, 20), (38, 41)]
    assert alone.element("e2").x == Anchor("start", "e1", "end", 7)


def test_what_follows_something_that_is_moved_too_is_moved_once():
    both = editing.moved(THREE, ["e1", "e2", "e3"], 7, 7)
    assert corners(both, "e1", "e2", "e3") == [(17, 27), (41, 27), (42, 48)]


def test_a_member_of_a_row_is_moved_across_it_only():
    row, ident = editing.grouped(THREE, ["e1", "e2"], "row", boxes_of(THREE))
    before = corners(row, "e1", "e2")
    after = corners(editing.moved(row, ["e2"], 50, 3), "e1", "e2")
    assert after == [before[0], (before[1][0], before[1][1] + 3)]
    assert boxes_of(row)[ident].x == 10


def test_offsets_are_held_within_their_bounds():
    far = editing.moved(THREE, ["e1"], 4096, 0)
    assert far.element("e1").x.plus == 4096


def test_moves_end_on_the_window_grid():
    box = boxes_of(THREE)["e1"]
    assert editing.on_grid(box, 0, 0, (8, 1)) == (-2, 0)
    assert editing.on_grid(box, 3, 3, (8, 1)) == (6, 3)
    assert editing.on_grid(box, 1, 0, (8, 1)) == (-2, 0)


def test_removing_leaves_the_others_where_they_stand():
    before = boxes_of(THREE)
    left = editing.removed(THREE, ["e1"], before)
    assert corners(left, "e2", "e3") == [(34, 20), (35, 41)]
    wide = Screen((*THREE.elements, Element("e4", "bar", width=Size("as", to="e2"), height=Size("until", to="e2"))))
    kept = editing.removed(wide, ["e2"], boxes_of(wide))
    assert (kept.element("e4").width, kept.element("e4").height) == (Size("pixels", 30), Size("pixels", 36))


def test_removing_what_holds_others_frees_them():
    held, ident = editing.grouped(THREE, ["e1", "e2"], "group", boxes_of(THREE))
    assert corners(held, "e1", "e2", "e3") == corners(THREE, "e1", "e2", "e3")
    freed = editing.removed(held, [ident], boxes_of(held))
    assert corners(freed, "e1", "e2", "e3") == corners(THREE, "e1", "e2", "e3")
    fewer = editing.removed(held, ["e1"], boxes_of(held))
    assert fewer.element(ident).members == ("e2",)


def test_groups_are_refused_where_they_cannot_be():
    with pytest.raises(BadValueError, match="choose two elements or more to make a row of them"):
        editing.grouped(THREE, ["e1"], "row", boxes_of(THREE))
    held, _ = editing.grouped(THREE, ["e1", "e2"], "group", boxes_of(THREE))
    with pytest.raises(BadValueError, match="stands in a group already"):
        editing.grouped(held, ["e2", "e3"], "group", boxes_of(held))


def test_a_column_takes_its_members_from_the_top():
    held, ident = editing.grouped(THREE, ["e3", "e1"], "column", boxes_of(THREE))
    assert held.element(ident).members == ("e1", "e3")
    assert corners(held, "e1", "e3") == [(10, 20), (35, 34)]


def test_copies_stand_aside_and_follow_their_own_originals():
    twice, ids = editing.duplicated(THREE, ["e1", "e2"])
    assert ids == ("e4", "e5")
    assert corners(twice, "e4", "e5") == [(18, 28), (42, 28)]
    assert twice.element("e5").x.to == "e4"
    group, ident = editing.grouped(THREE, ["e1", "e2"], "group", boxes_of(THREE))
    again, ids = editing.duplicated(group, [ident])
    assert len(ids) == 3
    assert set(again.element(next(i for i in ids if again.element(i).kind == "group")).members) < set(ids)


@pytest.mark.parametrize(
    ("how", "places"),
    [
        ("left", [(10, 20), (10, 20)]), ("right", [(10, 20), (0, 20)]), ("centre", [(10, 20), (5, 20)]),
        ("top", [(10, 20), (34, 20)]), ("bottom", [(10, 20), (34, 14)]), ("middle", [(10, 20), (34, 17)]), ("base", [(10, 20), (34, 14)]),
    ],
)  # fmt: skip
def test_lines_made_the_same(how, places):
    assert corners(editing.aligned(THREE, ["e1", "e2"], how, boxes_of(THREE)), "e1", "e2") == places


def test_aligning_never_makes_a_circle():
    backwards = Screen((THREE.elements[1], THREE.elements[0]))  # the first in order is placed by the second
    lined = editing.aligned(backwards, ["e1", "e2"], "left", boxes_of(backwards))
    assert corners(lined, "e2", "e1") == [(34, 20), (34, 20)]
    with pytest.raises(BadValueError, match="choose two elements or more to align"):
        editing.aligned(THREE, ["e1"], "left", boxes_of(THREE))
    with pytest.raises(BadValueError, match="sideways is no way to align; left, centre"):
        editing.aligned(THREE, ["e1", "e2"], "sideways", boxes_of(THREE))


def test_equal_gaps_between_the_outermost():
    loose = Screen(tuple(rect(f"e{n}", Anchor(plus=x), w=10) for n, x in enumerate((100, 5, 20, 33), 1)))
    spread = editing.distributed(loose, ["e1", "e2", "e3", "e4"], True, boxes_of(loose))
    # From 5 to 110 there are 105; 40 are taken, so the gaps are 21, 22 and 22.
    assert [x for x, _ in corners(spread, "e2", "e3", "e4", "e1")] == [5, 36, 68, 100]
    with pytest.raises(BadValueError, match="three elements or more"):
        editing.distributed(loose, ["e1", "e2"], True, boxes_of(loose))


def test_order_changes_what_lies_over_what():
    assert [e.id for e in editing.ordered(THREE, "e1", 2).elements] == ["e2", "e3", "e1"]
    assert [e.id for e in editing.ordered(THREE, "e3", -5).elements] == ["e3", "e1", "e2"]
    assert [e.id for e in editing.ordered(THREE, "e1", 99).elements] == ["e2", "e3", "e1"]
    with pytest.raises(BadValueError, match="e9 is not on this screen any more"):
        editing.ordered(THREE, "e9", 0)


def test_new_elements_stand_below_another_or_in_the_corner():
    boxes = boxes_of(THREE)
    screen, ident = editing.added(THREE, "bar", boxes, 240, under="e2")
    assert corners(screen, ident) == [(34, 40)]
    low = Screen((rect("e1", y=Anchor(plus=223)),))
    for room, corner in ((242, (0, 237)), (241, (4, 4))):
        assert corners(editing.added(low, "bar", boxes_of(low), room, under="e1")[0], "e2") == [corner]


def test_guides_come_and_go():
    guided, ident = editing.with_guide(THREE, upright=True, plus=12, name="margin")
    stood = editing.changed(guided, "e3", x=Anchor("start", ident))
    assert corners(stood, "e3") == [(12, 41)]
    assert corners(editing.changed_guide(stood, ident, plus=40), "e3") == [(40, 41)]
    assert corners(editing.without_guide(stood, ident, boxes_of(stood)), "e3") == [(12, 41)]
    assert editing.without_guide(stood, ident, boxes_of(stood)).guides == ()
    with pytest.raises(BadValueError, match="the guide g7 is not there"):
        editing.changed_guide(stood, "g7", plus=0)


def test_elements_copied_to_another_screen_stand_at_the_same_places():
    other = Screen((rect("e1", w=3),), (Guide("e2"),), Ground())
    there = editing.copied_to(other, THREE, ["e2", "e3"], boxes_of(THREE))
    assert corners(there, "e3", "e4") == [(34, 20), (35, 41)]
    assert there.element("e4").x.to == "e3"


def test_a_shared_part_stands_where_its_elements_stood():
    before = render(THREE, BOARD, kit_of(BOARD)).pixels
    screen, design, ident = editing.made_a_part(THREE, Design(), ["e2", "e3"], "Foot", boxes_of(THREE))
    assert [e.id for e in screen.elements] == ["e1", ident]
    assert (design.parts[0].width, design.parts[0].height) == (30, 27)
    assert (render(screen, BOARD, kit_of(BOARD, design)).pixels == before).all()
    with pytest.raises(BadValueError, match="holds no other shared part"):
        editing.made_a_part(screen, design, [ident], "Foot", boxes_of(screen, design))
    with pytest.raises(BadValueError, match="choose what the shared part is to hold"):
        editing.made_a_part(THREE, Design(), [], "Foot", {})


def test_a_shared_part_is_taken_apart_worked_on_and_put_back_on_all_screens():
    screen, design, ident = editing.made_a_part(THREE, Design(), ["e2", "e3"], "Foot", boxes_of(THREE))
    before = render(screen, BOARD, kit_of(BOARD, design))
    inner = part_boxes(design.parts[0], before.boxes[ident], before.kit)
    loose, ids = editing.taken_apart(screen, ident, design.parts[0], inner, before.boxes)
    assert (render(loose, BOARD, kit_of(BOARD, design)).pixels == before.pixels).all()
    assert loose.element(ids[1]).x.to == ids[0]
    wider = editing.changed(loose, ids[0], width=Size("pixels", 44))
    again, changed, _ = editing.made_a_part(wider, design, ids, "other", boxes_of(wider), into="p1")
    assert [(part.id, part.name, part.width) for part in changed.parts] == [("p1", "Foot", 44)]
    assert again.elements[-1].part == "p1"


def test_too_many_elements_are_refused():
    full = Screen(tuple(rect(f"a{n}") for n in range(300)))
    with pytest.raises(BadValueError, match="301 elements are too many for a screen; up to 300"):
        editing.added(full, "bar", {}, 240)


def test_every_element_of_a_full_screen_can_be_moved_and_removed_alone():
    screen = all_kinds(BOARD)
    boxes = boxes_of(screen)
    for element in screen.elements:
        rest = editing.removed(screen, [element.id], boxes)
        assert boxes_of(rest) == {ident: box for ident, box in boxes.items() if ident != element.id}
