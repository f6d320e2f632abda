"""Two years of the Boathouse's logs: what was tried, measured and mended, with two mistakes that were found."""

from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Line:
    """An entry so many days ago."""

    days: int
    kind: str
    text: str
    more: dict[str, Any]


def at(days: int, kind: str, text: str, **more: Any) -> Line:
    return Line(days, kind, text, more)


TIDE = (
    at(730, "note", "The board is to hang on the slipway, under the eaves; nobody wants a cable there.", tags="place"),
    at(724, "trial", "First light on the bench: the panel stays white.", worked=False, conditions="bench, USB"),
    at(
        723,
        "fix",
        "Busy line and reset were exchanged on the flex adapter. Found with the continuity checks of the pin plan.",
        tags="wiring mistake",
    ),
    at(723, "trial", "Test card with the rulers: all edges right.", worked=True, conditions="bench, USB"),
    at(
        716,
        "measurement",
        "",
        quantity="refresh-time",
        value=17_400.0,
        predicted=17_000.0,
        instrument="stop watch",
        conditions="21 °C",
    ),
    at(
        702,
        "measurement",
        "A full day on the meter.",
        quantity="energy-a-day",
        value=26.1,
        predicted=24.8,
        instrument="power meter",
        conditions="indoors, 20 °C",
    ),
    at(690, "photo", "On the slipway at last. Readable from the pontoon with the sun behind."),
    at(655, "update", "New figures for the tide, 20 mm high.", tags="lettering"),
    at(610, "measurement", "", quantity="voltage", value=4.02, instrument="multimeter", conditions="cell at rest"),
    at(
        548,
        "measurement",
        "First winter: the refresh is slower.",
        quantity="refresh-time",
        value=23_900.0,
        predicted=17_000.0,
        instrument="stop watch",
        conditions="4 °C",
    ),
    at(545, "note", "Below 0 °C the board waits; the picture stays from the evening before.", tags="winter"),
    at(
        480,
        "measurement",
        "",
        quantity="energy-a-day",
        value=25.6,
        predicted=24.8,
        instrument="power meter",
        conditions="indoors, 19 °C",
    ),
    at(432, "fix", "Condensation behind the glass: a drain hole, and silica gel in the housing.", tags="place"),
    at(365, "measurement", "A year on: the cell was charged twice.", quantity="voltage", value=3.71, instrument="multimeter"),
    at(
        300,
        "measurement",
        "Spring, with the radio at its worst.",
        quantity="energy-a-day",
        value=27.0,
        predicted=24.8,
        instrument="power meter",
        conditions="outdoors, 8 °C",
    ),
    at(212, "update", "High water in large figures, wind below it.", tags="screens"),
    at(
        120,
        "measurement",
        "",
        quantity="energy-a-day",
        value=25.9,
        predicted=24.8,
        instrument="power meter",
        conditions="outdoors, 17 °C",
    ),
    at(
        118,
        "measurement",
        "Meter left in the µA range: far too much.",
        quantity="energy-a-day",
        value=61.0,
        predicted=24.8,
        instrument="power meter",
        conditions="wrong range",
        tags="mistake",
    ),
    at(
        31,
        "trial",
        "Partial updates tried; this panel has none. Back to full ones every quarter of an hour.",
        worked=False,
        tags="refresh",
    ),
    at(6, "note", "The committee asks for the water's temperature as well."),
)
COUNTER = (
    at(
        690,
        "trial",
        "The address answers at 3C, not at 3D as the seller wrote.",
        worked=True,
        tags="i2c",
        conditions="address found 3C",
    ),
    at(688, "measurement", "", quantity="frame-time", value=41.2, predicted=39.5, instrument="benchmark", conditions="400 kHz"),
    at(
        640,
        "fix",
        "Pictures drawn two columns to the left: the memory has 132 columns, the glass begins at the third.",
        tags="offset mistake",
    ),
    at(512, "measurement", "", quantity="frame-time", value=40.8, predicted=39.5, instrument="benchmark", conditions="400 kHz"),
    at(410, "measurement", "", quantity="current", value=11.4, instrument="multimeter", conditions="half of the pixels lit"),
    at(200, "measurement", "", quantity="frame-time", value=41.0, predicted=39.5, instrument="benchmark", conditions="400 kHz"),
    at(90, "trial", "In the boat, in rain, two hours.", worked=True, conditions="12 °C, rain"),
)
BAROMETER = (
    at(400, "trial", "Red and blue were exchanged; the set-up says so now.", worked=True, tags="colours"),
    at(
        398,
        "measurement",
        "",
        quantity="frame-time",
        value=43.5,
        predicted=41.5,
        instrument="logic analyser",
        conditions="40 MHz",
    ),
    at(150, "note", "The club wants it to show rain as well."),
)
SIGN_OUT = (
    at(320, "trial", "Touch is off by 9 mm in one corner.", worked=False, tags="touch"),
    at(318, "fix", "Fitted anew with the crosses of Bring-up; worst cross 1.2 px.", tags="touch"),
    at(40, "measurement", "", quantity="frame-time", value=47.1, predicted=45.9, instrument="benchmark", conditions="40 MHz"),
)
LOGS = {"Tide & wind board": TIDE, "Stroke-rate counter": COUNTER, "Barometer": BAROMETER, "Sign-out panel": SIGN_OUT}
