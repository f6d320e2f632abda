"""`mosaic letter`: characters of a font as pixels, with their index. `mosaic faces`: those that come along."""

import argparse
from pathlib import Path
from typing import Any

from mosaic.cli.common import add_json, print_json
from mosaic.errors import BadValueError, MosaicError
from mosaic.lettering.characters import PRESETS
from mosaic.lettering.faces import FACES
from mosaic.lettering.files import WRITERS, written
from mosaic.lettering.making import ALL, Made, Sources, make
from mosaic.lettering.outline import MODES
from mosaic.lettering.packing import ORDERS, Packed, pack
from mosaic.lettering.plan import OWN_FILE, LetteringPlan
from mosaic.lettering.source import font_info, plain_font
from mosaic.numbers import decimal

NO_PITCH = 1.0
"""Sizes are given in pixels here, so that no panel's pitch is needed."""


class MissingGlyphsError(MosaicError):
    """The font lacks characters that are asked for; the text names them."""


def add_commands(commands: Any) -> None:
    parser = commands.add_parser("letter", help="characters of a font as arrays, with their index and a reader")
    parser.add_argument("font", metavar="FONT", help="TTF, OTF, WOFF, WOFF2, BDF or PCF, or the name of a face (mosaic faces)")
    parser.add_argument("--size", type=int, metavar="PX", help="pixels to the em; a pixel font has its own, and whole multiples")
    chars = f"every character of a text, ranges as U+0041-U+005A, {ALL}, or {', '.join(PRESETS)}"
    parser.add_argument("--chars", metavar="TEXT", help=f"{chars}; basic, and of pixel fonts {ALL}, where left out")
    parser.add_argument("--mode", choices=tuple(MODES), default="hinted", help="; ".join(f"{k}: {v}" for k, v in MODES.items()))
    parser.add_argument("--bits", type=int, choices=(1, 2, 4), default=1, help="bits a pixel")
    parser.add_argument("--threshold", type=float, default=0.5, help="share of a pixel that counts as ink, 0 to 1")
    parser.add_argument("--weight", type=float, default=0.0, help="pixels by which stems grow, -2 to 4")
    parser.add_argument("--axis", action="append", default=[], metavar="TAG=VALUE", help="of a variable font, such as wght=600")
    parser.add_argument("--spacing", type=int, default=0, metavar="PX", help="pixels added behind each character")
    parser.add_argument("--no-kerning", action="store_true", help="leave the face's pairs out")
    parser.add_argument("--tabular", action="store_true", help="give all digits the same room")
    parser.add_argument("--box", choices=("cropped", "cell"), default="cropped", help="glyphs cropped, or in cells of one size")
    parser.add_argument(
        "--order",
        choices=tuple(ORDERS),
        default="rows",
        help="where bytes run, and the end of the first pixel",
    )
    parser.add_argument("--runs", action="store_true", help="keep pixels as runs")
    endings = " ".join(f".{e}" for e in WRITERS)
    parser.add_argument(
        "--out", action="append", required=True, metavar="FILE", help=f"by its ending: {endings}; may be repeated"
    )
    add_json(parser)
    parser.set_defaults(run=run)
    faces = commands.add_parser("faces", help="the faces that come along")
    add_json(faces)
    faces.set_defaults(run=run_faces)


def _font(word: str) -> tuple[bytes, str]:
    """(bytes, name) of a file, or of a face that comes along."""
    path = Path(word)
    if not path.exists() and word in FACES:
        return FACES[word].data, FACES[word].name
    return plain_font(path.read_bytes(), path.name), path.name


def _axes(words: list[str]) -> list[dict[str, Any]]:
    found = []
    for word in words:
        tag, _, value = word.partition("=")
        number = decimal(value)
        if number is None:
            raise BadValueError(f"--axis {word}: one is set as wght=600")
        found.append({"tag": tag, "value": number})
    return found


def plan_for(arguments: argparse.Namespace, font: tuple[bytes, str]) -> LetteringPlan:
    """The plan that the words ask for."""
    info = font_info(*font)
    if arguments.size is None and not info.native_px:
        raise BadValueError("--size is missing: a font of outlines needs the pixels to its em, such as --size 16")
    if not 0 < arguments.threshold <= 1:
        raise BadValueError(f"--threshold is {arguments.threshold}; above 0 to 1 is accepted")
    chars = arguments.chars or (ALL if info.native_px else "basic")
    named = chars in PRESETS or chars == ALL
    return LetteringPlan().with_changes(
        face=OWN_FILE, size_px=arguments.size or info.native_px, mode=arguments.mode, bits=arguments.bits,
        threshold=arguments.threshold, weight=arguments.weight, axes=_axes(arguments.axis), spacing=arguments.spacing,
        kerning=not arguments.no_kerning, tabular=arguments.tabular, preset=chars if named else "none",
        more="" if named else chars, box=arguments.box, order=arguments.order, compression="runs" if arguments.runs else "plain",
    )  # fmt: skip


def lettering_of(arguments: argparse.Namespace) -> tuple[Made, Packed]:
    """The lettering that the words ask for, and its bytes."""
    font = _font(arguments.font)
    plan = plan_for(arguments, font)
    made = make(plan, Sources(NO_PITCH, font))
    if made.missing:
        codes = [m.code for m in made.missing]
        shown = ", ".join(f"{chr(code)} (U+{code:04X})" for code in codes[:12])
        more = f" and {len(codes) - 12} more" if len(codes) > 12 else ""
        raise MissingGlyphsError(f"{font[1]} lacks {shown}{more}; leave them out, or take another face")
    return made, pack(made.lettering, plan.box, arguments.order, plan.compression)


def run(arguments: argparse.Namespace) -> None:
    made, packed = lettering_of(arguments)
    files = [(Path(out), written(packed, Path(out).suffix[1:].lower())) for out in arguments.out]
    for path, data in files:
        path.write_bytes(data)
    lettering, names = made.lettering, [str(path) for path, _ in files]
    told = {
        "name": lettering.name, "glyphs": len(lettering.glyphs), "bits": lettering.bits, "ascent": lettering.ascent,
        "descent": lettering.descent, "pixel_bytes": len(packed.pixels), "index_bytes": packed.index_bytes,
        "kerning_bytes": packed.kerning_bytes, "flash_bytes": packed.flash_bytes, "embedding": made.info.permission.words,
        "written": names,
    }  # fmt: skip
    if arguments.json:
        print_json(told)
        return
    print(f"{told['name']}: {told['glyphs']} glyphs, {told['flash_bytes']:,} bytes with their index; {told['embedding']}")
    print(f"wrote {', '.join(names)}")


def run_faces(arguments: argparse.Namespace) -> None:
    infos = [(face, font_info(face.data, face.name)) for face in FACES.values()]
    told = [
        {
            "slug": face.slug, "name": face.name, "about": face.about, "licence": face.licence, "characters": len(info.codes),
            "native_px": info.native_px, "axes": [{"tag": a.tag, "least": a.least, "most": a.most} for a in info.axes],
        }
        for face, info in infos
    ]  # fmt: skip
    if arguments.json:
        print_json(told)
        return
    for one in told:
        print(f"{one['slug']:<16} {one['name']}: {one['about']}; {one['characters']} characters; {one['licence']}")
