"""Single pictures of the virtual panel at a stage of bringing it up."""

from django.http import Http404

from mosaic.bringup.stages import value_field
from mosaic.cards.registry import CARDS
from mosaic.conversion.program import shown
from mosaic.device.device import Device
from mosaic.panels.windows import rect_from_host
from mosaic.panels.wire import setup_part
from mosaic.virtual.panel import shown_pixels, virtual_panel
from workshop.bringup.subjects import Subject, png_of_values, setting_key, setting_of, subject_of
from workshop.builds.models import Build
from workshop.documents.keys import digest

STILLS = ("off", "set-up", "frame", "columns", "picture", "part")


def _subject(build: Build, device: Device, shows: str) -> Subject:
    if shows in CARDS:
        applies = CARDS[shows].applies(device.passport)
        return subject_of(build, device, f"card-{shows}" if applies else "card-frame")
    return subject_of(build, device, "")


def snapshot_key(build: Build, device: Device, shows: str) -> str:
    """Key of what stands on the glass."""
    subject = "" if shows in ("off", "set-up") else _subject(build, device, shows).key
    return digest("still", shows, subject, setting_key(setting_of(device)))[:24]


def snapshot_png(build: Build, device: Device, shows: str) -> bytes:
    """What the virtual panel shows at a stage, as PNG."""
    if shows not in STILLS:
        raise Http404("no such snapshot")
    setting = setting_of(device)
    if shows in ("off", "set-up"):
        panel = virtual_panel(setting.passport)
        if shows == "set-up":
            panel.play(setup_part(setting.passport, setting.turn).transactions)
        pixels = shown_pixels(panel, setting.turn)
        palette = setting.passport.palette
        if shows == "off" and palette is not None and setting.passport.technology == "epaper":
            pixels[:] = palette.lightest  # as it is delivered
        return png_of_values(pixels, setting)
    subject = _subject(build, device, shows)
    pixels = shown(subject.pixels, setting, setting, whole_ram=subject.whole_ram)[0]
    if shows == "part":
        pixels = pixels.copy()
        field = rect_from_host(value_field(device), setting.passport, setting.turn)
        other = subject_of(build, device, "card-checks").pixels
        field.of(pixels)[:] = field.of(other)
    return png_of_values(pixels, setting)
