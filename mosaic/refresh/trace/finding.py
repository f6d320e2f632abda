"""What a trace shows of a device: its idle floor with its drift, events with their charge and period, and levels of current.

The floor is looked for in windows, so that it may drift: in each of them the place where currents lie densest, and then the mean
of all that lies about it. What rises clearly above it is an event; its charge is what flows above the floor.
"""

from dataclasses import dataclass
from itertools import pairwise

import numba
import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.refresh.trace.reading import Trace

WINDOWS, LOOKED_AT = 120, 4000
ABOVE, DOWN_TO = 6.0, 1.0
"""An event begins so many times the noise above the floor, and reaches to where so many times are left."""
LEAST_ABOVE = 0.15
"""It is at least so large a share of the floor above it: what changes less is no event."""
JOIN = 0.1
"""Events parted by less than this share of the usual pause are one."""
GAP = 10
"""A step in time of so many usual ones is a gap: nothing is counted in it."""
ALIKE = 1.6
"""Events whose charges differ by less than this factor from one to the next are of one kind."""
MOST_KINDS, MOST_EVENTS = 4, 200_000
LEAST_SHARE = 0.0005
"""Of the time, at which a level is one."""
DRAWN = 960
Floats = npt.NDArray[np.float64]


@dataclass(frozen=True)
class EventKind:
    """Events that are alike: how many; mC above the floor and s each on average; mA at most; s from one to the next, or 0."""

    count: int
    charge_mc: float
    length_s: float
    peak_ma: float
    period_s: float


@dataclass(frozen=True)
class Level:
    """A level of current: mA on average, and its share of the time."""

    ma: float
    share: float


@dataclass(frozen=True)
class Found:
    """What was found.

    Attributes
    ----------
    length_s, rows : of the trace. idle_ma : the floor on average; drift_ma : how far it went. noise_ma : about it.
    kinds : of events, those that take most first. levels : of current, the lowest first. average_ma : of everything.
    volts : mean voltage, 0 where none was told. left_out : what was not counted, in words.
    drawn : (s, lowest mA, highest mA) of stretches of equal length, for a picture.
    """

    length_s: float
    rows: int
    idle_ma: float
    drift_ma: float
    noise_ma: float
    kinds: tuple[EventKind, ...]
    levels: tuple[Level, ...]
    average_ma: float
    volts: float = 0.0
    left_out: tuple[str, ...] = ()
    drawn: tuple[tuple[float, float, float], ...] = ()

    @property
    def event_share(self) -> float:
        """The share of the time in which anything happens."""
        return sum(one.count * one.length_s for one in self.kinds) / self.length_s


def _densest(values: npt.NDArray[np.float32]) -> float:
    """The place where values lie densest: half of them again and again, that which is narrowest. `values` are ascending."""
    while len(values) > 3:
        half = (len(values) + 1) // 2
        widths = values[half - 1 :] - values[: len(values) - half + 1]
        at = int(widths.argmin())
        values = values[at : at + half]
    return float(values.mean())


def _window_floor(values: npt.NDArray[np.float32]) -> tuple[float, float]:
    """(floor, noise) of a window, both in mA."""
    step = max(1, len(values) // LOOKED_AT)
    some = np.sort(values[::step])
    place = _densest(some)
    below = some[some <= place]
    noise = 1.4826 * float(np.median(place - below)) if len(below) > 4 else 0.0
    near = values[np.abs(values - place) <= 3 * noise] if noise else values[values == np.float32(place)]
    if not len(near):
        return place, noise
    floor = float(near.mean(dtype=np.float64))
    return floor, max(noise, float(near.std(dtype=np.float64)))


def _smooth(floors: Floats) -> Floats:
    """Floors without single ones that are off: the median of five."""
    padded = np.pad(floors, 2, mode="edge")
    return np.median(np.stack([padded[n : n + len(floors)] for n in range(5)]), axis=0)


@numba.njit(cache=True, nogil=True)
def _events(current, edges, floors, noise, begins, ends):
    """Rows where events begin and end (the first row after them): above the threshold once, and on until near the floor."""
    count, inside, window = 0, False, 0
    begin = 0
    for row in range(len(current)):
        while window + 1 < len(floors) and row >= edges[window + 1]:
            window += 1
        rise = max(ABOVE * noise, LEAST_ABOVE * abs(floors[window]))
        over = current[row] - floors[window]
        if over > rise:
            if not inside:
                inside = True
                begin = row
                while (
                    begin > 0
                    and current[begin - 1] - floors[window] > DOWN_TO * noise
                    and (count == 0 or begin > ends[count - 1])
                ):
                    begin -= 1
        elif inside and over <= DOWN_TO * noise:
            inside = False
            if count < len(begins):
                begins[count], ends[count] = begin, row
                count += 1
    if inside and count < len(begins):
        begins[count], ends[count] = begin, len(current)
        count += 1
    return count


@numba.njit(cache=True, nogil=True)
def _sums(time, current, edges, floors, gap, begins, ends, charges, peaks):
    """mC above the floor and the highest mA of each event; gives (mC of all, s that count)."""
    window, event = 0, 0
    total = seconds = 0.0
    for row in range(len(time) - 1):
        while window + 1 < len(floors) and row >= edges[window + 1]:
            window += 1
        step = time[row + 1] - time[row]
        if step > gap:
            continue
        mean = 0.5 * (current[row] + current[row + 1])
        total += mean * step
        seconds += step
        while event < len(begins) and row >= ends[event]:
            event += 1
        if event < len(begins) and row + 1 >= begins[event]:
            charges[event] += (mean - floors[window]) * step
            peaks[event] = max(peaks[event], current[row])
    return total, seconds


def _joined(begins: npt.NDArray[np.int64], ends: npt.NDArray[np.int64], time: Floats) -> tuple[npt.NDArray[np.int64], ...]:
    """Events parted by a pause that is short beside the others are one."""
    if len(begins) < 2:
        return begins, ends
    pauses = time[begins[1:]] - time[ends[:-1] - 1]
    usual = float(np.quantile(pauses, 0.9))
    apart = np.flatnonzero(pauses >= JOIN * usual)
    return begins[np.concatenate([[0], apart + 1])], ends[np.concatenate([apart, [len(ends) - 1]])]


def _kinds(charges: Floats, lengths: Floats, peaks: Floats, starts: Floats, whole: npt.NDArray[np.bool_]) -> list[EventKind]:
    """Events grouped by their charge: a jump from one to the next larger parts two kinds."""
    order = np.argsort(charges)
    jumps = np.flatnonzero(charges[order][1:] > ALIKE * np.maximum(charges[order][:-1], 1e-12))
    if len(jumps) >= MOST_KINDS:
        ratios = charges[order][1:][jumps] / np.maximum(charges[order][:-1][jumps], 1e-12)
        jumps = np.sort(jumps[np.argsort(ratios)[-(MOST_KINDS - 1) :]])
    found = []
    for group in np.split(order, jumps + 1):
        mine = group[whole[group]] if whole[group].any() else group
        begins = np.sort(starts[group])
        period = float(np.median(np.diff(begins))) if len(begins) > 1 else 0.0
        found.append(
            EventKind(len(group), float(charges[mine].mean()), float(lengths[mine].mean()), float(peaks[group].max()), period)
        )
    return sorted(found, key=lambda one: -one.count * one.charge_mc)


def _levels(trace: Trace, idle_ma: float, noise: float) -> list[Level]:
    """Levels of current at which the device stays: rest, and above it the places of a histogram of ratios where time lies."""
    step = max(1, trace.rows // 1_000_000)
    some = trace.current_ma[::step]
    is_rest = some <= idle_ma + max(ABOVE * noise, LEAST_ABOVE * abs(idle_ma))
    found = [Level(idle_ma, float(is_rest.mean()))]
    above = some[~is_rest]
    if not len(above):
        return found
    logs = np.log10(np.maximum(above, 1e-6))
    low, high = float(logs.min()), float(logs.max()) + 1e-6
    bins = max(8, min(120, int((high - low) / 0.04)))
    counts, edges = np.histogram(logs, bins=bins, range=(low, high))
    smooth = np.convolve(counts, (0.25, 0.5, 0.25), "same")
    peaks = [
        n for n in range(bins)
        if smooth[n] >= LEAST_SHARE * len(some) and smooth[n] == smooth[max(0, n - 3) : n + 4].max()
    ]  # fmt: skip
    middles = (edges[:-1] + edges[1:]) / 2
    cuts = [low - 1.0, *(float(middles[a + int(smooth[a : b + 1].argmin())]) for a, b in pairwise(peaks)), high + 1.0]
    for a, b in pairwise(cuts):
        mine = (logs >= a) & (logs < b)
        if mine.any():
            found.append(Level(float(above[mine].mean(dtype=np.float64)), float(mine.sum() / len(some))))
    return found


def _picture(trace: Trace) -> tuple[tuple[float, float, float], ...]:
    """The lowest and the highest current of stretches of equal length."""
    places = np.searchsorted(trace.time_s, np.linspace(0, trace.length_s, DRAWN + 1)[:-1])
    places = np.unique(np.minimum(places, trace.rows - 1))
    lows, highs = np.minimum.reduceat(trace.current_ma, places), np.maximum.reduceat(trace.current_ma, places)
    return tuple(
        (round(float(trace.time_s[n]), 6), round(float(a), 6), round(float(b), 6))
        for n, a, b in zip(places, lows, highs, strict=True)
    )


def find(trace: Trace) -> Found:
    """What a trace shows.

    Raises
    ------
    BadValueError
        It shows nothing: it has no length.
    """
    said = list(trace.left_out)
    time, current = trace.time_s, trace.current_ma
    if not trace.length_s > 0:
        raise BadValueError("the trace has no length in time; rows one after the other are needed")
    if float(np.median(current[:: max(1, trace.rows // 10_000)])) < 0:
        current = -current
        trace = Trace(time, current, trace.volts, trace.columns, trace.left_out)
        said.append("the sign: currents are negative, so the meter’s leads were swapped; they are taken the other way")
    usual_step = trace.length_s / (trace.rows - 1)
    some = time[: min(trace.rows, 200_000)]
    usual_step = min(usual_step, float(np.median(np.diff(some)))) if len(some) > 2 else usual_step
    gap = GAP * usual_step
    edges = np.linspace(0, trace.rows, min(WINDOWS, max(1, trace.rows // 50)) + 1).astype(np.int64)
    parts = [_window_floor(current[a:b]) for a, b in pairwise(edges)]
    raw, noises = np.array([floor for floor, _ in parts]), np.array([noise for _, noise in parts])
    floors, noise = _smooth(_without_covered(raw)), float(np.median(noises))
    begins, ends = np.empty(MOST_EVENTS, np.int64), np.empty(MOST_EVENTS, np.int64)
    count = _events(current, edges, floors, noise, begins, ends)
    if count == MOST_EVENTS:
        said.append(f"everything after {MOST_EVENTS:,} rises above the floor")
    begins, ends = _joined(begins[:count].copy(), ends[:count].copy(), time)
    charges, peaks = np.zeros(len(begins)), np.zeros(len(begins))
    total, seconds = _sums(time, current, edges, floors, gap, begins, ends, charges, peaks)
    lost = trace.length_s - seconds
    if lost > gap:
        said.append(f"{lost:,.3g} s of gaps between rows")
    starts = time[begins] if len(begins) else np.empty(0)
    lengths = time[np.minimum(ends, trace.rows) - 1] - starts if len(begins) else np.empty(0)
    whole = (begins > 0) & (ends < trace.rows)
    kinds = _kinds(charges, lengths, peaks, starts, whole) if len(begins) else []
    return Found(
        trace.length_s, trace.rows, float(floors.mean()), float(floors[-1] - floors[0]), noise, tuple(kinds),
        tuple(_levels(trace, float(floors.mean()), noise)), total / seconds if seconds else 0.0, trace.volts, tuple(said),
        _picture(trace),
    )  # fmt: skip


def _without_covered(floors: Floats) -> Floats:
    """A window that an event fills has a floor far above the others': it takes that of the windows beside it."""
    usual = float(np.median(floors))
    low = float(np.quantile(floors, 0.1))
    covered = floors > max(2.0 * low, low + 1e-9) if low > 0 else floors > 2 * abs(usual) + 1e-9
    if covered.all() or not covered.any():
        return floors
    places = np.arange(len(floors))
    return np.interp(places, places[~covered], floors[~covered])
