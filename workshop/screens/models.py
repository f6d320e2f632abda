"""What station 5 keeps: its documents, and the stand-ins for serial panels."""

import secrets

from django.db import models

from workshop.builds.models import Build
from workshop.screens.documents import (
    BehaviourDocument,
    DesignDocument,
    HostPageDocument,
    RecordingDocument,
    ScreenDocument,
    SerialDocument,
)

__all__ = [
    "BehaviourDocument",
    "DesignDocument",
    "HostPageDocument",
    "RecordingDocument",
    "ScreenDocument",
    "SerialDocument",
    "SerialLine",
    "SerialTouch",
]


def new_token() -> str:
    return secrets.token_hex(12)


class SerialLine(models.Model):
    """The stand-in for a build's serial panel, as far as it has been seen.

    `session` is the connection that holds it, "" for none; `wants_terminal` asks for a pseudo terminal, whose path is `terminal`
    while there is one. `state`: readings, page, light, counts, what was said. `version` rises with every change of that.
    """

    build = models.OneToOneField(Build, on_delete=models.CASCADE, related_name="serial_line")
    token = models.CharField(max_length=32, unique=True, default=new_token)
    session = models.CharField(max_length=32, blank=True, default="")
    seen = models.DateTimeField(null=True)
    wants_terminal = models.BooleanField(default=False)
    terminal = models.CharField(max_length=120, blank=True, default="")
    version = models.PositiveIntegerField(default=0)
    state = models.JSONField(default=dict)


class SerialTouch(models.Model):
    """A touch on the page that waits to be told to the program: the event's number."""

    line = models.ForeignKey(SerialLine, on_delete=models.CASCADE, related_name="touches")
    event = models.PositiveIntegerField()
