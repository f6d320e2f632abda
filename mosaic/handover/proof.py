"""The proof of a hand-over: its C is compiled, draws every screen in every state, and runs against the virtual panel.

Nothing of it reaches the maker's board; what a board is made of only the board can prove.
"""

import io
import resource
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
import numpy.typing as npt
from PIL import Image

from mosaic.behaviour.recording import happenings
from mosaic.behaviour.state import DeviceState, Happening
from mosaic.behaviour.step import begin, step
from mosaic.handover.making import HandOver, MadeFile
from mosaic.handover.objects import compiled
from mosaic.panels.appearance import colors_of
from mosaic.panels.sequence import Transaction
from mosaic.screens.code_values import plotted
from mosaic.screens.rendering import drawn_in
from mosaic.values.states import State
from mosaic.values.value import Reading
from mosaic.virtual.base import VirtualController
from mosaic.virtual.panel import shown_pixels, virtual_panel

WARNINGS = ("-Wall", "-Wextra", "-Wconversion", "-Werror")
COMPILE_S, RUN_S = 120, 60
MOST_SENT = 48 * 2**20
"""Bytes of pixels that a proof's runs may send: large panels are stepped less often."""
TOUR_STEPS = 60
MOST_PYTHON = 4_000_000
"""Pixels that plain Python draws for a proof."""
KINDS = ("time", "touch", "pin", "lines", "reading", "wake")
Run = Sequence[tuple[int, Happening]]


@dataclass(frozen=True)
class RunProof:
    """A run on the virtual panel: its name, how many steps it has, and the first after which the glass was another one."""

    name: str
    steps: int
    wrong_at: int | None = None

    @property
    def is_right(self) -> bool:
        return self.wrong_at is None


@dataclass(frozen=True)
class Proof:
    """What was proved. `why` says what was not, and why.

    `states`, `wrong_states` : pictures that were compared, and the paths of those that differ. `code_bytes` : of the compiled
    program by its files, as (name, text, data, bss), for this machine. `warnings` : what the compiler said. `python_states` :
    states that the program in Python has drawn right; `python_why` : what of it was not proved, and why.
    """

    compiled: bool = False
    why: str = ""
    states: int = 0
    wrong_states: tuple[str, ...] = ()
    runs: tuple[RunProof, ...] = ()
    kept_runs: tuple[tuple[str, bool], ...] = ()
    code_bytes: tuple[tuple[str, int, int, int], ...] = ()
    warnings: str = ""
    misuse: tuple[str, ...] = field(default=())
    python_states: int = 0
    python_why: str = ""

    @property
    def is_right(self) -> bool:
        """Whether everything that was compared is as it should be."""
        right = not self.wrong_states and all(run.is_right for run in self.runs) and all(ok for _, ok in self.kept_runs)
        return self.compiled and right and not self.misuse and not self.python_why.startswith("Python")


def compiler() -> str | None:
    """A C compiler of this machine; None where there is none."""
    return shutil.which("gcc") or shutil.which("cc")


def _bounded() -> None:
    """A child may take so much: a program that goes wrong is ended."""
    resource.setrlimit(resource.RLIMIT_CPU, (COMPILE_S, COMPILE_S))
    resource.setrlimit(resource.RLIMIT_AS, (2 << 30, 2 << 30))
    resource.setrlimit(resource.RLIMIT_FSIZE, (512 << 20, 512 << 20))


def prove(made: HandOver, progress: Callable[[int, int], None] = lambda done, of: None) -> Proof:
    """Compile and run what was made; what differs is told, not raised."""
    if not made.has_program:
        return Proof(why="there is no screen that can be drawn, so there is no program to compile")
    gcc = compiler()
    if gcc is None:
        return Proof(why="no C compiler is installed on this machine, so the C was not compiled; the package gcc brings one")
    with tempfile.TemporaryDirectory(prefix="hand-over-") as name:
        folder = Path(name)
        write(made.files, folder)
        return _proved(made, folder, gcc, progress)


def write(files: Sequence[MadeFile], folder: Path) -> None:
    """Put the files into a folder."""
    for one in files:
        path = folder / one.path
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(one.data)


def _run(
    words: Sequence[str], folder: Path, seconds: int = COMPILE_S, out: object = subprocess.PIPE
) -> "subprocess.CompletedProcess[bytes]":
    return subprocess.run(
        list(words), cwd=folder, timeout=seconds, stdout=out, stderr=subprocess.PIPE, check=False, preexec_fn=_bounded,  # type: ignore[call-overload]
    )  # fmt: skip


def _said(words: Sequence[str], folder: Path) -> tuple[int, str]:
    done = _run(words, folder)
    return done.returncode, done.stderr.decode("utf-8", "replace")


def _proved(made: HandOver, folder: Path, gcc: str, progress: Callable[[int, int], None]) -> Proof:
    sources = sorted(str(path.relative_to(folder)) for path in (folder / "src").glob("*.c"))
    words = [gcc, "-std=c99", "-O1", *WARNINGS, "-Isrc", "-Ipc", "-DBOARD_TOUCHES_ARE_PIXELS", "-DPROJECT_LEAST_MS=0u"]
    objects = folder / "objects"
    objects.mkdir()
    mains = ("pc/states.c", "pc/board_none.c", "pc/board_pc.c")
    try:
        for number, source in enumerate((*sources, *mains)):
            progress(number, len(sources) + len(mains) + 2)
            code, said = compiled(words, source, folder, objects / f"{Path(source).stem}.o", lambda asked: _said(asked, folder))
            if code:
                return Proof(why=f"{source} does not compile", warnings=said[:4000])
        shared = [str(objects / f"{Path(source).stem}.o") for source in sources]
        for target, more in (("states", ("states", "board_none")), ("device", ("board_pc",))):
            done = _run([gcc, *shared, *(str(objects / f"{one}.o") for one in more), "-o", f"objects/{target}"], folder)
            if done.returncode:
                return Proof(why="the program does not link", warnings=done.stderr.decode("utf-8", "replace")[:4000])
        drawn = _run(["objects/states"], folder, RUN_S)
        if drawn.returncode:
            return Proof(why="the program that draws all states broke off")
        wrong = tuple(look.path for look in made.looks if not np.array_equal(_meant(look.rendered), _ppm(folder, look.path)))
        runs, misuse = _runs(made, folder)
        kept = _kept(made, folder, [gcc, "-std=c99", "-O1", *WARNINGS, "-Isrc"])
        sizes = _sizes(shared, folder)
        python_states, python_why, python_runs = _in_python(made, folder)
    except subprocess.TimeoutExpired as error:
        return Proof(why=f"{Path(str(error.cmd[0])).name} took longer than {error.timeout:.0f} s and was ended")
    return Proof(True, "", len(made.looks), wrong, (*runs, *python_runs), kept, sizes, "", misuse, python_states, python_why)


def _in_python(made: HandOver, folder: Path) -> tuple[int, str, tuple[RunProof, ...]]:
    """The same in plain Python: how many states were drawn right, what was not proved, and its run."""
    where = folder / "python"
    words = [sys.executable, "-S", "-B"]
    pixels = made.project.device.size[0] * made.project.device.size[1]
    if pixels * len(made.looks) > MOST_PYTHON:
        return (
            0,
            f"{len(made.looks)} states of {pixels:,} pixels would take plain Python too long here, so they were not drawn",
            (),
        )
    done = _run([*words, "states.py"], where, RUN_S)
    if done.returncode:
        return 0, f"Python: states.py broke off: {done.stderr.decode('utf-8', 'replace').strip()[-300:]}", ()
    wrong = [look.path for look in made.looks if not np.array_equal(_meant(look.rendered), _ppm(where, look.path))]
    if wrong:
        return len(made.looks) - len(wrong), f"Python draws otherwise: {', '.join(wrong[:5])}", ()
    steps = max(4, min(TOUR_STEPS, MOST_PYTHON // pixels // 8))
    given = tour(made, steps)
    _write_run(given, where)
    with (where / "sent.txt").open("wb") as out:
        done = _run([*words, "live.py", "--play", "run.txt"], where, RUN_S, out)
    if done.returncode:
        return len(made.looks), f"Python: live.py broke off: {done.stderr.decode('utf-8', 'replace').strip()[-300:]}", ()
    at, _ = played(made, given, where / "sent.txt")
    return len(made.looks), "", (RunProof("everything once, in Python", len(given), at),)


def _meant(rendered: object) -> npt.NDArray[np.uint8]:
    return colors_of(rendered.pixels, rendered.device.passport, rendered.device.turn)  # type: ignore[attr-defined]


def _ppm(folder: Path, path: str) -> npt.NDArray[np.uint8]:
    return np.asarray(Image.open(io.BytesIO((folder / "states" / f"{path}.ppm").read_bytes())))


def _kept(made: HandOver, folder: Path, words: Sequence[str]) -> tuple[tuple[str, bool], ...]:
    """The maker's own runs, as the tests that the hand-over has of them."""
    found = []
    for one in made.files:
        if one.path.startswith("tests/"):
            name = Path(one.path).stem
            done = _run([*words, one.path, "src/behave.c", "src/behaviour.c", "-o", f"objects/{name}"], folder)
            found.append((name, done.returncode == 0 and _run([f"objects/{name}"], folder, RUN_S).returncode == 0))
    return tuple(found)


def _sizes(objects: Sequence[str], folder: Path) -> tuple[tuple[str, int, int, int], ...]:
    """What each file takes when it is compiled, by the tool that comes with the compiler; nothing where it is not there."""
    tool = shutil.which("size")
    if tool is None:
        return ()
    lines = _run([tool, *objects], folder, RUN_S).stdout.decode().splitlines()[1:]
    found = []
    for line in lines:
        text, data, bss, *_, path = line.split()
        found.append((f"{Path(path).stem}.c", int(text), int(data), int(bss)))
    return tuple(found)


def tour(made: HandOver, steps: int = TOUR_STEPS) -> list[tuple[int, Happening]]:
    """A run that reaches everything once: sources at their ends, areas touched, buttons pressed and held, time passing."""
    machine = made.project.machine
    now, found = 0, list[tuple[int, Happening]]()

    def at(after: int, *happening: object) -> None:
        nonlocal now
        now += after
        found.append((now, Happening(*happening)))  # type: ignore[arg-type]

    for number, value in enumerate(machine.values):
        if value.origin.by == "source" and value.is_number:
            low, high = value.bounds
            for raw in (value.held((low + high) // 2), low, high):
                at(300, "reading", number, raw)
    for number in range(len(machine.behaviour.buttons)):
        for level, after in ((0, 60), (1, 200), (0, 60), (1, 1500)):
            at(after, "pin", number, level)
    for number in range(len(machine.behaviour.encoders)):
        for a, b in ((1, 1), (0, 1), (0, 0), (1, 0), (1, 1)):
            at(20, "lines", number, a, b)
    for box in list(machine.boxes.values())[:12]:
        x, y = box.x + box.width // 2, box.y + box.height // 2
        for _ in range(3):
            at(10, "touch", 0, x, y)
        at(80, "time")
    at(400, "time")
    at(2500, "time")
    return found[:steps]


def _runs(made: HandOver, folder: Path) -> tuple[tuple[RunProof, ...], tuple[str, ...]]:
    machine = made.project.machine
    frame = made.project.device.passport.frame_bytes
    room = max(4, MOST_SENT // max(1, frame) // 4)
    given: list[tuple[str, Run]] = [("everything once", tour(made, min(TOUR_STEPS, room)))]
    for part in made.project.of("recording")[:6]:
        given.append((part.name, happenings(part.record, machine)[0][: min(300, room)]))
    found, misuse = [], list[str]()
    for name, run in given:
        _write_run(run, folder)
        with (folder / "sent.txt").open("wb") as out:
            done = _run(["objects/device", "--play", "run.txt"], folder, RUN_S, out)
        if done.returncode:
            found.append(RunProof(name, len(run), 0))
            continue
        wrong, said = played(made, run, folder / "sent.txt")
        found.append(RunProof(name, len(run), wrong))
        misuse += said
    return tuple(found), tuple(dict.fromkeys(misuse))


def _write_run(run: Run, folder: Path) -> None:
    """run.txt, as both programs read it."""
    text = "\n".join(f"{now} {KINDS.index(one.what)} {one.of} {one.a} {one.b}" for now, one in run) + "\n"
    (folder / "run.txt").write_text(text)


def played(made: HandOver, run: Run, sent: Path) -> tuple[int | None, list[str]]:
    """The first step after which the virtual panel shows something else than the core; and what it took amiss."""
    project = made.project
    panel = virtual_panel(project.device.passport)
    glasses = meant_glasses(made, run)
    misuse: list[str] = []
    with sent.open() as lines:
        for line in lines:
            word, _, rest = line.strip().partition(" ")
            if word == "#":
                number = int(rest.removeprefix("step "))
                panel.finish()
                misuse += [said.text for said in panel.misuse]
                panel.misuse.clear()
                if not np.array_equal(shown_pixels(panel, project.device.turn), next(glasses)):
                    return number, misuse
            else:
                _take(panel, word, rest)
    return (None if next(glasses, None) is None else len(run)), misuse


def _take(panel: VirtualController, word: str, rest: str) -> None:
    if word in ("c", "d"):
        panel.take(Transaction("command" if word == "c" else "data", bytes.fromhex(rest)))
    elif word == "delay":
        panel.take(Transaction("delay", wait_ms=float(rest)))
    else:
        panel.take(Transaction("reset" if word == "reset" else "busy"))


def meant_glasses(made: HandOver, run: Run):  # type: ignore[no-untyped-def]
    """What the glass should show at the start and after each step, as the core has it."""
    project = made.project
    machine = project.machine
    rooms = plotted(project.plans.values())
    past: dict[str, tuple[Reading, ...]] = {value.id: () for value in machine.values}
    state, _ = begin(machine)

    def glass(state: DeviceState) -> npt.NDArray[np.uint8]:
        readings: dict[str, Reading] = {}
        for value, known in zip(machine.values, state.values, strict=True):
            readings[value.id] = None if known.is_ == "absent" else "" if value.kind == "text" else known.raw
        stale = frozenset(v.id for v, known in zip(machine.values, state.values, strict=True) if known.is_ == "stale")
        shown = State("run", "run", readings, stale, dict(past), state.now // 100)
        return drawn_in(project.plans[machine.screens[state.screen]], shown).pixels

    yield glass(state)
    for now, happening in run:
        state, _ = step(machine, state, happening, now)
        if happening.what == "reading":
            value = machine.values[happening.of]
            room = rooms.get(value.id, 0)
            if room:
                past[value.id] = (*past[value.id], happening.a)[-room:]
        state, _ = step(machine, state, Happening("time"), now)
        yield glass(state)
