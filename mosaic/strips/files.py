"""The files of a set of cells: arrays with an index table in C and Python, CSV, JSON, and a picture of all of them."""

import csv
import io
import json
import zipfile
from typing import Any

import numpy as np

from mosaic.device.device import Device
from mosaic.exports.code import hex_lines, python_bytes
from mosaic.exports.rasters import encode_png
from mosaic.forms import from_record
from mosaic.quantities import how_many
from mosaic.source_text import comment, distinct, identifier
from mosaic.strips.cells import Cell, pack_cell
from mosaic.strips.cutting import sheet_rgb
from mosaic.tables import entry_reader

COLUMNS = ("number", "name", "width", "height", "dx", "dy", "advance", "offset", "bytes")


def _packed(cells: tuple[Cell, ...], device: Device) -> list[bytes]:
    return [pack_cell(cell, device) for cell in cells]


def index(cells: tuple[Cell, ...], device: Device) -> list[tuple[Any, ...]]:
    """A row of `COLUMNS` for every cell; offsets are those in the one array of all cells."""
    rows, offset = [], 0
    for number, (cell, data) in enumerate(zip(cells, _packed(cells, device), strict=True)):
        rows.append((number, cell.name, cell.width, cell.height, cell.dx, cell.dy, cell.advance, offset, len(data)))
        offset += len(data)
    return rows


def array(cells: tuple[Cell, ...], device: Device) -> bytes:
    """All cells' bytes, one behind the other."""
    return b"".join(_packed(cells, device))


def index_csv(cells: tuple[Cell, ...], device: Device) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    writer.writerows(index(cells, device))
    return out.getvalue().encode()


def constants_of(name: str, cells: tuple[Cell, ...]) -> list[str]:
    """The constant of each cell, in its order: made of its name, and distinct."""
    prefix = identifier(name, "cells").upper()
    return distinct([f"{prefix}_{identifier(cell.name, 'cell').upper()}" for cell in cells], (f"{prefix}_CELLS", f"{prefix}_H"))


def c_header(name: str, cells: tuple[Cell, ...], device: Device) -> bytes:
    """A C99 header: the array, a table of cells, and a constant for every name that can be one."""
    word, data, rows = identifier(name, "cells"), array(cells, device), index(cells, device)
    upper = word.upper()
    named = constants_of(name, cells)
    constants = "".join(f"#define {constant} {number}u\n" for number, constant in enumerate(named))
    notes = [f"{row[0]}: {comment(row[1])}, {constant}" for row, constant in zip(rows, named, strict=True)]
    lines = "\n".join(
        f"    {{{', '.join(str(v) for v in row[2:])}}}, /* {note} */" for row, note in zip(rows, notes, strict=True)
    )
    form = device.sending.array_format(device.passport).describe()
    about = comment(f"{name}, {how_many(len(cells), 'cell')} for: {device.passport.name}")
    return (
        f"/*\n * {about}\n * {form}; each cell packed like a picture of its own size\n"
        " * dx, dy: from the pen to its left edge, from the baseline up to its upper edge.\n */\n"
        f"#ifndef {upper}_H\n#define {upper}_H\n\n{device.board.tables.preamble()}\n"
        f"#define {upper}_CELLS {len(cells)}u\n{constants}\n"
        f"struct {word}_cell {{ uint16_t width, height; int16_t dx, dy, advance; uint32_t offset, bytes; }};\n\n"
        f"static const struct {word}_cell {word}_cells[{len(cells)}] TABLE_STORED = {{\n{lines}\n}};\n\n"
        f"static const uint8_t {word}[{len(data)}] TABLE_STORED = {{\n{hex_lines(data)}\n}};\n\n"
        f"/* One cell of the table, and the bytes of the array are read by TABLE_READ. */\n"
        f"{entry_reader(f'struct {word}_cell', f'{word}_cell_at', f'{word}_cells')}\n#endif\n"
    ).encode()


def python_source(name: str, cells: tuple[Cell, ...], device: Device) -> bytes:
    """A Python module: the bytes, and a table by name."""
    word, rows = identifier(name, "cells"), index(cells, device)
    keys = distinct([row[1] for row in rows])
    table = "".join(f"    {key!r}: {row[2:]!r},\n" for key, row in zip(keys, rows, strict=True))
    return (
        f"# {comment(name)}, {how_many(len(cells), 'cell')} for: {comment(device.passport.name)}\n"
        f"# {device.sending.array_format(device.passport).describe()}\n# name: (width, height, dx, dy, advance, offset, bytes)\n"
        f"{word}_cells = {{\n{table}}}\n{python_bytes(word, array(cells, device))}"
    ).encode()


def contact_rgb(cells: tuple[Cell, ...], device: Device, ground: int | tuple[int, int, int]) -> np.ndarray:
    """(H, W, 3) all cells on one baseline in the panel's colours, a pixel apart."""
    above = max(cell.dy for cell in cells)
    below = max(cell.height - cell.dy for cell in cells)
    wide = sum(cell.width + 1 for cell in cells) + 1
    shape = (above + below + 2, wide)
    out = np.empty(shape if np.ndim(ground) == 0 else (*shape, 3), np.uint8)
    out[:] = np.array(ground, np.uint8)
    x = 1
    for cell in cells:
        top = 1 + above - cell.dy
        out[top : top + cell.height, x : x + cell.width] = cell.pixels
        x += cell.width + 1
    return sheet_rgb(out, device.passport)


def zip_of(name: str, cells: tuple[Cell, ...], device: Device, ground: int | tuple[int, int, int], description: object) -> bytes:
    """All files of a set of cells."""
    word = identifier(name, "cells")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(f"{word}.h", c_header(name, cells, device))
        archive.writestr(f"{word}.py", python_source(name, cells, device))
        archive.writestr(f"{word}.bin", array(cells, device))
        archive.writestr(f"{word}.csv", index_csv(cells, device))
        archive.writestr(f"{word}.png", encode_png(contact_rgb(cells, device, ground)))
        archive.writestr(f"{word}.json", json.dumps({"name": name, **from_record(description)}, indent=2))
    return out.getvalue()
