"""Guessing forms: the right one comes first, for pictures of many kinds in every form that panels take."""

import numpy as np
import pytest

from mosaic.conversion.foreign import known_candidates, sizes_of
from mosaic.conversion.pipeline import apply_tone, fit_stage, pack
from mosaic.conversion.reducing import task_of
from mosaic.errors import BadValueError
from mosaic.imports.pictures import read_picture
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.panels.windows import host_size
from mosaic.pixels.direct import pack_direct
from mosaic.pixels.formats import DirectFormat, IndexedFormat, Plane
from mosaic.pixels.guess import Candidate, candidates_for, guess, sizes_of_bytes
from mosaic.pixels.indexed import pack_indexed
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from workshop.scenario import painting

# One panel for every form of bytes in the catalogue, small ones where there are several.
SLUGS = (
    "mono-oled-72x40", "mono-oled-128x64", "mono-oled-64x128-upright", "grey-oled-96x96", "grey-oled-256x64", "color-oled-96x64",
    "tft-128x160-12bit", "tft-135x240", "tft-480x320-18bit", "rgb-tft-480x480-round", "epaper-128x80-black-white",
    "epaper-250x122-black-white", "epaper-250x122-three-colour", "epaper-296x128-four-colour", "epaper-296x128-four-grey",
    "epaper-600x448-seven-colour",
)  # fmt: skip
PAINTINGS = (painting.slip_at_dusk, painting.club_crest, painting.wind_rising)


def order_of(form, candidate):
    """What makes two guesses the same picture: size and order of bytes; codes are told by eye."""
    if isinstance(form, DirectFormat):
        return candidate.width, candidate.height, form.bits, form.byte_order if form.bits == 16 else ""
    return candidate.width, candidate.height, form.bits, form.along, form.first, form.follow, len(form.planes)


def test_the_right_form_comes_first_for_nine_of_ten_packed_pictures():
    candidates, right, tried = list(known_candidates()), 0, []
    sizes = sizes_of(known_candidates())
    sources = [read_picture(paint(), f"{paint.__name__}.png") for paint in PAINTINGS]
    for slug in SLUGS:
        panel = catalogue()[slug]
        turn, recipe = Orientation(panel.rotation), Recipe()
        for source in sources:
            toned = apply_tone(fit_stage(source, recipe, panel, turn).linear, recipe)
            data = pack(METHODS[recipe.method].reduce(task_of(toned, recipe, panel)[0], recipe), panel, turn)
            first = guess(data, candidates_for(len(data), sizes, candidates))[0].candidate
            wanted = Candidate(*host_size(panel, turn), panel.format)
            tried.append((slug, order_of(first.format, first) == order_of(panel.format, wanted)))
            right += tried[-1][1]
    assert right >= 0.9 * len(tried), [slug for slug, hit in tried if not hit]


def letters():
    picture = np.zeros((64, 128), np.uint8)
    picture[8:56, 20:30] = picture[8:18, 20:70] = picture[28:36, 20:56] = 1
    for x in range(80, 120):
        picture[60 - (x - 80) // 2 : 62, x] = 1
    return picture


@pytest.mark.parametrize(
    "form",
    [
        IndexedFormat(1, along, first, follow, (Plane("p", (0, 1)),))
        for along, follow in (("row", "rows"), ("column", "pages"))
        for first in ("msb", "lsb")
    ],
    ids=lambda f: f"{f.along}-{f.first}",
)
def test_one_drawing_in_four_forms(form):
    data = pack_indexed(letters(), form)
    first = guess(data, candidates_for(len(data), [(128, 64), (64, 128)], []))[0].candidate
    assert (first.width, first.format.along, first.format.first) == (128, form.along, form.first)


@pytest.mark.parametrize("order", ["big", "little"])
def test_the_order_of_bytes_in_a_gradient(order):
    y, x = np.mgrid[0:64, 0:96]
    rgb = np.stack([x * 255 // 95, y * 255 // 63, (x + y) * 255 // 158], axis=-1).astype(np.uint8)
    data = pack_direct(rgb, DirectFormat(16, byte_order=order))
    first = guess(data, candidates_for(len(data), [(96, 64), (64, 96)], []))[0].candidate
    assert (first.width, first.format.byte_order) == (96, order)


def test_a_size_named_in_words_is_preferred():
    noise = np.random.default_rng(1).integers(0, 256, 1024, np.uint8).tobytes()
    first = guess(noise, candidates_for(1024, [(128, 64), (64, 128)], [], (256, 32)))[0].candidate
    assert {first.width, first.height} == {256, 32}


def test_noise_takes_as_many_bits_as_it_has():
    noise = np.random.default_rng(1).integers(0, 256, 8192, np.uint8).tobytes()
    best = guess(noise, candidates_for(8192, [(256, 256)], []))[0]
    assert 7.5 < best.bits_a_byte < 10


def test_odd_numbers_of_bytes():
    assert candidates_for(1021, [(128, 64)], []) == []
    with pytest.raises(BadValueError, match="name its width and height"):
        guess(bytes(1021), [])
    for byte_count, size in (
        (1024, (128, 64)), (10_000, (200, 200)), (4608, (96, 96)), (57_600, (240, 240)), (76_800, (240, 160)), (172_800, (240, 240)),
    ):  # fmt: skip  # of 1, 2, 4, 8, 16 and 24 bits a pixel
        assert size in sizes_of_bytes(byte_count)
