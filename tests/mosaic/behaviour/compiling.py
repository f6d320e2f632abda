"""A machine compiled from its generated C, and run from its generated Python, each seen from outside in the same form."""

import ctypes
import subprocess
from dataclasses import dataclass
from pathlib import Path

from mosaic import firmware
from mosaic.behaviour.code import c_header, c_source, python_source
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import DeviceState, Effect, Happening
from mosaic.firmware import behave

RUNTIME = Path(firmware.__file__).parent
WHATS = ("time", "touch", "pin", "lines", "reading", "wake")
DONE = ("screen", "event", "output", "light", "refresh", "sleep")
CHANGES, SIDES, IS = ("cut", "wipe", "slide"), ("left", "right", "up", "down"), ("known", "absent", "stale")
PROBE = """
#include "behaviour.h"
behave_state *s;
int32_t start(uint32_t now) { s = behaviour_begin(now); return s->effect_count; }
int32_t go(uint32_t now, int32_t what, int32_t of, int32_t a, int32_t b) { return behave_step(s, now, what, of, a, b); }
void effect(int32_t n, int32_t *out) {
    const behave_effect *e = s->effects + n;
    out[0] = e->what; out[1] = e->of; out[2] = e->level; out[3] = e->change; out[4] = e->side; out[5] = e->steps;
}
void seen(int32_t *out) {
    *out++ = s->screen; *out++ = s->light; *out++ = s->asleep; *out++ = (int32_t)s->lost;
    *out++ = s->back_count;
    for (int32_t i = 0; i < s->back_count; i++) *out++ = s->back[i];
    for (int32_t i = 0; i < s->d->value_count; i++) { *out++ = s->values[i].raw; *out++ = s->values[i].is; }
    for (int32_t i = 0; i < s->d->output_count; i++) *out++ = s->outputs[i].on;
}
"""


@dataclass(frozen=True)
class Seen:
    """What can be told of a device from outside."""

    screen: int
    light: int
    asleep: bool
    lost: int
    back: tuple[int, ...]
    values: tuple[tuple[int, str], ...]
    outputs: tuple[bool, ...]
    effects: tuple[Effect, ...]


def of_core(state: DeviceState, effects: list[Effect]) -> Seen:
    values = tuple((one.raw if one.is_ != "absent" else 0, one.is_) for one in state.values)
    outputs = tuple(one.on for one in state.outputs)
    return Seen(state.screen, state.light, state.asleep, state.lost, state.back, values, outputs, tuple(effects))


def _effect(what, of, level, change, side, steps) -> Effect:
    return Effect(DONE[what], of, level, CHANGES[change], SIDES[side], steps)


class InC:
    """The generated C of a machine."""

    def __init__(self, machine: Machine, folder: Path) -> None:
        self.machine = machine
        names = {ref: f"screen {n}" for n, ref in enumerate(machine.screens)}
        (folder / "behaviour.h").write_text(c_header(machine, names, "Test"))
        (folder / "behaviour.c").write_text(c_source(machine, "Test"))
        (folder / "probe.c").write_text(PROBE)
        out = folder / "device.so"
        flags = ["-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Wpedantic", "-Werror", "-Og", "-fsanitize=undefined",
                 "-fno-sanitize-recover", "-shared", "-fPIC", f"-I{RUNTIME}", f"-I{folder}"]  # fmt: skip
        files = [str(RUNTIME / "behave.c"), str(folder / "behaviour.c"), str(folder / "probe.c")]
        subprocess.run(["gcc", *flags, *files, "-o", str(out)], check=True, capture_output=True)
        self.library = ctypes.CDLL(str(out))

    def _seen(self, count: int) -> Seen:
        out, one = (ctypes.c_int32 * 400)(), (ctypes.c_int32 * 6)()
        effects = []
        for number in range(count):
            self.library.effect(number, one)
            effects.append(_effect(*one))
        self.library.seen(out)
        numbers = iter(out)
        screen, light, asleep, lost, backs = (next(numbers) for _ in range(5))
        back = tuple(next(numbers) for _ in range(backs))
        values = tuple(
            (raw if (is_ := next(numbers)) != 1 else 0, IS[is_]) for raw in (next(numbers) for _ in self.machine.values)
        )
        outputs = tuple(bool(next(numbers)) for _ in self.machine.behaviour.outputs)
        return Seen(screen, light, bool(asleep), lost, back, values, outputs, tuple(effects))

    def begin(self, now: int) -> Seen:
        return self._seen(self.library.start(ctypes.c_uint32(now)))

    def step(self, happening: Happening, now: int) -> Seen:
        what = WHATS.index(happening.what)
        return self._seen(self.library.go(ctypes.c_uint32(now), what, happening.of, happening.a, happening.b))


class InPython:
    """The generated Python of a machine."""

    def __init__(self, machine: Machine) -> None:
        known: dict = {}
        names = {ref: f"screen {n}" for n, ref in enumerate(machine.screens)}
        exec(python_source(machine, names, "Test"), known)
        self.device, self.state = known["DEVICE"], {}

    def _seen(self, effects) -> Seen:
        s = self.state
        values = tuple((known[0] if known[1] != 1 else 0, IS[known[1]]) for known in s["values"])
        outputs = tuple(bool(one[0]) for one in s["outputs"])
        return Seen(
            s["screen"], s["light"], bool(s["asleep"]), s["lost"], tuple(s["back"]), values, outputs,
            tuple(_effect(*one) for one in effects),
        )  # fmt: skip

    def begin(self, now: int) -> Seen:
        self.state = behave.behave_begin(self.device, now)
        return self._seen(self.state["effects"])

    def step(self, happening: Happening, now: int) -> Seen:
        what = WHATS.index(happening.what)
        return self._seen(behave.behave_step(self.device, self.state, now, what, happening.of, happening.a, happening.b))
