"""Reading at a place, and what a bezel hides: against values worked by hand."""

from dataclasses import replace

import pytest

from mosaic.errors import BadValueError
from mosaic.panels import reading
from mosaic.panels.geometry import Orientation, glass_mask
from mosaic.panels.loader import catalogue
from mosaic.panels.mounting import Opening, fitting_opening, hidden_pixels, mounting_plan, seen_side


class TestReading:
    # 2 x 900 x tan(8') = 1800 x 0.0023271 = 4.189; an arc-minute at 1 m is 0.2909 mm.
    @pytest.mark.parametrize(("angle", "distance", "mm"), [(16, 900, 4.189), (22, 500, 3.200), (1, 1000, 0.2909)])
    def test_height_under_an_angle(self, angle, distance, mm):
        assert reading.capital_height_mm(angle, distance) == pytest.approx(mm, abs=5e-4)
        assert reading.arc_minutes(mm, distance) == pytest.approx(angle, rel=2e-4)

    def test_wcag_contrast(self):
        assert reading.wcag_contrast(1.0, 0.0) == pytest.approx(21)
        assert reading.wcag_contrast(0.0, 1.0) == pytest.approx(21)
        assert reading.wcag_contrast(0.3, 0.3) == 1

    def test_light_of_the_place(self):
        # r E / pi = 0.05 x 10,000 / 3.1416 = 159.15; (300 + 159.15) / (0.4 + 159.15) = 2.878
        assert reading.emissive_contrast(300, 0.4, 0.05, 10_000) == pytest.approx(2.878, abs=1e-3)
        assert reading.emissive_contrast(300, 0.4, 0.05, 0) == pytest.approx(750)
        # 0.4 x 500 / pi
        assert reading.reflected_cd_m2(0.4, 500) == pytest.approx(63.66, abs=0.01)

    @pytest.mark.parametrize(
        ("slug", "lux", "verdict"),
        [
            ("epaper-296x128-black-white", 500, "text"),
            ("epaper-296x128-black-white", 50_000, "text"),
            ("epaper-296x128-black-white", 1, "not readable"),  # 0.13 cd/m2: there is no light to throw back
            ("tft-320x240-touch", 500, "text"),
            ("tft-320x240-touch", 50_000, "not readable"),  # 796 cd/m2 of glare over 220
            ("transparent-oled-128x56", 100, "text"),
            ("transparent-oled-128x56", 5_000, "not readable"),
        ],
    )
    def test_verdicts(self, slug, lux, verdict):
        assert reading.legibility_of(catalogue()[slug], lux).verdict == verdict

    def test_letters_that_fit(self):
        # Pitch 29.06/128 and 66.9/296 mm, mean 0.2265; 4.189 mm is 18.5, so 19 px; 128/(19 x 1.7) = 3.96, 296/(19 x 0.78) = 19.97
        letters = reading.letters_of(catalogue()["epaper-296x128-black-white"], 90, 900)
        assert (letters.height_px, letters.lines, letters.columns) == (19, 3, 19)
        # From nearby the alphabet's own pixels are the floor.
        assert reading.letters_of(catalogue()["mono-oled-128x64"], 0, 60).height_px == 5

    def test_impossible_values(self):
        with pytest.raises(BadValueError, match="above 0"):
            reading.capital_height_mm(16, 0)
        with pytest.raises(BadValueError, match="below 0"):
            reading.legibility_of(catalogue()["mono-oled-128x64"], -1)


class TestMounting:
    paper = catalogue()["epaper-296x128-black-white"]  # 38 x 89.5 mm, glass 29.06 x 66.9 from (4.47, 5.6), lies turned by 90

    def test_the_plan_turns_with_the_panel(self):
        plan = mounting_plan(self.paper, 90)
        # Turned clockwise, what was below lies at the left: 89.5 - 5.6 - 66.9 = 17.
        assert (plan.outline.width, plan.outline.height) == (89.5, 38)
        assert (plan.area.x, plan.area.y, plan.area.width, plan.area.height) == pytest.approx((17.0, 4.47, 66.9, 29.06))
        assert sorted(plan.holes) == [(2.6, 2.6, 2.5), (2.6, 35.4, 2.5), (86.9, 2.6, 2.5), (86.9, 35.4, 2.5)]
        assert plan.connector == "left"
        assert mounting_plan(self.paper, Orientation(90, True)).connector == "right"

    @pytest.mark.parametrize(("turn", "side"), [(0, "top"), (90, "right"), (180, "bottom"), (270, "left")])
    def test_sides(self, turn, side):
        assert seen_side("top", turn) == side

    def test_a_fitting_opening_hides_nothing(self):
        for panel in catalogue().values():
            opening = fitting_opening(panel, panel.rotation)
            assert not hidden_pixels(panel, panel.rotation, opening).pixels, panel.slug

    @pytest.mark.parametrize(
        ("change", "expected"),
        [
            # a pixel is 66.9 / 296 = 0.2260 mm wide, 29.06 / 128 = 0.2270 mm high
            ({"x_mm": 17.0, "width_mm": 66.9}, (0, 0, 0, 0)),
            ({"x_mm": 17.1}, (1, 0, 0, 0)),  # 0.1 mm touches the first column
            ({"x_mm": 17.5}, (3, 0, 0, 0)),  # 0.5 mm touches three columns
            ({"width_mm": 66.4, "x_mm": 17.0}, (0, 0, 3, 0)),
            ({"y_mm": 5.0}, (0, 3, 0, 0)),  # 0.53 mm touches three rows
            ({"y_mm": 4.47, "height_mm": 28.8}, (0, 0, 0, 2)),
        ],
    )
    def test_columns_and_rows_behind_a_bezel(self, change, expected):
        opening = replace(fitting_opening(self.paper, 90), **change)
        hidden = hidden_pixels(self.paper, 90, opening)
        assert (hidden.left, hidden.top, hidden.right, hidden.bottom) == expected
        columns, rows = hidden.left + hidden.right, hidden.top + hidden.bottom
        assert hidden.pixels == 296 * 128 - (296 - columns) * (128 - rows)

    def test_words(self):
        hidden = hidden_pixels(self.paper, 90, replace(fitting_opening(self.paper, 90), x_mm=17.1, y_mm=5.0))
        assert hidden.in_words() == "1 column at the left, 3 rows at the top"

    def test_rounded_corners_of_an_opening_hide_corners_only(self):
        hidden = hidden_pixels(self.paper, 90, Opening(16.5, 3.97, 67.9, 30.06, 5.0))
        assert hidden.pixels > 0
        assert hidden.in_words() == "corners only"

    def test_an_opening_beside_the_glass_hides_all_of_it(self):
        assert hidden_pixels(self.paper, 90, Opening(100, 100, 5, 5)).pixels == 296 * 128

    def test_round_glass_is_hidden_by_what_covers_its_disc(self):
        panel = catalogue()["tft-240x240-round"]
        area = mounting_plan(panel, 0).area
        square = Opening(area.x, area.y, area.width, area.height)
        disc = Opening(area.x, area.y, area.width, area.height, area.width / 2)
        assert not hidden_pixels(panel, 0, square).pixels
        # Pixels whose centre lies in the disc but whose corner does not: fewer than two for each row's ends.
        assert 0 < hidden_pixels(panel, 0, disc).pixels < 4 * 240


def test_rounded_glass_lacks_its_corners():
    panel = catalogue()["tft-240x280-rounded"]  # radius 4.4 mm at a pitch of 0.1166 mm: 37.75 pixels
    mask = glass_mask(panel)
    assert not mask[0, 0]
    assert mask[0, 120]
    assert mask[140, 0]
    missing = (4 - 3.14159) * 37.75**2
    assert (~mask).sum() == pytest.approx(missing, rel=0.03)
