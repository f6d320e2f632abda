"""Readings of entries in words."""

from django import template

from mosaic.measured.quantities import QUANTITIES, STEPS, UNITS, Quantity
from workshop.journal.models import LogEntry

register = template.Library()


def plainly(value: float, quantity: Quantity) -> str:
    """A value in the unit of its dimension in which it has one to three digits before the point, as far as there is one.

    >>> plainly(21_900, QUANTITIES["refresh-time"]), plainly(0.009, QUANTITIES["idle-current"])
    ('21.9 s', '9 µA')
    """
    scales = [(unit, size) for unit, size in UNITS[quantity.dimension].items() if unit in STEPS[quantity.dimension]]
    fitting = [(unit, size) for unit, size in scales if abs(value) >= size]
    unit, size = max(fitting, key=lambda one: one[1]) if fitting else min(scales, key=lambda one: one[1])
    return f"{value / size:,.4g} {unit}"


@register.filter
def value_words(value: float, quantity: Quantity) -> str:
    """A value of a quantity in words."""
    return plainly(value, quantity)


def _plain(value: float | None, slug: str) -> str:
    return "" if value is None or not slug else plainly(value, QUANTITIES[slug])


@register.filter
def reading(entry: LogEntry) -> str:
    """What was measured, with its unit."""
    return _plain(entry.value, entry.quantity)


@register.filter
def predicted(entry: LogEntry) -> str:
    """What the build said then."""
    return _plain(entry.predicted, entry.quantity)


@register.filter
def quantity_name(slug: str) -> str:
    return QUANTITIES[slug].name if slug else ""


@register.filter
def corner_fields(text: str) -> list[list[str]]:
    """(name, words) of fields."""
    return [one.split("=", 1) for one in text.split(";")]


@register.filter
def of_key(typed: dict, name: str) -> str:
    """What was typed into a field."""
    return typed.get(name, "") if typed else ""
