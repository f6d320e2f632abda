"""Colours by name: what a name is on a panel, and what a colour becomes there."""

from functools import lru_cache

import numpy as np

from mosaic.color.lab import linear_to_lab
from mosaic.color.srgb import bytes_to_linear, parse_hex
from mosaic.errors import BadValueError
from mosaic.lettering.shades import usual_colors
from mosaic.panels.passport import Passport
from mosaic.pixels.direct import pack_direct, unpack_direct
from mosaic.pixels.formats import DirectFormat

INK, GROUND = "ink", "ground"


@lru_cache(maxsize=65_536)
def snapped(rgb: int, fmt: DirectFormat) -> int:
    """0xRRGGBB as the panel shows it after its depth."""
    one = np.array([[[rgb >> 16 & 255, rgb >> 8 & 255, rgb & 255]]], np.uint8)
    if fmt.bits == 12:
        one = np.repeat(one, 2, axis=1)  # two pixels fill three bytes
    r, g, b = unpack_direct(pack_direct(one, fmt), one.shape[1], 1, fmt)[0, 0]
    return int(r) << 16 | int(g) << 8 | int(b)


def names_of(passport: Passport) -> tuple[str, ...]:
    """The names that colours of this panel go by."""
    return (INK, GROUND, *(passport.palette.names if passport.palette else ()))


@lru_cache(maxsize=4096)
def _nearest(name: str, measured: tuple[str, ...]) -> int:
    wanted = linear_to_lab(bytes_to_linear(np.array([parse_hex(name)], np.uint8)))
    known = linear_to_lab(bytes_to_linear(np.array([parse_hex(c) for c in measured], np.uint8)))
    return int(((known - wanted) ** 2).sum(axis=1).argmin())


def color_value(name: str, passport: Passport) -> int:
    """The palette's number of a colour, or 0xRRGGBB after the panel's depth.

    Raises
    ------
    BadValueError
        It is neither a colour's name on this panel nor one such as #a02c26.
    """
    ink, ground = usual_colors(passport)
    if name in (INK, GROUND):
        value = ink if name == INK else ground
        return value if passport.palette else snapped(value, passport.format)
    palette = passport.palette
    if palette is not None and name in palette.names:
        return palette.names.index(name)
    try:
        rgb = parse_hex(name)
    except BadValueError:
        known = ", ".join(names_of(passport))
        raise BadValueError(f"{name} is no colour of this panel; {known}, or one such as #a02c26 are accepted") from None
    if palette is not None:
        return _nearest(name.lower(), palette.measured)
    return snapped(int(rgb[0]) << 16 | int(rgb[1]) << 8 | int(rgb[2]), passport.format)


def shown_hex(value: int, passport: Passport) -> str:
    """What a value looks like: the measured colour of the palette's number, or itself."""
    return passport.palette.measured[value] if passport.palette else f"#{value:06x}"
