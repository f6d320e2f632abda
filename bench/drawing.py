"""A screen of twenty elements drawn by the core: `python -m bench.drawing`.

Processor time, packing included. To hold: 3 ms at 320 x 240, 12 ms at 800 x 480.
"""

import statistics
import time

import numpy as np

from mosaic.boards.board import catalogue as boards
from mosaic.device.device import Device
from mosaic.drawing import shapes
from mosaic.drawing.surface import Surface, new_surface, packed
from mosaic.exports.rasters import encode_png
from mosaic.lettering.making import Sources, make
from mosaic.lettering.plan import LetteringPlan
from mosaic.panels.appearance import colors_of
from mosaic.panels.loader import catalogue
from mosaic.pixels.formats import DirectFormat
from mosaic.screens.calls import Font
from mosaic.screens.kit import Kit
from mosaic.screens.moments import states_of
from mosaic.screens.placing import Box, Natural, place
from mosaic.screens.plan import planned
from mosaic.screens.rendering import drawn_in
from mosaic.screens.screen import Anchor, Design, Element, Follow, Screen, Size
from mosaic.values.value import Value

ROUNDS = 60


def screen(s: Surface, glyphs: list[np.ndarray]) -> None:
    """A gauge with ticks and needle, bars, boxes, a patterned ground, and lines of letters."""
    w, h = s.width, s.rows
    shapes.fill(s, 0, 0, w, h, 0x102030)
    shapes.pattern(s, 0, 0, w, h // 2, np.eye(4, dtype=bool), 0x203040, None)
    for number in range(4):
        shapes.rounded(s, w // 20 + number * w // 4, h // 2, w // 5, h // 3, h // 20, 0xF2E8CF)
        shapes.rounded(s, w // 20 + number * w // 4, h // 2, w // 5, h // 3, h // 20, 0xA23B1F, outlined=True)
    shapes.ring(s, w // 4, h // 4, h // 5, h // 30, 0x16787A)
    shapes.ellipse(s, w // 2, h // 20, w // 3, h // 3, 0x084749)
    shapes.line(s, w // 4, h // 4, w // 3, h // 10, 3, 0xFFFFFF)
    shapes.polygon(s, [(w // 2, h // 3), (w // 2 + h // 8, h // 2), (w // 2 - h // 8, h // 2)], 0xFFB52E)
    shapes.frame(s, 2, 2, w - 4, h - 4, 2, 0xFFFFFF)
    for line in range(6):
        for column, ink in enumerate(glyphs):
            shapes.stencil(s, 10 + column * 12, h // 2 + 10 + line * h // 20, ink, 0x1F2729)


def placed() -> None:
    """Two hundred elements, each placed by the one before, in a mixed order."""
    elements = [
        Element(
            f"e{n}", "rectangle", x=Anchor("start", f"e{n - 1}", "end", 1) if n % 20 else Anchor(), y=Anchor(plus=n // 20 * 9)
        )
        for n in range(200)
    ]
    mixed = tuple(elements[n * 77 % 200] for n in range(200))
    areas, own = {"glass": Box(0, 0, 800, 480, 480), "safe": Box(0, 0, 800, 480, 480)}, Natural(9, 7, 7)
    times = []
    for _ in range(ROUNDS):
        begun = time.process_time()
        place(mixed, areas, lambda element: own)
        times.append((time.process_time() - begun) * 1000)
    print(f"200 elements placed: {statistics.median(times):.2f} ms (to stay under 5)")


def redrawn() -> None:
    """A screen of some twenty elements that follow values, after an edit: planned, drawn in every state, one picture of all."""
    tft = catalogue()["tft-320x240-touch"]
    device = Device(tft, 0, boards()["low-power"], tft.links[0].kind, 8_000_000)
    font = make(LetteringPlan(face="narrow", size_by="pixels", size_px=14, bits=2), Sources(0.2)).lettering
    values = tuple(
        Value(f"v{n}", f"value {n}", decimals=1, low=-50, high=1000, unit="m", max_age_s=60, stale="--") for n in range(1, 9)
    )
    elements = tuple(
        element
        for n, value in enumerate(values)
        for element in (
            Element(
                f"t{n}", "text", x=Anchor(plus=4 + n % 2 * 160), y=Anchor(plus=4 + n // 2 * 58), text=f"Tide {{{value.id}:u}}"
            ),
            Element(
                f"b{n}", "bar", x=Anchor("start", f"t{n}"), y=Anchor("start", f"t{n}", "end", 4), low=-50, high=1000,
                second="#203040", width=Size("pixels", 140), follows=(Follow("value", value.id),),
            ),
            Element(
                f"g{n}", "needle", x=Anchor("start", f"t{n}", "end", 4), y=Anchor("start", f"t{n}"), low=-50, high=1000, ticks=5,
                width=Size("pixels", 41), height=Size("pixels", 41), follows=(Follow("value", value.id),),
            ),
        )
    )  # fmt: skip
    screen = Screen(elements[:20])
    kit = Kit(tft, {"lettering-1": Font("small", font)}, design=Design(values=values))
    times = []
    for _ in range(6):
        begun = time.process_time()
        plan = planned(screen, device, kit)
        looks = [drawn_in(plan, state) for state in states_of(plan)]
        encode_png(np.concatenate([colors_of(look.pixels, tft, device.turn) for look in looks]), level=1)
        times.append((time.process_time() - begun) * 1000)
    took = statistics.median(times[1:])
    print(f"{len(screen.elements)} elements at 320 x 240 in {len(looks)} states: {took:.0f} ms (to stay under 400)")


def main() -> None:
    placed()
    redrawn()
    dice = np.random.default_rng(7)
    glyphs = [dice.random((14, 10)) < 0.4 for _ in range(16)]
    for width, height, to_reach in ((320, 240, 3), (800, 480, 12)):
        times = []
        for _ in range(ROUNDS + 1):
            s = new_surface(width, height)
            begun = time.process_time()
            screen(s, glyphs)
            packed(s, DirectFormat(16))
            times.append((time.process_time() - begun) * 1000)
        print(f"{width} x {height}, 16 bits, drawn and packed: {statistics.median(times[1:]):.2f} ms (to stay under {to_reach})")


if __name__ == "__main__":
    main()
