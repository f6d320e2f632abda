"""Bytes of a picture in any form, the time of a frame, and what windows cost."""

from mosaic.desk.calculator import Answer, Bars, Calculator, Field, Figure, Values, bytes_words, number, time_words, whole
from mosaic.pixels.formats import DirectFormat, IndexedFormat, PixelFormat, Plane

SIZE = (
    Field("width", "Width", "296", "px", "whole", 1, 4096), Field("height", "Height", "128", "px", "whole", 1, 4096),
)  # fmt: skip


def _indexed(bits: int, planes: int = 1, along: str = "row", follow: str = "rows") -> IndexedFormat:
    plane = Plane("pixels", tuple(range(1 << bits)))
    return IndexedFormat(bits, along, "msb", follow, (plane,) * planes)  # type: ignore[arg-type]


FORMS: dict[str, tuple[str, PixelFormat]] = {
    "rows-1": ("1 bit, bytes along a row", _indexed(1)),
    "pages-1": ("1 bit, bytes down a column, page by page", _indexed(1, along="column", follow="pages")),
    "planes-2": ("2 planes of 1 bit, three colours", _indexed(1, 2)),
    "rows-2": ("2 bits, four greys or colours", _indexed(2)),
    "rows-4": ("4 bits, sixteen greys or seven colours", _indexed(4)),
    "rgb-332": ("8 bits, 3-3-2", DirectFormat(8)),
    "rgb-444": ("12 bits, 4-4-4", DirectFormat(12)),
    "rgb-565": ("16 bits, 5-6-5", DirectFormat(16)),
    "rgb-666": ("18 bits in three bytes", DirectFormat(18)),
    "rgb-888": ("24 bits, 8-8-8", DirectFormat(24)),
}
FORM = Field("form", "Form", "rows-1", kind="choice", choices=tuple((slug, name) for slug, (name, _) in FORMS.items()))


def _bytes(values: Values) -> Answer:
    width, height = whole(values, "width"), whole(values, "height")
    sizes = {slug: form.frame_bytes(width, height) for slug, (_, form) in FORMS.items()}
    chosen = str(values["form"])
    rows = tuple((FORMS[slug][0], float(size), bytes_words(size)) for slug, size in sizes.items())
    bits = sizes[chosen] * 8 / (width * height)
    return Answer(
        f"{width} × {height} px take {bytes_words(sizes[chosen])}.",
        (Figure("a pixel, with padding", f"{bits:.4g} bits"), Figure("pixels", f"{width * height:,}")),
        "bytes = rows × ⌈width × bits / 8⌉ × planes; in pages: ⌈height / 8⌉ × width. A row begins with a byte of its own",
        Bars(rows),
    )


BYTES = Calculator(
    "bytes", "Bytes of a picture", "How many bytes does a picture take?", (*SIZE, FORM), _bytes, "pictures", "Pictures",
)  # fmt: skip

LINKS = (
    ("spi", "SPI, with a data/command line", 8), ("spi3", "SPI, the flag as a ninth bit", 9), ("i2c", "I2C", 9),
    ("qspi", "quad SPI", 2), ("parallel8", "8-bit parallel", 1), ("uart", "serial port", 10),
)  # fmt: skip
"""(slug, name, clocks a byte)."""
LINK = Field("link", "Link", "spi", kind="choice", choices=tuple((slug, name) for slug, name, _ in LINKS))
CLOCK = Field("clock", "Clock", "4", "MHz", "number", 0.001, 200)
CLOCKS = {slug: clocks for slug, _, clocks in LINKS}


def byte_s(link: str, clock_mhz: float) -> float:
    """Seconds that a byte takes on a link, without gaps."""
    return CLOCKS[link] / (clock_mhz * 1e6)


def _frame_time(values: Values) -> Answer:
    width, height, clock = whole(values, "width"), whole(values, "height"), number(values, "clock")
    size = FORMS[str(values["form"])][1].frame_bytes(width, height)
    link = str(values["link"])
    extra = number(values, "gap") * 1e-6 * size
    seconds = size * byte_s(link, clock) + extra
    rows = tuple(
        (name, size * byte_s(slug, clock) + extra, time_words(size * byte_s(slug, clock) + extra)) for slug, name, _ in LINKS
    )
    return Answer(
        f"A frame takes {time_words(seconds)}: {1 / seconds:,.3g} a second at most.",
        (
            Figure("bytes", bytes_words(size)), Figure("a byte", time_words(byte_s(link, clock))),
            Figure("gaps between bytes", time_words(extra)),
        ),
        "time = bytes × (clocks a byte / clock + gap). Clocks a byte: SPI 8, with the flag as a bit 9, I2C 9, quad SPI 2, 8-bit"
        " parallel 1, serial port 10. Commands, and the addresses of an I2C transaction, come on top",
        Bars(rows),
    )  # fmt: skip


FRAME_TIME = Calculator(
    "frame-time", "Time of a frame", "How long does a frame take on the wire?",
    (*SIZE, FORM, LINK, CLOCK, Field("gap", "Gap between two bytes", "0", "µs", "number", 0, 1000)), _frame_time, "links",
    "Links",
)  # fmt: skip


def _windows(values: Values) -> Answer:
    width, height = whole(values, "width"), whole(values, "height")
    across, down, count = whole(values, "window_width"), whole(values, "window_height"), whole(values, "count")
    bits, setup = whole(values, "bits"), whole(values, "setup")
    one = byte_s(str(values["link"]), number(values, "clock"))
    window = setup + -(-min(across, width) * bits // 8) * min(down, height)
    frame = setup + -(-width * bits // 8) * height
    parts, whole_s = count * window * one, frame * one
    even = frame // window
    verdict = (
        "The windows are quicker" if parts < whole_s else "The whole frame is quicker" if parts > whole_s else "Both are equal"
    )
    return Answer(
        f"{verdict}: {time_words(parts)} for {count:,}, {time_words(whole_s)} for the frame.",
        (
            Figure("bytes of a window, with its commands", f"{window:,} B"), Figure("bytes of the frame", f"{frame:,} B"),
            Figure("a window of nothing would cost", time_words(setup * one)),
            Figure("windows that cost as much as the frame", f"{even:,}"),
        ),
        "time = windows × (bytes of commands + rows × ⌈width × bits / 8⌉) × time of a byte",
        Bars((("windows", parts, time_words(parts)), ("whole frame", whole_s, time_words(whole_s)))),
    )  # fmt: skip


WINDOWS = Calculator(
    "windows", "Cost of windows", "Several small windows, or one frame?",
    (
        Field("width", "Width of the glass", "240", "px", "whole", 1, 4096),
        Field("height", "Height", "240", "px", "whole", 1, 4096),
        Field("bits", "A pixel", "16", "bits", "whole", 1, 32),
        Field("window_width", "Width of a window", "40", "px", "whole", 1, 4096),
        Field("window_height", "its height", "20", "px", "whole", 1, 4096),
        Field("count", "Windows", "6", "", "whole", 1, 10_000),
        Field("setup", "Bytes of commands for each", "11", "B", "whole", 0, 1000), LINK, CLOCK,
    ), _windows, "windows", "Windows",
)  # fmt: skip
