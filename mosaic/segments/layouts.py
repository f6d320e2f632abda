"""Segments of digital figures, drawn from their measures; and a drawing's own, by the names in it."""

import math
from dataclasses import dataclass
from xml.etree import ElementTree

from mosaic.apart import apart
from mosaic.errors import BadValueError
from mosaic.imports.vector import svg_size, svg_text
from mosaic.registry import Registry

Point = tuple[float, float]
Polygon = tuple[Point, ...]
SVG = "http://www.w3.org/2000/svg"


@dataclass(frozen=True)
class Layout:
    """A family of figures: its segments' names, and which of them each symbol lights."""

    name: str
    title: str
    segments: tuple[str, ...]
    table: dict[str, str]


def _words(text: str) -> dict[str, str]:
    """A table of lines "symbol: segments separated by spaces"."""
    return dict(line.strip().split(": ", 1) for line in text.strip().splitlines())


# a top, b upper right, c lower right, d bottom, e lower left, f upper left, g middle.
SEVEN = Layout(
    "seven", "seven segments", ("a", "b", "c", "d", "e", "f", "g", "point"),
    _words(
        """
        0: a b c d e f
        1: b c
        2: a b d e g
        3: a b c d g
        4: b c f g
        5: a c d f g
        6: a c d e f g
        7: a b c
        8: a b c d e f g
        9: a b c d f g
        -: g
        A: a b c e f g
        b: c d e f g
        C: a d e f
        d: b c d e g
        E: a d e f g
        F: a e f g
        H: b c e f g
        L: d e f
        P: a b e f g
        .: point
        """
    ),
)  # fmt: skip
# As seven, with the middle in two halves (g1, g2), upper diagonals h and j, upper and lower uprights i and l,
# lower diagonals k and m.
FOURTEEN = Layout(
    "fourteen", "fourteen segments", ("a", "b", "c", "d", "e", "f", "g1", "g2", "h", "i", "j", "k", "l", "m", "point"),
    _words(
        """
        0: a b c d e f j k
        1: b c j
        2: a b d e g1 g2
        3: a b c d g2
        4: b c f g1 g2
        5: a c d f g1 g2
        6: a c d e f g1 g2
        7: a b c
        8: a b c d e f g1 g2
        9: a b c d f g1 g2
        A: a b c e f g1 g2
        B: a b c d g2 i l
        C: a d e f
        D: a b c d i l
        E: a d e f g1
        F: a e f g1
        G: a c d e f g2
        H: b c e f g1 g2
        I: a d i l
        J: b c d e
        K: e f g1 j m
        L: d e f
        M: b c e f h j
        N: b c e f h m
        O: a b c d e f
        P: a b e f g1 g2
        Q: a b c d e f m
        R: a b e f g1 g2 m
        S: a c d f g1 g2
        T: a i l
        U: b c d e f
        V: e f j k
        W: b c e f k m
        X: h j k m
        Y: h j l
        Z: a d j k
        -: g1 g2
        +: g1 g2 i l
        /: j k
        .: point
        """
    ),
)  # fmt: skip
OWN = Layout("own", "a drawing of your own", (), {})
LAYOUTS: Registry[Layout] = Registry("layout of segments", (SEVEN, FOURTEEN, OWN), lambda layout: layout.name)


def _bar(x0: float, y0: float, x1: float, y1: float, thick: float, gap: float) -> Polygon:
    """A segment along a line, with pointed ends, `gap` short of both."""
    length = math.hypot(x1 - x0, y1 - y0)
    ux, uy = (x1 - x0) / length, (y1 - y0) / length
    half = thick / 2

    def at(along: float, aside: float) -> Point:
        return x0 + ux * along - uy * aside, y0 + uy * along + ux * aside

    a, b = gap, length - gap
    return (at(a, 0), at(a + half, half), at(b - half, half), at(b, 0), at(b - half, -half), at(a + half, -half))


def polygons(layout: Layout, width: float, height: float, thickness: float, gap: float, slant_deg: float) -> dict[str, Polygon]:
    """Outline of every segment in a box of `width` x `height` pixels.

    Parameters
    ----------
    thickness, gap : shares of the width; slant_deg : degrees by which uprights lean to the right.
    """
    t, g = thickness * width, gap * width
    left, right, top, low = t / 2, width - t / 2, t / 2, height - t / 2
    # The point stands beside the figure, so the figure leaves it room.
    right -= 1.2 * t
    mid_x, mid_y = (left + right) / 2, (top + low) / 2
    bars = {
        "a": (left, top, right, top), "b": (right, top, right, mid_y), "c": (right, mid_y, right, low),
        "d": (left, low, right, low), "e": (left, mid_y, left, low), "f": (left, top, left, mid_y),
        "g": (left, mid_y, right, mid_y), "g1": (left, mid_y, mid_x, mid_y), "g2": (mid_x, mid_y, right, mid_y),
        "i": (mid_x, top, mid_x, mid_y), "l": (mid_x, mid_y, mid_x, low),
        "h": (left + t, top + t, mid_x - t / 2, mid_y - t / 2), "j": (right - t, top + t, mid_x + t / 2, mid_y - t / 2),
        "k": (left + t, low - t, mid_x - t / 2, mid_y + t / 2), "m": (right - t, low - t, mid_x + t / 2, mid_y + t / 2),
    }  # fmt: skip
    found = {name: _bar(*bars[name], t, g) for name in layout.segments if name != "point"}
    side, x, y = t / 2, width - t / 2, low
    found["point"] = ((x - side, y - side), (x + side, y - side), (x + side, y + side), (x - side, y + side))
    lean = math.tan(math.radians(slant_deg))
    shift = lean * height / 2
    return {name: tuple((px + lean * (height - py) - shift, py) for px, py in shape) for name, shape in found.items()}


def svg_of(shapes: dict[str, Polygon], width: float, height: float) -> dict[str, str]:
    """A drawing of each segment by itself."""
    head = f'<svg xmlns="{SVG}" width="{width:g}" height="{height:g}" viewBox="0 0 {width:g} {height:g}">'
    points = {name: " ".join(f"{x:.3f},{y:.3f}" for x, y in shape) for name, shape in shapes.items()}
    return {name: f'{head}<polygon points="{text}"/></svg>' for name, text in points.items()}


@apart()
def own_segments(data: bytes, name: str) -> tuple[dict[str, str], tuple[int, int]]:
    """A drawing of each named segment of an SVG, and the drawing's size; what has no name belongs to none and is left out.

    Raises
    ------
    BadPictureError
        It is no SVG that can be taken.
    BadValueError
        Nothing in it has a name (an id).
    """
    text = svg_text(data, name)
    size = svg_size(text, name)
    names = [e.get("id", "") for e in ElementTree.fromstring(text).iter() if _is_segment(e)]
    if not names:
        raise BadValueError(f'nothing in {name} has a name; give each segment an id in the drawing, such as id="a"')
    if len(names) > 64:
        raise BadValueError(f"{name} has {len(names)} named parts; up to 64 segments are accepted")
    return {own: _only(text, own) for own in names}, size


def _is_segment(element: ElementTree.Element) -> bool:
    tag = str(element.tag).rpartition("}")[2]
    return bool(element.get("id")) and tag in ("path", "polygon", "rect", "circle", "ellipse", "polyline", "line", "g")


def _only(text: str, name: str) -> str:
    """The drawing with every shape taken out that is neither the segment nor within it."""
    ElementTree.register_namespace("", SVG)
    root = ElementTree.fromstring(text)

    def prune(element: ElementTree.Element) -> None:
        for child in list(element):
            tag = str(child.tag).rpartition("}")[2]
            if child.get("id") == name or tag in ("defs", "style", "title", "desc", "metadata"):
                continue
            prune(child)
            if tag != "g" or not len(child):
                element.remove(child)

    prune(root)
    return ElementTree.tostring(root, encoding="unicode")
