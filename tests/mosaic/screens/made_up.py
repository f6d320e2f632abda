"""A screen with every kind of element, and what it is made with, for tests."""

from functools import cache

import numpy as np

from mosaic.boards.board import catalogue as boards
from mosaic.device.device import Device
from mosaic.lettering.making import Sources, make
from mosaic.lettering.plan import LetteringPlan
from mosaic.panels.loader import catalogue
from mosaic.screens.calls import Font
from mosaic.screens.kinds import KINDS
from mosaic.screens.kit import Kit
from mosaic.screens.screen import Anchor, Design, Element, Ground, Part, Screen, Size, Style
from mosaic.strips.cells import Cell


@cache
def device(slug: str = "mono-oled-128x64", rotation: int = 0, *, mirrored: bool = False) -> Device:
    passport = catalogue()[slug]
    return Device(passport, rotation, boards()["low-power"], passport.links[0].kind, 8_000_000, mirrored=mirrored)


@cache
def lettering(size: int = 12, bits: int = 1):
    return make(LetteringPlan(face="narrow", size_by="pixels", size_px=size, bits=bits), Sources(0.2)).lettering


def kit_of(dev: Device, design: Design | None = None, bits: int = 1) -> Kit:
    """Two letterings, a strip of two marks, and a picture of the panel's own size."""
    width, height = dev.size
    wide = np.indices((9, 7)).sum(axis=0)
    direct = dev.passport.palette is None
    plain = np.stack([wide * 12 % 256, wide * 5 % 256, 255 - wide * 9 % 256], axis=-1) if direct else wide % 2
    cells = tuple(Cell(name, plain.astype(np.uint8), wide % 3 > 0, 0, 9, 8) for name in ("ebb", "flood"))
    whole = np.indices((height, width)).sum(axis=0)
    picture = np.stack([whole % 251, whole * 3 % 256, whole // 2 % 256], axis=-1) if direct else whole // 3 % 2
    return Kit(
        dev.passport, {"lettering-1": Font("small", lettering(12, bits)), "lettering-2": Font("large", lettering(20, bits))},
        {"strip-1": cells}, {"picture-1": picture.astype(np.uint8)}, {"strip-1": "Tide marks", "picture-1": "Marsh"},
        design or Design((Style("s1", "Quiet", "ink"),), (PART,)),
    )  # fmt: skip


PART = Part("p1", "Foot", 60, 14, (
    Element("e1", "rectangle", width=Size("as"), height=Size("as"), filled=False),
    Element("e2", "text", x=Anchor("middle", "glass", "middle"), y=Anchor("middle", "glass", "middle"), text="Oars"),
))  # fmt: skip


def all_kinds(dev: Device, ground: Ground | None = None) -> Screen:
    """One element of every kind, in rows over the glass; some of them reach over its edges."""
    width, height = dev.size
    elements, x, y = [], -3, -2
    for number, kind in enumerate(KINDS.values(), 1):
        if kind.holds:
            continue
        more = {**kind.first}
        if kind.name in ("picture", "cell", "turned"):
            more |= {"source": "strip-1", "cell": "flood", "number": 1}
        if kind.name == "turned":
            more |= {"turn": 30}
        if kind.name == "part":
            more |= {"part": "p1"}
        if kind.name in ("gauge", "needle"):
            more |= {"width": Size("pixels", 48), "height": Size("pixels", 40), "labels": True, "ticks": 3}
        if kind.name in ("bar", "gauge", "pattern"):
            more |= {"second": "ground"}
        elements.append(Element(f"e{number}", kind.name, x=Anchor(plus=x), y=Anchor(plus=y), **more))
        x += 37
        if x > width - 10:
            x, y = -3, y + max(14, height // 6)
    return Screen(tuple(elements), ground=ground or Ground())
