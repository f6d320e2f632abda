"""Words of a day's figures."""

from django import template

from mosaic.refresh.day.summary import DayFigures

register = template.Library()


def _percent(share: float) -> str:
    return f"{share:.1%}" if share >= 0.001 or not share else "under 0.1%"


@register.filter
def share_words(day: DayFigures, name: str) -> str:
    """For what share of the time something goes on; by day and by night where the schedule has one."""
    if not day.has_night:
        return f"{_percent(day.share(name))} of the time"
    return f"{_percent(day.share(name, night=False))} by day, {_percent(day.share(name, night=True))} by night"


@register.filter
def clock_minutes(minute: int) -> str:
    """A minute of the day as a time.

    >>> clock_minutes(1320), clock_minutes(365)
    ('22:00', '6:05')
    """
    return f"{minute // 60}:{minute % 60:02}"


@register.filter
def days_words(days: float) -> str:
    """How long a cell lasts: hours, days, or years.

    >>> days_words(0.5), days_words(88.9), days_words(800), days_words(float("inf"))
    ('12 hours', '89 days', '2.2 years', 'for ever')
    """
    if days == float("inf"):
        return "for ever"
    if days < 3:
        return f"{days * 24:.3g} hours"
    return f"{days:,.0f} days" if days < 730 else f"{days / 365.25:.1f} years"


@register.filter
def hours_words(hours: float) -> str:
    """The same of hours."""
    return days_words(hours / 24)


CENTURY_H = 100 * 8766


@register.filter
def until_seen(hours: float) -> str:
    """How long until something shows; beyond a century the model says nothing.

    >>> until_seen(4824), until_seen(1e9)
    ('201 days', 'more than a century')
    """
    return days_words(hours / 24) if hours < CENTURY_H else "more than a century"
