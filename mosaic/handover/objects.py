"""Compiled files, kept while the process lives: the runtime's sources are the same from one hand-over to the next."""

import hashlib
import re
from collections import OrderedDict
from collections.abc import Callable, Sequence
from pathlib import Path

KEPT = 64
LARGEST_BYTES = 256 * 1024
"""At most so many objects of so many bytes each: 16 MiB in all, some 1 MiB in practice."""
INCLUDED = re.compile(rb'^[ \t]*#[ \t]*include[ \t]+"([^"]+)"', re.M)

_kept: OrderedDict[bytes, bytes] = OrderedDict()


def key_of(words: Sequence[str], source: str, folder: Path, looked_in: Sequence[str] = ("src", "pc")) -> bytes:
    """What an object follows from: the compiler's words, the source, and every header of the folder that it includes."""
    told, waiting, seen = hashlib.sha256(), [folder / source], set[Path]()
    told.update("\0".join((*words, source)).encode())
    while waiting:
        path = waiting.pop()
        if path in seen:
            continue
        seen.add(path)
        text = path.read_bytes()
        told.update(b"\0%d\0" % len(text) + text)
        for name in INCLUDED.findall(text):
            places = (path.parent, *(folder / where for where in looked_in))
            found = next((place / name.decode() for place in places if (place / name.decode()).is_file()), None)
            if found is not None:
                waiting.append(found)
    return told.digest()


def compiled(
    words: Sequence[str], source: str, folder: Path, out: Path, run: Callable[[Sequence[str]], tuple[int, str]]
) -> tuple[int, str]:
    """Compile a source into `out`, or take the object that it gave before.

    Parameters
    ----------
    words : the compiler and its options, without source and target.
    run : runs a command, and gives its exit code and what it said.

    Returns
    -------
    Exit code and what the compiler said; only what compiled without a word is kept.
    """
    key = key_of(words, source, folder)
    if key in _kept:
        _kept.move_to_end(key)
        out.write_bytes(_kept[key])
        return 0, ""
    code, said = run([*words, "-c", source, "-o", str(out)])
    if code == 0 and not said and out.stat().st_size <= LARGEST_BYTES:
        _kept[key] = out.read_bytes()
        while len(_kept) > KEPT:
            _kept.popitem(last=False)
    return code, said
