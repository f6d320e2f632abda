"""Panels in groups as makers look for them: the usual ones, then by technology and size."""

from mosaic.panels.passport import Passport

USUAL = (
    "mono-oled-128x64", "mono-oled-128x32", "mono-oled-128x64-132", "tft-128x160-16bit", "tft-240x240-square",
    "tft-240x240-round", "tft-320x240-touch", "epaper-296x128-black-white", "epaper-400x300-black-white",
)  # fmt: skip
"""The few that most makers have, by slug, in the order in which they are shown."""
USUAL_GROUP = "What most makers have"
_NAMES = {"oled": "OLED", "tft": "TFT", "epaper": "E-paper"}
_BANDS = ((1.0, "up to 1 inch"), (2.0, "1 to 2 inches"), (3.5, "2 to 3.5 inches"), (5.0, "3.5 to 5 inches"))
_LARGEST = "over 5 inches"


def size_words(passport: Passport) -> str:
    """Sizes in inches under which a panel is sought: to two places and to one.

    Sellers round 1.29 to 1.3 and 4.17 to 4.2.
    """
    inches = passport.glass.diagonal_inch
    return f"{inches:.2f} inch {inches:.1f} inch"


def size_band(inches: float) -> tuple[int, str]:
    """Number and name of the size that a diagonal in inches belongs to; an exact limit belongs to the smaller one."""
    for number, (most, name) in enumerate(_BANDS):
        if inches <= most:
            return number, name
    return len(_BANDS), _LARGEST


def group_of(passport: Passport) -> str:
    """The heading under which a panel stands."""
    if passport.slug in USUAL:
        return USUAL_GROUP
    return f"{_NAMES[passport.technology]}, {size_band(passport.glass.diagonal_inch)[1]}"


def in_groups(passports: list[Passport]) -> list[Passport]:
    """The same, ordered so that groups hang together: the usual ones first."""

    def place(passport: Passport) -> tuple[int, int, int, float]:
        if passport.slug in USUAL:
            return (0, USUAL.index(passport.slug), 0, 0.0)
        return (
            1,
            list(_NAMES).index(passport.technology),
            size_band(passport.glass.diagonal_inch)[0],
            passport.glass.diagonal_inch,
        )

    return sorted(passports, key=place)
