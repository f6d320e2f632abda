"""The plain program, event by event: it reads what is due, one after the other, draws and sends what has changed, and goes on.

Times are whole nanoseconds, so that they add up: reading, drawing, waiting for the link and idling are together the time that has
passed. What is drawn and what it costs is a `Scene`'s affair; what touches and timers bring about is the behaviour's.
"""

from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Protocol

from mosaic.behaviour.due import next_due
from mosaic.behaviour.machine import Machine, age_ms
from mosaic.behaviour.state import Effect, Happening, Known
from mosaic.behaviour.step import begin, step
from mosaic.panels.supply import RefreshMode
from mosaic.refresh.day.program import Program
from mosaic.refresh.paper.cleaning import Cleaner, Refreshed
from mosaic.values.courses import reader
from mosaic.values.value import Reading, Value

MS = 1_000_000
MOST_LOGGED = 3000
MOST_REFRESHES = 20_000
FULL_LIGHT = 100
TICK_MS = 100
ANSWER_NS = 2000 * MS
"""What changes so soon after somebody has done something is the answer to it: releases and holds take their time."""
READ, DRAW, WAIT, LINK, REFRESH = range(5)
"""What a share of the day is spent on: the program reads, draws, or waits for the link; the link sends; the panel refreshes."""
FINGER_NS = 60 * MS
"""A finger that was felt no longer ago lies there still: samples of touches are told some twenty ms apart."""
Look = Hashable
Watch = Callable[[int, int, Look, tuple[int, ...]], None]
"""Is told of each drawing: ns at which it stands on the glass, the screen, its look, the modes of its refresh."""


@dataclass(frozen=True)
class Step:
    """One drawing: what has changed in words, ns to draw, on the link and of the panel's refresh, with bytes, clocks and windows.

    `share` is that of the glass which is sent. `by` is what of it each element makes by itself: (id, name, bytes, ns on the
    link).
    """

    name: str
    draw_ns: int
    link_ns: int
    refresh_ns: int = 0
    sent_bytes: int = 0
    clocks: int = 0
    windows: int = 1
    share: float = 1.0
    by: tuple[tuple[str, str, int, int], ...] = ()

    @property
    def total_ns(self) -> int:
        return self.draw_ns + self.link_ns + self.refresh_ns


class Values(Protocol):
    """What a scene may ask of the values at a moment."""

    def of(self, number: int) -> tuple[Reading, bool]:
        """A value's reading, and whether it is old."""

    def past(self, number: int) -> tuple[Reading, ...]:
        """Its last readings, the newest last."""


class Scene(Protocol):
    """Looks of screens, and what it takes to come from one to another."""

    def follows(self, screen: int) -> frozenset[int]:
        """Numbers of the values that a screen depends on."""

    def plots(self, number: int) -> int:
        """How many past readings of a value are kept for plots."""

    def ticks(self, screen: int) -> bool:
        """Whether anything of it moves by itself."""

    def look(self, screen: int, values: Values, tick: int) -> Look:
        """What a screen looks like."""

    def change(self, screen: int, before: Look, now: Look) -> Step | None:
        """What it takes to draw what has changed; None where nothing has."""

    def whole(self, screen: int, effect: Effect | None) -> Step:
        """What it takes to show a screen anew, as an effect asks for it, or at the start."""


@dataclass(frozen=True)
class Event:
    """Something of the day: "read", "draw", "send", "refresh" or "input", from when to when, in ns, and of what."""

    what: str
    begin: int
    end: int
    name: str


@dataclass
class SourceDay:
    """A source's day: how often it was read and missed, how long the program stood still for it, how late it was at most.

    `unseen` are readings that would have been seen and never were, for a newer one came before anything was drawn.
    """

    value: Value
    every_ns: int
    reads: int = 0
    missed: int = 0
    blocked_ns: int = 0
    latest_ns: int = 0
    changes: int = 0
    unseen: int = 0


@dataclass
class Day:
    """What has come of a day.

    Attributes
    ----------
    bins : for each stretch of `bin_ns`: ns of `READ`, `DRAW`, `WAIT`, `LINK`, `REFRESH`.
    steps : drawings. merged : changes that had to wait for the panel or the link, and were drawn together with later ones.
    worst : the step that took longest. away_ns : the longest time from one look at touch and buttons to the next, and why.
    overlooked : touches, and levels of buttons and knobs, that came and went while the program did not look.
    lags : (input in ns, when its effect stood on the glass in ns).
    first : the one with which it begins, which is not among them unless there is no other.
    by_element : bytes and ns on the link, by element: (name, changes, bytes, ns).
    log : the first events.
    refreshes : updates of an e-paper, the first of them. counts : its refreshes by mode. longest_row : the most partial ones in a
        row. uncleaned_ns : the longest time without a full one. shown_ns : how long each screen stood, by number.
    light_ns : how long the light was at each level that rules set, in percent.
    """

    length_ns: int
    bin_ns: int
    bins: list[list[int]]
    sources: list[SourceDay]
    steps: int = 0
    sent_bytes: int = 0
    clocks: int = 0
    windows: int = 0
    merged: int = 0
    first: Step | None = None
    worst: Step | None = None
    away_ns: int = 0
    away: str = ""
    overlooked: int = 0
    lags: list[tuple[int, int]] = field(default_factory=list)
    by_element: dict[str, tuple[str, int, int, int]] = field(default_factory=dict)
    log: list[Event] = field(default_factory=list)
    lost: int = 0
    refreshes: list[Refreshed] = field(default_factory=list)
    counts: dict[int, int] = field(default_factory=dict)
    longest_row: int = 0
    uncleaned_ns: int = 0
    shown_ns: dict[int, int] = field(default_factory=dict)
    light_ns: dict[int, int] = field(default_factory=dict)

    def total(self, kind: int) -> int:
        return sum(one[kind] for one in self.bins)

    def busy_ns(self, number: int) -> int:
        """ns of a stretch in which the program is not idle."""
        return sum(self.bins[number][kind] for kind in (READ, DRAW, WAIT))

    def idle_ns(self, number: int) -> int:
        return min(self.bin_ns, self.length_ns - number * self.bin_ns) - self.busy_ns(number)


@dataclass(order=True)
class _Source:
    due: int
    number: int
    every: int
    blocks: int
    day: SourceDay = field(compare=False)
    read_at: Callable[[int], Reading] = field(compare=False)
    is_plain: bool = field(compare=False)


class _Run:
    """A day that goes on."""

    def __init__(
        self,
        machine: Machine,
        scene: Scene,
        program: Program,
        length_ns: int,
        bins: int,
        modes: Sequence[RefreshMode],
        watch: Watch | None,
    ) -> None:
        self.machine, self.scene, self.program, self.length = machine, scene, program, length_ns
        self.cleaner = Cleaner(program.cleaning, modes, program.refresh) if modes else None
        self.cleans_at = self.cleaner.next_at(-1) if self.cleaner else None
        self.is_cleaning, self.watch, self.stands_since = False, watch, 0
        self.light, self.lit_since = FULL_LIGHT, 0
        size = -(-length_ns // bins)
        self.day = Day(length_ns, size, [[0] * 5 for _ in range(-(-length_ns // size))], [])
        own = dict(program.every)
        self.sources: list[_Source] = []
        for number, value in enumerate(machine.values):
            if value.origin.by == "source":
                every = max(1, own.get(value.id, value.source.every_ms)) * MS
                self.day.sources.append(SourceDay(value, every))
                # Nothing follows from it but what screens show of it now, and nothing is waited for.
                is_plain = _is_deaf(machine, number) and not (scene.plots(number) or value.source.blocks_ms)
                self.sources.append(
                    _Source(0, number, every, value.source.blocks_ms * MS, self.day.sources[-1], reader(value), is_plain)
                )
        self.by_number = {source.number: source for source in self.sources}
        self.deaf = [_is_deaf(machine, number) for number in range(len(machine.values))]
        self.now = 0
        self.newer: dict[int, tuple[int, int]] = {}  # (raw, ms) of readings that nothing but screens follows
        self.texts: dict[int, str] = {}
        self.kept: dict[int, tuple[Reading, ...]] = {n: () for n in range(len(machine.values)) if scene.plots(n)}
        self.arriving: list[tuple[int, int, Reading]] = []
        self.panel_free = self.link_free = self.next_draw = self.send_begun = 0
        self.has_changed, self.owes, self.whole = True, False, True
        self.by_effect: Effect | None = None
        self.unseen: dict[int, int] = {}
        self.touched_at: int | None = None
        self.asked: int | None = None
        self.polled, self.longest, self.why = 0, 0, ""
        self.drawn = 0
        self.taken: tuple[int, ...] = ()
        self.ways: dict[
            tuple[int, tuple[int, ...]], tuple[Step, Step]
        ] = {}  # by the step's identity and the modes of its refresh
        self.counts: dict[int, list[Any]] = {}  # (step, how often), by the step's identity: scenes keep theirs
        self.state, effects = begin(machine)
        self.screen, self.shown = self.state.screen, None  # type: tuple[int, Look]
        self.followed, self.is_ticking = scene.follows(self.screen), scene.ticks(self.screen)
        self.own_due = next_due(machine, self.state)
        self.told(effects)

    # What a scene asks

    def of(self, number: int) -> tuple[Reading, bool]:
        if number in self.texts:
            return self.texts[number], self.state.values[number].is_ == "stale"
        if number in self.newer:
            return self.newer[number][0], False
        known = self.state.values[number]
        return (None if known.is_ == "absent" else known.raw), known.is_ == "stale"

    def past(self, number: int) -> tuple[Reading, ...]:
        return self.kept.get(number, ())

    # Time and its shares

    def spend(self, kind: int, begin: int, end: int) -> None:
        """A stretch of time goes on something; it may reach over several bins, or past the end."""
        size, bins = self.day.bin_ns, self.day.bins
        if begin == end:
            return
        number = begin // size
        if end <= self.length and end <= (number + 1) * size:
            bins[number][kind] += end - begin
            return
        end = min(end, self.length)
        while begin < end:
            number = begin // size
            stop = min(end, (number + 1) * size)
            bins[number][kind] += stop - begin
            begin = stop

    def log(self, what: str, begin: int, end: int, name: str) -> None:
        if len(self.day.log) < MOST_LOGGED:
            self.day.log.append(Event(what, begin, end, name))

    def busy(self, ns: int, why: str) -> None:
        """The program cannot look at touch and buttons for so long."""
        if ns > self.longest:
            self.longest, self.why = ns, why

    # What happens

    def happen(self, happening: Happening) -> None:
        before = self.state
        if self.newer:
            values = list(before.values)
            for number, (raw, at) in self.newer.items():
                values[number] = Known(raw, "known", at, values[number].course)
            before = replace(before, values=tuple(values))
            self.newer.clear()
        self.state, effects = step(self.machine, before, happening, self.now // MS)
        self.own_due = next_due(self.machine, self.state)
        if any(_seen(before.values[n]) != _seen(self.state.values[n]) for n in self.followed):
            self.has_changed = True
        self.told(effects)

    def told(self, effects: Sequence[Effect]) -> None:
        for effect in effects:
            if effect.what == "light":
                self.lit(effect.level)
            if effect.what in ("screen", "refresh"):
                self.whole = self.has_changed = True
                if effect.what == "screen" or self.by_effect is None:
                    self.by_effect = effect

    def lit(self, level: int) -> None:
        """From now on the light has another level."""
        now = min(self.now, self.length)
        self.day.light_ns[self.light] = self.day.light_ns.get(self.light, 0) + now - self.lit_since
        self.light, self.lit_since = level, now

    def got(self, number: int, reading: Reading, at: int) -> None:
        """A reading is there, taken at a moment."""
        if reading is None:
            return
        value, known, source = self.machine.values[number], self.state.values[number], self.by_number[number]
        is_shown = number in self.followed
        if number in self.kept:
            self.kept[number] = (*self.kept[number], reading)[-self.scene.plots(number) :]
            self.has_changed = self.has_changed or is_shown
        raw = reading if isinstance(reading, int) else 0
        old = self.newer[number][0] if number in self.newer else known.raw
        is_same = known.is_ == "known" and old == raw and self.texts.get(number, reading) == reading
        if isinstance(reading, str):
            self.texts[number] = reading
        if is_same and value.bands.mean_of == 1 and not value.bands.hold_ms:
            self.newer[number] = raw, at // MS
            return
        if not is_same:
            source.day.changes += 1
            if is_shown:
                self.unseen[number] = self.unseen.get(number, 0) + 1
                self.has_changed = True
        if self.deaf[number] and known.is_ == "known":
            self.newer[number] = raw, at // MS
        else:
            self.happen(Happening("reading", number, raw))

    def read(self, source: _Source) -> None:
        day = source.day
        every = source.every * self.program.slower(source.due // MS)
        late = self.now - source.due
        missed = late // every
        day.latest_ns = max(day.latest_ns, late)
        day.missed += missed
        day.reads += 1
        source.due += (missed + 1) * every
        begin = self.now
        reading = source.read_at(begin // MS)
        number = source.number
        if source.is_plain and number in self.newer and isinstance(reading, int):  # the way of nearly all readings
            if reading != self.newer[number][0]:
                day.changes += 1
                if number in self.followed:
                    self.unseen[number] = self.unseen.get(number, 0) + 1
                    self.has_changed = True
            self.newer[number] = reading, begin // MS
            return
        if source.blocks and self.program.splits:
            self.arriving.append((begin + source.blocks, source.number, reading))
            self.arriving.sort(key=lambda one: one[:2])
            return
        if source.blocks:
            self.now += source.blocks
            self.spend(READ, begin, self.now)
            day.blocked_ns += source.blocks
            self.log("read", begin, self.now, day.value.name)
            self.busy(source.blocks, f"{day.value.name} is read")
        self.got(source.number, reading, begin)

    def input(self, at: int, happening: Happening) -> None:
        self.touched_at = at
        self.log("input", at, self.now, happening.what)
        self.happen(happening)

    def looked_at(self, inputs: list[tuple[int, Happening]]) -> list[tuple[int, Happening]]:
        """What a look at touch and lines finds of what has happened since the last one: how things are now.

        A finger that has left meanwhile was never there, of levels that have come and gone only the last is seen.
        """
        count = next((n for n, (at, _) in enumerate(inputs) if at > self.now), len(inputs))
        due, inputs[:count] = inputs[:count], []
        found: dict[tuple[str, int], tuple[int, Happening]] = {}
        for at, one in due:
            key: tuple[str, int] = (one.what, one.of)
            if one.what == "lines" and self.machine.behaviour.encoders[one.of].interrupt:
                key = (f"lines {at}", one.of)  # the program is called at each of them
            first = found[key][0] if key in found else at
            if key in found and one.what in ("pin", "lines"):
                self.day.overlooked += (found[key][1].a, found[key][1].b) != (one.a, one.b)
            found[key] = first, one
        touch = found.get(("touch", 0))
        last = max((at for at, one in due if one.what == "touch"), default=0)
        if touch is not None and self.now - last > FINGER_NS:
            del found["touch", 0]
            self.day.overlooked += 1
        return sorted(found.values(), key=lambda one: one[0])

    def react(self, happen: Callable[[], None]) -> None:
        """Something that may be the answer to what somebody did."""
        before, self.has_changed = self.has_changed, False
        happen()
        is_answer = self.touched_at is not None and self.now - self.touched_at <= ANSWER_NS
        if self.has_changed and is_answer and self.asked is None:
            self.asked = self.touched_at
        self.has_changed = self.has_changed or before

    @property
    def ready_at(self) -> int:
        """When something can be drawn again: of two buffers one has to be free, of one nothing may be on its way."""
        program = self.program
        buffer_free = (self.send_begun if program.two_buffers else self.link_free) if program.sends_itself else 0
        return max(self.panel_free, buffer_free, self.next_draw)

    def draw(self) -> None:
        """Draw and send what has changed, if panel and link can take it."""
        if not (self.has_changed or self.owes or self.is_ticking):
            return
        if self.now < self.ready_at:
            self.day.merged += self.owes and self.has_changed
            self.owes, self.has_changed = self.owes or self.has_changed, False
            return
        self.has_changed = self.owes = False
        one = self.wanted()
        if one is None:  # it looks as before: nothing was there to be seen
            self.asked = None
            self.unseen.clear()
            return
        begin = self.now
        self.draw_one(one)
        for number, count in self.unseen.items():
            self.by_number[number].day.unseen += count - 1
        self.unseen.clear()
        if self.watch is not None:
            self.watch(max(self.link_free, self.panel_free), self.screen, self.shown, self.taken)
        self.next_draw = begin + self.program.least_ms * MS * self.program.slower(begin // MS)
        if self.asked is not None:
            self.day.lags.append((self.asked, max(self.link_free, self.panel_free)))
            self.asked = None

    def wanted(self) -> Step | None:
        """What there is to draw; None for nothing."""
        tick = self.now // (TICK_MS * MS)
        if self.whole:
            self.day.shown_ns[self.screen] = self.day.shown_ns.get(self.screen, 0) + self.now - self.stands_since
            self.stands_since = self.now
            self.screen = self.state.screen
            self.followed, self.is_ticking = self.scene.follows(self.screen), self.scene.ticks(self.screen)
            self.shown = self.scene.look(self.screen, self, tick)
            found: Step | None = self.scene.whole(self.screen, self.by_effect)
            self.whole, self.by_effect = False, None
            return found
        before, self.shown = self.shown, self.scene.look(self.screen, self, tick)
        return self.scene.change(self.screen, before, self.shown) if before != self.shown else None

    def draw_one(self, one: Step) -> None:
        day, begin, drawn = self.day, self.now, self.now + one.draw_ns
        self.send_begun = max(drawn, self.link_free)
        if self.cleaner is not None and one.refresh_ns:
            one = self.refreshed(self.cleaner, one)
        sent = self.send_begun + one.link_ns
        self.spend(DRAW, begin, drawn)
        self.spend(LINK, self.send_begun, sent)
        if len(day.log) < MOST_LOGGED:
            self.log("draw", begin, drawn, one.name)
            self.log("send", self.send_begun, sent, one.name)
        self.link_free = sent
        if self.program.sends_itself:
            self.now = drawn
        else:
            self.spend(WAIT, drawn, sent)
            self.now = sent
        if one.refresh_ns:
            self.panel_free = sent + one.refresh_ns
            self.spend(REFRESH, sent, self.panel_free)
            self.log("refresh", sent, self.panel_free, one.name)
        if self.now - begin > self.longest:
            self.longest, self.why = self.now - begin, f"{one.name} is drawn and sent"
        self.drawn += 1
        counted = self.counts.get(id(one))
        if day.first is None:
            day.first = one
        if counted is None:
            self.counts[id(one)] = [one, 1]
        else:
            counted[1] += 1

    def refreshed(self, cleaner: Cleaner, one: Step) -> Step:
        """A step with the refresh that the cleaning asks for; the board that keeps the picture before sends it along."""
        self.taken = cleaner.update(self.now, one.share, is_scheduled=self.is_cleaning)
        if len(self.day.refreshes) < MOST_REFRESHES:
            self.day.refreshes.append(Refreshed(self.now, self.taken, one.share, self.is_cleaning))
        self.is_cleaning = False
        key = id(one), self.taken
        if key not in self.ways:
            twice = 2 if cleaner.cleaning.previous == "board" and not cleaner.modes[self.taken[-1]].flashes else 1
            self.ways[key] = one, replace(  # the first is kept so that its identity stays its own
                one, refresh_ns=cleaner.time_ns(self.taken), link_ns=twice * one.link_ns, sent_bytes=twice * one.sent_bytes,
                clocks=twice * one.clocks,
            )  # fmt: skip
        return self.ways[key][1]

    def clean_at_set_time(self) -> None:
        """The picture that stands is refreshed in full at a set time, whatever has changed."""
        if self.cleaner is not None and self.cleans_at is not None and self.cleans_at <= self.now:
            self.cleans_at = self.cleaner.next_at(self.now)
            self.whole = self.has_changed = self.is_cleaning = True
            self.next_draw = min(self.next_draw, self.now)

    def summed_up(self) -> Day:
        """The day, with what its drawings come to."""
        day = self.day
        self.lit(self.light)
        day.shown_ns[self.screen] = day.shown_ns.get(self.screen, 0) + max(0, min(self.now, self.length) - self.stands_since)
        if self.cleaner is not None:
            day.counts, day.longest_row = self.cleaner.counts, self.cleaner.longest
            day.uncleaned_ns = max(self.cleaner.uncleaned, self.length - self.cleaner.cleaned_at)
        for one, count in self.counts.values():
            day.steps += count
            day.sent_bytes += count * one.sent_bytes
            day.clocks += count * one.clocks
            day.windows += count * one.windows
            is_more = count > 1 or one is not day.first
            if is_more and (day.worst is None or one.total_ns > day.worst.total_ns):
                day.worst = one
            for ident, name, size, ns in one.by:
                _, times, before, spent = day.by_element.get(ident, (name, 0, 0, 0))
                day.by_element[ident] = (name, times + count, before + count * size, spent + count * ns)
        day.worst, day.lost = day.worst or day.first, self.state.lost
        return day

    # The program's round

    def round_(self, inputs: list[tuple[int, Happening]]) -> None:
        """All that is due is read, touch and buttons are looked at, timers run, and what has changed is drawn."""
        due = [source for source in self.sources if source.due <= self.now]
        for source in sorted(due) if len(due) > 1 else due:
            if self.now < self.length:
                self.read(source)
        while self.arriving and self.arriving[0][0] <= self.now:
            at, number, reading = self.arriving.pop(0)
            self.got(number, reading, at - self.by_number[number].blocks)
        if self.now - self.polled > self.day.away_ns:
            self.day.away_ns, self.day.away = self.now - self.polled, self.why
        self.polled, self.longest, self.why = self.now, 0, ""
        if inputs and inputs[0][0] <= self.now:
            for at, happening in self.looked_at(inputs):
                self.react(lambda at=at, happening=happening: self.input(at, happening))  # type: ignore[misc]
        if self.own_due is not None and self.own_due * MS <= self.now:
            self.react(lambda: self.happen(Happening("time")))
        if self.cleans_at is not None:
            self.clean_at_set_time()
        self.draw()

    def wait(self, inputs: list[tuple[int, Happening]]) -> None:
        """Wait until there is anything to do again; an idle program looks at touch and buttons all the time."""
        upcoming = self.length
        for source in self.sources:
            upcoming = min(upcoming, source.due)
        if inputs:
            upcoming = min(upcoming, inputs[0][0])
        if self.arriving:
            upcoming = min(upcoming, self.arriving[0][0])
        if self.own_due is not None:
            upcoming = min(upcoming, self.own_due * MS)
        if self.cleans_at is not None:
            upcoming = min(upcoming, self.cleans_at)
        if self.owes:
            upcoming = min(upcoming, self.ready_at)
        if self.is_ticking:
            upcoming = min(upcoming, (self.now // (TICK_MS * MS) + 1) * TICK_MS * MS)
        if upcoming > self.now:
            if self.now - self.polled > self.day.away_ns:
                self.day.away_ns, self.day.away = self.now - self.polled, self.why
            self.now = upcoming
            self.polled, self.longest, self.why = upcoming, 0, ""


def _seen(known: Known) -> tuple[object, ...]:
    """What screens can show of a value."""
    return known.raw, known.is_, known.course.band


def _is_deaf(machine: Machine, number: int) -> bool:
    """Whether nothing follows from a value but what screens show: no band, no age, no output that is read back by it."""
    value: Value = machine.values[number]
    reads = {output.reads for output in machine.behaviour.outputs}
    return not value.bands.bands and not age_ms(value) and value.id not in reads


def run_day(
    machine: Machine,
    scene: Scene,
    program: Program,
    length_ms: int,
    *,
    inputs: Sequence[tuple[int, Happening]] = (),
    bins: int = 96,
    most_steps: int | None = None,
    modes: Sequence[RefreshMode] = (),
    watch: Watch | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> Day:
    """The first `length_ms` of a device's life.

    Parameters
    ----------
    inputs : (ms, what somebody does), in order; readings and passing time among them are left out, for they come by themselves.
    bins : into how many stretches the day is divided.
    most_steps : the day ends before its time after so many drawings; None for no limit.
    modes : the panel's ways to refresh, which the schedule's cleaning chooses from; without them each step takes its own time.
    watch : is told of every drawing.
    progress : is told ms that have passed, and all of them, a hundred times.
    """
    run = _Run(machine, scene, program, length_ms * MS, bins, modes, watch)
    waiting = [(at * MS, one) for at, one in inputs if one.what not in ("reading", "time")]
    told = 0
    while run.now < run.length:
        run.round_(waiting)
        if most_steps is not None and run.drawn >= most_steps:
            break
        run.wait(waiting)
        if progress is not None and run.now - told >= run.length // 100:
            told = run.now
            progress(min(run.now // MS, length_ms), length_ms)
    return run.summed_up()
