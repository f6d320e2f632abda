"""What each clue counts for or against a panel: points by the table of the rules, at their boundaries."""

import pytest

from mosaic.panels.evidence import Evidence
from mosaic.panels.identify import weigh
from mosaic.panels.loader import catalogue

MONO, ZONES, GREY, ROUND, WIDE = (
    catalogue()[slug] for slug in ("mono-oled-128x64", "two-zone-oled-128x64", "grey-oled-128x128", "tft-240x240-round", "tft-480x320-18bit")
)  # fmt: skip
INCH = MONO.glass.diagonal_inch


def points(panel, **clue):
    """What a clue adds to the points that an empty page gives."""
    return round(weigh(Evidence(**clue), panel).points - weigh(Evidence(), panel).points, 6)


@pytest.mark.parametrize(("panel", "clue", "meant"), [
    (MONO, {"width_px": 128, "height_px": 64}, 6), (MONO, {"width_px": 64, "height_px": 128}, 6), (MONO, {"width_px": 128, "height_px": 32}, -6),
    (MONO, {"width_px": 96, "height_px": 16}, -9), (MONO, {"width_px": 128}, 0), (MONO, {"height_px": 64}, 0),
    (MONO, {"colors": "one"}, 4), (MONO, {"colors": "greys"}, -2), (MONO, {"colors": "two zones"}, -2), (MONO, {"colors": "many"}, -6),
    (ZONES, {"colors": "one"}, -2), (ZONES, {"colors": "greys"}, -6), (GREY, {"colors": "greys"}, 4),
    (MONO, {"diagonal_inch": INCH / 1.034}, 3), (MONO, {"diagonal_inch": INCH / 1.036}, 1.5), (MONO, {"diagonal_inch": INCH / 1.079}, 1.5),
    (MONO, {"diagonal_inch": INCH / 1.081}, -3), (MONO, {"diagonal_inch": INCH / 1.199}, -3), (MONO, {"diagonal_inch": INCH / 1.201}, -5),
    (MONO, {"diagonal_inch": INCH / 0.966}, 3), (MONO, {"diagonal_inch": INCH / 0.964}, 1.5),
    (MONO, {"shape": "rect"}, 3), (MONO, {"shape": "round"}, -4), (ROUND, {"shape": "round"}, 3 + 2), (ROUND, {"shape": "rect"}, -4 + 2),
    (MONO, {"links": ("i2c",)}, 2), (MONO, {"links": ("i2c", "qspi")}, -1), (MONO, {"links": ("qspi",)}, -4),
    (MONO, {"transparent": False}, 0.5), (MONO, {"transparent": True}, -4), (MONO, {"bare": False}, 0.5), (MONO, {"touch": True}, -4),
    (MONO, {"bits": 1}, 1.5), (MONO, {"bits": 4}, -2), (WIDE, {"bits": 16}, -0.5), (WIDE, {"bits": 18}, 1.5), (WIDE, {"bits": 24}, -2),
    (ROUND, {"ram_width": 320}, 5), (ROUND, {"ram_width": 320, "ram_height": 240}, 5), (ROUND, {"ram_width": 132}, -4), (ROUND, {"ram_width": 240, "ram_height": 240}, -4),
    (MONO, {"labels": ("SDA", "SCL")}, 3), (MONO, {"labels": ("SDA", "ODD", "EVEN", "PRIME")}, 0.75), (MONO, {"labels": ("BUSY", "TE", "SDA")}, -4),
    (MONO, {"commands": (0xAE, 0x8D)}, 6), (MONO, {"commands": (0xAE, 0x01)}, 3), (MONO, {"commands": (0xAE, 0x01, 0x02)}, -4 * 2 / 3), (MONO, {"commands": (0x01,)}, -4),
])  # fmt: skip
def test_points(panel, clue, meant):
    assert points(panel, **clue) == pytest.approx(meant, abs=1e-6)


def test_what_a_seller_would_have_said():
    """Nothing said of a disc, of clear glass, of a bare module."""
    told = {slug: {r.words: r.points for r in weigh(Evidence(), catalogue()[slug]).reasons} for slug in ("tft-240x240-round", "transparent-oled-128x56", "mono-oled-128x64-bare", "mono-oled-128x64")}  # fmt: skip
    assert [list(reasons.values()) for reasons in told.values()] == [[-2], [-1.5], [-1.5], []]
