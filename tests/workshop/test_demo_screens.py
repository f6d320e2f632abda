"""Every screen of the demo: C whole, in bands and direct, and Python, against what the page shows and the virtual panel."""

import ctypes

import numpy as np

from mosaic.panels.windows import host_size
from mosaic.screens.code_python import draws_the_same, python_source
from tests.mosaic.drawing.test_three_renderers import AREA
from tests.mosaic.screens.test_code import bands_of, compiled, sent_values
from workshop.demo.services import load_demo
from workshop.scenario.screens import SCREENS
from workshop.screens.documents import ScreenDocument
from workshop.screens.reports import rendered_of


def test_every_screen_of_the_demo_is_drawn_the_same_everywhere(db, tmp_path):
    load_demo()
    rows = list(ScreenDocument.objects.select_related("head", "build"))
    assert len(rows) == sum(map(len, SCREENS.values())) == 9
    for row in rows:
        rendered = rendered_of(row.build, row.record, row.build.to_device())
        assert rendered.proof.verified, row.name
        assert draws_the_same(python_source(rendered, "Tide"), rendered, "Tide"), row.name
        folder = tmp_path / str(row.pk)
        folder.mkdir()
        library = compiled(rendered, folder)
        width, height = host_size(rendered.device.passport, rendered.device.turn)
        for rows_held in bands_of(rendered):
            found = b""
            for top in range(0, height, rows_held):
                held = min(rows_held, height - top)
                buffer = (ctypes.c_uint8 * library.tide_size(held))()
                library.tide(ctypes.byref(library.tide_given(buffer, top, held)))
                found += bytes(buffer)
            assert found == rendered.packed, (row.name, rows_held)
        frame = np.full((height, width), -1, np.int64)

        def take(context, x, y, w, h, color, frame=frame):
            frame[y : y + h, x : x + w] = color

        held_on = AREA(take)
        library.tide_none.argtypes = [AREA]
        library.tide(ctypes.byref(library.tide_none(held_on)))
        assert np.array_equal(frame, sent_values(rendered)), row.name
