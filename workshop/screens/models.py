"""What station 5 keeps: its documents."""

from workshop.screens.documents import BehaviourDocument, DesignDocument, HostPageDocument, RecordingDocument, ScreenDocument

__all__ = ["BehaviourDocument", "DesignDocument", "HostPageDocument", "RecordingDocument", "ScreenDocument"]
