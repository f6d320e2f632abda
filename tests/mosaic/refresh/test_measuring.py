"""The list that a board times: compiled and run, and what made-up answers of known factors say."""

import subprocess
from functools import cache
from random import Random

import pytest

from mosaic.errors import BadValueError
from mosaic.firmware import draw
from mosaic.panels.windows import Rect
from mosaic.refresh.costs import Wire
from mosaic.refresh.measuring.fitting import fitted
from mosaic.refresh.measuring.listing import listing
from mosaic.refresh.measuring.programs import c_measure, c_measure_header, python_measure
from mosaic.refresh.pace import Pace, runs_ms, work_ms
from mosaic.screens.rendering import render
from mosaic.screens.work import Work
from tests.mosaic.drawing.test_three_renderers import SOURCES, WARNINGS
from tests.mosaic.screens.made_up import all_kinds, device, kit_of

PANELS = ("tft-320x240-touch", "mono-oled-128x64", "epaper-296x128-four-grey", "rgb-tft-800x480")


@cache
def made(slug="tft-320x240-touch"):
    dev = device(slug)
    return listing([("All kinds", render(all_kinds(dev), dev, kit_of(dev)))], dev)


MAIN = """#include <stdio.h>
#include "measure.h"
static uint32_t now;
uint32_t measure_us(void) { return now += 700u; }
void measure_say(const char *line) { puts(line); }
void measure_send(int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *bytes, uint32_t count) {
    static uint32_t sent;
    sent += (uint32_t)(x + y + w + h) + bytes[count - 1];
}
int main(void) { measure(); return 0; }
"""


@pytest.mark.parametrize("slug", PANELS)
def test_the_program_compiles_runs_and_is_read_again(slug, tmp_path):
    """Without a warning, as C99; with a clock that says 700 µs each time every line is there, of every row."""
    found = made(slug)
    (tmp_path / "measure.h").write_text(c_measure_header(found, "Tide board"))
    (tmp_path / "measure.c").write_text(c_measure(found, "Tide board"))
    (tmp_path / "main.c").write_text(MAIN)
    program = tmp_path / "measure"
    sources = [str(tmp_path / "measure.c"), str(tmp_path / "main.c"), str(SOURCES / "draw.c")]
    flags = ["-std=c99", "-I", str(SOURCES), "-I", str(tmp_path), *(word for word in WARNINGS if not word.startswith("-std"))]
    done = subprocess.run(["gcc", *flags, *sources, "-o", str(program)], capture_output=True, text=True, check=False)
    assert (done.returncode, done.stderr) == (0, "")
    said = subprocess.run([str(program)], capture_output=True, text=True, check=True).stdout.splitlines()
    assert said[0] == f"drawing-times 1 {found.key} {len(found.rows)}"
    assert [line.split() for line in said[1:-1]] == [[row.name, str(row.times), "700"] for row in found.rows]
    assert said[-1] == f"end {len(found.rows)}"


@pytest.mark.parametrize("slug", PANELS[:3])
def test_the_python_runs_too(slug):
    found = made(slug)
    known = {"draw": draw}
    source = "\n".join(line for line in python_measure(found, "Tide board").split("\n") if not line.startswith("import "))
    exec(compile(source, "measure", "exec"), known)
    known["ROWS"] = tuple((name, 1, what) for name, _, what in known["ROWS"] if name != "w4")
    said, sent, now = [], [], [0]

    def us():
        now[0] += 5
        return now[0]

    known["measure"](us, said.append, lambda x, y, w, h, data: sent.append((x, y, w, h, len(data))))
    assert said[0].split()[:3] == ["drawing-times", "1", found.key]
    assert {line.split()[0] for line in said[1:-1]} == {row.name for row in found.rows} - {"w4"}
    fmt = found.device.passport.format
    assert all(size == fmt.frame_bytes(w, h) for _, _, w, h, size in sent)
    assert len(sent) == sum(row.is_sent for row in found.rows if row.name != "w4")


def answers(found, run, pixel, wire, window, noise=0.0, seed=1):
    """What a board of known factors says."""
    lot, mega = Random(seed), found.device.board.cpu_mhz
    bytes_of_pixel = {"tft-320x240-touch": 10 + 3 * 2, "mono-oled-128x64": 10 + 12}[found.device.passport.slug]
    lines = [f"drawing-times 1 {found.key} {len(found.rows)}"]
    for row in found.rows:
        if row.is_sent:
            us = row.us * wire + window
        else:
            us = (row.work.runs * 45 * run + row.work.pixels * bytes_of_pixel * pixel) / mega
        lines.append(f"{row.name} {row.times} {round(us * row.times * (1 + lot.uniform(-noise, noise)))}")
    return "\n".join([*lines, f"end {len(found.rows)}"])


@pytest.mark.parametrize("slug", PANELS[:2])
@pytest.mark.parametrize("factors", [(1.0, 1.0, 1.0, 0.0), (1.7, 0.6, 1.25, 3.5), (0.4, 3.1, 2.0, 40.0)])
def test_seeded_factors_are_found_again(slug, factors):
    """Within 2 %, with times that are off by up to one percent each."""
    found = fitted(answers(made(slug), *factors, noise=0.01), made(slug))
    run, pixel, wire, window = factors
    assert found.pace.run == pytest.approx(run, rel=0.02)
    assert found.pace.pixel == pytest.approx(pixel, rel=0.02)
    assert found.pace.wire == pytest.approx(wire, rel=0.02)
    assert found.pace.window_us == pytest.approx(window, rel=0.05, abs=1.0)
    assert found.pace.is_measured
    assert max(abs(one.off) for one in found.timed) < 0.03
    assert found.left_out == ()


def test_what_is_around_the_lines_does_not_matter():
    text = answers(made(), 1.5, 1.0, 1.0, 0.0)
    noisy = "boot ok\n12:00:01 " + text.replace("\n", "\n12:00:01 > ").replace("> end", "\nend")
    assert fitted(noisy, made()).pace.run == pytest.approx(1.5, rel=0.01)


def tampered(change):
    return "\n".join(change(line) for line in answers(made(), 1.2, 1.0, 1.0, 1.0).splitlines())


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no line begins with"),
        ("hello\nworld", "no line begins with"),
        (answers(made(), 1, 1, 1, 0).replace(made().key, "00000000"), "of another build"),
        (answers(made(), 1, 1, 1, 0)[:-8], "cut off"),
        (answers(made(), 1, 1, 1, 0).replace("drawing-times 1", "drawing-times 7"), "version 1 is accepted"),
        (tampered(lambda line: line if line.split()[0] in ("drawing-times", "end", "dot", "run", "fill") else ""), "only 3 lines of drawing"),
        (tampered(lambda line: line if not line.startswith("w") else ""), "only 0 lines of sending"),
        (tampered(lambda line: f"{line}0" if line.startswith("disc ") else line), r"a disc takes 9\.9 times as long"),
        (tampered(lambda line: line + "00" if line.startswith("w4 ") else line), "of sending contradict each other"),
        ("x" * 200_001, "up to 200,000 are accepted"),
    ],
)  # fmt: skip
def test_what_cannot_be_used_is_said(text, words):
    with pytest.raises(BadValueError, match=words):
        fitted(text, made())


def test_lines_that_are_left_out_are_named():
    text = answers(made(), 1, 1, 1, 0).splitlines()
    text[1] = "dot 5 100"
    text[2] = text[2].rsplit(" ", 1)[0] + " 0"
    text.insert(3, "watchdog barked")
    found = fitted("\n".join(text), made())
    assert len(found.left_out) == 3
    assert "done 5 times instead of" in found.left_out[0]
    assert "counts too coarsely" in found.left_out[1]
    assert "“watchdog barked” is no line of the list" in found.left_out[2]


def test_a_pace_counts_in_what_is_drawn_and_sent():
    """Runs three times as slow, pixels twice, the link one and a half times and 100 µs more for a window."""
    dev = device("tft-320x240-touch")
    pace = Pace(3.0, 2.0, 1.5, 100.0, is_measured=True)
    work = Work(pixels=1000, runs=10)
    mega = dev.board.cpu_mhz * 1000
    assert work_ms(work, dev) == pytest.approx((10 * 45 + 1000 * 16) / mega)
    assert work_ms(work, dev, pace) == pytest.approx((10 * 45 * 3 + 1000 * 16 * 2) / mega)
    assert runs_ms(10, dev, pace) == pytest.approx(10 * 45 * 3 / mega)
    plain, slow = Wire(dev, dev.link).window(Rect(0, 0, 10, 1)), Wire(dev, dev.link, pace).window(Rect(0, 0, 10, 1))
    assert slow.wire_ms == pytest.approx(plain.wire_ms * 1.5 + 0.1)
    assert slow.clocks == plain.clocks
