"""Findings on the maker's own program, as far as it is known to send otherwise than it should."""

from dataclasses import replace
from typing import Any

from mosaic.faults.registry import FAULTS
from mosaic.findings import Finding, Fix
from mosaic.findings.subjects import DeviceSubject
from mosaic.forms import from_record
from mosaic.panels.sending import Sending

FIELD_OF: dict[str, str] = {
    "sides_exchanged": "sides-exchanged", "pages_reversed": "page-order", "left_out_bytes": "start-byte",
    "sent_share": "half-buffer", "window_share": "window", "cell_px": "opaque-cells",
}  # fmt: skip
"""The fault that each field of a `Sending` stands for."""


def program_sends_otherwise(subject: DeviceSubject) -> list[Finding]:
    """Something was noted of the program that makes pictures wrong."""
    device = subject.device
    found = []
    for field, slug in FIELD_OF.items():
        if getattr(device.sending, field) == getattr(Sending(), field):
            continue
        fault = FAULTS[f"program.{slug}"]
        mended: dict[str, Any] = {"sending": from_record(replace(device.sending, **{field: getattr(Sending(), field)}))}
        found.append(
            Finding(
                f"sending.{slug}", "must fix", "Bring-up", f"The program: {fault.name[:1].lower()}{fault.name[1:]}",
                f"{fault.looks} {fault.mend}", Fix("The program does it right now", "device", mended, "the finding goes"),
            )
        )  # fmt: skip
    return found


def arrays_of_another_size(subject: DeviceSubject) -> list[Finding]:
    """Arrays are given out in a form that does not take as many bytes as the panel's own."""
    device = subject.device
    form = device.sending.array
    if form is None:
        return []
    size = device.passport.glass.width_px, device.passport.glass.height_px
    theirs, own = form.frame_bytes(*size), device.passport.format.frame_bytes(*size)
    if theirs == own:
        return []
    mended = {"sending": from_record(replace(device.sending, array=None))}
    why = f"{form.describe()[:1].upper()}{form.describe()[1:]}. The program has to make the panel's own form of it as it sends."
    return [
        Finding(
            "sending.array-size", "worth fixing", "Bring-up", f"An array takes {theirs:,} bytes, the panel takes {own:,}", why,
            Fix("Give arrays out in the panel’s own form", "device", mended, f"then {own:,} bytes"),
        )
    ]  # fmt: skip
