"""`mosaic convert` and `mosaic decode`: a picture to bytes, and bytes back to a picture."""

import argparse
from pathlib import Path
from typing import Any

from mosaic.cli.common import add_json, add_panel, add_recipe, panel_of, print_json, recipe_of
from mosaic.color.eye import SIGMA_UNKNOWN, eye_sigma_px
from mosaic.conversion.pipeline import Converted, convert, fit_stage, unpack
from mosaic.errors import MosaicError
from mosaic.exports.making import result_of
from mosaic.exports.rasters import encode_png
from mosaic.exports.registry import EXPORTERS, export
from mosaic.exports.result import ExportResult, file_title
from mosaic.forms import from_record, to_record
from mosaic.imports.pictures import read_picture
from mosaic.json_text import read_json
from mosaic.panels.appearance import colors_of
from mosaic.panels.sending import Sending
from mosaic.pixels.compression import COMPRESSIONS


class NotVerifiedError(MosaicError):
    """The virtual panel does not show what was meant."""


def add_commands(commands: Any) -> None:
    parser = commands.add_parser("convert", help="a picture to a panel's packed bytes, in any of several files")
    parser.add_argument("picture", metavar="PICTURE")
    add_panel(parser)
    add_recipe(parser)
    endings = " ".join(f".{e}" for e in EXPORTERS)
    parser.add_argument(
        "--out", action="append", required=True, metavar="FILE", help=f"by its ending: {endings}; may be repeated"
    )
    parser.add_argument("--nominal", action="store_true", help="pictures in the nominal colours, not the measured ones")
    parser.add_argument("--name", help="what arrays and comments call it; made of the file's name if left out")
    parser.add_argument("--sending", metavar="FILE", help="how the program takes arrays, in JSON (sending.schema.json)")
    parser.add_argument("--distance", type=float, metavar="MM", help="how far away it is seen; 1.5 pixels of blur if left out")
    add_json(parser)
    parser.set_defaults(run=run_convert)

    parser = commands.add_parser("decode", help="packed bytes back to a picture")
    parser.add_argument("data", metavar="DATA")
    add_panel(parser)
    parser.add_argument("--out", required=True, metavar="SHOT.png")
    parser.add_argument("--nominal", action="store_true", help="in the nominal colours, not the measured ones")
    parser.add_argument("--compression", choices=tuple(COMPRESSIONS), default="none", help="how the bytes were compressed")
    parser.set_defaults(run=run_decode)


def sending_of(arguments: argparse.Namespace) -> Sending | None:
    """How the program takes arrays, of the file that was named."""
    if not arguments.sending:
        return None
    return to_record(read_json(Path(arguments.sending).read_bytes(), "sending"), Sending, "sending")


def run_convert(arguments: argparse.Namespace) -> None:
    passport, turn = panel_of(arguments)
    recipe = recipe_of(arguments)
    endings = [EXPORTERS[Path(out).suffix[1:].lower()].ending for out in arguments.out]
    source_path = Path(arguments.picture)
    source = read_picture(source_path.read_bytes(), source_path.name)
    sigma_px = eye_sigma_px(passport.glass.pitch_mm, arguments.distance) if arguments.distance else SIGMA_UNKNOWN
    converted = convert(fit_stage(source, recipe, passport, turn), recipe, passport, turn, sigma_px)
    if not converted.proof.verified:
        raise NotVerifiedError(_not_verified(converted))
    sending = sending_of(arguments)
    result = result_of(
        arguments.name or file_title(source_path.name), converted, recipe, turn, sending, nominal=arguments.nominal
    )
    # All files are made before the first is written: either all are there, or none.
    made = [(Path(out), export(result, ending)) for out, ending in zip(arguments.out, endings, strict=True)]
    for path, data in made:
        path.write_bytes(data)
    _report(arguments, result, [str(path) for path, _ in made])


def _not_verified(converted: Converted) -> str:
    proof = converted.proof
    why = f"{proof.wrong_pixels:,} of {proof.pixel_count:,} pixels differ" if proof.wrong_pixels else str(proof.misuse[0])
    return f"not verified: the virtual panel does not show the picture ({why}); check the passport's format and set-up"


def _report(arguments: argparse.Namespace, result: ExportResult, written: list[str]) -> None:
    height, width = result.pixels.shape[:2]
    if arguments.json:
        print_json(
            {"panel": result.passport.slug, "width": width, "height": height, **result.figures,
             "recipe": from_record(result.recipe), "written": written}
        )  # fmt: skip
        return
    f = result.figures
    print(
        f"{width} x {height} pixels, {f['bytes']:,} bytes, perceived error {f['perceived_error']} (sigma {f['eye_sigma_px']} px)"
    )
    print(f"verified: {f['bytes']:,} of {f['bytes']:,} bytes, read back through the virtual panel")
    print(f"wrote {', '.join(written)}")


def run_decode(arguments: argparse.Namespace) -> None:
    passport, turn = panel_of(arguments)
    data = COMPRESSIONS[arguments.compression].expand(Path(arguments.data).read_bytes())
    pixels = unpack(data, passport, turn)
    shown = colors_of(pixels, passport, turn, nominal=arguments.nominal)
    Path(arguments.out).write_bytes(encode_png(shown))
    print(f"wrote {arguments.out}, {pixels.shape[1]} x {pixels.shape[0]} pixels")
