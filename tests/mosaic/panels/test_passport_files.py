"""Passport files: there and back, edited outside, damaged in many ways, and in an older form."""

import copy
import json

import pytest

from mosaic.errors import BadDescriptionError
from mosaic.forms import differences
from mosaic.panels.loader import catalogue, passport_from_json, passport_from_plain, passport_to_plain

OLED, TFT, PAPER = "mono-oled-128x64", "tft-135x240", "epaper-296x128-four-colour"

# panel, path of the value, what it is replaced by (or GONE), path that is told, and words of the message
GONE = object()
DAMAGE = [
    (OLED, "name", GONE, "name", "is missing; it is a text"),
    (OLED, "name", 7, "name", "7 is given; it is a text"),
    (OLED, "technology", "plasma", "technology", '"oled", "tft" or "epaper"'),
    (OLED, "glass", GONE, "glass", "is missing"),
    (OLED, "glass", [], "glass", "a table in braces"),
    (OLED, "glass", "21 mm", "glass", "a table in braces"),
    (OLED, "glass.width_px", 0, "glass.width_px", "from 1 to 4096"),
    (OLED, "glass.width_px", 128.5, "glass.width_px", "a whole number"),
    (OLED, "glass.width_px", "128", "glass.width_px", "'128' is given"),
    (OLED, "glass.height_px", 5000, "glass.height_px", "from 1 to 4096"),
    (OLED, "glass.width_mm", -1, "glass.width_mm", "above 0"),
    (OLED, "glass.width_mm", None, "glass.width_mm", "null is given; it is a number"),
    (OLED, "glass.shape", "oval", "glass.shape", '"rect", "round" or "rounded"'),
    (OLED, "glass.corner_mm", 9.0, "glass.corner_mm", "do not fit glass"),
    (OLED, "glass.width_mm", 26.0, "glass.outline_width_mm", "26 mm from 2.78 mm does not fit an outline of 27.3 mm"),
    (OLED, "glass.transparent", "no", "glass.transparent", "true or false"),
    (OLED, "ram.width_px", 100, "ram.width_px", "100 columns cannot hold 128"),
    (OLED, "ram.offset_y", 1, "ram.height_px", "64 rows cannot hold 64 from offset 1"),
    (OLED, "format.kind", "woven", "format", "indexed"),
    (OLED, "format.bits", 3, "format", "1, 2, 4 or 8"),
    (OLED, "format.along", "diagonal", "format.along", '"row" or "column"'),
    (OLED, "format.planes", [], "format", "at least one plane"),
    (OLED, "format.planes[0].codes", [0, 2], "format", "0 to 1"),
    (OLED, "palette", GONE, "palette", "an indexed format needs one"),
    (OLED, "palette.names", ["dark", "lit", "red"], "palette", "equally many"),
    (OLED, "controller.family", GONE, "controller.family", "is missing"),
    (OLED, "controller.row_pins", "crossed", "controller.row_pins", '"alternating" or "sequential"'),
    (OLED, "sequences.setup", "reset\nc 4", "sequences.setup", "line 2"),
    (OLED, "sequences.window", "x 10", "sequences.window", "starts with 'x'"),
    (OLED, "sequences.write", ["d {plane}", "d {plane}"], "sequences.write", "2 given for 1 planes"),
    (OLED, "links", [], "links", "at least one link"),
    (OLED, "links[0].kind", "usb", "links[0].kind", '"i2c"'),
    (OLED, "links[1].max_clock_hz", 10, "links[1].max_clock_hz", "from 1000 up"),
    (OLED, "power.supply_v", 0, "power.supply_v", "above 0"),
    (OLED, "power.basis", "guessed", "power.basis", '"measured"'),
    (OLED, "module.holes[3].x_mm", 99.0, "module.holes[3]", "lies outside the outline"),
    (OLED, "module.pins[1].function", "magic", "module.pins[1].function", '"supply"'),
    (OLED, "optics.reflectance", 1.5, "optics.reflectance", "from 0 to 1"),
    (OLED, "rotation", 45, "rotation", "0, 90, 180 or 270"),
    (OLED, "operating_c", [70, -30], "operating_c", "lower temperature comes first"),
    (OLED, "operating_c", [70], "operating_c", "1 values are given; it has 2"),
    (OLED, "owned.price", "cheap", "owned.price", "a number"),
    (OLED, "form", 99, "form", "99 is given; it is 2"),
    (OLED, "colour", "white", "colour", "no such field"),
    (OLED, "power.volts", 3, "power.volts", "no such field; known there: supply_v"),
    (TFT, "controller.turn_codes", [0, 96], "controller.turn_codes", "has four"),
    (TFT, "controller.mirror_codes[2]", 256, "controller.mirror_codes[2]", "from 0 to 255"),
    (TFT, "format.bits", 17, "format", "8, 12, 16, 18 or 24"),
    (TFT, "palette", {"names": ["a", "b"], "nominal": ["#000000", "#ffffff"], "measured": ["#000000", "#ffffff"]}, "palette", "leave it out"),
    (PAPER, "refresh[0].time_ms", 0, "refresh[0].time_ms", "above 0"),
    (PAPER, "refresh[0].flashes", 1, "refresh[0].flashes", "true or false"),
    (PAPER, "palette.measured", ["#26282a", "white", "#a02c26", "#ffff00"], "palette.measured[1]", "a colour such as #a02c26"),
    (PAPER, "sequences.setup", "c {x9}", "sequences.setup", "{x9} names no value; known: width, height"),
    (TFT, "glass", {"width_px": 3000, "height_px": 3000, "width_mm": 9.0, "height_mm": 9.0, "outline_width_mm": 99.0, "outline_height_mm": 99.0}, "glass.width_px", "too many"),
]  # fmt: skip


def steps_of(path: str) -> list:
    return [int(s) if s.isdigit() else s for s in path.replace("[", ".").replace("]", "").split(".")]


def damaged(slug: str, path: str, value: object) -> dict:
    plain = passport_to_plain(catalogue()[slug])
    *way, last = steps_of(path)
    at = plain
    for step in way:
        at = at[step]
    if value is GONE:
        del at[last]
    else:
        at[last] = value
    return plain


def test_there_are_enough_kinds_of_damage():
    assert len(DAMAGE) >= 40


@pytest.mark.parametrize(("slug", "path", "value", "told", "words"), DAMAGE)
def test_each_damage_is_told_by_its_place(slug, path, value, told, words):
    with pytest.raises(BadDescriptionError) as caught:
        passport_from_json(json.dumps(damaged(slug, path, value)))
    problems = caught.value.problems
    assert problems[0].path.removeprefix("$.") == told
    assert words in problems[0].reason
    assert len(problems) == 1 or told == "glass.width_px"  # too large a glass does not fit its RAM either


def test_every_wrong_place_is_told_at_once():
    plain = damaged(OLED, "glass.width_px", 0)
    plain["power"]["volts"] = 3
    plain["links"][1]["kind"] = "usb"
    del plain["ram"]["width_px"]
    with pytest.raises(BadDescriptionError, match=r"glass\.width_px.*and 3 more") as caught:
        passport_from_plain(plain)
    told = [p.path for p in caught.value.problems]
    assert told == ["$.glass.width_px", "$.ram.width_px", "$.links[1].kind", "$.power.volts"]


@pytest.mark.parametrize(
    ("text", "words"), [("{", "a name in double quotes"), ("[]", "a table in braces"), ("3", "a table in braces")]
)
def test_what_is_no_passport_at_all(text, words):
    with pytest.raises(BadDescriptionError, match=words):
        passport_from_json(text)


@pytest.mark.parametrize("slug", [OLED, TFT, PAPER, "serial-tft-1024x600"])
def test_an_edit_made_outside_is_the_only_difference(slug):
    before = catalogue()[slug]
    exported = json.dumps(passport_to_plain(before))
    edited = exported.replace('"width_mm": ', '"width_mm": 1', 1)
    after = passport_from_json(edited.replace('"outline_width_mm": ', '"outline_width_mm": 9', 1))
    changed = differences(passport_to_plain(before), passport_to_plain(after))
    assert [path for path, _, _ in changed] == ["glass.width_mm", "glass.outline_width_mm"]
    assert passport_from_json(exported) == before


class TestOlderForm:
    def test_the_first_form_is_brought_up(self):
        new = passport_to_plain(catalogue()["tft-320x240-touch"])
        old = copy.deepcopy(new)
        del old["controller"]["mirror_codes"]
        for name in ("module", "optics", "rails", "grid", "owned", "scan", "drawing", "slots", "update_pause_s", "operating_c"):
            del old[name]
        old["form"] = 1
        read = passport_from_plain(old)
        assert read.form == 2
        # Exchanged axes mirror rows (80), others columns (40): 00, A0, C0, 60 become 40, 20, 80, E0.
        assert read.controller.mirror_codes == (0x40, 0x20, 0x80, 0xE0)
        assert old["form"] == 1  # what was given is left alone

    def test_short_page_panels_were_wired_in_sequence(self):
        old = passport_to_plain(catalogue()["mono-oled-128x32"])
        del old["controller"]["row_pins"]
        old["form"] = 1
        assert passport_from_plain(old).controller.row_pins == "sequential"

    def test_a_damaged_older_form_is_told_too(self):
        old = {**passport_to_plain(catalogue()[OLED]), "form": 1, "controller": 5, "glass": None}
        with pytest.raises(BadDescriptionError) as caught:
            passport_from_plain(old)
        assert {p.path for p in caught.value.problems} == {"$.controller", "$.glass"}
