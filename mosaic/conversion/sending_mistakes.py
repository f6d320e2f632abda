"""Sending mistakes: single things a program forgets or mistakes in what it sends, for watching what the panel makes of them."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from mosaic.panels.passport import Passport
from mosaic.panels.sequence import Transaction, expand
from mosaic.panels.wire import Part
from mosaic.registry import Registry

Parts = tuple[Part, ...]
SLEEP: dict[str, str] = {
    "byte-window-epaper": "c 10 d 01", "wide-window-epaper": "c 10 d 01", "frame-epaper": "c 07 d A5",
}  # fmt: skip
"""Deep sleep, by controller family."""
UNKNOWN: dict[str, str] = {"quad-window": "c 02 00 99 00", "serial-canvas": "c 7E 99"}


@dataclass(frozen=True)
class Mistake:
    """A mistake: what was forgotten, how it changes what is sent, and the kinds of misuse a panel reports for it."""

    slug: str
    name: str
    change: Callable[[Parts, Passport], Parts]
    reports: tuple[str, ...]

    def applies(self, parts: Parts, passport: Passport) -> bool:
        """Whether it changes anything of this transmission."""
        return self.change(parts, passport) != parts


def _each(change: Callable[[Transaction], Transaction | None]) -> Callable[[Parts, Passport], Parts]:
    """Every transaction changed, or left out where the change gives None."""

    def apply(parts: Parts, passport: Passport) -> Parts:
        changed = [[change(t) for t in part.transactions] for part in parts]
        return tuple(
            replace(part, transactions=tuple(t for t in some if t is not None)) for part, some in zip(parts, changed, strict=True)
        )

    return apply


def _without(kind: str) -> Callable[[Parts, Passport], Parts]:
    return _each(lambda t: None if t.kind == kind else t)


def _without_setup(parts: Parts, passport: Passport) -> Parts:
    """The reset alone: data comes to a controller that was told nothing."""
    first, *rest = parts
    pixels = tuple(replace(p, transactions=tuple(t for t in p.transactions if t.is_pixels)) for p in rest)
    return (replace(first, transactions=tuple(t for t in first.transactions if t.kind == "reset")), *pixels)


def _one_byte_less(parts: Parts, passport: Passport) -> Parts:
    def cut(transaction: Transaction) -> Transaction:
        return replace(transaction, data=transaction.data[:-1]) if transaction.is_pixels else transaction

    return _each(cut)(parts, passport)


def _first_operands(change: Callable[[bytes], bytes]) -> Callable[[Parts, Passport], Parts]:
    """The first window's first operands changed, sent as data or behind their command."""

    def apply(parts: Parts, passport: Passport) -> Parts:
        at = next((i for i, part in enumerate(parts) if part.name == "set window"), None)
        if at is None or passport.grid.whole_frames:
            return parts
        sent = list(parts[at].transactions)
        place = next((i for i, t in enumerate(sent) if t.kind == "data"), 0)
        transaction = sent[place]
        head = 0 if transaction.kind == "data" else 1
        data = transaction.data[:head] + change(transaction.data[head:])
        sent[place] = replace(transaction, data=data)
        return (*parts[:at], replace(parts[at], transactions=tuple(sent)), *parts[at + 1 :])

    return apply


def _reversed(operands: bytes) -> bytes:
    half = len(operands) // 2
    return operands[half:] + operands[:half]


def _asleep(parts: Parts, passport: Passport) -> Parts:
    text = SLEEP.get(passport.controller.family)
    if text is None:
        return parts
    first, *rest = parts
    return (replace(first, transactions=(*first.transactions, *expand(text, {}))), *rest)


def _unknown(parts: Parts, passport: Passport) -> Parts:
    first, *rest = parts
    text = UNKNOWN.get(passport.controller.family, "c 99")
    return (replace(first, transactions=(*first.transactions, *expand(text, {}))), *rest)


SENDING_MISTAKES: Registry[Mistake] = Registry(
    "sending mistake",
    (
        Mistake("no-reset", "the reset forgotten", _without("reset"), ("no-reset",)),
        Mistake("no-set-up", "the set-up forgotten", _without_setup, ("before-set-up", "outside", "bad-value", "unpowered")),
        Mistake("no-pause", "every pause forgotten", _without("delay"), ("too-soon", "busy")),
        Mistake("no-waiting", "never waiting for busy", _without("busy"), ("busy",)),
        Mistake("asleep", "sent in deep sleep", _asleep, ("asleep",)),
        Mistake("reversed", "a window's ends exchanged", _first_operands(_reversed), ("reversed",)),
        Mistake("one-operand", "the last operand of a window left out", _first_operands(lambda o: o[:-1]), ("unfinished",)),
        Mistake("byte-less", "the last byte left out", _one_byte_less, ("half-pixel", "size")),
        Mistake("unknown", "a command of another controller", _unknown, ("unknown",)),
    ),
    lambda mistake: mistake.slug,
)


def sending_mistakes_of(parts: Parts, passport: Passport) -> list[Mistake]:
    """Those that change anything of this transmission."""
    return [mistake for mistake in SENDING_MISTAKES.values() if mistake.applies(parts, passport)]
