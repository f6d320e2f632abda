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

from mosaic.errors import BadPictureError

LEAST_SIDE, MOST_SIDE = 64, 2000
UNIT_PX = {"": 1.0, "px": 1.0, "pt": 96 / 72, "pc": 16.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0}
_LENGTH = re.compile(r"\s*([0-9.]+(?:e[-+]?\d+)?)\s*([a-z]*)\s*", re.IGNORECASE)
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
    if "<!ENTITY" in text:
        raise BadPictureError(f"{name} declares XML entities, which are not accepted; save it as plain SVG")
    try:
        root = ElementTree.fromstring(text)
    except ElementTree.ParseError as error:
        raise BadPictureError(f"{name} is not well-formed SVG ({error}); save it again from the program it came from") from None
    outside = _OUTSIDE.search(text)
    if outside:
        raise BadPictureError(f"{name} refers to {outside[1].strip()!r}, which does not come with it; embed it in the drawing")
    if any(str(element.tag).rpartition("}")[2] in ("text", "foreignObject") for element in root.iter()):
        raise BadPictureError(f"{name} holds text, which needs a font that does not come with it; turn text into outlines first")
    return text


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
    numbers = [float(v) for v in re.findall(r"-?[0-9.]+(?:e[-+]?\d+)?", root.get("viewBox", ""), re.IGNORECASE)]
    box = numbers[2:4] if len(numbers) == 4 else []
    width, height = _length(root.get("width")), _length(root.get("height"))
    if box and min(box) > 0:
        ratio = box[0] / box[1]
        width = width or (height * ratio if height else box[0])
        height = height or width / ratio
    if not width or not height:
        raise BadPictureError(f"{name} says no size; an SVG drawing needs a width and height, or a viewBox")
    scale = max(1.0, LEAST_SIDE / max(width, height)) * min(1.0, MOST_SIDE / max(width, height))
    return max(1, round(width * scale)), max(1, round(height * scale))


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
