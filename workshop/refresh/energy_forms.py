"""How a build is fed, from the fields of its page and into them."""

from collections.abc import Mapping
from typing import Any

from mosaic.errors import BadValueError
from mosaic.forms import from_record, to_record
from mosaic.numbers import decimal
from mosaic.refresh.energy.cells import CELLS
from mosaic.refresh.energy.plan import MOST_LOADS, OWN, WALLS, EnergyPlan
from mosaic.refresh.energy.supply import MOST_POINTS

CHECKS = ("sleeps", "waits_awake")
SCALED = {
    "usable_percent": ("usable_share", "the usable share, in %,", 100), "end_v": ("end_v", "the end voltage, in V a cell,", 1),
    "leak_percent": ("self_discharge", "the self-discharge, in % a month,", 100),
}  # fmt: skip
"""Fields that may stay empty, for what is usual of the cell: (name in the record, words, times)."""
PLAIN = {
    "diode_v": ("diode_v", "the drop before the regulator, in V,", 1), "celsius": ("celsius", "the temperature, in °C,", 1),
    "light_percent": ("light", "the light, in %,", 100), "night_percent": ("night_light", "the light by night, in %,", 100),
}  # fmt: skip
WALL = {
    "wall_percent": ("efficiency", "the supply's efficiency, in %,", 100),
    "wall_mw": ("idle_mw", "what it draws by itself, in mW,", 1),
}
TOPPING = {
    "peak_mw": ("peak_mw", "the solar panel's power, in mW,", 1), "sun_h": ("sun_h", "the hours of sun,", 1),
    "dark_days": ("dark_days", "the number of dark days", 1), "charge_ma": ("charge_ma", "the charging current, in mA,", 1),
    "plugged_h": ("plugged_h", "the hours at the plug,", 1), "every_days": ("every_days", "the days between", 1),
    "kept_percent": ("efficiency", "the share that the cell keeps, in %,", 100),
}  # fmt: skip
CHANNELS = ("red", "green", "blue")


def _number(values: Mapping[str, str], field: str, what: str) -> float:
    found = decimal(values.get(field, "").strip() or "0")
    if found is None:
        raise BadValueError(f"{what} is {values.get(field, '')[:20]!r}; a number such as 3.3 is accepted")
    return float(found)


def _scaled(values: Mapping[str, str], fields: Mapping[str, tuple[str, str, int]], kept: Any) -> dict[str, Any]:
    """Figures by their names in the record; those that are not in the form stay as they are."""
    found = {}
    for field, (name, what, times) in fields.items():
        if field in values:
            number = _number(values, field, what) / times
            found[name] = int(number) if isinstance(getattr(kept, name), int) and number == int(number) else number
    return found


def plan_from(values: Mapping[str, str], kept: EnergyPlan) -> EnergyPlan:
    """How the build is fed, as it was filled in.

    Raises
    ------
    BadValueError, BadDescriptionError
        Something of it cannot be.
    """
    kind = values.get("regulator", kept.regulator.kind)
    regulator = {
        **from_record(kept.regulator), "kind": kind,
        "out_v": _number(values, "out_v", "the voltage of the load, in V,"),
        "quiescent_ua": _number(values, "quiescent_ua", "the quiescent current, in µA,"),
    }  # fmt: skip
    if "drop_v" in values:
        regulator["drop_v"] = _number(values, "drop_v", "the drop of the regulator, in V,")
    if "point_ma_0" in values:
        regulator["efficiency"] = _points(values)
    cell = values.get("cell", OWN)
    if cell != OWN and cell not in CELLS and cell not in WALLS:
        raise BadValueError(f"{cell[:20]!r} is no kind of cell; choose one of those offered")
    plain: dict[str, Any] = {
        **from_record(kept), "cell": cell, "regulator": regulator, "loads": _loads(values),
        **{name: name in values for name in CHECKS}, **_scaled(values, PLAIN, kept),
        "wall": {**from_record(kept.wall), **_scaled(values, WALL, kept.wall)},
        "topping": {
            **from_record(kept.topping), **_scaled(values, TOPPING, kept.topping), "by": values.get("by", kept.topping.by)
        },
    }  # fmt: skip
    for field, (name, what, times) in SCALED.items():
        if field in values:
            plain[name] = _number(values, field, what) / times if values[field].strip() else None
    if "red" in values:
        plain["channels"] = [_number(values, name, f"the share of {name}, in %,") / 100 for name in CHANNELS]
        if not sum(plain["channels"]):
            raise BadValueError("the shares of red, green and blue are all 0; one of them takes something")
    if not plain["waits_awake"] and "waits_shown" not in values:
        plain["waits_awake"] = kept.waits_awake  # the page of a panel that does not refresh has no such field
    return to_record(plain, EnergyPlan, "how the build is fed")


def _points(values: Mapping[str, str]) -> list[list[float]]:
    """Rows of load and efficiency; a row without a load is none."""
    found = []
    for number in range(MOST_POINTS):
        if values.get(f"point_ma_{number}", "").strip():
            load = _number(values, f"point_ma_{number}", "a load of the table, in mA,")
            found.append([load, _number(values, f"point_percent_{number}", f"the efficiency at {load:g} mA, in %,") / 100])
    return sorted(found)


def _loads(values: Mapping[str, str]) -> list[dict[str, Any]]:
    found = []
    for number in range(MOST_LOADS):
        name = values.get(f"load_name_{number}", "").strip()
        if name:
            found.append({
                "name": name[:40], "ma": _number(values, f"load_ma_{number}", f"the current of {name}, in mA,"),
                "when": values.get(f"load_when_{number}", "awake"),
                "seconds": _number(values, f"load_s_{number}", f"how long {name} draws, in s,"),
                "times": _number(values, f"load_times_{number}", f"how often {name} draws") or 1.0,
            })  # fmt: skip
    return found


def _said(number: float | None) -> str:
    return "" if number is None else f"{number:.6g}"


def values_of(plan: EnergyPlan) -> dict[str, str]:
    """The fields of the page as they stand for a plan."""
    regulator = plan.regulator
    found = {
        "cell": plan.cell, "regulator": regulator.kind, "out_v": _said(regulator.out_v), "drop_v": _said(regulator.drop_v),
        "quiescent_ua": _said(regulator.quiescent_ua), "by": plan.topping.by,
        **{name: "1" for name in CHECKS if getattr(plan, name)},
        **dict(zip(CHANNELS, [_said(100 * one) for one in plan.channels], strict=True)),
    }  # fmt: skip
    for record, fields in ((plan, SCALED), (plan, PLAIN), (plan.wall, WALL), (plan.topping, TOPPING)):
        for field, (name, _, times) in fields.items():
            value = getattr(record, name)
            found[field] = _said(None if value is None else value * times)
    return found


def rows_of(values: Mapping[str, str], names: tuple[str, ...], most: int, spare: int) -> list[tuple[int, dict[str, str]]]:
    """Rows of a table in the form as it was filled in, and some empty ones."""
    filled = [n for n in range(most) if any(values.get(f"{name}_{n}", "").strip() for name in names)]
    count = min(most, (max(filled) + 1 if filled else 0) + spare)
    return [(n, {name.rpartition("_")[2]: values.get(f"{name}_{n}", "") for name in names}) for n in range(count)]


POINT_FIELDS = ("point_ma", "point_percent")
LOAD_FIELDS = ("load_name", "load_ma", "load_when", "load_s", "load_times")


def row_values(plan: EnergyPlan) -> dict[str, str]:
    """The fields of the tables as they stand for a plan."""
    found = {}
    for n, (load, share) in enumerate(plan.regulator.efficiency):
        found |= {f"point_ma_{n}": _said(load), f"point_percent_{n}": _said(100 * share)}
    for n, one in enumerate(plan.loads):
        found |= {
            f"load_name_{n}": one.name, f"load_ma_{n}": _said(one.ma), f"load_when_{n}": one.when,
            f"load_s_{n}": _said(one.seconds or None), f"load_times_{n}": _said(one.times) if one.is_event else "",
        }  # fmt: skip
    return found
