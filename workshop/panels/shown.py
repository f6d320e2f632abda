"""The demo screen on a panel, as PNG: packed, sent and read back through the virtual panel like any picture."""

from mosaic.conversion.demo_screen import shown_on
from mosaic.conversion.driving import drive
from mosaic.exports.rasters import png_of_glass
from mosaic.forms import from_record
from mosaic.panels.geometry import Orientation
from mosaic.panels.passport import Passport
from mosaic.virtual.panel import Proof
from workshop.documents.keys import digest
from workshop.memory import ByteCache

_shown = ByteCache("demo screens", 16 * 2**20)
# What of a passport has no bearing on the picture.
UNSEEN = ("name", "slug", "notes", "cautions", "owned", "module", "rails", "power", "refresh", "links", "slots", "drawing")


def screen_key(passport: Passport, lies: Orientation) -> str:
    """Key of the demo screen on this panel, short enough for an address."""
    plain = {k: v for k, v in from_record(passport).items() if k not in UNSEEN}
    return digest("demo screen", plain, lies.rotation, lies.mirrored)[:24]


def screen_png(passport: Passport, lies: Orientation) -> bytes:
    """The demo screen in measured colours, one pixel each, as it stands on the glass before the reader.

    Turning and mirroring show the same picture lying otherwise, as a maker does who turns the panel in hand.
    """
    key = screen_key(passport, lies)
    return _shown.get_or_make(key, lambda: _make(passport, lies), len)


def driven(passport: Passport, lies: Orientation) -> Proof:
    """Whether the panel shows a test picture from reset, at this orientation; kept like the screen."""
    key = ("driven", screen_key(passport, lies))
    return _shown.get_or_make(key, lambda: drive(passport, lies), lambda proof: 1000)


def _make(passport: Passport, lies: Orientation) -> bytes:
    return png_of_glass(shown_on(passport, lies).pixels, passport, lies)
