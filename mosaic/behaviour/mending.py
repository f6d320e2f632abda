"""What fixes of findings do to a behaviour and to the values it stands on."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from mosaic.behaviour.banding import following, with_value
from mosaic.behaviour.behaviour import Action, Area, Behaviour, Button, Output, Rule, Trigger
from mosaic.behaviour.editing import free_id, group_of, put, with_event, with_rule, without
from mosaic.behaviour.words import Speaker
from mosaic.errors import BadValueError
from mosaic.screens.screen import Design
from mosaic.values.bands import Bands
from mosaic.values.value import Value

Both = tuple[Behaviour, Design]
RETURN_MS, BLINK_MS = 30_000, 1000


def _rule(behaviour: Behaviour, ident: str) -> Rule:
    rule = behaviour.rule(ident)
    if rule is None:
        raise BadValueError("that rule is not there any more; load the page again")
    return rule


def _value(design: Design, ident: str) -> Value:
    value = design.value(ident)
    if value is None:
        raise BadValueError("that value is not there any more; load the page again")
    return value


def _telling(behaviour: Behaviour, rule: Rule, name: str) -> Behaviour:
    behaviour, event = with_event(behaviour, name)
    return put(behaviour, "rules", replace(rule, actions=(*rule.actions, Action("event", event.id))))


def _led(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any, trigger: Trigger) -> Both:
    actions = [Action("screen", more["to"], remember=False)]
    behaviour, rule = with_rule(behaviour, trigger, actions, more["screen"])
    return _telling(behaviour, rule, f"{speaker.screen(more['to'])} shown"[:40]), design


def _lead(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    taken = {rule.trigger.when for rule in behaviour.rules if rule.screen == more["screen"] and not rule.trigger.on}
    when = next((w for w in ("swipe left", "swipe up", "swipe right", "swipe down") if w not in taken), "swipe left")
    return _led(behaviour, design, speaker, more, Trigger(when))  # type: ignore[arg-type]


def _return(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    return _led(behaviour, design, speaker, more, Trigger("quiet", ms=RETURN_MS))


def _remove(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    return without(behaviour, more["id"]), design


def _remove_with(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    return without(behaviour, more["id"], rules_too=True), design


def _drop(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    """Take away the actions of a rule whose aims are gone."""
    rule = _rule(behaviour, more["rule"])
    kept = tuple(action for action in rule.actions if "gone" not in speaker.action(action))
    return put(behaviour, "rules", replace(rule, actions=kept)), design


def _tell(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    return _telling(behaviour, _rule(behaviour, more["rule"]), more["name"]), design


def _tell_area(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    area = _area(behaviour, more["area"])
    behaviour, rule = with_rule(behaviour, Trigger("release", area.id), (), area.screen)
    return _telling(behaviour, rule, f"{area.name} touched"[:40]), design


def _tell_start(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    behaviour, rule = with_rule(behaviour, Trigger("start"), ())
    return _telling(behaviour, rule, "started"), design


def _area(behaviour: Behaviour, ident: str) -> Area:
    area = behaviour.area(ident)
    if area is None:
        raise BadValueError("that area is not there any more; load the page again")
    return area


def _box(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    x, y, width, height = more["box"]
    area = replace(_area(behaviour, more["area"]), element="", margin=0, x=x, y=y, width=width, height=height)
    return put(behaviour, "areas", area), design


def _join(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    first, second = _rule(behaviour, more["first"]), _rule(behaviour, more["second"])
    together = replace(first, actions=tuple(dict.fromkeys((*first.actions, *second.actions)))[:8])
    return without(put(behaviour, "rules", together), second.id), design


def _release(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    rule = _rule(behaviour, more["rule"])
    when = {"press": "release", "button pressed": "button released"}[rule.trigger.when]
    return put(behaviour, "rules", replace(rule, trigger=replace(rule.trigger, when=when))), design  # type: ignore[arg-type]


def _cut(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    rule = _rule(behaviour, more["rule"])
    return put(behaviour, "rules", replace(rule, actions=tuple(replace(action, change="cut") for action in rule.actions))), design


def _banded(design: Design, more: Any, bands: Bands) -> Design:
    return following(with_value(design, replace(_value(design, more["value"]), bands=bands)), more["value"])


def _close(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    """A gap is closed from below, or from above where nothing lies below."""
    bands, start, end = _value(design, more["value"]).bands, more["start"], more["end"]
    listed = list(bands.bands)
    below = next((n for n, band in enumerate(listed) if band.end == start), None)
    above = next((n for n, band in enumerate(listed) if band.start == end + 1), None)
    if below is not None:
        listed[below] = replace(listed[below], end=end + 1 if above is not None else None)
    elif above is not None:
        listed[above] = replace(listed[above], start=None)
    return behaviour, _banded(design, more, replace(bands, bands=tuple(listed)))


def _part(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    """Of two bands that overlap the later one begins behind, or ends before; one that lies wholly inside goes."""
    bands, start, end = _value(design, more["value"]).bands, more["start"], more["end"]
    holding = [n for n, band in enumerate(bands.bands) if band.holds(start)]
    if len(holding) < 2:
        return behaviour, design
    listed, later = list(bands.bands), holding[1]
    band = listed[later]
    if band.holds(end + 1):
        listed[later] = replace(band, start=end + 1)
    elif band.holds(start - 1):
        listed[later] = replace(band, end=start)
    else:
        del listed[later]
    return behaviour, _banded(design, more, replace(bands, bands=tuple(listed)))


def _drop_band(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    bands = _value(design, more["value"]).bands
    return behaviour, _banded(
        design, more, replace(bands, bands=tuple(b for n, b in enumerate(bands.bands) if n != more["band"]))
    )


def _calm(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    bands = _value(design, more["value"]).bands
    calmer = replace(
        bands,
        hysteresis=max(bands.hysteresis, more["hysteresis"]),
        hold_ms=max(bands.hold_ms, 10_000),
        mean_of=max(bands.mean_of, 3),
    )
    return behaviour, _banded(design, more, calmer)


def _output(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    fields = {name: more["fields"][name] for name in ("reset_pull", "shows") if name in more["fields"]}
    return put(behaviour, "outputs", replace(_known_output(behaviour, more), **fields)), design


def _known_output(behaviour: Behaviour, more: Any) -> Output:
    output = behaviour.output(more["output"])
    if output is None:
        raise BadValueError("that output is not there any more; load the page again")
    return output


def _own_shown(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    """What shows an output is set by the output alone."""
    output, value = _known_output(behaviour, more), _value(design, more["value"])
    rules = []
    for rule in behaviour.rules:
        actions = tuple(
            replace(a, do="output", to=output.id, by=2 if a.do == "toggle" else a.by)
            if a.do in ("set", "toggle") and a.to == value.id
            else a
            for a in rule.actions
        )
        rules.append(replace(rule, actions=tuple(dict.fromkeys(actions))))
    origin = replace(value.origin, by="rules", first=int(output.at_start))
    return replace(behaviour, rules=tuple(rules)), with_value(design, replace(value, origin=origin))


def _blink(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    value = _value(design, more["value"])
    if "band" in more:
        bands = tuple(replace(b, blink_ms=BLINK_MS) if n == more["band"] else b for n, b in enumerate(value.bands.bands))
        return behaviour, _banded(design, more, replace(value.bands, bands=bands))
    return behaviour, with_value(design, replace(value, origin=replace(value.origin, on_ms=BLINK_MS // 2, off_ms=BLINK_MS // 2)))


def _buttons(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    for name in ("next", "choose"):
        behaviour = put(behaviour, "buttons", Button(free_id(behaviour, "buttons"), name))
    return behaviour, design


def _pin(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    group = group_of(behaviour, more["of"])
    if group not in ("buttons", "encoders", "outputs") or more["field"] not in ("pin", "pin_a", "pin_b"):
        raise BadValueError("that input is not there any more; load the page again")
    item = next(one for one in getattr(behaviour, group) if one.id == more["of"])
    return put(behaviour, group, replace(item, **{more["field"]: str(more["pin"])[:24]})), design


def _interrupt(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    encoder = behaviour.encoder(more["encoder"])
    if encoder is None:
        raise BadValueError("that knob is not there any more; load the page again")
    return put(behaviour, "encoders", replace(encoder, interrupt=True)), design


def _own_code(behaviour: Behaviour, design: Design, speaker: Speaker, more: Any) -> Both:
    rule = _rule(behaviour, more["rule"])
    behaviour, event = with_event(behaviour, more["name"])
    actions = tuple(replace(a, to=event.id) if a.do == "event" and a.to == more["event"] else a for a in rule.actions)
    return put(behaviour, "rules", replace(rule, actions=actions)), design


MENDING: dict[str, Callable[[Behaviour, Design, Speaker, Any], Both]] = {
    "lead": _lead, "return": _return, "remove": _remove, "remove-with": _remove_with, "drop": _drop, "tell": _tell,
    "tell-area": _tell_area, "tell-start": _tell_start, "box": _box, "join": _join, "release": _release, "cut": _cut,
    "close": _close, "part": _part, "drop-band": _drop_band, "calm": _calm, "output": _output, "own-shown": _own_shown,
    "blink": _blink, "buttons": _buttons, "pin": _pin, "interrupt": _interrupt, "own-code": _own_code,
}  # fmt: skip


def mended(behaviour: Behaviour, design: Design, speaker: Speaker, changes: Any) -> Both:
    """The behaviour and the design as a finding's fix makes them.

    Raises
    ------
    BadValueError
        There is no such fix, or what it mends is gone.
    """
    do = MENDING.get(str(changes.get("do", "")) if isinstance(changes, dict) else "")
    if do is None:
        raise BadValueError("that is no fix of a finding; load the page again")
    try:
        return do(behaviour, design, speaker, changes)
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        if isinstance(error, BadValueError):
            raise
        raise BadValueError("that fix does not say what it mends; load the page again") from None
