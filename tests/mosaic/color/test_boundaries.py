"""Colours at their boundaries: what is one tone, and what is none."""

import pytest

from mosaic.panels.loader import catalogue


@pytest.mark.parametrize(("slug", "is_tone"), [
    ("mono-oled-128x64", True), ("epaper-200x200-black-white", True), ("epaper-296x128-four-grey", True), ("grey-oled-128x128", True),
    ("epaper-200x200-three-colour", False), ("epaper-296x128-four-colour", False), ("epaper-600x448-seven-colour", False),
])  # fmt: skip
def test_one_tone(slug, is_tone):
    assert catalogue()[slug].palette.is_tone is is_tone
