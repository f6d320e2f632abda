"""What station 7 keeps as a document: how the files are written."""

from mosaic.handover.layout import FileLayout
from workshop.documents.models import Document


class LayoutDocument(Document):
    """How the arrays of a build are written."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "layout", "form of the files", FileLayout, "hand-over", True

    class Meta:
        proxy = True
