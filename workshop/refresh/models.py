"""What station 6 keeps: its documents."""

from workshop.refresh.documents import BenchmarkDocument, ScheduleDocument

__all__ = ["BenchmarkDocument", "ScheduleDocument"]
