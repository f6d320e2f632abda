"""Entry point: parses words, calls a command, maps errors to exit status.

Exit status: 0 done, 1 the work cannot be done (one line says why), 2 wrong use.
"""

import argparse
import importlib
import os
import sys
from collections.abc import Sequence

from mosaic import __version__
from mosaic.errors import MosaicError, UnknownNameError

MODULES = {
    "panels": "listings", "methods": "listings", "convert": "convert", "decode": "convert", "timing": "timing",
    "replay": "replay", "letter": "letter", "faces": "letter", "render": "render", "hand-over": "hand_over", "plan": "plan",
}  # fmt: skip
"""Commands, and the module of each: one that is asked for does not wait for the others to be read."""


def parser(command: str = "") -> argparse.ArgumentParser:
    """The words of one command, or of all."""
    top = argparse.ArgumentParser(prog="mosaic", description="Pictures for pixel displays: reduce, pack, prove, time.")
    top.add_argument("--version", action="version", version=__version__)
    commands = top.add_subparsers(dest="command", required=True, metavar="COMMAND")
    wanted = [MODULES[command]] if command in MODULES else dict.fromkeys(MODULES.values())
    for name in wanted:
        importlib.import_module(f"mosaic.cli.{name}").add_commands(commands)
    return top


def main(words: Sequence[str] | None = None) -> int:
    """Run the command with these words; returns the exit status."""
    words = list(sys.argv[1:] if words is None else words)
    if words[:1] == ["render"] and words[1:2] and words[1].endswith(".zip") and "numba" not in sys.modules:
        # One small frame is drawn sooner by plain Python than its kernels are loaded: a timed job starts afresh each time.
        os.environ.setdefault("NUMBA_DISABLE_JIT", "1")
    arguments = parser(words[0] if words else "").parse_args(words)
    try:
        arguments.run(arguments)
    except BrokenPipeError:
        # The reader of our output has gone (as with `| head`); there is nobody left to tell.
        sys.stderr.close()
        return 0
    except (MosaicError, OSError) as error:
        print(f"mosaic: {_one_line(error)}", file=sys.stderr)
        return 1
    return 0


def _one_line(error: Exception) -> str:
    if isinstance(error, OSError) and error.filename:
        return f"{error.filename}: {error.strerror}; give a file that can be read or written"
    text = error.args[0] if isinstance(error, UnknownNameError) else str(error)
    return " ".join(str(text).split())


if __name__ == "__main__":
    sys.exit(main())
