"""Bands in which a frame is drawn: whole rows, whole pages where bytes stand in pages, whole columns where bytes run down."""

from mosaic.panels.passport import Passport
from mosaic.pixels.formats import IndexedFormat


def _grid(passport: Passport) -> tuple[int, int, bool]:
    """(units along the way in which bytes follow, pixels in a unit, whether units are columns)."""
    form, glass = passport.format, passport.glass
    columns = form.follow == "columns"
    length = glass.width_px if columns else glass.height_px
    stands = isinstance(form, IndexedFormat) and (form.along == "row") == columns
    unit = form.pixels_per_byte if stands and isinstance(form, IndexedFormat) else 1
    return -(-length // unit), unit, columns


def unit_name(passport: Passport) -> str:
    """What a band is made of: "rows", "pages" or "columns"."""
    form = passport.format
    return "pages" if form.follow == "pages" else "columns" if form.follow == "columns" else "rows"


def band_counts(passport: Passport) -> tuple[int, ...]:
    """Every number of bands into which a frame can be cut: all of them as large as the first, but for the last.

    Eight pages make 1, 2, 3, 4 or 8 bands: of 8, 4, 3, 2 pages or 1.
    """
    units, _, _ = _grid(passport)
    return tuple(sorted({-(-units // size) for size in range(1, units + 1)}))


def band_bytes(passport: Passport, bands: int) -> int:
    """Bytes of the largest of so many bands; 0 for none, a frame's for one."""
    if bands <= 1:
        return passport.frame_bytes if bands else 0
    units, unit, columns = _grid(passport)
    glass, thick = passport.glass, -(-units // bands) * unit
    size = (min(thick, glass.width_px), glass.height_px) if columns else (glass.width_px, min(thick, glass.height_px))
    return passport.format.frame_bytes(*size)


def check_bands(passport: Passport, bands: int) -> str:
    """Why a frame cannot be drawn in so many bands, with what can be; "" where it can."""
    counts = band_counts(passport)
    if bands == 0 or bands in counts:
        return ""
    units, _, _ = _grid(passport)
    name = unit_name(passport)
    near = [count for count in counts if count < bands][-1:] + [count for count in counts if count > bands][:1]
    told = " or ".join(f"{count} of {-(-units // count)} {name if -(-units // count) > 1 else name[:-1]}" for count in near)
    return f"{bands} bands of this panel's {units} {name} are no whole {name}; {told} are accepted"
