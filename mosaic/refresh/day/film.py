"""What stands on the glass over a day: each drawing with its moment, its refresh, and its pixels."""

import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from hashlib import blake2b
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import Happening
from mosaic.panels.supply import RefreshMode
from mosaic.refresh.day.engine import MS, Day, Look, run_day
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.scene import DeviceScene
from mosaic.screens.rendering import as_pixels


@dataclass(frozen=True)
class Shot:
    """What stands on the glass from a moment on: ms, number of the picture in its film, modes of the refresh that brought it."""

    at_ms: int
    picture: int
    modes: tuple[int, ...]


class Film:
    """Shots of a day, in order, and their pictures, each kept once and small.

    `length_ms` is that of the day, or to the last shot where there were too many.
    """

    def __init__(self, shots: Sequence[Shot], pictures: Sequence[bytes], shape: tuple[int, ...], length_ms: int) -> None:
        self.shots, self._pictures, self._shape, self.length_ms = tuple(shots), tuple(pictures), shape, length_ms

    def __len__(self) -> int:
        return len(self.shots)

    @cached_property
    def key(self) -> str:
        """Of all that it shows."""
        made = blake2b(repr((self.shots, self._shape, self.length_ms)).encode(), digest_size=16)
        for one in self._pictures:
            made.update(one)
        return made.hexdigest()

    @property
    def byte_count(self) -> int:
        return sum(len(one) for one in self._pictures) + 100 * len(self.shots)

    @property
    def picture_count(self) -> int:
        return len(self._pictures)

    def pixels(self, picture: int) -> npt.NDArray[np.uint8]:
        """A picture: palette indices (H, W) or RGB (H, W, 3), as the reader sees them."""
        return np.frombuffer(zlib.decompress(self._pictures[picture]), np.uint8).reshape(self._shape)

    def lasting_ms(self) -> list[int]:
        """For how long each picture stood, in ms, by its number."""
        found = [0] * len(self._pictures)
        for number, shot in enumerate(self.shots):
            end = self.shots[number + 1].at_ms if number + 1 < len(self.shots) else self.length_ms
            found[shot.picture] += max(0, end - shot.at_ms)
        return found


MOST_PICTURES, MOMENTS = 300, 240


def standing(
    machine: Machine, scene: DeviceScene, program: Program, length_ms: int
) -> tuple[list[tuple[npt.NDArray[np.uint8], float]], bool]:
    """Every picture of a day with the share of the time for which it stood; and whether only some moments were looked at.

    Where more than `MOST_PICTURES` came up, the glass is looked at in `MOMENTS` moments at equal steps instead.
    """
    exact: dict[tuple[int, Look], int] = {}
    sampled: dict[tuple[int, Look], int] = {}
    last: list[Any] = [0, None]
    step = max(1, length_ms * MS // MOMENTS)

    def till(end: int) -> None:
        begin, key = last
        if key is None:
            return
        if len(exact) <= MOST_PICTURES:
            exact[key] = exact.get(key, 0) + end - begin
        moments = -(-end // step) - -(-begin // step)
        if moments > 0:
            sampled[key] = sampled.get(key, 0) + moments

    def watch(at: int, screen: int, look: Look, _: tuple[int, ...]) -> None:
        till(min(at, length_ms * MS))
        last[:] = [at, (screen, look)]

    run_day(machine, scene, program, length_ms, bins=24, watch=watch)
    till(length_ms * MS)
    is_sampled = len(exact) > MOST_PICTURES
    found = sampled if is_sampled else exact
    total = sum(found.values()) or 1
    return [
        (as_pixels(scene.glass(*key), scene.device(key[0]).passport), weight / total)
        for key, weight in found.items() if scene.can_draw(key[0])
    ], is_sampled  # fmt: skip


def filmed(
    machine: Machine,
    scene: DeviceScene,
    program: Program,
    length_ms: int,
    *,
    modes: Sequence[RefreshMode] = (),
    most: int = 500,
    inputs: Sequence[tuple[int, Happening]] = (),
) -> tuple[Day, Film]:
    """A day with its film, which ends after `most` shots."""
    shots: list[Shot] = []
    numbers: dict[tuple[int, Any], int] = {}
    looks: list[tuple[int, Look]] = []

    def watch(at: int, screen: int, look: Look, taken: tuple[int, ...]) -> None:
        if len(shots) < most and scene.can_draw(screen):
            key = screen, look
            if key not in numbers:
                numbers[key] = len(looks)
                looks.append(key)
            shots.append(Shot(at // MS, numbers[key], taken))

    day = run_day(machine, scene, program, length_ms, inputs=inputs, bins=24, modes=modes, watch=watch)
    pictures, shape = [], (0, 0)
    for screen, look in looks:
        pixels = as_pixels(scene.glass(screen, look), scene.device(screen).passport)
        pictures.append(zlib.compress(np.ascontiguousarray(pixels).tobytes(), 1))
        shape = pixels.shape
    length = length_ms if len(shots) < most else shots[-1].at_ms
    return day, Film(shots, pictures, shape, length)
