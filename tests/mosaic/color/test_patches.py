"""Colours out of a photo: a made-up one, from aslant and in uneven light, gives back what it was painted with."""

import io

import numpy as np
import pytest
from PIL import Image

from mosaic.color.lab import linear_to_lab
from mosaic.color.patches import homography, layout, light_over, measure
from mosaic.color.srgb import bytes_to_linear, parse_hex
from mosaic.errors import BadValueError
from workshop.scenario.photo import CORNERS, WHITES, patch_photo

SETS = {
    "four": ("#222021", "#dcdbd2", "#a52a22", "#d6ad24"),
    "seven": ("#1f1d1e", "#d8d6cc", "#2f7a4a", "#34479a", "#a8281f", "#d9b81c", "#c8702a"),
    "two": ("#26282a", "#cfd0c8"),
}


def photo_of(colors, seed=5):
    return np.asarray(Image.open(io.BytesIO(patch_photo(colors, seed))).convert("RGB"))


def lab(text):
    return linear_to_lab(bytes_to_linear(np.array([[parse_hex(text)]], np.uint8)))[0, 0]


@pytest.mark.parametrize("name", SETS)
@pytest.mark.parametrize("seed", [1, 2])
def test_colours_are_recovered_within_two_of_cielab(name, seed):
    colors = SETS[name]
    measured = measure(photo_of(colors, seed), len(colors), CORNERS, WHITES)
    assert [m.index for m in measured] == list(range(len(colors)))
    for m, meant in zip(measured, colors, strict=True):
        assert np.linalg.norm(lab(m.hex) - lab(meant)) < 2, (m, meant)
        assert m.apart < 2
        assert not m.clipped


def test_light_that_is_no_plane_shows_in_how_far_patches_are_apart():
    photo = photo_of(SETS["seven"])
    photo = photo.copy()
    photo[:, 500:] = (photo[:, 500:] * 0.75).astype(np.uint8)  # light that is no plane
    assert max(m.apart for m in measure(photo, 7, CORNERS, WHITES)) > 2


@pytest.mark.parametrize("count", [2, 4, 7, 16])
def test_every_colour_stands_twice_apart(count):
    patches = layout(count)
    assert sorted(p.index for p in patches) == sorted(list(range(count)) * 2)
    assert sum((p.right - p.left) * (p.bottom - p.top) for p in patches) == pytest.approx(1)
    for index in range(count):
        one, other = (p for p in patches if p.index == index)
        assert (one.left, one.top) != (other.left, other.top)


def test_a_homography_by_hand():
    square = homography(((10, 20), (110, 20), (110, 70), (10, 70)))
    assert np.allclose(square @ [0.5, 0.5, 1] / (square @ [0.5, 0.5, 1])[2], [60, 45, 1])
    # The middle of a trapezoid lies where its diagonals cross: (0, 0)-(30, 60) and (90, 0)-(60, 60) meet at (45, ...).
    aslant = homography(((0, 0), (90, 0), (60, 60), (30, 60)))
    middle = aslant @ [0.5, 0.5, 1]
    assert np.allclose(middle[:2] / middle[2], [45, 45])


@pytest.mark.parametrize(
    "corners", [((0, 0), (50, 50), (100, 100), (0, 100)), ((0, 0), (100, 100), (100, 0), (0, 100)), ((5, 5),) * 4]
)
def test_no_four_sided_figure(corners):
    with pytest.raises(BadValueError, match="no four-sided figure"):
        homography(corners)


@pytest.mark.parametrize(
    ("whites", "words"),
    [
        (WHITES[:2], "click three or more"), (((100, 90), (500, 90), (900, 90)), "lie in a line"), (((100, 90), (500, 90), (2000, 500)), "is not on the photo"),
        (((300, 200), (310, 250), (280, 220)), "too dark|lie in a line"),
    ],
)  # fmt: skip
def test_whites_that_say_nothing(whites, words):
    with pytest.raises(BadValueError, match=words):
        light_over(photo_of(SETS["two"]), whites)


def test_a_burnt_out_sheet_and_a_card_outside():
    white = np.full((640, 1000, 3), 255, np.uint8)
    with pytest.raises(BadValueError, match="burnt out"):
        light_over(white, WHITES)
    with pytest.raises(BadValueError, match="reaches out of the photo"):
        measure(photo_of(SETS["two"]), 2, ((0, 0), (3000, 0), (3000, 600), (0, 600)), WHITES)
