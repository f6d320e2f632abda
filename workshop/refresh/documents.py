"""What station 6 keeps: how the program goes about its day, how fast the board was measured to be, how it is fed."""

from typing import Any

from mosaic.device.device import Device
from mosaic.refresh.costs import Wire
from mosaic.refresh.day.program import Program
from mosaic.refresh.energy.plan import EnergyPlan
from mosaic.refresh.measuring.record import Benchmark
from mosaic.refresh.pace import TYPICAL
from mosaic.refresh.paper.ghost import GhostModel
from mosaic.refresh.wear.remedies import WearPlan
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.models import Document, Original
from workshop.documents.originals import keep_picture


class ScheduleDocument(Document):
    """How often everything is read and drawn, and what holds what up."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "schedule", "schedule", Program, "schedule", True

    class Meta:
        proxy = True


class BenchmarkDocument(Document):
    """What the maker's own board was measured to do."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "benchmark", "benchmark", Benchmark, "benchmark", True

    class Meta:
        proxy = True


class EnergyDocument(Document):
    """How a build is fed."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "energy", "energy", EnergyPlan, "energy", True

    class Meta:
        proxy = True


class GhostDocument(Document):
    """The constants of what an e-paper's former pictures leave, and a photo of the maker's own panel."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "ghost", "ghost model", GhostModel, "paper", True

    class Meta:
        proxy = True

    @classmethod
    def keep_source(cls, *, data: bytes, file_name: str, owner: Any) -> Original:
        return keep_picture(data=data, file_name=file_name, owner=owner)


class WearDocument(Document):
    """What a build does against burnt-in pictures, and the constants of how its OLED ages."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "wear", "wear plan", WearPlan, "wear", True

    class Meta:
        proxy = True


def wire_of(build: Build, device: Device) -> Wire:
    """The build's link, at the pace of its board as far as that was measured."""
    row = shelf.single(build, BenchmarkDocument)
    return Wire(device, device.link, row.record.pace_for(device) if row else TYPICAL)


def wire_part(wire: Wire) -> tuple[Any, ...]:
    """What keys need of a wire: board, link, buffer and pace."""
    device, pace = wire.device, wire.pace
    board = (device.board.slug, device.board.cpu_mhz, device.link_kind, device.clock_hz, device.buffer_bands)
    return (*board, pace.run, pace.pixel, pace.wire, pace.window_us)


def program_of(build: Build) -> Program | None:
    """The schedule that was kept; None where none was."""
    row = shelf.single(build, ScheduleDocument)
    return row.record if row else None
