"""The files of an animation: one stream of windows with its table in C, as raw bytes and as CSV, and a preview."""

import csv
import io
import json
import zipfile
from typing import Any

import numpy as np
from PIL import Image

from mosaic.animation.making import MadeAnimation
from mosaic.device.device import Device
from mosaic.exports.code import hex_lines
from mosaic.panels.appearance import colors_of
from mosaic.source_text import comment, identifier
from mosaic.tables import entry_reader

COLUMNS = ("frame", "x", "y", "width", "height", "offset", "bytes", "stands_ms", "send_ms")


def table(made: MadeAnimation) -> list[tuple[int, ...]]:
    """(x, y, width, height, offset, bytes, stands_ms) of every frame, host axes; all 0 but the last where nothing changes."""
    rows: list[tuple[int, ...]] = []
    offset = 0
    for frame in made.frames:
        box = (frame.window.x, frame.window.y, frame.window.width, frame.window.height) if frame.window else (0, 0, 0, 0)
        rows.append((*box, offset, len(frame.packed), round(frame.asked_ms)))
        offset += len(frame.packed)
    return rows


def stream(made: MadeAnimation) -> bytes:
    """The packed windows, one behind the other."""
    return b"".join(frame.packed for frame in made.frames)


def c_header(name: str, made: MadeAnimation, device: Device) -> bytes:
    """A C99 header: the stream, and a table of windows."""
    word = identifier(name, "animation")
    data, rows = stream(made), table(made)
    lines = ",\n".join(f"    {{{', '.join(str(v) for v in row)}}}" for row in rows)
    about = comment(f"{name}, {len(rows)} frames for: {device.passport.name}")
    return (
        f"/*\n * {about}\n * {device.sending.array_format(device.passport).describe()}\n"
        " * Set each frame's window and send its bytes; a frame of no bytes changes nothing.\n */\n"
        f"#ifndef {word.upper()}_H\n#define {word.upper()}_H\n\n{device.board.tables.preamble()}\n"
        f"#define {word.upper()}_FRAMES {len(rows)}u\n#define {word.upper()}_BYTES {len(data)}u\n\n"
        f"struct {word}_frame {{ uint16_t x, y, width, height; uint32_t offset, bytes; uint16_t stands_ms; }};\n\n"
        f"static const struct {word}_frame {word}_frames[{len(rows)}] TABLE_STORED = {{\n{lines}\n}};\n\n"
        f"static const uint8_t {word}[{max(1, len(data))}] TABLE_STORED = {{\n{hex_lines(data or bytes(1))}\n}};\n\n"
        f"/* One frame of the table; the bytes of the stream are read by TABLE_READ. */\n"
        f"{entry_reader(f'struct {word}_frame', f'{word}_frame_at', f'{word}_frames')}\n#endif\n"
    ).encode()


def index_csv(made: MadeAnimation) -> bytes:
    """The table as CSV, with the time on the wire."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for number, (row, frame) in enumerate(zip(table(made), made.frames, strict=True)):
        writer.writerow((number, *row, f"{float(frame.send_s) * 1000:.3f}"))
    return out.getvalue().encode()


def stands_ms(made: MadeAnimation) -> list[int]:
    """How long each frame stands on this device: as asked, or as long as the link and the panel need."""
    return [max(round(frame.asked_ms), round(float(frame.send_s) * 1000 + made.shown_ms)) for frame in made.frames]


def preview(made: MadeAnimation, device: Device) -> bytes:
    """APNG in the panel's measured colours, at the rate the device keeps."""
    images = [Image.fromarray(colors_of(frame.pixels, device.passport, device.turn)) for frame in made.frames]
    out = io.BytesIO()
    images[0].save(
        out, "PNG", save_all=True, append_images=images[1:], duration=stands_ms(made), loop=0, compress_level=1,
        default_image=False,
    )  # fmt: skip
    return out.getvalue()


def figures(made: MadeAnimation, device: Device) -> dict[str, Any]:
    """What is said of an animation, as plain values; units are in the names."""
    whole = device.passport.frame_bytes
    sent = made.frames[1:]
    return {
        "frames": len(made.frames),
        "bytes": made.stored_bytes,
        "whole_bytes": whole * len(made.frames),
        "still_frames": sum(frame.window is None for frame in sent),
        "mean_window_share": round(float(np.mean([len(f.packed) / whole for f in sent])), 4) if sent else 1.0,
        "slowest_ms": round(made.slowest_s * 1000, 2),
        "best_fps": round(made.best_fps, 2),
        "asked_fps": round(1000 * len(made.frames) / sum(frame.asked_ms for frame in made.frames), 2),
        "crawl_share": round(made.crawl_share, 5),
        "refresh_ms": made.shown_ms,
    }


def zip_of(name: str, made: MadeAnimation, device: Device) -> bytes:
    """All files of an animation."""
    word = identifier(name, "animation")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(f"{word}.h", c_header(name, made, device))
        archive.writestr(f"{word}.bin", stream(made))
        archive.writestr(f"{word}.csv", index_csv(made))
        archive.writestr("preview.png", preview(made, device))
        archive.writestr("figures.json", json.dumps(figures(made, device), indent=2))
    return out.getvalue()
