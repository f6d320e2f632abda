"""When something comes about by itself: the next moment at which a device has to be stepped, if nothing happens."""

from mosaic.behaviour.machine import WAITING, Machine
from mosaic.behaviour.state import DeviceState


def next_due(machine: Machine, state: DeviceState) -> int | None:
    """The next ms at which time alone may change anything; None where nothing waits. It may be too early, never too late."""
    behaviour, now = machine.behaviour, state.now
    found: list[int] = []
    finger, feel = state.finger, behaviour.touch
    if finger.run:
        found.append(finger.last + feel.lift_ms + 1)
    for number, rule in enumerate(behaviour.rules):
        trigger, timer = rule.trigger, state.timers[number]
        if trigger.when == "hold" and finger.down and not timer.done:
            found.append(finger.at + trigger.ms)
        if trigger.when in WAITING and not timer.done and not state.asleep:
            since = max(timer.since, state.last_input) if trigger.when == "quiet" else timer.since
            found.append(since + trigger.ms)
        if trigger.when == "button held" and not timer.done:
            found += [one.at + trigger.ms for one, button in zip(state.buttons, behaviour.buttons, strict=True)
                      if one.down and button.id == trigger.on]  # fmt: skip
    for one, button in zip(state.buttons, behaviour.buttons, strict=True):
        if one.level != one.down:
            found.append(one.since + button.bounce_ms)
    for number, age in machine.aging:
        if state.values[number].is_ == "known":
            found.append(state.values[number].at + age + 1)
    for number, bands in machine.banded:
        course = state.values[number].course
        if bands.hold_ms and course.band is not None:
            found.append(course.since_ms + bands.hold_ms)
    for number in machine.blinking:
        found += _blinks(machine, state, number)
    for output, switched in zip(behaviour.outputs, state.outputs, strict=True):
        if output.reads:
            found.append(switched.since + output.within_ms)
    return min((at for at in found if at > now), default=None)


def _blinks(machine: Machine, state: DeviceState, number: int) -> list[int]:
    """When a blink turns over next."""
    origin, now = machine.values[number].origin, state.now
    of = machine.value_numbers.get(origin.of)
    if of is None:
        period, on = origin.on_ms + origin.off_ms, origin.on_ms
    else:
        band = state.values[of].course.band
        period = machine.values[of].bands.bands[band].blink_ms if band is not None else 0
        on = period // 2
    if not period:
        return []
    start = now - now % period
    return [start + on, start + period, start + period + on]
