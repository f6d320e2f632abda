"""The core, the C runtime and the plain-Python runtime draw the same bytes: random calls in every format, whole and in bands."""

import ctypes
import random
import subprocess
from pathlib import Path

import numpy as np
import pytest

from mosaic.drawing import shapes
from mosaic.drawing.surface import Surface, byte_layout, new_surface, packed, value_of
from mosaic.firmware import draw as python
from mosaic.lettering.glyph import Glyph, Lettering
from mosaic.panels.geometry import Orientation, to_native, to_seen
from mosaic.panels.loader import catalogue
from mosaic.pixels.formats import DirectFormat, IndexedFormat, Plane

SOURCES = Path(python.__file__).parent
WARNINGS = ["-Wall", "-Wextra", "-Wconversion", "-Werror"]
WIDTH, HEIGHT = 24, 32
SCENES, CALLS = 45, 30


def known_formats() -> dict[str, IndexedFormat | DirectFormat]:
    """Every different form of bytes in the catalogue, and those that no panel of it has yet."""
    one = (Plane("", (0, 1)),)
    found = {
        "columns, lsb": IndexedFormat(1, "row", "lsb", "columns", one), "page columns": IndexedFormat(1, "column", "msb", "columns", one),
        "padded": IndexedFormat(2, "row", "lsb", "rows", (Plane("", (3, 2, 1, 0)),), 32), "12 bits": DirectFormat(12),
    }  # fmt: skip
    for slug, passport in catalogue().items():
        if passport.format not in found.values():
            found[slug] = passport.format
    return found


FORMATS = known_formats()
TURNS = [Orientation(rotation, mirrored) for rotation in (0, 90, 180, 270) for mirrored in (False, True)]


def turn_number(turn: Orientation) -> int:
    """As the runtimes are told it."""
    return (turn.index + 4 if turn.index else 8) if turn.mirrored else turn.index


AREA = ctypes.CFUNCTYPE(None, ctypes.c_void_p, *[ctypes.c_int32] * 4, ctypes.c_uint32)


class CSurface(ctypes.Structure):
    _fields_ = [
        ("buf", ctypes.c_void_p), ("width", ctypes.c_int32), ("rows", ctypes.c_int32), ("top", ctypes.c_int32),
        *((name, ctypes.c_uint8) for name in ("bits", "sx", "sy", "msb", "planes", "colors", "turn")),
        ("seen_width", ctypes.c_int32), ("seen_height", ctypes.c_int32), ("ax", ctypes.c_int32), ("ay", ctypes.c_int32), ("plane_bytes", ctypes.c_int32), ("codes", ctypes.c_char_p),
        ("area", AREA), ("context", ctypes.c_void_p), *((name, ctypes.c_int32) for name in ("clip_x", "clip_y", "clip_right", "clip_bottom", "shift_x", "shift_y")),
    ]  # fmt: skip


class CLetter(ctypes.Structure):
    _fields_ = [
        ("code", ctypes.c_uint32), ("at", ctypes.c_uint32),
        *((name, ctypes.c_int16) for name in ("w", "h", "left", "top", "advance")),
    ]  # fmt: skip


class CKern(ctypes.Structure):
    _fields_ = [("first", ctypes.c_uint32), ("second", ctypes.c_uint32), ("by", ctypes.c_int16)]


class CFont(ctypes.Structure):
    _fields_ = [
        ("letters", ctypes.POINTER(CLetter)), ("pixels", ctypes.c_char_p), ("kerns", ctypes.POINTER(CKern)),
        *((name, ctypes.c_int32) for name in ("count", "kern_count", "bits")),
    ]  # fmt: skip


LETTERS = "Aé°…🛶"
FONTS = {}


def made_up_font(bits: int):
    """(a lettering, the same for Python, the same for C): letters of one to four bytes in UTF-8."""
    if bits not in FONTS:
        dice = np.random.default_rng(bits)
        glyphs, letters, pixels = [], {}, b""
        for number, character in enumerate(sorted(LETTERS)):
            w, h = 3 + number, 7 - number
            levels = dice.integers(0, 1 << bits, (h, w)).astype(np.uint8)
            glyph = Glyph(ord(character), levels, number - 1, 5 - number, w + 1 - number % 2)
            glyphs.append(glyph)
            letters[glyph.code] = (len(pixels), w, h, glyph.left, glyph.top, glyph.advance)
            pixels += bytes(packed_levels(levels, bits))
        kerns = {(ord("A"), ord("é")): -2, (ord("°"), ord("A")): 3}
        rows = (CLetter * len(letters))(*(CLetter(code, *rest) for code, rest in letters.items()))
        pairs = (CKern * 2)(*(CKern(*pair, by) for pair, by in kerns.items()))
        c = CFont(rows, pixels, pairs, len(rows), len(pairs), bits)
        FONTS[bits] = Lettering("Slip", tuple(glyphs), 6, 2, bits, kerns), (bits, letters, pixels, kerns), c
    return FONTS[bits]


def packed_levels(levels, bits: int) -> list[int]:
    single = np.unpackbits(levels[..., None], axis=2)[..., -bits:].reshape(levels.shape[0], -1)
    return np.packbits(single, axis=1).ravel().tolist()


@pytest.fixture(scope="session")
def library(tmp_path_factory):
    """The C runtime as a library, compiled without a warning."""
    out = tmp_path_factory.mktemp("runtime") / "draw.so"
    words = ["gcc", "-std=c99", "-O1", "-shared", "-fPIC", *WARNINGS, str(SOURCES / "draw.c"), "-o", str(out)]
    subprocess.run(words, check=True)
    return ctypes.CDLL(str(out))


def random_call(dice: random.Random, colors: int):
    """(name, numbers and lists) of a call, its colour among them as the number of one of `colors`."""
    c = dice.randrange(colors)
    x, y, w, h = dice.randint(-20, 32), dice.randint(-20, 45), dice.randint(0, 45), dice.randint(0, 40)
    name = dice.choice(
        ("fill", "frame", "ellipse", "ellipse_outline", "rounded", "rounded_outline", "line", "disc", "ring", "polygon",
         "pattern", "picture", "stencil", "sector", "glyph", "turned", "text", "values")
    )  # fmt: skip
    points = [(dice.randint(-15, 40), dice.randint(-15, 45)) for _ in range(dice.randint(3, 9))]
    match name:
        case "fill" | "ellipse" | "ellipse_outline":
            return name, (x, y, w, h, c)
        case "frame" | "rounded" | "rounded_outline":
            return name, (x, y, w, h, dice.randint(0, 12), c)
        case "line":
            return name, (x, y, x + dice.randint(-30, 30), y + dice.randint(-30, 30), dice.choice((0, 1, 1, 2, 3, 6)), c)
        case "polygon":
            return name, (points, c)
        case "disc":
            return name, (x, y, dice.randint(0, 20), c)
        case "ring":
            return name, (x, y, dice.randint(0, 20), dice.randint(0, 8), c)
        case "sector":
            return name, (x, y, dice.randint(0, 20), dice.randint(0, 22), dice.randint(-400, 400), dice.randint(-10, 380), c)
        case "glyph":
            bits = dice.choice((1, 2, 4))
            levels = np.array([dice.randrange(1 << bits) for _ in range(7 * 9)], np.uint8).reshape(7, 9)
            return name, (x, y, levels, bits, [None, *(dice.randrange(colors) for _ in range((1 << bits) - 1))])
        case "text":
            bits = dice.choice((1, 2, 4))
            words = "".join(dice.choice(LETTERS + "?") for _ in range(dice.randint(0, 6)))
            return name, (x, y, words, bits, [None, *(dice.randrange(colors) for _ in range((1 << bits) - 1))])
        case "values":
            masked = dice.random() < 0.5
            drawn = [dice.randrange(colors) if not masked or dice.random() < 0.6 else -1 for _ in range(10 * 5)]
            return name, (x, y, np.array(drawn, np.int32).reshape(5, 10), masked)
        case "turned":
            table = [dice.choice((None, dice.randrange(colors))) for _ in range(4)]
            pixels = np.array([dice.randrange(4) for _ in range(9 * 7)], np.uint8).reshape(7, 9)
            turn = dice.choice((dice.randint(-400, 400), 30 * dice.randint(-13, 13)))
            return name, (x, y, turn, dice.randint(-3, 12), dice.randint(-3, 9), pixels, table)
        case "pattern":
            size = dice.randint(1, 8), dice.randint(1, 8)
            tile = np.array([dice.random() < 0.5 for _ in range(size[0] * size[1])]).reshape(size)
            return name, (x, y, w, h, tile, c, dice.choice((None, dice.randrange(colors))))
        case "picture":
            table = [dice.choice((None, dice.randrange(colors))) for _ in range(4)]
            return name, (x, y, np.array([dice.randrange(4) for _ in range(9 * 7)], np.uint8).reshape(7, 9), table)
    return name, (x, y, np.array([dice.random() < 0.4 for _ in range(11 * 6)]).reshape(6, 11), c)


def by_core(s: Surface, name: str, given: tuple, color_of) -> None:
    *first, last = given
    if name.endswith("_outline"):
        getattr(shapes, name.removesuffix("_outline"))(s, *first, color_of(last), outlined=True)
    elif name == "pattern":
        shapes.pattern(s, *given[:5], color_of(given[5]), None if last is None else color_of(last))
    elif name == "values":
        x, y, numbers, _ = given
        shapes.values(s, x, y, np.array([-1 if c < 0 else color_of(c) for c in numbers.flat], np.int32).reshape(numbers.shape))
    elif name == "text":
        x, y, words, bits, table = given
        shapes.text(s, x, y, words, made_up_font(bits)[0], [None if c is None else color_of(c) for c in table])
    elif name in ("picture", "glyph", "turned"):
        getattr(shapes, name)(s, *first, [None if c is None else color_of(c) for c in last])
    else:
        getattr(shapes, name)(s, *first, color_of(last))


def plain(name: str, given: tuple, value_of_color) -> tuple:
    """What both runtimes are given."""
    if name == "polygon":
        return [v for point in given[0] for v in point], *given[1:-1], value_of_color(given[-1])
    if name == "pattern":
        tile = given[4]
        rows = np.packbits(np.pad(tile, ((0, 0), (0, 8 - tile.shape[1]))), axis=1)[:, 0].tolist()
        return *given[:4], rows, tile.shape[1], value_of_color(given[5]), -1 if given[6] is None else value_of_color(given[6])
    if name == "picture":
        x, y, pixels, table = given
        values = [-1 if c is None else value_of_color(c) for c in table]
        return x, y, pixels.shape[1], pixels.shape[0], pixels.ravel().tolist(), values
    if name == "glyph":
        x, y, levels, bits, table = given
        values = [-1 if c is None else value_of_color(c) for c in table]
        return x, y, levels.shape[1], levels.shape[0], packed_levels(levels, bits), bits, values
    if name == "values":
        x, y, numbers, masked = given
        data = b"".join(value_of_color(max(0, c)).to_bytes(3, "big") for c in numbers.flat)
        mask = np.packbits(numbers >= 0, axis=1).ravel().tolist() if masked else []
        return x, y, numbers.shape[1], numbers.shape[0], list(data), 3, mask
    if name == "turned":
        *first, pixels, table = given
        values = [-1 if c is None else value_of_color(c) for c in table]
        return *first, pixels.shape[1], pixels.shape[0], pixels.ravel().tolist(), values
    if name == "text":
        *first, bits, table = given
        return *first, made_up_font(bits)[1], [-1 if c is None else value_of_color(c) for c in table]
    if name == "stencil":
        x, y, ink, c = given
        return x, y, ink.shape[1], ink.shape[0], np.packbits(ink, axis=1).ravel().tolist(), value_of_color(c)
    return *given[:-1], value_of_color(given[-1])


def for_c(name: str, given: tuple) -> list:
    """The same as C takes it."""
    told: list = []
    for number, value in enumerate(given):
        if isinstance(value, str):
            told.append(ctypes.c_char_p(value.encode()))
            continue
        if isinstance(value, tuple):
            told.append(ctypes.byref(made_up_font(value[0])[2]))
            continue
        if name == "values" and value == []:
            told.append(None)
            continue
        if not isinstance(value, list):
            told.append(ctypes.c_int32(value) if value < 2**31 else ctypes.c_uint32(value))
            continue
        kind = (
            ctypes.c_int16
            if name == "polygon"
            else ctypes.c_int32
            if number == len(given) - 1 and name not in ("pattern", "stencil", "values")
            else ctypes.c_uint8
        )
        told.append((kind * len(value))(*value))
        if name == "polygon":
            told.append(ctypes.c_int32(len(value) // 2))
    if name == "pattern":  # C is told the rows of the tile, too
        told.insert(6, ctypes.c_int32(len(given[4])))
    return told


@pytest.mark.parametrize("key", FORMATS)
def test_core_c_and_python_are_equal_byte_for_byte(library, key):
    fmt = FORMATS[key]
    dice = random.Random(key)
    direct = isinstance(fmt, DirectFormat)
    palette = [dice.randrange(1 << 24) for _ in range(8)] if direct else list(range(fmt.colors))
    values = [value_of(color, fmt) for color in palette]
    for scene in range(SCENES):
        calls = [random_call(dice, len(palette)) for _ in range(CALLS)]
        turn = TURNS[scene % len(TURNS)] if scene % 3 == 0 else Orientation()
        wide, high = (HEIGHT, WIDTH) if turn.index % 2 else (WIDTH, HEIGHT)  # as the reader sees it
        heights = (HEIGHT, 16, 8, 16, 8, *((1,) if direct or fmt.along == "row" else ()))
        height = heights[scene % len(heights)]
        whole = new_surface(wide, high, color=palette[0])
        for name, given in calls:
            by_core(whole, name, given, palette.__getitem__)
        lying = to_native(whole.values, turn)
        flat = [plain(name, given, values.__getitem__) for name, given in calls]
        told_c = [for_c(name, numbers) for (name, _), numbers in zip(calls, flat, strict=True)]
        for top in range(0, HEIGHT, height):
            band = new_surface(WIDTH, height, top=top, color=palette[0])
            lay = byte_layout(fmt, WIDTH, height)
            blank = packed(band, fmt)
            mine, other = bytearray(blank), (ctypes.c_uint8 * len(blank)).from_buffer_copy(blank)
            told = python.surface(
                mine, WIDTH, height, top, lay.bits, lay.sx, lay.sy, lay.ax, lay.ay, lay.msb, lay.codes, lay.plane_bytes,
                turn_number(turn), wide, high,
            )  # fmt: skip
            codes = bytes(code for plane in lay.codes for code in plane)
            c = CSurface(
                ctypes.addressof(other), WIDTH, height, top, lay.bits, lay.sx, lay.sy, lay.msb, len(lay.codes),
                len(lay.codes[0]) if lay.codes else 0, turn_number(turn), wide, high, lay.ax, lay.ay, lay.plane_bytes, codes,
            )  # fmt: skip
            for number, (name, given) in enumerate(calls):
                if turn == Orientation():
                    by_core(band, name, given, palette.__getitem__)
                getattr(python, name)(told, *flat[number])
                getattr(library, f"draw_{name}")(ctypes.byref(c), *told_c[number])
            if turn == Orientation():
                assert (band.values == whole.values[top : top + height]).all(), (scene, top)
            meant = packed(Surface(np.ascontiguousarray(lying[top : top + height]), top), fmt)
            assert bytes(mine) == meant, ("Python", scene, top, turn)
            assert bytes(other) == meant, ("C", scene, top, turn)


@pytest.mark.parametrize("seed", range(16))
def test_without_a_buffer_windows_and_runs_give_the_same_frame(library, seed):
    """Each box of one colour is a window on the panel: both runtimes send the same, and what is sent is the core's frame.

    Every second time the picture is shifted; what was on the glass is there then, so much further on.
    """
    dice = random.Random(seed)
    right, down = (seed % 5, seed % 7) if seed % 2 else (0, 0)
    palette = list(range(6))
    calls = [random_call(dice, len(palette)) for _ in range(CALLS)]
    turn = TURNS[seed % len(TURNS)]
    wide, high = (HEIGHT, WIDTH) if turn.index % 2 else (WIDTH, HEIGHT)
    whole = new_surface(wide, high)
    sent: dict[str, list[tuple[int, ...]]] = {"Python": [], "C": []}
    told = python.direct(lambda *box: sent["Python"].append(box), WIDTH, HEIGHT, turn_number(turn), wide, high)
    take = AREA(lambda context, *box: sent["C"].append(box))
    c = CSurface(None, WIDTH, HEIGHT, 0, 0, 0, 0, 0, 0, 0, turn_number(turn), wide, high, 0, 0, 0, None, take, None)
    told[python.SHIFT_X], told[python.SHIFT_Y], c.shift_x, c.shift_y = right, down, right, down
    for name, given in calls:
        by_core(whole, name, given, palette.__getitem__)
        flat = plain(name, given, palette.__getitem__)
        getattr(python, name)(told, *flat)
        getattr(library, f"draw_{name}")(ctypes.byref(c), *for_c(name, flat))
    frame = np.zeros((HEIGHT, WIDTH), np.int32)
    for x, y, w, h, color in sent["Python"]:
        assert 0 <= x < x + w <= WIDTH
        assert 0 <= y < y + h <= HEIGHT
        frame[y : y + h, x : x + w] = color
    assert sent["C"] == sent["Python"]
    shown = to_seen(frame, turn)
    assert (shown[down:, right:] == whole.values[: high - down, : wide - right]).all()


def test_a_filled_box_is_one_window_and_a_row_of_a_glyph_as_few_as_its_runs():
    sent = []
    s = python.direct(lambda *box: sent.append(box), 20, 20)
    python.fill(s, -3, 2, 10, 30, 5)
    python.stencil(s, 1, 1, 8, 1, [0b11101101], 3)
    assert sent == [(0, 2, 7, 18, 5), (1, 1, 3, 1, 3), (5, 1, 2, 1, 3), (8, 1, 1, 1, 3)]


def test_more_than_twenty_thousand_calls_are_compared():
    assert len(FORMATS) * SCENES * CALLS >= 20_000


def test_the_runtime_is_c_plus_plus_too_and_needs_little_stack(tmp_path):
    source = str(SOURCES / "draw.c")
    subprocess.run(["g++", "-x", "c++", *WARNINGS, "-c", source, "-o", str(tmp_path / "cpp.o")], check=True)
    subprocess.run(["gcc", "-std=c99", "-Os", "-fstack-usage", "-c", source, "-o", str(tmp_path / "c.o")], check=True)
    told = [line.split("\t") for line in (tmp_path / "c.su").read_text().splitlines()]
    used = {place.rpartition(":")[2]: int(size) for place, size, _ in told}
    # The deepest chains: what gathers runs, and everything else, which ends in a run of dots.
    run = used.get("spread", 0) + used.get("draw_run", 0) + used["draw_dot"]
    gathering = ("draw_glyph", "draw_pattern", "draw_picture", "draw_stencil")
    assert max(used[name] for name in gathering) + run <= 256
    run -= used.get("spread", 0)
    assert max(size for name, size in used.items() if name not in gathering) + run <= 256


def test_the_runtime_names_no_floating_point_no_heap_and_calls_itself_nowhere():
    text = (SOURCES / "draw.c").read_text() + (SOURCES / "draw.h").read_text()
    for word in ("float", "double", "malloc", "free("):
        assert word not in text.replace("no floating point", "")
    assert "import" not in (SOURCES / "draw.py").read_text()


WRONG = {
    # In each renderer the same kind of slip: one pixel, one row or one degree off.
    "C": ("draw.c", "const int32_t right = least(x + w, row_width(s))", "const int32_t right = least(x + w - 1, row_width(s))"),
    "C, rounding": ("draw.c", "    a += 8192;", "    a += 8191;"),
    "Python": ("draw.py", "v, fine = 2 * row + 1 - h", "v, fine = 2 * row - h"),
    "Python, clipping": ("draw.py", "min(x + w, row_width(s)), min(y + h, end_row(s))", "min(x + w, row_width(s)), min(y + h, end_row(s) - 1)"),
}  # fmt: skip


@pytest.mark.parametrize("which", WRONG)
def test_one_pixel_off_in_a_runtime_is_found(which, library, tmp_path, monkeypatch):
    file, right, wrong = WRONG[which]
    text = (SOURCES / file).read_text()
    assert text.count(right) == 1
    if file == "draw.py":
        slipped: dict = {}
        exec(text.replace(right, wrong), slipped)
        for name in ("fill", "inset"):
            monkeypatch.setattr(python, name, slipped[name])
    else:
        (tmp_path / "draw.c").write_text(text.replace(right, wrong))
        out = tmp_path / "draw.so"
        words = ["gcc", "-std=c99", "-O1", "-shared", "-fPIC", "-I", str(SOURCES), str(tmp_path / "draw.c"), "-o", str(out)]
        subprocess.run(words, check=True)
        library = ctypes.CDLL(str(out))
    with pytest.raises(AssertionError, match="C" if file == "draw.c" else "Python"):
        test_core_c_and_python_are_equal_byte_for_byte(library, "columns, lsb")


def test_one_pixel_off_in_the_core_is_found(library, monkeypatch):
    monkeypatch.setattr(shapes, "direction", lambda degrees, real=shapes.direction: real(degrees + 1))
    with pytest.raises(AssertionError):
        test_core_c_and_python_are_equal_byte_for_byte(library, "columns, lsb")
