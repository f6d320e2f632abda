"""Animations: frames read, windows sent and shown, bytes and rates told by hand, files read by other tools."""

import csv
import functools
import io
import subprocess
import zipfile
from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from mosaic.animation.files import c_header, figures, index_csv, preview, stands_ms, stream, zip_of
from mosaic.animation.frames import frames_of, numbered_order, read_clip
from mosaic.animation.making import AnimationPlan, MadeAnimation, MadeFrame, make_animation
from mosaic.boards.board import catalogue as boards
from mosaic.errors import BadPictureError, BadValueError
from mosaic.exports.rasters import encode_png
from mosaic.panels.appearance import colors_of
from mosaic.panels.loader import catalogue
from mosaic.panels.windows import Rect
from mosaic.pixels.indexed import unpack_indexed
from mosaic.reduce.recipe import Recipe
from mosaic.refresh.choosing import Purpose, device_for

PURPOSE = Purpose(boards()["low-power"])


def device(slug: str):
    return device_for(catalogue()[slug], PURPOSE)


def frame(at: int, width: int = 128, height: int = 64) -> Image.Image:
    """A grey slope with a white square of 8 x 8 that has come to column `at`."""
    grey = np.tile(np.linspace(60, 180, width).astype(np.uint8), (height, 1))
    grey[24:32, at : at + 8] = 255
    return Image.fromarray(grey).convert("RGB")


def animated(kind: str, places=(0, 8, 16, 16), durations=(100, 40, 40, 200)) -> bytes:
    out = io.BytesIO()
    frames = [frame(at) for at in places]
    # A lossless form in all three, so that frames can be compared.
    more = {"lossless": True} if kind == "WEBP" else {"disposal": 1} if kind == "GIF" else {}
    frames[0].save(out, kind, save_all=True, append_images=frames[1:], duration=list(durations), loop=0, **more)
    return out.getvalue()


class TestFrames:
    @pytest.mark.parametrize("kind", ["GIF", "PNG", "WEBP"])
    def test_every_frame_is_whole(self, kind):
        clip = read_clip([("boat", animated(kind, (0, 8, 16), (100, 40, 200)))])
        assert clip.durations_ms == (100, 40, 200)
        assert (clip.width, clip.height) == (128, 64)
        for at, source in zip((0, 8, 16), frames_of(clip), strict=True):
            assert np.abs(source.rgb.astype(int) - np.asarray(frame(at)).astype(int)).max() <= 3

    def test_the_first_picture_tells_the_size(self):
        pictures = [(f"{n}.png", encode_png(np.zeros((n, 2 * n, 3), np.uint8))) for n in (9, 4, 6)]
        clip = read_clip(pictures)
        assert (clip.width, clip.height, [name for name, _ in clip.files]) == (8, 4, ["4.png", "6.png", "9.png"])

    def test_numbered_pictures_are_put_in_order(self):
        data = [data for _, data in numbered((10, 2, 1))]
        clip = read_clip([(f"boat-{n}.png", d) for n, d in zip((10, 2, 1), data, strict=True)])
        assert [name for name, _ in clip.files] == ["boat-1.png", "boat-2.png", "boat-10.png"]
        assert [d for _, d in clip.files] == data[::-1]
        assert clip.durations_ms == (100, 100, 100)

    @given(st.lists(st.integers(0, 2000), unique=True, max_size=12))
    def test_order_is_that_of_the_numbers(self, numbers):
        names = [f"f{n}.png" for n in numbers]
        assert [numbers[i] for i in numbered_order(names)] == sorted(numbers)

    def test_what_cannot_be_taken_is_told(self):
        out = io.BytesIO()
        frame(0).save(out, "PNG")
        large = encode_png(np.zeros((2000, 4000, 3), np.uint8))
        with pytest.raises(BadValueError, match=r"^51 frames of 4000 x 2000 are 408 million pixels; 400 million are accepted$"):
            read_clip([(f"{n}.png", large) for n in range(51)])
        with pytest.raises(BadValueError, match="holds one frame"):
            read_clip([("still.png", out.getvalue())])
        with pytest.raises(BadPictureError, match="text file"):
            read_clip([("notes.txt", b"the tide turns at six")])
        with pytest.raises(BadPictureError):
            list(frames_of(read_clip([("boat.gif", animated("GIF")[:-400])])))
        many = io.BytesIO()
        dots = [Image.new("L", (2, 2), n % 2 * 255) for n in range(601)]
        dots[0].save(many, "GIF", save_all=True, append_images=dots[1:], duration=20)
        with pytest.raises(BadValueError, match="601 frames; 600 are accepted"):
            read_clip([("long.gif", many.getvalue())])


def numbered(places) -> list[tuple[str, bytes]]:
    files = []
    for number, at in enumerate(places):
        out = io.BytesIO()
        frame(at).save(out, "PNG")
        files.append((f"boat-{number}.png", out.getvalue()))
    return files


SLUGS = [
    "mono-oled-128x64", "two-zone-oled-128x64", "grey-oled-256x64", "tft-128x160-12bit", "tft-240x240-round",
    "epaper-250x122-black-white", "epaper-296x128-four-colour", "epaper-250x122-three-colour",
]  # fmt: skip


class TestMaking:
    CLIP = read_clip(numbered((0, 8, 16, 16)))

    @pytest.mark.parametrize("slug", SLUGS)
    @pytest.mark.parametrize("windows", [True, False])
    def test_every_frame_is_shown_by_the_virtual_panel(self, slug, windows):
        """Frames that are sent as windows leave on the glass what whole frames would; that they do is the work's own check."""
        made = make_animation(self.CLIP, AnimationPlan(windows=windows), device(slug))
        assert len(made.frames) == 4
        assert made.frames[3].window is None
        assert made.frames[3].wire_bytes == 0
        assert made.frames[0].wire_bytes >= len(made.frames[0].packed) == device(slug).passport.frame_bytes

    def test_only_changed_windows_are_sent(self):
        """The square moves by 8 columns in rows 24 to 32: 16 columns of one page are 16 bytes."""
        made = make_animation(self.CLIP, AnimationPlan(recipe=Recipe(method="bayer-8")), device("mono-oled-128x64"))
        second = made.frames[1]
        assert (second.window.y, second.window.height) == (24, 8)
        assert 8 <= second.window.width <= 16
        assert len(second.packed) == second.window.width
        form = device("mono-oled-128x64").passport.format
        assert np.array_equal(unpack_indexed(second.packed, second.window.width, 8, form), second.window.of(second.pixels))

    def test_wire_time_is_told_by_hand(self):
        """I2C at 400 kHz in one transaction a part is what the device's link computes; the rate is that of the slowest frame."""
        made = make_animation(self.CLIP, AnimationPlan(), device("mono-oled-128x64"))
        assert made.slowest_s == pytest.approx(max(float(f.send_s) for f in made.frames[1:]))
        assert made.best_fps == pytest.approx(1 / made.slowest_s)
        paper = make_animation(self.CLIP, AnimationPlan(), device("epaper-250x122-black-white"))
        quickest = min(mode.time_ms for mode in device("epaper-250x122-black-white").passport.refresh)
        assert paper.best_fps < 1000 / quickest
        assert stands_ms(paper)[1] >= quickest

    def test_spread_error_crawls_and_holding_stops_it(self):
        clip = read_clip([("boat.png", animated("PNG", tuple(range(0, 40, 4)), (50,) * 10))])
        shares = {}
        for method in ("floyd-steinberg", "blue-noise"):
            for hold in (True, False):
                plan = AnimationPlan(recipe=Recipe(method=method, scan="raster"), hold=hold)
                shares[method, hold] = make_animation(clip, plan, device("mono-oled-128x64")).crawl_share
        assert shares["blue-noise", False] == 0
        assert shares["floyd-steinberg", False] > 0.01
        assert shares["floyd-steinberg", True] == 0

    @pytest.mark.parametrize(("second", "is_held"), [(102, True), (103, False)])
    def test_what_changes_by_two_steps_is_held(self, second, is_held):
        files = [(f"{n}.png", encode_png(np.full((64, 128, 3), level, np.uint8))) for n, level in enumerate((100, second))]
        plan = AnimationPlan(recipe=Recipe(method="floyd-steinberg"), hold=True)
        made = make_animation(read_clip(files), plan, device("mono-oled-128x64"))
        assert np.array_equal(made.frames[0].pixels, made.frames[1].pixels) is is_held

    def test_a_slow_fade_is_not_held_for_ever(self):
        out = io.BytesIO()
        fades = [Image.new("RGB", (128, 64), (level, level, level)) for level in range(20, 220, 1)]
        fades[0].save(out, "PNG", save_all=True, append_images=fades[1:], duration=20)
        made = make_animation(read_clip([("fade.png", out.getvalue())]), AnimationPlan(), device("mono-oled-128x64"))
        assert made.frames[-1].pixels.mean() > made.frames[0].pixels.mean() + 0.5

    def test_rate_and_leaving_frames_out(self):
        made = make_animation(self.CLIP, AnimationPlan(every=2), device("mono-oled-128x64"))
        assert [f.asked_ms for f in made.frames] == [200, 200]
        made = make_animation(self.CLIP, AnimationPlan(rate_fps=25), device("mono-oled-128x64"))
        assert [f.asked_ms for f in made.frames] == [40] * 4

    def test_it_can_be_stopped(self):
        class StopError(Exception):
            pass

        told = []

        def step(done, total):
            told.append((done, total))
            if done == 2:
                raise StopError

        with pytest.raises(StopError):
            make_animation(self.CLIP, AnimationPlan(), device("mono-oled-128x64"), step)
        assert told == [(0, 4), (1, 4), (2, 4)]


class TestFiles:
    DEVICE = device("mono-oled-128x64")

    @functools.cached_property
    def made(self):
        return make_animation(TestMaking.CLIP, AnimationPlan(), self.DEVICE)

    def test_header_compiles_and_its_table_finds_every_window(self, tmp_path):
        (tmp_path / "p.h").write_bytes(c_header("Boat */ passing", self.made, self.DEVICE))
        (tmp_path / "main.c").write_text(
            '#include <stdio.h>\n#include "p.h"\nint main(void) {\n'
            "    for (unsigned i = 0; i < BOAT_PASSING_FRAMES; i++) {\n"
            "        const struct boat_passing_frame *f = &boat_passing_frames[i];\n"
            '        printf("%u %u %u %u\\n", f->x, f->y, f->width, f->height);\n'
            "        fwrite(boat_passing + f->offset, 1, f->bytes, stderr);\n    }\n    return 0;\n}\n"
        )
        subprocess.run(["gcc", "-std=c99", "-Wall", "-Wextra", "-Werror", "main.c", "-o", "show"], cwd=tmp_path, check=True)
        done = subprocess.run([tmp_path / "show"], capture_output=True, check=True)
        assert done.stderr == stream(self.made)
        boxes = [tuple(int(v) for v in line.split()) for line in done.stdout.decode().splitlines()]
        assert boxes[0] == (0, 0, 128, 64)
        assert boxes[3] == (0, 0, 0, 0)

    def test_preview_is_read_by_a_general_tool(self):
        image = Image.open(io.BytesIO(preview(self.made, self.DEVICE)))
        assert image.info["loop"] == 0  # again and again
        shown = []
        for number in range(image.n_frames):
            image.seek(number)
            shown.append(np.asarray(image.convert("RGB")))
        expected = [colors_of(f.pixels, self.DEVICE.passport, self.DEVICE.turn) for f in self.made.frames]
        # Equal frames may be joined by the file.
        assert len(shown) in (3, 4)
        assert all(np.array_equal(a, b) for a, b in zip(shown, expected, strict=False))

    def test_index_and_figures(self):
        rows = list(csv.DictReader(io.StringIO(index_csv(self.made).decode())))
        assert [int(r["stands_ms"]) for r in rows] == [100] * 4
        assert sum(int(r["bytes"]) for r in rows) == len(stream(self.made))
        told = figures(self.made, self.DEVICE)
        assert (told["frames"], told["whole_bytes"], told["still_frames"]) == (4, 4096, 1)
        assert told["bytes"] < 1200
        assert told["asked_fps"] == 10.0  # four frames of 100 ms
        names = zipfile.ZipFile(io.BytesIO(zip_of("Boat", self.made, self.DEVICE))).namelist()
        assert names == ["boat.h", "boat.bin", "boat.csv", "preview.png", "figures.json"]

    def test_seven_colours_take_whole_frames_only(self):
        whole = device("epaper-800x480-seven-colour")
        clip = replace(TestMaking.CLIP)
        made = make_animation(clip, AnimationPlan(recipe=Recipe(method="threshold"), every=3), whole)
        assert [f.window is None or len(f.packed) == whole.passport.frame_bytes for f in made.frames] == [True] * len(made.frames)


def test_figures_rounded():
    """Three frames; the slowest after the first takes 12.3456 ms on the wire and 1 ms on the panel."""
    sent = [
        MadeFrame(np.zeros(1), Rect(0, 0, 1, 1), bytes(n), n, Fraction(ms) / 1000, asked)
        for n, ms, asked in ((1024, "90", 30), (100, "12.3456", 30), (341, "5", 40))
    ]
    told = figures(MadeAnimation(tuple(sent), 1 / 3, 1.0), device("mono-oled-128x64"))
    assert {key: told[key] for key in ("frames", "bytes", "whole_bytes", "still_frames", "mean_window_share", "slowest_ms", "best_fps", "asked_fps", "crawl_share")} == {
        "frames": 3, "bytes": 1465, "whole_bytes": 3072, "still_frames": 0, "mean_window_share": 0.2153, "slowest_ms": 13.35, "best_fps": 74.93, "asked_fps": 30.0,
        "crawl_share": 0.33333,
    }  # fmt: skip
    still = MadeAnimation(tuple(sent[:1]), 0.0, 0.0)
    assert (still.slowest_s, still.best_fps, figures(still, device("mono-oled-128x64"))["mean_window_share"]) == (0, 0, 1)
