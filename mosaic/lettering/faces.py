"""The faces that come with the application. A new one is a file in `fonts` and an entry in its list."""

import tomllib
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from mosaic.apart import trust
from mosaic.lettering.segment_face import segment_font
from mosaic.lettering.source import font_info
from mosaic.registry import Registry

FOLDER = Path(__file__).resolve().parent / "fonts"


@dataclass(frozen=True)
class Face:
    """A shipped face: its name, what it is good for, where it lies, and under which licence."""

    slug: str
    name: str
    about: str
    licence: str
    licence_file: str = ""
    file: str = ""
    drawn: str = ""

    @property
    def data(self) -> bytes:
        """The font's bytes."""
        return _data(self.file)

    @property
    def licence_text(self) -> str:
        """The licence in full; empty for the application's own."""
        return (FOLDER / self.licence_file).read_text("utf-8") if self.licence_file else ""


@cache
def _data(file: str) -> bytes:
    data = (FOLDER / file).read_bytes() if file else segment_font()
    trust(data)
    return data


def _read() -> tuple[Face, ...]:
    entries = tomllib.loads((FOLDER / "faces.toml").read_text("utf-8"))["face"]
    return tuple(Face(**entry) for entry in entries)


def read_all() -> None:
    """Read every face once, so that whoever asks for one first does not wait for it."""
    for face in FACES.values():
        font_info(face.data, face.name)


FACES: Registry[Face] = Registry("face", _read(), lambda face: face.slug)
