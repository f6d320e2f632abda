"""Keys of what is derived: of all it depends on, and nothing else."""

import hashlib
import json
from typing import Any

from mosaic import __version__
from mosaic.device.device import Device
from mosaic.forms import from_record


def digest(*parts: Any) -> str:
    """A key of plain values; another version of the program makes other keys."""
    return hashlib.sha256(json.dumps([__version__, *parts], sort_keys=True).encode()).hexdigest()


def panel_part(device: Device) -> list[Any]:
    """What a picture on the glass depends on of its device."""
    return [from_record(device.passport), device.rotation, device.mirrored]
