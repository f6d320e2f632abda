"""Older forms of saved passports, brought up to the present one step by step."""

from typing import Any

# Bits of a window controller's memory access setting: which axis a mirrored reader's x runs along.
EXCHANGE, MIRROR_X, MIRROR_Y = 0x20, 0x40, 0x80
SHORT_GLASS_ROWS = 32


def upgraded(plain: dict[str, Any]) -> dict[str, Any]:
    """The same passport in the present form; unknown or newer forms are left for the reader to refuse."""
    if plain.get("form", FORM) == 1:
        return _from_first(plain)
    return plain


FORM = 2


def _from_first(plain: dict[str, Any]) -> dict[str, Any]:
    """Form 2 knows mirrored settings, and how the rows of a page OLED are wired."""
    controller = dict(plain["controller"]) if isinstance(plain.get("controller"), dict) else {}
    codes = controller.get("turn_codes")
    if isinstance(codes, list) and codes and "mirror_codes" not in controller and all(isinstance(c, int) for c in codes):
        controller["mirror_codes"] = [code ^ (MIRROR_Y if code & EXCHANGE else MIRROR_X) for code in codes]
    glass = plain.get("glass")
    rows = glass.get("height_px") if isinstance(glass, dict) else None
    if controller.get("family") == "page-oled" and isinstance(rows, int) and rows <= SHORT_GLASS_ROWS:
        controller.setdefault("row_pins", "sequential")
    return {**plain, **({"controller": controller} if controller else {}), "form": FORM}
