"""From a value to a number of an element, in whole numbers, as `mosaic/firmware/maps.c` and `maps.py` do it."""

from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.errors import BadDescriptionError

MOST_POINTS, BLENDS = 32, 8
"""Points of a map; colours from one colour of a ramp to the next."""
Points = tuple[tuple[int, int], ...]
In = Annotated[int, Meta(ge=-1_000_000_000, le=1_000_000_000)]
Out = Annotated[int, Meta(ge=-1_000_000_000, le=1_000_000_000)]
ColorName = Annotated[str, Meta(max_length=40)]


@dataclass(frozen=True)
class Map:
    """How a number follows a value.

    Attributes
    ----------
    by : "itself": the raw value; "line": straight through the first and the last point, and on beyond; "table": from point
        to point, held at the ends; "steps": what the last point at or below says; "ramp": colours blended from point to point;
        "bands": the colours or pictures that the bands give, of a value that says which band another one is in.
    points : (raw value, number), ascending. colors : of the points, for colours by steps and by ramp.
    """

    by: Literal["itself", "line", "table", "steps", "ramp", "bands"] = "itself"
    points: Annotated[tuple[tuple[In, Out], ...], Meta(max_length=MOST_POINTS)] = ()
    colors: Annotated[tuple[ColorName, ...], Meta(max_length=MOST_POINTS)] = ()

    def __post_init__(self) -> None:
        least = {"itself": 0, "line": 2, "table": 2, "steps": 1, "ramp": 2, "bands": 0}[self.by]
        if len(self.points) < least:
            raise BadDescriptionError(
                f"a map by {self.by} has {len(self.points)} points; {least} or more are accepted", path="$.points"
            )
        ins = [at for at, _ in self.points]
        if sorted(set(ins)) != ins:
            raise BadDescriptionError("points of a map stand in ascending order, each value once", path="$.points")
        if self.colors and len(self.colors) != len(self.points):
            raise BadDescriptionError(
                f"there are {len(self.points)} points and {len(self.colors)} colours; each point has one", path="$.colors"
            )


def rounded(a: int, b: int) -> int:
    """a / b for b above 0, to the nearest, halves upwards.

    >>> rounded(7, 2), rounded(-7, 2), rounded(-5, 10)
    (4, -3, 0)
    """
    return (2 * a + b) // (2 * b)


def line(points: Points, x: int) -> int:
    """Straight through the first and the last point, and on beyond."""
    (x0, y0), (x1, y1) = points[0], points[-1]
    return y0 + rounded((x - x0) * (y1 - y0), x1 - x0)


def table(points: Points, x: int, *, beyond: bool = False) -> int:
    """From point to point; held at the ends, or on along the outermost pieces.

    >>> table(((0, 0), (10, 100), (20, 50)), 15), table(((0, 0), (10, 100)), 12), table(((0, 0), (10, 100)), 12, beyond=True)
    (75, 100, 120)
    """
    if not beyond:
        x = min(max(x, points[0][0]), points[-1][0])
    at = 1
    while at + 1 < len(points) and x > points[at][0]:
        at += 1
    return line(points[at - 1 : at + 1], x)


def steps(points: Points, x: int) -> int:
    """What the last point at or below says; below them all the first.

    >>> steps(((0, 7), (10, 8)), 9), steps(((0, 7), (10, 8)), 10), steps(((0, 7), (10, 8)), -1)
    (7, 8, 7)
    """
    found = points[0][1]
    for at, out in points:
        if x >= at:
            found = out
    return found


def mapped(map_: Map, x: int) -> int:
    """The number of a raw value; a ramp counts which blend of which colours, as `ramp_points` lists them."""
    if map_.by == "itself":
        return x
    if map_.by == "line":
        return line(map_.points, x)
    if map_.by == "table":
        return table(map_.points, x)
    return steps(map_.points if map_.by == "steps" else ramp_points(map_.points), x)


def ramp_points(points: Points) -> Points:
    """Steps of a ramp: from each point to the next `BLENDS` blends, counted on from 0; the last point has its own colour.

    Steps that would begin at the same value are one.

    >>> ramp_points(((0, 0), (16, 0)))
    ((0, 0), (2, 1), (4, 2), (6, 3), (8, 4), (10, 5), (12, 6), (14, 7), (16, 8))
    """
    found: dict[int, int] = {}
    for number, ((x0, _), (x1, _)) in enumerate(pairwise(points)):
        for blend in range(BLENDS):
            at = x0 + -(-(x1 - x0) * blend // BLENDS)
            if at < x1:
                found[at] = number * BLENDS + blend
    found[points[-1][0]] = (len(points) - 1) * BLENDS
    return tuple(sorted(found.items()))
