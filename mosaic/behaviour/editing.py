"""Changes of a behaviour: what is put in, what is taken out with what uses it, and whole sentences at once."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Event, Handed, Rule, Trigger, When
from mosaic.behaviour.words import Speaker
from mosaic.errors import BadValueError
from mosaic.screens.screen import new_id

GROUPS: dict[str, str] = {
    "areas": "a", "rules": "r", "buttons": "b", "encoders": "k", "outputs": "o", "events": "x",
}  # fmt: skip
"""Groups of a behaviour, and the letter that ids in them begin with."""

TURNS: tuple[When, ...] = ("turned up", "turned down")
NEVER = "nothing happens"


def free_id(behaviour: Behaviour, group: str) -> str:
    """An id that nothing of a group has."""
    return new_id({one.id for one in getattr(behaviour, group)}, GROUPS[group])


def group_of(behaviour: Behaviour, ident: str) -> str | None:
    """The group that something stands in; None where it is gone."""
    return next((group for group in GROUPS if any(one.id == ident for one in getattr(behaviour, group))), None)


def put(behaviour: Behaviour, group: str, item: Any) -> Behaviour:
    """The behaviour with something in place of what has its id, or as the last of its group."""
    listed = getattr(behaviour, group)
    if any(one.id == item.id for one in listed):
        return _with(behaviour, group, tuple(item if one.id == item.id else one for one in listed))
    return _with(behaviour, group, (*listed, item))


def _with(behaviour: Behaviour, group: str, listed: tuple[Any, ...]) -> Behaviour:
    changed: dict[str, Any] = {group: listed}
    return replace(behaviour, **changed)


def users_of(behaviour: Behaviour, ident: str) -> list[Rule]:
    """Rules that name something."""
    return [
        rule for rule in behaviour.rules
        if rule.trigger.on == ident or any(action.to == ident for action in rule.actions)
    ]  # fmt: skip


def without(behaviour: Behaviour, ident: str, *, rules_too: bool = False) -> Behaviour:
    """The behaviour without something; with `rules_too` without the rules that it sets off, and without what others do to it.

    The code of an event that goes is never given to another.
    """
    group = group_of(behaviour, ident)
    if group is None:
        raise BadValueError("that is not there any more; load the page again")
    free = behaviour.free_code
    left = _with(replace(behaviour, next_code=free), group, tuple(one for one in getattr(behaviour, group) if one.id != ident))
    if not rules_too:
        return left
    rules = []
    for rule in left.rules:
        if rule.trigger.on == ident:
            continue
        actions = tuple(action for action in rule.actions if action.to != ident)
        if actions or not rule.actions:
            rules.append(replace(rule, actions=actions))
    return replace(left, rules=tuple(rules))


def with_event(behaviour: Behaviour, name: str) -> tuple[Behaviour, Event]:
    """The behaviour with an event of a name, which is made where there is none; its code is the next that none has had."""
    known = next((event for event in behaviour.events if event.name.lower() == name.lower()), None)
    if known is not None:
        return behaviour, known
    event = Event(free_id(behaviour, "events"), behaviour.free_code, name[:40])
    return replace(put(behaviour, "events", event), next_code=event.code + 1), event


def with_rule(behaviour: Behaviour, trigger: Trigger, actions: Sequence[Action], screen: str = "") -> tuple[Behaviour, Rule]:
    """The behaviour with one more rule."""
    rule = Rule(free_id(behaviour, "rules"), trigger, tuple(actions), screen)
    return put(behaviour, "rules", rule), rule


def dimming(behaviour: Behaviour, after_ms: int, percent: int, *, by_touch: bool) -> Behaviour | None:
    """The behaviour with rules that bring the light down to some percent when nothing was touched for so long, and up again by a
    touch, a button or a knob; None where there is nothing of that kind. Rules that did so before are taken out."""
    wakes = [Trigger("press")] if by_touch else []
    wakes += [Trigger("button pressed", one.id) for one in behaviour.buttons]
    wakes += [Trigger(when, one.id) for one in behaviour.encoders for when in TURNS]
    if not wakes:
        return None
    whens = {"quiet", *(wake.when for wake in wakes)}
    kept = [rule for rule in behaviour.rules if not (rule.trigger.when in whens and _only_light(rule))]
    found = _with(behaviour, "rules", tuple(kept))
    found, _ = with_rule(found, Trigger("quiet", ms=after_ms), [Action("light", by=percent)])
    for wake in wakes:
        found, _ = with_rule(found, wake, [Action("light", by=100)])
    return found


def _only_light(rule: Rule) -> bool:
    return bool(rule.actions) and all(action.do == "light" for action in rule.actions)


def leading(behaviour: Behaviour, area: Area, when: When, to: str, name: str, *, tells: bool = True) -> tuple[Behaviour, Rule]:
    """An area that leads to a screen, and tells the program which it shows where it is to."""
    behaviour = put(behaviour, "areas", area)
    actions = [Action("screen", to)]
    if tells:
        behaviour, event = with_event(behaviour, f"{name} shown"[:40])
        actions.append(Action("event", event.id))
    return with_rule(behaviour, Trigger(when, area.id), actions, area.screen)


def turning_pages(behaviour: Behaviour, screens: Sequence[str]) -> Behaviour:
    """Swipes to the left and to the right that lead through screens and come round."""
    for number, ref in enumerate(screens):
        for when, other in (("swipe left", number + 1), ("swipe right", number - 1)):
            action = Action("screen", screens[other % len(screens)], remember=False)
            behaviour, _ = with_rule(behaviour, Trigger(when), [action], ref)  # type: ignore[arg-type]
    return behaviour


def handed_over(behaviour: Behaviour, speaker: Speaker) -> Behaviour:
    """The behaviour with note of what its program knows of the events now."""
    known = tuple(Handed(event.code, event.name, speaker.meaning(event.id)[:2000]) for event in behaviour.events)
    return replace(behaviour, handed=known, next_code=behaviour.free_code)


def changes_since(behaviour: Behaviour, speaker: Speaker) -> list[str]:
    """What a program that was handed the events has to learn anew, by meaning."""
    before = {one.code: one for one in behaviour.handed}
    now = {event.code: event for event in behaviour.events}
    found = []
    for code, event in sorted(now.items()):
        meaning, known = speaker.meaning(event.id), before.get(code)
        if known is None:
            found.append(f"{code} {event.name} is new: {meaning or 'nothing raises it yet'}")
            continue
        if known.name != event.name:
            found.append(f"{code} is called {event.name} now, {known.name} before; the code is the same")
        if known.meaning != meaning[:2000]:
            found.append(f"{code} {event.name} is raised when {meaning or NEVER}; before, when {known.meaning or NEVER}")
    return [
        *found,
        *(f"{code} {one.name} is gone; its code stays free" for code, one in sorted(before.items()) if code not in now),
    ]
