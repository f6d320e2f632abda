"""A value as blanks in a sentence, and what was filled in as a value again."""

from dataclasses import replace
from typing import Any

from django import forms

from mosaic.errors import BadValueError
from mosaic.numbers import whole_of
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Origin, Source, Value
from workshop.look.fields import blank, select

KINDS = [
    ("number", "a number"), ("time", "a time of day"), ("date", "a date"), ("duration", "a length of time"),
    ("yes/no", "yes or no"), ("word", "one of words"), ("text", "a text from outside"),
]  # fmt: skip
ORIGINS = [
    ("source", "a source that is read"), ("rules", "the rules of behaviour, which set it"), ("blink", "its own blinking"),
]  # fmt: skip
STAND_INS = [
    ("constant", "stands still"), ("ramp", "climbs and begins again"), ("sine", "swings"), ("walk", "walks at random"),
    ("clock", "goes on with the clock"), ("list", "takes these in turn"), ("replay", "is replayed from a file"),
    ("by hand", "is set by hand"), ("live", "is sent in by a program"),
]  # fmt: skip


def _words(label: str, most: int, **more: Any) -> forms.CharField:
    widget = forms.TextInput(attrs=blank(label, autocomplete="off", spellcheck="false", **more))
    return forms.CharField(label=label, required=False, max_length=most, widget=widget, strip=False)


def _whole(label: str, least: int, top: int) -> forms.IntegerField:
    widget = forms.NumberInput(attrs=blank(label, inputmode="numeric"))
    return forms.IntegerField(label=label, min_value=least, max_value=top, widget=widget)


class ValueForm(forms.Form):
    """The blanks of one value. Readings are written as the value writes them: 7.5, 18:42, 2026-11-28."""

    name = _words("name", 40, size=12)
    kind = select("kind", KINDS)
    decimals = _whole("decimals", 0, 9)
    low, high, step = (_words(label, 24, size=8) for label in ("lowest", "highest", "step"))
    unit = _words("unit", 12, size=4)
    words = _words("words", 1000, size=28, placeholder="ebb, slack, flood")
    most_bytes = _whole("bytes at most", 1, 80)
    absent, stale = _words("without a reading", 24, size=5), _words("old reading", 24, size=5)
    max_age_s = _whole("seconds until a reading is old", 0, 31_536_000)
    source_name = _words("what is read", 60, size=22, placeholder="nothing named yet")
    source_unit = _words("unit of the source", 12, size=4)
    source_points = _words("readings and what they give", 900, size=30, placeholder="0=0.00  1023=6.80")
    known = _words("known reading", 60, size=14, placeholder="512=3.40")
    every_ms = _whole("ms from reading to reading", 1, 86_400_000)
    blocks_ms = _whole("ms that reading takes", 0, 600_000)
    origin_by = select("what makes it", ORIGINS)
    first = _words("at the start", 24, size=8)
    on_ms, off_ms = _whole("ms that it is on", 50, 60_000), _whole("ms that it is off", 50, 60_000)
    stand_by = select("what it does while no device is there", STAND_INS)
    stand_at = _words("begins at", 24, size=8)
    stand_every_ms = _whole("ms from one to the next", 10, 86_400_000)
    period_s = _whole("seconds until it comes round", 1, 31_536_000)
    seed = _whole("seed", 0, 2_147_483_647)
    reach = _words("longest step", 24, size=6)
    listed = _words("these in turn", 2000, size=28)

    def __init__(self, data: Any = None, *, value: Value, prefix: str | None = None) -> None:
        super().__init__(data, prefix=prefix, initial=_initial(value))
        self.value = value
        if value.origin.of:
            words = "the band of another value" if value.origin.by == "band" else "blinking by the band of another value"
            self.fields["origin_by"] = select("what makes it", [(value.origin.by, words)])

    def filled(self) -> Value:
        """The value as it was filled in; of a valid form. Raises `MosaicError` in words, with the name of the field."""
        v = self.cleaned_data
        kind, decimals = v["kind"], v["decimals"]
        words = tuple(word.strip() for word in v["words"].split(",") if word.strip()) if kind in ("word", "yes/no") else ()
        if self.value.origin.by == "band":
            words = self.value.words  # which its bands have
        # By this one readings are read: its own range is checked when it is made.
        reader = replace(
            self.value, name=v["name"].strip() or self.value.name, kind="number" if kind in ("word", "yes/no") else kind,
            decimals=decimals, low=-1_000_000_000, high=1_000_000_000, words=(), most_bytes=v["most_bytes"], absent="",
        )  # fmt: skip
        low, high, step = 0, max(0, len(words) - 1), 1
        if kind not in ("word", "yes/no", "text"):
            low, high = _raw(reader, v["low"], "lowest"), _raw(reader, v["high"], "highest")
            step = _raw(reader, v["step"], "step") if kind == "number" else whole_of(v["step"], f"{reader.name}: the step", -1)
            if step < 1:
                raise BadValueError(f"{reader.name}: a step of {v['step'].strip()} goes nowhere; one above zero is accepted")
        named = replace(reader, kind=kind, words=words, low=low, high=high, step=step)
        source = Source(
            v["source_name"].strip(), v["source_unit"].strip(), _points(reader, v["source_points"]), _known(reader, v["known"]),
            v["every_ms"], v["blocks_ms"],
        )  # fmt: skip
        before = self.value.stand_in
        at = v["stand_at"].strip()
        begins = _stand_raw(named, at) if at and kind != "text" else None
        stand_in = StandIn(
            v["stand_by"], begins, v["stand_every_ms"], v["period_s"], v["seed"],
            _raw(reader, v["reach"], "longest step") if v["reach"].strip() and kind == "number" else 0,
            _listed(named, v["listed"]), before.replayed if before.replayed and kind == self.value.kind else (),
        )  # fmt: skip
        return replace(
            named, unit=v["unit"].strip(), absent=v["absent"], stale=v["stale"], max_age_s=v["max_age_s"], source=source,
            stand_in=stand_in, origin=self._origin(named),
        )  # fmt: skip

    def _origin(self, named: Value) -> Origin:
        """What makes it; what follows the bands of another value goes on to."""
        v, before = self.cleaned_data, self.value.origin
        if before.of or v["origin_by"] == "source":
            return before if before.of else Origin()
        if v["origin_by"] == "blink":
            return Origin("blink", on_ms=v["on_ms"], off_ms=v["off_ms"])
        return Origin("rules", first=_stand_raw(named, v["first"]) if v["first"].strip() and named.is_number else None)


def _raw(reader: Value, typed: str, label: str) -> int:
    raw = reader.raw_of(typed)
    if not isinstance(raw, int):
        raise BadValueError(f"{reader.name}: {label} is left out; a reading such as {reader.plain(0)} is accepted")
    return raw


def _stand_raw(value: Value, typed: str) -> int | None:
    raw = value.raw_of(typed)
    return raw if isinstance(raw, int) else None


def _listed(value: Value, typed: str) -> tuple[int | str | None, ...]:
    return tuple(value.raw_of(one.strip()) for one in typed.split(",")) if typed.strip() else ()


def _points(reader: Value, typed: str) -> tuple[tuple[int, int], ...]:
    return tuple(sorted(_pair(reader, pair) for pair in typed.split()))


def _known(reader: Value, typed: str) -> tuple[int, int] | None:
    return _pair(reader, typed.strip()) if typed.strip() else None


def _pair(reader: Value, typed: str) -> tuple[int, int]:
    reading, sign, gives = typed.partition("=")
    if not sign or not gives.strip():
        raise BadValueError(
            f"{reader.name}: {typed[:24]!r} is no point; reading=value such as 512={reader.plain(340)} is accepted"
        )
    return whole_of(reading, f"{reader.name}: the reading", -1_000_000_000, 1_000_000_000), _raw(reader, gives, "value")


def _initial(value: Value) -> dict[str, Any]:
    source, stand = value.source, value.stand_in
    low, high = value.bounds
    step = value.plain(value.step) if value.kind == "number" else str(value.step)
    return {
        "name": value.name, "kind": value.kind, "decimals": value.decimals, "low": value.plain(low), "high": value.plain(high),
        "step": step, "unit": value.unit, "words": ", ".join(value.words), "most_bytes": value.most_bytes,
        "absent": value.absent, "stale": value.stale, "max_age_s": value.max_age_s, "source_name": source.name,
        "source_unit": source.unit, "source_points": "  ".join(f"{at}={value.plain(raw)}" for at, raw in source.points),
        "known": f"{source.known[0]}={value.plain(source.known[1])}" if source.known else "",
        "every_ms": source.every_ms, "blocks_ms": source.blocks_ms, "stand_by": stand.by,
        "stand_at": "" if stand.at is None else value.plain(stand.at), "stand_every_ms": stand.every_ms,
        "period_s": stand.period_s,
        "seed": stand.seed, "reach": value.plain(stand.reach) if stand.reach and value.kind == "number" else "",
        "listed": ", ".join(value.plain(one) for one in stand.listed), "origin_by": value.origin.by,
        "first": "" if value.origin.first is None else value.plain(value.origin.first), "on_ms": value.origin.on_ms,
        "off_ms": value.origin.off_ms,
    }  # fmt: skip
