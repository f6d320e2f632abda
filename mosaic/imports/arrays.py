"""Bytes out of source text: C arrays, Python byte strings, XBM."""

import ast
import re

from mosaic.errors import BadDescriptionError
from mosaic.source_text import without_block_comments

_LINE_COMMENT = re.compile(r"//[^\n]*")
_BRACES = re.compile(r"\{([^{}]*)\}", re.S)
_NUMBER = re.compile(r"0[xX][0-9a-fA-F]+|0[bB][01]+|[0-9]+")

LONGEST_BYTE = 10
"""Letters of a number: 0b and eight digits."""


def bytes_from_c(text: str) -> bytes:
    """The bytes of the first initialised array in C source.

    Raises
    ------
    BadDescriptionError
        There is no array, or a number in it is above 255.
    """
    found = _BRACES.search(_LINE_COMMENT.sub(" ", without_block_comments(text)))
    if found is None:
        raise BadDescriptionError("no array in braces, such as {0x00, 0xFF}, in this text")
    words = _NUMBER.findall(found[1])
    wrong = next((word for word in words if len(word) > LONGEST_BYTE or int(word, _base(word)) > 255), None)
    if wrong is not None:
        raise BadDescriptionError(f"the array holds {wrong[:24]}; bytes are 0 to 255")
    numbers = [int(word, _base(word)) for word in words]
    return bytes(numbers)


def _base(word: str) -> int:
    return {"x": 16, "b": 2}.get(word[1:2].lower(), 10)


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
    except (MemoryError, RecursionError, ValueError):
        raise BadDescriptionError("not Python source: brackets or signs go too deep, or a zero byte stands in it") from None
    for node in ast.walk(tree):
        if isinstance(node, ast.Assign) and isinstance(node.value, ast.Constant) and isinstance(node.value.value, bytes):
            return node.value.value
    raise BadDescriptionError("no bytes are assigned in this text")
