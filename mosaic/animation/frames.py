"""Frames of an animated file (GIF, APNG, WebP) or of numbered pictures, one at a time."""

import re
from collections.abc import Iterator
from dataclasses import dataclass

from PIL import Image, ImageOps

from mosaic.apart import apart, apart_by_item
from mosaic.errors import BadPictureError, BadValueError
from mosaic.imports.pictures import SourcePicture, canonical, opened, read_picture

MAX_FRAMES = 600
MAX_ALL_PIXELS = 400_000_000
DEFAULT_MS = 100.0
"""How long a frame stands where its file does not say."""
LEAST_MS = 20.0
CLIP_S = 8.0
"""Processor time in which all frames are looked through once."""
DAMAGE = (EOFError, IndexError, OSError, SyntaxError, ValueError)


@dataclass(frozen=True)
class Clip:
    """An animation's files and what their headers tell: frames, size, and how long each stands (ms)."""

    files: tuple[tuple[str, bytes], ...]
    width: int
    height: int
    durations_ms: tuple[float, ...]

    @property
    def count(self) -> int:
        return len(self.durations_ms)


def numbered_order(names: list[str]) -> list[int]:
    """Places of file names by the numbers in them, as one counts.

    >>> numbered_order(["boat10.png", "boat9.png", "boat1.png"])
    [2, 1, 0]
    """
    keys = [[int(part) if part.isdigit() else part.lower() for part in re.split(r"(\d+)", name)] for name in names]
    return sorted(range(len(names)), key=lambda i: [(isinstance(part, str), part) for part in keys[i]])


@apart(cpu_s=CLIP_S)
def read_clip(files: list[tuple[str, bytes]]) -> Clip:
    """What an animated file, or numbered pictures in any order, hold.

    Raises
    ------
    BadPictureError
        A file is no picture.
    BadValueError
        There are fewer than two frames, or too many.
    """
    if not files:
        raise BadValueError("no file came with this; an animation is one GIF, APNG or WebP, or numbered pictures")
    if len(files) > 1:
        ordered = [files[i] for i in numbered_order([name for name, _ in files])]
        with opened(ordered[0][1], ordered[0][0]) as first:
            width, height = first.size
        durations = [DEFAULT_MS] * len(ordered)
    else:
        ordered = list(files)
        name, data = files[0]
        with opened(data, name) as image:
            width, height = image.size
            count = _count(image, name)
            if count < 2:
                raise BadValueError(
                    f"{name} holds one frame; an animation needs two or more, in one file or as numbered pictures"
                )
            _check_size(count, width, height)
            durations = [_duration(image, number) for number in range(count)]
    _check_size(len(durations), width, height)
    return Clip(tuple(ordered), width, height, tuple(durations))


def _count(image: Image.Image, name: str) -> int:
    try:
        return getattr(image, "n_frames", 1)
    except DAMAGE as error:
        raise BadPictureError(f"{name} breaks off among its frames; save it again") from error


def _check_size(count: int, width: int, height: int) -> None:
    if count > MAX_FRAMES:
        raise BadValueError(f"the animation has {count} frames; {MAX_FRAMES} are accepted")
    if count * width * height > MAX_ALL_PIXELS:
        raise BadValueError(
            f"{count} frames of {width} x {height} are {count * width * height / 1e6:,.0f} million pixels;"
            f" {MAX_ALL_PIXELS // 10**6} million are accepted"
        )


def _duration(image: Image.Image, number: int) -> float:
    try:
        image.seek(number)
        image.load()  # one of the forms tells a frame's time only with its pixels
    except DAMAGE as error:
        raise BadPictureError(f"the animation breaks off at frame {number + 1}; save it again") from error
    # A frame of no time at all is shown by nobody; players make it a tenth of a second.
    stated = float(image.info.get("duration", 0) or 0)
    return stated if stated >= LEAST_MS / 2 else DEFAULT_MS


@apart_by_item()
def frames_of(clip: Clip) -> Iterator[SourcePicture]:
    """The frames one after the other, each whole: what a file says only in part is laid over the frame before.

    Raises
    ------
    BadPictureError
        A frame is damaged.
    """
    if len(clip.files) > 1:
        for name, data in clip.files:
            yield read_picture(data, name)
        return
    name, data = clip.files[0]
    with opened(data, name) as image:
        format_name = image.format or ""
        for number in range(clip.count):
            try:
                image.seek(number)
                image.load()
                yield canonical(ImageOps.exif_transpose(image.copy()), format_name)
            except DAMAGE as error:
                raise BadPictureError(f"{name} is damaged at frame {number + 1}; save it again") from error
