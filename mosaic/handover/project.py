"""A build as it stands in its file, with all that is made of its documents, each made once."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.animation.frames import read_clip
from mosaic.animation.making import AnimationPlan, MadeAnimation, make_animation
from mosaic.behaviour.behaviour import Behaviour
from mosaic.behaviour.machine import Machine, machine_of
from mosaic.behaviour.recording import Recording
from mosaic.boards.board import board_from_plain
from mosaic.build_file import BuildFile, BuildRecord, DocumentOf
from mosaic.conversion.pipeline import Converted, convert, fit_stage
from mosaic.device.device import Device, Supply
from mosaic.device.notes import Texts, TouchReadings
from mosaic.device.setup_card import SetupCard
from mosaic.errors import BadDescriptionError, BadValueError, MosaicError
from mosaic.exports.making import result_of
from mosaic.exports.result import ExportResult
from mosaic.forms import to_record
from mosaic.handover.layout import FileLayout
from mosaic.imports.pictures import read_picture
from mosaic.lettering.glyph import Lettering
from mosaic.lettering.making import Sources, make
from mosaic.lettering.measure import pitch_mm
from mosaic.lettering.packing import Packed, order_of, pack
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.shades import valid_color
from mosaic.lettering.texts import MOST_LINES, MOST_TEXT, FieldText, parse_texts
from mosaic.panels.loader import passport_from_plain
from mosaic.panels.mounting import Opening
from mosaic.panels.sending import Sending
from mosaic.reduce.recipe import Recipe, recipe_from_plain
from mosaic.refresh.day.program import Program, usual_program
from mosaic.refresh.energy.plan import EnergyPlan
from mosaic.refresh.measuring.record import Benchmark
from mosaic.refresh.wear.remedies import WearPlan
from mosaic.screens.calls import Font
from mosaic.screens.kit import Kit
from mosaic.screens.moments import states_of
from mosaic.screens.plan import Plan, planned
from mosaic.screens.rendering import Rendered, drawn_in
from mosaic.screens.screen import Design, Screen, refs_in
from mosaic.screens.texts import texts_in
from mosaic.segments.figure import FigurePlan, symbols_of
from mosaic.serial.plan import SerialPlan
from mosaic.source_text import identifier
from mosaic.strips.cells import Cell
from mosaic.strips.cutting import StripPlan, cells_from_sheet, ground_of, reduced_sheet
from mosaic.touch.fit import Fit, crosses, fit, read_readings
from mosaic.values.states import State
from mosaic.wiring.plan import PinPlan
from mosaic.wiring.proposal import propose

MOST_FRAMES = 64
"""Of an animation, frames that screens may take one by one."""


def _reader(record: type) -> Callable[[Any], Any]:
    return lambda plain: to_record(plain, record, "a document")


READERS: Mapping[str, Callable[[Any], Any]] = {
    "picture": recipe_from_plain, "strip": _reader(StripPlan), "figure": _reader(FigurePlan), "animation": _reader(AnimationPlan),
    "lettering": _reader(LetteringPlan), "texts": _reader(Texts), "screen": _reader(Screen), "design": _reader(Design),
    "behaviour": _reader(Behaviour), "recording": _reader(Recording), "serial": _reader(SerialPlan), "wiring": _reader(PinPlan),
    "setup-card": _reader(SetupCard), "touch": _reader(TouchReadings), "schedule": _reader(Program), "wear": _reader(WearPlan),
    "benchmark": _reader(Benchmark), "energy": _reader(EnergyPlan), "layout": _reader(FileLayout),
}  # fmt: skip
"""How a description is read, for each kind of document that a program's files are made of. A new kind is a line here."""


@dataclass(frozen=True, eq=False)
class Part:
    """A document of the build with its record and the files it is made of."""

    document: DocumentOf
    record: Any
    files: tuple[tuple[str, bytes], ...]

    @property
    def ref(self) -> str:
        return self.document.ref

    @property
    def name(self) -> str:
        return self.document.name


def device_of(build: BuildRecord, parts: Mapping[str, list[Part]]) -> Device:
    """The device of a build; raises `BadDescriptionError` where its settings are none."""
    passport, board = passport_from_plain(build.passport), board_from_plain(build.board)
    told = dict(build.settings)
    wiring, card = parts.get("wiring"), parts.get("setup-card")
    link = told.get("link_kind", "")
    try:
        return Device(
            passport=passport, rotation=told["rotation"], board=board, link_kind=link, clock_hz=told["clock_hz"],
            supply=Supply(told["supply_kind"], told["cell_v"], told["capacity_mah"]),
            viewing_distance_mm=told["viewing_distance_mm"], light_lux=told["light_lux"],
            frame_time_limit_ms=told["frame_time_limit_ms"], energy_limit_mwh=told["energy_limit_mwh"],
            update_interval_s=told["update_interval_s"], on_hours_per_day=told["on_hours_per_day"],
            buffer_bands=told["buffer_bands"], mirrored=told["mirrored"],
            wiring=wiring[0].record if wiring else propose(passport, board, link).plan,
            setup_card=card[0].record if card else None,
            sending=to_record(told["sending"], Sending, "sending") if told.get("sending") else Sending(),
            opening=to_record(told["opening"], Opening, "opening") if told.get("opening") else None,
        )  # fmt: skip
    except KeyError as error:
        raise BadDescriptionError(f"the settings of the build lack {error.args[0]!r}", path="$.settings") from None


@dataclass(eq=False)
class Project:
    """Everything of a build that files are made of. What cannot be made raises `MosaicError` where it is asked for."""

    file: BuildFile
    parts: dict[str, list[Part]] = field(default_factory=dict)
    device: Device = field(init=False)
    _cells: dict[str, tuple[Cell, ...]] = field(default_factory=dict)
    _results: dict[str, ExportResult] = field(default_factory=dict)
    _packed: dict[str, Packed] = field(default_factory=dict)
    _plans: dict[str, Plan] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for one in self.file.build.documents:
            reader = READERS.get(one.kind)
            if reader is not None:
                files = tuple((of.name, self.file.files[of.sum]) for of in one.files)
                self.parts.setdefault(one.kind, []).append(Part(one, reader(one.description), files))
        self.device = device_of(self.file.build, self.parts)

    @property
    def name(self) -> str:
        return self.file.build.name

    def of(self, kind: str) -> list[Part]:
        return self.parts.get(kind, [])

    def single(self, kind: str) -> Any:
        """The record of the one document of a kind; None where there is none."""
        found = self.of(kind)
        return found[0].record if found else None

    def part(self, ref: str) -> Part:
        """The document of a reference; raises `BadValueError`."""
        kind = ref.rpartition("-")[0]
        for one in self.of(kind):
            if one.ref == ref:
                return one
        raise BadValueError(f"the build has no {ref}, which something of it names")

    def place(self, part: Part) -> str:
        """Whether it is kept as an "array" of the program or as a "file"."""
        return part.document.kept_as or str(self.file.build.settings.get("kept_as", "array"))

    # Pictures, cells, letterings

    def converted(self, part: Part) -> Converted:
        """A picture on the panel."""
        name, data = part.files[0]
        recipe: Recipe = part.record
        passport, turn = self.device.passport, self.device.turn
        fitted = fit_stage(read_picture(data, name), recipe, passport, turn)
        return convert(fitted, recipe, passport, turn, self.device.eye_sigma_px)

    def picture(self, part: Part) -> ExportResult:
        """A picture with its bytes in the form that the program takes."""
        if part.ref not in self._results:
            sending = replace(self.device.sending, tables=self.device.board.tables)
            self._results[part.ref] = result_of(
                self.layout.named(part.name), self.converted(part), part.record, self.device.turn, sending
            )
        return self._results[part.ref]

    def animation(self, part: Part) -> MadeAnimation:
        return make_animation(read_clip(list(part.files)), part.record, self.device)

    def cells(self, ref: str) -> tuple[Cell, ...]:
        """The cells of a strip or figure, or the frames of an animation."""
        if ref not in self._cells:
            part = self.part(ref)
            if part.document.kind == "strip":
                name, data = part.files[0]
                sheet = reduced_sheet(read_picture(data, name), part.record.recipe, self.device)
                found = cells_from_sheet(sheet, part.record, ground_of(part.record.recipe, self.device.passport))
            elif part.document.kind == "figure":
                found = symbols_of(part.record, self.device.passport, part.files[-1] if part.files else None)
            else:
                frames = self.animation(part).frames[:MOST_FRAMES]
                found = tuple(_frame_cell(number, frame.pixels) for number, frame in enumerate(frames, 1))
            self._cells[ref] = found
        return self._cells[ref]

    @cached_property
    def texts(self) -> tuple[FieldText, ...]:
        """What the screens show: as it was written by hand, and what stands on the screens themselves."""
        notes = self.single("texts")
        written = notes.lines.splitlines() if notes else []
        elements = [e for part in self.of("screen") for e in part.record.elements]
        elements += [e for part in self.design.parts for e in part.elements]
        values = {value.id: value for value in self.design.values}
        offered = dict.fromkeys(text for element in elements for text in texts_in(element, values))
        collected = [text for text in offered if text not in set(written) and len(text) <= MOST_TEXT]
        try:
            return parse_texts("\n".join([*written, *collected[: max(0, MOST_LINES - len(written))]]))
        except BadValueError:
            return ()

    def packed(self, part: Part) -> Packed:
        """A lettering with its bytes."""
        if part.ref not in self._packed:
            device, plan = self.device, part.record
            ink, ground = valid_color(device.passport, plan.ink, 0), valid_color(device.passport, plan.ground, 1)
            if (ink, ground) != (plan.ink, plan.ground):
                plan = plan.with_changes(ink=ink, ground=ground)
            used = sorted({use.source for use in plan.pictures})
            cells = {(ref, cell.name): cell for ref in used for cell in self.cells(ref)}
            font = (part.files[0][1], part.files[0][0]) if part.files else None
            made = make(plan, Sources(pitch_mm(device)[1], font, self.texts, cells, device.viewing_distance_mm)).lettering
            named = Lettering(
                self.layout.named(part.name),
                made.glyphs,
                made.ascent,
                made.descent,
                made.bits,
                made.kerning,
                made.capital,
                made.x_height,
            )
            order = order_of(plan.order, device.sending.array_format(device.passport))
            self._packed[part.ref] = pack(named, plan.box, order, plan.compression)
        return self._packed[part.ref]

    # Screens and behaviour

    @cached_property
    def design(self) -> Design:
        return self.single("design") or Design()

    @cached_property
    def letterings(self) -> dict[str, Font]:
        """All letterings that can be made, by reference."""
        found = {}
        for part in self.of("lettering"):
            try:
                found[part.ref] = Font(identifier(part.name, "lettering"), self.packed(part).lettering)
            except MosaicError:
                continue
        return found

    def kit(self, screen: Screen) -> Kit:
        """What a screen is drawn with."""
        inner = tuple(element for part in self.design.parts for element in part.elements)
        cells, pictures = {}, {}
        for ref in sorted(refs_in(screen.elements + inner, screen.ground) - set(self.letterings)):
            try:
                if ref.startswith("picture-"):
                    pictures[ref] = self.picture(self.part(ref)).pixels
                elif found := self.cells(ref):
                    cells[ref] = found
            except MosaicError:
                continue  # a screen says what it lacks
        names = {one.ref: one.name for one in self.file.build.documents}
        return Kit(self.device.passport, self.letterings, cells, pictures, names, self.design)

    def plan(self, part: Part) -> Plan:
        if part.ref not in self._plans:
            self._plans[part.ref] = planned(part.record, self.device, self.kit(part.record))
        return self._plans[part.ref]

    def states(self, part: Part) -> list[State]:
        """The states of a screen, the typical one first."""
        return states_of(self.plan(part))

    def rendered(self, part: Part, state: State | None = None) -> Rendered:
        """A screen in one of its states; the typical one by default."""
        plan = self.plan(part)
        return drawn_in(plan, state or self.states(part)[0])

    @cached_property
    def plans(self) -> dict[str, Plan]:
        """Screens that can be drawn, by reference."""
        found = {}
        for part in self.of("screen"):
            try:
                found[part.ref] = self.plan(part)
            except MosaicError:
                continue
        return found

    @cached_property
    def behaviour(self) -> Behaviour:
        return self.single("behaviour") or Behaviour()

    @cached_property
    def layout(self) -> FileLayout:
        """How the arrays are written."""
        return self.single("layout") or FileLayout()

    @cached_property
    def program(self) -> Program:
        """The schedule: as it was kept, or as it usually is."""
        return self.single("schedule") or usual_program(self.device)

    @cached_property
    def machine(self) -> Machine:
        """What the device does."""
        refs = [part.ref for part in self.of("screen")]
        return machine_of(self.behaviour, self.design, self.plans, self.device.size, refs)

    @cached_property
    def touch_fit(self) -> Fit | None:
        """The fit of the touch panel, from the readings that were kept of its crosses; None where there are none."""
        notes = self.single("touch")
        if notes is None:
            return None
        places = crosses(*self.device.size)
        try:
            return fit(read_readings(notes.readings, len(places)), [(float(x), float(y)) for x, y in places])
        except MosaicError:
            return None


def _frame_cell(number: int, pixels: npt.NDArray[np.uint8]) -> Cell:
    height, width = pixels.shape[:2]
    return Cell(f"frame {number}", pixels, np.ones((height, width), bool), 0, height, width)
