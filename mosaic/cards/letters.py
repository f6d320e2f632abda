"""Two small alphabets of whole pixels, for rulers and names on test cards: 3 × 5 and 5 × 7.

A glyph is given row by row from the top; each number's bits are pixels, the highest on the left.
"""

from dataclasses import dataclass
from functools import cache

import numpy as np
import numpy.typing as npt

BoolArray = npt.NDArray[np.bool_]

_SMALL = {
    "0": "75557", "1": "26227", "2": "71747", "3": "71717", "4": "55711", "5": "74717", "6": "74757", "7": "71244",
    "8": "75757", "9": "75717", "A": "25755", "B": "65656", "C": "34443", "D": "65556", "E": "74647", "F": "74644",
    "G": "34553", "H": "55755", "I": "72227", "J": "11152", "K": "55655", "L": "44447", "M": "57755", "N": "65555",
    "O": "25552", "P": "65644", "Q": "25573", "R": "65655", "S": "34216", "T": "72222", "U": "55557", "V": "55552",
    "W": "55775", "X": "55255", "Y": "55222", "Z": "71247", "-": "00700", ".": "00002", "+": "02720", ":": "02020",
    "/": "11244", "%": "51245", "×": "05250", ",": "00024", " ": "00000",
}  # fmt: skip
_LARGE = {
    "0": (14, 17, 19, 21, 25, 17, 14), "1": (4, 12, 4, 4, 4, 4, 14), "2": (14, 17, 1, 6, 8, 16, 31),
    "3": (30, 1, 1, 14, 1, 1, 30), "4": (2, 6, 10, 18, 31, 2, 2), "5": (31, 16, 30, 1, 1, 17, 14),
    "6": (6, 8, 16, 30, 17, 17, 14), "7": (31, 1, 2, 4, 8, 8, 8), "8": (14, 17, 17, 14, 17, 17, 14),
    "9": (14, 17, 17, 15, 1, 2, 12), "A": (14, 17, 17, 31, 17, 17, 17), "B": (30, 17, 17, 30, 17, 17, 30),
    "C": (14, 17, 16, 16, 16, 17, 14), "D": (30, 17, 17, 17, 17, 17, 30), "E": (31, 16, 16, 30, 16, 16, 31),
    "F": (31, 16, 16, 30, 16, 16, 16), "G": (14, 17, 16, 23, 17, 17, 14), "H": (17, 17, 17, 31, 17, 17, 17),
    "I": (14, 4, 4, 4, 4, 4, 14), "J": (7, 2, 2, 2, 2, 18, 12), "K": (17, 18, 20, 24, 20, 18, 17),
    "L": (16, 16, 16, 16, 16, 16, 31), "M": (17, 27, 21, 21, 17, 17, 17), "N": (17, 25, 21, 19, 17, 17, 17),
    "O": (14, 17, 17, 17, 17, 17, 14), "P": (30, 17, 17, 30, 16, 16, 16), "Q": (14, 17, 17, 17, 21, 18, 13),
    "R": (30, 17, 17, 30, 20, 18, 17), "S": (15, 16, 16, 14, 1, 1, 30), "T": (31, 4, 4, 4, 4, 4, 4),
    "U": (17, 17, 17, 17, 17, 17, 14), "V": (17, 17, 17, 17, 17, 10, 4), "W": (17, 17, 17, 21, 21, 27, 17),
    "X": (17, 17, 10, 4, 10, 17, 17), "Y": (17, 17, 10, 4, 4, 4, 4), "Z": (31, 1, 2, 4, 8, 16, 31),
    "-": (0, 0, 0, 31, 0, 0, 0), ".": (0, 0, 0, 0, 0, 12, 12), "+": (0, 4, 4, 31, 4, 4, 0), ":": (0, 12, 12, 0, 12, 12, 0),
    "/": (1, 1, 2, 4, 8, 16, 16), "%": (25, 25, 2, 4, 8, 19, 19), "×": (0, 17, 10, 4, 10, 17, 0), ",": (0, 0, 0, 0, 12, 4, 8),
    " ": (0, 0, 0, 0, 0, 0, 0),
}  # fmt: skip


@dataclass(frozen=True)
class Face:
    """An alphabet at a whole-number scale; sizes in pixels."""

    small: bool
    scale: int = 1

    @property
    def height(self) -> int:
        return (5 if self.small else 7) * self.scale

    @property
    def width(self) -> int:
        """Of one glyph, without the gap behind it."""
        return (3 if self.small else 5) * self.scale

    def width_of(self, text: str) -> int:
        """Width of a line in pixels; 0 of an empty one."""
        return max(0, len(text) * (self.width + self.scale) - self.scale)

    def draw(self, text: str) -> BoolArray:
        """(height, width) the text, in capitals; what is in no alphabet becomes a gap."""
        out = np.zeros((self.height, self.width_of(text)), bool)
        for number, sign in enumerate(text.upper()):
            at = number * (self.width + self.scale)
            out[:, at : at + self.width] = _glyph(sign, self)
        return out


@cache
def _glyph(sign: str, face: Face) -> BoolArray:
    columns = 3 if face.small else 5
    rows = [int(c) for c in _SMALL.get(sign, _SMALL[" "])] if face.small else _LARGE.get(sign, _LARGE[" "])
    bits = np.array([[row >> (columns - 1 - x) & 1 for x in range(columns)] for row in rows], bool)
    return bits.repeat(face.scale, axis=0).repeat(face.scale, axis=1)


FACES = (*(Face(False, scale) for scale in range(8, 0, -1)), Face(True))
"""From large to small."""


def face_for(pitch_mm: float, room_px: int) -> Face:
    """The smallest face of at least LEAST_MM capitals whose capitals fit `room_px`, or the largest that does."""
    for face in reversed(FACES):
        if face.height * pitch_mm >= LEAST_MM and face.height <= room_px:
            return face
    return next((face for face in FACES if face.height <= room_px), FACES[-1])


LEAST_MM = 1.4
"""Capitals of 16 arc-minutes at 300 mm: 2 x 300 x tan(8 arc-minutes)."""


def face_that_fits(text: str, width_px: int, height_px: int, pitch_mm: float) -> Face | None:
    """A face in which the text fits into width x height, no larger than it need be; None if none does."""
    wanted = face_for(pitch_mm, height_px)
    for face in FACES[FACES.index(wanted) :]:
        if face.width_of(text) <= width_px and face.height <= height_px:
            return face
    return None
