"""Films of the virtual panel: what is sent, played at wire speed in virtual time."""

from dataclasses import dataclass
from fractions import Fraction
from math import log
from typing import Any

from mosaic.conversion.pipeline import pack
from mosaic.conversion.program import Setting, transmission
from mosaic.conversion.sending_mistakes import SENDING_MISTAKES, Mistake, sending_mistakes_of
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.faults.registry import FAULTS
from mosaic.narrowing import needed
from mosaic.panels.geometry import to_host
from mosaic.panels.windows import addressable, changed_rect
from mosaic.panels.wire import Part, window_parts
from mosaic.virtual.film import Film, film_of
from mosaic.virtual.panel import virtual_panel
from workshop.bringup.subjects import Subject, png_of_values, setting_key, setting_of
from workshop.documents.keys import digest
from workshop.memory import ByteCache

LARGE_PIXELS = 150_000
SLICES, SLICES_OF_LARGE = 32, 12
COMFORTABLE_S = 4.0
"""About so long a film is best looked at."""
SPEEDS = (
    ("0.001", "1,000 times slower"), ("0.01", "100 times slower"), ("0.1", "10 times slower"), ("1", "as on the wire"),
    ("10", "10 times faster"),
)  # fmt: skip
_films = ByteCache("films", 64 * 2**20)


@dataclass(frozen=True, eq=False)
class Script:
    """What is played: a subject, what stood before it, how much of it is sent, and what goes wrong."""

    subject: Subject
    before: Subject | None = None
    only_changes: bool = False
    mistake: str = ""
    fault: str = ""

    def key(self, device: Device) -> str:
        before = self.before.key if self.before else ""
        return digest(
            "film", self.subject.key, before, self.only_changes, self.mistake, self.fault, setting_key(setting_of(device)),
            device.link_kind, device.clock_hz, repr(device.link),
        )[:24]  # fmt: skip


@dataclass(frozen=True, eq=False)
class Reel:
    """A film, who shows it, and the mistakes that could happen to its transmission."""

    film: Film
    truth: Setting
    mistakes: tuple[Mistake, ...]

    def png(self, number: int) -> bytes:
        """One of its pictures, one pixel each, in measured colours."""
        return png_of_values(self.film.pictures[number], self.truth)


def starts_anew(device: Device) -> bool:
    """Whether each picture needs the whole set-up again: panels of whole frames switch their voltages off in between."""
    return device.passport.technology == "epaper" and device.passport.grid.whole_frames


def can_change_parts(device: Device) -> bool:
    return not device.passport.grid.whole_frames and device.passport.scan is None


def reel_of(device: Device, script: Script) -> Reel:
    """The film of a script, kept."""
    return _films.get_or_make(script.key(device), lambda: _make(device, script), _size_of)


def _make(device: Device, script: Script) -> Reel:
    sender, truth = _sides(device, script.fault)
    panel = virtual_panel(truth.passport)
    parts = transmission(script.subject.pixels, sender, truth.sending, whole_ram=script.subject.whole_ram)
    if script.before is not None:
        for part in transmission(script.before.pixels, sender, truth.sending, whole_ram=script.before.whole_ram):
            panel.play(part.transactions)
        panel.finish()
        panel.misuse.clear()
        parts = _changes(script, sender) if script.only_changes else parts if starts_anew(device) else parts[1:]
    mistakes = tuple(sending_mistakes_of(parts, sender.passport))
    if script.mistake:
        parts = SENDING_MISTAKES[script.mistake].change(parts, sender.passport)
    width, height = device.size
    slices = SLICES if width * height <= LARGE_PIXELS else SLICES_OF_LARGE
    film = film_of(panel, parts, device.link, truth.turn, slices=slices)
    return Reel(film, truth, mistakes)


def _size_of(reel: Reel) -> int:
    return sum(picture.nbytes for picture in reel.film.pictures) + 4096


def _sides(device: Device, name: str) -> tuple[Setting, Setting]:
    """(who sends, who shows) under a fault, or as the build is believed to be."""
    setting = setting_of(device)
    if not name:
        return setting, setting
    fault = FAULTS[name]
    other = fault.change(setting, fault.by(setting, None))
    return (other, setting) if fault.where == "set-up" else (setting, other)


def _changes(script: Script, sender: Setting) -> tuple[Part, ...]:
    """The window that holds everything in which the two pictures differ."""
    passport, turn = sender.passport, sender.turn
    screens = (needed(script.before, "the screen before"), script.subject)
    before, after = (to_host(screen.pixels, passport, turn) for screen in screens)
    changed = changed_rect(before, after)
    if changed is None:
        raise BadValueError("the two pictures are alike: there is nothing to send")
    rect = addressable(changed, passport, turn)
    return window_parts(passport, turn, rect, _packed(rect.of(after), sender), _packed(rect.of(before), sender))


def _packed(host_part: Any, sender: Setting) -> bytes:
    """A window (host axes) packed like a picture of its own."""
    passport = sender.passport
    # What is cut in host axes is packed as it lies: no turning a second time.
    return (
        pack(host_part, passport, sender.turn) if passport.controller.turned_by == "controller" else pack(host_part, passport, 0)
    )


def time_words(seconds: Fraction) -> str:
    """A time in ms to the microsecond.

    >>> time_words(Fraction(9236, 400000)), time_words(Fraction(17))
    ('23.090 ms', '17,000.000 ms')
    """
    return f"{float(seconds * 1000):,.3f} ms"


def plain_of(reel: Reel, addresses: list[str]) -> dict[str, Any]:
    """What the page's script needs to play it; times in ms."""
    return {
        "pictures": addresses,
        "total": time_words(reel.film.total_s),
        "moments": [
            {
                "ms": round(float(m.at_s * 1000), 6), "time": time_words(m.at_s), "words": m.words, "part": m.part,
                "picture": m.picture, "bytes": m.byte_count, "clocks": m.clocks, "misuse": [str(said) for said in m.misuse],
            }
            for m in reel.film.moments
        ],
    }  # fmt: skip


def usual_speed(reel: Reel) -> str:
    """The speed at which the film lasts nearest to a comfortable time."""
    total = max(float(reel.film.total_s), 1e-6)
    return min((speed for speed, _ in SPEEDS), key=lambda speed: abs(log(total / float(speed) / COMFORTABLE_S)))
