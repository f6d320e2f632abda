"""`mosaic timing`: what a frame costs on the wire, step by step."""

import argparse
from typing import Any

from mosaic.cli.common import add_json, add_panel, panel_of, print_json
from mosaic.errors import BadValueError
from mosaic.links import Link, total_s, wire_steps
from mosaic.links.kinds import KINDS
from mosaic.numbers import whole_of
from mosaic.panels.passport import Passport
from mosaic.panels.supply import LinkOption
from mosaic.panels.wire import frame_parts
from mosaic.quantities import in_words


def add_commands(commands: Any) -> None:
    parser = commands.add_parser("timing", help="time of one frame on a link")
    add_panel(parser)
    parser.add_argument("--link", required=True, choices=list(KINDS))
    parser.add_argument("--clock", required=True, type=int, metavar="HZ")
    parser.add_argument(
        "--set", action="append", default=[], metavar="NAME=VALUE",
        help="; ".join(f"{kind.slug}: {', '.join(kind.settings)}" for kind in KINDS.values() if kind.settings),
    )  # fmt: skip
    add_json(parser)
    parser.set_defaults(run=run)


def link_of(kind: str, clock_hz: int, pairs: list[str]) -> Link:
    """The link with its settings, given as NAME=VALUE.

    Raises
    ------
    BadValueError
        A setting is unknown for this link or no whole number from 0 on.
    """
    settings: dict[str, int] = {}
    for pair in pairs:
        name, _, value = pair.partition("=")
        if name not in KINDS[kind].settings:
            raise BadValueError(f"--set {name!r}: {kind} takes {', '.join(KINDS[kind].settings) or 'no settings'}")
        settings[name] = whole_of(value, f"--set {name}")
    if settings.get("wires", 4) not in (3, 4):
        raise BadValueError(f"--set wires={settings['wires']}: an SPI link has 3 or 4 wires")
    return KINDS[kind].make(clock_hz, **settings)


def option_of(passport: Passport, kind: str) -> LinkOption:
    """The panel's link of a kind.

    Raises
    ------
    BadValueError
        It has none.
    """
    option = passport.link(kind)
    if option.kind != kind:
        own = " or ".join(link.kind for link in passport.links)
        raise BadValueError(f"--link {kind}: this panel has no {KINDS[kind].name}; --link {own} is accepted")
    return option


def over_limit(option: LinkOption, clock_hz: int) -> str:
    """Words on a clock that is above what the panel allows; "" where it is not."""
    if clock_hz <= option.max_clock_hz:
        return ""
    return f"{in_words(clock_hz, 'Hz')} is above what this panel allows: up to {in_words(option.max_clock_hz, 'Hz')}"


def run(arguments: argparse.Namespace) -> None:
    passport, turn = panel_of(arguments)
    option = option_of(passport, arguments.link)
    totals = [f"total_pixels={passport.scan.total_width * passport.scan.total_height}"] if passport.scan else []
    link = link_of(arguments.link, arguments.clock, [*(totals if arguments.link == "rgb" else []), *arguments.set])
    steps = wire_steps(frame_parts(passport, turn, bytes(passport.frame_bytes)), link)
    seconds = total_s(steps)
    mode = passport.refresh[0] if passport.refresh else None
    if arguments.json:
        print_json(
            {
                "panel": passport.slug, "link": arguments.link, "clock_hz": arguments.clock,
                "max_clock_hz": option.max_clock_hz,
                "frame_bytes": passport.frame_bytes,
                "steps": [
                    {"name": s.name, "bytes": s.byte_count, "clocks": s.clocks, "ms": float(s.time_s * 1000)} for s in steps
                ],
                "clocks": sum(s.clocks for s in steps), "ms": float(seconds * 1000), "frames_per_second": float(1 / seconds),
                **({"refresh_ms": mode.time_ms, "refresh_basis": "typical"} if mode else {}),
            }
        )  # fmt: skip
        return
    for step in steps:
        print(f"{step.name:16} {step.byte_count:>9,} B  {step.clocks:>11,} clocks  {float(step.time_s * 1000):10.3f} ms")
    rate = f"at most {float(1 / seconds):.1f} frames a second (computed)"
    print(f"{'in all':16} {'':>11} {'':>18}  {float(seconds * 1000):10.3f} ms, {rate}")
    if over_limit(option, arguments.clock):
        print(over_limit(option, arguments.clock))
    if mode:
        print(f"then the panel refreshes for {mode.time_ms / 1000:g} s (typical)")
