"""Drills and questions: fair tasks, an honest record, and no path without an end."""

from mosaic.cards.registry import CARDS, painted
from mosaic.conversion.program import Setting
from mosaic.faults.alike import PLAIN_SHARE, difference
from mosaic.faults.drills import drill_of, record_of
from mosaic.faults.questions import QUESTIONS, Cause, walked
from mosaic.faults.registry import FAULTS
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue


class TestDrills:
    oled = Setting(catalogue()["mono-oled-128x64"], Orientation(0))

    def test_the_same_number_gives_the_same_drill(self):
        assert drill_of(self.oled, 7) == drill_of(self.oled, 7)
        assert len({drill_of(self.oled, seed).fault for seed in range(30)}) > 8

    def test_only_one_choice_looks_like_what_is_shown(self):
        for slug in ("mono-oled-128x64", "epaper-296x128-four-colour", "tft-128x128"):
            panel = catalogue()[slug]
            setting = Setting(panel, Orientation(panel.rotation))
            for seed in range(5):
                drill = drill_of(setting, seed)
                pixels = painted(CARDS[drill.card], panel, setting.turn)
                seen = FAULTS[drill.fault].rendering(setting, pixels)
                like = [n for n in drill.choices if difference(FAULTS[n].rendering(setting, pixels), seen) < PLAIN_SHARE]
                assert like == [drill.fault]
                assert len(set(drill.choices)) == len(drill.choices) == 5

    def test_what_is_confused_comes_up_more_often(self):
        plain = sum(drill_of(self.oled, seed).fault == "panel.row-pins" for seed in range(120))
        weak = sum(drill_of(self.oled, seed, ("panel.row-pins",)).fault == "panel.row-pins" for seed in range(120))
        assert weak > plain

    def test_the_record(self):
        answers = [("a", "b"), ("a", "b"), ("c", "c"), ("d", "a")]
        record = record_of(answers)
        assert (record.tried, record.right) == (4, 1)
        assert record.confused == (("a", "b", 2), ("d", "a", 1))
        assert record.weak == ("a", "b", "d")

    def test_two_right_answers_in_a_row_clear_a_confusion(self):
        assert record_of([("a", "b"), ("a", "a")]).confused == (("a", "b", 1),)
        assert record_of([("a", "b"), ("a", "a"), ("c", "c"), ("a", "a")]).confused == ()


class TestQuestions:
    def test_every_path_ends_in_a_cause_and_every_question_is_reached(self):
        reached, ends, open_paths = set(), 0, [[]]
        while open_paths:
            path = open_paths.pop()
            asked, at = walked(path)
            reached |= {question.slug for question, _ in asked}
            if isinstance(at, Cause):
                ends += 1
                assert len(path) <= 7
                assert at.make_sure
                assert at.mend
            else:
                open_paths += [[*path, number] for number in range(len(at.answers))]
        assert reached == set(QUESTIONS)
        assert ends > 15

    def test_dark_glass(self):
        assert walked([0, 1, 0, 0])[1].what == "Nobody drives the backlight"
        assert walked([0, 0])[1].page == "check-sheet"

    def test_an_address_made_by_hand_ends_the_walk(self):
        assert walked([0, 9, 1])[1] is QUESTIONS["nothing"]
