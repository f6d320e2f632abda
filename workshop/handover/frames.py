"""Frames for devices: which frame a build has now, who may have it, and how often."""

import hashlib
import secrets
import threading
import time
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import Any

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from mosaic.conversion.pipeline import pack
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.exports.rasters import encode_png
from mosaic.panels.appearance import colors_of
from mosaic.refresh.day.program import Program
from mosaic.values.given import ask_again_s, at_moment, readings_given
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.handover.models import FrameFeed, FrameReport
from workshop.journal import services as journal
from workshop.journal.models import LogEntry
from workshop.memory import ByteCache
from workshop.stations.exchange import frame_sources
from workshop.stations.station import FrameSource

EPOCH = date(1970, 1, 1)
MOST_REPORTS = 2000
QUANTITIES = {"battery_v": ("battery", "V", 0.0, 60.0), "temperature_c": ("temperature", "°C", -60.0, 125.0),
              "battery_percent": ("charge", "%", 0.0, 100.0), "signal_dbm": ("signal", "dBm", -150.0, 20.0)}  # fmt: skip
"""What a device may report: by its name the quantity, the unit, the lowest and the highest value."""
LOGGED = {"battery": "voltage", "temperature": "temperature", "charge": "charge-left"}
"""What of it is written into the log, as which quantity."""
LOG_EVERY = timedelta(hours=6)
KEEP_S = 0.2
"""How often counts of polls are kept: the last few may not be in them yet."""
_frames = ByteCache("served frames", 16 * 2**20)
_sources = ByteCache("sources of frames", 4 * 2**20)


class Bucket:
    """How often somebody may ask: so many at once, and so many a second after that."""

    def __init__(self, room: float, a_second: float) -> None:
        self.room, self.a_second = room, a_second
        self._left: dict[Any, tuple[float, float]] = {}
        self._lock = threading.Lock()

    def wait_s(self, who: Any, now: float) -> float:
        """0 where it is granted, else the seconds until it will be."""
        with self._lock:
            left, at = self._left.get(who, (self.room, now))
            left = min(self.room, left + (now - at) * self.a_second)
            if len(self._left) > 10_000:
                self._left.clear()
            if left < 1:
                self._left[who] = (left, now)
                return (1 - left) / self.a_second
            self._left[who] = (left - 1, now)
            return 0.0


POLLS, WRONG = Bucket(1200, 20), Bucket(20, 0.5)
"""Polls of one build, and wrong tokens of one address."""


@dataclass(frozen=True, eq=False)
class Frame:
    """A frame as it is served: the panel's bytes, its tag, and after how many seconds it may be another one."""

    packed: bytes
    tag: str
    pixels: Any
    again_s: int
    name: str


def hash_of(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def feed_of(build: Build) -> FrameFeed:
    """The frame feed of a build."""
    feed: FrameFeed = FrameFeed.objects.get_or_create(build=build)[0]
    feed.build = build
    return feed


def renew(feed: FrameFeed) -> str:
    """A new token, which is given here alone; the old one is refused from now on."""
    token = secrets.token_urlsafe(24)
    FrameFeed.objects.filter(pk=feed.pk).update(token_hash=hash_of(token), is_open=True)
    return token


def admitted(build_id: int, token: str) -> FrameFeed | None:
    """The feed of a build that is open to this token; None where there is none."""
    feed = (
        FrameFeed.objects.select_related("build")
        .filter(build_id=build_id, is_open=True, build__removed=None, build__owner__leaves=None)
        .first()
    )
    if feed is None or not feed.token_hash or not secrets.compare_digest(feed.token_hash, hash_of(token)):
        return None
    return feed


@dataclass(frozen=True, eq=False)
class _Known:
    """What a build's frames are made with, as long as nothing of it changes."""

    device: Device
    sources: tuple[FrameSource, ...]
    program: Program


def _known(build: Build) -> _Known:
    def made() -> _Known:
        device = build.to_device()
        row = next((one for one in shelf.all_documents(build) if one.KIND == "schedule"), None)
        return _Known(device, tuple(frame_sources(build, device)), row.record if row and not row.problem else Program())

    return _sources.get_or_make((build.pk, build.content, build.revision), made, lambda found: 20_000 * (1 + len(found.sources)))


def sources_of(build: Build) -> tuple[FrameSource, ...]:
    """What of a build can be served."""
    return _known(build).sources


def frame_of(feed: FrameFeed, now_s: float | None = None) -> Frame:
    """The frame that a build has now.

    Raises
    ------
    BadValueError
        It has no screen and no page that can be drawn.
    """
    build, now_s = feed.build, time.time() if now_s is None else now_s
    known = _known(build)
    source = next((one for one in known.sources if one.ref == feed.source), None) or next(iter(known.sources), None)
    if source is None:
        raise BadValueError("this build has no screen that can be drawn; make one first")
    local = datetime.fromtimestamp(now_s)
    day_s = local.hour * 3600 + local.minute * 60 + local.second
    kept = {ident: (reading, at) for ident, (reading, at) in feed.values.items()}
    state = at_moment(source.values, kept, now_s, day_s, (local.date() - EPOCH).days)
    key = (source.ref, source.key, tuple(sorted(state.readings.items(), key=lambda one: one[0])), tuple(sorted(state.stale)))

    def made() -> tuple[bytes, str, Any]:
        pixels = source.draw(state)
        packed = pack(pixels, known.device.passport, known.device.turn)
        return packed, hashlib.sha256(packed).hexdigest()[:24], pixels

    packed, tag, pixels = _frames.get_or_make(key, made, lambda found: len(found[0]) + found[2].nbytes)
    every = dict(known.program.every)
    shown = [
        every.get(value.id, value.source.every_ms) for value in source.values if value.is_given and value.origin.by == "source"
    ]
    again = ask_again_s(
        shown, known.program.least_ms, known.device.passport.update_pause_s, known.program.slower(day_s * 1000),
        known.device.update_interval_s,
    )  # fmt: skip
    return Frame(packed, tag, pixels, again, source.name)


def png_of(frame: Frame, device: Device) -> bytes:
    return encode_png(colors_of(frame.pixels, device.passport, device.turn), level=1)


@dataclass
class _Counts:
    """Polls that are not yet in the database."""

    polls: int = 0
    unchanged: int = 0
    byte_count: int = 0
    kept_at: float = 0.0


@dataclass
class Counter:
    """Counts polls; the database hears of them a few times a second."""

    counts: dict[int, _Counts] = field(default_factory=dict)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def note(self, feed: FrameFeed, size: int, *, unchanged: bool) -> None:
        now = time.monotonic()
        with self.lock:
            counts = self.counts.setdefault(feed.pk, _Counts())
            counts.polls += 1
            counts.unchanged += unchanged
            counts.byte_count += size
            if now - counts.kept_at < KEEP_S:
                return
            told, self.counts[feed.pk] = counts, _Counts(kept_at=now)
        FrameFeed.objects.filter(pk=feed.pk).update(
            polls=F("polls") + told.polls, unchanged=F("unchanged") + told.unchanged,
            byte_count=F("byte_count") + told.byte_count, seen=timezone.now(),
        )  # fmt: skip


COUNTER = Counter()


@transaction.atomic
def give_values(feed: FrameFeed, plain: Any) -> int:
    """Values that another program hands in, by their names; gives how many.

    Raises
    ------
    BadDescriptionError, BadValueError
        A value is not there, or cannot be what is given; nothing of it is kept.
    """
    row = FrameFeed.objects.select_for_update().get(pk=feed.pk)
    known = {value.id: value for source in sources_of(feed.build) for value in source.values}
    given = readings_given(plain, known.values())
    now = time.time()
    row.values = {**row.values, **{ident: [reading, now] for ident, reading in given.items()}}
    row.save(update_fields=["values"])
    return len(given)


def report(feed: FrameFeed, plain: Any) -> int:
    """What a device reports of itself, kept as measurements; gives how many.

    Raises
    ------
    BadValueError
        A quantity is not known, or its value cannot be.
    """
    if not isinstance(plain, dict) or not plain:
        raise BadValueError(f'a report is an object such as {{"battery_v": 3.71}}; {", ".join(QUANTITIES)} are accepted')
    rows = []
    for name, value in plain.items():
        if name not in QUANTITIES:
            raise BadValueError(f"{str(name)[:40]} is not known; {', '.join(QUANTITIES)} are accepted")
        quantity, unit, low, high = QUANTITIES[name]
        if isinstance(value, bool) or not isinstance(value, int | float) or not low <= value <= high:
            raise BadValueError(f"{name} is {str(value)[:20]}; a number from {low:g} to {high:g} {unit} is accepted")
        rows.append(FrameReport(feed=feed, quantity=quantity, value=float(value), unit=unit))
    FrameReport.objects.bulk_create(rows)
    _log(feed.build, rows)
    old = list(FrameReport.objects.filter(feed=feed).values_list("pk", flat=True)[MOST_REPORTS:])
    if old:
        FrameReport.objects.filter(pk__in=old).delete()
    return len(rows)


def _log(build: Build, rows: list[FrameReport]) -> None:
    """A line for the log of each quantity, at most every six hours."""
    since = timezone.now() - LOG_EVERY
    told = set(
        LogEntry.objects.filter(build=build, by_itself=True, kind="measurement", made__gt=since).values_list(
            "quantity", flat=True
        )
    )
    for row in rows:
        quantity = LOGGED.get(row.quantity)
        if quantity and quantity not in told:
            journal.note(
                build, "measurement", "Reported by the device.", quantity=quantity, value=row.value,
                instrument="the device itself", subject="Frame feed",
            )  # fmt: skip
