"""What windows cost on a panel's grid, as a plane below the true costs: for each window, for each row of cells, for each cell."""

from dataclasses import dataclass, field

from mosaic.panels.geometry import host_view
from mosaic.panels.windows import Rect, host_size
from mosaic.refresh.costs import Wire

STEPS = (1, 2, 4, 8, 16, 31, 32, 62, 64, 124)
"""Cells over which the growth of a cost is measured: parts of bytes and transactions come round within some of them."""
SAME = 1e-9


@dataclass(frozen=True)
class Plane:
    """ms of a window of w x h cells, at least: `window` + `row` * h + `cell` * w * h; `is_exact` where it is no more either."""

    window: float
    row: float
    cell: float
    is_exact: bool

    def of(self, width: int, height: int) -> float:
        return self.window + height * (self.row + self.cell * width)


@dataclass
class Grid:
    """Where the windows of a device begin and end: cells of `x_px` x `y_px`, of which the first ones may be cut off."""

    wire: Wire
    x_px: int = field(init=False)
    y_px: int = field(init=False)
    left_px: int = field(init=False)
    top_px: int = field(init=False)
    across: int = field(init=False)
    down: int = field(init=False)

    def __post_init__(self) -> None:
        device = self.wire.device
        grid, view = device.passport.grid, host_view(device.passport, device.turn)
        width, height = host_size(device.passport, device.turn)
        self.x_px, self.y_px = (width, height) if grid.whole_frames else (grid.x_px, grid.y_px)
        self.left_px = 0 if grid.whole_frames else view.offset_x % grid.x_px
        self.top_px = 0 if grid.whole_frames else view.offset_y % grid.y_px
        self.across = -(-(width + self.left_px) // self.x_px)
        self.down = -(-(height + self.top_px) // self.y_px)

    def window(self, left: int, top: int, right: int, bottom: int) -> Rect:
        """Pixels of the cells from left and top up to right and bottom, as the board addresses them."""
        width, height = host_size(self.wire.device.passport, self.wire.device.turn)
        x, y = max(0, left * self.x_px - self.left_px), max(0, top * self.y_px - self.top_px)
        end_x, end_y = min(width, right * self.x_px - self.left_px), min(height, bottom * self.y_px - self.top_px)
        return Rect(x, y, end_x - x, end_y - y)

    def ms(self, width: int, height: int) -> float:
        """ms of a window of so many cells in the upper left corner of the glass."""
        return self.wire.window(self.window(0, 0, width, height)).wire_ms

    def plane(self) -> Plane:
        """The plane below all costs of windows.

        Where costs grow evenly it goes through them; on links that cut what they send into transactions, and with pixels of
        half a byte, they grow in steps: then it lies below, as high as the growth over a number of cells allows.
        """
        across, down = self.across, self.down
        one = self.ms(1, 1)
        if across == 1 and down == 1:
            return Plane(0.0, 0.0, one, True)
        if across > 1 and down > 1:
            cell = self.ms(2, 1) - one
            row = self.ms(1, 2) - one - cell
            even = Plane(one - row - cell, row, cell, True)
            sizes = {(across, 1), (1, down), (across, down), (min(3, across), min(3, down)), (across - 1, down - 1)}
            sizes |= {(min(across, n), min(down, m)) for n, m in ((15, 1), (16, 1), (33, 2), (5, 7))}
            if all(abs(even.of(*size) - self.ms(*size)) < SAME for size in sizes) and min(row, even.window) > -SAME:
                return Plane(max(0.0, even.window), max(0.0, row), cell, True)
        first = [self.ms(width, 1) for width in range(1, across + 1)]
        if self.wire.device.passport.sequences.per == "page" and down > 1:
            more = [self.ms(width, 2) - ms for width, ms in enumerate(first, 1)]
            row, cell = _line(more)
            window = min(ms - row - cell * width for width, ms in enumerate(first, 1))
            return Plane(max(0.0, window), row, cell, False)
        window, cell = _line(first)
        return Plane(window, 0.0, cell, False)


def _line(costs: list[float]) -> tuple[float, float]:
    """(start, growth) of a line below costs of 1, 2, 3, ... that grow by steps which come round: growth over n of them, at least,
    is n times the growth of the line."""  # fmt: skip
    best = (0.0, 0.0)
    for step in STEPS:
        if step >= len(costs):
            break
        growth = min((b - a) / step for a, b in zip(costs, costs[step:], strict=False))
        start = min(cost - growth * number for number, cost in enumerate(costs[:step], 1))
        if growth > best[1] and start >= 0:
            best = start, growth
    return best if best[1] else (0.0, min(cost / number for number, cost in enumerate(costs, 1)))
