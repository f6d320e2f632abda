"""What station 8 keeps; entries themselves stand in `workshop.journal`."""

from workshop.log.documents import CalibrationDocument

__all__ = ["CalibrationDocument"]
