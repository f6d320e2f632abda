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
