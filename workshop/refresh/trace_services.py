"""Traces of a current: kept in parts until a worker has read them; what was found, beside what the schedule says."""

import zlib
from collections.abc import Iterable, Iterator
from dataclasses import replace

import msgspec
from django.db import transaction

from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.forms import from_record, to_record
from mosaic.refresh.energy.plan import cell_of, reckoned, rhythm_of
from mosaic.refresh.trace.finding import Found, find
from mosaic.refresh.trace.matching import Expected
from mosaic.refresh.trace.reading import read_trace
from workshop.builds.models import Build
from workshop.jobs.kinds import JobKind
from workshop.jobs.models import Job
from workshop.jobs.progress import Made, Progress
from workshop.refresh.energy_services import day_to_reckon, plan_of
from workshop.refresh.models import TraceBlock, TraceFile
from workshop.refresh.schedule_services import kept_program

TRACE = "trace"
MOST_BYTES = 256 << 20
BLOCK_BYTES = 4 << 20


def keep_file(*, build: Build, name: str, step_s: float, parts: Iterable[bytes]) -> TraceFile:
    """Keep a trace until it has been read, in place of one that waited before.

    Raises
    ------
    BadValueError
        It is empty, or larger than what is read.
    """
    with transaction.atomic():
        build.traces.all().delete()
        file = TraceFile.objects.create(build=build, name=name[:120], step_s=step_s)
        size = 0
        for number, data in enumerate(_blocks(parts)):
            size += len(data)
            if size > MOST_BYTES:
                raise BadValueError(f"a trace may have {MOST_BYTES >> 20} MiB; export a part of it, or fewer columns")
            TraceBlock.objects.create(file=file, number=number, data=zlib.compress(data, 1))
        if not size:
            raise BadValueError("the file is empty; a CSV of times and currents is accepted")
        file.byte_count = size
        file.save()
    return file


def _blocks(parts: Iterable[bytes]) -> Iterator[bytes]:
    waiting, size = [], 0
    for part in parts:
        waiting.append(part)
        size += len(part)
        if size >= BLOCK_BYTES:
            yield b"".join(waiting)
            waiting, size = [], 0
    if waiting:
        yield b"".join(waiting)


def make_trace(job: Job, progress: Progress) -> Made:
    """Read a trace and find what it shows; the file is not needed any more then.

    Raises
    ------
    BadValueError
        It cannot be read; or it has been replaced meanwhile.
    """
    file = TraceFile.objects.filter(pk=job.asked["file"], build=job.build).first()
    if file is None:
        raise BadValueError("the trace is not there any more; bring it again")
    total = max(1, file.byte_count >> 10)

    def blocks() -> Iterator[bytes]:
        done = 0
        numbers = file.blocks.order_by("number").values_list("number", flat=True)
        for number in list(numbers):
            data = zlib.decompress(bytes(file.blocks.get(number=number).data))
            done += len(data)
            progress.step(min(total - 1, done >> 10), total)
            yield data

    try:
        found = find(read_trace(blocks(), step_s=file.step_s))
    except BadValueError:
        file.delete()
        raise
    progress.step(total, total)
    file.delete()
    return Made(msgspec.json.encode(from_record(found)), file.name, f"{found.rows:,} rows")


TRACES = JobKind(TRACE, "reading the trace, in KiB", "", "application/json", make_trace)


def found_in(build: Build) -> tuple[Found, str] | None:
    """What the last trace of a build has shown, and the name of its file."""
    job = build.jobs.filter(kind=TRACE, state=Job.State.DONE).order_by("-id").first()
    if job is None:
        return None
    return to_record(msgspec.json.decode(bytes(job.result)), Found, "the trace"), job.result_name


def expected_of(build: Build, device: Device) -> Expected | None:
    """What the schedule and typical currents give at the cell; None without a schedule."""
    day, _ = day_to_reckon(build, device)
    if day is None:
        return None
    plan = plan_of(build, device)
    typical = replace(plan, measured=None)
    cell = cell_of(typical, device)
    found = reckoned(typical, cell, day, device, kept_program(build, device))
    rhythm = rhythm_of(found, day, typical)
    name = next((state.name for state, _ in found.states if state.name.startswith("nothing to do")), "at rest")
    return Expected(rhythm.idle_ma, rhythm.update_mc, day.length_ms / 1000 / max(1, day.steps), name)
