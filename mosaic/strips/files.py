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
from mosaic.exports.result import identifier
from mosaic.forms import from_record
from mosaic.strips.cells import Cell, pack_cell
from mosaic.strips.cutting import sheet_rgb

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


def _quoted(name: str) -> str:
    """A C comment's worth of a name."""
    return name.replace("*/", "* /").replace("\\", "backslash").replace("\n", " ")


def c_header(name: str, cells: tuple[Cell, ...], device: Device) -> bytes:
    """A C99 header: the array, a table of cells, and a constant for every name that can be one."""
    word, data, rows = identifier(name), array(cells, device), index(cells, device)
    upper = word.upper()
    lines = "\n".join(f"    {{{', '.join(str(v) for v in row[2:])}}}, /* {row[0]}: {_quoted(row[1])} */" for row in rows)
    taken: set[str] = set()
    constants = ""
    for number, cell_name, *_ in rows:
        constant = identifier(cell_name).upper()
        if constant not in taken:
            taken.add(constant)
            constants += f"#define {upper}_{constant} {number}u\n"
    about = _quoted(f"{name}, {len(cells)} cells for: {device.passport.name}")
    return (
        f"/*\n * {about}\n * {device.passport.format.describe()}; each cell packed like a picture of its own size\n"
        " * dx, dy: from the pen to its left edge, from the baseline up to its upper edge.\n */\n"
        f"#ifndef {upper}_H\n#define {upper}_H\n\n#include <stdint.h>\n\n#define {upper}_CELLS {len(cells)}u\n{constants}\n"
        f"struct {word}_cell {{ uint16_t width, height; int16_t dx, dy, advance; uint32_t offset, bytes; }};\n\n"
        f"static const struct {word}_cell {word}_cells[{len(cells)}] = {{\n{lines}\n}};\n\n"
        f"static const uint8_t {word}[{len(data)}] = {{\n{hex_lines(data)}\n}};\n\n#endif\n"
    ).encode()


def python_source(name: str, cells: tuple[Cell, ...], device: Device) -> bytes:
    """A Python module: the bytes, and a table by name."""
    word, rows = identifier(name), index(cells, device)
    table = "".join(f"    {row[1]!r}: {row[2:]!r},\n" for row in rows)
    return (
        f"# {name.splitlines()[0] if name else ''}, {len(cells)} cells for: {device.passport.name}\n"
        f"# {device.passport.format.describe()}\n# name: (width, height, dx, dy, advance, offset, bytes)\n"
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
    word = identifier(name)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(f"{word}.h", c_header(name, cells, device))
        archive.writestr(f"{word}.py", python_source(name, cells, device))
        archive.writestr(f"{word}.bin", array(cells, device))
        archive.writestr(f"{word}.csv", index_csv(cells, device))
        archive.writestr(f"{word}.png", encode_png(contact_rgb(cells, device, ground)))
        archive.writestr(f"{word}.json", json.dumps({"name": name, **from_record(description)}, indent=2))
    return out.getvalue()
