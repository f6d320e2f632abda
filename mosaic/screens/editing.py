"""What a maker does with a screen, each as a function from one screen to the next.

What is taken away never breaks what was placed by it: that stays where it stands, placed from the glass.
"""

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, Literal

from mosaic.errors import BadValueError
from mosaic.screens.kinds import KINDS
from mosaic.screens.placing import Box
from mosaic.screens.screen import MOST_ELEMENTS, Anchor, Design, Element, Guide, Part, Screen, Size, new_id

Boxes = Mapping[str, Box]
How = Literal["left", "centre", "right", "top", "middle", "bottom", "base"]
LINES: dict[str, tuple[bool, Any]] = {
    "left": (True, "start"), "centre": (True, "middle"), "right": (True, "end"),
    "top": (False, "start"), "middle": (False, "middle"), "bottom": (False, "end"), "base": (False, "base"),
}  # fmt: skip
"""Ways to align: along x or not, and the line that is made the same."""
BELOW_PX, ASIDE_PX, FAR = 4, 8, 4096


def with_elements(screen: Screen, elements: Any) -> Screen:
    """The screen with other elements; raises `BadDescriptionError` where they do not go together, or are too many."""
    elements = tuple(elements)
    if len(elements) > MOST_ELEMENTS:
        raise BadValueError(f"{len(elements)} elements are too many for a screen; up to {MOST_ELEMENTS} are accepted")
    return replace(screen, elements=elements)


def _map(screen: Screen, change: Mapping[str, Element]) -> Screen:
    return with_elements(screen, (change.get(element.id, element) for element in screen.elements))


def ids_of(screen: Screen) -> set[str]:
    return {element.id for element in screen.elements} | {guide.id for guide in screen.guides}


def known(screen: Screen, ids: Any) -> tuple[str, ...]:
    """Those of the ids that the screen has, in drawing order."""
    wanted = set(ids)
    return tuple(element.id for element in screen.elements if element.id in wanted)


def changed(screen: Screen, ident: str, **fields: Any) -> Screen:
    """One element with other fields."""
    element = screen.element(ident)
    if element is None:
        raise BadValueError(f"{ident} is not on this screen any more; load it again")
    return _map(screen, {ident: replace(element, **fields)})


def added(screen: Screen, kind: str, boxes: Boxes, room: int, *, under: str = "", **fields: Any) -> tuple[Screen, str]:
    """A new element over all others, and its id: below another one, or in the safe corner where no row of `room` is left."""
    ident = new_id(ids_of(screen))
    if under in boxes and boxes[under].bottom + 2 * BELOW_PX < room:
        place = {"x": Anchor("start", under, "start"), "y": Anchor("start", under, "end", BELOW_PX)}
    else:
        place = {"x": Anchor("start", "safe", "start", BELOW_PX), "y": Anchor("start", "safe", "start", BELOW_PX)}
    element = Element(id=ident, kind=kind, **{**place, **KINDS[kind].first, **fields})  # type: ignore[arg-type]
    return with_elements(screen, (*screen.elements, element)), ident


def recolored(screen: Screen, told: str, shown: str) -> Screen:
    """Every element that has one colour with another in its place."""
    change = {}
    for element in screen.elements:
        color, second = (shown if name == told else name for name in (element.color, element.second))
        change[element.id] = replace(element, color=color, second=second)
    return _map(screen, change)


def exchanged(screen: Screen) -> Screen:
    """The screen with ink for ground and ground for ink, wherever they are named or left open."""
    other = {"ink": "ground", "ground": "ink", "": "ground"}
    change = {
        e.id: replace(e, color=other.get(e.color, e.color), second=other[e.second] if e.second in ("ink", "ground") else e.second)
        for e in screen.elements
    }
    ground = screen.ground
    return _map(replace(screen, ground=replace(ground, color=other.get(ground.color, ground.color))), change)


def _follows(element: Element, moving: set[str], across: bool, screen: Screen) -> bool:
    """Whether an element moves along by itself when others do."""
    holder = next((one for one in screen.elements if element.id in one.members), None)
    if holder is not None and holder.kind in ("row", "column") and (holder.kind == "row") == across:
        return True
    return (element.x if across else element.y).to in moving


def _plus(anchor: Anchor, more: int) -> Anchor:
    return replace(anchor, plus=max(-FAR, min(FAR, anchor.plus + more)))


def moved(screen: Screen, ids: Any, dx: int, dy: int) -> Screen:
    """Elements moved by pixels: the offset of their anchors changes, never what they are placed by."""
    moving = set(known(screen, ids))
    change = {}
    for element in screen.elements:
        if element.id not in moving:
            continue
        x = element.x if not dx or _follows(element, moving, True, screen) else _plus(element.x, dx)
        y = element.y if not dy or _follows(element, moving, False, screen) else _plus(element.y, dy)
        change[element.id] = replace(element, x=x, y=y)
    return _map(screen, change)


def on_grid(box: Box, dx: int, dy: int, grid: tuple[int, int]) -> tuple[int, int]:
    """The move that brings a box's corner to the nearest place of a grid."""
    across, down = (round((at + by) / step) * step - at for at, by, step in ((box.x, dx, grid[0]), (box.y, dy, grid[1])))
    return across, down


def ordered(screen: Screen, ident: str, to: int) -> Screen:
    """An element drawn as the one with this number, from 0, the first beneath all others."""
    element = screen.element(ident)
    if element is None:
        raise BadValueError(f"{ident} is not on this screen any more; load it again")
    rest = [one for one in screen.elements if one.id != ident]
    rest.insert(max(0, min(to, len(rest))), element)
    return with_elements(screen, rest)


def _freed(element: Element, gone: set[str], boxes: Boxes) -> Element:
    """An element that is placed by nothing of what goes: it stays where it stands."""
    box, change = boxes.get(element.id, Box(0, 0, 0, 0, 0)), dict[str, Any]()
    if element.x.to in gone:
        change["x"] = Anchor("start", "glass", "start", box.x)
    if element.y.to in gone:
        change["y"] = Anchor("start", "glass", "start", box.y)
    if element.width.by in ("as", "until") and element.width.to in gone:
        change["width"] = Size("pixels", max(0, box.width))
    if element.height.by in ("as", "until") and element.height.to in gone:
        change["height"] = Size("pixels", max(0, box.height))
    if gone & set(element.members):
        change["members"] = tuple(member for member in element.members if member not in gone)
    return replace(element, **change) if change else element


def depends_on(element: Element, ids: set[str]) -> bool:
    """Whether an element is placed by one of these, or as large as one."""
    sizes = (element.width, element.height)
    return element.x.to in ids or element.y.to in ids or any(s.by in ("as", "until") and s.to in ids for s in sizes)


def removed(screen: Screen, ids: Any, boxes: Boxes) -> Screen:
    """The screen without these; what was placed by them, and members of what held them, stay where they stand."""
    gone = set(ids)
    held = {member for element in screen.elements if element.id in gone for member in element.members} - gone
    rest = []
    for element in screen.elements:
        if element.id in gone:
            continue
        one = _freed(element, gone, boxes)
        if element.id in held and element.id in boxes:
            box = boxes[element.id]
            one = replace(one, x=Anchor("start", "glass", "start", box.x), y=Anchor("start", "glass", "start", box.y))
        rest.append(one)
    return with_elements(screen, rest)


def _renamed(element: Element, names: Mapping[str, str], dx: int, dy: int) -> Element:
    """A copy under a new id; what it is placed by is the copy of it, where that is copied too."""
    x, y = (replace(a, to=names.get(a.to, a.to)) for a in (element.x, element.y))
    return replace(
        element, id=names[element.id],
        x=x if element.x.to in names else _plus(x, dx), y=y if element.y.to in names else _plus(y, dy),
        width=replace(element.width, to=names.get(element.width.to, element.width.to)),
        height=replace(element.height, to=names.get(element.height.to, element.height.to)),
        members=tuple(names[m] for m in element.members if m in names),
    )  # fmt: skip


def with_members(screen: Screen, ids: Any) -> tuple[str, ...]:
    """These and all that they hold, in drawing order."""
    wanted, before = set(ids), -1
    while len(wanted) != before:
        before = len(wanted)
        wanted |= {m for element in screen.elements if element.id in wanted for m in element.members}
    return known(screen, wanted)


def duplicated(screen: Screen, ids: Any) -> tuple[Screen, tuple[str, ...]]:
    """Copies of elements a little aside, over all others; and their ids."""
    taken, names = ids_of(screen), {}
    for ident in with_members(screen, ids):
        names[ident] = new_id(taken)
        taken.add(names[ident])
    copies = [_renamed(e, names, ASIDE_PX, ASIDE_PX) for e in screen.elements if e.id in names]
    return with_elements(screen, (*screen.elements, *copies)), tuple(names.values())


def copied_to(target: Screen, source: Screen, ids: Any, boxes: Boxes) -> Screen:
    """Elements of another screen, at the same places, over what is there."""
    wanted = set(with_members(source, ids))
    outside = ids_of(source) - wanted
    taken, names = ids_of(target), {}
    for element in source.elements:
        if element.id in wanted:
            names[element.id] = new_id(taken)
            taken.add(names[element.id])
    copies = [_renamed(_freed(e, outside, boxes), names, 0, 0) for e in source.elements if e.id in wanted]
    return with_elements(target, (*target.elements, *copies))


def _leads_to(screen: Screen, start: str, ids: set[str], across: bool) -> bool:
    """Whether an element's place follows, over however many others, from one of these."""
    open_, seen = [start], set()
    while open_:
        element = screen.element(open_.pop())
        if element is None or element.id in seen:
            continue
        seen.add(element.id)
        size = element.width if across else element.height
        for to in ((element.x if across else element.y).to, size.to if size.by in ("as", "until") else ""):
            if to in ids:
                return True
            open_.append(to)
    return False


def aligned(screen: Screen, ids: Any, how: str, boxes: Boxes) -> Screen:
    """Elements with a line in common: the first of them in drawing order stays, the others are placed by it."""
    if how not in LINES:
        raise BadValueError(f"{how} is no way to align; {', '.join(LINES)} are accepted")
    chosen = known(screen, ids)
    if len(chosen) < 2:
        raise BadValueError("choose two elements or more to align them")
    across, line = LINES[how]
    first, *others = chosen
    name = "x" if across else "y"
    if _leads_to(screen, first, set(others), across):
        box = boxes[first]
        screen = changed(screen, first, **{name: Anchor("start", "glass", "start", box.x if across else box.y)})
    for other in others:
        screen = changed(screen, other, **{name: Anchor(line, first, line)})
    return screen


def distributed(screen: Screen, ids: Any, across: bool, boxes: Boxes) -> Screen:
    """Elements with equal gaps between the outermost two, which stay; what cannot be shared evenly goes to the last gaps."""
    chosen = [boxes[one] for one in known(screen, ids)]
    if len(chosen) < 3:
        raise BadValueError("choose three elements or more to spread them evenly")
    at = [(b.x, b.width, i) if across else (b.y, b.height, i) for b, i in zip(chosen, known(screen, ids), strict=True)]
    at.sort()
    spare = at[-1][0] - at[0][0] - sum(size for _, size, _ in at[:-1])
    gaps = len(at) - 1
    name = "x" if across else "y"
    start = at[0][0]
    for number, (_, size, ident) in enumerate(at[:-1]):
        if number:
            place = start + spare * number // gaps
            screen = changed(screen, ident, **{name: Anchor("start", "glass", "start", place)})
        start += size
    return screen


def union(boxes: list[Box]) -> Box:
    """The smallest box round others."""
    x, y = min(b.x for b in boxes), min(b.y for b in boxes)
    right, bottom = max(b.right for b in boxes), max(b.bottom for b in boxes)
    return Box(x, y, right - x, bottom - y, bottom)


def grouped(screen: Screen, ids: Any, kind: str, boxes: Boxes) -> tuple[Screen, str]:
    """Elements held by a new group, row or column where they stand; and its id."""
    chosen = known(screen, ids)
    if len(chosen) < 2:
        raise BadValueError(f"choose two elements or more to make a {kind} of them")
    if any(set(chosen) & set(element.members) for element in screen.elements):
        raise BadValueError("one of them stands in a group already; dissolve that first")
    whole, ident = union([boxes[one] for one in chosen]), new_id(ids_of(screen))
    across = kind == "row"
    members = sorted(chosen, key=lambda one: boxes[one].x if across else boxes[one].y) if kind != "group" else list(chosen)
    holder = Element(
        ident, kind, x=Anchor("start", "glass", "start", whole.x), y=Anchor("start", "glass", "start", whole.y),  # type: ignore[arg-type]
        members=tuple(members),
    )  # fmt: skip
    change = {}
    for one in chosen:
        element, box = screen.element(one), boxes[one]
        if element is None:
            continue
        by_x, by_y = Anchor("start", ident, "start", box.x - whole.x), Anchor("start", ident, "start", box.y - whole.y)
        change[one] = replace(element, x=by_x, y=by_y)
    first = screen.elements.index(next(e for e in screen.elements if e.id == chosen[0]))
    elements = list(_map(screen, change).elements)
    return with_elements(screen, (*elements[:first], holder, *elements[first:])), ident


def with_guide(screen: Screen, *, upright: bool, of: Any = "start", plus: int = 0, name: str = "") -> tuple[Screen, str]:
    """One guide more; and its id."""
    ident = new_id(ids_of(screen), "g")
    return replace(screen, guides=(*screen.guides, Guide(ident, name, upright, of, plus))), ident


def changed_guide(screen: Screen, ident: str, **fields: Any) -> Screen:
    """One guide with other fields."""
    if all(guide.id != ident for guide in screen.guides):
        raise BadValueError(f"the guide {ident} is not there any more; load the page again")
    return replace(screen, guides=tuple(replace(g, **fields) if g.id == ident else g for g in screen.guides))


def without_guide(screen: Screen, ident: str, boxes: Boxes) -> Screen:
    """The screen without a guide; what stands on it stays where it stands."""
    screen = replace(screen, guides=tuple(guide for guide in screen.guides if guide.id != ident))
    return with_elements(screen, (_freed(element, {ident}, boxes) for element in screen.elements))


def made_a_part(
    screen: Screen, design: Design, ids: Any, name: str, boxes: Boxes, *, into: str = ""
) -> tuple[Screen, Design, str]:
    """Elements taken into a shared part, which stands in their place; and its element's id.

    `into` names a part that they take the place of, on every screen that shows it.
    """
    chosen = with_members(screen, ids)
    if not chosen:
        raise BadValueError("choose what the shared part is to hold")
    if any(element.kind == "part" for element in screen.elements if element.id in chosen):
        raise BadValueError("a shared part holds no other shared part; leave it out of the choice")
    whole = union([boxes[one] for one in chosen])
    replaced = design.part(into)
    part_id = replaced.id if replaced else new_id({style.id for style in design.styles} | {part.id for part in design.parts}, "p")
    name = (replaced.name if replaced else "") or name
    inside = set(chosen)
    inner = []
    for element in screen.elements:
        if element.id not in inside:
            continue
        one = _freed(element, (ids_of(screen) | {"glass", "safe", *(f"zone{n}" for n in range(1, 10))}) - inside, boxes)
        x = _plus(one.x, -whole.x) if one.x.to == "glass" else one.x
        y = _plus(one.y, -whole.y) if one.y.to == "glass" else one.y
        inner.append(replace(one, x=x, y=y))
    part = Part(part_id, name, max(1, whole.width), max(1, whole.height), tuple(inner))
    ident = new_id(ids_of(screen))
    place = Anchor("start", "glass", "start", whole.x), Anchor("start", "glass", "start", whole.y)
    holder = Element(ident, "part", name=name, x=place[0], y=place[1], part=part_id)
    at = min(number for number, element in enumerate(screen.elements) if element.id in inside)
    rest = removed(screen, chosen, boxes).elements
    before = sum(1 for element in screen.elements[:at] if element.id not in inside)
    return (
        with_elements(screen, (*rest[:before], holder, *rest[before:])),
        replace(design, parts=(*(one for one in design.parts if one.id != part_id), part)), ident,
    )  # fmt: skip


def taken_apart(screen: Screen, ident: str, part: Part, inner: Boxes, boxes: Boxes) -> tuple[Screen, tuple[str, ...]]:
    """A shared part's elements by themselves in its place, to be worked on; and their ids. `inner` are their boxes."""
    taken, names = ids_of(screen), {}
    for element in part.elements:
        names[element.id] = new_id(taken)
        taken.add(names[element.id])
    own = {"glass", "safe"}
    loose = [_renamed(_freed(element, own, inner), names, 0, 0) for element in part.elements]
    at = next((number for number, element in enumerate(screen.elements) if element.id == ident), len(screen.elements))
    rest = removed(screen, [ident], boxes)
    return with_elements(screen, (*rest.elements[:at], *loose, *rest.elements[at:])), tuple(names.values())
