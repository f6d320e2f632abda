"""Keys of what is derived: of all it depends on, and nothing else."""

import hashlib
import json
from functools import lru_cache
from typing import Any

from mosaic import __version__
from mosaic.device.device import Device
from mosaic.forms import from_record
from mosaic.panels.passport import Passport


def digest(*parts: Any) -> str:
    """A key of plain values; another version of the program makes other keys."""
    return hashlib.sha256(json.dumps([__version__, *parts], sort_keys=True).encode()).hexdigest()


@lru_cache(maxsize=64)
def _passport_text(passport: Passport) -> str:
    return json.dumps(from_record(passport), sort_keys=True)


def panel_part(device: Device) -> list[Any]:
    """What a picture on the glass depends on of its device."""
    return [_passport_text(device.passport), device.rotation, device.mirrored]
