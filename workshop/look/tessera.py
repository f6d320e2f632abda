"""The tessera bar: sixteen tiles make a limit, four more may spill past it."""

from dataclasses import dataclass

from mosaic.device.budget import Budget
from mosaic.narrowing import needed
from workshop.look.amounts import amount

TILES, SPARE, TIGHT_FROM = 16, 4, 12
SHARDS = {"sound": "sound", "tight": "tight", "over": "over", "none": "sound"}


@dataclass(frozen=True)
class Tile:
    """One place in the bar: its class and, for the last one laid, how far it is filled."""

    kind: str
    filled: float = 1.0


@dataclass(frozen=True)
class Bar:
    """Everything the bar's template needs."""

    name: str
    state: str
    mark: str
    value: str
    limit: str
    unit: str
    words: str
    text: str
    basis: str
    parts: str
    percent: str
    tiles: tuple[Tile, ...]
    spilled: tuple[Tile, ...]

    @property
    def short(self) -> str:
        """The first word of the name, for lists."""
        return self.name.split()[0]


def tiles_of(share: float) -> tuple[tuple[Tile, ...], tuple[Tile, ...]]:
    """The sixteen tiles, and the four behind the limit, for a share of it."""
    tight = 0.85 <= share <= 1
    laid = share * TILES
    tiles = tuple(_tile(i, laid, "tight" if tight and i >= TIGHT_FROM else "", "void") for i in range(TILES))
    return tiles, tuple(_tile(i, laid, "over", "spare") for i in range(TILES, TILES + SPARE))


def _tile(place: int, laid: float, kind: str, empty: str) -> Tile:
    filled = min(1.0, max(0.0, laid - place))
    if filled <= 0.02:
        return Tile(empty)
    return Tile(kind) if filled > 0.98 else Tile(f"part {kind}".strip(), round(filled, 2))


def bar_of(budget: Budget) -> Bar:
    """The bar of a budget, with its words."""
    limit = budget.limit or 0
    value = amount(budget.value, budget.unit, limit)
    parts = ", ".join(f"{p.name} {amount(p.value, budget.unit)} ({p.basis})" for p in budget.parts)
    if budget.share is None:
        words = budget.why_unlimited
        text = f"{value}, {words}"
        return Bar(budget.name, "none", "sound", value.number, "", value.unit, words, text, budget.basis, parts, "", (), ())
    top = amount(limit, budget.unit, max(budget.value, limit))
    words = _words(budget)
    tiles, spilled = tiles_of(budget.share)
    return Bar(
        budget.name, budget.state, SHARDS[budget.state], value.number, top.number, top.unit, words,
        f"{value.number} of {top}, {words}", budget.basis, parts, f"{budget.share * 100:.0f} %", tiles, spilled,
    )  # fmt: skip


def _words(budget: Budget) -> str:
    rest = amount(abs(needed(budget.limit, "a limit") - budget.value), budget.unit)
    if budget.state == "over":
        return f"over by {rest}"
    return f"tight: {rest} left" if budget.state == "tight" else f"{rest} free"
