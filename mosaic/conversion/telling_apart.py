"""Telling two panels apart on the bench: what each of them shows of one and the same transmission.

A test picture is sent as the one panel wants it, to both. What the other makes of it goes
through the virtual panel, so that the maker compares the bench with two pictures instead of
with two data sheets.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.conversion.pipeline import pack
from mosaic.panels.geometry import Turn, seen_size, to_native
from mosaic.panels.passport import Passport
from mosaic.panels.sequence import Transaction
from mosaic.panels.wire import frame_parts, setup_part
from mosaic.virtual.panel import NO_COLOR, shown_pixels, virtual_panel

FURTHEST_SHIFT = 80
"""Shifts up to this many pixels are looked for."""
NOISE_SHARE = 0.2
"""From this share of wrong pixels on, a picture is called noise if nothing simpler explains it."""


def framed_f(passport: Passport, turn: Turn | None = None) -> npt.NDArray[np.uint8]:
    """An F in a frame: nothing about it looks the same when it is turned, mirrored or shifted.

    It stands upright before the reader of a panel that lies so, or as it usually does.

    Returns
    -------
    (H, W) palette indices or (H, W, 3) RGB, as the reader sees it; light parts on dark ground.
    """
    width, height = seen_size(passport, passport.rotation if turn is None else turn)
    frame, letter = np.zeros((2, height, width), bool)
    frame[[0, -1]] = frame[:, [0, -1]] = True
    step = max(2, min(width, height) // 8)
    left, top = width // 2 - 2 * step, height // 2 - 3 * step
    letter[max(1, top) : top + 6 * step, left : left + step] = True
    letter[max(1, top) : max(1, top) + step, left : left + 4 * step] = True
    letter[max(1, top) + 2 * step : max(1, top) + 3 * step, left : left + 3 * step] = True
    if passport.palette is None:
        picture = np.zeros((height, width, 3), np.uint8)
        # Red, full on, is the same in every depth, and exchanged with blue it is seen at once.
        picture[letter], picture[frame] = (255, 0, 0), (255, 255, 255)
        return picture
    light, dark = passport.palette.lightest, passport.palette.darkest
    return np.where(frame | letter, light, dark).astype(np.uint8)


@dataclass(frozen=True, eq=False)
class Trial:
    """One transmission, and what each of two panels shows of it.

    `first` and `second` are what the two show, as their readers see it; `first_words` and
    `second_words` say it.
    """

    sender: Passport
    first: npt.NDArray[np.uint8]
    second: npt.NDArray[np.uint8]
    first_words: str
    second_words: str

    @property
    def tells_them_apart(self) -> bool:
        """Whether the two can be told apart by it."""
        return self.first.shape != self.second.shape or bool((self.first != self.second).any())


def transmission(passport: Passport) -> tuple[Transaction, ...]:
    """Everything from reset to the test picture standing on this panel."""
    turn = passport.rotation
    parts = (setup_part(passport, turn), *frame_parts(passport, turn, pack(framed_f(passport), passport, turn)))
    return tuple(t for part in parts for t in part.transactions)


def shown_by(passport: Passport, sent: tuple[Transaction, ...]) -> npt.NDArray[np.uint8]:
    """What a panel fresh from the box shows of a transmission, as its reader sees it."""
    panel = virtual_panel(passport)
    panel.play(sent)
    return shown_pixels(panel, passport.rotation)


def part(first: Passport, second: Passport) -> Trial:
    """The transmission that tells the two apart more plainly: the set-up and picture of one of them."""
    trials = [_trial(sender, first, second) for sender in (first, second)]
    return max(trials, key=lambda trial: trial.tells_them_apart)


def _trial(sender: Passport, first: Passport, second: Passport) -> Trial:
    sent = transmission(sender)
    shown = [shown_by(panel, sent) for panel in (first, second)]
    words = [in_words(framed_f(sender), picture, panel) for picture, panel in zip(shown, (first, second), strict=True)]
    return Trial(sender, shown[0], shown[1], words[0], words[1])


def in_words(meant: npt.NDArray[np.uint8], shown: npt.NDArray[np.uint8], panel: Passport) -> str:
    """What is wrong with what is shown, the simplest explanation first."""
    if shown.shape == meant.shape and np.array_equal(shown, meant):
        return "the F stands whole, in its frame"
    if (shown == shown.reshape(-1, *shown.shape[2:])[0]).all():
        return "nothing changes" if panel.technology == "epaper" else "stays dark, or all one colour"
    if shown.shape != meant.shape:
        return "the picture is cut off, torn or noise: sizes differ"
    for words, change in _SIMPLE:
        changed = change(meant)
        if changed.shape == shown.shape and np.array_equal(changed, shown):
            return words
    return _shift_in_words(meant, shown) or _noise_in_words(meant, shown, panel)


_SIMPLE = (
    ("mirrored left to right", lambda a: a[:, ::-1]),
    ("upside down", lambda a: a[::-1]),
    ("turned by half", lambda a: a[::-1, ::-1]),
    ("red and blue exchanged", lambda a: a[..., ::-1] if a.ndim == 3 else a),
    ("light and dark exchanged", lambda a: 255 - a if a.ndim == 3 else 1 - np.minimum(a, 1)),
)


def _shift_in_words(meant: npt.NDArray[np.uint8], shown: npt.NDArray[np.uint8]) -> str:
    """The shift along one axis that explains all but a strip at one edge, or ""."""
    for axis, (unit, back, forth) in enumerate((("row", "up", "down"), ("column", "left", "right"))):
        a, b = np.moveaxis(meant, axis, 0), np.moveaxis(shown, axis, 0)
        for by in range(1, min(FURTHEST_SHIFT, len(a) // 2)):
            for way, same in ((forth, np.array_equal(b[by:], a[:-by])), (back, np.array_equal(b[:-by], a[by:]))):
                if same:
                    return f"shifted {way} by {by} {unit}{'s' if by > 1 else ''}, with a strip of noise at one edge"
    return ""


def _noise_in_words(meant: npt.NDArray[np.uint8], shown: npt.NDArray[np.uint8], panel: Passport) -> str:
    wrong = shown != meant
    share = float((wrong.any(axis=2) if wrong.ndim == 3 else wrong).mean())
    rows = to_native(shown, panel.rotation)
    if share > NOISE_SHARE and len(rows) > 4 and (rows[1::2] == rows[1]).all():
        return "every other row stays dark"
    if (shown == NO_COLOR).any() and panel.palette is not None:
        return "holds numbers that are no colour of this panel"
    return f"noise or stripes over {share:.0%} of the glass" if share > NOISE_SHARE else f"{share:.1%} of the pixels differ"
