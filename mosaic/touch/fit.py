"""Fitting raw readings of a touch panel to pixels: exchanged axes, mirrors, scale, and the affine map that does it all.

The affine map x = a rx + b ry + c, y = d rx + e ry + f has six unknowns; three crosses determine it, more of them show
how good it is (least squares). What the panel does is read off the map: which raw axis runs along x, and which way.
"""

import re
from dataclasses import dataclass

import numpy as np

from mosaic.errors import BadLinesError, BadValueError, LineProblem
from mosaic.quantities import how_many

FEWEST = 3
FLAT_SHARE = 1e-3
"""Of the readings' spread: points whose triangle is flatter than this are taken to lie in a line."""
RAW_MAX = 65535
CROSS_SHARES = ((0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9), (0.5, 0.5))
"""Where the crosses stand, as shares of the width and the height, clockwise and then the middle."""
Point = tuple[float, float]


def crosses(width: int, height: int) -> tuple[tuple[int, int], ...]:
    """Pixels at which the card's crosses stand."""
    return tuple((round(u * (width - 1)), round(v * (height - 1))) for u, v in CROSS_SHARES)


@dataclass(frozen=True)
class Fit:
    """An affine map from raw readings to pixels before the reader, and what is left over.

    `residuals` are distances in pixels between where a cross stands and where its reading lands.
    """

    matrix: tuple[tuple[float, float, float], tuple[float, float, float]]
    residuals: tuple[float, ...]

    @property
    def worst_px(self) -> float:
        return max(self.residuals)

    @property
    def rms_px(self) -> float:
        return float(np.sqrt(np.mean(np.square(self.residuals))))

    @property
    def axes_exchanged(self) -> bool:
        """Whether the raw y runs along the reader's x."""
        (a, b, _), _ = self.matrix
        return abs(b) > abs(a)

    @property
    def mirrored_x(self) -> bool:
        """Whether x falls as its raw axis rises."""
        a, b, _ = self.matrix[0]
        return (b if self.axes_exchanged else a) < 0

    @property
    def mirrored_y(self) -> bool:
        d, e, _ = self.matrix[1]
        return (d if self.axes_exchanged else e) < 0

    @property
    def slant_degrees(self) -> float:
        """How far the raw axes are turned against the glass: 0 where the film sits straight.

        Each raw axis has its own scale, so its direction on the glass counts: x and y that one step of it moves. The mean of
        both axes; a film that is drawn askew has them differ.
        """
        (a, b, _), (d, e, _) = self.matrix
        (x1, y1), (x2, y2) = ((b, e), (a, d)) if self.axes_exchanged else ((a, d), (b, e))
        return float(np.degrees(np.arctan2(abs(y1), abs(x1)) + np.arctan2(abs(x2), abs(y2))) / 2)

    def place(self, raw: Point) -> Point:
        """Pixels of a raw reading."""
        (a, b, c), (d, e, f) = self.matrix
        return a * raw[0] + b * raw[1] + c, d * raw[0] + e * raw[1] + f


def fit(raw: list[Point], pixels: list[Point]) -> Fit:
    """The affine map that lays readings on pixels with the least squares left over.

    Raises
    ------
    BadValueError
        Fewer than three pairs, not as many of each, or points that lie in a line.
    """
    if len(raw) != len(pixels):
        raise BadValueError(f"{how_many(len(raw), 'reading')} for {len(pixels)} crosses; give one for each")
    if len(raw) < FEWEST:
        raise BadValueError(f"{how_many(len(raw), 'reading')}; three are needed, five show how good the fit is")
    readings = np.array(raw, float)
    spread = np.ptp(readings, axis=0)
    centred = readings - readings.mean(axis=0)
    flat = np.linalg.svd(centred, compute_uv=False)
    if spread.max() == 0 or flat[1] < FLAT_SHARE * flat[0]:
        raise BadValueError("the readings lie in a line, or are all the same; touch crosses on different sides of the glass")
    targets = np.array(pixels, float)
    if np.linalg.svd(targets - targets.mean(axis=0), compute_uv=False)[1] < 1e-9:
        raise BadValueError("the crosses lie in a line; use some on different sides of the glass")
    terms = np.column_stack([readings, np.ones(len(readings))])
    solution = np.linalg.lstsq(terms, targets, rcond=None)[0]
    left_over = np.hypot(*(terms @ solution - targets).T)
    rows = solution.T
    return Fit(
        ((float(rows[0, 0]), float(rows[0, 1]), float(rows[0, 2])), (float(rows[1, 0]), float(rows[1, 1]), float(rows[1, 2]))),
        tuple(float(v) for v in left_over),
    )


def turned(fitted: Fit, size: tuple[int, int], quarter_turns: int) -> Fit:
    """The same touch panel where the picture lies `quarter_turns` further clockwise before its reader; sizes before the turn."""
    (a, b, c), (d, e, f) = fitted.matrix
    width, height = size
    for _ in range(quarter_turns % 4):
        # Clockwise, a point (x, y) of a picture comes to (height - 1 - y, x).
        (a, b, c), (d, e, f) = (-d, -e, height - 1 - f), (a, b, c)
        width, height = height, width
    return Fit(((a, b, c), (d, e, f)), fitted.residuals)


MOST_PROBLEMS = 20


def read_readings(text: str, count: int) -> list[Point]:
    """Raw readings, one a line: two numbers each, with anything between them.

    Raises
    ------
    BadLinesError
        A line does not hold two numbers, or there are not `count` of them.
    """
    problems: list[LineProblem] = []
    found: list[Point] = []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        numbers = [float(n) for n in re.findall(r"-?[0-9]{1,9}(?:\.[0-9]{1,9})?", re.sub(r"^\s*\d+\s*[:.)]\s+", "", line))]
        if len(numbers) != 2:
            problems.append(
                LineProblem(number, f"{len(numbers)} number(s) in {line.strip()[:24]!r}; a reading is two: raw x and raw y")
            )
        elif max(abs(n) for n in numbers) > RAW_MAX:
            problems.append(LineProblem(number, f"a reading of more than {RAW_MAX:,}"))
        else:
            found.append((numbers[0], numbers[1]))
    if not problems and len(found) != count:
        problems.append(
            LineProblem(len(text.splitlines()) or 1, f"{how_many(len(found), 'reading')}; the card has {count} crosses")
        )
    if problems:
        raise BadLinesError(tuple(problems[:MOST_PROBLEMS]))
    return found
