"""What a maker does at station 2: tick stages, set an offset that was read, mend a fault, answer drills."""

from dataclasses import replace

from django.db import transaction
from django.utils import timezone

from mosaic.cards.ruler import offset_from_reading
from mosaic.color.patches import Measured
from mosaic.conversion.driving import drive
from mosaic.conversion.program import Setting
from mosaic.device.notes import StageNote, StageNotes
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.faults.drills import Record, record_of
from mosaic.faults.registry import FAULTS
from mosaic.forms import from_record
from mosaic.panels.loader import passport_to_plain
from mosaic.panels.sending import Sending
from workshop.bringup.documents import StageNotesDocument
from workshop.bringup.models import DrillAnswer
from workshop.bringup.subjects import setting_of
from workshop.builds.models import Build
from workshop.builds.services import locked
from workshop.documents import shelf
from workshop.documents.services import save_single

ANSWERS_KEPT = 500


def keep_stage(*, build: Build, slug: str, done: bool, reading: float | None, base: int) -> None:
    """Tick a stage with the day and a reading, or take the tick away. Raises `ConflictError` as `save_single`."""
    row = shelf.single(build, StageNotesDocument)
    stages = dict(row.record.stages) if row else {}
    if not done and reading is None:
        stages.pop(slug, None)
    else:
        stages[slug] = StageNote(done, timezone.localdate().isoformat(), reading)
    save_single(StageNotesDocument, build=build, base=base, record=StageNotes(stages))


def _save(current: Build, setting: Setting) -> None:
    current.passport = passport_to_plain(setting.passport)
    current.rotation, current.mirrored = setting.turn.rotation, setting.turn.mirrored
    current.sending = None if setting.sending == Sending() else from_record(setting.sending)
    current.revision += 1
    current.save(update_fields=["passport", "rotation", "mirrored", "sending", "revision", "changed"])


@transaction.atomic
def set_offset(*, build: Build, first_column: int, first_row: int, revision: int) -> None:
    """The glass begins where the rulers said.

    Raises
    ------
    BadValueError
        The RAM has no room for the glass there.
    ConflictError
        The build was changed in another tab since.
    """
    current = locked(build, revision)
    setting = setting_of(current.to_device())
    ram = offset_from_reading(setting.passport, setting.turn, first_column, first_row)
    try:
        passport = replace(setting.passport, ram=ram)
    except BadDescriptionError as error:
        raise BadValueError(str(error)) from error
    _save(current, replace(setting, passport=passport))


def carries(setting: Setting, name: str) -> bool:
    """Whether the setting itself holds the fault, so that mending it here helps.

    Faults of arrays and of the panel are two states exchanged for each other. A set-up that drives the
    panel as it should is none to mend, and the program is mended at the maker's own desk.
    """
    fault = FAULTS[name]
    if fault.where == "set-up":
        return not drive(setting.passport, setting.turn).verified
    return fault.where != "program"


@transaction.atomic
def mend(*, build: Build, name: str, amount: int | None, revision: int) -> str:
    """Exchange what is believed for what the fault says is so; words say what was changed.

    Raises
    ------
    BadValueError
        This fault cannot have happened on this panel, or is not one that is mended here.
    ConflictError
        The build was changed in another tab since.
    """
    current = locked(build, revision)
    setting = setting_of(current.to_device())
    fault = FAULTS[name]
    if not fault.possible(setting, amount):
        raise BadValueError(f"{fault.name.lower()} cannot have happened on this panel")
    if not carries(setting, name):
        raise BadValueError(f"there is nothing to mend in the build: {fault.mend}")
    mended = fault.mended(setting, amount)
    if mended == setting:
        by = fault.by(setting, amount)
        raise BadValueError(f"the glass cannot begin {by} {fault.unit} further in: the RAM has no room for it there")
    _save(current, mended)
    return fault.mend


@transaction.atomic
def take_setting(*, build: Build, setting: Setting, revision: int) -> None:
    """Keep a passport and orientation that were changed elsewhere; raises as `mend` does."""
    _save(locked(build, revision), setting)


@transaction.atomic
def take_colors(*, build: Build, measured: tuple[Measured, ...], revision: int) -> None:
    """Colours that were measured go into the passport's palette; every reduction follows.

    Raises
    ------
    BadValueError
        There are not as many as the palette has.
    """
    current = locked(build, revision)
    setting = setting_of(current.to_device())
    palette = setting.passport.palette
    if palette is None or len(measured) != len(palette):
        raise BadValueError(f"{len(measured)} colours were measured; the palette has {len(palette) if palette else 0}")
    taken = replace(palette, measured=tuple(m.hex for m in measured), uncertainty=tuple(round(m.apart, 2) for m in measured))
    _save(current, replace(setting, passport=replace(setting.passport, palette=taken)))


@transaction.atomic
def note_program(*, build: Build, name: str, revision: int) -> None:
    """Note what the maker's program does wrong: the virtual panel shows it, and a finding stands until it is mended."""
    current = locked(build, revision)
    setting = setting_of(current.to_device())
    fault = FAULTS[name]
    if fault.where != "program" or not fault.possible(setting):
        raise BadValueError("only what a program can do wrong on this panel is noted of it")
    _save(current, fault.change(setting, 0))


def answer_drill(*, owner, panel: str, made: str, named: str) -> None:
    """Keep an answer; the oldest ones go."""
    for name in (made, named):
        FAULTS[name]  # an unknown name must not be kept
    DrillAnswer.objects.create(owner=owner, panel=panel, made=made, named=named)
    old = DrillAnswer.objects.filter(owner=owner).order_by("-id").values_list("pk", flat=True)[ANSWERS_KEPT:]
    DrillAnswer.objects.filter(pk__in=list(old)).delete()


def drill_record(owner) -> Record:
    """How a maker's drills have gone; answers about faults that exist no more do not count."""
    answers = DrillAnswer.objects.filter(owner=owner).values_list("made", "named")
    return record_of([(made, named) for made, named in answers if made in FAULTS and named in FAULTS])


def forget_drills(owner) -> None:
    """Reset the record."""
    DrillAnswer.objects.filter(owner=owner).delete()
