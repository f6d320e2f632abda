"""Pull-ups of a bus, levels between two parts, and the error of a serial rate."""

from mosaic.desk.calculator import Answer, Bars, Calculator, Field, Figure, Scale, Values, number, whole
from mosaic.serial.line import clock_error
from mosaic.wiring.pullups import in_parallel, most_capacitance_pf, pull_up_range, to_add


def _ohms(ohm: float) -> str:
    return f"{ohm / 1000:,.3g} kΩ" if ohm >= 1000 else f"{ohm:,.3g} Ω"


def _pull_ups(values: Values) -> Answer:
    clock, rail, pf = whole(values, "clock") * 1000, number(values, "rail"), number(values, "capacitance")
    there = in_parallel(number(values, "first"), number(values, "second"), number(values, "third"))
    found = pull_up_range(clock, rail, pf)
    add = to_add(there, found)
    if not found.has_solution:
        sentence = "No resistor will do: the bus has too much capacitance for this clock. Shorten it, or lower the clock."
    elif add == 0:
        sentence = f"What is there is right: {_ohms(there)}."
    elif add is None:
        sentence = f"{_ohms(there)} is too little, and nothing beside it makes it more: take one of them off."
    else:
        sentence = f"Put {_ohms(add)} from each line to the rail."
    return Answer(
        sentence,
        (
            Figure("at least", _ohms(found.least_ohm)), Figure("at most", _ohms(found.most_ohm)),
            Figure("there now", "none" if there == float("inf") else _ohms(there)),
            Figure("capacitance at this clock up to", f"{most_capacitance_pf(clock):g} pF"),
        ),
        "least = (rail - 0.4 V) / I, most = rise time / (0.8473 × C); 3 mA and 1 µs or 300 ns up to 400 kHz, 20 mA and 120 ns at"
        " 1 MHz (the bus's specification)",
        Scale(found.least_ohm, found.most_ohm, min(there, 1e6), "Ω"),
    )  # fmt: skip


PULL_UPS = Calculator(
    "pull-ups", "Pull-ups of an I2C bus", "Which pull-ups does the bus need?",
    (
        Field("clock", "Clock", "400", "kHz", "whole", 1, 1000), Field("rail", "Rail", "3.3", "V", "number", 0.5, 5.5),
        Field("capacitance", "Capacitance of the bus", "100", "pF", "number", 1, 2000),
        Field("first", "Resistors there, 0 for none", "4700", "Ω", "number", 0, 1e6),
        Field("second", "a second", "0", "Ω", "number", 0, 1e6), Field("third", "a third", "0", "Ω", "number", 0, 1e6),
    ), _pull_ups, "wiring", "Pin plan",
)  # fmt: skip

LEVELS = (
    ("cmos", "CMOS, 30 and 70 % of its supply", 0.3, 0.7), ("ttl", "TTL, 0.8 and 2.0 V", 0.0, 0.0),
    ("schmitt", "Schmitt trigger, 25 and 75 % of its supply", 0.25, 0.75),
)  # fmt: skip
LOW_V, DROP_V, OVER_V = 0.4, 0.4, 0.3
"""What an output's low may be, what its high may be below its supply, and what an input takes above its own."""
NEAR = 1e-9


def _levels(values: Values) -> Answer:
    driver, receiver = number(values, "driver"), number(values, "receiver")
    kind = next(one for one in LEVELS if one[0] == values["inputs"])
    low, high = (0.8, 2.0) if kind[0] == "ttl" else (kind[2] * receiver, kind[3] * receiver)
    out_high = driver - DROP_V
    tolerant = values["tolerant"] == "yes"
    most = 5.5 if tolerant else receiver + OVER_V
    if driver > most + NEAR:
        sentence = f"Put a level shifter in between: {driver:g} V are more than this input takes."
    elif out_high < high - NEAR:
        sentence = f"Put a level shifter in between: {out_high:.3g} V may not be read as high."
    elif low < LOW_V - NEAR:
        sentence = f"Put a level shifter in between: {LOW_V:g} V may not be read as low."
    else:
        sentence = "They go together directly."
    return Answer(
        sentence,
        (
            Figure("high comes out as at least", f"{out_high:.3g} V", "typical"),
            Figure("is read as high from", f"{high:.3g} V", "typical"),
            Figure("margin of high", f"{out_high - high:+.3g} V", "typical"),
            Figure("margin of low", f"{low - LOW_V:+.3g} V", "typical"),
            Figure("the input takes up to", f"{most:.3g} V", "typical"),
        ),
        "high is read if driver's supply - 0.4 V ≥ the input's threshold; the input stands its own supply + 0.3 V, unless it is"
        " marked as tolerant of 5 V. Open-drain lines (I2C) have the level of the rail of their pull-ups",
        Scale(high, most, out_high, "V"),
    )  # fmt: skip


LEVEL = Calculator(
    "levels", "Level between two parts", "Do two parts go together without a level shifter?",
    (
        Field("driver", "Supply of the driver", "5", "V", "number", 0.8, 12),
        Field("receiver", "Supply of the receiver", "3.3", "V", "number", 0.8, 12),
        Field("inputs", "Its inputs", "cmos", kind="choice", choices=tuple((slug, name) for slug, name, _, _ in LEVELS)),
        Field("tolerant", "Marked as tolerant of 5 V", "no", kind="choice", choices=(("no", "no"), ("yes", "yes"))),
    ), _levels, "wiring", "Pin plan",
)  # fmt: skip

RATES = (9600, 19_200, 38_400, 57_600, 115_200, 230_400, 460_800, 921_600, 1_000_000)
MOST_ERROR = 0.02
"""Of one side; both together may miss by 4 to 5 % until the last bit of a byte is looked at too late."""


def _baud(values: Values) -> Answer:
    rate, clock, divider = whole(values, "rate"), number(values, "clock") * 1e6, int(str(values["divider"]))
    error = clock_error(rate, clock, divider)
    rows = tuple((f"{one:,}", clock_error(one, clock, divider) * 100, f"{clock_error(one, clock, divider):.2%}") for one in RATES)
    verdict = "It is near enough" if error <= MOST_ERROR else "Bytes will be read wrongly"
    return Answer(
        f"{verdict}: the rate is missed by {error:.2%}.",
        (
            Figure("nearest rate", f"{clock / (divider * max(1, round(clock / (divider * rate)))):,.0f} bits a second"),
            Figure("a byte takes", f"{10e6 / rate:,.4g} µs"),
            Figure("the last bit is early or late by", f"{9.5 * error:.1%} of a bit"),
        ),
        "rate = clock / (divider × n), n a whole number; up to 2 % of one side is usual",
        Bars(rows, MOST_ERROR * 100),
    )  # fmt: skip


BAUD = Calculator(
    "baud", "Error of a serial rate", "Does this clock make that rate well enough?",
    (
        Field("rate", "Rate", "115200", "bits a second", "whole", 50, 4_000_000),
        Field("clock", "Clock of the board", "16", "MHz", "number", 0.03, 500),
        Field("divider", "Samples a bit", "16", kind="choice", choices=(("16", "16"), ("8", "8"), ("1", "fractional, 1"))),
    ), _baud, "serial", "Serial line",
)  # fmt: skip
