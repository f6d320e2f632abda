"""Named values of a device: what they are, where they come from, and how a reading becomes one.

A value is a whole number with a scale (75 with one decimal is 7.5), or a text. On the device nothing else is needed.
"""

from dataclasses import dataclass, field
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.numbers import decimal
from mosaic.values.bands import Bands
from mosaic.values.maps import table
from mosaic.values.printing import DAY_S, MOST_DECIMALS, NumberFormat, clock_text, date_text, duration_text, number_text
from mosaic.values.stand_in import StandIn

LARGEST_RAW = 1_000_000_000
MOST_WORDS, MOST_POINTS = 40, 32
Raw = Annotated[int, Meta(ge=-LARGEST_RAW, le=LARGEST_RAW, description="without its point: 75 with one decimal is 7.5")]
ValueId = Annotated[str, Meta(pattern="^[a-z][a-z0-9]{0,11}$", description="a short name such as v4")]
ValueName = Annotated[str, Meta(pattern="^[^{}:|.]{1,40}$", description="1 to 40 characters, none of { } : | .")]
ShortText = Annotated[str, Meta(max_length=24)]
Kind = Literal["number", "text", "time", "date", "duration", "yes/no", "word"]
Reading = int | str | None
"""What a value is at a moment: a raw number, a text, or None where it is absent."""


@dataclass(frozen=True)
class Source:
    """Where a value comes from: a reading, and the points by which it becomes the value.

    Attributes
    ----------
    name : what is read, in words. unit : of the value as the source gives it, to be compared with the value's own.
    points : (reading, raw value): two for a straight line, more for a table; none where the reading is the value.
    known : a reading and the raw value that it has to give, to check the points by; None where there is none.
    every_ms : how often it is read. blocks_ms : how long the program stands still for it.
    """

    name: Annotated[str, Meta(max_length=60)] = ""
    unit: Annotated[str, Meta(max_length=12)] = ""
    points: Annotated[tuple[tuple[Raw, Raw], ...], Meta(max_length=MOST_POINTS)] = ()
    known: tuple[Raw, Raw] | None = None
    every_ms: Annotated[int, Meta(ge=1, le=86_400_000)] = 1000
    blocks_ms: Annotated[int, Meta(ge=0, le=600_000)] = 0

    def __post_init__(self) -> None:
        if len(self.points) == 1:
            raise BadDescriptionError("one point makes no line; none, or two and more are accepted", path="$.points")
        if len({reading for reading, _ in self.points}) < len(self.points):
            raise BadDescriptionError("two points have the same reading; each reading gives one value", path="$.points")

    def value_of(self, reading: int) -> int:
        """The raw value of a reading."""
        return table(tuple(sorted(self.points)), reading, beyond=True) if self.points else reading


@dataclass(frozen=True)
class Origin:
    """What makes a value on the device.

    Attributes
    ----------
    by : "source": readings; "band": which band another value is in, as a word; "blink": on and off in turn; "rules": what
        the rules of behaviour have set it to. of : the other value; of a blink, whose band gives the rate, "" for its own.
    on_ms, off_ms : of a blink of its own. first : of rules, raw, at the start; None for what is typical.
    """

    by: Literal["source", "band", "blink", "rules"] = "source"
    of: Annotated[str, Meta(pattern="^([a-z][a-z0-9]{0,11})?$", description="the id of a value, or nothing")] = ""
    on_ms: Annotated[int, Meta(ge=50, le=60_000)] = 500
    off_ms: Annotated[int, Meta(ge=50, le=60_000)] = 500
    first: Raw | None = None


@dataclass(frozen=True)
class Value:
    """One value.

    Attributes
    ----------
    id : by which others refer to it, and which never changes. name : by which it is written in texts.
    decimals : of the raw number, of kind "number". low, high, step : raw; the values that can occur.
    words : of kinds "word" and "yes/no" (no, yes). most_bytes : of a text in UTF-8.
    absent, stale : what is shown where there is no reading, or an old one; "" for stale shows the old one.
    max_age_s : from when on a reading is old; 0 for never.
    bands : stretches of its number line. origin : what makes it.
    """

    id: ValueId
    name: ValueName
    kind: Kind = "number"
    decimals: Annotated[int, Meta(ge=0, le=MOST_DECIMALS)] = 0
    low: Raw = 0
    high: Raw = 100
    step: Annotated[int, Meta(ge=1, le=LARGEST_RAW)] = 1
    unit: Annotated[str, Meta(max_length=12)] = ""
    words: Annotated[tuple[ShortText, ...], Meta(max_length=MOST_WORDS)] = ()
    most_bytes: Annotated[int, Meta(ge=1, le=80)] = 16
    absent: ShortText = "--"
    stale: ShortText = ""
    max_age_s: Annotated[int, Meta(ge=0, le=31_536_000)] = 0
    source: Source = Source()
    stand_in: StandIn = field(default=StandIn())
    bands: Bands = field(default=Bands())
    origin: Origin = field(default=Origin())

    def __post_init__(self) -> None:
        low, high = self.bounds
        if low > high:
            raise BadDescriptionError(
                f"the lowest, {self.plain(low)}, lies above the highest, {self.plain(high)}; exchange them", path="$.low"
            )
        if self.kind == "word" and len(self.words) < 2:
            raise BadDescriptionError(f"{self.name} is one of words; two words or more are accepted", path="$.words")
        if self.kind == "yes/no" and len(self.words) not in (0, 2):
            raise BadDescriptionError(f"{self.name} has two words, for no and for yes", path="$.words")
        if self.bands.bands and self.kind == "text":
            raise BadDescriptionError(f"{self.name} is a text; numbers, times and words have bands", path="$.bands")
        if self.origin.by == "band" and self.kind != "word":
            raise BadDescriptionError(f"{self.name} says which band another value is in; it is one of words", path="$.kind")
        if self.origin.by == "blink" and self.kind != "yes/no":
            raise BadDescriptionError(f"{self.name} blinks; it is yes or no", path="$.kind")

    @property
    def is_number(self) -> bool:
        """Whether a reading of it is a whole number: everything but a text."""
        return self.kind != "text"

    @property
    def bounds(self) -> tuple[int, int]:
        """The lowest and the highest raw value."""
        if self.kind in ("word", "yes/no"):
            return 0, len(self.named) - 1
        return (max(0, self.low), min(DAY_S - 1, self.high)) if self.kind == "time" else (self.low, self.high)

    @property
    def is_given(self) -> bool:
        """Whether it is a reading of its own, and does not follow from another value."""
        return self.origin.by != "band"

    @property
    def named(self) -> tuple[str, ...]:
        """The words of its raw values."""
        return self.words or (("no", "yes") if self.kind == "yes/no" else ())

    @property
    def scale(self) -> int:
        return self.decimals if self.kind == "number" else 0

    def held(self, raw: int) -> int:
        """The raw value on its steps, within its bounds, that is nearest."""
        low, high = self.bounds
        if self.kind in ("word", "yes/no"):
            return min(max(raw, low), high)
        within = min(max(raw, low), high)
        return min(
            low + (2 * (within - low) + self.step) // (2 * self.step) * self.step, low + (high - low) // self.step * self.step
        )

    def plain(self, raw: Reading) -> str:
        """A reading in words, for the page: with all its decimals, without its unit."""
        if raw is None:
            return self.absent
        if isinstance(raw, str):
            return raw
        if self.kind == "time":
            return clock_text(raw, "hh:mm:ss")
        if self.kind == "date":
            return date_text(raw, "yyyy-mm-dd")
        if self.kind == "duration":
            return duration_text(raw, "h:mm:ss")
        if self.kind in ("word", "yes/no"):
            return self.named[raw] if 0 <= raw < len(self.named) else str(raw)
        return number_text(raw, self.decimals, NumberFormat(self.decimals))

    def raw_of(self, typed: str) -> Reading:
        """The reading that was typed, in the value's own writing: 7.5, 18:42, 2026-11-28, a word; "" is absent.

        Raises
        ------
        BadValueError
            It cannot be read; the text says what is accepted.
        """
        plain = typed.strip()
        if not plain or plain == self.absent:
            return None
        if self.kind == "text":
            if len(plain.encode()) > self.most_bytes:
                raise BadValueError(f"{self.name} has {len(plain.encode())} bytes; up to {self.most_bytes} are accepted")
            return plain
        if self.kind in ("word", "yes/no"):
            if plain not in self.named:
                raise BadValueError(f"{self.name} is {plain[:24]!r}; {', '.join(self.named)} are accepted")
            return self.named.index(plain)
        raw = self._counted(plain)
        if raw is None or abs(raw) > LARGEST_RAW:
            accepted = {
                "time": "a time such as 18:42",
                "date": "a date such as 2026-11-28",
                "duration": "a length such as 1:30:00",
            }
            raise BadValueError(f"{self.name} is {plain[:24]!r}; {accepted.get(self.kind, 'a number such as 7.5')} is accepted")
        return raw

    def _counted(self, plain: str) -> int | None:
        if self.kind == "date":
            return days_of(plain)
        if self.kind in ("time", "duration") and ":" in plain:
            return seconds_of(plain, self.kind)
        number = decimal(plain)
        # Half away from zero, as everywhere: `round` would take the even one.
        return None if number is None else int(abs(number) * 10**self.scale + 0.5 + 1e-9) * (-1 if number < 0 else 1)


def days_of(plain: str) -> int | None:
    """Days since 1970-01-01 of a date, or None.

    >>> days_of("2026-11-28"), days_of("2026-02-30")
    (20785, None)
    """
    parts = plain.split("-")
    if len(parts) != 3 or not all(part.isascii() and part.isdigit() and len(part) <= 4 for part in parts):
        return None
    year, month, day = (int(part) for part in parts)
    if not (1 <= year <= 9999 and 1 <= month <= 12 and 1 <= day <= 31):
        return None
    shifted, of_year = year - (month <= 2), (153 * (month + (9 if month <= 2 else -3)) + 2) // 5 + day - 1
    days = 365 * shifted + shifted // 4 - shifted // 100 + shifted // 400 + of_year - 719_468
    return days if date_text(days, "yyyy-mm-dd") == f"{year:04}-{month:02}-{day:02}" else None


def seconds_of(plain: str, kind: str) -> int | None:
    """Seconds of h:mm or h:mm:ss, or None.

    >>> seconds_of("18:42", "time"), seconds_of("-1:30:05", "duration"), seconds_of("24:00", "time"), seconds_of("1:60", "time")
    (67320, -5405, None, None)
    """
    parts = plain.removeprefix("-").split(":")
    if len(parts) not in (2, 3) or not all(part.isascii() and part.isdigit() and len(part) <= 6 for part in parts):
        return None
    hours, minutes, seconds = (int(part) for part in (*parts, "0")[:3])
    if minutes > 59 or seconds > 59 or (kind == "time" and (hours > 23 or plain.startswith("-"))):
        return None
    total = hours * 3600 + minutes * 60 + seconds
    return -total if plain.startswith("-") else total
