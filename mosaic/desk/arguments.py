"""The arguments that makers have, each with a small example that computes. A new one is an entry of `ARGUMENTS`."""

from functools import lru_cache
from math import ceil, log

import numpy as np
import numpy.typing as npt

from mosaic.conversion.pipeline import convert, fit_stage
from mosaic.desk.calculator import (
    Answer,
    Bars,
    Calculator,
    Curve,
    Field,
    Figure,
    Pixels,
    Swatches,
    Values,
    bytes_words,
    number,
    time_words,
    whole,
)  # fmt: skip
from mosaic.errors import BadValueError
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.appearance import colors_of
from mosaic.panels.loader import catalogue
from mosaic.reduce.recipe import Recipe
from mosaic.refresh.paper.ghost import GhostModel
from mosaic.registry import Registry

SHOWN_PX = (128, 64)
PANEL = "mono-oled-128x64"


def _buffers(values: Values) -> Answer:
    width, height, bits = (whole(values, name) for name in ("width", "height", "bits"))
    ram, pages = number(values, "ram") * 1024, whole(values, "pages")
    drawing, wire = number(values, "drawing") / 1000, number(values, "wire") / 1000
    frame = ceil(width * bits / 8) * height
    choices = (
        ("drawn directly", 0, drawing + wire), (f"{pages} pages", ceil(frame / pages), pages * drawing + wire),
        ("one buffer", frame, drawing + wire), ("two buffers", 2 * frame, max(drawing, wire)),
    )  # fmt: skip
    fitting = [one for one in choices if one[1] <= ram]
    best = min(fitting[1:] or fitting, key=lambda one: (one[2], one[1]))
    return Answer(
        f"Of what fits, {best[0]} is quickest without flicker: {time_words(best[2])} a frame."
        if best[1] else "Nothing fits but drawing directly: text flickers as it is drawn over its background.",
        tuple(Figure(name, f"{bytes_words(size)}, {time_words(seconds)} a frame") for name, size, seconds in choices),
        "pages: all is drawn once for each, only what falls into it is kept; two buffers: the next frame is drawn while one is"
        " sent, by DMA",
        Bars(tuple((name, float(size), bytes_words(size)) for name, size, _ in choices), ram),
    )  # fmt: skip


BUFFERS = Calculator(
    "buffer-or-page", "Buffer or page", "Keep a whole frame, or draw it page by page?",
    (
        Field("width", "Width", "320", "px", "whole", 1, 4096), Field("height", "Height", "240", "px", "whole", 1, 4096),
        Field("bits", "A pixel", "16", "bits", "whole", 1, 32),
        Field("ram", "RAM that is left", "100", "KiB", "number", 0, 65_536),
        Field("pages", "Pages", "8", "", "whole", 2, 64), Field("drawing", "Drawing takes", "12", "ms", "number", 0.01, 10_000),
        Field("wire", "Sending takes", "31", "ms", "number", 0.01, 10_000),
    ), _buffers, "buffers", "Buffers",
)  # fmt: skip


@lru_cache(1)
def _motif() -> npt.NDArray[np.uint8]:
    """(64, 128, 3): a ground that grows lighter, a disc, and letters' worth of lines: what dithering helps, and what it harms."""
    y, x = np.mgrid[0 : SHOWN_PX[1], 0 : SHOWN_PX[0]]
    grey = 40 + 150 * x / SHOWN_PX[0]
    far = np.hypot(x - 34, y - 32)
    grey = np.where(far < 24, 225 - 5 * far, grey)
    for n in range(4):
        grey[10 + 12 * n : 12 + 12 * n, 74:122] = 255
    grey[8:54, 70:72] = 255
    return np.repeat(grey[..., None], 3, axis=2).astype(np.uint8)


@lru_cache(32)
def _reduced(method: str, strength: float) -> tuple[npt.NDArray[np.uint8], float]:
    passport = catalogue()[PANEL]
    recipe = Recipe(method=method, strength=strength)
    fitted = fit_stage(SourcePicture(_motif(), None, "PNG"), recipe, passport, 0)
    made = convert(fitted, recipe, passport, 0, 1.2)
    return colors_of(made.pixels, passport, 0), made.perceived_error


def _dither(values: Values) -> Answer:
    method, strength = str(values["method"]), number(values, "strength") / 100
    shown, error = _reduced(method, strength)
    plain, plain_error = _reduced("threshold", 1.0)
    less = 1 - error / plain_error
    way = "nearer to" if less >= 0 else "further from"
    return Answer(
        f"From where the eye blends pixels it is {abs(less):.0%} {way} the picture than a threshold. Look at the lines, too: a"
        " threshold keeps them whole.",
        (Figure("perceived error", f"{error:.3g} L*"), Figure("of a threshold", f"{plain_error:.3g} L*")),
        "error: root mean square of the difference in lightness, after the eye's blur",
        Pixels((("the picture", _motif()), (dict(METHOD_NAMES)[method], shown), ("threshold", plain))),
    )  # fmt: skip


METHOD_NAMES = (
    ("floyd-steinberg", "error diffusion"), ("bayer-4", "ordered, 4 × 4"), ("bayer-8", "ordered, 8 × 8"),
    ("blue-noise", "blue noise"),
    ("threshold", "threshold"),
)  # fmt: skip
DITHER = Calculator(
    "dither-or-threshold", "Dither or threshold", "Dots everywhere, or clean edges?",
    (
        Field("method", "Method", "floyd-steinberg", kind="choice", choices=METHOD_NAMES),
        Field("strength", "Strength", "100", "%", "number", 0, 100),
    ), _dither, "pictures", "Pictures",
)  # fmt: skip


def _cleaning(values: Values) -> Answer:
    updates, each = whole(values, "updates"), whole(values, "each")
    full_s, celsius = number(values, "full"), number(values, "celsius")
    change, keep = GhostModel().shares(flashes=False, celsius=celsius)
    share, kept = GhostModel().shares(flashes=True, celsius=celsius)
    residue, worst = 0.0, 0.0
    course = []
    for n in range(1, min(updates, 300) + 1):
        clean = n % each == 0
        residue = share + kept * residue if clean else change + keep * residue
        worst = max(worst, residue)
        course.append((float(n), residue * 100))
    flashing = updates // each * full_s
    unseen = 0.05
    run = ceil(log(1 - unseen * (1 - keep) / change) / log(keep)) if unseen * (1 - keep) < change else 0
    often = "once" if updates // each == 1 else f"{updates // each:,} times"
    return Answer(
        f"It flashes {often} a day, {time_words(flashing)} in all, and leaves a ghost of up to {worst:.1%}.",
        (
            Figure("cleaned before each it would flash", time_words(updates * full_s), "typical"),
            Figure("partial updates until a ghost of 5 % shows", f"{run:,}" if run else "never", "typical"),
            Figure("the most a ghost can become", f"{change / (1 - keep):.0%}", "typical"),
        ),
        "after each update: share of the change + share of what was there; the worst case, every update changing every pixel",
        Curve(tuple(course), "updates", "% ghost", course[-1]),
    )  # fmt: skip


CLEANING = Calculator(
    "clean-each-or-tenth", "Clean each time, or each tenth", "How often does an e-paper have to flash?",
    (
        Field("updates", "Updates a day", "96", "", "whole", 1, 20_000),
        Field("each", "Clean at every", "10", "th", "whole", 1, 20_000),
        Field("full", "A cleaning update takes", "3", "s", "number", 0.1, 60),
        Field("celsius", "at", "20", "°C", "number", -20, 60),
    ), _cleaning, "paper", "E-paper",
)  # fmt: skip


def _storage(values: Values) -> Answer:
    count, each, block = whole(values, "count"), whole(values, "each"), whole(values, "block")
    changes, program = whole(values, "changes"), number(values, "program") * 1024
    array, files = count * each, count * ceil(each / block) * block
    read = each / (number(values, "rate") * 1e6)
    return Answer(
        f"As arrays {bytes_words(array)}, drawn where they lie; as files {bytes_words(files)}, {time_words(read)} to read one.",
        (
            Figure("lost to the ends of blocks", bytes_words(files - array)),
            Figure("flashed in a year as arrays", bytes_words(changes * (program + array))),
            Figure("as files", bytes_words(changes * files)),
            Figure("RAM for one that is read", bytes_words(each)),
        ),
        "files = count × ⌈bytes / block⌉ × block. Arrays are flashed with the program; files by themselves",
        Bars((("arrays", float(array), bytes_words(array)), ("files", float(files), bytes_words(files)))),
    )  # fmt: skip


STORAGE = Calculator(
    "array-or-file", "Array or file", "Compile pictures in, or put them into a partition?",
    (
        Field("count", "Pictures", "24", "", "whole", 1, 10_000),
        Field("each", "Bytes of each", "4736", "B", "whole", 1, 1 << 24),
        Field("block", "Block of the file system", "4096", "B", "whole", 1, 1 << 20),
        Field("program", "The program itself", "384", "KiB", "number", 1, 65_536),
        Field("changes", "Changes in a year", "12", "", "whole", 0, 1000),
        Field("rate", "Reading from flash", "4", "MB/s", "number", 0.01, 200),
    ), _storage, "hand-over", "Hand-over",
)  # fmt: skip


def _press(values: Values) -> Answer:
    looks, bounce, held = number(values, "looks"), number(values, "bounce"), number(values, "held")
    press, release = looks + bounce, looks + bounce + held
    if looks > held:
        raise BadValueError(f"a touch of {held:g} ms can fall between two looks {looks:g} ms apart; look more often than that")
    return Answer(
        f"On press it answers after {press:g} ms at most, on release after {release:g} ms.",
        (
            Figure("felt as at once", "up to 100 ms", "typical"),
            Figure("a finger may slide off and change its mind", "on release only"),
            Figure("on a page that follows the same finger may press again", "on press only"),
        ),
        "on press = time between looks + bounce; on release the time of the touch comes on top",
        Bars((("on press", press, f"{press:g} ms"), ("on release", release, f"{release:g} ms")), 100.0),
    )  # fmt: skip


PRESS = Calculator(
    "press-or-release", "Press or release", "When does a key act?",
    (
        Field("looks", "Time between two looks", "20", "ms", "number", 0.1, 2000),
        Field("bounce", "Bounce", "15", "ms", "number", 0, 1000),
        Field("held", "A touch lasts", "120", "ms", "number", 1, 10_000),
    ), _press, "behaviour", "Behaviour",
)  # fmt: skip


def _buses(values: Values) -> Answer:
    size, clock, cpu, cycles = whole(values, "size"), number(values, "clock"), number(values, "cpu"), number(values, "cycles")
    hard, soft = size * 8 / (clock * 1e6), size * 8 * cycles / (cpu * 1e6)
    return Answer(
        f"In hardware a frame takes {time_words(hard)}, in software {time_words(soft)}: {soft / hard:,.3g} times as long.",
        (
            Figure("bits a second in software", f"{cpu / cycles:,.3g} MHz"),
            Figure("processor's share meanwhile, hardware with DMA", "about 0 %", "typical"),
            Figure("in software", "100 %"),
        ),
        "hardware = bytes × 8 / clock; software = bytes × 8 × cycles a bit / clock of the processor. Software takes any pins",
        Bars((("hardware", hard, time_words(hard)), ("software", soft, time_words(soft)))),
    )  # fmt: skip


BUSES = Calculator(
    "hardware-or-software-bus", "Hardware or software bus", "Fixed pins and speed, or any pins?",
    (
        Field("size", "Bytes of a frame", "9472", "B", "whole", 1, 1 << 24),
        Field("clock", "Clock in hardware", "10", "MHz", "number", 0.001, 200),
        Field("cpu", "Clock of the processor", "48", "MHz", "number", 0.1, 1000),
        Field("cycles", "Cycles for each bit", "30", "", "number", 1, 10_000),
    ), _buses, "links", "Links",
)  # fmt: skip


def _ground(values: Values) -> Answer:
    width, height, ink, bits = (whole(values, name) for name in ("width", "height", "ink", "bits"))
    setup = whole(values, "setup")
    box, pixels = width * height, round(width * height * ink / 100)
    runs = max(1, pixels // 3)
    opaque = setup + ceil(box * bits / 8)
    clear = setup + ceil(box * bits / 8) + runs * setup + ceil(pixels * bits / 8)
    return Answer(
        f"Opaque {bytes_words(opaque)} in one window; transparent {bytes_words(clear)}, and for a moment the background alone.",
        (
            Figure("pixels of the box", f"{box:,}"), Figure("of which ink", f"{pixels:,}"),
            Figure("runs of ink", f"about {runs:,}", "typical"),
        ),
        "opaque: every pixel of the box once. Transparent, drawn directly: the background again, then each run of ink in a window"
        " of its own. In a buffer both cost the same on the wire",
        Bars((("opaque", float(opaque), bytes_words(opaque)), ("transparent", float(clear), bytes_words(clear)))),
    )  # fmt: skip


GROUND = Calculator(
    "opaque-or-transparent", "Opaque or transparent text", "Does text bring its background along?",
    (
        Field("width", "Width of the text", "96", "px", "whole", 1, 4096),
        Field("height", "its height", "24", "px", "whole", 1, 4096),
        Field("ink", "Ink", "22", "%", "whole", 1, 100), Field("bits", "A pixel", "16", "bits", "whole", 1, 32),
        Field("setup", "Commands of a window", "11", "B", "whole", 0, 100),
    ), _ground, "screens", "Screens",
)  # fmt: skip


def _orders(values: Values) -> Answer:
    red, green, blue = (int(str(values["color"])[n : n + 2], 16) for n in (1, 3, 5))
    word = (red >> 3) << 11 | (green >> 2) << 5 | blue >> 3
    turned = (word & 255) << 8 | word >> 8

    def shown(code: int, *, bgr: bool = False) -> str:
        parts = [(code >> 11) * 255 // 31, (code >> 5 & 63) * 255 // 63, (code & 31) * 255 // 31]
        return "#" + "".join(f"{part:02x}" for part in (parts[::-1] if bgr else parts))

    return Answer(
        f"0x{word:04X} goes as {word >> 8:02X} {word & 255:02X} or {word & 255:02X} {word >> 8:02X}; taken wrongly it is"
        f" {shown(turned)}.",
        (Figure("bits, red green blue", f"{word >> 11:05b} {word >> 5 & 63:06b} {word & 31:05b}"),
            Figure("with red and blue exchanged", shown(word, bgr=True))),
        "a pixel of 5-6-5 is a word of two bytes. Panels want the high one first, most processors keep the low one first",
        Swatches((("meant", shown(word)), ("bytes exchanged", shown(turned)), ("red and blue exchanged", shown(word, bgr=True)))),
    )  # fmt: skip


ORDERS = Calculator(
    "byte-orders", "Byte orders", "Which byte goes first?",
    (Field("color", "Colour", "#d08a0c", kind="color"),), _orders, "bringup-faults", "Fault finder",
)  # fmt: skip

ARGUMENTS: Registry[Calculator] = Registry(
    "argument", (BUFFERS, DITHER, CLEANING, STORAGE, PRESS, BUSES, GROUND, ORDERS), lambda argument: argument.slug
)
