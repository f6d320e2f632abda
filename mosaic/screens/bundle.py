"""A build's screens in one file, with all that they are drawn with: for a machine of one's own that computes frames.

Letterings, cells and pictures go along as they were made, so that nothing is made anew where the file is used.
"""

import base64
import io
import json
import zipfile
from collections.abc import Mapping
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.boards.board import board_from_plain
from mosaic.device.device import Device
from mosaic.errors import BadDescriptionError, MosaicError
from mosaic.forms import from_record, to_record
from mosaic.lettering.glyph import Glyph, Lettering
from mosaic.panels.loader import passport_from_plain, passport_to_plain
from mosaic.screens.calls import Font
from mosaic.screens.kit import Kit
from mosaic.screens.screen import Design, Screen
from mosaic.strips.cells import Cell

FORM, INSIDE, MOST_BYTES = 1, "screens.json", 64 * 2**20


def _packed(array: npt.NDArray[Any]) -> dict[str, Any]:
    return {"shape": list(array.shape), "bytes": base64.b64encode(np.ascontiguousarray(array).tobytes()).decode()}


def _array(plain: Any, dtype: Any = np.uint8) -> npt.NDArray[Any]:
    return np.frombuffer(base64.b64decode(plain["bytes"]), dtype).reshape(plain["shape"])


def _lettering(font: Font) -> dict[str, Any]:
    made = font.lettering
    return {
        "key": font.key, "name": made.name, "ascent": made.ascent, "descent": made.descent, "bits": made.bits,
        "capital": made.capital, "x_height": made.x_height, "kerning": [[a, b, by] for (a, b), by in made.kerning.items()],
        "glyphs": [[g.code, g.left, g.top, g.advance, _packed(g.levels)] for g in made.glyphs],
    }  # fmt: skip


def _font(plain: Any) -> Font:
    glyphs = tuple(Glyph(code, _array(levels), left, top, advance) for code, left, top, advance, levels in plain["glyphs"])
    kerning = {(a, b): by for a, b, by in plain["kerning"]}
    made = Lettering(
        plain["name"], glyphs, plain["ascent"], plain["descent"], plain["bits"], kerning, plain["capital"], plain["x_height"]
    )
    return Font(plain["key"], made)


def _cell(cell: Cell) -> dict[str, Any]:
    inked = _packed(cell.inked.astype(np.uint8))
    return {"name": cell.name, "pixels": _packed(cell.pixels), "inked": inked, "at": [cell.dx, cell.dy, cell.advance]}


def written(screens: Mapping[str, Screen], device: Device, kit: Kit) -> bytes:
    """The file, a ZIP archive with one JSON text in it."""
    plain = {
        "form": FORM,
        "panel": passport_to_plain(device.passport), "board": from_record(device.board), "rotation": device.rotation,
        "mirrored": device.mirrored, "link": device.link_kind, "clock_hz": device.clock_hz,
        "viewing_distance_mm": device.viewing_distance_mm,
        "design": from_record(kit.design), "screens": {name: from_record(screen) for name, screen in screens.items()},
        "letterings": {ref: _lettering(font) for ref, font in kit.letterings.items()},
        "cells": {ref: [_cell(cell) for cell in cells] for ref, cells in kit.cells.items()},
        "pictures": {ref: _packed(pixels) for ref, pixels in kit.pictures.items()}, "names": dict(kit.names),
    }  # fmt: skip
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        # A fixed date: the same build gives the same file.
        archive.writestr(
            zipfile.ZipInfo(INSIDE, (2000, 1, 1, 0, 0, 0)), json.dumps(plain, ensure_ascii=False), zipfile.ZIP_DEFLATED
        )
    return out.getvalue()


def read(data: bytes) -> tuple[dict[str, Screen], Device, Kit]:
    """(screens by name, device, what they are drawn with) of a file.

    Raises
    ------
    BadDescriptionError
        It is no such file, of a later form, or damaged.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if archive.getinfo(INSIDE).file_size > MOST_BYTES:
                raise BadDescriptionError(f"it unpacks to more than {MOST_BYTES // 2**20} MiB", path="$")
            plain = json.loads(archive.read(INSIDE))
    except (zipfile.BadZipFile, KeyError, ValueError, EOFError) as error:
        raise BadDescriptionError(
            f"this is no file of screens ({error}); one downloaded from a screen's page is accepted", path="$"
        ) from None
    if plain.get("form") != FORM:
        raise BadDescriptionError(f"form {plain.get('form')!r} is of another version; {FORM} is accepted", path="$.form")
    try:
        passport, board = passport_from_plain(plain["panel"]), board_from_plain(plain["board"])
        device = Device(
            passport, plain["rotation"], board, plain["link"], plain["clock_hz"], mirrored=plain["mirrored"],
            viewing_distance_mm=plain["viewing_distance_mm"],
        )  # fmt: skip
        cells = {
            ref: tuple(Cell(c["name"], _array(c["pixels"]), _array(c["inked"]).astype(bool), *c["at"]) for c in listed)
            for ref, listed in plain["cells"].items()
        }
        kit = Kit(
            passport, {ref: _font(one) for ref, one in plain["letterings"].items()}, cells,
            {ref: _array(one) for ref, one in plain["pictures"].items()}, plain["names"],
            to_record(plain["design"], Design, "the design"),
        )  # fmt: skip
        return {name: to_record(one, Screen, name) for name, one in plain["screens"].items()}, device, kit
    except MosaicError:
        raise
    except (KeyError, TypeError, ValueError) as error:
        raise BadDescriptionError(f"the file of screens is damaged: {error}", path="$") from None
