"""What is sent to a build's panel: one of its pictures, or a test card; and what the panel makes of it."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.cards.registry import CARDS, cards_of, painted
from mosaic.conversion.program import Setting
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.exports.rasters import png_of_glass
from mosaic.faults.registry import FAULTS
from mosaic.forms import from_record
from mosaic.virtual.panel import clear_of_holes
from workshop.builds.models import Build
from workshop.documents.keys import digest
from workshop.memory import ByteCache
from workshop.stations.exchange import pixels_of
from workshop.stations.overview import Overview, overview_of

MIB = 1024 * 1024
_arrays = ByteCache("test cards and renderings", 32 * MIB)
_images = ByteCache("pictures of renderings", 16 * MIB)


@dataclass(frozen=True, eq=False)
class Subject:
    """Pixels to be sent: palette indices (H, W) or RGB (H, W, 3), as the reader shall see them.

    `ref` names it in addresses; `key` changes with its content. A ruler fills the `whole_ram`.
    """

    ref: str
    name: str
    pixels: npt.NDArray[np.uint8]
    key: str
    whole_ram: bool = False


def setting_of(device: Device) -> Setting:
    """What is believed of a device."""
    return Setting(device.passport, device.turn, device.sending)


def setting_key(setting: Setting) -> str:
    plain = from_record(setting.passport)
    for unseen in ("name", "slug", "notes", "cautions", "owned", "module", "rails", "links"):
        plain.pop(unseen)
    return digest("setting", plain, setting.turn.rotation, setting.turn.mirrored, from_record(setting.sending))


def choices_of(overview: Overview) -> list[tuple[str, str]]:
    """(ref, name) of everything that can be sent."""
    cards = [(f"card-{card.slug}", f"test card {card.name}") for card in cards_of(overview.device.passport)]
    return [*((item.ref, item.name) for item in overview.offered("pixels")), *cards]


def first_choice(overview: Overview) -> str:
    """What is sent where nothing was chosen: the first whole glass of the build, or the test card Letter."""
    return choices_of(overview)[0][0] if overview.offered("pixels") else "card-letter"


def card_key(device: Device, slug: str) -> str:
    """Key of a test card on this panel; the card need not be painted for it."""
    return digest("card", slug, setting_key(Setting(device.passport, device.turn)))[:24]


def subject_of(build: Build, device: Device, ref: str) -> Subject:
    """What a reference names; "" is the first whole glass, or the test card Letter where there is none.

    Raises
    ------
    BadValueError
        There is nothing of this name.
    """
    if not ref:
        ref = first_choice(overview_of(build, device=device))
    kind, _, name = ref.partition("-")
    if kind == "card" and name in CARDS and CARDS[name].applies(device.passport):
        card = CARDS[name]
        key = card_key(device, name)
        pixels = _arrays.get_or_make(key, lambda: painted(card, device.passport, device.turn), lambda a: a.nbytes)
        return Subject(ref, f"test card {card.name}", pixels, key, card.whole_ram)
    shown = pixels_of(build, device, ref)
    if shown is not None:
        return Subject(ref, shown.name, shown.pixels, shown.key[:24])
    raise BadValueError(f"this build has no picture and no test card named {ref!r}; choose one of the list")


def rendering_of(device: Device, subject: Subject, name: str, amount: int | None = None) -> npt.NDArray[np.uint8]:
    """What the bench shows under a fault."""
    setting = setting_of(device)
    key = ("rendering", setting_key(setting), subject.key, name, amount)

    def make() -> npt.NDArray[np.uint8]:
        return FAULTS[name].rendering(setting, subject.pixels, whole_ram=subject.whole_ram, amount=amount)

    return _arrays.get_or_make(key, make, lambda a: a.nbytes)


def rendering_png(device: Device, subject: Subject, name: str, amount: int | None = None) -> bytes:
    """The same as PNG in the panel's measured colours, one pixel each."""
    fault, setting = FAULTS[name], setting_of(device)
    key = ("png", setting_key(setting), subject.key, name, amount)

    def make() -> bytes:
        shown = rendering_of(device, subject, name, amount)
        truth = setting if fault.where == "set-up" else fault.change(setting, fault.by(setting, amount))
        return png_of_values(shown, truth)

    return _images.get_or_make(key, make, len)


def png_of_values(shown: npt.NDArray[np.uint8], truth: Setting) -> bytes:
    """PNG of shown values, one pixel each, in measured colours."""
    return png_of_glass(clear_of_holes(shown, truth.passport), truth.passport, truth.turn)
