"""The command line's contract."""

import json

import numpy as np
import pytest
from PIL import Image

from mosaic.cli.main import main
from mosaic.conversion.program import Setting, transmission
from mosaic.exports.capture import capture_csv
from mosaic.links.i2c import I2cLink
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue, passport_to_plain
from mosaic.panels.sending import Sending
from tests.conftest import gradient, png_of


@pytest.fixture
def picture(tmp_path):
    path = tmp_path / "slip.png"
    path.write_bytes(png_of(gradient(300, 600)))
    return path


def run(capsys, *words) -> tuple[int, str, str]:
    status = main([str(w) for w in words])
    out = capsys.readouterr()
    return status, out.out, out.err


def test_panels_as_json(capsys):
    status, out, _ = run(capsys, "panels", "--json")
    entries = {e["slug"]: e for e in json.loads(out)}
    assert status == 0
    four = entries["epaper-296x128-four-colour"]
    assert (four["width"], four["height"], four["frame_bytes"], four["technology"]) == (296, 128, 9472, "epaper")
    assert four["colors"] == ["#1f1d1e", "#e6e4da", "#b0261e", "#e3b81c"]
    assert four["nominal_colors"][3] == "#ffff00"
    assert four["format"]["planes"] == [{"name": "colour numbers", "codes": [0, 1, 3, 2]}]
    assert (four["native_width"], four["rotation"], four["turned_by"]) == (128, 90, "picture")
    assert entries["tft-240x240-round"]["colors"] == "rgb565"
    assert {"kind", "bits", "along", "first", "follow", "align_bits"} <= four["format"].keys()


def test_listings_in_words(capsys):
    assert "mono-oled-128x64" in run(capsys, "panels")[1]
    assert "strength: a number from 0 to 1" in run(capsys, "methods")[1]
    names = [m["name"] for m in json.loads(run(capsys, "methods", "--json")[1])]
    assert len(names) == 17
    assert {"floyd-steinberg", "atkinson", "blue-noise", "bayer-16", "clustered-dot", "pattern", "local-threshold"} <= set(names)


def test_convert_and_decode_go_there_and_back(capsys, tmp_path, picture):
    outs = [tmp_path / f"slip.{e}" for e in ("bin", "h", "png", "json", "py", "c", "ppm", "bmp", "pgm")]
    words = [w for out in outs for w in ("--out", out)]
    panel = ("--panel", "epaper-296x128-four-colour")
    status, out, _ = run(capsys, "convert", picture, *panel, "--method", "bayer-8", "--set", "strength=0.9", *words, "--json")
    figures = json.loads(out)
    assert status == 0
    assert (figures["bytes"], figures["verified"], figures["recipe"]["strength"]) == (9472, True, 0.9)
    assert sum(figures["shares"].values()) == pytest.approx(1, abs=1e-4)
    assert all(path.stat().st_size for path in outs)
    shot = tmp_path / "shot.png"
    assert run(capsys, "decode", outs[0], *panel, "--out", shot)[0] == 0
    assert np.array_equal(np.asarray(Image.open(shot).convert("RGB")), np.asarray(Image.open(outs[2]).convert("RGB")))


def test_nominal_colours_and_two_level_files(capsys, tmp_path, picture):
    png, pbm = tmp_path / "a.png", tmp_path / "a.pbm"
    run(capsys, "convert", picture, "--panel", "mono-oled-128x64", "--nominal", "--out", png, "--out", pbm)
    colors = {tuple(c) for c in np.asarray(Image.open(png).convert("RGB")).reshape(-1, 3).tolist()}
    assert colors == {(0, 0, 0), (255, 255, 255)}
    assert Image.open(pbm).size == (128, 64)


def test_a_recipe_file_and_a_passport_file(capsys, tmp_path, picture):
    recipe, passport, out = tmp_path / "r.json", tmp_path / "p.json", tmp_path / "a.bin"
    recipe.write_text('{"method": "threshold", "threshold": 90}')
    passport.write_text(json.dumps(passport_to_plain(catalogue()["mono-oled-128x32"])))
    status, said, _ = run(
        capsys, "convert", picture, "--panel", passport, "--recipe", recipe, "--set", "fit=contain", "--out", out
    )
    assert status == 0
    assert "verified: 512 of 512 bytes" in said
    assert out.stat().st_size == 512


@pytest.mark.parametrize("command", ["timing", "replay"])
@pytest.mark.parametrize("kind", ["rgb", "i2c", "uart"])
def test_a_link_that_the_panel_lacks_is_told(capsys, tmp_path, command, kind):
    (tmp_path / "wire.csv").write_text("command,2A\n")
    words = ("timing", "--clock", 1_000_000) if command == "timing" else ("replay", tmp_path / "wire.csv")
    code, _, err = run(capsys, *words, "--panel", "tft-240x240-round", "--link", kind)
    assert code != 0
    assert f"--link {kind}: this panel has no" in err
    assert "--link spi is accepted" in err


def test_a_clock_above_the_panels_limit_is_told(capsys):
    words = ("timing", "--panel", "epaper-296x128-four-colour", "--link", "spi", "--clock")
    assert "is above what this panel allows" not in run(capsys, *words, 20_000_000)[1]
    assert "20000001 Hz is above what this panel allows: up to 20 MHz" in run(capsys, *words, 20_000_001)[1]


def test_timing_gives_the_worked_figures(capsys):
    words = ("timing", "--panel", "mono-oled-128x64", "--link", "i2c", "--clock", 400_000)
    value = json.loads(run(capsys, *words, "--json")[1])
    assert [(s["name"], s["clocks"]) for s in value["steps"]][1] == ("send pixels", 9236)
    assert value["steps"][1]["ms"] == 23.09
    value = json.loads(run(capsys, *words, "--set", "transaction_bytes=32", "--json")[1])
    assert value["steps"][1]["clocks"] == 9896
    assert (
        "32.5 frames a second" in run(capsys, "timing", "--panel", "tft-320x240-touch", "--link", "spi", "--clock", 40_000_000)[1]
    )
    assert (
        "17 s (typical)"
        in run(capsys, "timing", "--panel", "epaper-296x128-four-colour", "--link", "spi", "--clock", 4_000_000)[1]
    )


class TestMistakes:
    """Exit status 1, one line on standard error that says why and what to do; nothing written."""

    @pytest.mark.parametrize(
        ("words", "message"),
        [
            (("--panel", "mono-oled-128x63", "--out", "a.bin"), "near it: mono-oled-128x64"),
            (("--panel", "mono-oled-128x64", "--out", "a.xyz"), "known: h, bin"),
            (("--panel", "mono-oled-128x64", "--out", "a.bin", "--method", "magic"), "known: floyd-steinberg"),
            (("--panel", "mono-oled-128x64", "--out", "a.bin", "--set", "strength"), "NAME=VALUE"),
            (("--panel", "mono-oled-128x64", "--out", "a.bin", "--set", "strength=2"), "strength"),
            (
                ("--panel", "mono-oled-128x64", "--out", "a.bin", "--set", "strength=much"),
                "a number from 0.0 to 1.0|a number from 0 to 1",
            ),
            (("--panel", "mono-oled-128x64", "--out", "a.bin", "--recipe", "none.json"), "none.json"),
            (("--panel", "none.json", "--out", "a.bin"), "can be read"),
            (("--panel", "epaper-296x128-four-colour", "--out", "a.bin", "--out", "a.xbm"), "two colours"),
            (("--panel", "mono-oled-128x64", "--out", "a.bin", "--set", "crop_x=5000"), "600 x 300"),
        ],
    )
    def test_of_convert(self, capsys, tmp_path, monkeypatch, picture, words, message):
        import re

        monkeypatch.chdir(tmp_path)
        status, out, err = run(capsys, "convert", picture, *words)
        assert status == 1
        assert re.search(message, err)
        assert err.count("\n") == 1
        assert not out
        assert [p.name for p in tmp_path.iterdir()] == ["slip.png"]

    def test_of_the_others(self, capsys, tmp_path):
        (tmp_path / "short.bin").write_bytes(b"12")
        words = ("decode", tmp_path / "short.bin", "--panel", "mono-oled-128x64", "--out", tmp_path / "a.png")
        assert run(capsys, *words)[0::2] == (1, "mosaic: 2 bytes given; 128 x 64 in this format takes 1,024\n")
        words = ("timing", "--panel", "mono-oled-128x64", "--link", "i2c", "--clock", 400_000, "--set", "wires=3")
        assert "i2c takes transaction_bytes" in run(capsys, *words)[2]

    @pytest.mark.parametrize("words", [(), ("convert",), ("timing", "--panel", "x", "--link", "usb", "--clock", "1")])
    def test_wrong_use_is_status_2(self, capsys, words):
        with pytest.raises(SystemExit) as stopped:
            main(list(words))
        assert stopped.value.code == 2


def test_an_unverified_picture_is_not_written(capsys, tmp_path, picture):
    plain = passport_to_plain(catalogue()["mono-oled-128x64"])
    plain["sequences"]["setup"] = plain["sequences"]["setup"].replace("c A0 ", "c A1 ")
    path, out = tmp_path / "p.json", tmp_path / "a.bin"
    path.write_text(json.dumps(plain))
    status, _, err = run(capsys, "convert", picture, "--panel", path, "--out", out)
    assert status == 1
    assert "not verified" in err
    assert not out.exists()


def test_a_mirrored_panel_gets_mirrored_bytes(tmp_path, capsys):
    picture = tmp_path / "arrow.png"
    rgb = np.zeros((64, 128, 3), np.uint8)
    rgb[:, :40] = 255
    picture.write_bytes(png_of(rgb))
    words = ("convert", picture, "--panel", "transparent-oled-128x56", "--method", "threshold", "--set", "fit=stretch")
    plain, mirrored = tmp_path / "plain.bin", tmp_path / "mirrored.bin"
    assert run(capsys, *words, "--out", plain)[0] == 0
    assert run(capsys, *words, "--mirrored", "--out", mirrored)[0] == 0
    # One page of bytes is a row of columns: mirrored, the page runs the other way.
    first, second = plain.read_bytes(), mirrored.read_bytes()
    assert first != second
    assert [second[p : p + 128] for p in range(0, 896, 128)] == [first[p : p + 128][::-1] for p in range(0, 896, 128)]


class TestReplay:
    def capture(self, tmp_path, spoil=lambda text: text):
        panel = catalogue()["mono-oled-128x64"]
        pixels = np.zeros((64, 128), np.uint8)
        pixels[8:24, 3:90] = 1
        setting = Setting(panel, Orientation())
        text = capture_csv(transmission(pixels, setting, Sending()), I2cLink(400_000))
        (tmp_path / "wire.csv").write_text(spoil(text))
        return pixels, ["replay", str(tmp_path / "wire.csv"), "--panel", "mono-oled-128x64"]

    def test_the_shot_is_what_was_sent(self, tmp_path, capsys):
        pixels, words = self.capture(tmp_path)
        assert main([*words, "--out", str(tmp_path / "shot.png"), "--json"]) == 0
        told = json.loads(capsys.readouterr().out)
        assert told["misuse"] == []
        # By hand: 7 commands of 29 clocks, 7 of 38, two windows of 47, and 1,024 bytes in 9,236.
        assert told["computed_ms"] == pytest.approx((7 * 29 + 7 * 38 + 2 * 47 + 9236) / 400)
        assert told["captured_ms"] == pytest.approx((7 * 29 + 7 * 38 + 2 * 47) / 400, abs=0.001)  # when the pixels begin
        shot = np.asarray(Image.open(tmp_path / "shot.png").convert("L"))
        assert np.array_equal(shot > 128, pixels == 1)

    def test_misuse_and_damage_by_their_lines(self, tmp_path, capsys):
        _, words = self.capture(tmp_path, lambda text: text.replace("C,21 00 7F", "C,21 7F 00"))
        assert main(words) == 0
        assert "is reversed: it ends before it begins" in capsys.readouterr().out
        _, words = self.capture(tmp_path, lambda text: text.replace("C,AE", "C,AEX"))
        assert main(words) == 1
        told = capsys.readouterr().err
        assert "line 3: 'AEX' is no byte" in told
        assert "Traceback" not in told

    def test_what_cannot_be_done(self, tmp_path, capsys):
        _, words = self.capture(tmp_path)
        assert main([*words, "--out", "shot.jpg"]) == 1
        assert "is written as .png" in capsys.readouterr().err
        assert main(["replay", "nowhere.csv", "--panel", "mono-oled-128x64"]) == 1
