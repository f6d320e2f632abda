"""Findings on a screen: what cannot be seen, cannot be read, or is not the colour that was meant."""

from collections.abc import Callable
from dataclasses import replace
from functools import wraps
from typing import Any

import numpy as np

from mosaic.color.lab import linear_to_lab
from mosaic.color.srgb import bytes_to_linear, parse_hex
from mosaic.errors import MosaicError
from mosaic.findings import Finding, Fix, Severity
from mosaic.findings.subjects import ScreenSubject
from mosaic.lettering.measure import pitch_mm
from mosaic.lettering.shades import contrast_of
from mosaic.panels.mounting import seen_pixels
from mosaic.panels.reading import FLOOR_ARCMIN, LARGE_CONTRAST, arc_minutes
from mosaic.pixels.formats import DirectFormat
from mosaic.quantities import how_many
from mosaic.screens.colors import color_value, shown_hex
from mosaic.screens.kit import text_of
from mosaic.screens.placing import Box
from mosaic.screens.rendering import Drawn
from mosaic.screens.screen import Element
from mosaic.screens.words import characters_of

LETTERED = ("text", "value", "block", "list", "button")
CLOSE_ENOUGH = 2.3
"""CIELAB distance that can just be seen."""
SHOWN = 6


def _fix(label: str, act: str, then: str = "", **more: Any) -> Fix:
    return Fix(label, "screen", {"act": act, **more}, then)


def _found(
    subject: ScreenSubject, ident: str, severity: Severity, element: Element, what: str, why: str, fix: Fix | None
) -> Finding:
    return Finding(f"screen.{ident}", severity, subject.called(element), what, why, fix)


Rule = Callable[[ScreenSubject], list[Finding]]


def in_some_state(rule: Rule) -> Rule:
    """A rule that holds in every state of a screen; what is wrong in some is told of the first of them."""

    @wraps(rule)
    def over_all(subject: ScreenSubject) -> list[Finding]:
        found: dict[tuple[str, str], Finding] = {}
        for look in subject.looks or (subject.rendered,):
            state = look.kit.state
            for finding in rule(replace(subject, rendered=look)):
                words = f"{finding.what}, in the state “{state.name}”" if state and look is not subject.rendered else finding.what
                found.setdefault((finding.id, finding.where), replace(finding, what=words))
        return list(found.values())

    return over_all


def in_every_state(rule: Rule) -> Rule:
    """A rule that is broken where it is broken in all states of a screen."""

    @wraps(rule)
    def over_all(subject: ScreenSubject) -> list[Finding]:
        others = [look for look in subject.looks if look is not subject.rendered]
        found = rule(subject)
        for look in others if found else ():
            still = {(finding.id, finding.where) for finding in rule(replace(subject, rendered=look))}
            found = [finding for finding in found if (finding.id, finding.where) in still]
        return found

    return over_all


def _inward(box: Box, room: Box) -> tuple[int, int]:
    """The shortest move that brings a box into another, as far as it fits."""
    found = []
    for at, size, low, length in ((box.x, box.width, room.x, room.width), (box.y, box.height, room.y, room.height)):
        found.append(low - at if at < low or size > length else min(0, low + length - at - size))
    return found[0], found[1]


@in_some_state
def outside_the_glass(subject: ScreenSubject) -> list[Finding]:
    """Elements of which some or all lies beyond the glass."""
    found, glass = [], subject.rendered.areas["glass"]
    for one in subject.rendered.drawn:
        box = one.box
        if not one.calls or not box.width or not box.height:
            continue
        beyond = {
            "left": -box.x, "right": box.right - glass.width, "top": -box.y, "bottom": box.bottom - glass.height,
        }  # fmt: skip
        sides = [f"{px} px beyond the {side}" for side, px in beyond.items() if px > 0]
        if not sides:
            continue
        whole = box.right <= 0 or box.bottom <= 0 or box.x >= glass.width or box.y >= glass.height
        dx, dy = _inward(box, glass)
        fits = box.width <= glass.width and box.height <= glass.height
        fix = _fix("Move it onto the glass", "move", f"by {dx}, {dy} px", ids=one.element.id, dx=dx, dy=dy)
        found.append(
            _found(
                subject, "outside", "must fix" if whole else "worth fixing", one.element,
                f"{subject.called(one.element)} lies {'wholly ' if whole else ''}outside the glass: {', '.join(sides)}",
                "It is drawn where no pixel is." if whole else "What lies beyond is cut off.", fix if fits else None,
            )
        )  # fmt: skip
    return found


@in_some_state
def under_round_edge_or_bezel(subject: ScreenSubject) -> list[Finding]:
    """Elements of which some pixels lie under a round edge, or behind the bezel."""
    device, rendered = subject.device, subject.rendered
    seen = seen_pixels(device.passport, device.turn, device.opening)
    if seen.all():
        return []
    found, safe = [], rendered.areas["safe"]
    for one in rendered.drawn:
        trace = rendered.traces[one.element.id]
        lost = int((trace & ~seen).sum())
        if not lost or (one.element.kind in ("rectangle", "pattern", "picture") and trace.all()):
            continue
        dx, dy = _inward(one.box, safe)
        fits = one.box.width <= safe.width and one.box.height <= safe.height
        fix = _fix("Move it into the safe area", "move", f"by {dx}, {dy} px", ids=one.element.id, dx=dx, dy=dy)
        behind = "behind the bezel" if device.opening is not None else "under the edge of the glass"
        found.append(
            _found(
                subject, "hidden-by-edge", "worth fixing", one.element,
                f"{lost:,} of {int(trace.sum()):,} pixels of {subject.called(one.element)} lie {behind}",
                "They are drawn and sent, and nobody sees them.", fix if fits else None,
            )
        )  # fmt: skip
    return found


@in_every_state
def hidden_by_others(subject: ScreenSubject) -> list[Finding]:
    """Elements that later ones cover wholly."""
    rendered, found = subject.rendered, []
    order = rendered.drawn
    for number, one in enumerate(order):
        trace = rendered.traces[one.element.id]
        if not trace.any():
            continue
        left = trace.copy()
        by = []
        for later in order[number + 1 :]:
            over = left & rendered.traces[later.element.id]
            if over.any():
                by.append(later.element)
                left &= ~over
            if not left.any():
                break
        if left.any():
            continue
        last = max(i for i, d in enumerate(rendered.screen.elements) if d.id in {e.id for e in by})
        fix = _fix("Draw it over them", "order", ids=one.element.id, to=last)
        found.append(
            _found(
                subject, "covered", "worth fixing", one.element,
                f"{subject.called(one.element)} is hidden wholly by {', '.join(subject.called(e) for e in by[:SHOWN])}",
                "It is drawn first and painted over; nobody sees it.", fix,
            )
        )  # fmt: skip
    return found


@in_some_state
def text_over_text(subject: ScreenSubject) -> list[Finding]:
    """Letters that run into letters of another element."""
    rendered = subject.rendered
    texts = [one for one in rendered.drawn if one.element.kind in LETTERED and rendered.traces[one.element.id].any()]
    found = []
    for number, first in enumerate(texts):
        for second in texts[number + 1 :]:
            shared = int((rendered.traces[first.element.id] & rendered.traces[second.element.id]).sum())
            if not shared:
                continue
            down = first.box.bottom - second.box.y
            fix = _fix("Move it below", "move", f"by {down} px", ids=second.element.id, dx=0, dy=down)
            found.append(
                _found(
                subject, "text-over-text", "must fix", second.element,
                    f"{subject.called(second.element)} runs into {subject.called(first.element)}:"
                    f" {shared:,} pixels are drawn by both",
                    "Letters over letters cannot be read.", fix,
                )
            )  # fmt: skip
    return found


@in_some_state
def across_the_zones(subject: ScreenSubject) -> list[Finding]:
    """Elements on a two-zone panel that stand in both zones."""
    rendered, found = subject.rendered, []
    zones = [box for name, box in rendered.areas.items() if name.startswith("zone")]
    if not zones:
        return []
    for one in rendered.drawn:
        ys, xs = np.nonzero(rendered.traces[one.element.id])
        if not len(ys) or (one.box.width >= rendered.surface.width and one.box.height >= rendered.surface.rows):
            continue
        touched = [z for z in zones if ((ys >= z.y) & (ys < z.bottom) & (xs >= z.x) & (xs < z.right)).any()]
        if len(touched) < 2:
            continue
        room = max(touched, key=lambda z: z.width * z.height)
        dx, dy = _inward(one.box, room)
        fits = one.box.height <= room.height and one.box.width <= room.width
        fix = _fix("Move it into the larger zone", "move", f"by {dx}, {dy} px", ids=one.element.id, dx=dx, dy=dy)
        found.append(
            _found(
                subject, "across-zones", "worth fixing", one.element,
                f"{subject.called(one.element)} crosses the line between two zones",
                "Its parts light up in different colours, with a gap between them on many such panels.", fix if fits else None,
            )
        )  # fmt: skip
    return found


def glyphs_missing(subject: ScreenSubject) -> list[Finding]:
    """Characters that a text has and its lettering has not."""
    found, kit = [], subject.rendered.kit
    for one in subject.rendered.drawn:
        font = kit.font(one.element)
        if one.element.kind not in LETTERED or font is None:
            continue
        text = text_of(one.element)
        shown = sorted(characters_of(text, kit.values), key=text.find) if "{" in text else text
        gone = dict.fromkeys(c for c in shown if not c.isspace() and ord(c) not in font.lettering.by_code)
        if not gone:
            continue
        plain = "".join(c for c in text if c not in gone) if "{" not in text else ""
        listed = " ".join(list(gone)[:SHOWN])
        fix = _fix("Leave them out of the text", "set", ids=one.element.id, text=plain) if plain.strip() else None
        found.append(
            _found(
                subject, "glyph-missing", "must fix", one.element,
                f"{how_many(len(gone), 'character')} of {subject.called(one.element)}"
                f" not in the lettering: {listed}",
                "They are skipped on the device. Add them in station 4, or write the text otherwise.", fix,
            )
        )  # fmt: skip
    return found


def lettering_gone(subject: ScreenSubject) -> list[Finding]:
    """Elements that name a lettering, cell, picture or part that is not there."""
    found, kit = [], subject.rendered.kit
    for one in subject.rendered.drawn:
        element = one.element
        what = ""
        if element.kind in LETTERED and kit.font(element) is None:
            what = "no lettering" if not element.lettering else "a lettering that is not there any more"
        elif element.kind in ("picture", "cell", "turned") and not one.calls:
            what = "no picture" if not element.source else "a picture that is not there any more"
        elif element.kind == "part" and kit.design.part(element.part) is None:
            what = "no shared part" if not element.part else "a shared part that is not there any more"
        if not what:
            continue
        others = next(iter(kit.letterings), "")
        usable = others and element.kind in LETTERED
        fix = (
            _fix("Set it in another lettering", "set", ids=element.id, lettering=others)
            if usable
            else _fix("Take it off the screen", "remove", ids=element.id)
        )
        found.append(
            _found(
                subject,
                "gone",
                "must fix",
                element,
                f"{subject.called(element)} names {what}",
                "Nothing of it can be drawn.",
                fix,
            )
        )
    return found


def capitals_too_small(subject: ScreenSubject) -> list[Finding]:
    """Texts whose capitals appear under less than the floor at the reading distance."""
    found, device, kit = [], subject.device, subject.rendered.kit
    down = pitch_mm(device)[1]
    for one in subject.rendered.drawn:
        font = kit.font(one.element)
        if one.element.kind not in LETTERED or font is None or not font.lettering.capital or not text_of(one.element).strip():
            continue
        angle = arc_minutes(font.lettering.capital * down, device.viewing_distance_mm)
        if angle >= FLOOR_ARCMIN:
            continue
        larger = [
            (other.lettering.capital, ref) for ref, other in kit.letterings.items()
            if other.lettering.capital and arc_minutes(other.lettering.capital * down, device.viewing_distance_mm) >= FLOOR_ARCMIN
        ]  # fmt: skip
        fix = None
        if larger:
            capital, ref = min(larger)
            fix = _fix(
                f"Set it in {kit.names.get(ref, ref)}", "set", f"capitals of {capital} px", ids=one.element.id, lettering=ref
            )
        found.append(
            _found(
                subject, "too-small", "worth fixing", one.element,
                f"capitals of {subject.called(one.element)} appear under {angle:.1f}′ at {device.viewing_distance_mm / 1000:g} m",
                f"Below {FLOOR_ARCMIN:g} arc-minutes letters are read with effort, or not at all.", fix,
            )
        )  # fmt: skip
    return found


@in_some_state
def contrast_too_low(subject: ScreenSubject) -> list[Finding]:
    """Letters that hardly stand out from the one colour beneath them."""
    found, device, kit = [], subject.device, subject.rendered.kit
    passport = device.passport
    ink, ground = color_value("ink", passport), color_value("ground", passport)
    for one in subject.rendered.drawn:
        element = one.element
        if element.kind not in ("text", "value", "block") or not text_of(element).strip():
            continue
        second = kit.second(element)
        under = one.ground if second is None else second
        color = kit.color(element)
        if under is None or contrast_of(passport, color, under) >= LARGE_CONTRAST:
            continue
        best = max(("ink", ink), ("ground", ground), key=lambda pair: contrast_of(passport, pair[1], under))
        found.append(
            _found(
                subject, "contrast", "must fix", element,
                f"{subject.called(element)} has a contrast of {contrast_of(passport, color, under):.1f} : 1 to what lies beneath",
                f"Large letters need {LARGE_CONTRAST:g} : 1 at least.",
                _fix(f"Set it in {best[0]}", "set", ids=element.id, color=best[0]),
            )
        )  # fmt: skip
    return found


def colors_change(subject: ScreenSubject) -> list[Finding]:
    """Colours by value that this panel shows as another one."""
    passport, found = subject.device.passport, []
    users: dict[str, list[Element]] = {}
    for element in subject.rendered.screen.elements:
        for told in {element.color, element.second}:
            if told.startswith("#"):
                users.setdefault(told, []).append(element)
    for told, elements in users.items():
        try:
            shown = shown_hex(color_value(told, passport), passport)
        except MosaicError:
            continue
        if _distance(told, shown) < CLOSE_ENOUGH:
            continue
        why = "Its depth has no such shade." if isinstance(passport.format, DirectFormat) else "It has but its own colours."
        names = ", ".join(subject.called(element) for element in elements[:SHOWN])
        words = f"{told} becomes {shown} on this panel: {names}"
        fix = _fix(f"Take {shown}", "recolor", told=told, shown=shown)
        found.append(_found(subject, "color-changes", "worth fixing", elements[0], words, why, fix))
    return found


def _distance(first: str, second: str) -> float:
    lab = linear_to_lab(bytes_to_linear(np.array([parse_hex(first), parse_hex(second)], np.uint8)))
    return float(np.sqrt(((lab[0] - lab[1]) ** 2).sum()))


def thin_light_lines(subject: ScreenSubject) -> list[Finding]:
    """Lines one pixel thick over ground that is a mixture of two colours or more."""
    rendered, found = subject.rendered, []
    for one in rendered.drawn:
        element = one.element
        if element.kind not in ("line", "polyline") or element.thickness > 1 or one.ground is not None:
            continue
        if not _is_dithered(rendered.surface.values, one.box):
            continue
        found.append(
            _found(
                subject, "thin-line", "worth fixing", element,
                f"{subject.called(element)} is 1 px thick on a dithered background",
                "Among single pixels of another colour such a line is lost.",
                _fix("Make it 3 px thick", "set", ids=element.id, thickness=3),
            )
        )  # fmt: skip
    return found


def _is_dithered(values: Any, box: Box) -> bool:
    """Whether colours change from pixel to pixel round a box, as they do in a mixture: at every third step at least."""
    part = values[max(0, box.y - 3) : max(0, box.bottom + 3), max(0, box.x) : max(0, box.right)]
    if part.shape[1] < 2 or not part.size:
        return False
    return bool((part[:, 1:] != part[:, :-1]).mean() >= 1 / 3)


def opaque_over_neighbours(subject: ScreenSubject) -> list[Finding]:
    """Pictures drawn with their ground over something beside them."""
    rendered, found = subject.rendered, []
    before = np.zeros((rendered.surface.rows, rendered.surface.width), bool)
    whole = before.size
    owners: list[Drawn] = []
    for one in rendered.drawn:
        trace = rendered.traces[one.element.id]
        if one.element.kind in ("picture", "cell") and one.element.opaque and one.element.cell + one.element.source:
            under = int((trace & before).sum())
            cell = rendered.kit.cell(one.element)
            if under and cell is not None and not cell.inked.all():
                below = [o.element for o in owners if (rendered.traces[o.element.id] & trace).any()]
                found.append(
                    _found(
                subject, "opaque", "worth fixing", one.element,
                        f"{subject.called(one.element)} is drawn with its background over {subject.called(below[-1])}:"
                        f" {under:,} pixels are covered",
                        "Its empty margin wipes out what stands there.",
                        _fix("Draw its ink only", "set", ids=one.element.id, opaque=False),
                    )
                )  # fmt: skip
        if int(trace.sum()) < whole * 9 // 10:
            before |= trace
            owners.append(one)
    return found


def not_shown_as_meant(subject: ScreenSubject) -> list[Finding]:
    """The bytes of the screen, read back through the virtual panel, are not its pixels."""
    proof = subject.rendered.proof
    if proof.verified:
        return []
    return [
        Finding(
            "screen.not-verified", "must fix", "The whole screen", f"{proof.wrong_pixels:,} pixels differ on the virtual panel",
            "The panel’s set-up or its window would show another picture; look at station 2.",
        )
    ]  # fmt: skip
