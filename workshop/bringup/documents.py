"""What station 2 keeps of a build: notes of its stages, a photo of the patch card, readings of the touch panel."""

from typing import Any

from mosaic.device.notes import PatchPhoto, StageNotes, TouchReadings
from workshop.documents.models import Document, Original
from workshop.documents.originals import keep_picture


class StageNotesDocument(Document):
    """What was noted of each stage of bringing a build up."""

    KIND, NOUN, PAGE, RECORD = "stages", "stages of bringing up", "bringup-stages", StageNotes
    SINGLE = OF_PARTS = True

    class Meta:
        proxy = True


class PatchPhotoDocument(Document):
    """A photo of the patch card on the panel, with its points."""

    KIND, NOUN, PAGE, RECORD = "patches", "photo of the patch card", "bringup-colors", PatchPhoto
    SINGLE = OF_PARTS = True

    class Meta:
        proxy = True

    @classmethod
    def keep_source(cls, *, data: bytes, file_name: str, owner: Any) -> Original:
        return keep_picture(data=data, file_name=file_name, owner=owner)


class TouchReadingsDocument(Document):
    """Raw readings of the touch panel's crosses."""

    KIND, NOUN, PAGE, RECORD = "touch", "touch readings", "bringup-touch", TouchReadings
    SINGLE = OF_PARTS = True

    class Meta:
        proxy = True
