"""What station 6 keeps: its documents."""

from workshop.refresh.documents import ScheduleDocument

__all__ = ["ScheduleDocument"]
