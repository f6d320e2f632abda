"""Strokes and regions as a page sends them, checked and laid into a recipe."""

from typing import Any

from mosaic.color.srgb import parse_hex
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.forms import from_record
from mosaic.json_text import read_json
from mosaic.numbers import decimal, whole
from mosaic.reduce.methods import METHODS
from mosaic.reduce.region import MAX_REGIONS, Region, Run, with_stroke

MAX_STROKE = 20_000
MOST_SIDE = 100_000


def _json(post: Any, name: str) -> Any:
    return read_json(post.get(name, ""), f"the {name}")


def _places(value: Any, device: Device) -> tuple[tuple[int, int], ...]:
    width, height = device.size
    if not isinstance(value, list) or not 1 <= len(value) <= MAX_STROKE:
        raise BadValueError(f"a stroke has 1 to {MAX_STROKE:,} pixels")
    places = []
    for pair in value:
        if not (isinstance(pair, list) and len(pair) == 2 and all(type(v) is int for v in pair)):
            raise BadValueError("a pixel of a stroke is a column and a row, whole numbers")
        if 0 <= pair[0] < width and 0 <= pair[1] < height:
            places.append((pair[0], pair[1]))
    return tuple(dict.fromkeys(places))


def _color(text: str, device: Device) -> int | None:
    """A palette index, 0xRRGGBB, or None to take pixels off."""
    if text == "off":
        return None
    palette = device.passport.palette
    if palette is None:
        red, green, blue = parse_hex(text)
        return red << 16 | green << 8 | blue
    index = whole(text, most=len(palette) - 1)
    if index is None:
        raise BadValueError(f"colour {text!r} is none of this panel; 0 to {len(palette) - 1} are, for {', '.join(palette.names)}")
    return index


def changed(runs: tuple[Run, ...], post: Any, device: Device) -> tuple[Run, ...]:
    """The touch-up after a posted stroke (`stroke`, `color`), or none where `clear` is sent.

    Raises
    ------
    BadValueError
        The stroke or its colour is malformed.
    """
    if post.get("clear"):
        return ()
    return with_stroke(runs, _places(_json(post, "stroke"), device), _color(post.get("color", ""), device))


def regions(now: tuple[Region, ...], post: Any, device: Device) -> list[dict[str, Any]]:
    """Plain regions after a posted change: `add` corners, change number `at`, or `remove` number.

    Raises
    ------
    BadValueError
        It is malformed, empty, or one too many.
    """
    plain = [from_record(region) for region in now]
    gone, at = whole(post.get("remove")), whole(post.get("at"), most=len(plain) - 1)
    if gone is not None:
        return [region for number, region in enumerate(plain) if number != gone]
    if at is not None:
        region = plain[at]
        region.update(_settings(post))
        region["corners"] = _corners_from_numbers(post, region, device)
        return plain
    if len(plain) >= MAX_REGIONS:
        raise BadValueError(f"this picture has {len(plain)} regions; {MAX_REGIONS} are accepted")
    shape = post.get("shape", "rect")
    return [*plain, {"shape": shape, "corners": _clipped(_json(post, "corners"), shape, device), **_settings(post)}]


def _settings(post: Any) -> dict[str, Any]:
    found: dict[str, Any] = {}
    if post.get("method"):
        found["method"] = METHODS[post["method"]].name
    for name, read in (("threshold", whole), ("window", whole), ("strength", decimal)):
        if post.get(name, "") != "":
            found[name] = read(post[name])
            if found[name] is None:
                raise BadValueError(f"{name} of a region is {post[name][:24]!r}; it takes a number")
    if post.get("pattern"):
        found["pattern"] = post["pattern"]
    return found


def _corners_from_numbers(post: Any, region: dict[str, Any], device: Device) -> list[list[int]]:
    if region["shape"] != "rect" or not post.get("width"):
        return region["corners"]
    told = [whole(post.get(name), -MOST_SIDE, MOST_SIDE) for name in ("x", "y", "width", "height")]
    x, y, width, height = (number for number in told if number is not None) if None not in told else (0, 0, 0, 0)
    if None in told:
        raise BadValueError("a region's place and size are whole numbers of pixels")
    return _clipped([[x, y], [x + width, y + height]], "rect", device)


def _clipped(corners: Any, shape: str, device: Device) -> list[list[int]]:
    """Corners brought onto the panel; a rectangle is given upper left first."""
    width, height = device.size
    if not isinstance(corners, list) or not all(isinstance(c, list) and len(c) == 2 for c in corners):
        raise BadValueError("the corners of a region are pairs of a column and a row")
    try:
        kept = [[min(max(round(x), 0), width), min(max(round(y), 0), height)] for x, y in corners]
    except (TypeError, ValueError, OverflowError):
        raise BadValueError("the corners of a region are pairs of a column and a row") from None
    if shape == "rect" and len(kept) == 2:
        (ax, ay), (bx, by) = kept
        kept = [[min(ax, bx), min(ay, by)], [max(ax, bx), max(ay, by)]]
        if kept[0][0] == kept[1][0] or kept[0][1] == kept[1][1]:
            raise BadValueError("this region holds no pixel; draw it at least one pixel wide and high")
    return kept
