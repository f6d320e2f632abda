"""The buffer plan: RAM, passes and frame time of each way to draw, what is left for the program, and which to take."""

from dataclasses import dataclass

from mosaic.device.bands import band_bytes, band_counts, unit_name
from mosaic.device.device import Device
from mosaic.refresh.costs import Wire
from mosaic.refresh.day.program import Program
from mosaic.refresh.pace import runs_ms, work_ms
from mosaic.refresh.speed import why_not_direct
from mosaic.screens.rendering import Rendered
from mosaic.screens.work import Work, work_of

SPARE_SHARE = 0.1
"""Of the board's RAM, below which what is left is too little to be at ease with."""
SLOWER_SHARE = 1.1
"""How much longer a frame may take in bands before a full buffer is worth its RAM."""


@dataclass(frozen=True)
class BufferChoice:
    """One way to buffer a frame.

    Attributes
    ----------
    bands : as the device knows them: 1 a full buffer, 0 none; -1 two full ones.
    ram_bytes : of the buffer. passes : how often the drawing code runs. frame_ms : of a whole frame, drawn and sent.
    left_bytes : RAM beside all that is counted already, negative where it does not fit; external RAM is counted along.
    name : in words. why_not : why it cannot be done; "" where it can.
    """

    bands: int
    name: str
    ram_bytes: int
    passes: int
    frame_ms: float
    left_bytes: int
    why_not: str = ""

    @property
    def fits(self) -> bool:
        return not self.why_not and self.left_bytes >= 0


def _shown_bands(device: Device) -> list[int]:
    """Numbers of bands that are worth a row: two halves, four, and pages of two and of one."""
    counts = band_counts(device.passport)
    glass, form = device.passport.glass, device.passport.format
    length = glass.width_px if form.follow == "columns" else glass.height_px
    wanted = (2, 4, length / 16, length / 8)
    return sorted({max((count for count in counts if count <= one), default=1) for one in wanted} - {1})


def buffer_choices(rendered: Rendered, wire: Wire, taken_bytes: int) -> list[BufferChoice]:
    """All ways to buffer a build whose other needs take so many bytes of RAM, from none to two full buffers.

    `rendered` is the screen that takes longest to draw.
    """
    device = rendered.device
    room = device.board.ram_bytes + device.board.external_ram_bytes - taken_bytes
    work: Work = work_of(list(rendered.calls), device.size)
    drawn, sent = work_ms(work, device, wire.pace), wire.frame()
    size, unit = device.passport.frame_bytes, unit_name(device.passport)
    scan = "the panel has no memory of its own: the board holds the frame" if device.passport.scan is not None else ""
    found = []
    why = why_not_direct(device)
    from_flash = sent.wire_ms
    found.append(BufferChoice(0, "no buffer", 0, 1, from_flash, room, scan or (why and f"screens cannot be drawn: {why}")))
    for bands in reversed(_shown_bands(device)):
        ram = band_bytes(device.passport, bands)
        ms = drawn + runs_ms(work.runs, device, wire.pace) * (bands - 1) + sent.wire_ms
        found.append(BufferChoice(bands, f"{bands} bands of {unit}", ram, bands, ms, room - ram, scan))
    found.append(BufferChoice(1, "a full buffer", size, 1, drawn + sent.wire_ms, room - size))
    found.append(BufferChoice(-1, "two full buffers", 2 * size, 1, max(drawn, sent.wire_ms), room - 2 * size))
    return found


def recommended(choices: list[BufferChoice], ram_bytes: int) -> tuple[BufferChoice | None, str]:
    """The choice to take, with the reason; None where nothing fits."""
    fitting = [one for one in choices if one.fits and one.bands >= 1]
    if not fitting:
        return None, "not even the smallest band fits beside what else needs RAM"
    full = next((one for one in fitting if one.bands == 1), None)
    fewest = min(fitting, key=lambda one: (one.frame_ms, one.ram_bytes))
    if full is not None and full.left_bytes >= SPARE_SHARE * ram_bytes:
        banded = [one for one in fitting if one.bands > 1 and one.frame_ms <= SLOWER_SHARE * full.frame_ms]
        if banded and full.ram_bytes > ram_bytes / 2:
            best = min(banded, key=lambda one: one.bands)
            return best, f"it takes {best.frame_ms / full.frame_ms - 1:.0%} longer than a full buffer, with a fraction of its RAM"
        return full, "it fits with room to spare, and nothing is drawn twice"
    best = next((one for one in sorted(fitting, key=lambda one: one.bands) if one.left_bytes >= SPARE_SHARE * ram_bytes), fewest)
    return best, "a full buffer would leave the program too little RAM"


def second_buffer_bytes(device: Device, program: Program) -> int:
    """RAM of a second full buffer; 0 where there is none, or the first is no full one."""
    return device.passport.frame_bytes if program.two_buffers and device.buffer_bands == 1 else 0
