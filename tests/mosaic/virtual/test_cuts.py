"""Data runs cut anywhere: what a panel shows does not depend on how long the pieces are in which its bytes arrive."""

from dataclasses import replace

import numpy as np
import pytest

from mosaic.panels.loader import catalogue
from mosaic.panels.sequence import Transaction
from mosaic.panels.wire import frame_parts, setup_part
from mosaic.virtual.panel import virtual_panel


def shown(passport, transactions):
    panel = virtual_panel(passport)
    panel.play(transactions)
    panel.finish()
    return panel.glass().copy(), [said.kind for said in panel.misuse]


def cut(transactions, draw, longest):
    """The same bytes, each data run in pieces of up to `longest` bytes."""
    for one in transactions:
        if one.kind != "data" or len(one.data) < 2:
            yield one
            continue
        at = 0
        while at < len(one.data):
            size = int(draw.integers(1, longest + 1))
            yield replace(one, data=one.data[at : at + size])
            at += size


@pytest.mark.parametrize("slug", list(catalogue()))
def test_data_runs_cut_at_random_places(slug):
    passport = catalogue()[slug]
    draw = np.random.default_rng(len(slug))
    frame = draw.integers(0, 256, passport.frame_bytes, np.uint8).tobytes()
    sent: list[Transaction] = list(setup_part(passport, passport.rotation).transactions)
    for part in frame_parts(passport, passport.rotation, frame):
        sent += part.transactions
    whole, misuse = shown(passport, sent)
    for longest in (4096,) if passport.frame_bytes > 200_000 else (4096, 37) if passport.frame_bytes > 20_000 else (4096, 37, 3):
        pieces, told = shown(passport, list(cut(sent, draw, longest)))
        assert np.array_equal(pieces, whole), longest
        assert told == misuse
