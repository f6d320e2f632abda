"""`mosaic replay`: a wire capture through the virtual panel."""

import argparse
from pathlib import Path
from typing import Any

from mosaic.cli.common import add_json, add_panel, panel_of, print_json
from mosaic.cli.timing import link_of, option_of
from mosaic.conversion.replay import Replay, replay
from mosaic.errors import BadValueError
from mosaic.exports.rasters import encode_png
from mosaic.imports.capture import read_capture
from mosaic.links.kinds import KINDS
from mosaic.panels.appearance import colors_of
from mosaic.virtual.panel import clear_of_holes

MOST_TOLD = 20


def add_commands(commands: Any) -> None:
    parser = commands.add_parser("replay", help="a wire capture through the virtual panel")
    parser.add_argument("capture", metavar="WIRE.csv", help="rows of kind, bytes, time in microseconds")
    add_panel(parser)
    parser.add_argument("--out", metavar="SHOT.png", help="what the glass shows at the end")
    parser.add_argument(
        "--after-set-up", action="store_true", help="the panel was set up as its passport says before the capture"
    )
    parser.add_argument("--link", choices=list(KINDS), help="for the computed times; the panel's first link if left out")
    parser.add_argument("--clock", type=int, metavar="HZ", help="its clock; the usual one if left out")
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE", help="a setting of the link, as for timing")
    add_json(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> None:
    passport, turn = panel_of(arguments)
    if arguments.out and not arguments.out.endswith(".png"):
        raise BadValueError(f"{arguments.out}: what the glass shows is written as .png")
    option = option_of(passport, arguments.link or passport.links[0].kind)
    totals = [f"total_pixels={passport.scan.total_width * passport.scan.total_height}"] if passport.scan else []
    settings = [*(totals if option.kind == "rgb" else []), *arguments.set]
    link = link_of(option.kind, arguments.clock or option.usual_clock_hz, settings)
    capture = read_capture(Path(arguments.capture).read_text(encoding="utf-8", errors="replace"))
    result = replay(capture, passport, turn, link, after_setup=arguments.after_set_up)
    if arguments.out:
        pixels = clear_of_holes(result.shown, passport)
        Path(arguments.out).write_bytes(encode_png(colors_of(pixels, passport, turn)))
    if arguments.json:
        print_json(_plain(result, passport.slug))
        return
    print(f"{result.byte_count:,} bytes, {float(result.computed_s * 1000):,.3f} ms on the wire (computed)")
    if result.captured_s is not None:
        print(f"{float(result.captured_s * 1000):,.3f} ms from the first time to the last (captured)")
        print(f"{float(result.comparable_s * 1000):,.3f} ms of the same stretch (computed)")
    for remark in capture.remarks:
        print(remark)
    told = result.counted
    for said, count in told[:MOST_TOLD]:
        print(f"{said}{f', {count} times in all' if count > 1 else ''}")
    if len(told) > MOST_TOLD:
        print(f"and {len(told) - MOST_TOLD} more kinds")


def _plain(result: Replay, slug: str) -> dict[str, Any]:
    return {
        "panel": slug, "bytes": result.byte_count, "computed_ms": float(result.computed_s * 1000),
        "captured_ms": None if result.captured_s is None else float(result.captured_s * 1000),
        "misuse": [{"line": said.line, "kind": said.misuse.kind, "text": said.misuse.text} for said in result.misuse],
        "stretches": [
            {
                "name": s.name, "first_line": s.first_line, "last_line": s.last_line, "bytes": s.byte_count,
                "computed_ms": float(s.computed_s * 1000),
                "captured_ms": None if s.captured_s is None else float(s.captured_s * 1000),
            }
            for s in result.stretches
        ],
    }  # fmt: skip
