"""Station 8's part of the demo: two years of entries."""

from datetime import timedelta

from django.utils import timezone

from workshop.builds.models import Build
from workshop.journal import services as journal
from workshop.journal.models import LogEntry
from workshop.scenario.log import LOGS


def load(builds: dict[str, Build]) -> None:
    """Write the logs of the demo's builds."""
    now = timezone.now().replace(minute=20, second=0, microsecond=0)
    for name, lines in LOGS.items():
        build = builds[name]
        state = journal.state_of(build)
        rows = []
        for line in lines:
            made = now - timedelta(days=line.days, minutes=line.days * 37 % 600)
            rows.append(
                journal.checked(LogEntry(build=build, kind=line.kind, text=line.text, made=made, state=state, **line.more))
            )
        LogEntry.objects.bulk_create(rows)
