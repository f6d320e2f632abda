"""How long a cell lasts."""

from mosaic.desk.calculator import Answer, Calculator, Curve, Field, Figure, Values, number
from mosaic.errors import BadValueError
from mosaic.refresh.energy.balance import Rhythm, curve, hours_of
from mosaic.refresh.energy.cells import CELLS

INTERVALS_MIN = (1, 2, 5, 10, 15, 30, 60, 120, 240, 720, 1440)


def _runtime(values: Values) -> Answer:
    cell = CELLS[str(values["cell"])]
    rhythm = Rhythm(number(values, "idle") / 1000, number(values, "active") * number(values, "seconds"))
    if not (rhythm.idle_ma or rhythm.update_mc):
        raise BadValueError("nothing draws a current; some µA asleep, or some mA at work, are accepted")
    every_s = number(values, "every") * 60
    usable = cell.usable_mah(celsius=number(values, "celsius"))
    average = rhythm.average_ma(every_s)
    days = hours_of(usable, average, cell.self_discharge_ma) / 24
    twice = hours_of(usable, rhythm.average_ma(every_s * 2), cell.self_discharge_ma) / 24
    points = curve(rhythm, usable, cell.self_discharge_ma, [one * 60.0 for one in INTERVALS_MIN])
    return Answer(
        f"It lasts about {days:,.3g} days; at twice the interval {twice:,.3g}.",
        (
            Figure("average", f"{average:.3g} mA"), Figure("usable", f"{usable:,.0f} of {cell.capacity_mah:,.0f} mAh", "typical"),
            Figure("self-discharge is as much as", f"{cell.self_discharge_ma * 1000:.3g} µA", "typical"),
            Figure("sleeping takes as much as working from",
                f"{rhythm.crossing_s / 60:,.3g} min on" if rhythm.idle_ma else "never"),
        ),
        "average = idle + charge of an update / interval; days = usable mAh / (average + self-discharge) / 24. "
        + cell.caution.rstrip("."),
        Curve(tuple((seconds / 60, lasts) for seconds, lasts in points), "minutes from update to update", "days",
              (every_s / 60, days)),
    )  # fmt: skip


RUNTIME = Calculator(
    "runtime", "Runtime of a cell", "How long does a cell last?",
    (
        Field("cell", "Cell", "pouch-1200", kind="choice", choices=tuple((one.slug, one.name) for one in CELLS.values())),
        Field("idle", "Asleep", "25", "µA", "number", 0, 1e6), Field("active", "At work", "40", "mA", "number", 0, 5000),
        Field("seconds", "for", "4", "s", "number", 0, 86_400), Field("every", "every", "15", "min", "number", 0.1, 100_000),
        Field("celsius", "at", "20", "°C", "number", -40, 80),
    ), _runtime, "energy", "Energy",
)  # fmt: skip
