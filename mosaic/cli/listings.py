"""`mosaic panels` and `mosaic methods`: what there is."""

import argparse
from typing import Any

import msgspec

from mosaic.cli.common import add_json, print_json
from mosaic.panels.geometry import seen_size
from mosaic.panels.loader import catalogue
from mosaic.panels.passport import Passport
from mosaic.pixels.formats import DirectFormat
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe, accepted


def add_commands(commands: Any) -> None:
    panels = commands.add_parser("panels", help="the catalogue: slug, size, colours, format, frame bytes")
    add_json(panels)
    panels.set_defaults(run=run_panels)
    methods = commands.add_parser("methods", help="reduction methods and their parameters")
    add_json(methods)
    methods.set_defaults(run=run_methods)


def panel_entry(passport: Passport) -> dict[str, Any]:
    """One panel as a plain object; sizes are before the reader, native ones are named so."""
    width, height = seen_size(passport, passport.rotation)
    entry: dict[str, Any] = {
        "slug": passport.slug,
        "name": passport.name,
        "technology": passport.technology,
        "width": width,
        "height": height,
        "native_width": passport.glass.width_px,
        "native_height": passport.glass.height_px,
        "rotation": passport.rotation,
        "turned_by": passport.controller.turned_by,
        "colors": _colors(passport),
        "format": msgspec.to_builtins(passport.format),
        "frame_bytes": passport.frame_bytes,
    }
    if passport.palette and passport.palette.nominal != passport.palette.measured:
        entry["nominal_colors"] = list(passport.palette.nominal)
    if passport.zones:
        entry["zones"] = [
            {"name": z.name, "first_row": z.first_row, "rows": z.rows, "colors": list(z.measured)} for z in passport.zones
        ]
    return entry


def _colors(passport: Passport) -> list[str] | str:
    if isinstance(passport.format, DirectFormat):
        return passport.format.depth_name
    return list(passport.palette.measured) if passport.palette else []


def run_panels(arguments: argparse.Namespace) -> None:
    entries = [panel_entry(p) for p in catalogue().values()]
    if arguments.json:
        print_json(entries)
        return
    for entry in entries:
        passport = catalogue()[entry["slug"]]
        size = f"{entry['width']}x{entry['height']}"
        print(
            f"{entry['slug']:30} {size:9} {entry['frame_bytes']:>8,} B  {passport.colors_in_words}; {passport.format.describe()}"
        )


def run_methods(arguments: argparse.Namespace) -> None:
    if arguments.json:
        print_json(
            [
                {
                    "name": m.name, "title": m.title, "use": m.use,
                    "parameters": [{"name": p, "accepted": accepted(p), "default": getattr(Recipe(), p)} for p in m.parameters],
                }
                for m in METHODS.values()
            ]
        )  # fmt: skip
        return
    for method in METHODS.values():
        print(f"{method.name:18} {method.use}")
        for name in method.parameters:
            print(f"{'':18}   {name}: {accepted(name)} (default {getattr(Recipe(), name)})")
