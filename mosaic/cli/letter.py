"""`mosaic letter`: characters of a font as pixels, with their index."""

import argparse
from pathlib import Path
from typing import Any

from mosaic.cli.common import add_json, print_json
from mosaic.errors import BadValueError
from mosaic.lettering.bdf import read_bdf
from mosaic.lettering.characters import PRESETS, characters_of
from mosaic.lettering.files import WRITERS, flash_bytes, written
from mosaic.lettering.glyph import Lettering
from mosaic.lettering.outline import MODES, rasterised


def add_commands(commands: Any) -> None:
    parser = commands.add_parser("letter", help="characters of a font as arrays, with their index and a reader")
    parser.add_argument("font", metavar="FONT", help="TTF, OTF, WOFF, WOFF2 or BDF")
    parser.add_argument("--size", type=int, metavar="PX", help="pixels to the em; a BDF has its own")
    parser.add_argument(
        "--chars",
        default="basic",
        metavar="TEXT",
        help=f"every character of a text, ranges as U+0041-U+005A, or {', '.join(PRESETS)}",
    )
    parser.add_argument("--mode", choices=tuple(MODES), default="hinted", help="; ".join(f"{k}: {v}" for k, v in MODES.items()))
    parser.add_argument("--bits", type=int, choices=(1, 2, 4), default=1, help="bits a pixel")
    parser.add_argument("--threshold", type=float, default=0.5, help="share of a pixel that counts as ink, 0 to 1")
    endings = " ".join(f".{e}" for e in WRITERS)
    parser.add_argument(
        "--out", action="append", required=True, metavar="FILE", help=f"by its ending: {endings}; may be repeated"
    )
    add_json(parser)
    parser.set_defaults(run=run)


def lettering_of(arguments: argparse.Namespace) -> Lettering:
    """The lettering that the words ask for."""
    path = Path(arguments.font)
    data, codes = path.read_bytes(), characters_of(arguments.chars)
    if data[:9] == b"STARTFONT":
        whole = read_bdf(data, path.name)
        kept = tuple(glyph for glyph in whole.glyphs if glyph.code in set(codes))
        if not kept:
            raise BadValueError(f"{path.name} has none of the characters asked for")
        return Lettering(whole.name, kept, whole.ascent, whole.descent)
    if arguments.size is None:
        raise BadValueError("--size is missing: a font of outlines needs the pixels to its em, such as --size 16")
    if not 0 < arguments.threshold <= 1:
        raise BadValueError(f"--threshold is {arguments.threshold}; above 0 to 1 is accepted")
    return rasterised(
        data, arguments.size, codes, name=path.name, mode=arguments.mode, bits=arguments.bits, threshold=arguments.threshold
    )


def run(arguments: argparse.Namespace) -> None:
    lettering = lettering_of(arguments)
    made = [(Path(out), written(lettering, Path(out).suffix[1:].lower())) for out in arguments.out]
    for path, data in made:
        path.write_bytes(data)
    told = {
        "name": lettering.name, "glyphs": len(lettering.glyphs), "bits": lettering.bits, "ascent": lettering.ascent,
        "descent": lettering.descent, "flash_bytes": flash_bytes(lettering), "written": [str(path) for path, _ in made],
    }  # fmt: skip
    if arguments.json:
        print_json(told)
        return
    print(f"{told['name']}: {told['glyphs']} glyphs, {told['flash_bytes']:,} bytes with their index")
    print(f"wrote {', '.join(told['written'])}")
