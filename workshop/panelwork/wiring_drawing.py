"""The wiring picture: the panel's lines on the left, the board's pins on the right, a numbered wire for each."""

from dataclasses import dataclass

from mosaic.boards.board import Board
from mosaic.wiring.plan import PinPlan
from mosaic.wiring.signals import Signal

ROW, TOP = 27.0, 44.0
PANEL_X, BOARD_X, WIDTH = 168.0, 500.0, 672.0
# How a wire is drawn, by what it carries: told apart without colour.
STROKES = {"bus": "solid", "must": "dashed", "should": "dashed", "may": "dotted", "supply": "thick", "ground": "thick"}


@dataclass(frozen=True)
class DrawnWire:
    """A wire with its number, its ends and its stroke."""

    number: int
    signal: Signal
    to: str
    y: float
    to_y: float
    stroke: str

    @property
    def path(self) -> str:
        middle = (PANEL_X + BOARD_X) / 2
        return f"M{PANEL_X} {self.y}C{middle} {self.y} {middle} {self.to_y} {BOARD_X} {self.to_y}"


@dataclass(frozen=True)
class BoardEnd:
    """A pin of the board that has at least one wire."""

    name: str
    y: float
    caution: bool
    numbers: str

    @property
    def tag_width(self) -> float:
        """Room for the numbers of all wires that end here."""
        return 11.0 + 7.0 * len(self.numbers)

    @property
    def tag_x(self) -> float:
        return BOARD_X + 9 - self.tag_width

    @property
    def tag_middle(self) -> float:
        return self.tag_x + self.tag_width / 2


@dataclass(frozen=True)
class WiringDrawing:
    """Everything the picture needs, in drawing units."""

    width: float
    height: float
    wires: tuple[DrawnWire, ...]
    loose: tuple[tuple[Signal, float], ...]
    ends: tuple[BoardEnd, ...]
    panel_bottom: float
    board_bottom: float


def draw_wiring(plan: PinPlan, signals: tuple[Signal, ...], board: Board) -> WiringDrawing:
    """Lines in the panel's order; pins in the order of their first wire, so that few wires cross."""
    shown = [signal for signal in signals if signal.need not in ("none", "rail")]
    rows = {signal.label: TOP + ROW * number for number, signal in enumerate(shown)}
    names = list(dict.fromkeys(to for signal in shown if (to := plan.to_of(signal.label))))
    places = {name: TOP + ROW * number for number, name in enumerate(names)}
    pins = {pin.name: pin for pin in board.pins}
    wires, loose = [], []
    for signal in shown:
        to = plan.to_of(signal.label)
        if not to:
            loose.append((signal, rows[signal.label]))
            continue
        number = len(wires) + 1
        wires.append(DrawnWire(number, signal, to, rows[signal.label], places[to], STROKES.get(signal.need, "dotted")))
    ends = [
        BoardEnd(
            name, y,
            bool(name in pins and pins[name].caution), "+".join(str(wire.number) for wire in wires if wire.to == name),
        )
        for name, y in places.items()
    ]  # fmt: skip
    panel_bottom, board_bottom = TOP + ROW * len(shown), TOP + ROW * max(1, len(names))
    return WiringDrawing(
        WIDTH, max(panel_bottom, board_bottom) + 12, tuple(wires), tuple(loose), tuple(ends), panel_bottom, board_bottom
    )
