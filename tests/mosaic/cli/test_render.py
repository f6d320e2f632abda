"""`mosaic render` as a process of its own and in one process: screens, drawings and pages, for given values."""

import io
import json
import subprocess
import sys
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image

from mosaic.cli.main import main
from mosaic.errors import BadDescriptionError, BadPictureError
from mosaic.hosted.page import filled
from mosaic.hosted.rendering import check_text, rendered_text
from mosaic.imports.pictures import read_picture
from mosaic.panels.appearance import colors_of
from mosaic.screens import bundle
from mosaic.screens.rendering import render
from mosaic.values.states import State
from mosaic.values.value import Value
from tests.mosaic.screens.living import DESIGN, living
from tests.mosaic.screens.made_up import all_kinds, device, kit_of

DEV = device("epaper-296x128-four-colour", 90)
KIT = kit_of(DEV, DESIGN, bits=2)
SCREENS = {"Tide": living("black", "red"), "All": all_kinds(DEV)}


@pytest.fixture(scope="module")
def file(tmp_path_factory):
    path = tmp_path_factory.mktemp("screens") / "tide.zip"
    path.write_bytes(bundle.written(SCREENS, DEV, KIT))
    return path


def test_a_file_of_screens_reads_back_to_the_same_pixels(file):
    screens, dev, kit = bundle.read(file.read_bytes())
    assert screens == SCREENS
    for screen in SCREENS.values():
        assert np.array_equal(render(screen, dev, kit).pixels, render(screen, DEV, KIT).pixels)
    assert bundle.written(SCREENS, DEV, KIT) == file.read_bytes()


def test_as_a_process_of_its_own_for_given_values(file, tmp_path):
    (tmp_path / "v.json").write_text(
        json.dumps({"tide": 6.8, "LAMP": True, "now": "23:59", "angle": None, "boat": "Otter", "stale": ["tide"]})
    )
    outs = [str(tmp_path / name) for name in ("frame.bin", "frame.png", "frame.h")]
    words = [
        sys.executable,
        "-m",
        "mosaic.cli.main",
        "render",
        str(file),
        "--screen",
        "Tide",
        "--values",
        str(tmp_path / "v.json"),
    ]
    subprocess.run([*words, *(word for out in outs for word in ("--out", out))], check=True)
    state = State(readings={"v1": 680, "v2": 86_340, "v4": 1, "v5": "Otter", "v6": None}, stale=frozenset({"v1"}))
    meant = render(SCREENS["Tide"], DEV, replace(KIT, state=state))
    assert (tmp_path / "frame.bin").read_bytes() == meant.packed
    shown = np.asarray(Image.open(tmp_path / "frame.png").convert("RGB"))
    assert np.array_equal(shown, colors_of(meant.pixels, DEV.passport, DEV.turn))
    numbers = [int(word, 16) for word in (tmp_path / "frame.h").read_text().replace(",", " ").split() if word.startswith("0x")]
    assert bytes(numbers) == meant.packed


@pytest.mark.parametrize(("values", "words"), [
    ({"rain": 3}, "there is no value called rain"), ({"tide": "high"}, "a number such as 7.5 is accepted"), ([1], "is no object"), ("{", "is no JSON"),
])  # fmt: skip
def test_values_that_cannot_be_are_told_in_one_line(file, tmp_path, capsys, values, words):
    (tmp_path / "v.json").write_text(values if isinstance(values, str) else json.dumps(values))
    assert main(["render", str(file), "--values", str(tmp_path / "v.json"), "--out", str(tmp_path / "a.png")]) == 1
    told = capsys.readouterr().err
    assert words in told
    assert told.count("\n") == 1


@pytest.mark.parametrize(("words", "told"), [
    (["--screen", "Boat"], "there is no screen called Boat"), (["--out", "x.jpg"], "ends in none of"), (["FILE"], "no file of screens"),
])  # fmt: skip
def test_wrong_words(file, tmp_path, capsys, words, told):
    broken = tmp_path / "broken.zip"
    broken.write_bytes(b"PK nothing")
    given = [str(broken)] if words == ["FILE"] else [str(file), *words]
    assert main(["render", *given, "--out", str(tmp_path / "a.png")]) == 1
    assert told in capsys.readouterr().err


def test_a_later_form_is_refused(file):
    import io
    import zipfile

    plain = json.loads(zipfile.ZipFile(file).read("screens.json"))
    for change, words in (
        ({"form": 2}, "of another version"),
        ({"letterings": {"a": {}}}, "damaged"),
        ({"screens": {"x": {"elements": 3}}}, "elements"),
    ):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as archive:
            archive.writestr("screens.json", json.dumps(plain | change))
        with pytest.raises(BadDescriptionError, match=words):
            bundle.read(out.getvalue())


SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 50"><rect width="100" height="50" fill="white"/><text x="4" y="30" font-size="20">{}</text></svg>'
PAGE = "<style>p {{ margin: 4px; font-size: 20px }}</style><p>{}</p>"


@pytest.mark.parametrize(("kind", "text"), [("drawing", SVG), ("page", PAGE)])
def test_letters_are_set_in_the_faces_that_come_along(kind, text):
    def inked(words):
        return int((rendered_text(kind, text.format(words), 100, 50).rgb < 128).sum())

    assert inked("") == 0
    assert 0 < inked("I") < inked("M") < inked("MM")


def test_broken_pictures_are_refused_behind_a_page_too():
    """A page and a picture are read in the same process apart; what one library sets must not loosen the other."""
    out = io.BytesIO()
    Image.linear_gradient("L").save(out, "JPEG")
    for _ in range(3):
        rendered_text("page", PAGE.format("Ebb"), 20, 20)
        with pytest.raises(BadPictureError, match="breaks off before its end"):
            read_picture(out.getvalue()[: len(out.getvalue()) // 2], "slip.jpg")


@pytest.mark.parametrize(("name", "text"), [("tide.svg", SVG), ("tide.html", PAGE)])
def test_a_drawing_and_a_page_become_frames_of_a_panel(file, tmp_path, name, text):
    (tmp_path / name).write_text(text.format("{tide:.1}"))
    for number, tide in enumerate((1.1, 6.8)):
        (tmp_path / "v.json").write_text(json.dumps({"tide": tide}))
        words = [
            "render",
            str(tmp_path / name),
            "--described",
            str(file),
            "--values",
            str(tmp_path / "v.json"),
            "--method",
            "threshold",
        ]
        assert main([*words, "--out", str(tmp_path / f"{number}.png")]) == 0
    first, second = (np.asarray(Image.open(tmp_path / f"{number}.png").convert("RGB")) for number in (0, 1))
    assert first.shape == (*DEV.size[::-1], 3)
    assert not np.array_equal(first, second)
    assert main(["render", str(tmp_path / name), "--panel", "mono-oled-128x64", "--out", str(tmp_path / "a.bin")]) == 0
    assert len((tmp_path / "a.bin").read_bytes()) == 1024


def test_readings_are_letters_and_never_markup():
    boat = Value("v1", "boat", "text", most_bytes=40)
    shown = filled("<p>{boat}</p> p { color: red }", {"boat": boat}, State(readings={"v1": "<b>&\"'"}))
    assert shown == "<p>&lt;b&gt;&amp;&quot;&#x27;</p> p { color: red }"


@pytest.mark.parametrize(("kind", "text", "words"), [
    ("page", "<script>1</script>", "scripts are not run"), ("page", "<img src='/etc/passwd'>", "nothing is fetched"), ("page", "<link href=//a.example/x.css>", "nothing is fetched"),
    ("page", "<style>@import 'x.css'; p { background: url(file:///etc/passwd) }</style>", "nothing is fetched"), ("page", "<div>" * 300, "nests more than 200"),
    ("page", "<iframe></iframe>", "nothing is fetched"), ("drawing", "<svg", "not well-formed"), ("drawing", SVG.format("<image href='http://a.example/x.png'/>"), "refers to"),
    ("drawing", "<!DOCTYPE s [<!ENTITY a 'b'>]>" + SVG.format("&a;"), "entities"), ("drawing", "<svg xmlns='http://www.w3.org/2000/svg'>" + "<g>" * 200 + "</g>" * 200 + "</svg>", "nests more than 128"),
])  # fmt: skip
def test_what_wants_something_from_outside_is_refused(kind, text, words):
    with pytest.raises(BadPictureError, match=words):
        check_text(kind, text)
