"""C99 and Python source that hold the packed bytes."""

from mosaic.errors import MosaicError
from mosaic.exports.result import Exporter, ExportResult
from mosaic.imports.arrays import bytes_from_c, bytes_from_python

BYTES_PER_LINE = 12


def _about(result: ExportResult) -> list[str]:
    height, width = result.pixels.shape[:2]
    lines = [
        f"{result.name}, {width} x {height} pixels for: {result.passport.name}",
        f"{result.passport.format.describe()}; {len(result.packed)} bytes",
    ]
    if result.passport.controller.turned_by == "picture" and result.orientation.mirrored:
        lines.append("mirrored left to right before packing")
    if result.passport.controller.turned_by == "picture" and result.orientation.rotation:
        degrees = result.orientation.rotation
        lines.append(f"turned {degrees} degrees counter-clockwise into the controller's axes before packing")
    # A comment must not be closed early by a maker's own words.
    return [line.replace("*/", "* /").replace("\\", "/") for line in lines]


def _hex_lines(data: bytes) -> str:
    rows = (data[i : i + BYTES_PER_LINE] for i in range(0, len(data), BYTES_PER_LINE))
    return ",\n".join("    " + ", ".join(f"0x{b:02X}" for b in row) for row in rows)


def _comment(result: ExportResult) -> str:
    return "/*\n" + "".join(f" * {line}\n" for line in _about(result)) + " */\n"


def _sizes(result: ExportResult) -> str:
    height, width = result.pixels.shape[:2]
    upper = result.identifier.upper()
    return f"#define {upper}_WIDTH {width}u\n#define {upper}_HEIGHT {height}u\n#define {upper}_BYTES {len(result.packed)}u\n"


def c_header(result: ExportResult) -> bytes:
    """A C99 header with the array in it, for use in one source file."""
    guard = f"{result.identifier.upper()}_H"
    return (
        f"{_comment(result)}#ifndef {guard}\n#define {guard}\n\n#include <stdint.h>\n\n{_sizes(result)}\n"
        f"static const uint8_t {result.identifier}[{len(result.packed)}] = {{\n{_hex_lines(result.packed)}\n}};\n\n#endif\n"
    ).encode()


def c_source(result: ExportResult) -> bytes:
    """A C99 source file that defines the array; declare it `extern` where it is used."""
    return (
        f"{_comment(result)}#include <stdint.h>\n\n{_sizes(result)}\n"
        f"extern const uint8_t {result.identifier}[{len(result.packed)}];\n"
        f"const uint8_t {result.identifier}[{len(result.packed)}] = {{\n{_hex_lines(result.packed)}\n}};\n"
    ).encode()


def python_source(result: ExportResult) -> bytes:
    """A Python module with one bytes object."""
    height, width = result.pixels.shape[:2]
    upper = result.identifier.upper()
    size = 16
    rows = (result.packed[i : i + size] for i in range(0, len(result.packed), size))
    body = "\n".join('    b"' + "".join(f"\\x{b:02x}" for b in row) + '"' for row in rows)
    about = "".join(f"# {line}\n" for line in _about(result))
    return f"{about}{upper}_WIDTH = {width}\n{upper}_HEIGHT = {height}\n{result.identifier} = (\n{body}\n)\n".encode()


def _holds_c(data: bytes, result: ExportResult) -> bool:
    try:
        return bytes_from_c(data.decode()) == result.packed
    except MosaicError:
        return False


def _holds_python(data: bytes, result: ExportResult) -> bool:
    try:
        return bytes_from_python(data.decode()) == result.packed
    except MosaicError:
        return False


C_HEADER = Exporter("h", "C header", "text/x-c", c_header, _holds_c)
C_SOURCE = Exporter("c", "C source", "text/x-c", c_source, _holds_c)
PYTHON = Exporter("py", "Python bytes", "text/x-python", python_source, _holds_python)
