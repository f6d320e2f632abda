"""Small programs for a device that asks a host for its frames: C99 with sockets, and plain Python."""

from pathlib import Path

from mosaic import firmware
from mosaic.source_text import comment

FOLDER = Path(firmware.__file__).parent / "project"


def _filled(name: str, title: str, host: str, port: int, path: str) -> str:
    """A program with the address of a build's frames in it; the token is given when it is started."""
    text = (FOLDER / name).read_text("utf-8")
    for place, given in (("@TITLE@", comment(title)), ("@HOST@", host), ("@PORT@", str(port)), ("@PATH@", path)):
        text = text.replace(place, given)
    return text


def c_device(title: str, host: str, port: int, path: str) -> str:
    """frame_device.c."""
    return _filled("frame_device.c", title, host, port, path)


def python_device(title: str, host: str, port: int, path: str) -> str:
    """frame_device.py."""
    return _filled("frame_device.py", title, host, port, path)
