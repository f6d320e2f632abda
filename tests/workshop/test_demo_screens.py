"""Every screen of the demo in all its states: C whole, in bands and direct, and Python, against the page and the virtual panel."""

import numpy as np

from mosaic.screens.code_python import draws_the_same, python_source
from mosaic.screens.rendering import drawn_in
from mosaic.screens.updates import changes, link_of
from tests.mosaic.screens.compiling import CScreen, bands_of, sent_values
from tests.mosaic.screens.test_living import step_from
from workshop.demo.services import load_demo
from workshop.scenario.screens import SCREENS
from workshop.screens.documents import ScreenDocument
from workshop.screens.reports import drawn, rendered_of, states_of


def _two_hundred_steps(rendered, code):
    """Of values by lot: after each the glass is what a whole frame would show, every tenth as C sends it."""
    plan, link, before = rendered.plan, link_of(rendered.device), rendered
    glass = sent_values(before)
    for seed in range(200):
        now = drawn_in(plan, step_from(before.kit.settled_state, seed, plan.kit))
        meant, windows = sent_values(now), changes(before, now, link)
        boxes = [(w.x, w.y, w.width, w.height) for w in windows]
        for box in boxes:
            inside = np.s_[box[1] : box[1] + box[3], box[0] : box[0] + box[2]]
            glass[inside] = (code.frame(now, box) if seed % 10 == 0 else meant)[inside]
        assert np.array_equal(glass, meant), seed
        if seed % 10 == 0:
            assert code.changes(before, now) == boxes
        before = now


def test_every_screen_of_the_demo_is_drawn_the_same_everywhere(db, tmp_path):
    load_demo()
    rows = list(ScreenDocument.objects.select_related("head", "build"))
    assert len(rows) == sum(map(len, SCREENS.values())) == 9
    living = 0
    for row in rows:
        device = row.build.to_device()
        rendered, states = rendered_of(row.build, row.record, device), states_of(row.build, row.record, device)
        living += len(states) > 1
        assert rendered.proof.verified, row.name
        assert draws_the_same(python_source(rendered, "Tide"), rendered, "Tide"), row.name
        folder = tmp_path / str(row.pk)
        folder.mkdir()
        code = CScreen(rendered, folder)
        for rows_held in bands_of(rendered):
            assert code.packed(rendered, rows_held) == rendered.packed, (row.name, rows_held)
        for state in states:
            look = drawn(row.build, row.record, device, state)
            assert np.array_equal(code.frame(look), sent_values(look)), (row.name, state.name)
        if len(states) > 1:
            _two_hundred_steps(rendered, code)
    assert living >= 6
