"""Findings on values as screens show them: what does not fit, what would mislead, what costs more than it need."""

from typing import Any

import numpy as np

from mosaic.color.srgb import bytes_to_linear, luminance
from mosaic.findings import Finding, Fix, Severity
from mosaic.findings.subjects import ScreenSubject
from mosaic.links import total_s, wire_steps
from mosaic.panels.appearance import colors_of
from mosaic.panels.windows import Rect, addressable, rect_to_host
from mosaic.panels.wire import window_parts
from mosaic.screens.kit import text_of
from mosaic.screens.screen import Element
from mosaic.screens.updates import changes, drawn_alike, dynamic_calls, link_of
from mosaic.screens.words import forms_of, is_dense
from mosaic.values.notation import Field
from mosaic.values.value import Value

HIDDEN_STEPS = 10
"""From so many steps on that look the same the value seems to stand still."""
BRIGHT, BRIGHT_SHARE = 0.5, 0.2
"""Luminance from which a pixel of an OLED wears out visibly sooner, and the share of the glass that is told."""
SPARED_SHARE = 0.2
"""Of a window's bytes, from which a move to the window grid is worth it."""


def _element_fix(label: str, act: str, ident: str, then: str = "", **more: Any) -> Fix:
    return Fix(label, "screen", {"act": act, "ids": ident, **more}, then)


def _value_fix(label: str, value: Value, then: str = "", **fields: Any) -> Fix:
    return Fix(label, "screen", {"act": "value", "value": value.id, "fields": fields}, then)


def _found(ident: str, severity: Severity, where: str, what: str, why: str, fix: Fix | None) -> Finding:
    return Finding(f"screen.{ident}", severity, where, what, why, fix)


def _fields(subject: ScreenSubject) -> list[tuple[Element, Field]]:
    """Values that are shown in letters: each element with each of its fields."""
    kit = subject.rendered.kit
    return [
        (spot.element, field) for spot in subject.rendered.plan.spots
        if kit.font(spot.element) is not None for field in kit.fields(text_of(spot.element))
    ]  # fmt: skip


def _shown(subject: ScreenSubject) -> list[Value]:
    kit = subject.rendered.kit
    return [kit.values[ident] for ident in subject.rendered.plan.values]


def values_gone(subject: ScreenSubject) -> list[Finding]:
    """Elements that follow or show a value that is not there any more."""
    found, kit = [], subject.rendered.kit
    for spot in subject.rendered.plan.spots:
        element = spot.element
        named = [follow.value for follow in element.follows] + ([element.of] if element.of else [])
        if any(ident not in kit.values for ident in named) or (element.kind in ("value", "sparkline", "plot") and not element.of):
            what = "names no value yet" if not named else "follows a value that is not there any more"
            fix = _element_fix("Take it off the screen", "remove", spot.owner.id)
            found.append(
                _found(
                    "value-gone", "must fix", kit.called(element), f"{kit.called(element)} {what}",
                    "Its own numbers stand in; nothing moves on the device.", fix,
                )
            )  # fmt: skip
    return found


def too_wide_for_their_place(subject: ScreenSubject) -> list[Finding]:
    """Texts whose widest form does not fit the box that they were given."""
    found, rendered = [], subject.rendered
    kit = rendered.kit
    for one in rendered.drawn:
        element, font = one.element, kit.font(one.element)
        if element.kind not in ("text", "value") or element.width.by == "own" or element.overflow != "reach" or font is None:
            continue
        text = text_of(element)
        wide = kit.widest(font, text)
        if wide <= one.box.width or not kit.fields(text):
            continue
        fix = _element_fix("Show dashes where it does not fit", "set", element.id, overflow="dashes")
        room = rendered.areas["glass"].width - one.box.x
        if element.width.by == "pixels" and wide <= room and not any(follow.what == "width" for follow in element.follows):
            fix = _element_fix("Make room for it", "set", element.id, f"{wide} px wide", width_pixels=wide)
        found.append(
            _found(
                "too-wide", "must fix", kit.called(element),
                f"{kit.called(element)} is up to {wide} px wide, in a place of {one.box.width} px",
                "At its widest it is drawn over what stands beside it.", fix,
            )
        )  # fmt: skip
    return found


def looks_measured(subject: ScreenSubject) -> list[Finding]:
    """Values that show a number while there is no reading, or an old one."""
    found = []
    for value in _shown(subject):
        if value.absent.strip() in ("", "0") and value.kind != "text":
            what = "nothing" if not value.absent.strip() else "0"
            found.append(
                _found(
                    "absent-looks-measured", "must fix", value.name, f"{value.name} shows {what} where there is no reading",
                    "Nobody can tell it from a reading.", _value_fix("Show -- instead", value, absent="--"),
                )
            )  # fmt: skip
        if value.source.name and (not value.max_age_s or not value.stale):
            seconds = max(3, -(-3 * value.source.every_ms // 1000))
            found.append(
                _found(
                    "freezes", "worth fixing", value.name,
                    f"{value.name} keeps its last reading for ever when {value.source.name} falls silent",
                    "A frozen figure looks like a new one.",
                    _value_fix(
                        f"Show -- after {seconds} s", value, max_age_s=value.max_age_s or seconds, stale=value.stale or "--"
                    ),
                )
            )  # fmt: skip
    return found


def beyond_their_range(subject: ScreenSubject) -> list[Finding]:
    """Stand-ins and sources that give more than the value's range declares."""
    found = []
    for value in _shown(subject):
        if not value.is_number:
            continue
        low, high = value.bounds
        stand = value.stand_in
        given = [raw for raw in stand.listed if isinstance(raw, int)] + [raw for _, raw in stand.replayed if raw is not None]
        given += [stand.at] if stand.at is not None and stand.by != "clock" else []
        sides = [("stand-in", given), ("source", [raw for _, raw in value.source.points])]
        for what, raws in sides:
            beyond = [raw for raw in raws if not low <= raw <= high]
            if not beyond:
                continue
            worst = max(beyond, key=lambda raw: max(low - raw, raw - high))
            fix = None if value.named else _value_fix("Widen the range", value, low=min(low, *beyond), high=max(high, *beyond))
            declared = f"{value.plain(low)} to {value.plain(high)}"
            found.append(
                _found(
                    "beyond-range", "must fix", value.name,
                    f"the {what} of {value.name} gives {value.plain(worst)}; its range is {declared}",
                    "Places and widths are found for the range; what lies beyond may be drawn over.", fix,
                )
            )  # fmt: skip
    return found


def digits_jump(subject: ScreenSubject) -> list[Finding]:
    """Numbers that stand on their left or in their middle, in a lettering whose digits are not equally wide."""
    found, kit = [], subject.rendered.kit
    for element, field in _fields(subject):
        font = kit.font(element)
        if field.value.kind != "number" or element.kind not in ("text", "value") or font is None or element.align == "end":
            continue
        advances = {font.lettering.by_code[code].advance for code in map(ord, "0123456789") if code in font.lettering.by_code}
        if len(advances) < 2:
            continue
        found.append(
            _found(
                "digits-jump", "worth fixing", kit.called(element),
                f"digits of {kit.called(element)} are {min(advances)} to {max(advances)} px wide",
                "With each reading the figures jump to and fro.",
                _element_fix("Let it stand on its right", "set", element.id, align="end"),
            )
        )  # fmt: skip
    return found


def rounding_hides(subject: ScreenSubject) -> list[Finding]:
    """Numbers of which many steps look the same."""
    found, kit = [], subject.rendered.kit
    for element, field in _fields(subject):
        value = field.value
        if value.kind != "number":
            continue
        unit = 10 ** max(0, value.decimals - field.number.decimals)
        if unit <= HIDDEN_STEPS * value.step:
            continue
        decimals = next(
            (d for d in range(value.decimals + 1) if 10 ** (value.decimals - d) <= HIDDEN_STEPS * value.step), value.decimals
        )
        shape = _with_decimals(field.written, decimals)
        fix = None
        if element.kind == "value":
            fix = _element_fix("Show more decimals", "set", element.id, shape, shape=shape)
        elif element.kind == "text":
            old = f"{{{value.id}{':' if field.written else ''}{field.written}}}"
            fix = _element_fix(
                "Show more decimals", "set", element.id, shape, text=element.text.replace(old, f"{{{value.id}:{shape}}}")
            )
        found.append(
            _found(
                "rounding-hides", "worth fixing", kit.called(element),
                f"{value.name} changes in steps of {value.plain(value.step)} and is shown to {value.plain(unit)}",
                f"{unit // value.step} readings in a row look the same.", fix,
            )
        )  # fmt: skip
    return found


def _with_decimals(written: str, decimals: int) -> str:
    head, unit = (written[:-1], "u") if written.endswith("u") else (written, "")
    return f"{head.split('.')[0]}.{decimals}{unit}"


def units_differ(subject: ScreenSubject) -> list[Finding]:
    """Values in another unit than their source, with nothing that makes one of the other."""
    found = []
    for value in _shown(subject):
        source = value.source
        if not source.unit or not value.unit or source.unit == value.unit or source.points:
            continue
        found.append(
            _found(
                "units-differ", "must fix", value.name, f"{value.name} is shown in {value.unit} and read in {source.unit}",
                "The figure is right and its unit is not.", _value_fix(f"Show it in {source.unit}", value, unit=source.unit),
            )
        )  # fmt: skip
    return found


def known_point_missed(subject: ScreenSubject) -> list[Finding]:
    """Sources whose points do not give what is known of them."""
    found = []
    for value in _shown(subject):
        if value.source.known is None or not value.is_number:
            continue
        reading, raw = value.source.known
        given = value.source.value_of(reading)
        if abs(given - raw) <= value.step:
            continue
        found.append(
            _found(
                "known-point", "must fix", value.name,
                f"a reading of {reading:,} gives {value.plain(given)}; {value.plain(raw)} is known",
                "The points by which readings become values are not those of this sensor.",
                _value_fix("Take the known point in", value, known_point=True),
            )
        )  # fmt: skip
    return found


def words_move(subject: ScreenSubject) -> list[Finding]:
    """Fixed words that move when a value beside them becomes wider or narrower."""
    found, kit = [], subject.rendered.kit
    for one in subject.rendered.drawn:
        element, font = one.element, kit.font(one.element)
        if element.kind != "text" or font is None:
            continue
        parts = kit.pieces(element.text)
        varying = [n for n, part in enumerate(parts) if isinstance(part, Field) and _varies(part, font.lettering)]
        if not varying:
            continue
        before = any(isinstance(part, str) and part.strip() for part in parts[: varying[0]])
        after = any(isinstance(part, str) and part.strip() for part in parts[varying[-1] + 1 :])
        moving = {"start": after, "middle": before or after, "end": before}[element.align]
        if not moving:
            continue
        fix = None
        if before != after:
            side = "left" if before else "right"
            fix = _element_fix(f"Let it stand on its {side}", "set", element.id, align="start" if before else "end")
        found.append(
            _found(
                "words-move", "worth fixing", kit.called(element), f"fixed words of {kit.called(element)} move with its value",
                "What does not change should stand still; and all of it is sent again.", fix,
            )
        )  # fmt: skip
    return found


def _varies(field: Field, lettering: Any) -> bool:
    """Whether a field is wider at some readings than at others."""
    if is_dense(field):
        low, high = (field.text_of(raw) for raw in field.value.bounds)
        advances = {lettering.by_code[code].advance for code in map(ord, "0123456789") if code in lettering.by_code}
        return len(advances) > 1 or lettering.width_of(low) != lettering.width_of(high)
    return len({lettering.width_of(text) for text in forms_of(field)[:500]}) > 1


def off_the_window_grid(subject: ScreenSubject) -> list[Finding]:
    """Elements that follow values and could be sent in fewer bytes a few pixels aside."""
    rendered, device = subject.rendered, subject.device
    grid, kit = device.passport.grid, rendered.kit
    if grid.whole_frames or (grid.x_px, grid.y_px) == (1, 1):
        return []
    found, (width, height) = [], device.size
    for one in rendered.drawn:
        box = one.box
        inside = box.x >= 0 and box.y >= 0 and box.right <= width and box.bottom <= height
        if not one.ways or not box.width or not box.height or not inside:
            continue
        here = _window_pixels(subject, box.x, box.y, box.width, box.height)
        places = [
            (_window_pixels(subject, box.x + dx, box.y + dy, box.width, box.height), abs(dx) + abs(dy), dx, dy)
            for dx in range(1 - grid.x_px, grid.x_px) for dy in range(1 - grid.y_px, grid.y_px)
            if box.x + dx >= 0 and box.y + dy >= 0 and box.right + dx <= width and box.bottom + dy <= height
        ]  # fmt: skip
        best, _, dx, dy = min(places, default=(here, 0, 0, 0))
        if here - best < SPARED_SHARE * here:
            continue
        found.append(
            _found(
                "off-grid", "worth fixing", kit.called(one.element),
                f"{kit.called(one.element)} is sent in windows of {here:,} px; {best:,} px would do",
                f"The panel takes {grid.in_words()}.",
                _element_fix("Move it onto the grid", "move", one.element.id, f"by {dx}, {dy} px", dx=dx, dy=dy),
            )
        )  # fmt: skip
    return found


def _window_pixels(subject: ScreenSubject, x: int, y: int, width: int, height: int) -> int:
    passport, turn = subject.device.passport, subject.device.turn
    return addressable(rect_to_host(Rect(x, y, width, height), passport, turn), passport, turn).pixels


def bright_for_ever(subject: ScreenSubject) -> list[Finding]:
    """On an OLED, what is bright in every state."""
    rendered, device = subject.rendered, subject.device
    if device.passport.technology != "oled":
        return []
    looks = subject.looks or (rendered,)
    always = np.ones((rendered.surface.rows, rendered.surface.width), bool)
    for look in looks:
        shown = colors_of(look.pixels, device.passport, device.turn)
        always &= luminance(bytes_to_linear(shown)) >= BRIGHT * _full(subject)
    share = float(always.mean())
    if share < BRIGHT_SHARE:
        return []
    filled = [
        (int((always & rendered.traces[one.element.id]).sum()), one.element) for one in rendered.drawn
        if one.element.kind in ("rectangle", "rounded", "circle", "ellipse", "button") and one.element.filled
    ]  # fmt: skip
    most, element = max(filled, key=lambda entry: entry[0], default=(0, None))
    fix = None
    if element is not None and 2 * most >= always.sum():
        fix = _element_fix(f"Draw {rendered.kit.called(element)} as an outline", "set", element.id, filled=False)
    elif rendered.screen.ground.by == "color":
        fix = _element_fix("Exchange ink and background", "exchange", "")
    return [
        _found(
            "bright-for-ever", "worth fixing", "The whole screen", f"{share:.0%} of the glass are bright in every state",
            "An OLED wears out where it shines; what stands still is seen later as a shadow.", fix,
        )
    ]  # fmt: skip


def _full(subject: ScreenSubject) -> float:
    """The luminance of the panel's brightest colour."""
    palette = subject.device.passport.palette
    if palette is None:
        return 1.0
    shown = np.array([[int(name[i : i + 2], 16) for i in (1, 3, 5)] for name in palette.measured], np.uint8)
    return float(luminance(bytes_to_linear(shown.reshape(1, -1, 3))).max())


def slower_than_its_values(subject: ScreenSubject) -> list[Finding]:
    """Values that are read more often than the screen can be sent."""
    rendered, device = subject.rendered, subject.device
    found, link = [], link_of(device)
    looks = subject.looks or (rendered,)
    if subject.device.passport.slots is not None:  # it is told values, not pixels
        return []
    for value in _shown(subject):
        if not value.source.name:
            continue
        slowest = 0.0
        for look in looks[1:]:
            readings = look.kit.settled_state.readings
            if any(readings[other] != rendered.kit.settled_state.readings[other] for other in readings if other != value.id):
                continue
            slowest = max(slowest, sum(_window_ms(subject, window) for window in changes(rendered, look, link)))
        if slowest <= value.source.every_ms:
            continue
        every = -(-int(slowest + 1) // 100) * 100
        found.append(
            _found(
                "slower-than-values", "worth fixing", value.name,
                f"{value.name} is read every {value.source.every_ms:,} ms; showing it takes {slowest:,.0f} ms on this link",
                "Readings are missed, or the program stands still for them.",
                _value_fix(f"Read it every {every:,} ms", value, every_ms=every),
            )
        )  # fmt: skip
    return found


def _window_ms(subject: ScreenSubject, window: Rect) -> float:
    device = subject.device
    size = device.passport.format.frame_bytes(window.width, window.height)
    parts = window_parts(device.passport, device.turn, window, bytes(size))
    return float(total_s(wire_steps(parts, device.link))) * 1000


def nothing_changes(subject: ScreenSubject) -> list[Finding]:
    """Elements that follow a value and look the same in all its states."""
    rendered, kit = subject.rendered, subject.rendered.kit
    looks = [look for look in subject.looks if look is not rendered]
    if not looks:
        return []
    width, height = subject.device.size
    here, found = dynamic_calls(rendered), []
    for one in rendered.drawn:
        if not one.element.follows:
            continue
        calls = here.get(one.element.id, ())
        if all(drawn_alike(calls, dynamic_calls(look).get(one.element.id, ()), width, height) for look in looks):
            found.append(
                _found(
                    "follows-in-vain", "worth fixing", kit.called(one.element),
                    f"{kit.called(one.element)} follows a value and looks the same in every state",
                    "Its map gives the same for all that the value can be.",
                    _element_fix("Let it follow nothing", "set", one.element.id, follows=[]),
                )
            )  # fmt: skip
    return found
