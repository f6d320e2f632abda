"""Behaviour in sentences: what happens, and what is done then."""

from collections.abc import Mapping
from dataclasses import dataclass

from mosaic.behaviour.behaviour import Action, Behaviour, Rule, Trigger
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import Effect
from mosaic.quantities import how_many
from mosaic.screens.screen import Design

GONE = "something that is gone"
MOVES = {"left": "from the right", "right": "from the left", "up": "from below", "down": "from above"}
"""Where a screen comes from that moves to a side."""


def time_words(ms: int) -> str:
    """A length of time.

    >>> time_words(50), time_words(1500), time_words(120_000), time_words(7_200_000)
    ('50 ms', '1.5 s', '2 min', '2 h')
    """
    if ms < 1000:
        return f"{ms} ms"
    if ms < 120_000:
        return f"{ms / 1000:g} s"
    return f"{ms / 60_000:g} min" if ms < 7_200_000 else f"{ms / 3_600_000:g} h"


@dataclass(frozen=True, eq=False)
class Speaker:
    """Knows what everything is called. `screens` are names of screens by reference."""

    behaviour: Behaviour
    design: Design
    screens: Mapping[str, str]

    def screen(self, ref: str) -> str:
        return self.screens.get(ref, GONE) if ref else "every screen"

    def area(self, ident: str) -> str:
        area = self.behaviour.area(ident)
        return f"“{area.name}”" if area is not None else GONE

    def trigger(self, trigger: Trigger) -> str:
        """What has to happen, as after "when"."""
        when, on, length = trigger.when, trigger.on, time_words(trigger.ms)
        behaviour = self.behaviour
        where = self.area(on) if on else "the glass"
        if when in ("press", "release"):
            return f"{where} is {'pressed' if when == 'press' else 'released'}"
        if when == "hold":
            return f"{where} is held for {length}"
        if when.startswith("swipe"):
            return f"a finger swipes {when[6:]} on {where}" if on else f"a finger swipes {when[6:]}"
        if when.startswith("button"):
            button = behaviour.button(on)
            name = button.name if button is not None else GONE
            return f"{name} is {when[7:]}{f' for {length}' if when == 'button held' else ''}"
        if when.startswith("turned"):
            encoder = behaviour.encoder(on)
            return f"{encoder.name if encoder is not None else GONE} is turned {when[7:]}"
        if when in ("band", "stale", "back"):
            return self._of_value(trigger)
        if when == "wrong":
            output = behaviour.output(on)
            return f"{output.name if output is not None else GONE} is not as it was switched"
        return {
            "after": f"it has been shown for {length}", "every": f"{length} have passed, again and again",
            "quiet": f"nothing has been touched for {length}", "start": "the device starts", "wake": "the device wakes",
        }[when]  # fmt: skip

    def _of_value(self, trigger: Trigger) -> str:
        value = self.design.value(trigger.on)
        name = value.name if value is not None else GONE
        if trigger.when != "band":
            return f"{name} {'has an old reading' if trigger.when == 'stale' else 'is read again'}"
        bands = value.bands.bands if value is not None else ()
        word = bands[trigger.band].word or f"band {trigger.band + 1}" if trigger.band < len(bands) else GONE
        return f"{name} enters {word}"

    def action(self, action: Action) -> str:
        """What is done."""
        do, by = action.do, action.by
        if do == "screen":
            return f"show {self.screen(action.to)}{self.change(action)}" if action.to else f"show {GONE}"
        if do in ("set", "add", "toggle"):
            return self._value_action(action)
        if do == "event":
            event = self.behaviour.event(action.to)
            return f"tell the program {event.code} {event.name}" if event is not None else f"tell the program {GONE}"
        if do == "output":
            output = self.behaviour.output(action.to)
            return f"switch {output.name if output is not None else GONE} {('off', 'on', 'over')[min(2, max(0, by))]}"
        return {
            "go back": f"go back{self.change(action)}", "light": f"set the light to {by} %", "refresh": "refresh the whole panel",
            "sleep": "sleep",
        }[do]  # fmt: skip

    def change(self, action: Action) -> str:
        if action.change == "cut":
            return ""
        verb = "wiped in" if action.change == "wipe" else "slid in"
        return f", {verb} {MOVES[action.side]} in {how_many(action.steps, 'step')}"

    def _value_action(self, action: Action) -> str:
        value = self.design.value(action.to)
        if value is None:
            return f"change {GONE}"
        if action.do == "toggle":
            return f"turn {value.name} over"
        if action.do == "set":
            return f"set {value.name} to {value.plain(action.by)}"
        amount = f"{'add' if action.by >= 0 else 'take'} {value.plain(abs(action.by)) if not value.named else abs(action.by)}"
        way = "to" if action.by >= 0 else "from"
        return f"{amount} {way} {value.name}, {'round' if action.wrap else 'up'} {'at' if action.wrap else 'to'} its end"

    def rule(self, rule: Rule) -> str:
        """A whole rule."""
        done = [self.action(action) for action in rule.actions] or ["nothing is done"]
        return f"When {self.trigger(rule.trigger)}: {'; '.join(done)}."

    def meaning(self, event: str) -> str:
        """What raises an event, in words that do not change when things are only renamed or moved in the list."""
        found = []
        for rule in self.behaviour.rules:
            if any(action.do == "event" and action.to == event for action in rule.actions):
                found.append(f"{self.trigger(rule.trigger)}, on {self.screen(rule.screen)}")
        return "; ".join(found)


def effect_words(effect: Effect, machine: Machine, speaker: Speaker) -> str:
    """What was done, for a list of what happened."""
    if effect.what == "screen":
        return f"shows {speaker.screen(machine.screens[effect.of])}"
    if effect.what == "event":
        name = next((event.name for event in machine.behaviour.events if event.code == effect.of), "")
        return f"tells the program {effect.of} {name}"
    if effect.what == "output":
        output = machine.behaviour.outputs[effect.of]
        return (
            f"{output.name} {'on' if bool(effect.level) != output.active_low else 'off'}, pin {'high' if effect.level else 'low'}"
        )
    return {"light": f"light at {effect.level} %", "refresh": "refreshes the whole panel", "sleep": "sleeps"}[effect.what]
