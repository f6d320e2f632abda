"""Tags that lay the look's parts; they only adapt what plain functions compute."""

import json
from fractions import Fraction
from typing import Any

from django import template
from django.templatetags.static import static
from django.urls import reverse
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from mosaic.desk.examples import example as example_of
from mosaic.device.budget import Budget
from mosaic.device.device import Device
from mosaic.imports.pictures import MAX_FILE_BYTES
from mosaic.links.kinds import KINDS
from mosaic.quantities import as_hz, as_rate
from workshop.look.amounts import amount, rounded
from workshop.look.glossary import BY_WORD
from workshop.look.tessera import bar_of

register = template.Library()


@register.inclusion_tag("look/budget.html")
def budget_bar(budget: Budget) -> dict[str, Any]:
    """A budget of the strip: name, value, bar and words."""
    return {"bar": bar_of(budget)}


@register.inclusion_tag("look/budget_small.html")
def budget_line(budget: Budget) -> dict[str, Any]:
    """A budget in a list: name, small bar, share."""
    return {"bar": bar_of(budget)}


@register.inclusion_tag("look/mark.html")
def mark(severity: str) -> dict[str, str]:
    """A verdict's mark, by shape: "must fix", "worth fixing", else sound."""
    return {"kind": {"must fix": "over", "worth fixing": "tight", "over": "over", "tight": "tight"}.get(severity, "sound")}


@register.simple_tag
def term(word: str, shown: str = "") -> SafeString:
    """A word of the field, leading to what is meant by it.

    Raises
    ------
    KeyError
        For a word that the glossary does not have.
    """
    entry = BY_WORD[word.lower()]
    return format_html(
        '<a class="fm-word" href="{}#{}" title="{}">{}</a>', reverse("glossary"), entry.slug, entry.meaning, shown or word
    )


@register.simple_tag
def example(page: str, device: Device) -> SafeString:
    """What an empty page says of one's own parts."""
    words = example_of(page, device)
    return format_html('<p class="fm-quiet fm-example">{}</p>', words) if words else SafeString("")


@register.filter
def as_float(value: Fraction) -> float:
    """An exact share as a number that templates round."""
    return float(value)


@register.filter
def in_unit(value: float, unit: str) -> str:
    """A value in a readable unit."""
    return str(amount(float(value), unit))


@register.filter
def plain(value: float) -> str:
    """A number rounded to what can be measured."""
    return rounded(float(value))


@register.filter
def mm(value: float) -> str:
    """A length in mm, to a hundredth where it has one.

    >>> mm(89.5), mm(38.0), mm(29.06)
    ('89.5', '38', '29.06')
    """
    return f"{round(float(value), 2):g}"


@register.filter
def percent(share: float) -> str:
    """A share as a percentage; small ones keep a decimal."""
    value = float(share) * 100
    return f"{value:.1f}" if 0 < value < 1 else f"{value:.0f}"


@register.filter
def times(value: float, factor: float) -> float:
    """Product of two numbers, for lengths in drawings."""
    return round(float(value) * float(factor), 2)


@register.filter
def add_n(value: float, other: float) -> float:
    """Sum of two numbers, for places in drawings."""
    return round(float(value) + float(other), 2)


@register.filter
def as_json(value: Any) -> str:
    """Plain values as JSON, for a hidden field."""
    return json.dumps(value)


register.filter(as_hz)
register.filter(as_rate)


@register.filter
def clock_words(clock_hz: int, link_kind: str) -> str:
    """The clock of a build's link, in the unit that the kind of link counts in."""
    return as_rate(clock_hz, KINDS[link_kind].clock_name)


@register.filter
def thousands(value: int) -> str:
    """A whole number with its thousands separated."""
    return f"{value:,}"


@register.filter
def technology(slug: str) -> str:
    """A panel's technology as it is written."""
    return {"epaper": "e-paper", "oled": "OLED", "tft": "TFT"}.get(slug, slug)


@register.simple_tag
def picture_mib() -> int:
    """The largest picture file that is accepted, in MiB."""
    return MAX_FILE_BYTES // 2**20


@register.simple_tag
def module(name: str, *imported: str) -> SafeString:
    """A script module of `static/scripts`, and what it imports, which is fetched at once and not file by file."""
    ahead = format_html_join("", '<link rel="modulepreload" href="{}">', ((static(f"scripts/{own}.js"),) for own in imported))
    return ahead + format_html('<script src="{}" type="module"></script>', static(f"scripts/{name}.js"))


@register.filter
def share_of_time(share: float) -> str:
    """A share of the time, small ones too.

    >>> share_of_time(0.5), share_of_time(0.00012)
    ('50%', '0.012%')
    """
    return f"{100 * share:.3g}%" if share < 0.1 else f"{share:.0%}"


@register.filter
def minus(value: float, other: float) -> float:
    return float(value) - float(other)


@register.filter
def from_n(value: float, whole: float) -> float:
    """What is left of a whole, for places in drawings.

    >>> from_n(30, 100)
    70.0
    """
    return round(float(whole) - float(value), 2)


@register.filter
def share_of(value: float, whole: float) -> float:
    """Parts of 100, for lengths in drawings.

    >>> share_of(1, 4)
    25.0
    """
    return min(100.0, round(100 * float(value) / float(whole), 2)) if whole else 0.0


@register.filter
def seconds_words(seconds: float) -> str:
    """A length of time in s, min or h.

    >>> seconds_words(48), seconds_words(576), seconds_words(7200), seconds_words(0)
    ('48 s', '9.6 min', '2 h', '0 s')
    """
    if seconds < 120:
        return f"{seconds:.3g} s"
    return f"{seconds / 60:.3g} min" if seconds < 7200 else f"{seconds / 3600:.3g} h"


@register.filter
def model_label(row: Any) -> str:
    """The name by which a removed row is brought back."""
    return str(row._meta.label_lower)
