"""Panels that draw by themselves: a short command for each shape that they know, and windows of single runs for all the rest."""

from dataclasses import replace

from mosaic.panels.sequence import Transaction
from mosaic.panels.wire import Part
from mosaic.refresh.costs import Cost, Wire
from mosaic.refresh.direct import direct_boxes
from mosaic.screens.calls import Call
from mosaic.screens.rendering import Rendered
from mosaic.screens.work import work_of

COMMANDS = {"fill": "filled rectangle", "line": "line", "disc": "filled circle"}
"""Shapes of the drawing library by the names of the commands that draw them."""


def command_of(call: Call, names: frozenset[str]) -> str:
    """The name of the panel's own command for a call; "" where it has none. A line of more than a pixel's width is none."""
    name = COMMANDS.get(call.name, "")
    if call.name == "line" and call.given[4] != 1:
        return ""
    return name if name in names else ""


def own_cost(rendered: Rendered, wire: Wire) -> Cost | None:
    """A whole screen by the panel's own commands where it has them; None for panels that have none.

    `draw_ms` is then the panel's own time, which the board has to wait for: the pixels over those that it fills in a microsecond.
    """
    device = rendered.device
    known = {command.name: command for command in device.passport.drawing}
    if not known:
        return None
    total, inside = Cost(), False
    for call in rendered.calls:
        inside = call.name == "within" or (inside and call.name != "beyond")
        name = "" if inside else command_of(call, frozenset(known))
        if name:
            command, pixels = known[name], work_of([call], device.size).pixels
            sent = wire.sent((Part("draw", (Transaction("data", bytes(command.byte_count)),)),), pixels)
            own_ms = pixels / command.pixels_per_us / 1000 if command.pixels_per_us else 0.0
            # Parameters are no pixels: all of it is set-up.
            total += replace(sent, draw_ms=own_ms)
        elif call.name not in ("within", "beyond"):
            total += wire.boxes(direct_boxes([call], device.size))
    return total
