"""Faults of the array's form: the program's library takes bytes otherwise than they were made."""

from collections.abc import Callable
from dataclasses import replace

import msgspec

from mosaic.conversion.program import Setting
from mosaic.faults.fault import Fault, fault
from mosaic.narrowing import needed_kind
from mosaic.panels.windows import host_size
from mosaic.pixels.formats import DirectFormat, IndexedFormat, PixelFormat, Plane

SOURCE = "Arrays come from other converters and libraries, and each has a form of its own."
MAKE_SURE = "Send the test card Steps and compare it with this rendering."
MEND = "Give arrays out in the form that the program takes; the files of this build follow."


def _form(change: Callable[[PixelFormat], PixelFormat]) -> Callable[[Setting], Setting]:
    """A setting whose program takes arrays in the changed form; the panel's own form is not noted."""

    def apply(setting: Setting) -> Setting:
        changed = change(setting.sending.array_format(setting.passport))
        array = None if changed == setting.passport.format else changed
        return replace(setting, sending=replace(setting.sending, array=array))

    return apply


def _indexed(setting: Setting) -> IndexedFormat | None:
    form = setting.sending.array_format(setting.passport)
    return form if isinstance(form, IndexedFormat) else None


def _direct(setting: Setting) -> DirectFormat | None:
    form = setting.sending.array_format(setting.passport)
    return form if isinstance(form, DirectFormat) else None


def _numbers(form: PixelFormat) -> IndexedFormat:
    return needed_kind(form, IndexedFormat, "a format of colours by number")


def _channels(form: PixelFormat) -> DirectFormat:
    return needed_kind(form, DirectFormat, "a format of channels")


def _replaced(form: PixelFormat, **changes: object) -> PixelFormat:
    return msgspec.structs.replace(form, **changes)


def _first(form: PixelFormat) -> PixelFormat:
    form = _numbers(form)
    return _replaced(form, first="lsb" if form.first == "msb" else "msb")


def _along(form: PixelFormat) -> PixelFormat:
    form = _numbers(form)
    if form.along == "row":
        return _replaced(form, along="column", follow="pages", first="lsb" if form.first == "msb" else "msb")
    return _replaced(form, along="row", follow="rows", first="lsb" if form.first == "msb" else "msb")


def _align(form: PixelFormat) -> PixelFormat:
    form = _numbers(form)
    return _replaced(form, align_bits=8 if form.align_bits > 8 else 32)


def _pads(setting: Setting) -> bool:
    form, size = _indexed(setting), host_size(setting.passport, setting.turn)
    # Pages are padded behind the last of them, where nobody sees it.
    return form is not None and form.follow != "pages" and _align(form).frame_bytes(*size) != form.frame_bytes(*size)


def _planes(form: PixelFormat, change: Callable[[int, Plane], Plane]) -> PixelFormat:
    form = _numbers(form)
    return _replaced(form, planes=tuple(change(i, plane) for i, plane in enumerate(form.planes)))


def _opposite(form: PixelFormat, which: Callable[[int], bool]) -> PixelFormat:
    """Codes of some planes exchanged for their complement."""
    form = _numbers(form)
    most = (1 << form.bits) - 1
    return _planes(form, lambda i, p: Plane(p.name, tuple(most - c for c in p.codes)) if which(i) else p)


def _all_opposite(form: PixelFormat) -> PixelFormat:
    return _opposite(form, lambda number: True)


def _last_opposite(form: PixelFormat) -> PixelFormat:
    return _opposite(form, lambda number: number == 1)


def _planes_turned(form: PixelFormat) -> PixelFormat:
    form = _numbers(form)
    return _replaced(form, planes=form.planes[::-1])


def _two_planes(setting: Setting) -> bool:
    form = _indexed(setting)
    return form is not None and len(form.planes) == 2


def _opposites_are_colors(setting: Setting) -> bool:
    """Whether each opposite number stands for a colour too: a picture with holes in it is another fault."""
    form = _indexed(setting)
    if form is None or len(form.planes) > 1:
        return False
    return {(1 << form.bits) - 1 - c for c in form.planes[0].codes} == set(form.planes[0].codes)


def _numbered(setting: Setting, form: PixelFormat) -> PixelFormat:
    """Colours by their place in the palette, or by the panel's own numbers."""
    form, own = _numbers(form), _numbers(setting.passport.format)
    places = tuple(range(form.colors))
    codes = own.planes[0].codes if form.planes[0].codes == places else places
    return _planes(form, lambda i, p: Plane(p.name, codes))


def _by_place(setting: Setting) -> Setting:
    return _form(lambda form: _numbered(setting, form))(setting)


def _has_table(setting: Setting) -> bool:
    own = setting.passport.format
    return isinstance(own, IndexedFormat) and len(own.planes) == 1 and own.planes[0].codes != tuple(range(own.colors))


def _byte_order(form: PixelFormat) -> PixelFormat:
    form = _channels(form)
    return _replaced(form, byte_order="little" if form.byte_order == "big" else "big")


def _channel_order(form: PixelFormat) -> PixelFormat:
    form = _channels(form)
    return _replaced(form, channel_order="bgr" if form.channel_order == "rgb" else "rgb")


def has_bgr_setting(setting: Setting) -> bool:
    """Whether the controller itself exchanges red and blue."""
    return setting.passport.controller.family in ("window-tft", "byte-window-oled", "quad-window")


BIT_ORDER = fault(
    "bit-order", "First pixel at the other end of a byte", "array",
    "Every group of pixels is mirrored in itself: edges fray, slanted lines break into steps.",
    _form(_first), why=SOURCE, make_sure=MAKE_SURE, mend=MEND,
    applies=lambda s: (f := _indexed(s)) is not None and f.bits < 8,
)  # fmt: skip
ALONG = fault(
    "along", "Bytes along the other direction", "array",
    "The picture is torn to crumbs of eight pixels, spread over the glass in a regular order.",
    _form(_along), why=SOURCE + " Some run along rows, some down columns in pages.", make_sure=MAKE_SURE, mend=MEND,
    applies=lambda s: bool(_indexed(s)),
)  # fmt: skip
PADDING = fault(
    "padding", "Rows padded otherwise", "array",
    "The picture leans: each row begins a little further along than the one before.",
    _form(_align), why="Rows are padded to whole bytes by some, to 32 bits by others.", make_sure=MAKE_SURE, mend=MEND,
    applies=_pads,
)  # fmt: skip
POLARITY = fault(
    "polarity", "Light and dark exchanged in the array", "array",
    "The picture is its own negative.",
    _form(_all_opposite), why="1 is lit for some, ink for others.",
    make_sure="Send the test card Frame: its background must be what the card shows.", mend=MEND, applies=_opposites_are_colors,
)  # fmt: skip
PLANES_SWAPPED = fault(
    "planes-swapped", "Planes exchanged", "array",
    "One colour stands where the other should.",
    _form(_planes_turned), why="The second plane is sent first, or kept first in the array.",
    make_sure="Send the test card Colours: names and colours must agree.", mend=MEND, applies=_two_planes,
)  # fmt: skip
PLANE_INVERTED = fault(
    "plane-inverted", "Second plane inverted", "array",
    "The second colour floods the background, and is missing where it belongs.",
    _form(_last_opposite), why="Each plane has a polarity of its own; in the second one 0 may be the colour.",
    make_sure="Send the test card Colours: names and colours must agree.", mend=MEND, applies=_two_planes,
)  # fmt: skip
COLOR_NUMBERS = fault(
    "colour-numbers", "Colours sent by their place in the list", "array",
    "Some colours are exchanged with one another; others are right.",
    _by_place, why="The number of a colour is a table in the panel, not its place in a palette.",
    make_sure="Send the test card Colours: names and colours must agree.", mend=MEND, applies=_has_table,
)  # fmt: skip
BYTE_ORDER = fault(
    "byte-order", "High and low byte of a pixel exchanged", "array",
    "Colours are wild and noisy, shapes are right.",
    _form(_byte_order), why="Most panels take the high byte first, most microcontrollers keep the low one first.",
    make_sure="Send the test card Ramps: every ramp must rise evenly.", mend=MEND,
    applies=lambda s: (f := _direct(s)) is not None and f.bits == 16,
)  # fmt: skip
CHANNELS_IN_ARRAY = fault(
    "channels", "Red and blue exchanged", "array",
    "Faces are blue and skies orange; greens and greys are right.",
    _form(_channel_order), why="Some libraries keep red first, some blue.",
    make_sure="Send the test card Colours: names and colours must agree.", mend=MEND,
    applies=lambda s: bool(_direct(s)) and not has_bgr_setting(s),
)  # fmt: skip


def _other_depth(form: PixelFormat) -> PixelFormat:
    form = _channels(form)
    return _replaced(form, bits=16 if form.bits == 18 else 18)


DEPTH_IN_ARRAY = fault(
    "depth", "Bits a pixel mistaken", "array",
    "The picture is drawn wider or narrower than it is, in wrong colours, and ends too early or too late.",
    _form(_other_depth), why="16 and 18 bits a pixel take two and three bytes.", make_sure=MAKE_SURE, mend=MEND,
    applies=lambda s: (f := _direct(s)) is not None and f.bits in (16, 18) and not has_bgr_setting(s),
)  # fmt: skip

FAULTS: tuple[Fault, ...] = (
    BIT_ORDER, ALONG, PADDING, POLARITY, PLANES_SWAPPED, PLANE_INVERTED, COLOR_NUMBERS, BYTE_ORDER, CHANNELS_IN_ARRAY,
    DEPTH_IN_ARRAY,
)  # fmt: skip
