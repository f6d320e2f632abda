"""What station 1 keeps besides the device itself: readings of the check sheet."""

from mosaic.device.notes import Readings
from workshop.documents.models import Document


class ReadingsDocument(Document):
    """A build's readings before power."""

    KIND, NOUN, PAGE, RECORD = "readings", "check sheet", "check-sheet", Readings
    SINGLE = OF_PARTS = True

    class Meta:
        proxy = True
