"""`mosaic hand-over`: every file of a build, into a folder; the same bytes for the same build file."""

import argparse
import json
from pathlib import Path
from typing import Any

from mosaic.build_file import MOST_BYTES, read
from mosaic.errors import BadValueError
from mosaic.handover.folder import write_folder
from mosaic.handover.making import hand_over, manifest_file
from mosaic.handover.proof import prove
from mosaic.quantities import how_many


def add_commands(commands: Any) -> None:
    parser = commands.add_parser("hand-over", help="every file of a build, with a program that runs")
    parser.add_argument("file", metavar="BUILD.zip", help="a build file, as it is downloaded from the build sheet")
    parser.add_argument("--out", required=True, metavar="DIR", help="a folder; main.c and board.c in it are never written over")
    parser.add_argument("--force", action="store_true", help="write generated files anew that were changed by hand")
    parser.add_argument("--prove", action="store_true", help="compile the C and run it against the virtual panel")
    parser.add_argument("--json", action="store_true", help="what was written as one JSON object")
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> None:
    path = Path(arguments.file)
    if path.stat().st_size > MOST_BYTES:
        raise BadValueError(f"{path} has {path.stat().st_size >> 20:,} MiB; up to {MOST_BYTES >> 20} are accepted")
    data = path.read_bytes()
    made = hand_over(read(data))
    proof = prove(made) if arguments.prove else None
    plan = write_folder(Path(arguments.out), tuple(made.files), manifest_file(made.manifest(data)), force=arguments.force)
    if arguments.json:
        told: dict[str, Any] = {"new": plan.new, "changed": plan.changed, "same": plan.same, "kept": plan.kept, "gone": plan.gone}
        told["left"] = [{"ref": one.ref, "name": one.name, "why": one.why} for one in made.left]
        if proof is not None:
            told["proof"] = {"compiled": proof.compiled, "right": proof.is_right, "why": proof.why, "states": proof.states}
        print(json.dumps(told))
    else:
        count = how_many(len(made.files), "file")
        print(f"{count}: {len(plan.new)} new, {len(plan.changed)} changed, {len(plan.same)} as they were")
        for kept in plan.kept:
            print(f"{kept} is yours and stays as it is")
        for left in made.left:
            print(f"left out: {left.name}: {left.why}")
        if proof is not None and proof.is_right:
            print(f"compiled; {proof.states} states and {len(proof.runs)} runs are equal on the virtual panel")
    if proof is not None and not proof.is_right:
        wrong = ", ".join(proof.wrong_states[:3]) or ", ".join(run.name for run in proof.runs if not run.is_right)
        raise BadValueError(f"not proved: {proof.why or wrong or 'something differs'}")
