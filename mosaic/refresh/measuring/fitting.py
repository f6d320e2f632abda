"""What a board's answers say about it: factors by least squares of relative errors, and what does not fit together."""

import math
import re
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.quantities import how_many
from mosaic.refresh.measuring.listing import Listing, Row
from mosaic.refresh.measuring.programs import FIRST, VERSION
from mosaic.refresh.pace import TYPICAL, Pace, pixel_cycles
from mosaic.screens.work import RUN_CYCLES

MOST_BYTES = 200_000
LEAST_DRAWN, LEAST_SENT = 4, 3
APART = 3.0
"""A line that is so many times as long, or as short, as the others have it contradicts them."""
LOOSE = 0.35
"""The spread of relative errors above which lines do not fit together."""
_LINE = re.compile(r"([a-z][a-z0-9_]{0,39}) (\d{1,6}) (\d{1,10})")


@dataclass(frozen=True)
class Timed:
    """A row with what was measured: us for one, as it is expected by what is typical, and as the factors have it."""

    row: Row
    measured_us: float
    fitted_us: float

    @property
    def against_typical(self) -> float:
        return self.measured_us / self.row.us if self.row.us else 0.0

    @property
    def off(self) -> float:
        """By how much the measured time differs from what the factors say."""
        return self.measured_us / self.fitted_us - 1 if self.fitted_us else 0.0


@dataclass(frozen=True)
class Fitted:
    """The board's pace, and the rows that it comes from; what was read and left out, in words; the spread of relative errors."""

    pace: Pace
    timed: tuple[Timed, ...]
    left_out: tuple[str, ...]
    spread: float


def read_answers(text: str, listing: Listing) -> tuple[dict[str, float], tuple[str, ...]]:
    """(us for one of each row, what was left out in words) of what a board said.

    Raises
    ------
    BadValueError
        It is none of this list, or cut off.
    """
    if len(text) > MOST_BYTES:
        raise BadValueError(f"that are {len(text):,} characters; up to {MOST_BYTES:,} are accepted")
    lines = [line.strip() for line in text.splitlines()]
    first = next((number for number, line in enumerate(lines) if FIRST in line), None)
    if first is None:
        raise BadValueError(f"no line begins with “{FIRST}”; paste all that the program has printed, from its first line on")
    head = lines[first][lines[first].index(FIRST) :].split()
    if len(head) != 4 or head[1] != str(VERSION):
        raise BadValueError(
            f"the first line is “{' '.join(head)[:60]}”; one of version {VERSION} is accepted: take the program anew"
        )
    if head[2] != listing.key:
        raise BadValueError(
            f"these are times of another build, or of this one before it was changed (list {head[2][:12]}, now {listing.key});"
            " download the program again and let it run once more"
        )
    rows = {row.name: row for row in listing.rows}
    found: dict[str, float] = {}
    left_out: list[str] = []
    ended = False
    for line in lines[first + 1 :]:
        if line == f"end {len(rows)}":
            ended = True
            break
        match = _LINE.search(line)
        row = rows.get(match[1]) if match else None
        if match is None or row is None:
            if line:
                left_out.append(f"“{line[:40]}” is no line of the list")
        elif int(match[2]) != row.times:
            left_out.append(f"{row.words}: done {match[2]} times instead of {row.times}")
        elif int(match[3]) == 0:
            left_out.append(f"{row.words}: 0 µs; the clock counts too coarsely for it")
        else:
            found[row.name] = int(match[3]) / row.times
    if not ended:
        raise BadValueError(
            f"the times are cut off: {len(found)} of {len(rows)} lines were read, and “end {len(rows)}” is missing; paste all"
        )
    return found, tuple(left_out)


def _solved(rows: npt.NDArray[np.float64], us: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Factors of the columns that give the measured times with the least relative errors, none of them negative."""
    weighed = rows / us[:, None]
    used = list(range(rows.shape[1]))
    while True:
        found = np.zeros(rows.shape[1])
        solved, *_ = np.linalg.lstsq(weighed[:, used], np.ones(len(us)), rcond=None)
        found[used] = solved
        if (found >= 0).all() or len(used) == 1:
            return np.maximum(found, 0.0)
        used.remove(min(used, key=lambda column: float(found[column])))


def _robust(rows: npt.NDArray[np.float64], us: npt.NDArray[np.float64], names: list[str], what: str) -> npt.NDArray[np.float64]:
    """Factors, where all lines fit together.

    Raises
    ------
    BadValueError
        They do not.
    """
    found = _solved(rows, us)
    said = rows @ found
    ratios = us / np.maximum(said, 1e-12)
    spread = float(np.sqrt(np.mean(np.log(ratios) ** 2)))
    worst = int(np.argmax(np.abs(np.log(ratios))))
    if spread > LOOSE or max(ratios[worst], 1 / ratios[worst]) > APART:
        times = f"{max(ratios[worst], 1 / ratios[worst]):.1f} times as {'long' if ratios[worst] > 1 else 'short'}"
        raise BadValueError(
            f"the times of {what} contradict each other: {names[worst]} takes {times} as the others have it. Let the program run"
            " again, with nothing else at work on the board"
        )
    return found


def fitted(text: str, listing: Listing) -> Fitted:
    """The pace of a board from what it said.

    Raises
    ------
    BadValueError
        It cannot be read, there is too little of it, or it contradicts itself.
    """
    us, left_out = read_answers(text, listing)
    device = listing.device
    mega = device.board.cpu_mhz
    drawn = [row for row in listing.rows if row.name in us and not row.is_sent and row.work.runs]
    sent = [row for row in listing.rows if row.name in us and row.is_sent]
    if len(drawn) < LEAST_DRAWN:
        raise BadValueError(f"only {how_many(len(drawn), 'line')} of drawing can be used; {LEAST_DRAWN} or more are needed")
    if any(row.is_sent for row in listing.rows) and len(sent) < LEAST_SENT:
        raise BadValueError(f"only {how_many(len(sent), 'line')} of sending can be used; {LEAST_SENT} or more are needed")
    each = pixel_cycles(device.passport.format)
    typical = np.array([[row.work.runs * RUN_CYCLES / mega, row.work.pixels * each / mega] for row in drawn])
    run, pixel = _robust(typical, np.array([us[row.name] for row in drawn]), [row.words for row in drawn], "drawing")
    pace = Pace(float(run), float(pixel), is_measured=True)
    if sent:
        known = np.array([[row.us, 1.0] for row in sent])
        wire, window = _robust(known, np.array([us[row.name] for row in sent]), [row.words for row in sent], "sending")
        pace = Pace(float(run), float(pixel), float(wire), float(window), is_measured=True)
    timed = tuple(Timed(row, us[row.name], _expected(row, pace, each, mega)) for row in listing.rows if row.name in us)
    spread = math.sqrt(sum(math.log(one.measured_us / one.fitted_us) ** 2 for one in timed if one.fitted_us) / len(timed))
    return Fitted(pace, timed, left_out, spread)


def _expected(row: Row, pace: Pace, pixel: int, mega: float) -> float:
    if row.is_sent:
        return row.us * pace.wire + pace.window_us
    return (row.work.runs * RUN_CYCLES * pace.run + row.work.pixels * pixel * pace.pixel) / mega


def in_words(pace: Pace) -> list[tuple[str, str]]:
    """The factors, each with what it stands for."""
    if pace == TYPICAL:
        return []
    return [
        ("a run of drawing", f"{pace.run:.2f} times the typical cycles"),
        ("a pixel of drawing", f"{pace.pixel:.2f} times the typical cycles"),
        ("a byte on the link", f"{pace.wire:.2f} times the computed time"),
        ("a window beside its bytes", f"{pace.window_us:.1f} µs more"),
    ]
