"""Small changes of the core's rules, each of which should turn a test red.

    python -m bench.mutations [--each 6] [--seed 1] [package ...]

For each module of the named packages (all where none is named) some places are chosen by the seed: a comparison at its
boundary, a whole number one more, a decimal a tenth more, a sum for a difference, an "and" for an "or". Each change is
made in a copy, the package's own tests run against it, and what they do not notice is listed. Changes that make no
difference stand in EQUIVALENT, with why.
"""

import argparse
import ast
import compileall
import contextlib
import multiprocessing
import os
import py_compile
import random
import shutil
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
PACKAGES = (
    "findings", "reduce", "pixels", "segments", "links", "device", "virtual", "lettering", "exports", "panels", "wiring",
    "strips", "animation", "color",
)  # fmt: skip
ALSO_TESTED_IN = {
    "findings": ("wiring", "device", "lettering"), "panels": ("wiring", "virtual", "desk"), "links": ("device",),
    "strips": ("lettering",), "exports": ("touch", "imports"), "animation": ("exports",), "reduce": ("conversion",),
    "color": ("reduce",),
}  # fmt: skip
"""Other packages' tests, which are run where a package's own notice nothing."""
SCHEMAS = "tests/test_docs.py::test_published_schemas_are_current"
"""Bounds and defaults of everything that is described stand in the published schemas."""
LONGEST_S = 120
ROUNDING = 1e-5
"""Numbers below it take up what sums in binary leave over; a tenth more or less of that is no rule."""

TURNED = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.And: ast.Or, ast.Or: ast.And, ast.FloorDiv: ast.Mult,
}  # fmt: skip

EQUIVALENT: dict[tuple[str, str], str] = {
    ("pixels/guess.py", "counts = np.full((1024, 2), 0.4)"): "a row more is never asked for; ten neighbours give 1,024",
    ("pixels/indexed.py", "table = np.array([*codes, *[0]"): "what is longer is never asked for",
    ("panels/groups.py", "1,"): "any number above that of the usual ones puts them first",
    (
        "panels/groups.py",
        "return (0, USUAL.index(passport.slug), 0, 0.0)",
    ): "places of the usual ones differ in the second number",
    ("panels/mounting.py", "within = (beyond_x <= radius + TOLERANCE_MM)"): "with a tolerance no edge is met exactly",
    ("panels/mounting.py", "holes.append((round(x, 4)"): "holes are given in hundredths of a mm",
    ("color/eye.py", "padded = np.empty("): "room behind the last pixel is never read",
    ("color/lab.py", "return np.where(t > _EPSILON"): "the two laws meet there",
    ("exports/capture.py", "start += _wire_s(done, link)"): "no time is told without a link",
    ("lettering/c_reader.py", "return character if character.isprintable()"): "delete is not printable",
    ("lettering/characters.py", "Preset("): "delete and what has no character are left out of every span",
    ("lettering/bdf.py", 'f"STARTCHAR U+'): "no line is 0 px high",
    ("lettering/outline.py", "return np.zeros((0, 0)"): "a row or column without ink is cropped",
    ("exports/touch.py", "SHIFT = 24"): "a bit more is as right",
    ("reduce/ordered.py", "order = np.lexsort((np.cos(x).ravel() < 0"): "no cosine of the grid is 0",
    ("reduce/blue_noise.py", "best, row, column = np.int64(-(2**62))"): "a place is always found",
    ("reduce/kernels.py", "middle = len(self.rows[0])"): "all rows of a kernel are as long",
    ("lettering/c_reader.py", 'told = f"(uint32_t)(g) * {packed.sizes[0]}u"'): "said where all are of one size",
    ("lettering/measure.py", "return sum(_advance(opened, c)"): "all faces that come along have letters and figures",
    ("lettering/pcf.py", "is_blank ="): "a bitmap without columns has no rows",
    (
        "lettering/sizing.py",
        "rows = max(1, round(plan.capital_mm",
    ): "two rows are too few as one is, and one step of a pixel face as one is",
    ("lettering/pcf.py", "levels = np.zeros((0, 0)"): "a row or column without ink is cropped",
    ("lettering/sizing.py", "rows = max(1,"): "two rows are too few as one is, and one step of a pixel face as one is",
    ("exports/feed_program.py", "pixels = np.full((height"): "panels take at most six bits of a channel",
    ("exports/feed_program.py", 'return f"    stripes('): "a frame of one colour is of equal bytes",
    ("reduce/task.py", "for c in range(3):"): "a fourth channel is the first of the next pixel, which is laid after it",
    ("findings/paper.py", "asked = usual_ms(DAY_MS"): "a tenth more leads to the same usual interval",
    ("device/bands.py", "near = [count"): "a count that is none of those accepted equals none of them",
    ("lettering/kerning.py", "font = TTFont(io.BytesIO(unpacked("): "the library unfolds web fonts by itself, only later",
    ("lettering/outline.py", "advance = round((slot.advance.x"): "a 64th of a pixel is rounded away",
    ("animation/frames.py", "stated = float("): "a millisecond is as little as none",
    ("color/lab.py", "_STEPS = 4096"): "a table of one step more is as near",
    ("reduce/any_kernel.py", "looked = v[0] + noise"): "noise is as good either way",
    ("reduce/any_kernel.py", "h = (np.uint64(x)"): "noise is as good by other odd numbers",
    ("reduce/any_kernel.py", "h = ((h ^ (h >>"): "noise is as good by other odd numbers",
    ("reduce/diffusion.py", "if len(levels) == 2 and strength == 1"): "the loops for any strength give the same, slower",
    ("findings/pins.py", 'if w.device.link_kind != "uart" or'): "serial links have both lines, others have none of them",
    ("findings/pictures.py", "grey = (encoded"): "light comes back through the curve to just a level by rounding alone",
    ("findings/pictures.py", "drawn = encoded"): "light comes back through the curve to just a level by rounding alone",
    (
        "lettering/outline.py",
        "if strength and slot.format",
    ): "faces of pixels are not drawn there, and growing by 0 changes nothing",
    ("lettering/segment_face.py", "MADE ="): "any date will do that is always the same",
    ("pixels/compression.py", "return written, pieces, -1"): "any place before the first says that nothing broke off",
    ("exports/making.py", '"source_pixels_per_pixel"'): "four decimals are told",
    ("lettering/shades.py", "return np.where(share >= 0.5"): "no level lies just half way",
    ("lettering/source.py", "codes = frozenset(code for code"): "the last code point is no character",
    ("panels/evidence.py", "count = len(passport.palette)"): "pixels that are numbers have a palette",
    ("color/srgb.py", "return np.where(v <="): "the two laws meet there",
    ("findings/schedule.py", "wasted: float = 0.0"): "the rule that looks at it is handed it",
    ("virtual/scan.py", "if begin < end:"): "no bytes change nothing",
    ("findings/pictures.py", "steps = (np.sqrt(toned)"): "full light stays in the last step",
    ("pixels/guess.py", "total = 0.0"): "a bit more of thousands",
    ("exports/raw.py", "return json.dumps("): "indented as well",
    ("reduce/ordered.py", "y, x = (np.mgrid[0:side"): "the order of heights stays",
    ("reduce/polish.py", "half = short // 2"): "lines away from the ends are alike",
    ("wiring/proposal.py", "distance = min("): "where none is chosen all are as near",
    ("findings/values.py", "(d for d in range(value.decimals"): "a step is one of the last decimals at least",
    ("exports/rasters.py", "return encode_png(colors_of"): "any effort of compression gives the same picture",
    ("lettering/measure.py", "line = -(-opened.size.ascender // 64)"): "whole pixels, up to 64 of them; 48 are shown",
}
"""(file, how the line begins): why a change there makes no difference that anybody could see."""


def makes_no_difference(name: str, line: str) -> bool:
    return any(name == f"mosaic/{file}" and line.strip().startswith(begin) for file, begin in EQUIVALENT)


def places(tree: ast.AST) -> Iterator[tuple[ast.AST, str]]:
    """Nodes that can be changed, and the field that holds what is changed. Words, types and decorators are left alone."""
    left_alone: set[int] = set()
    for node in ast.walk(tree):
        parts = [*getattr(node, "decorator_list", ()), getattr(node, "annotation", None), getattr(node, "returns", None)]
        if isinstance(node, ast.FormattedValue):
            parts += [node.format_spec, *(inner for inner in ast.walk(node.value) if isinstance(inner, ast.Slice))]
        if isinstance(node, ast.Call) and "Literal" in ast.dump(node.func):
            parts.append(node)
        if isinstance(node, ast.Call) and getattr(node.func, "attr", "") == "reshape":  # any negative length is the one left open
            parts += [given for given in node.args if isinstance(given, ast.UnaryOp)]
        left_alone |= {id(inner) for part in parts if part is not None for inner in ast.walk(part)}
    for node in ast.walk(tree):
        if id(node) in left_alone:
            continue
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in TURNED:
            yield node, "ops"
        elif isinstance(node, (ast.BinOp, ast.BoolOp)) and type(node.op) in TURNED:
            yield node, "op"
        elif isinstance(node, ast.Constant) and type(node.value) in (int, float) and not 0 < abs(node.value) < ROUNDING:
            yield node, "value"


def change(node: ast.AST, field: str) -> None:
    """Make the change in place."""
    if field == "ops":
        node.ops = [TURNED[type(node.ops[0])]()]
    elif field == "op":
        node.op = TURNED[type(node.op)]()
    else:
        node.value = node.value + 1 if isinstance(node.value, int) else node.value * 1.1 or 1.0


def changes(source: str, count: int, draw: random.Random) -> Iterator[tuple[int, str, str]]:
    """(line, what stood there and what stands there now, the changed source) of some places."""
    total = len(list(places(ast.parse(source))))
    for index in sorted(draw.sample(range(total), min(count, total))):
        tree = ast.parse(source)
        node, field = list(places(tree))[index]
        before = ast.unparse(node)
        change(node, field)
        yield node.lineno, f"{before}  ->  {ast.unparse(node)}", ast.unparse(tree)


def _run(copy: Path, folders: list[str], answer: multiprocessing.Queue) -> None:
    os.chdir(copy)
    sys.path.insert(0, str(copy))
    import pytest

    with open(os.devnull, "w") as nowhere, contextlib.redirect_stdout(nowhere), contextlib.redirect_stderr(nowhere):
        code = pytest.main(["-x", "-q", "-p", "no:randomly", "-p", "no:xdist", "--no-header", *folders])
    answer.put(int(code))


def notices(copy: Path, package: str) -> bool:
    """Whether the package's tests, and examples in its docstrings, turn red, or others that look at it."""
    others = [f"tests/mosaic/{other}" for other in ALSO_TESTED_IN.get(package, ())]
    return _turns_red(copy, [f"tests/mosaic/{package}", f"mosaic/{package}"]) or _turns_red(copy, [*others, SCHEMAS])


def _turns_red(copy: Path, folders: list[str]) -> bool:
    """A run without an end is noticed too."""
    fork = multiprocessing.get_context("fork")
    answer = fork.Queue()
    process = fork.Process(target=_run, args=(copy, folders, answer))
    process.start()
    process.join(LONGEST_S)
    if process.is_alive():
        process.kill()
        return True
    return process.exitcode != 0 or answer.get() != 0


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("packages", nargs="*", choices=[*PACKAGES, []], help="packages of the core")
    parser.add_argument("--each", type=int, default=6, help="changes of each module")
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    # What all runs need is read once, before they part; the core itself is read by each.
    import hypothesis, numba, numpy, PIL.Image, pytest  # noqa: E401, F401, I001

    tried, survived = 0, []
    with tempfile.TemporaryDirectory() as scratch:
        copy = Path(scratch) / "copy"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".git", ".venv", "var", "node_modules", "staticfiles"))
        # Kept compiled, and told from a changed file by its contents: a change is made and taken back within a second.
        compileall.compile_dir(copy, quiet=2, invalidation_mode=py_compile.PycInvalidationMode.CHECKED_HASH)
        os.environ["HYPOTHESIS_STORAGE_DIRECTORY"] = str(Path(scratch) / "examples")
        for package in options.packages or PACKAGES:
            if notices(copy, package):
                sys.exit(f"tests of {package} are red as they are")
            for path in sorted((ROOT / "mosaic" / package).glob("*.py")):
                name, source, draw = str(path.relative_to(ROOT)), path.read_text(), random.Random(f"{options.seed} {path.name}")
                lines = source.splitlines()
                for line, words, changed in changes(source, options.each, draw):
                    if makes_no_difference(name, lines[line - 1]):
                        continue
                    (copy / name).write_text(changed)
                    tried += 1
                    if not notices(copy, package):
                        survived.append(name)
                        print(f"{name}:{line}: {words}", flush=True)
                (copy / name).write_text(source)
            here = sum(name.startswith(f"mosaic/{package}/") for name in survived)
            print(f"{package}: {here} survived, {tried} tried so far", flush=True)
    print(f"{len(survived)} of {tried} changes were not noticed; {len(EQUIVALENT)} are known to make no difference")


if __name__ == "__main__":
    main()
