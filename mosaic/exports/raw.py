"""The packed bytes themselves, and a JSON form that says everything about them."""

import base64
import json

import msgspec

from mosaic.exports.result import Exporter, ExportResult
from mosaic.forms import from_record
from mosaic.pixels.compression import COMPRESSIONS


def raw(result: ExportResult) -> bytes:
    """The packed bytes, compressed where the recipe says so, and nothing else."""
    return result.stored


def description(result: ExportResult) -> bytes:
    """JSON: panel, format, recipe, figures and the bytes in base64 (`docs/formats/result.schema.json`)."""
    height, width = result.pixels.shape[:2]
    value = {
        "form": 1,
        "name": result.name,
        "panel": result.passport.slug,
        "width": width,
        "height": height,
        "rotation": result.orientation.rotation,
        "mirrored": result.orientation.mirrored,
        "format": msgspec.to_builtins(result.passport.format),
        "recipe": from_record(result.recipe),
        "figures": result.figures,
        "byte_count": len(result.packed),
        "bytes_base64": base64.b64encode(result.packed).decode(),
    }
    if result.mask is not None:
        value["mask_base64"] = base64.b64encode(result.mask).decode()
    return json.dumps(value, indent=2).encode() + b"\n"


def _same(data: bytes, result: ExportResult) -> bool:
    return COMPRESSIONS[result.recipe.compression].expand(data) == result.packed


def _holds(data: bytes, result: ExportResult) -> bool:
    return base64.b64decode(json.loads(data)["bytes_base64"]) == result.packed


RAW = Exporter("bin", "Raw bytes", "application/octet-stream", raw, _same)
JSON = Exporter("json", "JSON with everything", "application/json", description, _holds)
