"""Every screen of the demo in all its states: C whole, in bands and direct, and Python, against the page and the virtual panel."""

import numpy as np

from mosaic.screens.code_python import draws_the_same, python_source
from tests.mosaic.screens.compiling import CScreen, bands_of, sent_values
from tests.mosaic.screens.stepping import steps_leave_the_glass_whole
from workshop.scenario.screens import SCREENS
from workshop.screens.documents import ScreenDocument
from workshop.screens.reports import drawn, rendered_of, states_of


def test_every_screen_of_the_demo_is_drawn_the_same_everywhere(demo, tmp_path):
    rows = list(ScreenDocument.objects.select_related("head", "build"))
    assert len(rows) == sum(map(len, SCREENS.values())) == 11
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
            steps_leave_the_glass_whole(rendered, folder, code, steps=40)
    assert living >= 6
