"""Findings on memory: what must fit the board's RAM and flash."""

from mosaic.device.bands import band_bytes
from mosaic.device.budget import COPIED, Budget, bands_that_fit
from mosaic.device.device import Device
from mosaic.findings import Finding, Fix
from mosaic.findings.subjects import DeviceSubject

KIB = 1024
SCAN_SHARE = 0.6
"""Share of the external RAM's speed above which a scan is felt, typical."""


def kib(value: float) -> str:
    """Bytes in KiB with one decimal.

    >>> kib(115200)
    '112.5 KiB'
    """
    return f"{value / KIB:,.1f} KiB"


def buffer_exceeds_ram(ram: Budget) -> bool:
    return ram.limit is not None and ram.value > ram.limit


def frame_buffer_larger_than_ram(subject: DeviceSubject) -> list[Finding]:
    """The buffer and what else needs RAM do not fit."""
    ram, device = subject.budget("ram"), subject.device
    if not buffer_exceeds_ram(ram) or tables_larger_than_ram(subject):
        return []
    how = "A full frame" if device.buffer_bands == 1 else f"A frame in {device.buffer_bands} bands"
    return [
        Finding(
            "memory.buffer-exceeds-ram",
            "must fix",
            "RAM",
            f"{how} does not fit the RAM",
            f"It takes {kib(device.buffer_bytes)}; the board has {kib(ram.limit or 0)}, of which {_in_use(ram)}."
            " It crashes at start or draws noise.",
            _smaller_buffer(device, ram),
        )
    ]


def scan_needs_its_frame(subject: DeviceSubject) -> list[Finding]:
    """A panel without memory is drawn from a whole frame, and nothing else will do."""
    device = subject.device
    if device.passport.scan is None or device.buffer_bands == 1:
        return []
    return [
        Finding(
            "memory.scan-needs-whole-frame",
            "must fix",
            "RAM",
            "This panel has no memory: it needs a whole frame in RAM",
            f"It is scanned {device.passport.scan.rate_hz:g} times a second out of {kib(device.passport.frame_bytes)};"
            " drawn in bands or straight from flash it shows nothing that stands still.",
            Fix("Keep a full buffer", "device", {"buffer_bands": 1}, f"then {kib(device.passport.frame_bytes)}"),
        )
    ]


def scan_bandwidth_mb_s(device: Device) -> float:
    """What the scan reads: pixel clock x bytes a pixel, in MB/s."""
    return device.clock_hz * device.passport.format.bits / 8 / 1e6


def scan_starves_memory(subject: DeviceSubject) -> list[Finding]:
    """The scan takes more of the external RAM's speed than leaves room for drawing."""
    device, board = subject.device, subject.device.board
    if (
        device.passport.scan is None
        or device.buffer_bytes <= board.ram_bytes - board.reserve_bytes
        or not board.external_ram_mb_s
    ):
        return []
    taken = scan_bandwidth_mb_s(device)
    if taken <= SCAN_SHARE * board.external_ram_mb_s:
        return []
    return [
        Finding(
            "memory.scan-starves-drawing",
            "worth fixing",
            "RAM",
            f"The scan reads {taken:,.0f} of {board.external_ram_mb_s:g} MB/s",
            "Drawing and decoding wait for the rest (typical): movement stutters, and a late line shows as a shifted picture."
            " A lower pixel clock gives them room.",
            _slower_scan(device),
        )
    ]


def _slower_scan(device: Device) -> Fix | None:
    scan, board = device.passport.scan, device.board
    megahertz = int(SCAN_SHARE * board.external_ram_mb_s * 8 / device.passport.format.bits)
    if scan is None or megahertz < 1:
        return None
    rate = megahertz * 1e6 / (scan.total_width * scan.total_height)
    return Fix(
        f"Clock the scan at {megahertz} MHz", "device", {"clock_hz": megahertz * 1_000_000}, f"then {rate:.0f} scans a second"
    )


def _in_use(ram: Budget) -> str:
    """What else is in RAM, part by part."""
    others = [part for part in ram.parts if "buffer" not in part.name and part.value]
    return ", ".join(f"{kib(part.value)} {part.name} ({part.basis})" for part in others) or "nothing else is in use"


def _smaller_buffer(device: Device, ram: Budget) -> Fix | None:
    if device.passport.scan is not None:
        return None  # nothing less than a frame will do; the board needs more RAM
    taken = ram.value - device.buffer_bytes
    if taken > (ram.limit or 0):
        return None  # it would not fit without a buffer either
    bands = bands_that_fit(device, taken)
    if bands is None:
        return Fix("Send pictures from flash, without a buffer", "device", {"buffer_bands": 0}, "then 0 KiB")
    size = band_bytes(device.passport, bands)
    return Fix(f"Draw in {bands} bands", "device", {"buffer_bands": bands}, f"then {kib(size)}")


def tables_larger_than_ram(subject: DeviceSubject) -> list[Finding]:
    """Tables that the board copies to RAM fill it by themselves."""
    ram, board = subject.budget("ram"), subject.device.board
    copied = sum(part.value for part in ram.parts if part.name == COPIED)
    if not copied or copied + board.reserve_bytes <= (ram.limit or 0):
        return []
    why = (
        f"The board has {kib(ram.limit or 0)} and {kib(board.reserve_bytes)} is in use (typical). Give its tables the qualifier"
        " that keeps them in flash: it is set on the board’s page, and every header follows."
    )
    return [Finding("memory.tables-exceed-ram", "must fix", "RAM", f"{kib(copied)} of arrays are copied to RAM at start", why)]


def contents_exceed_flash(flash: Budget) -> bool:
    return flash.limit is not None and flash.value > flash.limit


def contents_larger_than_flash(subject: DeviceSubject) -> list[Finding]:
    """Program, pictures, letterings and all the rest do not fit the flash."""
    flash, board = subject.budget("flash"), subject.device.board
    if not contents_exceed_flash(flash):
        return []
    stored = [part for part in flash.parts if part.name != "program"]
    made_of = ", ".join(f"{part.name} {kib(part.value)}" for part in stored) or "nothing but the program"
    return [
        Finding(
            "memory.contents-exceed-flash",
            "must fix",
            "Flash",
            f"What is made for this build does not fit the flash: {made_of}",
            f"The board has {kib(board.flash_bytes)}, and a usual program takes {kib(board.program_bytes)} (typical)."
            " The upload is refused. Leave something out, keep it compressed, or choose a board with more flash.",
        )
    ]
