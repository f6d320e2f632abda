"""What station 6 keeps: its documents."""

from workshop.refresh.documents import BenchmarkDocument, EnergyDocument, ScheduleDocument

__all__ = ["BenchmarkDocument", "EnergyDocument", "ScheduleDocument"]
