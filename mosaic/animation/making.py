"""Frames to windows: reduced without crawl, packed, played through the virtual panel, and timed on the device's link."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Annotated, Literal

import numpy as np
import numpy.typing as npt
from msgspec import Meta

from mosaic.animation.frames import Clip, frames_of
from mosaic.color.srgb import linear_to_bytes
from mosaic.conversion.pipeline import fit_stage, pack
from mosaic.conversion.reducing import checked_runs, reduced
from mosaic.device.budget import send_s
from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.panels.geometry import to_host
from mosaic.panels.windows import Rect, addressable, changed_rect, rect_to_host
from mosaic.panels.wire import Part, frame_parts, setup_part, window_parts
from mosaic.pixels.direct import pack_direct
from mosaic.pixels.formats import DirectFormat, IndexedFormat
from mosaic.pixels.indexed import pack_indexed
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.region import painted
from mosaic.reduce.tone import apply_tone
from mosaic.virtual.panel import shown_pixels, virtual_panel

PixelArray = npt.NDArray[np.uint8]
SAME = 2
"""Encoded steps of 255 by which a source pixel may change and still count as the same."""


@dataclass(frozen=True)
class AnimationPlan:
    """How an animation is made.

    Attributes
    ----------
    recipe : for every frame.
    rate_fps : frames a second asked for; 0 keeps the times of the file.
    hold : a pixel whose source stands still keeps its value, whatever the method would make of it.
    windows : send only what changes.
    every : take every so-manieth frame.
    """

    recipe: Recipe = field(default=Recipe(method="blue-noise"))
    rate_fps: Annotated[float, Meta(ge=0, le=120)] = 0.0
    hold: bool = True
    windows: bool = True
    every: Annotated[int, Meta(ge=1, le=60)] = 1
    form: Literal[1] = field(default=1)


class NotShownError(MosaicError):
    """The virtual panel does not show a frame that was sent. This is a fault of ours, never passed over."""


@dataclass(frozen=True, eq=False)
class MadeFrame:
    """One frame: its pixels as the reader sees them, the window sent, its bytes and time on the wire.

    `window` is in host axes, None where nothing changes; `asked_ms` is how long the frame is to stand.
    """

    pixels: PixelArray
    window: Rect | None
    packed: bytes
    wire_bytes: int
    send_s: Fraction
    asked_ms: float


@dataclass(frozen=True, eq=False)
class MadeAnimation:
    """All frames, and what they cost.

    `crawl_share` is the share of pixels that change from frame to frame though their source does not.
    """

    frames: tuple[MadeFrame, ...]
    crawl_share: float
    shown_ms: float

    @property
    def stored_bytes(self) -> int:
        return sum(len(frame.packed) for frame in self.frames)

    @property
    def slowest_s(self) -> float:
        """Time of the slowest frame but the first, which is sent before anything moves: link, and the panel's own."""
        return max((float(frame.send_s) for frame in self.frames[1:]), default=0.0) + self.shown_ms / 1000

    @property
    def best_fps(self) -> float:
        """Frames a second that every frame keeps."""
        return 1 / self.slowest_s if self.slowest_s else 0.0


def _times(clip: Clip, plan: AnimationPlan) -> list[float]:
    if plan.rate_fps:
        return [1000 / plan.rate_fps] * len(range(0, clip.count, plan.every))
    return [sum(clip.durations_ms[i : i + plan.every]) for i in range(0, clip.count, plan.every)]


def _reduced_frames(clip: Clip, plan: AnimationPlan, device: Device) -> Iterator[tuple[PixelArray, npt.NDArray[np.bool_] | None]]:
    """Pixels of every frame that is taken, and (H, W) where its source is as before; None for the first."""
    before: PixelArray | None = None
    pixels: PixelArray | None = None
    for number, source in enumerate(frames_of(clip)):
        if number % plan.every:
            continue
        toned = apply_tone(fit_stage(source, plan.recipe, device.passport, device.turn).linear, plan.recipe)
        seen = linear_to_bytes(toned)
        still = None if before is None else (np.abs(seen.astype(np.int16) - before) <= SAME).all(axis=-1)
        fresh = reduced(toned, plan.recipe, device.passport, device.turn)
        if plan.hold and still is not None and pixels is not None:
            fresh[still] = pixels[still]
        pixels = painted(fresh, checked_runs(plan.recipe.pixel_edits, device.passport))
        # What was held is compared with the frame it comes from, so that a slow fade is not held for ever.
        if plan.hold and still is not None and before is not None:
            before = np.where(still[..., None], before, seen)
        else:
            before = seen
        yield pixels, still


def _window_bytes(pixels: PixelArray, window: Rect, device: Device, form: IndexedFormat | DirectFormat) -> bytes:
    part = np.ascontiguousarray(window.of(to_host(pixels, device.passport, device.turn)))
    return pack_direct(part, form) if isinstance(form, DirectFormat) else pack_indexed(part, form)


def _sent(
    pixels: PixelArray, before: PixelArray | None, plan: AnimationPlan, device: Device
) -> tuple[Rect | None, bytes, tuple[Part, ...]]:
    """Window (None for nothing), bytes and transmission: of what changes, or of the whole frame where that is no more.

    Bytes are kept in the form in which the program takes arrays, and sent in the panel's own.
    """
    passport, turn = device.passport, device.turn
    own, taken = passport.format, device.sending.array_format(passport)
    if before is not None:
        changed = changed_rect(before, pixels)
        if changed is None:
            return None, b"", ()
        window = addressable(rect_to_host(changed, passport, turn), passport, turn)
        whole = (window.width, window.height) == to_host(pixels, passport, turn).shape[1::-1]
        if plan.windows and not whole:
            packed = _window_bytes(pixels, window, device, own)
            parts = window_parts(passport, turn, window, packed, _window_bytes(before, window, device, own))
            return window, packed if taken == own else _window_bytes(pixels, window, device, taken), parts
    packed = pack(pixels, passport, turn)
    height, width = to_host(pixels, passport, turn).shape[:2]
    parts = frame_parts(passport, turn, packed)
    if before is not None and passport.technology == "epaper":
        # After a whole picture the drive voltages are off; the panel is woken for the next.
        parts = (setup_part(passport, turn), *parts)
    whole_glass = Rect(0, 0, width, height)
    return whole_glass, packed if taken == own else _window_bytes(pixels, whole_glass, device, taken), parts


def make_animation(
    clip: Clip, plan: AnimationPlan, device: Device, step: Callable[[int, int], None] = lambda done, total: None
) -> MadeAnimation:
    """Every frame reduced, packed and shown by the virtual panel.

    `step(done, total)` is called before each frame; what it raises ends the work.

    Raises
    ------
    BadPictureError
        A frame is damaged.
    NotShownError
        The virtual panel shows something else than was sent.
    """
    METHODS[plan.recipe.method]
    times = _times(clip, plan)
    panel = virtual_panel(device.passport)
    panel.play(setup_part(device.passport, device.turn).transactions)
    frames: list[MadeFrame] = []
    restless, quiet = 0, 0
    for number, (pixels, still) in enumerate(_reduced_frames(clip, plan, device)):
        step(number, len(times))
        before = frames[-1].pixels if frames else None
        window, packed, parts = _sent(pixels, before, plan, device)
        for part in parts:
            panel.play(part.transactions)
        if parts and not np.array_equal(shown_pixels(panel, device.turn), pixels):
            raise NotShownError(f"frame {number + 1} is not what the virtual panel shows; nothing was given out")
        if before is not None and still is not None:
            differs = pixels != before
            differs = differs.any(axis=-1) if differs.ndim == 3 else differs
            restless, quiet = restless + int((differs & still).sum()), quiet + int(still.sum())
        wire = sum(part.byte_count for part in parts)
        frames.append(MadeFrame(pixels, window, packed, wire, send_s(device, parts), times[number]))
    step(len(times), len(times))
    refresh = device.passport.refresh
    # A panel that is driven anew takes its own time; its quickest way is meant.
    shown_ms = min((mode.time_ms for mode in refresh), default=0.0)
    return MadeAnimation(tuple(frames), restless / quiet if quiet else 0.0, shown_ms)
