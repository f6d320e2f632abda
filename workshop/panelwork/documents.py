"""What station 1 keeps besides the device itself: readings of the check sheet."""

from mosaic.device.device import Device
from mosaic.device.notes import Readings
from mosaic.narrowing import needed
from mosaic.wiring.checks import Check, checks_of
from workshop.documents.models import Document


def device_checks(device: Device) -> tuple[Check, ...]:
    """Every check of a device's check sheet."""
    return checks_of(device.passport, device.board, device.link_kind, needed(device.wiring, "a pin plan"))


class ReadingsDocument(Document):
    """A build's readings before power."""

    KIND, NOUN, PAGE, RECORD = "readings", "check sheet", "check-sheet", Readings
    SINGLE = True

    class Meta:
        proxy = True

    @classmethod
    def carried(cls, record: Readings, before: Device, after: Device) -> tuple[Readings | None, tuple[str, ...]]:
        same = {check.id for check in set(device_checks(before)) & set(device_checks(after))}
        kept = {name: reading for name, reading in record.readings.items() if name in same}
        gone = len(record.readings) - len(kept)
        lost = (f"{gone} of {len(record.readings)} readings of the check sheet",) if gone else ()
        return (Readings(kept) if kept or not gone else None), lost
