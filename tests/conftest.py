"""What all tests share: made-up pictures and devices."""

import io

import hypothesis
import numpy as np
import pytest
from PIL import Image

from mosaic.boards.board import catalogue as boards
from mosaic.device.device import Device
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.loader import catalogue as panels
from mosaic.pixels.formats import DirectFormat

# How long an example takes says nothing of whether it holds; each run draws others.
hypothesis.settings.register_profile("untimed", deadline=None, max_examples=50)
hypothesis.settings.load_profile("untimed")


def gradient(height: int = 60, width: int = 80) -> np.ndarray:
    """(H, W, 3) uint8: red rises to the right, green downwards, blue along the diagonal."""
    y, x = np.mgrid[0:height, 0:width]
    diagonal = (x + y) / (width + height - 2)
    return np.stack([x * 255 / (width - 1), y * 255 / (height - 1), diagonal * 255], axis=-1).round().astype(np.uint8)


def quantised(rgb: np.ndarray, fmt: DirectFormat) -> np.ndarray:
    """8-bit RGB whose values are steps of a direct format: its high bits, repeated below."""
    out = np.zeros_like(rgb)
    for c, bits in enumerate(fmt.channel_bits):
        text = [format(v >> (8 - bits), f"0{bits}b") for v in range(256)]
        steps = np.array([int((t * 8)[:8], 2) for t in text], np.uint8)
        out[..., c] = steps[rgb[..., c]]
    return out


def png_of(rgb: np.ndarray, mode: str | None = None, **options) -> bytes:
    """A picture file's bytes, PNG unless told otherwise."""
    out = io.BytesIO()
    image = Image.fromarray(rgb)
    (image.convert(mode) if mode else image).save(out, options.pop("format", "PNG"), **options)
    return out.getvalue()


@pytest.fixture
def source() -> SourcePicture:
    return SourcePicture(gradient(), None, "PNG")


@pytest.fixture
def tide_board() -> Device:
    """Four-colour e-paper on the low-power board at 4 MHz."""
    passport = panels()["epaper-296x128-four-colour"]
    return Device(passport, 90, boards()["low-power"], "spi", 4_000_000)


@pytest.fixture
def barometer() -> Device:
    """Round 16-bit TFT on a board whose RAM cannot hold a frame."""
    passport = panels()["tft-240x240-round"]
    return Device(passport, 0, boards()["low-power"], "spi", 24_000_000)
