"""Files of a screen: its picture, its bytes, its description, and code that draws it; each read back before it is given out."""

import json
from pathlib import Path

from mosaic import firmware
from mosaic.device.device import Device
from mosaic.errors import UnknownNameError
from mosaic.exports.rasters import encode_png
from mosaic.exports.registry import NotProvenError
from mosaic.forms import from_record
from mosaic.panels.appearance import colors_of
from mosaic.screens import bundle
from mosaic.screens.code_c import c_header, c_source
from mosaic.screens.code_python import draws_the_same, python_source
from mosaic.screens.code_values import c_values, plotted
from mosaic.screens.rendering import Rendered
from mosaic.screens.screen import Screen, refs_in
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.screens.documents import ScreenDocument, design_of
from workshop.screens.reports import kit_of, plan_of

RUNTIME = Path(firmware.__file__).parent
RUNTIME_FILES = ("draw.h", "draw.c", "draw.py")
LIVING_FILES = tuple(f"{name}.{ending}" for name in ("maps", "show", "update") for ending in ("h", "c", "py"))
"""Of the runtime what only screens need that follow values."""
ENDINGS = ("h", "c", "py", "bin", "png", "json")


def _python(rendered: Rendered, title: str) -> bytes:
    source = python_source(rendered, title)
    if not draws_the_same(source, rendered, title):
        raise NotProvenError(".py: the written program, run, draws another picture; it was not given out")
    return source.encode()


def _png(rendered: Rendered, title: str) -> bytes:
    return encode_png(colors_of(rendered.pixels, rendered.device.passport, rendered.device.turn))


def _bin(rendered: Rendered, title: str) -> bytes:
    if not rendered.proof.verified:
        raise NotProvenError(".bin: the bytes do not show the screen on the virtual panel; they were not given out")
    return rendered.packed


def _json(rendered: Rendered, title: str) -> bytes:
    return (json.dumps(from_record(rendered.screen), indent=2, ensure_ascii=False) + "\n").encode()


WRITERS = {
    "h": lambda rendered, title: c_header(rendered, title).encode(),
    "c": lambda rendered, title: c_source(rendered, title).encode(),
    "py": _python, "bin": _bin, "png": _png, "json": _json,
}  # fmt: skip


def written(rendered: Rendered, title: str, ending: str) -> bytes:
    """A file of a screen.

    Raises
    ------
    UnknownNameError
        There is no such kind of file.
    NotProvenError
        Read back, it is not the screen.
    """
    if ending not in WRITERS:
        raise UnknownNameError(f"no file of a screen ends in .{ending}; {', '.join(WRITERS)} are accepted")
    return WRITERS[ending](rendered, title)


def runtime_of(rendered: Rendered) -> tuple[str, ...]:
    """Names of the runtime's files that code of a screen needs."""
    return RUNTIME_FILES + LIVING_FILES if rendered.plan.values else RUNTIME_FILES


def values_file(build: Build, device: Device) -> bytes:
    """values.h of a build: all its values, with room for what any of its screens plots."""
    plans = [plan_of(build, row.record, device) for row in shelf.of_kind(build, ScreenDocument)]
    return c_values(design_of(build), plotted(plans), build.name).encode()


def bundle_file(build: Build, device: Device) -> bytes:
    """All screens of a build with all that they are drawn with, for `mosaic render` on a machine of one's own."""
    rows = shelf.of_kind(build, ScreenDocument)
    elements = tuple(element for row in rows for element in row.record.elements)
    grounds = {row.record.ground for row in rows}
    kit = kit_of(build, device, Screen(), more=refs_in(elements) | {ground.source for ground in grounds if ground.source})
    return bundle.written({row.name: row.record for row in rows}, device, kit)


def runtime_file(name: str) -> bytes:
    """A source of the runtime that code of screens is compiled or run with."""
    return (RUNTIME / name).read_bytes()
