"""The eight stages of bringing a device up, derived from its panel, board, wiring and link."""

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

from mosaic.bringup.stage import Measure, Stage, Suspect
from mosaic.cards.ruler import has_addresses
from mosaic.conversion.program import Setting
from mosaic.device.device import Device
from mosaic.faults.registry import faults_of
from mosaic.panels.windows import Rect, addressable, host_size
from mosaic.panels.wire import frame_parts, setup_part, window_parts
from mosaic.pixels.formats import IndexedFormat
from mosaic.virtual.film import played_s
from mosaic.virtual.panel import virtual_panel

RAIL_SHARE = 0.05
SEND_SLACK = 1.3
"""A frame may take this much longer than its bytes: programs pause between transactions (typical)."""
VALUE_SHARE = (0.34, 0.25)
"""Width and height of a live value's field, shares of the glass."""

FaultSuspects = Callable[[str, str], list[Suspect]]
"""Suspects of a fault by its name and words; none where it cannot have happened on this panel."""


@dataclass(frozen=True)
class Times:
    """What the stages need to know of a device's transmissions, in seconds and bytes."""

    setup_s: Fraction
    setup_bytes: int
    frame_s: Fraction
    frame_bytes: int
    wire_bytes: int
    part: Rect
    part_bytes: int
    part_s: Fraction


def value_field(device: Device) -> Rect:
    """A window (host axes) in the middle of the glass, such as a live value needs."""
    width, height = host_size(device.passport, device.turn)
    w, h = (max(1, int(side * share)) for side, share in zip((width, height), VALUE_SHARE, strict=True))
    return addressable(Rect((width - w) // 2, (height - h) // 2, w, h), device.passport, device.turn)


def packed_bytes(device: Device, rect: Rect) -> int:
    """Bytes of a window packed like a picture of its own."""
    return device.passport.format.frame_bytes(rect.width, rect.height)


def times_of(device: Device) -> Times:
    """Transmissions played into a virtual panel, at the speed of the build's link."""
    passport, turn, link = device.passport, device.turn, device.link
    panel = virtual_panel(passport)
    setup = setup_part(passport, turn)
    setup_s = played_s(panel, (setup,), link)
    frame = frame_parts(passport, turn, bytes(passport.frame_bytes))
    frame_s = played_s(panel, frame, link)
    rect = value_field(device)
    size = packed_bytes(device, rect)
    part = window_parts(passport, turn, rect, bytes(size), bytes(size) if passport.sequences.show_part else b"")
    part_s = played_s(panel, part, link)
    return Times(
        setup_s, setup.byte_count, frame_s, passport.frame_bytes, sum(p.byte_count for p in frame), rect,
        sum(p.byte_count for p in part), part_s,
    )  # fmt: skip


def stages_of(device: Device) -> tuple[Stage, ...]:
    """All eight, in working order."""
    times = times_of(device)
    known = {name for name, _ in faults_of(Setting(device.passport, device.turn, device.sending))}

    def fault(name: str, words: str) -> list[Suspect]:
        return [Suspect(words, fault=name)] if name in known else []

    return (
        _power(device),
        _answer(device),
        _setup(device, times),
        _card(fault),
        _offset(device, fault),
        _picture(device, times, fault),
        _part(device, times),
        _live(device, times),
    )


def ms(seconds: Fraction) -> str:
    """A time in words.

    >>> ms(Fraction(2309, 100000)), ms(Fraction(17))
    ('23.1 ms', '17.0 s')
    """
    value = float(seconds) * 1000
    return f"{value / 1000:.1f} s" if value >= 1000 else f"{value:.1f} ms"


def _power(device: Device) -> Stage:
    passport = device.passport
    rail = passport.rails[0] if passport.rails else None
    volts = passport.power.supply_v
    low, high = (rail.min_v, rail.max_v) if rail else (volts * (1 - RAIL_SHARE), volts * (1 + RAIL_SHARE))
    see = ["Nothing gets warm."]
    if passport.power.backlight_ma:
        see.append("The backlight is lit, once its pin is driven.")
    elif passport.technology == "epaper":
        see.append("The glass keeps whatever it showed before.")
    else:
        see.append("The glass stays dark.")
    order = ", ".join(r.name for r in passport.rails)
    send = ["Nothing yet. Panel and board powered, no program running."]
    if len(passport.rails) > 1:
        send.append(f"Bring the rails up in this order: {order}.")
    return Stage(
        "power", "Power and rails", "Does the panel get what it needs?", tuple(send), tuple(see),
        Measure(f"{rail.name if rail else 'supply'} at the panel", "V", low, high, "typical"),
        (
            Suspect("A wire or a joint: go through the check sheet.", page="check-sheet"),
            Suspect("The regulator cannot feed both: compare currents in the pin plan.", page="wiring"),
            Suspect("Nothing at all happens.", question="nothing"),
        ),
        "The panel has its supply.", "off",
    )  # fmt: skip


def _answer(device: Device) -> Stage:
    passport, plan = device.passport, device.wiring
    if device.link_kind == "i2c" and plan is not None:
        shifted = plan.seven_bit << 1
        return Stage(
            "answer", "Answer on the bus", "Is the panel where the program looks for it?",
            (f"An address scan over 0x08 to 0x77 at {device.clock_hz // 1000} kHz.",),
            (f"One answer at 0x{plan.seven_bit:02X}. The board may print 0x{shifted:02X}, the same in its 8-bit form.",),
            Measure("address that answers, as a decimal number", "", plan.seven_bit, plan.seven_bit),
            (
                Suspect("Another address answers: set it in the pin plan.", page="wiring"),
                Suspect("None answers: pull-ups, crossed wires, or straps for another link.", page="wiring"),
                Suspect("It stays dark.", question="answers"),
            ),
            "The wires of the bus are right, and both ends agree on the address.", "off",
        )  # fmt: skip
    if passport.technology == "epaper":
        return Stage(
            "answer", "Answer on the bus", "Does the controller react?",
            ("A reset: the line low for 10 ms, then high.",),
            ("The busy line changes for some milliseconds and changes back.",),
            Measure("busy after the reset", "ms", 1.0, 400.0, "typical"),
            (
                Suspect("Busy never changes: no supply at the controller, or busy is on another pin.", page="wiring"),
                Suspect("Busy never changes back: reset is held low.", page="wiring"),
            ),
            "Reset and busy are wired, and the controller runs.", "off",
        )  # fmt: skip
    return Stage(
        "answer", "Answer on the bus", "Do clock and data reach the panel?",
        ("Any bytes, over and over. This link has no answer.",),
        ("A lamp or a meter at select, clock and data of the panel shows that each of them moves.",),
        None,
        (
            Suspect("One of them rests: the pin in the program is not the pin of the plan.", page="wiring"),
            Suspect("Levels: 0.7 of the panel's rail is needed.", question="pins"),
        ),
        "Every line of the link reaches the panel.", "off",
    )  # fmt: skip


def _setup(device: Device, times: Times) -> Stage:
    passport = device.passport
    if passport.technology == "epaper":
        see = "The glass does not change: e-paper shows nothing new before an update. Busy is idle at the end."
    elif passport.technology == "oled":
        see = "Dots at random, standing still: what the RAM holds after power-up. Some modules start dark."
    else:
        see = "Noise in colours, standing still: what the RAM holds after power-up. The light is on."
    if passport.scan is not None:
        see = "Black, or the last scan: this panel has no memory of its own."
    return Stage(
        "set-up", "Reset and set-up", "Does the set-up arrive?",
        (f"The set-up sequence: {times.setup_bytes:,} bytes, {ms(times.setup_s)} with its pauses.",),
        (see,),
        Measure("from reset to the end of the set-up", "ms", float(times.setup_s * 1000) * 0.9, None),
        (
            Suspect("It stays dark: the sequence stops half way, or the display is never switched on.", question="lit"),
            Suspect("It is lit evenly and empty: asleep.", question="lit"),
            Suspect("The dots dance: the clock is too fast.", question="snow"),
        ),
        "The controller takes commands, and its glass is switched on.", "set-up",
    )  # fmt: skip


def _card(fault: FaultSuspects) -> Stage:
    return Stage(
        "card", "One test card", "Does the picture lie as it should?",
        ("The test card Frame, then Letter. Both are on the page of test cards, as bytes, C and wire stream.",),
        (
            "A line of one pixel runs along all four edges.",
            "The corners read 1, 2, 3, 4, clockwise from the upper left.",
            "No strip of noise outside the line.",
        ),
        None,
        (
            *fault("panel.mirror-x", "Digits read as in a mirror"),
            *fault("panel.half-turn", "It stands on its head"),
            *fault("array.bit-order", "Edges are frayed"),
            *fault("array.along", "It is torn to crumbs"),
            *fault("set-up.height", "Only half of the glass shows anything"),
            *fault("panel.row-pins", "Every other row is dark"),
            *fault("array.byte-order", "Shapes are right, colours wild"),
            Suspect("Something else: point at what you see in the fault finder.", page="faults"),
        ),
        "Bytes, direction and depth are right.", "frame",
    )  # fmt: skip


def _offset(device: Device, fault: FaultSuspects) -> Stage:
    skipped = "" if has_addresses(device.passport) else "This panel takes whole frames: there is no address to be off by."
    return Stage(
        "offset", "Offset read", "Where in the RAM does the glass begin?",
        ("The column ruler and the row ruler: each fills the whole RAM, the part before the glass too.",),
        ("The first number along the edge, as the passport says.",),
        None,
        (
            *fault("panel.column-offset", "Shifted by some columns"),
            *fault("panel.row-offset", "Shifted by some rows"),
            *fault("set-up.rolled", "Rolled: the lower half is on top"),
        ),
        "The glass begins where the passport says.", "columns", skipped,
    )  # fmt: skip


def _picture(device: Device, times: Times, fault: FaultSuspects) -> Stage:
    passport = device.passport
    if passport.technology == "epaper":
        mode = passport.refresh[0]
        most_s = round(float(times.frame_s) * SEND_SLACK, 1)
        measure = Measure("from the first byte to the picture standing", "s", None, most_s, "typical")
        see = f"It {'flashes, then stands' if mode.flashes else 'stands'} after {ms(times.frame_s)} or so, as it does on the mat."
    else:
        measure = Measure("time to send a frame", "ms", None, float(times.frame_s * 1000) * SEND_SLACK)
        see = f"It stands after {ms(times.frame_s)}, as it does on the mat."
    colours = isinstance(passport.format, IndexedFormat) and len(passport.format.planes) == 2
    return Stage(
        "picture", "Full picture", "Is a whole frame right, and as quick as computed?",
        (f"The first picture of the build: {times.frame_bytes:,} bytes, {times.wire_bytes:,} on the wire.",),
        (see,), measure,
        (
            *(fault("array.planes-swapped", "Colours exchanged") if colours else fault("program.half-buffer", "Half is missing")),
            *fault("program.start-byte", "Shifted by a byte"),
            *fault("array.colour-numbers", "Some colours exchanged"),
            Suspect("Slower than computed: small transactions, pauses between bytes, a bus in software.", page="sheet"),
        ),
        "A frame is right to the last pixel, and the link is as fast as computed.", "picture",
    )  # fmt: skip


def _part(device: Device, times: Times) -> Stage:
    passport = device.passport
    skipped = "This panel takes whole frames only." if passport.grid.whole_frames or passport.scan is not None else ""
    rect = times.part
    return Stage(
        "part", "Update by parts", "Can one field change alone?",
        (
            f"A window of {rect.width} × {rect.height} pixels at {rect.x}, {rect.y}:"
            f" {times.part_bytes:,} bytes instead of {times.wire_bytes:,}.",
        ),
        (
            f"Only this field changes, within {ms(times.part_s)}.",
            f"Windows: {passport.grid.in_words()}.",
        ),
        Measure("time of the part", "ms", None, float(times.part_s * 1000) * SEND_SLACK),
        (
            Suspect("The field lands beside its place: its window does not begin on the panel's grid.", page="faults"),
            Suspect("The whole glass flashes: the update was told to be a full one.", page="virtual"),
            Suspect("An old picture shines through: the second RAM does not hold the picture before.", question="fading"),
        ),
        "Windows land where they should, and cost what they should.", "part", skipped,
    )  # fmt: skip


def _live(device: Device, times: Times) -> Stage:
    passport = device.passport
    whole = passport.grid.whole_frames or passport.scan is not None
    each = times.frame_s if whole else times.part_s
    pause = Fraction(passport.update_pause_s).limit_denominator(1000)
    least = max(each, pause)
    if least >= 1:
        measure = Measure("time from one value to the next", "s", round(float(least), 1), None, "typical")
        rate = f"one value every {float(least):,.0f} s at best"
    else:
        measure = Measure("values shown in a second", "a second", None, float(1 / least))
        rate = f"{float(1 / least):,.0f} values a second at best"
    return Stage(
        "live", "Live values", "Does it go on for an hour?",
        (f"A value that changes, for as long as the device is meant to run: {rate}.",),
        ("No flicker, no seam, nothing left standing of older values.", "The last value shown is the last one sent."),
        measure,
        (
            Suspect("It flickers or jumps.", question="flicker"),
            Suspect("Old values shine through.", question="fading"),
            Suspect("It stops after a while: the panel was not given its pause, or memory runs out.", page="virtual"),
        ),
        "The device does what it is for.", "part" if not whole else "picture",
    )  # fmt: skip
