"""From a finished conversion to what exporters are handed, the same for the page and the command line."""

from fractions import Fraction
from typing import Any

from mosaic.conversion.pipeline import Converted
from mosaic.conversion.program import Setting, array_of, carried
from mosaic.exports.registry import NotProvenError
from mosaic.exports.result import ExportResult
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import Turn, orientation_of
from mosaic.panels.sending import Sending
from mosaic.reduce.recipe import Recipe


def figures(converted: Converted) -> dict[str, Any]:
    """What is said of a conversion, as plain values; units are in the names."""
    palette = converted.passport.palette
    return {
        "bytes": len(converted.packed),
        "perceived_error": round(converted.perceived_error, 3),
        "eye_sigma_px": converted.sigma_px,
        "colors_used": converted.colors_used,
        "marked_share": round(converted.marked_share, 5),
        "shares": {n: round(s, 5) for n, s in zip(palette.names, converted.shares, strict=True)} if palette else {},
        "wire_bytes": sum(part.byte_count for part in converted.parts),
        "source_pixels_per_pixel": round(float(Fraction(converted.cut.scale).limit_denominator(10**6)), 4),
        "verified": converted.proof.verified,
    }


def result_of(
    name: str, converted: Converted, recipe: Recipe, turn: Turn, sending: Sending | None = None, *, nominal: bool = False
) -> ExportResult:
    """What exporters are handed; arrays in the form that the program takes, where that is not the panel's own.

    Raises
    ------
    NotProvenError
        What the program makes of an array in its form is not what the virtual panel was shown.
    """
    sending = sending or Sending()
    passport, packed = sending.described(converted.passport), converted.packed
    if sending.array is not None:
        setting = Setting(converted.passport, orientation_of(turn), sending)
        packed = array_of(converted.pixels, setting)
        if carried(packed, converted.passport, setting.turn, Sending(array=sending.array)) != converted.packed:
            raise NotProvenError("the array, carried to the panel's own form, is not what was verified; it was not given out")
    shown = colors_of(converted.pixels, converted.passport, turn, nominal=nominal)
    return ExportResult(
        name, passport, turn, recipe, converted.pixels, shown, packed, figures(converted), converted.coverage, sending.tables
    )
