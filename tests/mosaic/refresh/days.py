"""Made-up builds whose days are run."""

from mosaic.behaviour.behaviour import Behaviour
from mosaic.behaviour.machine import machine_of
from mosaic.refresh.costs import Wire
from mosaic.refresh.day.scene import DeviceScene
from mosaic.screens.plan import planned
from mosaic.screens.screen import Anchor, Design, Element, Follow, Screen, Size
from mosaic.values.maps import Map
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Value
from tests.mosaic.screens.made_up import device, kit_of


def at(x, y, **more):
    return {"x": Anchor(plus=x), "y": Anchor(plus=y), **more}


def px(count):
    return Size("pixels", count)


def scene_of(slug, values, screens, behaviour=None, refresh=0):
    """(machine, scene) of screens by name."""
    dev = device(slug)
    design = Design(values=tuple(values))
    plans = {name: planned(screen, dev, kit_of(dev, design)) for name, screen in screens.items()}
    machine = machine_of(behaviour or Behaviour(), design, plans, dev.size)
    return machine, DeviceScene(machine, plans, {name: name for name in screens}, Wire(dev, dev.link), refresh)


def clock(slug="tft-320x240-touch", digits="{v1:hh:mm}"):
    """Hands for seconds, minutes and hours, and digits."""
    values = [
        Value("v1", "time", "time", high=86_399, stand_in=StandIn("clock", at=0)),
        Value("v2", "second", high=59, stand_in=StandIn("ramp", at=0, every_ms=1000, period_s=60)),
    ]
    hand = at(60, 40, width=px(120), height=px(120))
    elements = (
        Element("e1", "needle", "Second hand", **hand, of="v2", low=0, high=59, follows=(Follow("value", "v2", Map("itself")),)),
        Element("e2", "text", "Digits", **at(90, 200), text=digits),
    )
    return scene_of(slug, values, {"Clock": Screen(elements)})
