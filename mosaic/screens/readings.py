"""What an element costs to send by itself: its window as the panel takes it, the bytes in it, the time on the link."""

from dataclasses import dataclass

from mosaic.errors import BadValueError
from mosaic.links import total_s, wire_steps
from mosaic.panels.windows import Rect, addressable, rect_to_host
from mosaic.panels.wire import window_parts
from mosaic.screens.rendering import Rendered


@dataclass(frozen=True)
class SentAlone:
    """A window in the board's axes, its pixel bytes in B, and the ms that window commands and pixels take on the link."""

    window: Rect
    pixel_bytes: int
    link_ms: float


def sent_alone(rendered: Rendered, ident: str) -> SentAlone | None:
    """The part of an element's box that lies on the glass, sent by itself; None where nothing does, or no window can be set."""
    device, box = rendered.device, rendered.boxes[ident]
    passport, (width, height) = device.passport, device.size
    left, top, right, bottom = max(0, box.x), max(0, box.y), min(width, box.right), min(height, box.bottom)
    if left >= right or top >= bottom:
        return None
    host = rect_to_host(Rect(left, top, right - left, bottom - top), passport, device.turn)
    window = addressable(host, passport, device.turn)
    size = passport.format.frame_bytes(window.width, window.height)
    try:
        parts = window_parts(passport, device.turn, window, bytes(size))
    except BadValueError:
        return None
    return SentAlone(window, size, float(total_s(wire_steps(parts, device.link))) * 1000)
