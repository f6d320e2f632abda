"""What station 6 keeps: how the maker's program goes about its day."""

from mosaic.refresh.day.program import Program
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.models import Document


class ScheduleDocument(Document):
    """How often everything is read and drawn, and what holds what up."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "schedule", "schedule", Program, "schedule", True

    class Meta:
        proxy = True


def program_of(build: Build) -> Program | None:
    """The schedule that was kept; None where none was."""
    row = shelf.single(build, ScheduleDocument)
    return row.record if row else None
