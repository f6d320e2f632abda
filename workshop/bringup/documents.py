"""What station 2 keeps of a build: notes of its stages, a photo of the patch card, readings of the touch panel."""

from typing import Any

from mosaic.device.device import Device
from mosaic.device.notes import PatchPhoto, StageNotes, TouchReadings
from workshop.documents.models import Document, Original
from workshop.documents.originals import keep_picture


class StageNotesDocument(Document):
    """What was noted of each stage of bringing a build up."""

    KIND, NOUN, PAGE, RECORD = "stages", "stages of bringing up", "bringup-stages", StageNotes
    SINGLE = True

    class Meta:
        proxy = True

    @classmethod
    def carried(cls, record: StageNotes, before: Device, after: Device) -> tuple[StageNotes | None, tuple[str, ...]]:
        # A stage proves panel, wiring and program together: with another part it has to be seen again.
        ticks = sum(note.done for note in record.stages.values())
        return None, (f"{ticks} tick{'' if ticks == 1 else 's'} of the stages of bring-up, with their readings",)


class PatchPhotoDocument(Document):
    """A photo of the patch card on the panel, with its points."""

    KIND, NOUN, PAGE, RECORD = "patches", "photo of the patch card", "bringup-colors", PatchPhoto
    SINGLE = True

    class Meta:
        proxy = True

    @classmethod
    def carried(cls, record: PatchPhoto, before: Device, after: Device) -> tuple[PatchPhoto | None, tuple[str, ...]]:
        return _of_the_panel(record, before, after, "the photo of the patch card, with its points")

    @classmethod
    def keep_source(cls, *, data: bytes, file_name: str, owner: Any) -> Original:
        return keep_picture(data=data, file_name=file_name, owner=owner)


class TouchReadingsDocument(Document):
    """Raw readings of the touch panel's crosses."""

    KIND, NOUN, PAGE, RECORD = "touch", "touch readings", "bringup-touch", TouchReadings
    SINGLE = True

    class Meta:
        proxy = True

    @classmethod
    def carried(cls, record: TouchReadings, before: Device, after: Device) -> tuple[TouchReadings | None, tuple[str, ...]]:
        return _of_the_panel(record, before, after, "the readings of the touch panel")


def _of_the_panel(record: Any, before: Device, after: Device, words: str) -> tuple[Any, tuple[str, ...]]:
    """What was measured of a panel holds as long as the panel is the same."""
    return (record, ()) if before.passport == after.passport else (None, (words,))
