"""What was typed into the blanks of behaviour, as its records; what cannot be read is told in words."""

from typing import Any

from mosaic.behaviour.behaviour import (
    CHANGES,
    DOS,
    MOST_ACTIONS,
    SIDES,
    TIMED,
    TOUCHES,
    WHENS,
    Action,
    Area,
    Button,
    Encoder,
    Output,
    Rule,
    Trigger,
)  # fmt: skip
from mosaic.errors import BadValueError
from mosaic.numbers import decimal, whole_of
from mosaic.screens.screen import Design

LONGEST_S = 86_400


def ms_of(typed: str, what: str = "the time") -> int:
    """ms of seconds as they are typed: 0.05 to 86,400."""
    seconds = decimal(typed.strip() or "0")
    if seconds is None or not 0.05 <= seconds <= LONGEST_S:
        raise BadValueError(f"{what} is {typed.strip()[:20] or 'not filled in'} s; 0.05 to {LONGEST_S:,} s are accepted")
    return round(seconds * 1000)


def name_of(values: Any, field: str, what: str) -> str:
    name = values.get(field, "").strip()
    if not 1 <= len(name) <= 40:
        raise BadValueError(f"{what} has a name of {len(name)} characters; 1 to 40 are accepted")
    return name


def one_of(values: Any, field: str, known: Any, what: str) -> Any:
    found = values.get(field, "")
    if found not in known:
        raise BadValueError(f"{found[:24]!r} is no {what}; choose one of those offered")
    return found


SUBJECTS = {
    **dict.fromkeys(TOUCHES, "on_area"), "button pressed": "on_button",
    "button released": "on_button", "button held": "on_button",
    "turned up": "on_encoder", "turned down": "on_encoder", "band": "on_band", "stale": "on_value", "back": "on_value",
    "wrong": "on_output",
}  # fmt: skip
"""Which blank names what a trigger is about."""


def trigger_of(values: Any) -> Trigger:
    """The trigger that was filled in."""
    when = one_of(values, "when", WHENS, "trigger")
    on, band = values.get(SUBJECTS.get(when, ""), ""), 0
    if when == "band":
        on, _, number = on.partition(" ")
        band = whole_of(number or "0", "the band", 0, 31)
    if when in SUBJECTS and not on and when not in TOUCHES:
        raise BadValueError("it does not say of what; choose one, or make it first")
    ms = ms_of(values.get("seconds", ""), "the time to wait") if when in TIMED else 0
    return Trigger(when, on, band, ms)


def action_of(values: Any, number: int, design: Design) -> Action | None:
    """The action of a row; None where the row is empty."""
    do = values.get(f"do_{number}", "")
    if not do:
        return None
    one_of(values, f"do_{number}", DOS, "action")
    field = {
        "screen": "to_screen",
        "set": "to_value",
        "add": "to_value",
        "toggle": "to_value",
        "event": "to_event",
        "output": "to_output",
    }
    to = values.get(f"{field[do]}_{number}", "") if do in field else ""
    if do in field and not to:
        raise BadValueError(f"action {number + 1} does not say of what; choose one, or make it first")
    by = 0
    if do in ("set", "add"):
        by = _amount(values.get(f"by_{number}", ""), design, to, do)
    elif do == "output":
        by = whole_of(values.get(f"way_{number}", "1"), "on or off", 0, 2)
    elif do == "light":
        by = whole_of(values.get(f"light_{number}", ""), "the light, in percent,", 0, 100)
    change = values.get(f"change_{number}") or "cut"
    if change not in CHANGES:
        raise BadValueError(f"{change[:24]!r} is no change of screens; choose one of those offered")
    side = values.get(f"side_{number}", "left")
    steps = whole_of(values.get(f"steps_{number}") or "8", "the steps of a change", 2, 32)
    remember = bool(values.get(f"remember_{number}")) or do != "screen"
    return Action(do, to, by, bool(values.get(f"wrap_{number}")), change, side if side in SIDES else "left", steps, remember)


def _amount(typed: str, design: Design, ident: str, do: str) -> int:
    value = design.value(ident)
    if value is None:
        raise BadValueError("that value is not there any more; choose another one")
    if do == "set" or not value.named:
        raw = value.raw_of(typed)
        if not isinstance(raw, int):
            raise BadValueError(
                f"{value.name} is to become {typed.strip()[:20]!r}; a reading such as {value.plain(value.bounds[1])} is accepted"
            )
        return raw
    return whole_of(typed, "steps", -1000, 1000)


def rule_of(values: Any, ident: str, design: Design) -> Rule:
    """The rule that was filled in."""
    actions = [action for n in range(MOST_ACTIONS) if (action := action_of(values, n, design)) is not None]
    return Rule(ident, trigger_of(values), tuple(actions), values.get("rule_screen", ""))


def area_of(values: Any, ident: str, size: tuple[int, int]) -> Area:
    """The area that was filled in."""
    element = values.get("element", "")
    box = [
        whole_of(values.get(name) or "1", f"the {name} of the area", least, most) for name, least, most in
        (("x", 0, size[0] - 1), ("y", 0, size[1] - 1), ("width", 1, size[0]), ("height", 1, size[1]))
    ] if not element else [0, 0, 1, 1]  # fmt: skip
    margin = whole_of(values.get("margin") or "0", "the margin", 0, 64)
    return Area(ident, name_of(values, "name", "the area"), values.get("area_screen", ""), element, margin, *box)


def button_of(values: Any, ident: str) -> Button:
    bounce = whole_of(values.get("bounce") or "20", "the bounce time, in ms,", 0, 500)
    return Button(
        ident, name_of(values, "name", "the button"), values.get("pin", "")[:24], values.get("active") != "high", bounce
    )


def encoder_of(values: Any, ident: str) -> Encoder:
    steps = whole_of(values.get("steps") or "4", "changes from catch to catch", 1, 4)
    if steps == 3:
        raise BadValueError("3 changes from catch to catch are none; 1, 2 and 4 are accepted")
    pins = values.get("pin_a", "")[:24], values.get("pin_b", "")[:24]
    return Encoder(ident, name_of(values, "name", "the knob"), *pins, steps, bool(values.get("interrupt")))  # type: ignore[arg-type]


def output_of(values: Any, ident: str, design: Design) -> Output:
    load = one_of(values, "load", ("lamp", "sounder", "relay", "light"), "kind of output")
    pull = one_of(values, "reset_pull", ("open", "high", "low"), "level during reset")
    reads, limit = values.get("reads", ""), 1
    if reads:
        limit = _amount(values.get("reads_from", ""), design, reads, "set")
    within = whole_of(values.get("within") or "2000", "the time to measure, in ms,", 0, 600_000)
    return Output(
        ident, name_of(values, "name", "the output"), load, values.get("pin", "")[:24], values.get("active") == "low",
        bool(values.get("at_start")), pull, values.get("shows", ""), reads, limit, within, bool(values.get("mains")),
        bool(values.get("inductive")),
    )  # fmt: skip
