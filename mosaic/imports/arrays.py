"""Bytes out of source text: C arrays, Python byte strings, XBM."""

import ast
import re

from mosaic.errors import BadDescriptionError

_COMMENT = re.compile(r"/\*.*?\*/|//[^\n]*", re.S)
_BRACES = re.compile(r"\{([^{}]*)\}", re.S)
_NUMBER = re.compile(r"0[xX][0-9a-fA-F]+|0[bB][01]+|\d+")


def bytes_from_c(text: str) -> bytes:
    """The bytes of the first initialised array in C source.

    Raises
    ------
    BadDescriptionError
        There is no array, or a number in it is above 255.
    """
    found = _BRACES.search(_COMMENT.sub(" ", text))
    if found is None:
        raise BadDescriptionError("no array in braces, such as {0x00, 0xFF}, in this text")
    numbers = [int(n, 0) for n in _NUMBER.findall(found[1])]
    wrong = next((n for n in numbers if n > 255), None)
    if wrong is not None:
        raise BadDescriptionError(f"the array holds {wrong}; bytes are 0 to 255")
    return bytes(numbers)


def bytes_from_python(text: str) -> bytes:
    """The first bytes literal assigned in Python source; the source is parsed, never run.

    Raises
    ------
    BadDescriptionError
        The text is no Python source or assigns no bytes.
    """
    try:
        tree = ast.parse(text)
    except SyntaxError as error:
        raise BadDescriptionError(f"not Python source: line {error.lineno}: {error.msg}") from error
    for node in ast.walk(tree):
        if isinstance(node, ast.Assign) and isinstance(node.value, ast.Constant) and isinstance(node.value.value, bytes):
            return node.value.value
    raise BadDescriptionError("no bytes are assigned in this text")
