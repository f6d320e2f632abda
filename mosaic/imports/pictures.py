"""Reading a picture file: type by content, limits before decoding, one canonical form.

A file is never trusted: its bytes say what it is, its header how large, and only then is it
decoded.
"""

import io
import math
import time
import warnings
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import numpy.typing as npt
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from mosaic.apart import apart
from mosaic.errors import BadPictureError
from mosaic.imports.image_kind import is_line_art
from mosaic.imports.vector import is_svg, render_svg, svg_size, svg_text

MAX_FILE_BYTES = 24 * 1024 * 1024
MAX_PIXELS = 40_000_000
FORMATS = ("PNG", "JPEG", "WEBP", "GIF", "BMP", "TIFF", "PPM", "XBM")
ACCEPTED = "PNG, JPEG, WebP, GIF, BMP, TIFF, PBM/PGM/PPM, XBM and SVG up to 24 MiB and 40 million pixels are"
SVG_TYPE = "image/svg+xml"
FINEST_SIDE = 4096
"""Longest side at which a drawing is rendered."""
RENDER_S = 1.0
"""Processor time that is spent on rendering a drawing finer, by what it took at its own size."""
MOST_DECODED = 16_000_000
"""Pixels that are kept of a picture; one of more is decoded at a half, a third ... of its size."""
STRIP_ROWS = 256

# The limit is checked here from the header, before any pixel is decoded.
Image.MAX_IMAGE_PIXELS = None


@dataclass(frozen=True, eq=False)
class SourcePicture:
    """A decoded picture.

    `rgb` is (H, W, 3) uint8 sRGB, `alpha` (H, W) uint8 (0 transparent) or None where nothing
    is transparent; `format_name` is the kind of file it came from. A drawing keeps its `vector`
    text; it may be rendered `detail` times finer than the pixels in which its size is told. A picture
    of very many pixels is decoded at a whole fraction of its size, `detail` below 1. `cost_s` is the
    processor time that a drawing took.
    """

    rgb: npt.NDArray[np.uint8]
    alpha: npt.NDArray[np.uint8] | None
    format_name: str
    vector: str = ""
    detail: float = 1
    cost_s: float = 0.0

    @property
    def width(self) -> int:
        return round(self.rgb.shape[1] / self.detail)

    @property
    def height(self) -> int:
        return round(self.rgb.shape[0] / self.detail)

    def finer(self, times: int) -> "SourcePicture":
        """A drawing rendered this many times finer, as far as is sensible; other pictures as they are.

        A drawing that takes long is not made finer than its time allows.
        """
        affordable = math.isqrt(int(RENDER_S / self.cost_s)) if self.cost_s else times
        times = min(times, affordable, max(1, FINEST_SIDE // max(self.width, self.height)))
        if not self.vector or times <= self.detail:
            return self
        return _rendered(self.vector, self.width, self.height, times, "the drawing")

    @cached_property
    def is_line_art(self) -> bool:
        """Whether it is nearly all black and white; looked at once."""
        return is_line_art(self.rgb)

    @property
    def byte_count(self) -> int:
        return self.rgb.nbytes + (0 if self.alpha is None else self.alpha.nbytes)


@dataclass(frozen=True)
class PictureHeader:
    """What a file's first bytes tell."""

    width: int
    height: int
    format_name: str
    media_type: str


@apart()
def read_header(data: bytes, name: str = "the file") -> PictureHeader:
    """Size and kind of a picture file, without decoding it.

    Raises
    ------
    BadPictureError
        The file is empty, too large, no picture, or has too many pixels.
    """
    if is_svg(data):
        _check_length(data, name)
        return PictureHeader(*svg_size(svg_text(data, name), name), "SVG", SVG_TYPE)
    with opened(data, name) as image:
        return PictureHeader(*image.size, image.format or "", Image.MIME.get(image.format or "", "application/octet-stream"))


@apart()
def read_picture(data: bytes, name: str = "the file") -> SourcePicture:
    """Decode a picture file: its first frame, turned as its camera noted, its colours brought to sRGB.

    Raises
    ------
    BadPictureError
        As `read_header`, or the file breaks off or is damaged.
    """
    if is_svg(data):
        _check_length(data, name)
        text = svg_text(data, name)
        return _rendered(text, *svg_size(text, name), 1, name)
    with opened(data, name) as image:
        format_name = image.format or ""
        try:
            if reduction_of(*image.size) > 1:
                return _reduced(image, format_name)
            image.load()
            return canonical(_in_srgb(ImageOps.exif_transpose(image)), format_name)
        except (OSError, SyntaxError, ValueError, IndexError, EOFError) as error:
            raise BadPictureError(_damage(name, format_name, error)) from error


def reduction_of(width: int, height: int) -> int:
    """By how much a picture is made smaller in decoding: 1 up to `MOST_DECODED` pixels.

    >>> reduction_of(4000, 4000), reduction_of(4000, 4001), reduction_of(8000, 5000)
    (1, 2, 2)
    """
    return math.isqrt(-(-width * height // MOST_DECODED) - 1) + 1


def _damage(name: str, format_name: str, error: Exception) -> str:
    if "truncated" in str(error):
        return f"{name} breaks off before its end ({error}); save or copy the {format_name} file again"
    return f"{name} is damaged and cannot be decoded as {format_name}; save it again from the program it came from"


def _check_length(data: bytes, name: str) -> None:
    if len(data) > MAX_FILE_BYTES:
        raise BadPictureError(f"{name} is {len(data) / 2**20:.1f} MiB; {ACCEPTED} accepted")


@apart()
def _rendered(text: str, width: int, height: int, detail: int, name: str) -> SourcePicture:
    begun = time.process_time()
    rgba = render_svg(text, width * detail, height * detail, name)
    cost_s = (time.process_time() - begun) / detail**2
    alpha = np.ascontiguousarray(rgba[..., 3])
    rgb = np.ascontiguousarray(rgba[..., :3])
    return SourcePicture(rgb, None if alpha.min() == 255 else alpha, "SVG", text, detail, cost_s)


def _in_srgb(image: Image.Image) -> Image.Image:
    """The picture with its colours told in sRGB, where its file carries a profile that says otherwise."""
    profile = image.info.get("icc_profile")
    if not profile or image.mode not in ("RGB", "RGBA", "CMYK", "L"):
        return image
    try:
        own = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        mode = "RGBA" if image.mode == "RGBA" else "RGB"
        intent = ImageCms.Intent.RELATIVE_COLORIMETRIC
        turned = ImageCms.profileToProfile(image, own, ImageCms.createProfile("sRGB"), renderingIntent=intent, outputMode=mode)
    except (ImageCms.PyCMSError, OSError, ValueError):
        # A profile that cannot be read, or belongs to another kind of picture, says nothing.
        return image
    if turned is None:  # only when it turns in place, which is not asked for
        return image
    turned.info = {key: value for key, value in image.info.items() if key != "icc_profile"}
    return turned


def opened(data: bytes, name: str) -> Image.Image:
    if not data:
        raise BadPictureError(f"{name} is empty (0 bytes); {ACCEPTED} accepted")
    _check_length(data, name)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image = Image.open(io.BytesIO(data), formats=FORMATS)
    except UnidentifiedImageError:
        raise BadPictureError(f"{name} is {_kind_in_words(data)}, not a picture; {ACCEPTED} accepted") from None
    except (OSError, SyntaxError, ValueError) as error:
        raise BadPictureError(f"{name} has a damaged header and cannot be read; {ACCEPTED} accepted") from error
    width, height = image.size
    if width * height > MAX_PIXELS:
        image.close()
        raise BadPictureError(
            f"{name} has {width:,} x {height:,} pixels, {width * height / 1e6:,.0f} million; {ACCEPTED} accepted"
        )
    if width < 1 or height < 1:
        raise BadPictureError(f"{name} has {width} x {height} pixels; a picture has at least 1 x 1")
    return image


def _kind_in_words(data: bytes) -> str:
    """What a file that is no picture seems to be."""
    head = data[:512]
    if head.lstrip()[:5].lower() in (b"<?xml", b"<html", b"<!doc"):
        return "a markup file"
    if head.startswith(b"%PDF"):
        return "a PDF document"
    if head.startswith(b"PK\x03\x04"):
        return "a zip archive"
    try:
        head.decode("utf-8")
        return "a text file"
    except UnicodeDecodeError:
        return "a file of an unknown kind"


_UPRIGHT = {
    2: Image.Transpose.FLIP_LEFT_RIGHT, 3: Image.Transpose.ROTATE_180, 4: Image.Transpose.FLIP_TOP_BOTTOM,
    5: Image.Transpose.TRANSPOSE, 6: Image.Transpose.ROTATE_270, 7: Image.Transpose.TRANSVERSE, 8: Image.Transpose.ROTATE_90,
}  # fmt: skip
"""What turns a picture upright, by its EXIF orientation (EXIF 2.32, tag 0x0112)."""


def _reduced(image: Image.Image, format_name: str) -> SourcePicture:
    """A picture of very many pixels at a whole fraction of its size; made smaller before anything is copied of it."""
    full = image.size
    orientation, profile = image.getexif().get(0x0112), image.info.get("icc_profile")
    wanted = reduction_of(*full)
    image.draft("RGB", (-(-full[0] // wanted), -(-full[1] // wanted)))  # a JPEG file can be unfolded smaller
    image.load()
    if image.mode not in DEEP:
        times = reduction_of(*image.size)
        if image.mode not in ("L", "RGB", "RGBA"):
            image = image.convert("RGBA" if "transparency" in image.info or "A" in image.mode.upper() else "RGB")
        image = image.reduce(times)
    else:
        image = Image.fromarray(_from_deep_grey(image, wanted))
    image.info = {"icc_profile": profile} if profile else {}
    if orientation in _UPRIGHT:
        image = image.transpose(_UPRIGHT[orientation])
    found = canonical(_in_srgb(image), format_name)
    return replace(found, detail=max(image.size) / max(full))


DEEP = ("I", "I;16", "I;16B", "I;16L", "F")


def canonical(image: Image.Image, format_name: str) -> SourcePicture:
    if image.mode in DEEP:
        return SourcePicture(np.repeat(_from_deep_grey(image)[..., None], 3, axis=2), None, format_name)
    if image.mode in ("RGBA", "LA", "PA", "RGBa", "La") or "transparency" in image.info:
        rgba = np.asarray(image.convert("RGBA"))
        alpha = np.ascontiguousarray(rgba[..., 3])
        return SourcePicture(np.ascontiguousarray(rgba[..., :3]), None if alpha.min() == 255 else alpha, format_name)
    return SourcePicture(np.asarray(image.convert("RGB")), None, format_name)


def _from_deep_grey(image: Image.Image, times: int = 1) -> npt.NDArray[np.uint8]:
    """(H, W) 8-bit grey of deeper grey, each side `times` smaller; white is 1 for floats up to 1, else 255 or 65,535.

    Strip by strip: whole pictures in floats are eight times what their file says.
    """
    grey = np.asarray(image)
    highest = float(grey.max(initial=0))
    top = 1.0 if highest <= 1 else 255.0 if highest <= 255 else 65535.0
    high, wide = grey.shape[0] // times, grey.shape[1] // times
    out = np.empty((high, wide), np.uint8)
    for row in range(0, high, STRIP_ROWS):
        strip = grey[row * times : min(high, row + STRIP_ROWS) * times, : wide * times].astype(np.float64)
        strip = strip.reshape(-1, times, wide, times).mean(axis=(1, 3))
        out[row : row + STRIP_ROWS] = np.rint(np.clip(strip / top, 0, 1) * 255).astype(np.uint8)
    return out


@apart()
def frame_count(data: bytes) -> int:
    """How many frames a picture file holds; 1 for a drawing and for what has no more."""
    if is_svg(data):
        return 1
    with opened(data, "the file") as image:
        return int(getattr(image, "n_frames", 1))
