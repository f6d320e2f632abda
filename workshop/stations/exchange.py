"""What stations take of one another, by reference."""

from typing import Any

from mosaic.device.device import Device
from mosaic.lettering.glyph import Lettering
from mosaic.reduce.recipe import Recipe
from mosaic.strips.cells import Cell
from workshop.builds.models import Build
from workshop.documents.models import Document
from workshop.stations import stations
from workshop.stations.station import FrameSource, LiveFeed, Living, Pixels, ShownScreen


def pixels_of(build: Build, device: Device, ref: str) -> Pixels | None:
    """The whole glass that a reference names; None where no station knows it."""
    return next((found for s in stations() if (found := s.pixels(build, device, ref)) is not None), None)


def offered_cells(build: Build, device: Device, ref: str) -> tuple[Cell, ...]:
    """The cells that a reference names; none where no station knows it, or they cannot be made."""
    return next((found for s in stations() if (found := s.cells(build, device, ref)) is not None), ())


def offered_lettering(build: Build, device: Device, ref: str, scale: float = 1.0) -> Lettering | None:
    """The lettering that a reference names, so many times as large where its size is set in pixels; None where no station
    knows it, or it cannot be made."""
    return next((found for s in stations() if (found := s.lettering(build, device, ref, scale)) is not None), None)


def shown_screens(build: Build, device: Device) -> list[ShownScreen]:
    """All screens of a build that can be drawn, as the stations have them."""
    return [screen for station in stations() for screen in station.shown_screens(build, device)]


def living(build: Build, device: Device) -> Living | None:
    """What a build does; None where there is nothing to run."""
    return next((found for s in stations() if (found := s.living(build, device)) is not None), None)


def dim_when_quiet(build: Build, after_ms: int, percent: int) -> bool:
    """The light goes down when the device is not touched for so long; False where nothing could bring it up again."""
    return any(station.dim_when_quiet(build, after_ms, percent) for station in stations())


def offered_texts(build: Build) -> list[str]:
    """Texts that the device shows, as the stations know them, each once."""
    return list(dict.fromkeys(text for station in stations() for text in station.texts(build)))


def frame_sources(build: Build, device: Device) -> list[FrameSource]:
    """Everything of a build that can be served as frames."""
    return [source for station in stations() for source in station.frame_sources(build, device)]


def live_feed(build: Build) -> LiveFeed | None:
    """The feed by which a program draws on the build's virtual panel."""
    return next((found for s in stations() if (found := s.live_feed(build)) is not None), None)


def live_values(build: Build) -> dict[str, str]:
    """What the maker's own program has sent of values, by name, as it was written."""
    return {name: reading for station in stations() for name, reading in station.live_values(build).items()}


def bring_picture(*, build: Build, data: bytes, file_name: str, name: str, recipe: Recipe, owner: Any) -> Document:
    """A picture that one station has found, as a document of the first that makes some of it."""
    told = {"build": build, "data": data, "file_name": file_name, "name": name, "recipe": recipe, "owner": owner}
    return next(made for s in stations() if (made := s.take_picture(**told)) is not None)


def bring_cells(*, build: Build, data: bytes, name: str, owner: Any) -> Document:
    """A small picture that one station has found, as a document of the first that makes cells of it."""
    told = {"build": build, "data": data, "name": name, "owner": owner}
    return next(made for s in stations() if (made := s.take_cells(**told)) is not None)


def copy_all(origin: Build, build: Build) -> None:
    """Everything that is made for one build, as it is now, for another."""
    refs: dict[str, str] = {}
    for station in stations():
        station.copy(origin, build, refs)


def left_behind_in_words(build: Build) -> str:
    """What no copy of a build brings along, of that which it has: "readings, touch"; "" for nothing.

    Readings, stages and the like say what was seen on one device.
    """
    copied = [kind for s in stations() for kind in s.copied()]
    behind = [kind for s in stations() for kind in s.documents if kind not in copied and not kind.OF_DEVICE]
    return ", ".join(kind.NOUN for kind in behind if kind.objects.filter(build=build).exists())


def contents_in_words(build: Build) -> str:
    """What `copy_all` would bring along: "3 pictures, 2 letterings"; "" for nothing."""
    counts = [(kind, kind.objects.filter(build=build).count()) for s in stations() for kind in s.copied()]
    return ", ".join(f"{count} {kind.NOUN}{'' if count == 1 else 's'}" for kind, count in counts if count and not kind.SINGLE)
