"""What cards are painted on: the pixels of one panel, in its own colours, as its reader sees them."""

import numpy as np
import numpy.typing as npt

from mosaic.cards.letters import BoolArray, Face, face_for, face_that_fits
from mosaic.color.srgb import bytes_to_linear, luminance
from mosaic.panels.geometry import Turn, seen_size
from mosaic.panels.passport import Passport
from mosaic.pixels.direct import expand_channel

Value = int | tuple[int, int, int]
"""A palette index, or red, green and blue in 8 bits."""
MIDDLE_LIGHT = 0.18
"""Colours of more light than this take dark letters."""


class Canvas:
    """Pixels (H, W) of palette indices or (H, W, 3) of RGB, filled with the panel's ground.

    Glass that shines has dark ground, paper light; `ink` stands out from it.
    """

    def __init__(self, passport: Passport, turn: Turn, size: tuple[int, int] | None = None) -> None:
        self.passport, self.turn = passport, turn
        self.width, self.height = size or seen_size(passport, turn)
        palette = passport.palette
        light: Value = (255, 255, 255) if palette is None else palette.lightest
        dark: Value = (0, 0, 0) if palette is None else palette.darkest
        self.ground, self.ink = (light, dark) if passport.technology == "epaper" else (dark, light)
        self.light, self.dark = light, dark
        shape = (self.height, self.width) if palette is not None else (self.height, self.width, 3)
        self.pixels: npt.NDArray[np.uint8] = np.zeros(shape, np.uint8)
        self.pixels[:] = self.ground

    @property
    def pitch_mm(self) -> float:
        return self.passport.glass.pitch_mm

    @property
    def is_round(self) -> bool:
        return self.passport.glass.shape == "round"

    def face(self, room_px: int | None = None) -> Face:
        """Letters large enough to be read from near."""
        return face_for(self.pitch_mm, room_px or min(self.width, self.height) // 4)

    def fill(self, x: int, y: int, width: int, height: int, value: Value | None = None) -> None:
        """A rectangle; what lies outside is left out."""
        x0, y0 = max(0, x), max(0, y)
        self.pixels[y0 : max(0, y + height), x0 : max(0, x + width)] = self.ink if value is None else value

    def frame(self, x: int, y: int, width: int, height: int, value: Value | None = None) -> None:
        """A rectangle's outline, one pixel wide."""
        for at in ((x, y, width, 1), (x, y + height - 1, width, 1), (x, y, 1, height), (x + width - 1, y, 1, height)):
            self.fill(*at, value)

    def stamp(self, x: int, y: int, mask: BoolArray, value: Value | None = None) -> None:
        """A mask's set pixels at (x, y), cut at the edges."""
        x0, y0 = max(0, x), max(0, y)
        part = mask[y0 - y : max(0, self.height - y), x0 - x : max(0, self.width - x)]
        area = self.pixels[y0 : y0 + part.shape[0], x0 : x0 + part.shape[1]]
        area[part] = self.ink if value is None else value

    def text(self, x: int, y: int, words: str, face: Face, value: Value | None = None) -> None:
        self.stamp(x, y, face.draw(words), value)

    def centred(self, x: int, y: int, width: int, height: int, words: str, value: Value | None = None) -> bool:
        """Words in the middle of a rectangle, in the largest need; whether there was room."""
        face = face_that_fits(words, width, height, self.pitch_mm)
        if face is None:
            return False
        self.text(x + (width - face.width_of(words)) // 2, y + (height - face.height) // 2, words, face, value)
        return True

    def settled(self) -> npt.NDArray[np.uint8]:
        """The pixels in values that the panel can show: reduced channels, low bits repeating the high ones."""
        fmt = self.passport.format
        if self.passport.palette is not None:
            return self.pixels
        bits = fmt.channel_bits  # type: ignore[union-attr]
        return np.stack([expand_channel(self.pixels[..., c] >> (8 - bits[c]), bits[c]) for c in range(3)], axis=-1)

    def contrast(self, color: tuple[int, int, int]) -> Value:
        """Light or dark, whichever stands out from a colour."""
        light = float(luminance(bytes_to_linear(np.array([[color]], np.uint8)))[0, 0])
        return self.dark if light > MIDDLE_LIGHT else self.light
