"""What can be seen or read of an unknown panel, and reading it out of a seller's words."""

import re
from dataclasses import dataclass, fields, replace
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.panels.passport import Passport
from mosaic.panels.supply import LinkKind
from mosaic.pixels.formats import DirectFormat

ColorKind = Literal["", "one", "two zones", "greys", "three", "four", "six", "seven", "many"]
Shape = Literal["", "rect", "round", "rounded"]
Size = Annotated[int, Meta(ge=0, le=4096)]


@dataclass(frozen=True)
class Evidence:
    """Clues to a panel; an empty text, 0 or None is a clue that is not there.

    `labels` are those printed beside its pins, `commands` command bytes found in its data
    sheet, `bits` the bits a pixel takes.
    """

    technology: Literal["", "oled", "tft", "epaper"] = ""
    colors: ColorKind = ""
    width_px: Size = 0
    height_px: Size = 0
    diagonal_inch: Annotated[float, Meta(ge=0, le=60)] = 0.0
    shape: Shape = ""
    transparent: bool | None = None
    bare: bool | None = None
    touch: bool | None = None
    draws_itself: bool | None = None
    bits: Literal[0, 1, 2, 4, 8, 12, 16, 18, 24] = 0
    links: tuple[LinkKind, ...] = ()
    labels: tuple[str, ...] = ()
    ram_width: Size = 0
    ram_height: Size = 0
    commands: tuple[Annotated[int, Meta(ge=0, le=255)], ...] = ()

    def joined(self, stated: "Evidence") -> "Evidence":
        """These clues, with those of `stated` in their place where it has any."""
        blank = Evidence()
        given = {f.name: getattr(stated, f.name) for f in fields(self) if getattr(stated, f.name) != getattr(blank, f.name)}
        return replace(self, **given)


def color_kind(passport: Passport) -> ColorKind:
    """How a seller would count a panel's colours."""
    if isinstance(passport.format, DirectFormat):
        return "many"
    if passport.zones:
        return "two zones"
    count = len(passport.palette) if passport.palette else 2
    if count > 2 and passport.palette is not None and passport.palette.is_tone:
        return "greys"
    return {2: "one", 3: "three", 4: "four", 6: "six", 7: "seven"}.get(count, "many")  # type: ignore[return-value]


# (pattern, clues it gives); the first pattern of a group that is found decides.
_GROUPS: tuple[tuple[tuple[str, dict[str, object]], ...], ...] = (
    (
        (r"e-?\s?(paper|ink)|epd\b|electronic paper|electrophoretic", {"technology": "epaper"}),
        (r"\b(am|p)?oled\b", {"technology": "oled"}),
        (r"\btft\b|\bips\b|\blcd\b|\bhmi\b", {"technology": "tft"}),
    ),
    (
        (r"two[- ]?(colou?r|tone|zone)|dual[- ]?colou?r|(yellow|blue)\s*(and|&|/|\+|-)\s*(blue|yellow)", {"colors": "two zones"}),
        (r"\b(7|seven)[- ]?colou?rs?\b", {"colors": "seven"}),
        (r"\b(6|six)[- ]?colou?rs?\b|\be6\b", {"colors": "six"}),
        (r"\b(4|four)[- ]?colou?rs?\b|black[,/ ]+white[,/ ]+(red[,/ ]+(and )?yellow|yellow[,/ ]+(and )?red)|bwry", {"colors": "four"}),
        (
            r"\b(3|three|tri)[- ]?colou?rs?\b|black[,/ ]+white[,/ ]+(and )?(red|yellow)|red[,/ ]+black[,/ ]+(and )?white|\bbwr\b",
            {"colors": "three"},
        ),
        (r"gr[ae]y[- ]?(scale|level)|\b\d+ (levels? of )?gr[ae]ys?\b|\b(4|16|four|sixteen)[- ]gr[ae]y", {"colors": "greys"}),
        (r"262\s?k|65\s?k|65,?536|full[- ]colou?r|16\.7\s?m|rgb|colou?r(ful)? (oled|display|screen|lcd|tft)|4096", {"colors": "many"}),
        (r"black (and|&|/) white|black-white|monochrome|single colou?r|white on black|\b(white|blue|yellow|green) (oled|light|text|display)", {"colors": "one"}),
        (r"oled.*\b(white|blue|yellow|green)\b|\b(white|blue|yellow|green)\b.*oled", {"colors": "one"}),
    ),
    (
        (r"no controller|raw rgb|rgb interface|rgb parallel|parallel rgb|rgb ?(565|666|888)? ?(interface|bus|port)|\bttl\b|\bhsync\b|24[- ]?bit rgb|\bpclk\b", {"links": ("rgb",)}),
        (r"q-?spi|quad[- ]?spi", {"links": ("qspi",)}),
        (r"16[- ]?bit (parallel|bus|8080)|parallel 16[- ]?bit", {"links": ("parallel16",)}),
        (r"8[- ]?bit (parallel|bus|8080)|parallel 8[- ]?bit|\bparallel\b", {"links": ("parallel8",)}),
        (r"\buart\b|\bserial (port|screen|display|tft|hmi|touch)|rs-?232|\bttl serial", {"links": ("uart",)}),
        (r"i2c.{0,12}spi|spi.{0,12}i2c|iic.{0,12}spi|spi.{0,12}iic", {"links": ("i2c", "spi")}),
        (r"\bi2c\b|\biic\b|i²c", {"links": ("i2c",)}),
        (r"\bspi\b", {"links": ("spi",)}),
    ),
    (
        (r"rounded|round(ed)? corners?|fillet", {"shape": "rounded"}),
        (r"\b(round|circular|circle)\b", {"shape": "round"}),
    ),
    ((r"transparent|see-?through", {"transparent": True}),),
    ((r"\bbare\b|\braw (panel|glass|display)|without (pcb|board|module)|\bno (pcb|breakout)|solder[- ]?type|glass only|flex only", {"bare": True}), (r"\bmodule\b|\bbreakout\b|\bhat\b|\bshield\b|\bpcb\b", {"bare": False})),
    ((r"without touch|no touch|non-?touch", {"touch": False}), (r"touch", {"touch": True})),
    ((r"\bhmi\b|serial (screen|tft|display)|smart (display|screen)|graphics? (controller|engine|accelerat)|draws? (lines|shapes|by itself)|picture (slots|numbers)", {"draws_itself": True}),),
    (
        (r"12[- ]?bit|4096 colou?rs|4k colou?rs|rgb\s?444", {"bits": 12}),
        (r"18[- ]?bit|262\s?k|rgb\s?666", {"bits": 18}),
        (r"16[- ]?bit colou?r|65\s?k|65,?536|rgb\s?565", {"bits": 16}),
    ),
)  # fmt: skip

_LABELS = re.compile(
    r"\b(GND|VSS|VCC|VDD|VIN|3V3|5V|SCL|SCK|SCLK|CLK|SDA|DIN|SDI|MOSI|SDO|MISO|DC|D/C|RS|RES|RST|RESET|CS|BLK?|LED|BUSY|TE|HSYNC"
    r"|VSYNC|DE|PCLK|DISP|TX|RX|T_IRQ|T_CS|T_CLK|WAIT|INT|BS0|BS1|BS2|IM0|IM1|IM2|VCOM|PREVGH|GDR|RESE|VCOMH|IREF|WR|RD|D[0-7])\b#?"
)
_RAM = re.compile(r"(?:ram|memory|gram|gddram|frame memory)\D{0,24}?(\d{2,4})\s*[x×*]\s*(\d{2,4})", re.I)
_COLUMNS = re.compile(r"(\d{3})[- ]column", re.I)
_SIZE = re.compile(r"(\d{2,4})\s*(?:[x×*]|by)\s*(\d{2,4})(?!\s*mm|\.\d)", re.I)
_INCH = re.compile(r"(\d{1,2}(?:[.,]\d{1,2})?)\s*(?:-\s*)?(?:\"|”|''|in\b|inch(?:es)?\b)", re.I)
_COMMANDS = re.compile(r"\b0x([0-9A-F]{2})\b|\b([0-9A-F]{2})h\b", re.I)


def read_words(text: str) -> Evidence:
    """The clues in a seller's page or a data sheet's text; whatever is not understood is left alone.

    >>> e = read_words('0.96 inch OLED module 128x64, yellow and blue, I2C, pins GND VCC SCL SDA')
    >>> e.technology, e.colors, (e.width_px, e.height_px), e.diagonal_inch, e.links, e.labels
    ('oled', 'two zones', (128, 64), 0.96, ('i2c',), ('GND', 'VCC', 'SCL', 'SDA'))
    """
    plain = " ".join(text.split())
    clues: dict[str, object] = {}
    for group in _GROUPS:
        found = next((given for pattern, given in group if re.search(pattern, plain, re.I)), {})
        clues |= found
    ram = _RAM.search(plain)
    if ram:
        clues |= {"ram_width": int(ram[1]), "ram_height": int(ram[2])}
        plain = plain.replace(ram[0], " ")
    columns = _COLUMNS.search(plain)
    if columns and "ram_width" not in clues:
        clues["ram_width"] = int(columns[1])
    size, inch = _SIZE.search(plain), _INCH.search(plain)
    if size:
        clues |= {"width_px": int(size[1]), "height_px": int(size[2])}
    if inch:
        clues["diagonal_inch"] = float(inch[1].replace(",", "."))
    clues["labels"] = tuple(dict.fromkeys(match.upper() for match in _LABELS.findall(plain)))
    clues["commands"] = tuple(dict.fromkeys(int(a or b, 16) for a, b in _COMMANDS.findall(plain)))
    return Evidence(**clues)  # type: ignore[arg-type]
