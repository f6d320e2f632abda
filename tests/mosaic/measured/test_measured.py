"""Readings as they are written, factors against least squares worked by hand, and photos of glass made by a rule."""

import numpy as np
import pytest
from PIL import Image, ImageDraw, ImageFilter

from mosaic.errors import BadValueError
from mosaic.measured.factor import Pair, factor_of, outliers_of
from mosaic.measured.glass_photo import causes_of, read_glass
from mosaic.measured.quantities import QUANTITIES, UNITS, read_reading


@pytest.mark.parametrize(
    ("written", "quantity", "value"),
    [("12.5 mA", "current", 12.5), ("0,4 A", "current", 400.0), ("350 µA", "current", 0.35), ("1.5 s", "frame-time", 1500.0),
     ("3.7", "voltage", 3.7), ("-4 °C", "temperature", -4.0), ("12 KiB", "flash", 12_288.0), ("48 h", "runtime", 2.0),
     ("4,7 kΩ", "resistance", 4700.0), ("3.6 J", "energy-a-day", 1.0), ("1e3 µs", "frame-time", 1.0)],
)  # fmt: skip
def test_readings_as_people_write_them(written, quantity, value):
    assert read_reading(written, QUANTITIES[quantity]) == pytest.approx(value)


@pytest.mark.parametrize(
    ("written", "quantity", "words"),
    [("", "voltage", "no voltage"), ("much", "current", "no current"), ("3 mA", "voltage", "'mA' is no unit of voltage"),
     ("1e13 mA", "current", "larger than"), ("--3 V", "voltage", "no voltage"), ("nan V", "voltage", "no voltage")],
)  # fmt: skip
def test_readings_that_are_none(written, quantity, words):
    with pytest.raises(BadValueError, match=words):
        read_reading(written, QUANTITIES[quantity])


def test_each_quantity_has_its_units():
    assert all(UNITS[quantity.dimension][quantity.unit] == 1.0 for quantity in QUANTITIES.values())


def test_a_factor_by_hand():
    """p 10, 20, 30; m 12, 21, 33: sum pm = 120 + 420 + 990 = 1530, sum pp = 1400, factor 1.092857; rest 12 - 10.92857 = 1.071429,
    21 - 21.85714 = -0.857143, 33 - 32.78571 = 0.214286, squares 1.147959 + 0.734694 + 0.045918 = 1.928571; over 2 and 1400: 0.0262445."""
    found = factor_of([Pair(1, 12, 10), Pair(2, 21, 20), Pair(3, 33, 30)])
    assert found.factor == pytest.approx(1530 / 1400)
    assert found.spread == pytest.approx(0.0262445, rel=1e-5)
    assert (found.low, found.high) == (pytest.approx(1.092857 - 0.052489, rel=1e-5), pytest.approx(1.092857 + 0.052489, rel=1e-5))
    assert (found.used, found.outliers) == ((1, 2, 3), ())


def test_one_alone_and_none():
    one = factor_of([Pair(7, 12, 10)])
    assert (one.factor, one.spread, one.used) == (1.2, None, (7,))
    assert factor_of([]) is None
    assert factor_of([Pair(1, 3, 0)]) is None


def test_outliers_are_named_and_left_out():
    pairs = [Pair(n, 10 * ratio, 10) for n, ratio in enumerate((1.0, 1.02, 0.98, 1.01, 3.0))]
    assert outliers_of(pairs) == (4,)
    assert outliers_of(pairs[1:4]) == ()  # three are too few to tell
    found = factor_of(pairs)
    assert (found.outliers, found.factor) == ((4,), pytest.approx(4.01 / 4))
    near = [Pair(n, 10 * ratio, 10) for n, ratio in enumerate((1.0, 1.0, 1.0, 1.0, 1.06))]
    assert outliers_of(near) == ()  # 3.5 times 2 % is 7 %
    assert outliers_of([*near[:4], Pair(9, 10.8, 10)]) == (9,)


WIDTH, HEIGHT = 64, 32
INK, GROUND = (235, 240, 245), (12, 18, 30)


def screen():
    """(32, 64, 3): a frame, a diagonal, some letters' worth of bars."""
    picture = Image.new("RGB", (WIDTH, HEIGHT), GROUND)
    pen = ImageDraw.Draw(picture)
    pen.rectangle((1, 1, 40, 20), outline=INK)
    pen.line((2, 28, 60, 24), fill=INK)
    for n in range(5):
        pen.rectangle((45 + 3 * n, 4 + 2 * n, 46 + 3 * n, 18), fill=INK)
    pen.line((5, 5, 30, 17), fill=INK)
    return np.asarray(picture)


CORNERS = ((71.0, 40.0), (520.0, 63.0), (505.0, 301.0), (60.0, 262.0))


def photographed(shown, noise=3.0):
    """A photo by a rule: each pixel a square with a gap, seen aslant, blurred, lit unevenly, with noise."""
    fine = 12
    large = np.zeros((HEIGHT * fine, WIDTH * fine, 3), np.uint8)
    for y in range(HEIGHT):
        for x in range(WIDTH):
            large[y * fine + 1 : (y + 1) * fine - 1, x * fine + 1 : (x + 1) * fine - 1] = shown[y, x]
    source = ((0, 0), (WIDTH * fine, 0), (WIDTH * fine, HEIGHT * fine), (0, HEIGHT * fine))
    rows, right = [], []
    for (u, v), (x, y) in zip(source, CORNERS, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        right += [u, v]
    back = np.linalg.solve(np.array(rows), np.array(right))
    photo = Image.fromarray(large).transform((600, 340), Image.Transform.PERSPECTIVE, tuple(back), Image.Resampling.BILINEAR)
    photo = photo.filter(ImageFilter.GaussianBlur(1.1))
    y, x = np.mgrid[0:340, 0:600]
    light = 0.55 + 0.35 * x / 600 + 0.1 * (y / 340) ** 2
    haze = 10 + 8 * y / 340
    dice = np.random.default_rng(4)
    lit = np.asarray(photo, float) * light[..., None] + haze[..., None] + dice.normal(0, noise, (340, 600, 3))
    return np.clip(lit, 0, 255).astype(np.uint8)


def test_five_wrong_pixels_a_shifted_column_and_a_dead_row():
    meant = screen()
    shown = meant.copy()
    wrong = ((10, 26), (33, 8), (50, 29), (55, 2), (22, 23))
    for x, y in wrong:
        shown[y, x] = INK if tuple(shown[y, x]) == GROUND else GROUND
    shown[12] = GROUND
    column = shown[:, 45].copy()
    shown[3:, 45] = column[:-3]
    shown[:3, 45] = GROUND
    shown[12] = GROUND
    found = read_glass(photographed(shown), CORNERS, meant)
    assert found.dead_rows == (12,)
    assert found.shifted_columns == ((45, 3),)
    assert set(found.wrong) == set(wrong)
    assert (found.shift, found.whole, found.dead_columns, found.shifted_rows) == ((0, 0), "", (), ())
    assert found.tilt_degrees == pytest.approx(2.93, abs=0.01)  # atan 23 / 449
    words = " ".join(seen for seen, _ in causes_of(found))
    assert "1 row stays dark" in words
    assert "1 column is shifted" in words


def test_a_right_glass_is_right():
    found = read_glass(photographed(screen()), CORNERS, screen())
    assert (found.wrong_count, found.agreement, causes_of(found)) == (0, 1.0, [])
    assert np.abs(found.straight.astype(int) - screen()).mean() < 25


def test_everything_shifted():
    meant = screen()
    shown = np.full_like(meant, GROUND)
    shown[2:, 4:] = meant[:-2, :-4]
    found = read_glass(photographed(shown), CORNERS, meant)
    assert (found.shift, found.wrong_count) == ((4, 2), 0)
    assert causes_of(found)[0][1].startswith("The offset")


@pytest.mark.parametrize(
    ("change", "name"),
    [(lambda p: p[:, ::-1], "mirrored"), (lambda p: p[::-1], "upside down"), (lambda p: p[::-1, ::-1], "turned by half"),
     (lambda p: np.where(p == np.array(INK), np.array(GROUND), np.array(INK)).astype(np.uint8), "inverted")],
)  # fmt: skip
def test_as_a_whole(change, name):
    found = read_glass(photographed(np.ascontiguousarray(change(screen()))), CORNERS, screen())
    assert found.whole == name
    assert found.wrong_count <= 3


def test_what_cannot_be_read():
    photo = photographed(screen())
    for corners, words in (
        (CORNERS[:3], "3 corners"), (CORNERS[::-1], "clockwise"), (((0, 0), (70, 0), (70, 40), (0, 40)), "from nearer"),
        (((0, 0), (9000, 0), (500, 300), (0, 300)), "outside"),
    ):  # fmt: skip
        with pytest.raises(BadValueError, match=words):
            read_glass(photo, corners, screen())
    with pytest.raises(BadValueError, match="one colour only"):
        read_glass(photo, CORNERS, np.zeros((HEIGHT, WIDTH, 3), np.uint8))
    with pytest.raises(BadValueError, match="told apart"):
        read_glass(photo, CORNERS, np.arange(HEIGHT * WIDTH * 3).reshape(HEIGHT, WIDTH, 3).astype(np.uint8))
