"""What bytes from elsewhere may be: this panel's own form, any panel's of the catalogue, or a usual one; and as a picture."""

from functools import lru_cache

import numpy as np
import numpy.typing as npt

from mosaic.imports.foreign import Found
from mosaic.panels.geometry import Turn, to_seen
from mosaic.panels.loader import catalogue
from mosaic.panels.passport import Passport
from mosaic.panels.windows import host_size
from mosaic.pixels.direct import unpack_direct
from mosaic.pixels.formats import IndexedFormat
from mosaic.pixels.guess import KNOWN_SHARE, Candidate, candidates_for, raw_codes, sizes_of_bytes

OWN_SHARE = 0.02
"""How much more than any known panel the build's own is preferred."""
OWN_NAME = "this panel"


@lru_cache(maxsize=1)
def known_candidates() -> tuple[Candidate, ...]:
    """Every panel of the catalogue, both ways where the controller turns the picture."""
    return tuple(
        Candidate(*host_size(panel, rotation), panel.format, KNOWN_SHARE, panel.name)
        for panel in catalogue().values()
        for rotation in ((0, 90) if panel.controller.turned_by == "controller" else (0,))
    )


def sizes_of(known: tuple[Candidate, ...]) -> list[tuple[int, int]]:
    """Their sizes, each lying and upright, without repeats."""
    return list(dict.fromkeys([*((c.width, c.height) for c in known), *((c.height, c.width) for c in known)]))


def candidates_of(found: Found, passport: Passport, turn: Turn) -> list[Candidate]:
    """This panel first, then the catalogue's, then usual forms at their sizes; failing these, at any size."""
    own = Candidate(*host_size(passport, turn), passport.format, KNOWN_SHARE + OWN_SHARE, OWN_NAME)
    known = (own, *known_candidates())
    made = candidates_for(len(found.data), sizes_of(known), list(known), found.size)
    return made or candidates_for(len(found.data), sizes_of_bytes(len(found.data)), [], found.size)


def _numbers(form: IndexedFormat) -> list[int]:
    """The number that stands for each colour, planes side by side."""
    out = []
    for codes in zip(*(plane.codes for plane in form.planes), strict=True):
        number = 0
        for code in codes:
            number = number << form.bits | code
        out.append(number)
    return out


def _code_colors(form: IndexedFormat, passport: Passport) -> npt.NDArray[np.uint8]:
    """(256, 3) colour of each code: the panel's own where the form has its codes, else even steps of grey."""
    levels = 1 << form.bits * len(form.planes)
    table = np.zeros((256, 3), np.uint8)
    table[:levels] = np.linspace(0, 255, levels).astype(np.uint8)[:, None]
    own = passport.format
    if passport.palette is None or not isinstance(own, IndexedFormat):
        return table
    if (len(passport.palette), len(own.planes), own.bits) == (form.colors, len(form.planes), form.bits):
        table[_numbers(own)] = passport.palette.measured_rgb
    return table


def picture_of(data: bytes, candidate: Candidate, passport: Passport, turn: Turn) -> npt.NDArray[np.uint8]:
    """(H, W, 3) colours of the bytes under a candidate, upright before the reader where it is this panel's own."""
    form = candidate.format
    if isinstance(form, IndexedFormat):
        picture = _code_colors(form, passport)[raw_codes(data, candidate.width, candidate.height, form)]
    else:
        picture = unpack_direct(data, candidate.width, candidate.height, form)
    if candidate.name == OWN_NAME and passport.controller.turned_by == "picture":
        return to_seen(picture, turn)
    return picture
