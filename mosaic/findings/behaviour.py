"""Findings on behaviour: screens out of reach, areas that are not hit, a program that is not told, outputs that mislead."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from mosaic.behaviour.behaviour import TOUCHES, Area, Output, Rule
from mosaic.behaviour.flips import flips_a_minute
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.screen_map import EVERY, leads_of, reached
from mosaic.behaviour.transitions import allowed
from mosaic.behaviour.truth import during_reset
from mosaic.behaviour.words import Speaker
from mosaic.cards.measuring import tells_touches
from mosaic.device.device import Device
from mosaic.findings import Finding, Fix, Severity
from mosaic.lettering.measure import pitch_mm
from mosaic.links import total_s, wire_steps
from mosaic.panels.mounting import seen_pixels
from mosaic.panels.windows import Rect, host_size
from mosaic.panels.wire import window_parts
from mosaic.screens.placing import safe_box
from mosaic.screens.plan import Plan
from mosaic.values.bands import stretches

LEAST_MM, GAP_MM = 7.0, 2.0
MOST_FLIPS = 6.0
"""Changes of band a minute that are too many."""
FASTEST_BLINK_MS = 334
"""Three a second."""
TURNS_A_SECOND = 20
"""Catches that a quick hand turns a knob by."""
SHOWING = {"gauge", "needle", "bar", "text", "value", "block", "sparkline", "plot"}
"""Kinds of elements that show something and do not look as if they were pressed."""


@dataclass(frozen=True, eq=False)
class BehaviourSubject:
    """The behaviour of a build with its screens; `plans` by reference, of those that can be drawn."""

    device: Device
    machine: Machine
    speaker: Speaker
    plans: dict[str, Plan]
    taken_pins: frozenset[str] = frozenset()

    @property
    def rules(self) -> tuple[Rule, ...]:
        return self.machine.behaviour.rules

    @cached_property
    def leads(self) -> dict[str, list[str]]:
        """Screens that each screen leads to."""
        leads = leads_of(self.machine, self.speaker)
        every = [one.to for one in leads.get(EVERY, ()) if one.to is not None]
        return {ref: [*every, *(one.to for one in leads.get(ref, ()) if one.to is not None)] for ref in self.machine.screens}

    def goes_back(self, ref: str) -> bool:
        return any(a.do == "go back" for rule in self.rules if rule.screen in ("", ref) for a in rule.actions)


def _found(ident: str, severity: Severity, where: str, what: str, why: str, fix: Fix | None = None) -> Finding:
    return Finding(f"behaviour.{ident}", severity, where, what, why, fix)


def _fix(label: str, do: str, then: str = "", **more: Any) -> Fix:
    return Fix(label, "behaviour", {"do": do, **more}, then)


def _start(subject: BehaviourSubject) -> str:
    return subject.machine.screens[subject.machine.start] if subject.machine.screens else ""


def no_way_in(subject: BehaviourSubject) -> list[Finding]:
    """Screens that nothing leads to."""
    if len(subject.machine.screens) < 2 or not subject.rules:
        return []
    known = reached(subject.machine, leads_of(subject.machine, subject.speaker))
    start = _start(subject)
    found = []
    for ref in subject.machine.screens:
        if ref not in known:
            name = subject.speaker.screen(ref)
            fix = _fix(f"Let a swipe on {subject.speaker.screen(start)} lead there", "lead", screen=start, to=ref)
            found.append(_found("no-way-in", "must fix", name, f"nothing leads to {name}", "Nobody will ever see it.", fix))
    return found


def no_way_back(subject: BehaviourSubject) -> list[Finding]:
    """Screens from which the first one is never reached again, and dead ends, which lead nowhere at all."""
    if len(subject.machine.screens) < 2 or not subject.rules:
        return []
    start, found = _start(subject), []
    for ref in subject.machine.screens:
        seen, waiting = {ref}, [ref]
        back = subject.goes_back(ref)
        while waiting:
            here = waiting.pop()
            back = back or subject.goes_back(here)
            for to in subject.leads.get(here, ()):
                if to not in seen:
                    seen.add(to)
                    waiting.append(to)
        if (start in seen and ref != start) or back or ref == start:
            continue
        name = subject.speaker.screen(ref)
        fix = _fix(f"Return to {subject.speaker.screen(start)} after 30 s without a touch", "return", screen=ref, to=start)
        if not any(to != ref for to in subject.leads.get(ref, ())):
            found.append(_found("dead-end", "must fix", name, f"{name} leads nowhere", "Only switching it off helps.", fix))
        else:
            what = f"from {name} there is no way back to {subject.speaker.screen(start)}"
            found.append(_found("no-way-back", "must fix", name, what, "Whoever gets there stays.", fix))
    return found


def gone(subject: BehaviourSubject) -> list[Finding]:
    """Rules that name something that is not there any more."""
    found, machine = [], subject.machine
    for rule in subject.rules:
        bad = [
            action for action in rule.actions
            if (action.do == "screen" and action.to not in machine.screens)
            or (action.do in ("set", "add", "toggle") and action.to not in machine.value_numbers)
            or (action.do == "event" and machine.behaviour.event(action.to) is None)
            or (action.do == "output" and machine.behaviour.output(action.to) is None)
        ]  # fmt: skip
        lost = (rule.screen and rule.screen not in machine.screens) or "gone" in subject.speaker.trigger(rule.trigger)
        if lost:
            fix = _fix("Take the rule away", "remove", id=rule.id)
            what = f"a rule names what is gone: {subject.speaker.rule(rule)[:90]}"
            found.append(_found("gone", "must fix", "Rules", what, "It never comes about.", fix))
        elif bad:
            fix = _fix("Take that action away", "drop", rule=rule.id)
            what = f"{subject.speaker.rule(rule)[:90]} The screen or value it names is gone"
            found.append(_found("gone", "must fix", "Rules", what, "That part of it does nothing.", fix))
    return found


def _boxes(subject: BehaviourSubject) -> Iterator[tuple[Area, Rect]]:
    for area in subject.machine.behaviour.areas:
        box = subject.machine.boxes.get(area.id)
        if box is not None:
            yield area, box


def _rules_of(subject: BehaviourSubject, area: Area) -> list[Rule]:
    return [rule for rule in subject.rules if rule.trigger.on == area.id and rule.trigger.when in TOUCHES]


def areas_idle(subject: BehaviourSubject) -> list[Finding]:
    """Areas that do nothing, or that the program is never told of."""
    found = []
    for area in subject.machine.behaviour.areas:
        rules = _rules_of(subject, area)
        if not rules:
            fix = _fix("Let it tell the program", "tell-area", area=area.id)
            found.append(_found("area-idle", "must fix", area.name, f"“{area.name}” does nothing", "It is touched in vain.", fix))
        elif not any(action.do == "event" for rule in rules for action in rule.actions):
            fix = _fix("Tell the program", "tell", rule=rules[0].id, name=f"{area.name} touched"[:40])
            what = f"the program is not told of “{area.name}”"
            found.append(_found("area-untold", "worth fixing", area.name, what, "It cannot act on it, nor know of it.", fix))
    return found


def _mm(subject: BehaviourSubject, box: Rect) -> tuple[float, float]:
    across, down = pitch_mm(subject.device)
    return box.width * across, box.height * down


def areas_small(subject: BehaviourSubject) -> list[Finding]:
    """Areas that a finger does not hit for sure."""
    found, (across, down) = [], pitch_mm(subject.device)
    width, height = subject.device.size
    for area, box in _boxes(subject):
        wide, high = _mm(subject, box)
        if min(wide, high) >= LEAST_MM - 1e-9:
            continue
        w, h = max(box.width, -int(-LEAST_MM // across)), max(box.height, -int(-LEAST_MM // down))
        w, h = min(w, width), min(h, height)
        x = min(max(0, box.x - (w - box.width) // 2), width - w)
        y = min(max(0, box.y - (h - box.height) // 2), height - h)
        fix = _fix(f"Make it {w} × {h} px", "box", area=area.id, box=[x, y, w, h])
        what = f"“{area.name}” is {wide:.1f} × {high:.1f} mm"
        found.append(_found("area-small", "worth fixing", area.name, what, f"A finger wants {LEAST_MM:.0f} mm each way.", fix))
    return found


def _gap(a: Rect, b: Rect) -> tuple[int, int]:
    """Pixels between two boxes along each axis; negative where they overlap there."""
    return max(a.x, b.x) - min(a.right, b.right), max(a.y, b.y) - min(a.bottom, b.bottom)


def areas_close(subject: BehaviourSubject) -> list[Finding]:
    """Areas that overlap, or lie so close that the wrong one is hit."""
    found, (across, down) = [], pitch_mm(subject.device)
    listed = list(_boxes(subject))
    for number, (area, box) in enumerate(listed):
        for other, beside in listed[number + 1 :]:
            if area.screen and other.screen and area.screen != other.screen:
                continue
            dx, dy = _gap(box, beside)
            if dx < 0 and dy < 0:
                fix = (
                    _fix(f"Take “{area.name}” away", "remove", id=area.id)
                    if _holds(beside, box)
                    else _apart(area, box, beside, dx, dy)
                )
                what = f"“{area.name}” and “{other.name}” overlap by {-dx} × {-dy} px"
                found.append(_found("areas-overlap", "must fix", area.name, what, f"Only “{other.name}” is touched there.", fix))
            elif max(dx * across, dy * down) < GAP_MM - 1e-9 and not _alike(subject, area, other):
                what = f"“{area.name}” and “{other.name}” are {max(dx * across, dy * down):.1f} mm apart"
                fix = _drawn_back(area, box, beside, (-int(-GAP_MM // across), -int(-GAP_MM // down)))
                why = f"{GAP_MM:.0f} mm between them keep fingers right."
                found.append(_found("areas-close", "worth fixing", area.name, what, why, fix))
    return found


def _drawn_back(area: Area, box: Rect, beside: Rect, gap: tuple[int, int]) -> Fix | None:
    """The first area drawn back until so many pixels lie between the two, along the axis on which they are apart."""
    dx, dy = _gap(box, beside)
    x, y, right, bottom = box.x, box.y, box.right, box.bottom
    if dx >= dy:
        x, right = (x, min(right, beside.x - gap[0])) if box.x < beside.x else (max(x, beside.right + gap[0]), right)
    else:
        y, bottom = (y, min(bottom, beside.y - gap[1])) if box.y < beside.y else (max(y, beside.bottom + gap[1]), bottom)
    if right <= x or bottom <= y:
        return None
    return _fix(
        f"Draw “{area.name}” back to {right - x} × {bottom - y} px", "box", area=area.id, box=[x, y, right - x, bottom - y]
    )


def _alike(subject: BehaviourSubject, area: Area, other: Area) -> bool:
    """Whether two areas are rows of one list, of one size and in one line: there no gap is wanted."""
    a, b = subject.machine.boxes[area.id], subject.machine.boxes[other.id]
    return (a.width, a.height) == (b.width, b.height) and (a.x == b.x or a.y == b.y)


def _holds(outer: Rect, inner: Rect) -> bool:
    return outer.x <= inner.x and outer.y <= inner.y and outer.right >= inner.right and outer.bottom >= inner.bottom


def _apart(area: Area, box: Rect, beside: Rect, dx: int, dy: int) -> Fix | None:
    """The first area cut back to where the other begins."""
    if -dx <= -dy:
        cut = (
            Rect(box.x, box.y, beside.x - box.x, box.height)
            if box.x < beside.x
            else Rect(beside.right, box.y, box.right - beside.right, box.height)
        )
    else:
        cut = (
            Rect(box.x, box.y, box.width, beside.y - box.y)
            if box.y < beside.y
            else Rect(box.x, beside.bottom, box.width, box.bottom - beside.bottom)
        )
    if cut.width < 1 or cut.height < 1:
        return None
    return _fix(
        f"Cut “{area.name}” back to {cut.width} × {cut.height} px", "box", area=area.id, box=[cut.x, cut.y, cut.width, cut.height]
    )


def areas_off(subject: BehaviourSubject) -> list[Finding]:
    """Areas outside of the glass, partly or wholly, or under its round edge or the bezel."""
    found, device = [], subject.device
    width, height = device.size
    seen = seen_pixels(device.passport, device.turn, device.opening)
    for area in subject.machine.behaviour.areas:
        box = subject.machine.boxes.get(area.id)
        if box is None:
            fix = _fix(f"Take “{area.name}” away", "remove", id=area.id)
            what = f"“{area.name}” lies nowhere: {'its element is gone' if area.element else 'outside of the glass'}"
            found.append(_found("area-off", "must fix", area.name, what, "Nobody can touch it.", fix))
            continue
        over = not area.element and (area.x + area.width > width or area.y + area.height > height)
        part = seen[box.y : box.bottom, box.x : box.right]
        if over:
            what = f"“{area.name}” reaches beyond the glass"
            fix = _fix(f"Cut it to {box.width} × {box.height} px", "box", area=area.id, box=[box.x, box.y, box.width, box.height])
            found.append(_found("area-off", "worth fixing", area.name, what, "What lies outside is never touched.", fix))
        elif not part.all():
            share = 100 * (1 - part.mean())
            what = f"{share:.0f} % of “{area.name}” lies under the edge"
            safe = safe_box(seen)
            w, h = min(box.width, safe.width), min(box.height, safe.height)
            x, y = min(max(box.x, safe.x), safe.right - w), min(max(box.y, safe.y), safe.bottom - h)
            fix = _fix("Move it to where the glass is seen", "box", area=area.id, box=[x, y, w, h])
            found.append(_found("area-under-edge", "worth fixing", area.name, what, "A finger does not get there.", fix))
    return found


def shows_but_touched(subject: BehaviourSubject) -> list[Finding]:
    """Gauges and labels that take touches."""
    found = []
    for area in subject.machine.behaviour.areas:
        plan = subject.plans.get(area.screen)
        element = plan.screen.element(area.element) if plan is not None and area.element else None
        if plan is not None and element is not None and element.kind in SHOWING and _rules_of(subject, area):
            what = f"{plan.kit.called(element)} is a {element.kind} and takes touches"
            fix = _fix("Take its area away", "remove-with", id=area.id)
            found.append(
                _found("showing-touched", "worth fixing", area.name, what, "It does not look as if it could be pressed.", fix)
            )
    return found


def twice(subject: BehaviourSubject) -> list[Finding]:
    """The same happening on the same screen in two rules."""
    found: list[Finding] = []
    seen: dict[tuple[Any, ...], Rule] = {}
    for rule in subject.rules:
        trigger = rule.trigger
        key = (trigger, rule.screen)
        other = seen.setdefault(key, rule)
        if other is not rule:
            fix = _fix("Lay the two together", "join", first=other.id, second=rule.id)
            what = f"two rules wait until {subject.speaker.trigger(trigger)}"
            found.append(
                _found(
                    "twice", "worth fixing", subject.speaker.screen(rule.screen), what, "Both are done, one after the other.", fix
                )
            )
    return found


def untold(subject: BehaviourSubject) -> list[Finding]:
    """Changes of screen that the program is not told of, and no word of it after a restart."""
    found, behaviour = [], subject.machine.behaviour
    for rule in subject.rules:
        moves = [action for action in rule.actions if action.do in ("screen", "go back")]
        if moves and not any(action.do == "event" for action in rule.actions):
            name = f"{subject.speaker.screen(moves[0].to)} shown"[:40] if moves[0].do == "screen" else "went back"
            fix = _fix("Tell the program", "tell", rule=rule.id, name=name)
            what = f"the program is not told when {subject.speaker.trigger(rule.trigger)}"
            found.append(
                _found(
                    "untold", "worth fixing", subject.speaker.screen(rule.screen), what, "It goes on for the screen before.", fix
                )
            )
    told = any(action.do == "event" for rule in subject.rules for action in rule.actions)
    begins = any(rule.trigger.when == "start" and any(a.do == "event" for a in rule.actions) for rule in subject.rules)
    if behaviour.events and told and not begins and len(subject.machine.screens) > 1:
        fix = _fix("Tell it at the start", "tell-start")
        what = "after a restart the program does not know which screen is shown"
        found.append(
            _found("no-agreement", "worth fixing", "Events", what, "The two go on apart until somebody touches something.", fix)
        )
    return found


def code_twice(subject: BehaviourSubject) -> list[Finding]:
    """Areas of one screen that the program cannot tell apart: they do the same, and tell it the same code."""
    found: list[Finding] = []
    seen: dict[tuple[Any, ...], Rule] = {}
    behaviour = subject.machine.behaviour
    for rule in subject.rules:
        told = [action.to for action in rule.actions if action.do == "event"]
        area, event = behaviour.area(rule.trigger.on), behaviour.event(told[0]) if told else None
        if rule.trigger.when not in TOUCHES or area is None or event is None:
            continue
        other = seen.setdefault((rule.screen, rule.trigger.when, rule.actions), rule)
        first = behaviour.area(other.trigger.on)
        if other is not rule and first is not None and first is not area:
            fix = _fix(
                f"Give “{area.name}” a code of its own",
                "own-code",
                rule=rule.id,
                event=event.id,
                name=f"{area.name} touched"[:40],
            )
            what = f"“{first.name}” and “{area.name}” both tell the program {event.code}"
            found.append(_found("code-twice", "must fix", area.name, what, "It cannot tell which was touched.", fix))
    return found


def press_and_hold(subject: BehaviourSubject) -> list[Finding]:
    """Short presses that a long one sets off, too."""
    found = []
    for rule in subject.rules:
        trigger = rule.trigger
        short = {"hold": "press", "button held": "button pressed"}.get(trigger.when)
        for other in subject.rules if short else ():
            same = other.trigger.when == short and other.trigger.on == trigger.on
            if same and (other.screen == rule.screen or not other.screen or not rule.screen):
                fix = _fix("Act on release instead", "release", rule=other.id)
                what = f"when {subject.speaker.trigger(trigger)}, it has already been pressed"
                found.append(
                    _found("press-and-hold", "worth fixing", subject.speaker.screen(rule.screen), what, "Both are done.", fix)
                )
    return found


def bands_wrong(subject: BehaviourSubject) -> list[Finding]:
    """Gaps, overlaps, bands out of reach, and bands that change too often."""
    found = []
    for value in subject.machine.values:
        if not value.bands.bands:
            continue
        low, high = value.bounds
        for one in stretches(value.bands, low, high):
            plain = (
                f"{value.plain(one.start)}{f' to {value.plain(one.end)}' if one.end != one.start else ''} {value.unit}".rstrip()
            )
            if one.is_gap:
                fix = _fix("Let the band below reach up to it", "close", value=value.id, start=one.start, end=one.end)
                found.append(
                    _found(
                        "band-gap",
                        "must fix",
                        value.name,
                        f"{plain} is in no band of {value.name}",
                        "Nothing is shown there.",
                        fix,
                    )
                )
            elif one.is_overlap:
                fix = _fix("Begin the later band behind it", "part", value=value.id, start=one.start, end=one.end)
                what = f"{plain} is in two bands of {value.name}"
                found.append(_found("band-overlap", "worth fixing", value.name, what, "The first of them counts.", fix))
        held = {one.bands[0] for one in stretches(value.bands, low, high) if one.bands}
        for number, band in enumerate(value.bands.bands):
            if number not in held:
                fix = _fix("Take it away", "drop-band", value=value.id, band=number)
                name = band.word or f"band {number + 1}"
                what = f"{value.name} never enters {name}: it lies in {value.plain(low)} to {value.plain(high)}"
                found.append(
                    _found(
                        "band-never",
                        "worth fixing",
                        value.name,
                        f"{what} {value.unit}".rstrip(),
                        "Its limits are unlike the source's range.",
                        fix,
                    )
                )
        flips = flips_a_minute(value)
        if flips > MOST_FLIPS:
            lag = max(1, (high - low) // 20)
            fix = _fix(f"Leave bands {f'{value.plain(lag)} {value.unit}'.rstrip()} later", "calm", value=value.id, hysteresis=lag)
            what = f"{value.name} changes its band {flips:.0f} times a minute"
            found.append(_found("band-flips", "worth fixing", value.name, what, "It flickers at a limit.", fix))
    return found


def outputs_wrong(subject: BehaviourSubject) -> list[Finding]:
    """Loads that are on at power-up or not known then, and states that screens show wrongly or not at all."""
    found, behaviour = [], subject.machine.behaviour
    for output in behaviour.outputs:
        reset = during_reset(output)
        off = "high" if output.active_low else "low"
        if reset.is_on:
            fix = _fix(f"Hold the pin {off} by a resistor", "output", output=output.id, fields={"reset_pull": off})
            what = f"{output.name} is on from power-up until the program has begun"
            found.append(_found("on-at-power-up", "must fix", output.name, what, "Nobody has switched it on.", fix))
        elif reset.is_on is None and (output.load == "relay" or output.mains or output.inductive):
            fix = _fix(f"Hold the pin {off} by a resistor", "output", output=output.id, fields={"reset_pull": off})
            what = f"nothing holds the pin of {output.name} during reset"
            found.append(_found("open-at-reset", "worth fixing", output.name, what, "It may switch on for a moment.", fix))
        shows = next((value for value in subject.machine.values if value.id == output.shows), None)
        if shows is None:
            if any(value.kind == "yes/no" and value.name.lower() == output.name.lower() for value in subject.machine.values):
                named = next(v for v in subject.machine.values if v.name.lower() == output.name.lower())
                fix = _fix(f"Let {named.name} show it", "output", output=output.id, fields={"shows": named.id})
                what = f"screens show {named.name}, which does not follow the output {output.name}"
                found.append(_found("shown-wrong", "must fix", output.name, what, "It can say off while the load is on.", fix))
            continue
        wrong = [
            rule for rule in subject.rules
            if any(a.do in ("set", "toggle") and a.to == shows.id for a in rule.actions)
        ]  # fmt: skip
        if wrong or shows.origin.by == "source":
            fix = _fix("Let the output alone set it", "own-shown", output=output.id, value=shows.id)
            by = "rules set it by themselves" if wrong else "it is read from a source of its own"
            what = f"{shows.name} shows {output.name}, and {by}"
            found.append(_found("shown-wrong", "must fix", output.name, what, "It can say off while the load is on.", fix))
    return found


def blinks_fast(subject: BehaviourSubject) -> list[Finding]:
    """Blinking of more than three a second."""
    blinks: list[tuple[str, int, Any, dict[str, Any]]] = []
    for value in subject.machine.values:
        if value.origin.by == "blink" and not value.origin.of:
            blinks.append((value.name, value.origin.on_ms + value.origin.off_ms, value, {}))
        for number, band in enumerate(value.bands.bands):
            name = f"{band.word or f'band {number + 1}'} of {value.name}"
            blinks.append((name, band.blink_ms, value, {"band": number}))
    why = "More than three a second can harm people; guidelines forbid it."
    return [
        _found(
            "blinks-fast", "must fix", value.name, f"{name} blinks {1000 / period:.1f} times a second", why,
            _fix("Blink once a second", "blink", value=value.id, **more),
        )
        for name, period, value, more in blinks if 0 < period < FASTEST_BLINK_MS
    ]  # fmt: skip


def knob_too_fast(subject: BehaviourSubject) -> list[Finding]:
    """Knobs whose lines change faster than the program comes round."""
    behaviour, device = subject.machine.behaviour, subject.device
    if not behaviour.encoders:
        return []
    width, height = host_size(device.passport, device.turn)
    whole = window_parts(
        device.passport, device.turn, Rect(0, 0, width, height), bytes(device.passport.format.frame_bytes(width, height))
    )
    frame_ms = float(total_s(wire_steps(whole, device.link))) * 1000
    blocked = max((value.source.blocks_ms for value in subject.machine.values), default=0)
    loop_ms = max(frame_ms, float(blocked))
    found = []
    for encoder in (one for one in behaviour.encoders if not one.interrupt):
        apart = 1000 / (TURNS_A_SECOND * encoder.steps)
        if loop_ms > apart:
            lines = f"the lines of {encoder.name} change every {apart:.1f} ms when it is turned quickly"
            what = f"{lines}; the program comes round in {loop_ms:.0f} ms"
            why = "It loses turns, unless an interrupt reads its lines."
            fix = _fix("Read its lines by an interrupt", "interrupt", encoder=encoder.id)
            found.append(_found("knob-fast", "worth fixing", encoder.name, what, why, fix))
    return found


def inputs_missing(subject: BehaviourSubject) -> list[Finding]:
    """Touch where the panel has none, and pins that are wanted twice or not at all."""
    found, behaviour, device = [], subject.machine.behaviour, subject.device
    touched = [rule for rule in subject.rules if rule.trigger.when in TOUCHES]
    if touched and not tells_touches(device.passport):
        only = not behaviour.buttons and not behaviour.encoders
        fix = _fix("Add two buttons", "buttons") if only else None
        what = f"{len(touched)} rule{'s wait' if len(touched) != 1 else ' waits'} for a touch, and this panel has none"
        found.append(
            _found(
                "no-touch",
                "must fix",
                "Inputs",
                what,
                "They never come about." if not only else "Nothing can be worked at all.",
                fix,
            )
        )
    return [*found, *_pins_wrong(subject)]


def _pins_wrong(subject: BehaviourSubject) -> list[Finding]:
    behaviour, board = subject.machine.behaviour, subject.device.board
    wanted: list[tuple[Any, str, str]] = [(one, "pin", one.pin) for one in behaviour.buttons]
    wanted += [(one, "pin", one.pin) for one in behaviour.outputs]
    wanted += [(one, field, getattr(one, field)) for one in behaviour.encoders for field in ("pin_a", "pin_b")]
    roles = {pin.name: pin.roles for pin in board.pins}
    taken = {*subject.taken_pins, *(pin for _, _, pin in wanted)}
    unfit = {"input only", "boot strap", "transmit", "receive", "flash", "usb", "power", "ground", "reset", "lamp"}
    free = [pin.name for pin in board.pins if "gpio" in pin.roles and not unfit & set(pin.roles) and pin.name not in taken]
    found: list[Finding] = []
    used: dict[str, str] = {}
    for one, field, pin in wanted:
        name, works = one.name, "One of the two does not work."
        fix = _fix(f"Put it at {free[0]}", "pin", of=one.id, field=field, pin=free[0]) if free else None
        drives = isinstance(one, Output)
        if not pin:
            found.append(_found("no-pin", "worth fixing", name, f"{name} is at no pin yet", "No program can work it.", fix))
        elif board.pins and pin not in roles:
            found.append(
                _found(
                    "pin-gone", "must fix", name, f"{name} is at {pin}, which this board does not have", "Nothing is there.", fix
                )
            )
        elif pin in subject.taken_pins:
            found.append(_found("pin-taken", "must fix", name, f"{name} is at {pin}, which the panel uses", works, fix))
        elif pin in used:
            found.append(_found("pin-twice", "must fix", name, f"{name} is at {pin}, as {used[pin]} is", works, fix))
        elif drives and "input only" in roles.get(pin, ()):
            found.append(
                _found("pin-unfit", "must fix", name, f"{name} is at {pin}, which can only be read", "It is never on.", fix)
            )
        elif drives and {"boot strap", "transmit"} & set(roles.get(pin, ())):
            why = "It may switch for a moment, or keep the board from starting."
            found.append(
                _found("pin-unfit", "worth fixing", name, f"the board itself uses {pin} of {name} while it starts", why, fix)
            )
        used.setdefault(pin, name)
    return found


def changes_too_slow(subject: BehaviourSubject) -> list[Finding]:
    """Screens that are wiped or slid in on a panel that only takes cuts."""
    found = []
    for rule in subject.rules:
        if any(action.do in ("screen", "go back") and not allowed(subject.device, action.change) for action in rule.actions):
            fix = _fix("Show it at once", "cut", rule=rule.id)
            what = f"when {subject.speaker.trigger(rule.trigger)}, a screen is moved in step by step"
            found.append(
                _found(
                    "change-slow",
                    "must fix",
                    subject.speaker.screen(rule.screen),
                    what,
                    "This panel refreshes for each step.",
                    fix,
                )
            )
    return found


RULES = (
    no_way_in, no_way_back, gone, areas_idle, areas_small, areas_close, areas_off, shows_but_touched, twice, code_twice, untold,
    press_and_hold, bands_wrong, outputs_wrong, blinks_fast, knob_too_fast, inputs_missing, changes_too_slow,
)  # fmt: skip


def behaviour_findings(subject: BehaviourSubject) -> list[Finding]:
    """All findings on a behaviour, worst first."""
    found = [finding for rule in RULES for finding in rule(subject)]
    return sorted(found, key=lambda finding: finding.severity != "must fix")
