"""What stand-ins give at a moment: a reading for each value and time, the same each time it is asked."""

import math
from bisect import bisect_right
from collections.abc import Callable
from functools import lru_cache

from mosaic.values.printing import DAY_S
from mosaic.values.value import Reading, Value

MOST_STEPS = 200_000
"""Of a walk; from there on it begins anew."""
_MULTIPLIER, _ADDEND, _MODULUS = 1_664_525, 1_013_904_223, 2**32


@lru_cache(maxsize=64)
def _walk(seed: int, start: int, low: int, high: int, step: int, reach: int, block: int) -> tuple[int, ...]:
    """256 places of a walk, from block * 256 on; turned back at the bounds."""
    if block:
        at = _walk(seed, start, low, high, step, reach, block - 1)[-1]
    else:
        at = start
    # A linear congruential generator, of which the high bits are taken; its place for this block is jumped to.
    state = (seed + pow(_MULTIPLIER, block * 256, _MODULUS) * 2_654_435_761) % _MODULUS
    found = []
    for number in range(256):
        if block or number:
            state = (state * _MULTIPLIER + _ADDEND) % _MODULUS
            move = ((state >> 16) * (2 * reach + 1) >> 16) - reach
            at += move * step
            if at > high:
                at = 2 * high - at
            if at < low:
                at = 2 * low - at
            at = min(max(at, low), high)
        found.append(at)
    return tuple(found)


def walked(value: Value, number: int) -> int:
    """The place of a walk after so many steps."""
    low, high = value.bounds
    stand = value.stand_in
    step = 1 if value.named else value.step
    top = low + (high - low) // step * step
    reach = max(1, (stand.reach or (high - low) // 8) // step)
    start = value.held(low + (high - low) // 2 if stand.at is None else stand.at)
    number %= MOST_STEPS
    return _walk(stand.seed, start, low, top, step, reach, number // 256)[number % 256]


def reading_at(value: Value, ms: int) -> Reading:
    """What a value's stand-in gives so many ms after the beginning; None where it gives nothing.

    Values set by hand and sent in are what they were set to last: `at`, or the first that is listed of a text.
    """
    return reader(value)(ms)


def reader(value: Value) -> Callable[[int], Reading]:
    """What gives the readings of a value's stand-in, by ms after the beginning: for those who ask often."""
    stand, every = value.stand_in, value.stand_in.every_ms
    if stand.by == "list" and stand.listed:
        fitting = [_fitting(value, one) for one in stand.listed]
        return lambda ms: fitting[max(0, ms) // every % len(fitting)]
    if stand.by == "replay" and stand.replayed:
        return lambda ms: _replayed(value, ms)
    if value.kind == "text":
        always = _fitting(value, stand.listed[0] if stand.listed else value.name)
        return lambda ms: always
    if stand.by == "walk":
        return lambda ms: walked(value, max(0, ms) // every)
    if stand.by == "clock":
        return _clock(value)
    if stand.by in ("ramp", "sine"):
        return _wave(value)
    usual = typical(value)
    return lambda ms: usual


def _replayed(value: Value, ms: int) -> Reading:
    replayed = value.stand_in.replayed
    at = bisect_right(replayed, ms, key=lambda entry: entry[0]) - 1
    return replayed[at][1] if at >= 0 else None


def _clock(value: Value) -> Callable[[int], Reading]:
    low, high = value.bounds
    start, every, span = value.stand_in.at, value.stand_in.every_ms, value.bounds[1] - value.bounds[0] + 1
    first = 0 if start is None else start
    if value.kind == "time" and (low, high) == (0, DAY_S - 1):
        return lambda ms: (first + max(0, ms) // every * every // 1000) % DAY_S
    if value.kind == "date":
        return lambda ms: low + ((start or low) + ms // 86_400_000 - low) % span
    return lambda ms: low + (first + max(0, ms) // every * every // 1000 - low) % span


def _wave(value: Value) -> Callable[[int], Reading]:
    """A ramp, on raw steps, of which the highest has its equal part of the period too; or a sine."""
    low, high = value.bounds
    stand, step = value.stand_in, 1 if value.named else value.step
    every, period, count = stand.every_ms, stand.period_s * 1000, (high - low) // step + 1
    if stand.by == "ramp":
        return lambda ms: low + min(count - 1, int(max(0, ms) // every * every % period / period * count)) * step
    return lambda ms: value.held(
        round(low + (high - low) * (1 + math.sin(2 * math.pi * (max(0, ms) // every * every % period / period))) / 2)
    )


def _fitting(value: Value, given: int | str | None) -> Reading:
    """A listed reading where it is of the value's kind."""
    if given is None or isinstance(given, str) != (value.kind == "text"):
        return None
    return given[: value.most_bytes] if isinstance(given, str) else given


def typical(value: Value) -> Reading:
    """What a value usually is: where its stand-in begins, or six tenths of the way from lowest to highest.

    Of one that blinks: on; of one that rules set: what it is at the start.
    """
    if value.kind == "text":
        return _fitting(value, next((text for text in value.stand_in.listed if text is not None), value.name))
    if value.origin.by == "blink":
        return 1
    if value.origin.by == "rules" and value.origin.first is not None:
        return value.origin.first
    low, high = value.bounds
    at = value.stand_in.at
    if at is None and value.stand_in.listed and isinstance(value.stand_in.listed[0], int):
        at = value.stand_in.listed[0]
    return at if at is not None else value.held(low + (high - low) * 6 // 10)
