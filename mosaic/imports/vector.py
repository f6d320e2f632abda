"""Drawings in SVG: checked, measured, and rendered at whatever size a panel needs.

A drawing is rendered from itself alone: nothing is fetched, no file beside it is read, and no
fonts are taken from the machine, so that it looks the same on every one.
"""

import io
import re
from xml.etree import ElementTree

import numpy as np
import numpy.typing as npt
import resvg_py
from PIL import Image

from mosaic.apart import apart
from mosaic.errors import BadPictureError

LEAST_SIDE, MOST_SIDE = 64, 2000
LEAST_TOLD, MOST_TOLD = 1e-3, 1e6
"""Sizes that a drawing may state, in pixels."""
UNIT_PX = {"": 1.0, "px": 1.0, "pt": 96 / 72, "pc": 16.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0}
_NUMBER = r"[-+]?(?:[0-9]{1,12}(?:\.[0-9]{0,12})?|\.[0-9]{1,12})(?:e[-+]?[0-9]{1,2})?"
_LENGTH = re.compile(rf"\s*({_NUMBER})\s*([a-z]*)\s*", re.IGNORECASE | re.ASCII)
_BOX = re.compile(rf"\s*({_NUMBER})" + rf"(?:\s*,\s*|\s+)({_NUMBER})" * 3 + r"\s*", re.IGNORECASE | re.ASCII)
DEEPEST = 128
"""Groups within groups; what renders them calls itself for each."""
MOST_ELEMENTS = 100_000
_OUTSIDE = re.compile(
    r"""(?:href\s*=\s*["']|url\(\s*["']?)\s*(?!#|data:image/(?:png|jpeg|gif|webp);)([^"')]{1,60})""", re.IGNORECASE
)


def is_svg(data: bytes) -> bool:
    """Whether these bytes begin as an SVG drawing does."""
    head = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    return head.startswith(b"<svg") or (head[:2] in (b"<?", b"<!") and b"<svg" in head)


def svg_text(data: bytes, name: str) -> str:
    """The drawing's text, if it can be rendered from itself alone.

    Raises
    ------
    BadPictureError
        It is not UTF-8, not well-formed, declares entities, refers to other files or holds text.
    """
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise BadPictureError(f"{name} is an SVG drawing that is not in UTF-8; save it in UTF-8") from None
    check_svg(text, name)
    return text


def check_svg(text: str, name: str, *, text_allowed: bool = False) -> None:
    """Refuse a drawing that cannot be rendered from itself alone; raises as `svg_text`. Text needs faces that come along."""
    if "<!ENTITY" in text:
        raise BadPictureError(f"{name} declares XML entities, which are not accepted; save it as plain SVG")
    try:
        root = ElementTree.fromstring(text)
    except ElementTree.ParseError as error:
        raise BadPictureError(f"{name} is not well-formed SVG ({error}); save it again from the program it came from") from None
    outside = _OUTSIDE.search(text)
    if outside:
        raise BadPictureError(f"{name} refers to {outside[1].strip()!r}, which does not come with it; embed it in the drawing")
    _check_size(root, name)
    if not text_allowed and any(str(element.tag).rpartition("}")[2] in ("text", "foreignObject") for element in root.iter()):
        raise BadPictureError(f"{name} holds text, which needs a font that does not come with it; turn text into outlines first")


def _check_size(root: ElementTree.Element, name: str) -> None:
    """Refuse what is nested too deeply, or has too many parts."""
    level, count = [root], 0
    for _ in range(DEEPEST):
        count += len(level)
        level = [child for element in level for child in element]
        if not level:
            break
    if level:
        raise BadPictureError(f"{name} nests more than {DEEPEST} groups in one another; ungroup them and save it again")
    if count > MOST_ELEMENTS:
        raise BadPictureError(f"{name} has {count:,} parts; {MOST_ELEMENTS:,} are accepted")


def _length(text: str | None) -> float | None:
    match = _LENGTH.fullmatch(text or "")
    return float(match[1]) * UNIT_PX[match[2].lower()] if match and match[2].lower() in UNIT_PX else None


def svg_size(text: str, name: str) -> tuple[int, int]:
    """(width, height) in pixels in which its coordinates are told: its own size, brought between 64 and 2,000 a side.

    Raises
    ------
    BadPictureError
        It says no size, neither by width and height nor by a view box.
    """
    root = ElementTree.fromstring(text)
    told = _BOX.fullmatch(root.get("viewBox", ""))
    box = [float(told[3]), float(told[4])] if told else []
    width, height = _length(root.get("width")), _length(root.get("height"))
    if box and LEAST_TOLD <= min(box) <= max(box) <= MOST_TOLD:
        ratio = box[0] / box[1]
        width = width or (height * ratio if height else box[0])
        height = height or width / ratio
    if not (width and height and min(width, height) >= LEAST_TOLD and max(width, height) <= MOST_TOLD):
        accepted = "an SVG drawing needs a width and height, or a viewBox, from 0.001 to 1,000,000"
        raise BadPictureError(f"{name} says no size that can be used; {accepted}")
    scale = max(1.0, LEAST_SIDE / max(width, height)) * min(1.0, MOST_SIDE / max(width, height))
    return max(1, round(width * scale)), max(1, round(height * scale))


@apart()
def render_svg(text: str, width: int, height: int, name: str) -> npt.NDArray[np.uint8]:
    """(height, width, 4) RGBA of the drawing.

    Raises
    ------
    BadPictureError
        It cannot be rendered.
    """
    try:
        png = resvg_py.svg_to_bytes(svg_string=text, width=width, height=height, dpi=96.0, skip_system_fonts=True)
    except (ValueError, RuntimeError, OSError) as error:
        raise BadPictureError(f"{name} cannot be rendered ({str(error)[:120]}); save it as plain SVG") from None
    image = Image.open(io.BytesIO(bytes(png))).convert("RGBA")
    if image.size != (width, height):
        image = image.resize((width, height), Image.Resampling.BOX)
    return np.asarray(image)
