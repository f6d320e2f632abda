"""The running device: from a state and what happens to the next state and what is done, by the rules of docs/behaviour.md.

`mosaic/firmware/behave.c` and `behave.py` do the same, from tables.
"""

from collections import deque
from dataclasses import replace

from mosaic.behaviour.behaviour import SWIPES, TOUCHES, Action, Rule, When
from mosaic.behaviour.machine import ANYWHERE, Machine
from mosaic.behaviour.state import DeviceState, Effect, Finger, Happening, Known, Pressed, Switched, Timed, Turned
from mosaic.values.bands import Course

MOST_BACK, MOST_WAITING, MOST_HANDLED, MOST_EFFECTS = 8, 32, 100, 24
"""Ways back that are kept; what may wait to be handled; what is handled in one step; what is done in one step."""
OWN_RULE: tuple[When, ...] = ("hold", "button held", "after", "every", "quiet")
"""Triggers of one rule each, whose number stands in place of a subject."""
TURNS = (0, -1, 1, 0, 1, 0, 0, -1, -1, 0, 0, 1, 0, 1, -1, 0)
"""Of the two lines of an encoder, from where they were (high two bits) to where they are: a change forward, back, or none."""


class _Step:
    """One step: a state that is worked on, what waits to be handled, and what is done."""

    def __init__(self, machine: Machine, state: DeviceState) -> None:
        self.machine, self.behaviour = machine, machine.behaviour
        self.now, self.screen, self.back = state.now, state.screen, list(state.back)
        self.values, self.buttons, self.encoders = list(state.values), list(state.buttons), list(state.encoders)
        self.finger, self.outputs, self.timers = state.finger, list(state.outputs), list(state.timers)
        self.light, self.asleep, self.last_input, self.lost = state.light, state.asleep, state.last_input, state.lost
        self.waiting: deque[tuple[When, int, int]] = deque()
        self.effects: list[Effect] = []
        self.handled = 0

    def state(self) -> DeviceState:
        return DeviceState(
            self.now, self.screen, tuple(self.back), tuple(self.values), tuple(self.buttons), tuple(self.encoders), self.finger,
            tuple(self.outputs), tuple(self.timers), self.light, self.asleep, self.last_input, self.lost,
        )  # fmt: skip

    # What is noticed waits its turn; what is done is listed.

    def notice(self, when: When, of: int, other: int = 0) -> None:
        if len(self.waiting) == MOST_WAITING:
            self.lost += 1
        else:
            self.waiting.append((when, of, other))

    def do(self, effect: Effect) -> None:
        if len(self.effects) == MOST_EFFECTS:
            self.lost += 1
        else:
            self.effects.append(effect)

    # Rules

    def drain(self) -> None:
        while self.waiting:
            when, of, other = self.waiting.popleft()
            if self.handled == MOST_HANDLED:
                self.lost += 1 + len(self.waiting)
                self.waiting.clear()
                return
            self.handled += 1
            if when == "band":
                wanted = dict(self.machine.values[of].bands.bands[other].outputs)
                for output in self.behaviour.outputs:
                    if output.id in wanted:
                        self.switch(output.id, wanted[output.id])
            if self.asleep and when != "wake":
                continue
            for rule in self.meant(when, of, other):
                for action in rule.actions:
                    self.act(action)

    def meant(self, when: When, of: int, other: int) -> list[Rule]:
        """The rules that something noticed sets off."""
        rules = self.behaviour.rules
        if when in OWN_RULE:
            return [rules[of]] if self.machine.counts_on(rules[of], self.screen) else []
        if when in TOUCHES:
            area = self.behaviour.areas[of].id if of != ANYWHERE else ""
            return self.on_area(when, area) or self.on_area(when, "")
        ident = self.subject(when, of)
        return [
            rule for rule in rules
            if rule.trigger.when == when and (ident is None or rule.trigger.on == ident)
            and (when != "band" or rule.trigger.band == other) and self.machine.counts_on(rule, self.screen)
        ]  # fmt: skip

    def subject(self, when: When, of: int) -> str | None:
        """The id of what something was noticed of; None where it is of the whole device."""
        if when in ("button pressed", "button released"):
            return self.behaviour.buttons[of].id
        if when in ("turned up", "turned down"):
            return self.behaviour.encoders[of].id
        if when in ("band", "stale", "back"):
            return self.machine.values[of].id
        return self.behaviour.outputs[of].id if when == "wrong" else None

    def on_area(self, when: When, area: str) -> list[Rule]:
        return [
            rule for rule in self.behaviour.rules
            if rule.trigger.when == when and rule.trigger.on == area and self.machine.counts_on(rule, self.screen)
        ]  # fmt: skip

    def act(self, action: Action) -> None:
        do = action.do
        if do == "screen":
            to = self.machine.screen_numbers.get(action.to)
            if to is not None and to != self.screen:
                if action.remember:
                    self.back = [*self.back, self.screen][-MOST_BACK:]
                self.show(to, action)
        elif do == "go back":
            if self.back:
                self.show(self.back.pop(), action)
        elif do in ("set", "add", "toggle"):
            number = self.machine.value_numbers.get(action.to)
            if number is not None:
                self.change(number, action)
        elif do == "event":
            event = self.behaviour.event(action.to)
            if event is not None:
                self.do(Effect("event", event.code))
        elif do == "output":
            number = next((n for n, one in enumerate(self.behaviour.outputs) if one.id == action.to), None)
            if number is not None:
                self.switch(action.to, not self.outputs[number].on if action.by == 2 else bool(action.by))
        elif do == "light":
            self.light = action.by
            self.do(Effect("light", 0, action.by))
        elif do == "refresh":
            self.do(Effect("refresh"))
        elif do == "sleep" and not self.asleep:
            self.asleep = True
            self.finger = replace(self.finger, ignored=self.finger.run > 0)
            self.do(Effect("sleep"))

    def show(self, screen: int, by: Action) -> None:
        self.screen = screen
        self.finger = replace(self.finger, ignored=self.finger.run > 0)
        self.begin_timers()
        steps = by.steps if by.change != "cut" else 0
        self.do(Effect("screen", screen, 0, by.change, by.side, steps))

    def begin_timers(self) -> None:
        """Timers of the screen at hand begin anew."""
        for number, rule in self.machine.waiting:
            if rule.screen and self.machine.counts_on(rule, self.screen):
                self.timers[number] = Timed(self.now, False)

    # Values, bands and outputs

    def change(self, number: int, action: Action) -> None:
        value, known = self.machine.values[number], self.values[number]
        low, high = value.bounds
        if action.do == "set":
            raw = action.by
        elif action.do == "toggle":
            raw = low if known.is_ != "absent" and known.raw != low else high
        elif known.is_ == "absent":
            return
        else:
            raw = known.raw + action.by
            if action.wrap and raw > high:
                raw = low
            elif action.wrap and raw < low:
                raw = high
        self.read(number, min(max(raw, low), high))

    def read(self, number: int, raw: int) -> None:
        """A value has a new reading."""
        value, known = self.machine.values[number], self.values[number]
        if value.origin.by in ("band", "blink"):
            return
        if known.is_ == "stale":
            self.notice("back", number)
        course = known.course
        self.values[number] = Known(raw, "known", self.now, course)
        if value.bands.bands:
            self.banded(number, course.after(value.bands, raw, self.now))

    def banded(self, number: int, course: Course) -> None:
        """Where a value's bands stand now; what says so follows."""
        known = self.values[number]
        if course is not known.course:
            self.values[number] = Known(known.raw, known.is_, known.at, course)
        if course.band == known.course.band:
            return
        for other, value in enumerate(self.machine.values):
            if value.origin.by == "band" and value.origin.of == self.machine.values[number].id:
                self.values[other] = (
                    Known(0, "absent", self.now) if course.band is None else Known(course.band, "known", self.now)
                )
        if course.band is not None:
            self.notice("band", number, course.band)

    def switch(self, ident: str, on: bool) -> None:
        number = next((n for n, one in enumerate(self.behaviour.outputs) if one.id == ident), None)
        if number is None or self.outputs[number].on == on:
            return
        self.outputs[number] = Switched(on, self.now)
        self.set_pin(number)

    def set_pin(self, number: int) -> None:
        output, on = self.behaviour.outputs[number], self.outputs[number].on
        self.do(Effect("output", number, int(on != output.active_low)))
        shows = self.machine.value_numbers.get(output.shows)
        if shows is not None:
            self.read(shows, int(on))

    # Time

    def pass_time(self) -> None:
        """Everything that comes about by time alone, in this order."""
        self.time_finger()
        for number, button in enumerate(self.buttons):
            self.time_button(number, button)
        machine = self.machine
        for number, age in machine.aging:
            known = self.values[number]
            if known.is_ == "known" and self.now - known.at > age:
                self.values[number] = replace(known, is_="stale")
                self.notice("stale", number)
                self.banded(number, Course())
        for number, bands in machine.banded:
            course = self.values[number].course
            if course.readings:
                self.banded(number, course.at(bands, self.now))
        for number in machine.blinking:
            self.values[number] = Known(int(self.is_lit(number)), "known", self.now)
        for number, reads in machine.read_back:
            self.time_output(number, reads)
        if not self.asleep:
            for number, rule in machine.waiting:
                self.time_rule(number, rule)
        self.drain()

    def is_lit(self, number: int) -> bool:
        """Whether a blink is on."""
        origin = self.machine.values[number].origin
        of = self.machine.value_numbers.get(origin.of)
        if of is None:
            return self.now % (origin.on_ms + origin.off_ms) < origin.on_ms
        band = self.values[of].course.band
        rate = self.machine.values[of].bands.bands[band].blink_ms if band is not None else 0
        return not rate or self.now % rate < rate // 2

    def time_finger(self) -> None:
        finger, feel = self.finger, self.behaviour.touch
        if finger.run and self.now - finger.last > feel.lift_ms:
            self.finger = Finger()
            if finger.down:
                self.heard()
                self.lifted(finger)
            return
        if not finger.down or finger.ignored or finger.far > feel.slack_px:
            return
        area = self.behaviour.areas[finger.area].id if finger.area != ANYWHERE else ""
        rules = self.on_area("hold", area) or self.on_area("hold", "")
        for number, rule in enumerate(self.behaviour.rules):
            if rule in rules and not self.timers[number].done and self.now - finger.at >= rule.trigger.ms:
                self.timers[number] = replace(self.timers[number], done=True)
                self.finger = replace(self.finger, held=True)
                self.notice("hold", number)

    def lifted(self, finger: Finger) -> None:
        """A swipe, or a release where the touch began."""
        feel, lasted = self.behaviour.touch, finger.last - finger.at
        if finger.ignored or finger.held or lasted > feel.rest_ms:
            return
        dx, dy = finger.place[0] - finger.start[0], finger.place[1] - finger.start[1]
        along, across = max(abs(dx), abs(dy)), min(abs(dx), abs(dy))
        if along >= feel.swipe_px and along >= 2 * across:
            if lasted <= feel.swipe_ms:
                way = (0 if dx < 0 else 1) if abs(dx) > abs(dy) else (2 if dy < 0 else 3)
                self.notice(SWIPES[way], finger.area)
        elif self.machine.hit(*finger.place, self.screen) == finger.area:
            self.notice("release", finger.area)

    def time_button(self, number: int, button: Pressed) -> None:
        described = self.behaviour.buttons[number]
        if button.level != button.down and self.now - button.since >= described.bounce_ms:
            self.heard()
            if button.level:
                button = replace(button, down=True, at=self.now, held=False)
                for at, rule in enumerate(self.behaviour.rules):
                    if rule.trigger.when == "button held" and rule.trigger.on == described.id:
                        self.timers[at] = Timed()
                if not button.ignored:
                    self.notice("button pressed", number)
            else:
                if not button.held and not button.ignored:
                    self.notice("button released", number)
                button = replace(button, down=False, ignored=False)
        if button.down and not button.ignored:
            for at, rule in enumerate(self.behaviour.rules):
                mine = rule.trigger.when == "button held" and rule.trigger.on == described.id
                if (
                    mine
                    and not self.timers[at].done
                    and self.now - button.at >= rule.trigger.ms
                    and self.machine.counts_on(rule, self.screen)
                ):
                    self.timers[at] = replace(self.timers[at], done=True)
                    button = replace(button, held=True)
                    self.notice("button held", at)
        self.buttons[number] = button

    def time_output(self, number: int, reads: int) -> None:
        output, state = self.behaviour.outputs[number], self.outputs[number]
        if self.values[reads].is_ != "known" or self.now - state.since < output.within_ms:
            return
        agrees = (self.values[reads].raw >= output.reads_from) == state.on
        if agrees:
            self.outputs[number] = replace(state, told=False)
        elif not state.told:
            self.outputs[number] = replace(state, told=True)
            self.notice("wrong", number)

    def time_rule(self, number: int, rule: Rule) -> None:
        trigger, timed = rule.trigger, self.timers[number]
        if not self.machine.counts_on(rule, self.screen):
            return
        waited = self.now - timed.since
        if trigger.when == "quiet":
            waited = min(waited, self.now - self.last_input)
        if waited < trigger.ms or timed.done:
            return
        if trigger.when == "every":
            since = timed.since + trigger.ms
            self.timers[number] = Timed(since if self.now - since < trigger.ms else self.now)
        else:
            self.timers[number] = replace(timed, done=True)
        self.notice(trigger.when, number)

    def heard(self) -> None:
        """Somebody did something."""
        self.last_input = self.now
        for number, rule in enumerate(self.behaviour.rules):
            if rule.trigger.when == "quiet":
                self.timers[number] = replace(self.timers[number], done=False)

    def wake(self) -> None:
        self.asleep = False
        self.heard()
        for number, _ in self.machine.waiting:
            self.timers[number] = replace(self.timers[number], since=self.now)
        self.begin_timers()
        self.notice("wake", 0)

    # What happens

    def take(self, happening: Happening) -> None:
        what, of = happening.what, happening.of
        if what == "touch":
            self.touched((happening.a, happening.b))
        elif what == "pin" and of < len(self.buttons):
            active = bool(happening.a) != self.behaviour.buttons[of].active_low
            button = self.buttons[of]
            if active != button.level:
                ignored = button.ignored or (active and self.asleep)
                self.buttons[of] = replace(button, level=active, since=self.now, ignored=ignored)
                if active and self.asleep:
                    self.wake()
        elif what == "lines" and of < len(self.encoders):
            self.turned(of, 2 * (happening.a != 0) + (happening.b != 0))
        elif what == "reading" and of < len(self.values):
            self.read(of, happening.a)
        elif what == "wake" and self.asleep:
            self.wake()
        self.drain()

    def touched(self, place: tuple[int, int]) -> None:
        finger = self.finger
        if self.asleep and not finger.run:  # one that lies on the glass still does not wake what it has sent to sleep
            self.wake()
            finger = replace(finger, ignored=True)
        places = (*finger.places, place)[-3:]
        finger = replace(finger, places=places, run=min(3, finger.run + 1), last=self.now)
        at = place
        if len(places) == 3:
            at = sorted(x for x, _ in places)[1], sorted(y for _, y in places)[1]
        if finger.down:
            far = max(abs(at[0] - finger.start[0]), abs(at[1] - finger.start[1]))
            self.finger = replace(finger, place=at, far=max(finger.far, far))
        elif finger.run >= self.behaviour.touch.samples:
            area = self.machine.hit(*at, self.screen)
            self.finger = replace(finger, down=True, start=at, place=at, at=self.now, area=area)
            self.heard()
            for number, rule in enumerate(self.behaviour.rules):
                if rule.trigger.when == "hold":
                    self.timers[number] = Timed()
            if not finger.ignored:
                self.notice("press", area)
        else:
            self.finger = finger

    def turned(self, of: int, lines: int) -> None:
        encoder, steps = self.encoders[of], self.behaviour.encoders[of].steps
        move = TURNS[encoder.lines * 4 + lines] if encoder.lines >= 0 else 0
        count = encoder.count + move
        if self.asleep and move:
            self.wake()
            count = 0
        if abs(count) >= steps:
            self.heard()
            self.notice("turned up" if count > 0 else "turned down", of)
            count = 0
        self.encoders[of] = Turned(lines, count)


def begin(machine: Machine, now: int = 0) -> tuple[DeviceState, list[Effect]]:
    """A device that is switched on, and what it does at once."""
    behaviour = machine.behaviour
    values = []
    for value in machine.values:
        kept = value.origin.by == "rules" and value.is_number
        low, high = value.bounds
        first = value.origin.first if value.origin.first is not None else low
        values.append(Known(min(max(first, low), high), "known", now) if kept else Known(at=now))
    state = DeviceState(
        now, machine.start, (), tuple(values), tuple(Pressed(since=now) for _ in behaviour.buttons),
        tuple(Turned() for _ in behaviour.encoders), Finger(), tuple(Switched(one.at_start, now) for one in behaviour.outputs),
        tuple(Timed(now) for _ in behaviour.rules), last_input=now,
    )  # fmt: skip
    step = _Step(machine, state)
    for number, value in enumerate(machine.values):
        if value.bands.bands and values[number].is_ == "known":
            step.banded(number, Course().after(value.bands, values[number].raw, now))
    for number in range(len(behaviour.outputs)):
        step.set_pin(number)
    if machine.screens:
        step.do(Effect("screen", machine.start))
    step.notice("start", 0)
    step.drain()
    step.pass_time()
    return step.state(), step.effects


def step(machine: Machine, state: DeviceState, happening: Happening, now: int) -> tuple[DeviceState, list[Effect]]:
    """The device after something has happened at a time, in ms, and what it does.

    First the time up to then passes, then it happens, then what it brings about without waiting is done.
    """
    work = _Step(machine, state)
    work.now = max(now, state.now)
    work.pass_time()
    work.take(happening)
    work.pass_time()
    return work.state(), work.effects
