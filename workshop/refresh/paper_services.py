"""An e-paper over its schedule: what stands on it, what former pictures leave, and what each school of cleaning costs."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from mosaic.color.srgb import bytes_to_linear, linear_to_bytes
from mosaic.device.device import Device
from mosaic.exports.rasters import encode_png
from mosaic.forms import from_record
from mosaic.panels.appearance import colors_of
from mosaic.refresh.day.film import Film, filmed
from mosaic.refresh.day.program import Program
from mosaic.refresh.paper.ghost import VISIBLE, GhostModel, Reflectance, residues, seen
from mosaic.refresh.paper.schools import School, SchoolFigures, figures_of, schools_of
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.keys import digest
from workshop.memory import ByteCache
from workshop.refresh.documents import GhostDocument, wire_of
from workshop.refresh.energy_services import plan_of
from workshop.refresh.schedule_services import LENGTHS, day_key, kept_program, scene_of, without_gone
from workshop.stations.exchange import living
from workshop.stations.station import Living

MOST_SHOTS = 500
_films = ByteCache("films", 16 * 2**20)
_schools = ByteCache("schools of cleaning", 2**20)


@dataclass(frozen=True)
class Ghost:
    """What former pictures leave over a day: the largest residue after each update, as a share of the light, and how much of the
    glass can be seen to be off."""

    largest: tuple[float, ...]
    visible: tuple[float, ...]

    @property
    def worst(self) -> int:
        """The number of the update after which most of the glass is off."""
        return max(range(len(self.largest)), key=lambda n: (self.visible[n], self.largest[n]), default=0)


@dataclass(frozen=True)
class SchoolRow:
    """A school with what it costs, the worst residue, and whether the build is cleaned so."""

    school: School
    figures: SchoolFigures
    worst: float
    visible: float
    is_here: bool


def model_of(build: Build) -> GhostModel:
    row = shelf.single(build, GhostDocument)
    return row.record if row else GhostModel()


def film_of(life: Living, device: Device, build: Build, program: Program) -> Film:
    """A day of the glass, kept as long as nothing it depends on changes."""
    wire = wire_of(build, device)
    key = digest("film 1", day_key(life, wire, program, LENGTHS["day"], ""))

    def made() -> Film:
        scene = scene_of(life, wire, program)
        return filmed(life.machine, scene, program, LENGTHS["day"], modes=device.passport.refresh, most=MOST_SHOTS)[1]

    return _films.get_or_make(key, made, lambda film: film.byte_count)


def reflectances(film: Film, device: Device) -> Iterator[tuple[Reflectance, tuple[int, ...]]]:
    """(H, W, 3) linear light of each shot, 0..1, with the modes of its refresh; each picture is made once."""
    known: dict[int, Reflectance] = {}
    for shot in film.shots:
        if shot.picture not in known:
            shown = colors_of(film.pixels(shot.picture), device.passport, device.turn)
            if len(known) > 40:
                known.clear()
            known[shot.picture] = bytes_to_linear(shown).astype(np.float32)
        yield known[shot.picture], shot.modes


def ghost_of(film: Film, device: Device, model: GhostModel, celsius: float) -> Ghost:
    """What the model says of each update of a film."""
    key = digest("ghost 1", film.key, from_record(model), celsius)

    def made() -> Ghost:
        largest, visible = [], []
        for _, residue in residues(reflectances(film, device), device.passport.refresh, model, celsius):
            off = np.abs(residue).max(axis=2)
            largest.append(float(off.max()))
            visible.append(float((off >= VISIBLE).mean()))
        return Ghost(tuple(largest), tuple(visible))

    return _schools.get_or_make(key, made, lambda one: 100 + 16 * len(one.largest))


def glass_after(film: Film, device: Device, model: GhostModel, celsius: float, number: int, times: float) -> bytes | None:
    """(H, W, 3) colours of the glass after an update, with its ghost so many times as strong, as bytes; None for none."""
    for count, (meant, residue) in enumerate(residues(reflectances(film, device), device.passport.refresh, model, celsius)):
        if count == number:
            return encoded(seen(meant, residue, times))
    return None


def encoded(light: Reflectance) -> bytes:
    return encode_png(linear_to_bytes(light), level=1)


def is_like(program: Program, other: Program, device: Device) -> bool:
    """Whether two schedules clean alike."""
    last = len(device.passport.refresh) - 1

    def told(one: Program) -> tuple[object, ...]:
        rules = one.cleaning
        return min(one.refresh, last), rules.each, rules.after, rules.at_min, rules.from_share

    return told(program) == told(other)


def school_rows(build: Build, device: Device) -> list[SchoolRow]:
    """Every school over the build's own schedule; the build's own way first where it is none of them."""
    life = living(build, device)
    if life is None:
        return []
    program = without_gone(kept_program(build, device), life)
    model, celsius = model_of(build), plan_of(build, device).celsius
    wire = wire_of(build, device)
    schools = schools_of(device.passport, program)
    if not any(is_like(one.program, program, device) for one in schools):
        schools.insert(0, School("own", "As the build has it", program))
    found = []
    for school in schools:
        key = digest("school 1", day_key(life, wire, school.program, LENGTHS["day"], ""), from_record(model), celsius)

        def made(school: School = school) -> tuple[SchoolFigures, float, float]:
            scene = scene_of(life, wire, school.program)
            day, film = filmed(
                life.machine, scene, school.program, LENGTHS["day"], modes=device.passport.refresh, most=MOST_SHOTS
            )
            ghost = ghost_of(film, device, model, celsius)
            return figures_of(day, device.passport.refresh), max(ghost.largest, default=0.0), max(ghost.visible, default=0.0)

        figures, worst, visible = _schools.get_or_make(key, made, lambda _: 400)
        found.append(SchoolRow(school, figures, worst, visible, is_like(school.program, program, device)))
    return found


def cleaned_by(program: Program, school: School) -> Program:
    """A schedule with a school's cleaning; what is not part of it stays."""
    rules = school.program.cleaning
    return replace(program, refresh=school.program.refresh, cleaning=replace(
        program.cleaning, mode=rules.mode, each=rules.each, after=rules.after, at_min=rules.at_min, from_share=rules.from_share
    ))  # fmt: skip
