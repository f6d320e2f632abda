"""Reading a picture file: type by content, limits before decoding, one canonical form.

A file is never trusted: its bytes say what it is, its header how large, and only then is it
decoded.
"""

import io
import warnings
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
from PIL import Image, ImageOps, UnidentifiedImageError

from mosaic.errors import BadPictureError
from mosaic.imports.nature import is_line_art

MAX_FILE_BYTES = 24 * 1024 * 1024
MAX_PIXELS = 40_000_000
FORMATS = ("PNG", "JPEG", "WEBP", "GIF", "BMP", "TIFF", "PPM", "XBM")
ACCEPTED = "PNG, JPEG, WebP, GIF, BMP, TIFF, PBM/PGM/PPM and XBM up to 24 MiB and 40 million pixels are"

# The limit is checked here from the header, before any pixel is decoded.
Image.MAX_IMAGE_PIXELS = None


@dataclass(frozen=True, eq=False)
class SourcePicture:
    """A decoded picture.

    `rgb` is (H, W, 3) uint8 sRGB, `alpha` (H, W) uint8 (0 transparent) or None where nothing
    is transparent; `format_name` is the kind of file it came from.
    """

    rgb: npt.NDArray[np.uint8]
    alpha: npt.NDArray[np.uint8] | None
    format_name: str

    @property
    def width(self) -> int:
        return self.rgb.shape[1]

    @property
    def height(self) -> int:
        return self.rgb.shape[0]

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


def read_header(data: bytes, name: str = "the file") -> PictureHeader:
    """Size and kind of a picture file, without decoding it.

    Raises
    ------
    BadPictureError
        The file is empty, too large, no picture, or has too many pixels.
    """
    with _opened(data, name) as image:
        return PictureHeader(*image.size, image.format or "", Image.MIME.get(image.format or "", "application/octet-stream"))


def read_picture(data: bytes, name: str = "the file") -> SourcePicture:
    """Decode a picture file: its first frame, turned as its camera noted.

    Raises
    ------
    BadPictureError
        As `read_header`, or the file breaks off or is damaged.
    """
    with _opened(data, name) as image:
        format_name = image.format or ""
        try:
            image.load()
            return _canonical(ImageOps.exif_transpose(image), format_name)
        except (OSError, SyntaxError, ValueError, IndexError, EOFError) as error:
            raise BadPictureError(_damage(name, format_name, error)) from error


def _damage(name: str, format_name: str, error: Exception) -> str:
    if "truncated" in str(error):
        return f"{name} breaks off before its end ({error}); save or copy the {format_name} file again"
    return f"{name} is damaged and cannot be decoded as {format_name}; save it again from the program it came from"


def _opened(data: bytes, name: str) -> Image.Image:
    if not data:
        raise BadPictureError(f"{name} is empty (0 bytes); {ACCEPTED} accepted")
    if len(data) > MAX_FILE_BYTES:
        raise BadPictureError(f"{name} is {len(data) / 2**20:.1f} MiB; {ACCEPTED} accepted")
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
    if head.lstrip()[:5].lower() in (b"<?xml", b"<svg ", b"<html", b"<!doc"):
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


def _canonical(image: Image.Image, format_name: str) -> SourcePicture:
    if image.mode in ("I", "I;16", "I;16B", "I;16L", "F"):
        return SourcePicture(_from_deep_grey(np.asarray(image, np.float64)), None, format_name)
    if image.mode in ("RGBA", "LA", "PA", "RGBa", "La") or "transparency" in image.info:
        rgba = np.asarray(image.convert("RGBA"))
        alpha = np.ascontiguousarray(rgba[..., 3])
        return SourcePicture(np.ascontiguousarray(rgba[..., :3]), None if alpha.min() == 255 else alpha, format_name)
    return SourcePicture(np.asarray(image.convert("RGB")), None, format_name)


def _from_deep_grey(grey: npt.NDArray[np.float64]) -> npt.NDArray[np.uint8]:
    """8-bit RGB of 16-bit, 32-bit or floating grey; white is 1 for floats up to 1, else 65,535."""
    top = 1.0 if grey.max(initial=0) <= 1 else 255.0 if grey.max() <= 255 else 65535.0
    eight = np.rint(np.clip(grey / top, 0, 1) * 255).astype(np.uint8)
    return np.repeat(eight[..., None], 3, axis=2)
