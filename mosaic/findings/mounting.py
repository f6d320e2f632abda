"""Findings on mounting: what a bezel hides of the glass."""

from mosaic.findings import Finding, Fix
from mosaic.findings.subjects import DeviceSubject
from mosaic.forms import from_record
from mosaic.panels.mounting import fitting_opening, hidden_pixels
from mosaic.quantities import how_many


def bezel_hides_pixels(subject: DeviceSubject) -> list[Finding]:
    """Some of the visible glass lies behind the bezel."""
    device = subject.device
    if device.opening is None:
        return []
    hidden = hidden_pixels(device.passport, device.turn, device.opening)
    if not hidden.pixels:
        return []
    fitting = fitting_opening(device.passport, device.turn)
    glass = device.passport.glass
    return [
        Finding(
            "mounting.bezel-hides-pixels",
            "must fix",
            "Bezel",
            f"The bezel hides {how_many(hidden.pixels, 'pixel')}: {hidden.in_words()}",
            f"Its opening is {device.opening.width_mm:g} × {device.opening.height_mm:g} mm; a pixel is {glass.pitch_mm:.3f} mm."
            " What is drawn there is never seen.",
            Fix(
                f"Cut the opening {fitting.width_mm:.1f} × {fitting.height_mm:.1f} mm",
                "device",
                {"opening": from_record(fitting)},
                "then nothing is hidden",
            ),
        )
    ]
