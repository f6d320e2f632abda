"""What the readers' pages begin with: made of the build itself, and said to be an example."""

import re

import numpy as np

from mosaic.bringup.stages import value_field
from mosaic.cards.registry import CARDS, painted
from mosaic.device.device import Device
from mosaic.exports.capture import capture_csv
from mosaic.faults.registry import FAULTS
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.panels.wire import setup_part, window_parts, window_values
from mosaic.pixels.formats import IndexedFormat, Plane
from mosaic.pixels.indexed import pack_indexed
from mosaic.setups.read import Sequence, read_sequence
from workshop.bringup.subjects import setting_of

SLOWER = 1.35
ROWS_OF_EXAMPLE = 400


def capture_of(device: Device) -> str:
    """A window's transmission with times a third longer than computed, and one row that lost a byte."""
    setting = setting_of(device)
    rect = value_field(device)
    size = device.passport.format.frame_bytes(rect.width, rect.height)
    stripes = (bytes([0xF0] * 16 + [0x0F] * 16) * (size // 32 + 1))[:size]
    before = bytes(size) if device.passport.sequences.show_part else b""
    parts = [setup_part(setting.passport, setting.turn)]
    parts += window_parts(setting.passport, setting.turn, rect, stripes, before)
    lines = capture_csv(tuple(parts), device.link).splitlines()
    rows = [line.split(",") for line in lines[1 : 1 + ROWS_OF_EXAMPLE]]
    lost = next((i for i, (kind, data, _) in enumerate(rows) if kind in "CD" and " " in data), None)
    if lost is not None:
        rows[lost][1] = rows[lost][1].rpartition(" ")[0]
    slowed = [f"{kind},{data},{round(float(us) * SLOWER) if us else ''}" for kind, data, us in rows]
    return "\n".join([lines[0], *slowed]) + "\n"


def array_of_old_project() -> str:
    """A letter for a small OLED, in another form than that panel takes, and without a word on its size."""
    panel = catalogue()["mono-oled-128x64"]
    pixels = painted(CARDS["letter"], panel, Orientation())
    form = IndexedFormat(1, "row", "lsb", "rows", (Plane("pixels", (0, 1)),))
    data = pack_indexed(np.ascontiguousarray(pixels), form)
    rows = [", ".join(f"0x{b:02x}" for b in data[i : i + 16]) for i in range(0, len(data), 16)]
    return "/* from the old boat lamp */\nstatic unsigned char lamp_bits[] = {\n  " + ",\n  ".join(rows) + "\n};\n"


def other_setup(device: Device) -> str:
    """The build's own set-up as a list of calls, with what another module of its kind would have otherwise."""
    setting = setting_of(device)
    for name in ("set-up.height", "panel.inversion", "panel.channels", "set-up.addressing", "set-up.resolution"):
        fault = FAULTS[name]
        if fault.possible(setting):
            setting = fault.change(setting, fault.by(setting, None))
    passport = setting.passport
    own = read_setup(passport.sequences.setup, device)
    lines = []
    for step in own.steps:
        if step.said is not None:
            said = [f"cmd(0x{step.said.code:02X});", *(f"data(0x{byte:02X});" for byte in step.said.operands)]
            lines.append(" ".join(said))
        elif step.kind == "delay":
            lines.append(f"delay({step.wait_ms:g});")
        else:
            lines.append(f"{'wait_busy' if step.kind == 'busy' else 'hw_reset'}();")
    return "\n".join(lines) + "\n"


def own_setup(device: Device) -> str:
    return device.passport.sequences.setup.strip() + "\n"


def read_setup(text: str, device: Device) -> Sequence:
    """A pasted set-up in the terms of this device's controller."""
    family = device.passport.controller.family
    return read_sequence(re.sub(r"\r\n?", "\n", text), family, window_values(device.passport, device.turn))
