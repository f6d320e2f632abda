"""The ordered lists of all rules. A new rule is a function, one line here and a test."""

from collections.abc import Callable

from mosaic.findings import Finding, limits, memory, mounting, pictures
from mosaic.findings.subjects import DeviceSubject, PictureSubject

DEVICE_RULES: tuple[Callable[[DeviceSubject], list[Finding]], ...] = (
    mounting.bezel_hides_pixels,
    memory.scan_needs_its_frame,
    memory.scan_starves_memory,
    memory.frame_buffer_larger_than_ram,
    memory.picture_set_larger_than_flash,
    limits.frame_time_over_limit,
    limits.energy_over_limit,
)

PICTURE_RULES: tuple[Callable[[PictureSubject], list[Finding]], ...] = (
    pictures.one_color_only,
    pictures.source_smaller_than_panel,
    pictures.fine_lines_lost,
    pictures.saturation_lost,
)


def device_findings(subject: DeviceSubject) -> list[Finding]:
    """All findings on a device, worst first."""
    return _worst_first([finding for rule in DEVICE_RULES for finding in rule(subject)])


def picture_findings(subject: PictureSubject) -> list[Finding]:
    """All findings on a picture, worst first."""
    return _worst_first([finding for rule in PICTURE_RULES for finding in rule(subject)])


def _worst_first(findings: list[Finding]) -> list[Finding]:
    return sorted(findings, key=lambda finding: finding.severity != "must fix")
