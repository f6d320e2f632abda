"""Calculators against figures worked by hand, and what they refuse."""

import pytest

from mosaic.desk.arguments import ARGUMENTS
from mosaic.desk.calculator import Bars, Disc, Grid, bytes_words
from mosaic.desk.desk import CALCULATORS
from mosaic.desk.seen import chord_px


def said(slug, **written):
    """The sentence and the figures by name."""
    answer, problems, _ = CALCULATORS[slug].answer({name: str(value) for name, value in written.items()})
    assert problems == {}
    return answer.sentence, {figure.name: figure.words for figure in answer.figures}, answer


@pytest.mark.parametrize("slug", list(CALCULATORS))
def test_the_usual_figures_have_an_answer(slug):
    answer, problems, stands = CALCULATORS[slug].answer({})
    assert problems == {}
    assert answer.sentence.endswith(".")
    assert answer.formula
    assert list(stands) == [field.name for field in CALCULATORS[slug].fields]


@pytest.mark.parametrize("slug", list(CALCULATORS))
@pytest.mark.parametrize("written", ["", "abc", "nan", "-1", "1e99", "<b>", "９"])
def test_what_is_no_number_is_named_at_its_field(slug, written):
    for field in CALCULATORS[slug].fields:
        answer, problems, stands = CALCULATORS[slug].answer({field.name: written})
        if written == "-1" and field.least <= -1 and field.kind == "number":
            continue
        assert answer is None
        assert list(problems) == [field.name]
        assert stands[field.name] == written


@pytest.mark.parametrize(
    ("form", "size"),
    [("rows-1", 17 * 10), ("pages-1", 130 * 2), ("planes-2", 2 * 17 * 10), ("rows-2", 33 * 10), ("rows-4", 65 * 10),
     ("rgb-332", 1300), ("rgb-444", 1950), ("rgb-565", 2600), ("rgb-666", 3900), ("rgb-888", 3900)],
)  # fmt: skip
def test_bytes_of_130_by_10(form, size):
    """130 px in 1 bit are 16.25 bytes, so 17; 10 rows in pages are 1.25 pages, so 2."""
    assert said("bytes", width=130, height=10, form=form)[0] == f"130 × 10 px take {bytes_words(size)}."


def test_frame_time():
    """320 × 240 × 2 B × 8 clocks / 40 MHz = 30.72 ms; I2C at 400 kHz: 1,024 B × 9 / 400,000 = 23.04 ms; a gap of 1 µs adds 1.024."""
    assert said("frame-time", width=320, height=240, form="rgb-565", link="spi", clock=40)[0].startswith("A frame takes 30.72 ms")
    assert said("frame-time", width=128, height=64, form="pages-1", link="i2c", clock="0,4")[0].startswith(
        "A frame takes 23.04 ms"
    )
    sentence, figures, _ = said("frame-time", width=128, height=64, form="pages-1", link="i2c", clock=0.4, gap=1)
    assert sentence.startswith("A frame takes 24.06 ms: 41.6 a second")
    assert figures["gaps between bytes"] == "1.024 ms"


def test_windows_against_the_frame():
    """A window of 40 × 20 at 16 bits and 11 B: 1,611 B; the frame of 240 × 240: 115,211 B, 71.5 of them."""
    sentence, figures, _ = said("windows", count=6)
    assert sentence.startswith("The windows are quicker: 19.33 ms for 6, 230.4 ms")
    assert (figures["bytes of a window, with its commands"], figures["windows that cost as much as the frame"]) == (
        "1,611 B",
        "71",
    )
    assert said("windows", count=71)[0].startswith("The windows are quicker")
    assert said("windows", count=72)[0].startswith("The whole frame is quicker")
    assert said("windows", count=1, window_width=240, window_height=240)[0].startswith("Both are equal")
    assert said("windows", bits=1, window_width=9, window_height=1, setup=0)[1]["bytes of a window, with its commands"] == "2 B"


def test_pull_ups():
    """400 kHz, 3.3 V, 100 pF: 2.9 V / 3 mA = 967 Ω, 300 ns / 84.73 pF = 3,541 Ω. 4.7 k beside 10 k are 3.2 k."""
    sentence, figures, _ = said("pull-ups")
    assert (sentence, figures["at least"], figures["at most"]) == ("Put 10 kΩ from each line to the rail.", "967 Ω", "3.54 kΩ")
    assert said("pull-ups", first=2200)[0] == "What is there is right: 2.2 kΩ."
    assert said("pull-ups", first=470)[0].startswith("470 Ω is too little")
    assert said("pull-ups", first=0)[1]["there now"] == "none"
    assert said("pull-ups", capacitance=400)[0].startswith("No resistor will do")


def test_levels():
    """3.3 V CMOS: high from 2.31 V, takes 3.6 V; TTL: 0.8 and 2.0 V."""
    assert said("levels")[0].startswith("Put a level shifter in between: 5 V are more")
    assert said("levels", tolerant="yes")[0] == "They go together directly."
    assert said("levels", driver=3.6)[0] == "They go together directly."
    assert "3.61 V are more" in said("levels", driver=3.61)[0]
    assert said("levels", driver=3.3, receiver=5)[0].endswith("2.9 V may not be read as high.")  # 3.5 V wanted
    assert said("levels", driver=3.3, receiver=5, inputs="ttl")[0] == "They go together directly."
    assert said("levels", driver=1.2, receiver=1.2)[0].endswith("0.8 V may not be read as high.")  # 0.84 V wanted


def test_serial_rates():
    """16 MHz / 16 / 115,200 = 8.68, so 9: 111,111, 3.55 % too slow; by 8 it is 17: 117,647, 2.12 % too fast; 9,600: 104, 0.16 %."""
    sentence, figures, answer = said("baud")
    assert (sentence, figures["nearest rate"]) == (
        "Bytes will be read wrongly: the rate is missed by 3.55%.",
        "111,111 bits a second",
    )
    assert said("baud", divider="8")[0].endswith("missed by 2.12%.")
    assert said("baud", rate=9600)[0] == "It is near enough: the rate is missed by 0.16%."
    assert said("baud", rate=1_000_000)[0] == "It is near enough: the rate is missed by 0.00%."
    assert isinstance(answer.drawing, Bars)
    assert answer.drawing.limit == 2.0


def test_a_cell():
    """220 mAh coin, 85 % of it, 0.1 % a month (0.3 µA); 10 µA asleep and 20 mA for 1 s an hour: 20 / 3600 = 5.56 µA more."""
    sentence, figures, answer = said("runtime", cell="coin-20", idle=10, active=20, seconds=1, every=60)
    assert figures["average"] == "0.0156 mA"
    days = 220 * 0.85 / (0.01 + 20 / 3600 + 220 * 0.001 / 730.5) / 24
    assert sentence.startswith(f"It lasts about {days:,.3g} days")
    assert answer.drawing.at == (60.0, pytest.approx(days, rel=1e-3))
    assert dict(answer.drawing.points)[60] == pytest.approx(days, rel=1e-3)
    assert figures["sleeping takes as much as working from"] == "33.3 min on"  # 20 mC / 10 µA = 2,000 s
    nothing, problems, _ = CALCULATORS["runtime"].answer({"idle": "0", "active": "0"})
    assert nothing is None
    assert "nothing draws a current" in problems[""]


def test_capitals():
    """2 × 900 mm × tan 11′ = 5.76 mm, 25.04 pixels of 0.23 mm, so 26; no fewer than 5."""
    sentence, figures, _ = said("capitals")
    assert sentence == "Capitals of 5.76 mm, 26 px, are read with ease at 0.9 m."
    assert figures["at least"] == "4.19 mm, 19 px"
    assert said("capitals", pitch=10)[0].startswith("Capitals of 5.76 mm, 5 px")


def test_text_grids():
    """(128 + 1) / 6 = 21.5 columns; with 6 × 8 without gaps 21.3; 127 px and a gap hold 21 as well, 125 px 21 and 124 px 20."""
    assert said("text-grid")[0] == "21 characters in 8 lines: 168 in all."
    assert said("text-grid", width=125)[0].startswith("21 characters")
    assert said("text-grid", width=124)[0].startswith("20 characters")
    _, figures, answer = said("text-grid", lead=1)
    assert figures["left over"] == "3 px to the right, 2 px below"
    assert answer.drawing == Grid(128, 64, 6, 9, 21, 7)
    none, problems, _ = CALCULATORS["text-grid"].answer({"cell_width": "129"})
    assert none is None
    assert "not one character" in problems[""]


def test_colours():
    """#2f7d76: 47 × 31 / 255 = 5.7, 125 × 63 / 255 = 30.9, 118 × 31 / 255 = 14.3: 6, 31, 14, so 00110 011111 01110, 0x33EE."""
    sentence, figures, _ = said("colour")
    assert sentence.startswith("In 5-6-5 it is 0x33EE;")
    assert (figures["bytes, high one first"], figures["low one first"]) == ("33 EE", "EE 33")
    assert figures["5-6-5 shows"].startswith("#317d73,")  # 00110 001, 011111 01, 01110 011
    assert said("colour", color="#e02010", palette="red")[0].endswith("the nearest is #ff0000.")
    assert said("colour", color="#FFFFFF")[0].startswith("In 5-6-5 it is 0xFFFF;")


def test_round_glass():
    """r = 120: 80 rows from the middle 2 √(14,400 - 3,600 ...): the band 60 to 80 is at most 60 away, 2 √(14,400 - 3,600) = 207.8."""
    sentence, figures, answer = said("round")
    assert sentence == "207 px of each row are on the glass."
    assert (figures["from column"], figures["largest square"]) == ("17 to 222", "169 × 169 px")
    assert figures["ring"] == "8,595 px, 716 px long"  # pi (120² - 108²), pi × 228
    assert isinstance(answer.drawing, Disc)
    assert chord_px(240, 60, 20) == chord_px(240, 160, 20) == pytest.approx(207.846, abs=1e-3)
    for written, words in (({"top": "221"}, "ends at row 241"), ({"ring": "120"}, "leaves nothing")):
        answer, problems, _ = CALCULATORS["round"].answer(written)
        assert answer is None
        assert words in problems[""]
    assert CALCULATORS["round"].answer({"top": "220"})[0] is not None


class TestArguments:
    """The examples of the field guide, by hand."""

    def of(self, slug, **written):
        answer, problems, _ = ARGUMENTS[slug].answer({name: str(value) for name, value in written.items()})
        assert problems == {}
        return answer.sentence, {figure.name: figure.words for figure in answer.figures}, answer

    def test_buffers(self):
        """320 × 240 × 2 = 153,600 B, an eighth 19,200 B, drawn 8 times: 96 + 31 ms; two buffers take the longer of 12 and 31 ms."""
        sentence, figures, answer = self.of("buffer-or-page")
        assert sentence.startswith("Of what fits, 8 pages is quickest without flicker: 127 ms")
        assert figures["two buffers"].endswith("31 ms a frame")
        assert answer.drawing.limit == 102_400
        assert self.of("buffer-or-page", ram=150)[0].startswith("Of what fits, one buffer")
        assert self.of("buffer-or-page", ram=300)[0].startswith("Of what fits, two buffers")
        assert self.of("buffer-or-page", ram=18.74)[0].startswith("Nothing fits but drawing directly")
        assert self.of("buffer-or-page", ram=18.75)[0].startswith("Of what fits, 8 pages")

    def test_dithering_is_nearer_and_a_threshold_is_itself(self):
        error = float(self.of("dither-or-threshold")[1]["perceived error"].removesuffix(" L*"))
        assert error < 0.5 * float(self.of("dither-or-threshold")[1]["of a threshold"].removesuffix(" L*"))
        assert self.of("dither-or-threshold", method="threshold")[0].startswith("From where the eye blends pixels it is 0%")
        pictures = self.of("dither-or-threshold")[2].drawing.pictures
        assert [picture.shape for _, picture in pictures] == [(64, 128, 3)] * 3
        assert len({tuple(color) for color in pictures[1][1].reshape(-1, 3)}) == 2

    def test_cleaning(self):
        """6 % of a change and 0.9 of what was there: 6, 11.4, 16.26 %; a cleaning leaves 0.5 % and a tenth of 11.4 %: 1.64 %."""
        sentence, _, answer = self.of("clean-each-or-tenth", updates=4, each=3, full=2)
        assert sentence.startswith("It flashes once a day, 2 s in all, and leaves a ghost of up to 11.4%.")
        assert [round(y, 3) for _, y in answer.drawing.points] == [6.0, 11.4, 1.64, 7.476]
        assert self.of("clean-each-or-tenth", updates=10, each=11)[0].startswith("It flashes 0 times")
        assert self.of("clean-each-or-tenth", updates=11, each=11)[0].startswith("It flashes once a day")
        assert self.of("clean-each-or-tenth")[1]["the most a ghost can become"] == "60%"

    def test_storage(self):
        """4,736 B take two blocks of 4,096, 4,096 B take one; 24 of them."""
        assert self.of("array-or-file")[1]["lost to the ends of blocks"].startswith(f"{24 * (8192 - 4736):,} B")
        assert self.of("array-or-file", each=4096)[1]["lost to the ends of blocks"] == "0 B"

    def test_press_and_release(self):
        assert self.of("press-or-release")[0] == "On press it answers after 35 ms at most, on release after 155 ms."
        assert ARGUMENTS["press-or-release"].answer({"looks": "120"})[0] is not None
        assert "fall between two looks" in ARGUMENTS["press-or-release"].answer({"looks": "120.1"})[1][""]

    def test_buses(self):
        """9,472 × 8 / 10 MHz = 7.578 ms; × 30 / 48 MHz = 47.36 ms."""
        assert self.of("hardware-or-software-bus")[0].startswith(
            "In hardware a frame takes 7.578 ms, in software 47.36 ms: 6.25 times"
        )

    def test_opaque_text(self):
        """96 × 24 = 2,304 px, 4,608 B and 11; 22 % are 507 px, 169 runs of 11 B and 1,014 B more."""
        sentence, figures, _ = self.of("opaque-or-transparent")
        assert sentence.startswith(f"Opaque {bytes_words(4619)} in one window; transparent {bytes_words(4619 + 169 * 11 + 1014)}")
        assert figures["of which ink"] == "507"

    def test_orders(self):
        """#ff0000 is 11111 000000 00000, F8 00; as 00F8 it is 0, 7, 24: #001cc5."""
        sentence, figures, _ = self.of("byte-orders", color="#ff0000")
        assert sentence == "0xF800 goes as F8 00 or 00 F8; taken wrongly it is #001cc5."
        assert figures["with red and blue exchanged"] == "#0000ff"
