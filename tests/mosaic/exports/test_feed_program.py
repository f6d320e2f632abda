"""The program for the live feed compiles as it stands, and its calls draw eight stripes on a virtual panel."""

import re
import shutil
import subprocess
from pathlib import Path

import numpy as np
import pytest

from mosaic.exports.feed_program import feed_program
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.virtual.feed import FeedSession
from mosaic.virtual.panel import shown_pixels, virtual_panel

FEED = Path(__file__).parents[3] / "examples" / "feed"
STAND_IN = """#include "panel_feed.h"
#include <stdio.h>
static void put(char kind, const uint8_t *b, size_t n) { printf("%c", kind); while (n--) printf(" %02X", *b++); printf("\\n"); }
int panel_feed_open(unsigned port, const char *token) { printf("hello %s\\n", token); return port != 8413; }
void panel_command(const uint8_t *bytes, size_t count) { put('c', bytes, count); }
void panel_data(const uint8_t *bytes, size_t count) { put('d', bytes, count); }
void panel_reset(void) { printf("reset\\n"); }
void panel_delay(unsigned ms) { printf("delay %u\\n", ms); }
double panel_busy(void) { printf("busy\\n"); return 0; }
int panel_feed_close(void) { return 0; }
"""


@pytest.mark.parametrize("slug", list(catalogue()))
def test_every_panels_program_compiles_and_draws(slug, tmp_path):
    panel = catalogue()[slug]
    turn = Orientation(panel.rotation)
    (tmp_path / "program.c").write_bytes(feed_program(panel, turn, 8413, "f00d", 'Tide "clock" */'))
    (tmp_path / "stand_in.c").write_text(STAND_IN)
    shutil.copy(FEED / "panel_feed.h", tmp_path)
    flags = ["-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic"]
    subprocess.run(["gcc", *flags, "program.c", "stand_in.c", "-o", "program"], cwd=tmp_path, check=True)
    said = subprocess.run([tmp_path / "program"], check=True, capture_output=True).stdout
    glass = virtual_panel(panel)
    session = FeedSession(lambda token: glass if token == "f00d" else None)
    answers = session.take(said)
    assert not [line for line in answers if line.startswith(("?", "no"))]
    shown = shown_pixels(glass, turn)
    flat = shown if shown.ndim == 2 else shown.astype(np.int64) @ [65536, 256, 1]
    values, counts = np.unique(flat, return_counts=True)
    assert len(values) == 2
    assert abs(counts[0] - counts[1]) < flat.size / 4


def test_what_the_panel_does_not_know_is_answered_once():
    glass = virtual_panel(catalogue()["mono-oled-128x64"])
    session = FeedSession(lambda token: glass)
    answers = session.take(b"hello f00d\nreset\nc 9F\nc 9F\nbusy\n")
    (said,) = [line for line in answers if line.startswith("?")]
    assert re.match(r"\? line 3: .*9F", said)
    assert answers[-1] == "idle 0"
    assert len(session.messages) == 2
    for _ in range(100):
        session.take(b"c 9F\n" * 100)
    assert glass.misuse == []
