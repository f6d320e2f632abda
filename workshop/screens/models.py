"""What station 5 keeps: its documents."""

from workshop.screens.documents import DesignDocument, ScreenDocument

__all__ = ["DesignDocument", "ScreenDocument"]
