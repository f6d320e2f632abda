"""Where everything stands: boxes from constraints, in whole pixels, in one pass whatever the order of elements.

Each element has two spans, one along x and one along y. A span follows from its anchor and its size, which may name other
spans; these are found first. A circle of constraints is an error that names its members.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import reduce
from graphlib import CycleError, TopologicalSorter

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.errors import MosaicError
from mosaic.screens.screen import Element, Guide
from mosaic.screens.symbols import least, most


class PlacingError(MosaicError):
    """Constraints that cannot be followed; `elements` are the ids of those concerned."""

    def __init__(self, message: str, elements: tuple[str, ...]) -> None:
        super().__init__(message)
        self.elements = elements


@dataclass(frozen=True)
class Natural:
    """How large an element is by itself, and the row from its upper edge down on which its letters stand."""

    width: int
    height: int
    base: int


@dataclass(frozen=True)
class Box:
    """Where something stands, in pixels; `base` is the row, from the glass's upper edge, on which its letters stand."""

    x: int
    y: int
    width: int
    height: int
    base: int

    @property
    def right(self) -> int:
        return self.x + self.width

    @property
    def bottom(self) -> int:
        return self.y + self.height


Span = tuple[int, int, int]
"""First pixel, size, and base line."""
UNCLEAR = "{} stand in a circle, each placed by another: give one of them a place of its own"


def line_of(span: Span, line: str) -> int:
    """The place of a line of a span: edges lie between pixels, so an end is the first pixel behind it."""
    start, size, base = span
    return {"start": start, "middle": start + size // 2, "end": start + size, "base": base}[line]


@njit(cache=True, nogil=True)
def _largest(mask):
    """(x, y, width, height) of the largest rectangle of which every pixel is set; of equals the first from the top."""
    height, width = mask.shape
    tall = np.zeros(width + 1, np.int64)
    stack = np.zeros(width + 1, np.int64)
    best, found = 0, (0, 0, 0, 0)
    for y in range(height):
        for x in range(width):
            tall[x] = tall[x] + 1 if mask[y, x] else 0
        top = 0
        for x in range(width + 1):
            while top and tall[stack[top - 1]] >= tall[x]:
                high = tall[stack[top - 1]]
                top -= 1
                left = stack[top - 1] + 1 if top else 0
                if high * (x - left) > best:
                    best, found = high * (x - left), (left, y - high + 1, x - left, high)
            stack[top] = x
            top += 1
    return found


def safe_box(seen: npt.NDArray[np.bool_]) -> Box:
    """The largest rectangle of which every pixel can be seen, of (H, W) what can be."""
    height, width = seen.shape
    x, y, w, h = (0, 0, width, height) if seen.all() else (int(v) for v in _largest(seen))
    return Box(x, y, w, h, y + h)


Node = tuple[str, bool, bool]
"""Of an element along x (True) or y: its size (True), or its place."""


class Placing:
    """The boxes of elements inside an area; `areas` are those that anchors may name besides elements and guides."""

    def __init__(
        self,
        elements: tuple[Element, ...],
        areas: Mapping[str, Box],
        natural: Callable[[Element], Natural],
        guides: tuple[Guide, ...] = (),
    ) -> None:
        self.elements = {element.id: element for element in elements}
        self.areas = areas
        self.guides = {guide.id: guide for guide in guides}
        self.natural = {element.id: natural(element) for element in elements}
        self.rows = {m: element for element in elements if element.kind in ("row", "column") for m in element.members}
        self.spans: dict[tuple[str, bool], Span] = {}
        self.sizes: dict[tuple[str, bool], int] = {}

    def boxes(self) -> dict[str, Box]:
        """The box of every element.

        Raises
        ------
        PlacingError
            An anchor names nothing that is there, or elements stand in a circle.
        """
        for element in self.elements.values():
            for across, wanted in ((True, element.width), (False, element.height)):
                if wanted.by == "pixels" or (wanted.by == "own" and not element.members):
                    self.sizes[element.id, across] = self._size(element, across)
        nodes = [(ident, across, False) for ident in self.elements for across in (True, False)]
        nodes += [(ident, across, True) for ident, across, _ in nodes if (ident, across) not in self.sizes]
        try:
            order = tuple(TopologicalSorter({node: self._needs(*node) for node in nodes}).static_order())
        except CycleError as error:
            circle = tuple(dict.fromkeys(ident for ident, _, _ in error.args[1]))
            raise PlacingError(UNCLEAR.format(" and ".join(self._called(one) for one in sorted(circle))), circle) from None
        for ident, across, size in order:
            if size:
                self.sizes[ident, across] = self._size(self.elements[ident], across)
            else:
                self.spans[ident, across] = self._span(self.elements[ident], across)
        found = {}
        for ident in self.elements:
            (x, width, _), (y, height, base) = self.spans[ident, True], self.spans[ident, False]
            found[ident] = Box(x, y, width, height, base)
        return found

    def _called(self, ident: str) -> str:
        element = self.elements.get(ident)
        return (element.name or f"the {element.kind} {ident}") if element else ident

    def _row_of(self, element: Element, across: bool) -> Element | None:
        """The row or column that says where an element stands along this way."""
        row = self.rows.get(element.id)
        return row if row is not None and (row.kind == "row") == across else None

    def _needs(self, ident: str, across: bool, size: bool) -> list[Node]:
        """What has to be found before a size or a place."""
        element = self.elements[ident]
        wanted, anchor = (element.width, element.x) if across else (element.height, element.y)
        named: list[Node]
        if size:
            if wanted.by == "until":
                named = [(ident, across, False)]
            elif wanted.by == "as":
                named = [(wanted.to, across, True)]
            elif wanted.by == "own":
                named = [(member, across, True) for member in element.members]
            else:
                named = []
        elif (row := self._row_of(element, across)) is not None:
            named = [(row.id, across, False), *((member, across, True) for member in row.members)]
        else:
            named = [(anchor.to, across, False), (wanted.to, across, False) if wanted.by == "until" else (ident, across, True)]
        return [node for node in named if node[0] in self.elements and not (node[2] and node[:2] in self.sizes)]

    def _target(self, element: Element, to: str, across: bool) -> Span:
        area, guide = self.areas.get(to), self.guides.get(to)
        if area is not None:
            return (area.x, area.width, area.right) if across else (area.y, area.height, area.base)
        if guide is not None:
            if guide.upright != across:
                way = "upright" if guide.upright else "level"
                words = f"{self._called(element.id)} is placed by the {way} guide {guide.name or to}, which says nothing there"
                raise PlacingError(words, (element.id,))
            glass = self.areas["glass"]
            at = line_of((glass.x, glass.width, 0) if across else (glass.y, glass.height, 0), guide.of) + guide.plus
            return at, 0, at
        if to not in self.elements:
            raise PlacingError(f"{self._called(element.id)} is placed by {to}, which is not there any more", (element.id,))
        return self.spans[to, across]

    def _span(self, element: Element, across: bool) -> Span:
        row = self._row_of(element, across)
        if row is not None:
            start, size = self._in_row(row, element, across), self.sizes[element.id, across]
        else:
            start, size = self._anchored(element, across)
        return start, size, start + size if across else start + least(self.natural[element.id].base, size)

    def _anchored(self, element: Element, across: bool) -> tuple[int, int]:
        anchor, wanted = (element.x, element.width) if across else (element.y, element.height)
        at = line_of(self._target(element, anchor.to, across), anchor.of) + anchor.plus
        if wanted.by == "until":
            other = line_of(self._target(element, wanted.to, across), wanted.of) + wanted.plus
            if anchor.at == "middle":
                return at - abs(other - at), 2 * abs(other - at)
            return least(at, other), abs(other - at)
        size = self.sizes[element.id, across]
        base = size if across else least(self.natural[element.id].base, size)
        return at - {"start": 0, "middle": size // 2, "end": size, "base": base}[anchor.at], size

    def _size(self, element: Element, across: bool) -> int:
        wanted = element.width if across else element.height
        if wanted.by == "pixels":
            return wanted.pixels
        if wanted.by == "as":
            known = self.sizes.get((wanted.to, across))
            size = self._target(element, wanted.to, across)[1] if known is None else known
            return most(0, size + wanted.plus)
        if wanted.by == "until":
            return self.spans[element.id, across][1]
        members = [self.elements[m] for m in element.members]
        sizes = [self.sizes[m.id, across] for m in members]
        if element.kind in ("row", "column") and sizes:
            along = (element.kind == "row") == across
            return sum(sizes) + max(0, element.gap) * (len(sizes) - 1) if along else reduce(most, sizes)
        if element.kind == "group" and sizes:
            anchors = [m.x if across else m.y for m in members]
            reach = [
                a.plus + size
                for a, size in zip(anchors, sizes, strict=True)
                if (a.to, a.at, a.of) == (element.id, "start", "start")
            ]
            return reduce(most, reach, 0)
        own = self.natural[element.id]
        return own.width if across else own.height

    def _in_row(self, row: Element, element: Element, across: bool) -> int:
        """Where a member of a row or column begins: gaps as given, or what is left over spread evenly, rounded down."""
        start, size, _ = self.spans[row.id, across]
        sizes = [self.sizes[m, across] for m in row.members]
        number = row.members.index(element.id)
        before = start + sum(sizes[:number])
        if row.gap >= 0:
            return before + row.gap * number
        spare, gaps = size - sum(sizes), len(sizes) - 1
        return before + (spare * number // gaps if gaps else spare // 2)


def place(
    elements: tuple[Element, ...],
    areas: Mapping[str, Box],
    natural: Callable[[Element], Natural],
    guides: tuple[Guide, ...] = (),
) -> dict[str, Box]:
    """The box of every element by its id; raises as `Placing.boxes`."""
    return Placing(elements, areas, natural, guides).boxes()
