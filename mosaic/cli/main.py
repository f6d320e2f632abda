"""Entry point: parses words, calls a command, maps errors to exit status.

Exit status: 0 done, 1 the work cannot be done (one line says why), 2 wrong use.
"""

import argparse
import sys
from collections.abc import Sequence

from mosaic import __version__
from mosaic.cli import convert, letter, listings, render, replay, timing
from mosaic.errors import MosaicError, UnknownNameError


def parser() -> argparse.ArgumentParser:
    """The command's words."""
    top = argparse.ArgumentParser(prog="mosaic", description="Pictures for pixel displays: reduce, pack, prove, time.")
    top.add_argument("--version", action="version", version=__version__)
    commands = top.add_subparsers(dest="command", required=True, metavar="COMMAND")
    for module in (listings, convert, timing, replay, letter, render):
        module.add_commands(commands)
    return top


def main(words: Sequence[str] | None = None) -> int:
    """Run the command with these words; returns the exit status."""
    arguments = parser().parse_args(words)
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
