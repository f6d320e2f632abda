"""Panels in groups: sizes as sellers say them, limits, and the usual ones first."""

import pytest

from mosaic.panels.groups import USUAL, USUAL_GROUP, group_of, in_groups, size_band, size_words
from mosaic.panels.loader import catalogue


@pytest.mark.parametrize(
    ("slug", "words"),
    [
        ("mono-oled-128x64", "0.96 inch 1.0 inch"), ("mono-oled-128x64-132", "1.29 inch 1.3 inch"),
        ("epaper-400x300-black-white", "4.17 inch 4.2 inch"),
        ("tft-240x240-round", "1.28 inch 1.3 inch"),  # round glass is sold by its diameter
    ],
)  # fmt: skip
def test_sizes_as_sellers_say_them(slug, words):
    assert size_words(catalogue()[slug]) == words


@pytest.mark.parametrize(
    ("inches", "band"), [(1.0, "up to 1 inch"), (1.01, "1 to 2 inches"), (2.0, "1 to 2 inches"), (2.1, "2 to 3.5 inches"), (3.5, "2 to 3.5 inches"), (5.0, "3.5 to 5 inches"),
                         (5.01, "over 5 inches")],
)  # fmt: skip
def test_an_exact_limit_belongs_to_the_smaller_size(inches, band):
    assert size_band(inches)[1] == band


def test_groups_hang_together_and_the_usual_ones_stand_first():
    ordered = in_groups(list(catalogue().values()))
    assert [panel.slug for panel in ordered[: len(USUAL)]] == list(USUAL)
    names = [group_of(panel) for panel in ordered]
    begins = [name for i, name in enumerate(names) if i == 0 or name != names[i - 1]]
    assert len(begins) == len(set(begins))
    assert begins[0] == USUAL_GROUP
    assert begins[1] == "OLED, up to 1 inch"
    assert len(ordered) == len(catalogue())
