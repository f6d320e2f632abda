"""What a passport's page shows, for a panel of the catalogue, a maker's own, or that of a build."""

from dataclasses import dataclass
from typing import Any

from django.http import HttpRequest

from mosaic.errors import BadValueError
from mosaic.links import total_s, wire_steps
from mosaic.links.kinds import KINDS
from mosaic.panels.geometry import Orientation
from mosaic.panels.passport import ROTATIONS, Passport
from mosaic.panels.sequence import PLANE, parse
from mosaic.panels.supply import LinkOption
from mosaic.panels.wire import frame_parts
from workshop.panels.drawing import byte_words, draw
from workshop.panels.shown import driven
from workshop.panels.tiles import first_bytes


@dataclass(frozen=True)
class LinkLine:
    """A link of a panel in words, and the time of a whole frame at its usual clock."""

    option: LinkOption
    name: str
    clock_name: str
    frame_ms: float


@dataclass(frozen=True)
class SetupLine:
    """A step of a sequence: its bytes, and what it does."""

    kind: str
    text: str
    words: str


PLAIN_WORDS = {"reset": "pulse the reset line", "busy": "wait until the panel is idle"}


def orientation_from(request: HttpRequest, passport: Passport) -> Orientation:
    """The orientation of an address, or the panel's usual one.

    Raises
    ------
    BadValueError
        The turn is not one of the four.
    """
    text = request.GET.get("turn", "")
    if text == "":
        return Orientation(passport.rotation)
    if text not in {str(r) for r in ROTATIONS}:
        raise BadValueError(f"a turn of {text!r} is not known; panels lie turned by 0, 90, 180 or 270 degrees")
    return Orientation(int(text), request.GET.get("mirrored") == "1")  # type: ignore[arg-type]


def links_of(passport: Passport) -> list[LinkLine]:
    """Every link of a panel, without a board's gaps and limits."""
    parts = frame_parts(passport, passport.rotation, bytes(passport.frame_bytes))
    lines = []
    for option in passport.links:
        kind = KINDS[option.kind]
        settings = {"total_pixels": passport.scan.total_width * passport.scan.total_height} if passport.scan else {}
        seconds = total_s(wire_steps(parts, kind.make(option.usual_clock_hz, **settings)))
        lines.append(LinkLine(option, kind.name, kind.clock_name, float(seconds * 1000)))
    return lines


def setup_lines(text: str) -> list[SetupLine]:
    """A sequence step by step. A note stands once, at the first step of its line."""
    lines: list[SetupLine] = []
    for step in parse(text):
        words = step.note or PLAIN_WORDS.get(step.kind, "the packed bytes" if PLANE in step.tokens else "")
        if step.kind == "delay":
            lines.append(SetupLine("wait", f"{step.wait_ms:g} ms", step.note or "wait"))
        elif step.kind in ("reset", "busy"):
            lines.append(SetupLine(step.kind, step.kind, words))
        elif step.kind == "data" and lines and lines[-1].kind == "command":
            last = lines.pop()
            lines.append(SetupLine("command", f"{last.text} · {' '.join(step.tokens)}", last.words or words))
        else:
            lines.append(SetupLine(step.kind, " ".join(step.tokens), words))
    return lines


def window_bytes(passport: Passport) -> int:
    """Bytes that open a window (or a page) before its pixels, the write command among them; 0 for whole frames."""
    if passport.grid.whole_frames or not passport.sequences.window:
        return 0
    parts = frame_parts(passport, passport.rotation, bytes(passport.frame_bytes))
    planes = len(passport.sequences.write)
    sent = [t for part in parts if part.name != "show" for t in part.transactions if not t.is_pixels]
    pages = passport.glass.height_px // passport.grid.y_px if passport.sequences.per == "page" else planes
    return sum(len(t.data) for t in sent) // pages


def passport_context(passport: Passport, lies: Orientation) -> dict[str, Any]:
    """Everything the parts of a passport's page need."""
    sequences = passport.sequences
    palette = passport.palette
    return {
        "passport": passport,
        "lies": lies,
        "drawing": draw(passport, lies),
        "driven": driven(passport, lies),
        "byte_words": byte_words(passport),
        "first": first_bytes(passport, lies),
        "links": links_of(passport),
        "setup": setup_lines(sequences.setup),
        "sending": setup_lines("\n".join([sequences.window, *sequences.write, sequences.show])),
        "swatches": list(zip(palette.names, palette.nominal, palette.measured, strict=True)) if palette else [],
        "many_swatches": bool(palette and len(palette) > 8),
        "window_bytes": window_bytes(passport),
    }
