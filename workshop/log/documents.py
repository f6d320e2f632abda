"""What station 8 keeps as a document: factors that are taken into the build's figures."""

from mosaic.measured.calibration import Calibration
from workshop.documents.models import Document


class CalibrationDocument(Document):
    """Factors of measurements that the budgets are multiplied with."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "calibration", "calibration", Calibration, "measured", True

    class Meta:
        proxy = True
