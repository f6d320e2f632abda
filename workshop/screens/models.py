"""What station 5 keeps: its documents."""

from workshop.screens.documents import DesignDocument, HostPageDocument, ScreenDocument

__all__ = ["DesignDocument", "HostPageDocument", "ScreenDocument"]
