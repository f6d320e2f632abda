"""`mosaic render`: a screen for given values, or a drawing or page that this machine computes, as a frame."""

import argparse
import io
import json
import zipfile
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from mosaic.boards.board import catalogue as boards
from mosaic.build_file import INDEX
from mosaic.build_file import read as read_build
from mosaic.cli.common import add_recipe, panel_of, recipe_of
from mosaic.conversion.pipeline import pack
from mosaic.device.device import Device
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.exports.code import hex_lines
from mosaic.exports.rasters import encode_png
from mosaic.hosted.page import HostPage, filled
from mosaic.panels.appearance import colors_of
from mosaic.screens import bundle
from mosaic.screens.kit import Kit
from mosaic.screens.rendering import render
from mosaic.screens.screen import Screen
from mosaic.source_text import identifier
from mosaic.values.courses import typical
from mosaic.values.given import readings_given
from mosaic.values.states import State
from mosaic.values.value import Value

ENDINGS = ("bin", "png", "h")
PAGES = {"svg": "drawing", "html": "page", "htm": "page"}


def add_commands(commands: Any) -> None:
    parser = commands.add_parser("render", help="a screen, drawing or page for these values, as a frame")
    parser.add_argument(
        "file", metavar="FILE", help="a build file or a file of screens (.zip), a drawing (.svg) or a page (.html)"
    )
    parser.add_argument("--screen", metavar="NAME", help="of a file of screens; its first if left out")
    parser.add_argument(
        "--values", metavar="JSON", help='a file such as {"tide": 4.6, "lamp": "on", "wind": null}; typical if left out'
    )
    parser.add_argument(
        "--described", metavar="ZIP", help="of a drawing or page: a file of screens whose values, by name, it shows"
    )
    endings = ", ".join(f".{ending}" for ending in ENDINGS)
    parser.add_argument(
        "--out", action="append", required=True, metavar="FILE", help=f"by its ending: {endings}; may be repeated"
    )
    parser.add_argument("--panel", metavar="SLUG|PASSPORT.json", help="of a drawing or page; that of --described if left out")
    parser.add_argument("--rotation", type=int, choices=(0, 90, 180, 270), help="degrees clockwise")
    parser.add_argument("--mirrored", action="store_true", help="left and right exchanged")
    add_recipe(parser)
    parser.set_defaults(run=run)


def readings_of(path: str | None, values: Mapping[str, Value]) -> State:
    """The state of a file of values: by their names; null is absent, and a list under "stale" names those that are old.

    Raises
    ------
    BadDescriptionError, BadValueError
        It is no JSON object, names a value that is not there, or gives it what it cannot be.
    """
    if path is None:
        return State()
    try:
        plain = json.loads(Path(path).read_text("utf-8"))
    except ValueError as error:
        raise BadDescriptionError(f"{path} is no JSON: {error}", path="$") from None
    if not isinstance(plain, dict):
        raise BadDescriptionError(f'{path} is no object; {{"tide": 4.6}} is accepted', path="$")
    stale = plain.pop("stale", []) if isinstance(plain.get("stale"), list) else []
    readings = readings_given(plain, values.values(), path)
    by_name = {value.name.lower(): value for value in values.values()}
    old = frozenset(by_name[str(name).lower()].id for name in stale if str(name).lower() in by_name)
    return State("given", "given", readings, old)


def run(arguments: argparse.Namespace) -> None:
    for out in arguments.out:
        if Path(out).suffix.lstrip(".") not in ENDINGS:
            raise BadValueError(f"{out} ends in none of {', '.join(f'.{ending}' for ending in ENDINGS)}")
    ending = Path(arguments.file).suffix.lstrip(".").lower()
    pixels, device = _page(arguments, PAGES[ending]) if ending in PAGES else _screen(arguments)
    for out in arguments.out:
        Path(out).write_bytes(_written(pixels, device, Path(out)))


def _of_file(data: bytes) -> tuple[dict[str, Screen], Device, Kit]:
    """Screens by name, device and kit: of a build file, or of a file of screens, which needs nothing made anew."""
    try:
        names = zipfile.ZipFile(io.BytesIO(data)).namelist()
    except zipfile.BadZipFile:
        names = []
    if INDEX not in names:
        return bundle.read(data)
    from mosaic.handover.project import Project  # what files of screens do not need is not read for them

    project = Project(read_build(data))
    parts = [part for part in project.of("screen") if part.ref in project.plans]
    kits = [project.kit(part.record) for part in parts] or [project.kit(Screen())]
    pictures = {ref: pixels for kit in kits for ref, pixels in kit.pictures.items()}
    cells = {ref: found for kit in kits for ref, found in kit.cells.items()}
    return {part.name: part.record for part in parts}, project.device, replace(kits[0], pictures=pictures, cells=cells)


def _screen(arguments: argparse.Namespace) -> tuple[Any, Device]:
    screens, device, kit = _of_file(Path(arguments.file).read_bytes())
    name = arguments.screen or next(iter(screens), "")
    if name not in screens:
        raise BadValueError(f"there is no screen called {name}; {', '.join(screens) or 'none'} are there")
    state = readings_of(arguments.values, kit.values)
    return render(screens[name], device, replace(kit, state=state)).pixels, device


def _page(arguments: argparse.Namespace, kind: Any) -> tuple[Any, Device]:
    values: Mapping[str, Value] = {}
    device: Device | None = None
    if arguments.described:
        _, device, kit = bundle.read(Path(arguments.described).read_bytes())
        values = kit.values
    if arguments.panel:
        passport, turn = panel_of(arguments)
        link = passport.links[0].kind
        device = Device(passport, turn.rotation, next(iter(boards().values())), link, 1_000_000, mirrored=turn.mirrored)
    from mosaic.hosted.rendering import frame_of  # what screens do not need is not read for them

    if device is None:
        raise BadValueError("a drawing or page needs --panel, or --described with a file of screens")
    text = Path(arguments.file).read_text("utf-8")
    state = readings_of(arguments.values, values)
    whole = State(readings={**{v.id: typical(v) for v in values.values()}, **state.readings}, stale=state.stale)
    shown = filled(text, {value.name: value for value in values.values()}, whole)
    return frame_of(HostPage(kind, text, recipe_of(arguments)), shown, device), device


def _written(pixels: Any, device: Device, path: Path) -> bytes:
    if path.suffix == ".png":
        return encode_png(colors_of(pixels, device.passport, device.turn))
    packed = pack(pixels, device.passport, device.turn)
    if path.suffix == ".bin":
        return packed
    name = identifier(path.stem, "frame")
    width, height = device.size
    guard = f"{name.upper()}_H"
    return (
        f"/* {width} x {height} pixels; {device.passport.format.describe()}. */\n"
        f"#ifndef {guard}\n#define {guard}\n\n#include <stdint.h>\n\n"
        f"static const uint8_t {name}[{len(packed)}] = {{\n{hex_lines(packed)}\n}};\n\n#endif\n"
    ).encode()
