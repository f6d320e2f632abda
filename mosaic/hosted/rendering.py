"""From a filled text to a panel's pixels: rendered by libraries in a process apart, with faces that come along."""

import atexit
import io
import os
import re
import shutil
import tempfile
from functools import cache
from pathlib import Path
from typing import NoReturn

import numpy as np
import numpy.typing as npt
from PIL import Image, ImageFile

from mosaic.apart import apart
from mosaic.conversion.pipeline import fit_stage, make_pixels
from mosaic.device.device import Device
from mosaic.errors import BadPictureError
from mosaic.hosted.page import HostPage
from mosaic.imports.pictures import SourcePicture
from mosaic.imports.vector import check_svg
from mosaic.lettering.faces import FACES

FINE, MOST_FINE = 4, 3_000_000
"""Rendered pixels to each side of one of the panel's, where they are no more than so many in all."""
CPU_S = 8.0
MOST_TAGS, MOST_DEPTH = 20_000, 200
FACE, FIGURES = "Atkinson Hyperlegible Next", "Spline Sans Mono"
PAGE_CSS = (
    "@page {{ size: {w}px {h}px; margin: 0 }} html, body {{ margin: 0; background: white; font-family: '" + FACE + "' }}"
)  # fmt: skip
REFUSED = {"<script": "scripts are not run", "<iframe": "nothing is fetched", "<!entity": "entities are not accepted"}
_OUTSIDE = re.compile(
    r"""(?:\b(?:src|href|data)\s*=\s*["']?|url\(\s*["']?|@import\s+["'])\s*(?!#|data:)([^"')\s>]{1,200})""", re.IGNORECASE
)
_TAG = re.compile(r"<(/?)([a-z][a-z0-9]*)[^>]*?(/?)>")
_EMPTY = {"br", "hr", "img", "meta", "link", "input", "col", "wbr", "area", "base"}


@cache
def _faces_folder() -> str:
    """A folder with the shipped faces as libraries read them; made once, and gone with the process."""
    from fontTools.ttLib import TTFont

    folder = Path(tempfile.mkdtemp(prefix="faces-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    for face in FACES.values():
        if face.file.endswith((".woff2", ".ttf")):
            font = TTFont(io.BytesIO(face.data))
            font.flavor = None
            font.save(folder / f"{face.slug}.ttf")
    config = f"<fontconfig><dir>{folder}</dir><cachedir>{folder}</cachedir></fontconfig>"
    (folder / "fonts.conf").write_text(config)
    return str(folder)


def _finer(width: int, height: int) -> int:
    return max(1, min(FINE, int((MOST_FINE / (width * height)) ** 0.5)))


@apart(cpu_s=CPU_S)
def _drawing(text: str, width: int, height: int, fonts: str) -> bytes:
    """PNG of a drawing, so many pixels large."""
    import resvg_py

    try:
        png = resvg_py.svg_to_bytes(
            svg_string=text, width=width, height=height, dpi=96.0, skip_system_fonts=True, font_dirs=[fonts],
            font_family=FACE, sans_serif_family=FACE, monospace_family=FIGURES,
        )  # fmt: skip
    except (ValueError, RuntimeError, OSError) as error:
        raise BadPictureError(f"the drawing cannot be rendered ({str(error)[:120]}); plain SVG is accepted") from None
    return bytes(png)


def _nothing(url: str, *args: object, **kwargs: object) -> NoReturn:
    raise ValueError(f"nothing is fetched: {url[:60]}")


@apart(cpu_s=CPU_S)
def _page(text: str, width: int, height: int, fine: int, fonts: str) -> bytes:
    """PNG of the first page of an HTML text, laid out on so many CSS pixels."""
    os.environ["FONTCONFIG_FILE"] = str(Path(fonts) / "fonts.conf")
    try:
        import pypdfium2
        import weasyprint
    except (ImportError, OSError) as error:
        what = str(error)[:80]
        raise BadPictureError(f"pages need the library Pango on this machine ({what}); drawings in SVG need nothing") from None
    # That library lets broken pictures pass for everything in its process, and pictures are read here too.
    ImageFile.LOAD_TRUNCATED_IMAGES = False
    css = weasyprint.CSS(string=PAGE_CSS.format(w=width, h=height), url_fetcher=_nothing)
    try:
        laid = weasyprint.HTML(string=text, url_fetcher=_nothing).write_pdf(stylesheets=[css])
    except (ValueError, RecursionError, ArithmeticError) as error:
        raise BadPictureError(f"the page cannot be laid out ({str(error)[:120]}); plain HTML with CSS is accepted") from None
    page = pypdfium2.PdfDocument(laid)[0]
    out = io.BytesIO()
    # A CSS pixel is three quarters of a point.
    image = page.render(scale=fine * 4 / 3).to_pil().convert("RGB")
    image.resize((width * fine, height * fine)).save(out, "PNG")
    return out.getvalue()


def check_text(kind: str, text: str) -> None:
    """Refuse what cannot be rendered from itself alone.

    Raises
    ------
    BadPictureError
        It wants a file or an address, declares entities, is not well-formed, or nests too deeply.
    """
    if kind == "drawing":
        check_svg(text, "the drawing", text_allowed=True)
        return
    lower = text.lower()
    for wanted, why in REFUSED.items():
        if wanted in lower:
            raise BadPictureError(f"the page has {wanted}>: {why}; plain HTML with CSS is accepted")
    outside = _OUTSIDE.search(text)
    if outside:
        raise BadPictureError(f"the page asks for {outside[1][:60]!r}: nothing is fetched; pictures as data: are accepted")
    if lower.count("<") > MOST_TAGS or _depth(lower) > MOST_DEPTH:
        raise BadPictureError(f"the page nests more than {MOST_DEPTH} elements in one another; a flatter one is accepted")


def _depth(text: str) -> int:
    depth = most = 0
    for match in _TAG.finditer(text):
        if match[2] in _EMPTY or match[3]:
            continue
        depth = max(0, depth - 1) if match[1] else depth + 1
        most = max(most, depth)
    return most


def rendered_text(kind: str, text: str, width: int, height: int) -> SourcePicture:
    """The picture of a filled text, laid out on so many pixels.

    Raises
    ------
    BadPictureError
        It cannot be rendered, or wants something from outside.
    """
    check_text(kind, text)
    fine = _finer(width, height)
    fonts = _faces_folder()
    png = _drawing(text, width * fine, height * fine, fonts) if kind == "drawing" else _page(text, width, height, fine, fonts)
    image = Image.open(io.BytesIO(png)).convert("RGBA")
    if image.size != (width * fine, height * fine):
        image = image.resize((width * fine, height * fine))
    white = Image.new("RGBA", image.size, "white")
    return SourcePicture(np.asarray(Image.alpha_composite(white, image).convert("RGB")), None, kind, detail=fine)


def frame_of(page: HostPage, text: str, device: Device) -> npt.NDArray[np.uint8]:
    """(H, W) palette indices or (H, W, 3) RGB of a filled text on a device's glass."""
    width, height = device.size
    fitted = fit_stage(rendered_text(page.kind, text, width, height), page.recipe, device.passport, device.turn)
    return make_pixels(fitted, page.recipe, device.passport, device.turn).pixels
