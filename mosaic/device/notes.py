"""What a maker notes of a device: readings, stages, photos, texts. Plain records, each kept with its history."""

from dataclasses import dataclass, field
from typing import Annotated, Literal

from msgspec import Meta

Day = Annotated[str, Meta(max_length=10)]
Places = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Reading:
    """A measured value in its check's unit, and the day (ISO 8601) it was read."""

    value: float
    day: Day


@dataclass(frozen=True)
class Readings:
    """What was read on the check sheet, by the check's id."""

    readings: dict[str, Reading] = field(default_factory=dict)
    form: Literal[1] = 1


@dataclass(frozen=True)
class StageNote:
    """Whether a stage of bringing up is done, the day of the note, and what was measured, if anything."""

    done: bool
    day: Day
    reading: float | None = None


@dataclass(frozen=True)
class StageNotes:
    """What was noted of each stage, by its slug."""

    stages: dict[str, StageNote] = field(default_factory=dict)
    form: Literal[1] = 1


@dataclass(frozen=True)
class PatchPhoto:
    """A photo of the patch card: its four corners, points on white paper beside it (pixels), and the paper's reflectance."""

    corners: Places = ()
    whites: Places = ()
    reflectance: Annotated[float, Meta(gt=0, le=1)] | None = None
    form: Literal[1] = 1


@dataclass(frozen=True)
class TouchReadings:
    """Raw readings of a touch panel, as they were typed: a cross a line."""

    readings: Annotated[str, Meta(max_length=20_000)] = ""
    form: Literal[1] = 1


@dataclass(frozen=True)
class Texts:
    """What the screens of a device show, a text a line, with the bounds of the values in them."""

    lines: Annotated[str, Meta(max_length=20_000)] = ""
    form: Literal[1] = 1
