"""The blanks of a passport that is one's own."""

from typing import Any

from workshop.panels.description_form import Blank, DescriptionForm

ROTATIONS = (("0", "as it scans"), ("90", "turned 90° clockwise"), ("180", "turned by half"), ("270", "turned 90° back"))
SHAPES = (("rect", "with square corners"), ("rounded", "with rounded corners"), ("round", "round"))
SIDES = (("top", "top"), ("right", "right"), ("bottom", "bottom"), ("left", "left"))
BASES = (("typical", "typical"), ("data sheet", "from its data sheet"), ("measured", "measured"))

_FIXED = (
    Blank("name", "name", "text"),
    Blank("owned.marking", "marking printed on the part", "text"),
    Blank("owned.seller", "the seller's wording", "long"),
    Blank("owned.price", "price", "price"),
    Blank("owned.currency", "currency", "text"),
    Blank("owned.notes", "your notes", "long"),
    Blank("colors_in_words", "colours in words", "text"),
    Blank("rotation", "how it usually lies", "choice", ROTATIONS),
    Blank("glass.width_px", "columns of the glass", "whole"),
    Blank("glass.height_px", "rows of the glass", "whole"),
    Blank("glass.width_mm", "width of the active area, mm", "number"),
    Blank("glass.height_mm", "height of the active area, mm", "number"),
    Blank("glass.outline_width_mm", "width of the module, mm", "number"),
    Blank("glass.outline_height_mm", "height of the module, mm", "number"),
    Blank("glass.shape", "shape", "choice", SHAPES),
    Blank("glass.corner_mm", "radius of the corners, mm", "number"),
    Blank("glass.transparent", "dark is see-through", "flag"),
    Blank("module.area_x_mm", "active area from the left, mm", "price"),
    Blank("module.area_y_mm", "active area from the top, mm", "price"),
    Blank("module.connector", "side of the connector", "choice", SIDES),
    Blank("module.stack_mm", "stack height, mm", "number"),
    Blank("ram.width_px", "columns of the RAM", "whole"),
    Blank("ram.height_px", "rows of the RAM", "whole"),
    Blank("ram.offset_x", "first column of the glass", "whole"),
    Blank("ram.offset_y", "first row of the glass", "whole"),
    Blank("optics.white_cd_m2", "luminance of full white, cd/m²", "number"),
    Blank("optics.reflectance", "reflectance", "number"),
    Blank("optics.basis", "what the optics rest on", "choice", BASES),
    Blank("power.supply_v", "supply, V", "number"),
    Blank("power.base_ma", "current of the controller, mA", "number"),
    Blank("power.full_on_ma", "current with all pixels lit, mA", "number"),
    Blank("power.backlight_ma", "current of the backlight, mA", "number"),
    Blank("power.sleep_ua", "current asleep, µA", "number"),
    Blank("power.basis", "what the currents rest on", "choice", BASES),
    Blank("notes", "notes on the panel", "long"),
    Blank("sequences.setup", "set-up sequence", "long"),
    Blank("sequences.window", "window sequence", "long"),
    Blank("sequences.show", "sequence that shows a frame", "long"),
)


def passport_form(plain: dict[str, Any], typed: dict[str, str] | None = None) -> DescriptionForm:
    """The form over a passport's plain values: fixed blanks, and those of its lists."""
    blanks = list(_FIXED)
    if plain.get("palette"):
        blanks += [Blank("palette.measured", "measured colours", "colors"), Blank("palette.nominal", "nominal colours", "colors")]
    for number in range(len(plain.get("links", ()))):
        blanks.append(Blank(f"links[{number}].max_clock_hz", "fastest clock, Hz", "whole"))
        blanks.append(Blank(f"links[{number}].usual_clock_hz", "usual clock, Hz", "whole"))
    for number in range(len(plain.get("refresh", ()))):
        blanks.append(Blank(f"refresh[{number}].time_ms", "time of the refresh, ms", "number"))
        blanks.append(Blank(f"refresh[{number}].energy_mj", "energy of the refresh, mJ", "number"))
        blanks.append(Blank(f"refresh[{number}].basis", "what the refresh rests on", "choice", BASES))
    return DescriptionForm(tuple(blanks), plain, typed or {})
