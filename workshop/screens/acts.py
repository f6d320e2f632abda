"""What is posted from the page of a screen, each act by its name: from the screen and what came along to the next screen.

A new act is a function here and its name in `ACTS`; what it does stands in `mosaic.screens.editing`.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

from mosaic.errors import BadValueError, UnknownNameError
from mosaic.forms import to_record
from mosaic.numbers import whole_of
from mosaic.screens import editing
from mosaic.screens.kinds import KINDS
from mosaic.screens.plan import part_boxes
from mosaic.screens.rendering import Rendered
from mosaic.screens.screen import Follow, Screen, Size
from mosaic.values.value import Value
from workshop.screens.follow_rows import first_map, followable

SETTABLE = (
    "text", "lettering", "color", "second", "opaque", "thickness", "shown", "turn", "value", "number", "overflow", "align",
    "shape", "filled", "follows",
)  # fmt: skip


@dataclass(frozen=True)
class Done:
    """The next screen, what is chosen on it then, and words on what came along with it."""

    screen: Screen
    chosen: tuple[str, ...] = ()
    words: str = ""


NAMED = 4
"""Elements that are named at most in words on what an act has done."""


@dataclass(frozen=True)
class Asked:
    """An act: what it is done to, and what came along."""

    screen: Screen
    rendered: Rendered | None
    ids: tuple[str, ...]
    values: dict[str, Any] = field(hash=False)

    @property
    def boxes(self) -> dict[str, Any]:
        return self.rendered.boxes if self.rendered else {}

    def number(self, name: str, low: int = -4096, high: int = 4096) -> int:
        """A whole number that came along; raises `BadValueError`."""
        return whole_of(str(self.values.get(name, "0")), name, low, high)

    def needed(self) -> tuple[str, ...]:
        """What it is done to, of which there is something; raises `BadValueError`."""
        if not self.ids:
            raise BadValueError("nothing is chosen; choose an element of the list first")
        return self.ids


def add(asked: Asked) -> Done:
    kind = str(asked.values.get("kind", ""))
    if kind not in KINDS:
        raise UnknownNameError(f"there is no kind of element called {kind}; {', '.join(KINDS)} are known")
    if KINDS[kind].holds:
        screen, ident = editing.grouped(asked.screen, asked.ids, kind, asked.boxes)
    else:
        room = asked.rendered.surface.rows if asked.rendered else 0
        values = asked.rendered.kit.design.values if asked.rendered else ()
        more = first_value(kind, values)
        screen, ident = editing.added(asked.screen, kind, asked.boxes, room, under=asked.ids[-1] if asked.ids else "", **more)
    return Done(screen, (ident,))


def first_value(kind: str, values: Sequence[Value]) -> dict[str, Any]:
    """What a new element of a kind that shows a value begins with: the first value that it can show."""
    value = next((one for one in values if kind == "value" or (one.is_number and one.bounds[0] < one.bounds[1])), None)
    if value is None or kind not in ("value", "sparkline", "plot"):
        return {}
    return {"of": value.id} if kind == "value" else {"of": value.id, "low": value.bounds[0], "high": value.bounds[1]}


def move(asked: Asked) -> Done:
    dx, dy = asked.number("dx"), asked.number("dy")
    if asked.values.get("grid") and asked.rendered and asked.ids:
        grid = asked.rendered.device.passport.grid
        dx, dy = editing.on_grid(asked.boxes[asked.ids[0]], dx, dy, (grid.x_px, grid.y_px))
    return Done(editing.moved(asked.screen, asked.needed(), dx, dy), asked.ids)


def order(asked: Asked) -> Done:
    return Done(editing.ordered(asked.screen, asked.needed()[0], asked.number("to", 0)), asked.ids)


def earlier(asked: Asked) -> Done:
    return _step(asked, -1)


def later(asked: Asked) -> Done:
    return _step(asked, 1)


def _step(asked: Asked, by: int) -> Done:
    ident = asked.needed()[0]
    at = [element.id for element in asked.screen.elements].index(ident)
    return Done(editing.ordered(asked.screen, ident, at + by), asked.ids)


def remove(asked: Asked) -> Done:
    gone = set(asked.needed())
    left = [e for e in asked.screen.elements if e.id not in gone and editing.depends_on(e, gone)]
    words = ""
    if left and asked.rendered:
        names = ", ".join(asked.rendered.kit.called(element) for element in left[:NAMED])
        words = f"{names}{' and others' if len(left) > NAMED else ''} stood by it, and stay where they are."
    return Done(editing.removed(asked.screen, gone, asked.boxes), words=words)


def duplicate(asked: Asked) -> Done:
    return Done(*editing.duplicated(asked.screen, asked.needed()))


def align(asked: Asked) -> Done:
    return Done(editing.aligned(asked.screen, asked.needed(), str(asked.values.get("how", "")), asked.boxes), asked.ids)


def spread(asked: Asked) -> Done:
    return Done(editing.distributed(asked.screen, asked.needed(), asked.values.get("how") == "across", asked.boxes), asked.ids)


def set_fields(asked: Asked) -> Done:
    """Fields that a fix sets."""
    fields = {name: asked.values[name] for name in SETTABLE if name in asked.values}
    if "follows" in fields:
        fields["follows"] = tuple(to_record(follow, Follow, "what follows a value") for follow in fields["follows"])
    if "width_pixels" in asked.values:
        fields["width"] = Size("pixels", asked.number("width_pixels", 0))
    return Done(editing.changed(asked.screen, asked.needed()[0], **fields), asked.ids)


def take_apart(asked: Asked) -> Done:
    """A shared part as the elements it holds."""
    ident = asked.needed()[0]
    element = asked.screen.element(ident)
    part = asked.rendered.kit.design.part(element.part) if asked.rendered and element else None
    if part is None or asked.rendered is None:
        raise BadValueError("this is no shared part that could be taken apart")
    inner = part_boxes(part, asked.boxes[ident], asked.rendered.kit)
    return Done(*editing.taken_apart(asked.screen, ident, part, inner, asked.boxes))


def recolor(asked: Asked) -> Done:
    """One colour of the screen in place of another, wherever it stands."""
    return Done(editing.recolored(asked.screen, str(asked.values.get("told", "")), str(asked.values.get("shown", ""))), asked.ids)


def follow(asked: Asked) -> Done:
    """A number or colour of the chosen one follows a value from now on."""
    ident, what = asked.needed()[0], str(asked.values.get("what", ""))
    element = asked.screen.element(ident)
    design = asked.rendered.kit.design if asked.rendered else None
    value = design.value(str(asked.values.get("value_id", ""))) if design else None
    if element is None or what not in dict(followable(element)):
        raise BadValueError("that cannot follow a value here, or it does already")
    if value is None or not value.is_number:
        raise BadValueError(
            "there is no such value; numbers, times, words and yes/no can be followed. Make one on the page Values"
        )
    fields: dict[str, Any] = {"follows": (*element.follows, Follow(what, value.id, first_map(what, value, element)))}  # type: ignore[arg-type]
    if what == "value" and value.bounds[0] < value.bounds[1]:
        fields |= {"low": value.bounds[0], "high": value.bounds[1]}
    return Done(editing.changed(asked.screen, ident, **fields), asked.ids)


def unfollow(asked: Asked) -> Done:
    """What followed a value stands still again."""
    ident, what = asked.needed()[0], str(asked.values.get("what", ""))
    element = asked.screen.element(ident)
    left = tuple(one for one in element.follows if one.what != what) if element else ()
    return Done(editing.changed(asked.screen, ident, follows=left), asked.ids)


def exchange(asked: Asked) -> Done:
    """Ink for ground and ground for ink."""
    return Done(editing.exchanged(asked.screen), asked.ids)


def guide(asked: Asked) -> Done:
    """One guide more."""
    of = str(asked.values.get("guide_of", "start"))
    screen, _ = editing.with_guide(
        asked.screen, upright=asked.values.get("guide_upright") == "1", of=of, plus=asked.number("guide_plus"),
        name=str(asked.values.get("guide_name", ""))[:60],
    )  # fmt: skip
    return Done(screen, asked.ids)


def drop_guide(asked: Asked) -> Done:
    return Done(editing.without_guide(asked.screen, str(asked.values.get("guide", "")), asked.boxes), asked.ids)


def move_guide(asked: Asked) -> Done:
    ident = str(asked.values.get("guide", ""))
    return Done(editing.changed_guide(asked.screen, ident, plus=asked.number("plus")), asked.ids)


ACTS: dict[str, Callable[[Asked], Done]] = {
    "add": add, "move": move, "order": order, "earlier": earlier, "later": later, "remove": remove,
    "duplicate": duplicate, "align": align, "spread": spread, "set": set_fields, "recolor": recolor, "exchange": exchange,
    "follow": follow, "unfollow": unfollow,
    "take-apart": take_apart, "guide": guide,
    "drop-guide": drop_guide, "move-guide": move_guide,
}  # fmt: skip


def carried_out(name: str, asked: Asked) -> Done:
    """The act of this name; raises `UnknownNameError` where there is none, and what it raises itself."""
    if name not in ACTS:
        raise UnknownNameError(f"there is no act called {name}; {', '.join(ACTS)} are known")
    return ACTS[name](asked)
