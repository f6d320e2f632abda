"""Picture files at the panel's size, one pixel each: PNG, BMP, PBM, PGM, PPM and XBM.

PBM and XBM hold two values: 1 is the darker colour in PBM ("black") and the lighter in XBM,
whose bits are what a panel lights. The netpbm forms are written here, since they are a header and
our own packing; PNG and BMP are left to a general library.
"""

import io
import struct
import zlib

import numpy as np
from PIL import Image

from mosaic.errors import BadValueError
from mosaic.exports.result import Exporter, ExportResult
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import Turn
from mosaic.panels.passport import Passport

FASTEST = 1
XBM_NAME = 40
"""Characters of a name in XBM: its readers take lines of 75."""


def encode_png(rgb: np.ndarray, *, level: int = 6) -> bytes:
    """PNG of (H, W, 3) uint8."""
    out = io.BytesIO()
    Image.fromarray(rgb).save(out, "PNG", compress_level=level)
    return out.getvalue()


def encode_indexed_png(indices: np.ndarray, colors: np.ndarray, *, level: int = FASTEST) -> bytes:
    """PNG with a palette: (H, W) uint8 indices into (K, 3) uint8 colours; small and quick.

    As few bits a pixel as hold the indices, rows unfiltered, and runs only: dithered pixels repeat next to one another or not
    at all. Written here, as the general library offers neither. ISO/IEC 15948.
    """
    height, width = indices.shape
    bits = 1 if len(colors) <= 2 else 2 if len(colors) <= 4 else 4 if len(colors) <= 16 else 8
    each = 8 // bits
    padded = np.pad(indices, ((0, 0), (0, -width % each))) if width % each else indices
    rows = np.zeros((height, padded.shape[1] // each + 1), np.uint8)  # each begins with 0: it is not filtered
    for place in range(each):
        rows[:, 1:] |= padded[:, place::each] << (8 - bits * (place + 1))
    press = zlib.compressobj(level, zlib.DEFLATED, 15, 9, zlib.Z_RLE)
    data = press.compress(rows.tobytes()) + press.flush()
    head = struct.pack(">IIBBBBB", width, height, bits, 3, 0, 0, 0)
    palette = np.ascontiguousarray(colors, np.uint8).tobytes()
    chunks = ((b"IHDR", head), (b"PLTE", palette), (b"IDAT", data), (b"IEND", b""))
    return b"\x89PNG\r\n\x1a\n" + b"".join(_chunk(kind, content) for kind, content in chunks)


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def png_of_glass(pixels: np.ndarray, passport: Passport, turn: Turn) -> bytes:
    """What stands on a glass as PNG in measured colours: palette indices (H, W) or RGB (H, W, 3), as the reader sees it."""
    if passport.palette is not None and not passport.zones:
        return encode_indexed_png(pixels, passport.palette.measured_rgb)
    return encode_png(colors_of(pixels, passport, turn), level=1)


def png(result: ExportResult) -> bytes:
    return encode_png(result.shown)


def bmp(result: ExportResult) -> bytes:
    out = io.BytesIO()
    Image.fromarray(result.shown).save(out, "BMP")
    return out.getvalue()


def ppm(result: ExportResult) -> bytes:
    height, width = result.shown.shape[:2]
    return b"P6\n%d %d\n255\n" % (width, height) + result.shown.tobytes()


def _grey(result: ExportResult) -> np.ndarray:
    return np.asarray(Image.fromarray(result.shown).convert("L"))


def pgm(result: ExportResult) -> bytes:
    height, width = result.shown.shape[:2]
    return b"P5\n%d %d\n255\n" % (width, height) + _grey(result).tobytes()


def _light(result: ExportResult) -> np.ndarray:
    """(H, W) 1 where the lighter of two colours is."""
    palette = result.passport.palette
    if palette is None:
        raise BadValueError("only panels with a palette have a lighter of two colours")
    return np.equal(result.pixels, palette.lightest).astype(np.uint8)


def pbm(result: ExportResult) -> bytes:
    height, width = result.pixels.shape
    return b"P4\n%d %d\n" % (width, height) + np.packbits(1 - _light(result), axis=1).tobytes()


def xbm(result: ExportResult) -> bytes:
    height, width = result.pixels.shape
    data = np.packbits(_light(result), axis=1, bitorder="little").tobytes()
    body = ",\n".join("  " + ", ".join(f"0x{b:02x}" for b in data[i : i + 12]) for i in range(0, len(data), 12))
    name = result.identifier[:XBM_NAME].rstrip("_")
    return (
        f"#define {name}_width {width}\n#define {name}_height {height}\nstatic unsigned char {name}_bits[] = {{\n{body} }};\n"
    ).encode()


def _two_levels_only(passport: Passport) -> str:
    return (
        ""
        if passport.palette and len(passport.palette) == 2
        else "this form holds two colours; the panel has more: take PNG or PPM"
    )


def _read(data: bytes, mode: str) -> np.ndarray:
    with Image.open(io.BytesIO(data)) as image:
        return np.asarray(image.convert(mode))


def _same_colors(data: bytes, result: ExportResult) -> bool:
    return bool(np.array_equal(_read(data, "RGB"), result.shown))


def _same_grey(data: bytes, result: ExportResult) -> bool:
    return bool(np.array_equal(_read(data, "L"), _grey(result)))


def _same_light(data: bytes, result: ExportResult) -> bool:
    return bool(np.array_equal(_read(data, "1"), _light(result).astype(bool)))


PNG = Exporter("png", "PNG picture", "image/png", png, _same_colors)
BMP = Exporter("bmp", "BMP picture", "image/bmp", bmp, _same_colors)
PPM = Exporter("ppm", "PPM picture", "image/x-portable-pixmap", ppm, _same_colors)
PGM = Exporter("pgm", "PGM picture", "image/x-portable-graymap", pgm, _same_grey)
PBM = Exporter("pbm", "PBM bitmap", "image/x-portable-bitmap", pbm, _same_light, _two_levels_only)
XBM = Exporter("xbm", "XBM bitmap", "image/x-xbitmap", xbm, _same_light, _two_levels_only)
