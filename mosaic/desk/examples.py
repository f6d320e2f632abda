"""What an empty page says by an example: the figures of one's own panel, board and link, before anything is on the glass."""

from collections.abc import Callable

from mosaic.device.device import Device
from mosaic.links import total_s, wire_steps
from mosaic.links.kinds import KINDS
from mosaic.panels.reading import letters_of
from mosaic.panels.wire import frame_parts
from mosaic.quantities import as_rate, how_many


def frame_ms(device: Device) -> float:
    """Milliseconds of a whole frame on the wire, the commands that show it included."""
    parts = frame_parts(device.passport, device.turn, bytes(device.passport.frame_bytes))
    return float(total_s(wire_steps(parts, device.link)) * 1000)


def _ms(value: float) -> str:
    return f"{value / 1000:,.1f} s" if value >= 1000 else f"{value:,.1f} ms"


def _over(device: Device) -> str:
    kind = KINDS[device.link_kind]
    return f"over {kind.name} at {as_rate(device.clock_hz, kind.clock_name)}"


def _letters(device: Device) -> tuple[str, str]:
    found = letters_of(device.passport, device.turn, device.viewing_distance_mm)
    lines = f"{how_many(found.lines, 'line')} of {how_many(found.columns, 'character')}"
    return f"{found.height_px} px", lines


def pictures(device: Device) -> str:
    """What any picture becomes."""
    size = f"{device.size[0]} × {device.size[1]}"
    return (
        f"whatever you drop here is fitted to {size} pixels and becomes {device.passport.frame_bytes:,} bytes,"
        f" which take {_ms(frame_ms(device))} {_over(device)} (computed)"
    )


def screens(device: Device) -> str:
    """Which letters can be read."""
    height, lines = _letters(device)
    distance = f"{device.viewing_distance_mm / 1000:g} m"
    return f"from {distance} capitals of {height} can be read on this panel, and {lines} fit (computed)"


def values(device: Device) -> str:
    """How much of a line a value takes."""
    _, lines = _letters(device)
    return f"a temperature from -20.0 to 40.0 °C is 8 characters at its widest, of the {lines} that can be read here (computed)"


def schedule(device: Device) -> str:
    """How often a whole frame can be sent."""
    ms, modes = frame_ms(device), device.passport.refresh
    if not modes:
        return f"a whole frame takes {_ms(ms)} {_over(device)}, so at most {int(1000 / ms):,} fit into a second (computed)"
    pause_s, refresh_ms = device.passport.update_pause_s, modes[0].time_ms
    period_ms = max(ms + refresh_ms, pause_s * 1000)
    needs = f" and needs {pause_s:g} s from one update to the next" if pause_s * 1000 >= period_ms else ""
    return (
        f"a whole frame takes {_ms(ms)} {_over(device)} (computed); the panel refreshes for {_ms(refresh_ms)}{needs} (typical):"
        f" at most {int(3_600_000 / period_ms):,} updates an hour"
    )


def measured(device: Device) -> str:
    """What can be measured first."""
    predicted = _ms(frame_ms(device))
    return f"time a frame with a logic analyser or the program's own clock; {predicted} on the wire are predicted (computed)"


EXAMPLES: dict[str, Callable[[Device], str]] = {
    "pictures": pictures, "screens": screens, "values": values, "schedule": schedule, "measured": measured,
}  # fmt: skip


def example(page: str, device: Device) -> str:
    """One sentence for an empty page; "" where this panel is not sent whole frames.

    Raises
    ------
    KeyError
        There is none for such a page.
    """
    made = EXAMPLES[page]
    if device.passport.format is None or device.passport.slots is not None:
        return ""
    return f"For example: {made(device)}."
