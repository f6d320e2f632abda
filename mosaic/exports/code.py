"""C99 and Python source that hold the packed bytes."""

from mosaic.errors import MosaicError
from mosaic.exports.result import Exporter, ExportResult
from mosaic.imports.arrays import bytes_from_c, bytes_from_python
from mosaic.pixels.compression import COMPRESSIONS
from mosaic.source_text import comment

BYTES_PER_LINE = 12


def _about(result: ExportResult) -> list[str]:
    height, width = result.pixels.shape[:2]
    lines = [
        f"{result.name}, {width} x {height} pixels for: {result.passport.name}",
        f"{result.passport.format.describe()}; {len(result.packed)} bytes",
    ]
    if result.compression:
        lines.append(
            f"kept as {len(result.stored)} bytes, {result.compression.title}; expanded byte by byte on the way to the panel"
        )
    if result.mask is not None:
        lines.append(f"with a mask, 1 opaque: {result.mask_format.describe()}; {len(result.mask)} bytes")
    if result.passport.controller.turned_by == "picture" and result.orientation.mirrored:
        lines.append("mirrored left to right before packing")
    if result.passport.controller.turned_by == "picture" and result.orientation.rotation:
        degrees = result.orientation.rotation
        lines.append(f"turned {degrees} degrees counter-clockwise into the controller's axes before packing")
    return [comment(line) for line in lines]


def hex_lines(data: bytes) -> str:
    """Bytes as lines of a C array."""
    rows = (data[i : i + BYTES_PER_LINE] for i in range(0, len(data), BYTES_PER_LINE))
    return ",\n".join("    " + ", ".join(f"0x{b:02X}" for b in row) for row in rows)


def _comment(result: ExportResult) -> str:
    return "/*\n" + "".join(f" * {line}\n" for line in _about(result)) + " */\n"


def _sizes(result: ExportResult) -> str:
    height, width = result.pixels.shape[:2]
    upper = result.identifier.upper()
    stored = f"#define {upper}_STORED_BYTES {len(result.stored)}u\n" if result.compression else ""
    return (
        f"#define {upper}_WIDTH {width}u\n#define {upper}_HEIGHT {height}u\n#define {upper}_BYTES {len(result.packed)}u\n{stored}"
    )


def _arrays(result: ExportResult, kind: str) -> str:
    """The array and, where there is one, its mask; `kind` is what stands before their names."""
    out = f"{kind} {result.identifier}[{len(result.stored)}] TABLE_STORED = {{\n{hex_lines(result.stored)}\n}};\n"
    if result.mask is not None:
        out += f"\n{kind} {result.identifier}_mask[{len(result.mask)}] TABLE_STORED = {{\n{hex_lines(result.mask)}\n}};\n"
    return out


def _c_decoder(result: ExportResult, storage: str) -> str:
    """A function that hands the packed bytes on one by one; empty where nothing is compressed."""
    if not result.compression:
        return ""
    name = f"{result.identifier}_expand"
    signature = f"void {name}(void (*put)(uint8_t byte, void *with), void *with)"
    return (
        f"\n/* Hands the {len(result.packed)} bytes to `put`, in order. */\n{storage}{signature}\n{{\n"
        f"    const uint8_t *from = {result.identifier};\n    uint32_t count = {len(result.stored)}u;\n"
        f"    {result.compression.c_body}\n}}\n"
    )


def c_header(result: ExportResult) -> bytes:
    """A C99 header with the array in it, for use in one source file."""
    guard = f"{result.identifier.upper()}_H"
    return (
        f"{_comment(result)}#ifndef {guard}\n#define {guard}\n\n{result.tables.preamble()}\n{_sizes(result)}\n"
        f"{_arrays(result, 'static const uint8_t')}{_c_decoder(result, 'static inline ')}\n#endif\n"
    ).encode()


def c_source(result: ExportResult) -> bytes:
    """A C99 source file that defines the array; declare it `extern` where it is used."""
    names = [(result.identifier, len(result.stored))]
    names += [(f"{result.identifier}_mask", len(result.mask))] if result.mask is not None else []
    declared = "".join(f"extern const uint8_t {name}[{count}] TABLE_STORED;\n" for name, count in names)
    if result.compression:
        declared += f"void {result.identifier}_expand(void (*put)(uint8_t byte, void *with), void *with);\n"
    return (
        f"{_comment(result)}{result.tables.preamble()}\n{_sizes(result)}\n{declared}"
        f"{_arrays(result, 'const uint8_t')}{_c_decoder(result, '')}"
    ).encode()


def python_bytes(name: str, data: bytes) -> str:
    """An assignment of a bytes object over several lines."""
    size = 16
    body = "\n".join('    b"' + "".join(f"\\x{b:02x}" for b in data[i : i + size]) + '"' for i in range(0, len(data), size))
    return f"{name} = (\n{body}\n)\n"


def python_source(result: ExportResult) -> bytes:
    """A Python module with one bytes object."""
    height, width = result.pixels.shape[:2]
    upper, name = result.identifier.upper(), result.identifier
    about = "".join(f"# {line}\n" for line in _about(result))
    out = f"{about}{upper}_WIDTH = {width}\n{upper}_HEIGHT = {height}\n{python_bytes(name, result.stored)}"
    if result.mask is not None:
        out += python_bytes(f"{name}_mask", result.mask)
    if result.compression:
        about_it = f'"""The {len(result.packed)} packed bytes."""'
        out += f"\n\ndef {name}_expand(data={name}):\n    {about_it}\n    {result.compression.python_body}\n"
    return out.encode()


def _expanded(data: bytes, result: ExportResult) -> bytes:
    return COMPRESSIONS[result.recipe.compression].expand(data)


def _holds_c(data: bytes, result: ExportResult) -> bool:
    try:
        return _expanded(bytes_from_c(data.decode()), result) == result.packed
    except MosaicError:
        return False


def _holds_python(data: bytes, result: ExportResult) -> bool:
    try:
        return _expanded(bytes_from_python(data.decode()), result) == result.packed
    except MosaicError:
        return False


C_HEADER = Exporter("h", "C header", "text/x-c", c_header, _holds_c)
C_SOURCE = Exporter("c", "C source", "text/x-c", c_source, _holds_c)
PYTHON = Exporter("py", "Python bytes", "text/x-python", python_source, _holds_python)
