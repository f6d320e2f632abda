"""What the readers share: text that was pasted or brought, what is wrong with it, and pictures made of it."""

import base64

from django.http import HttpRequest

from mosaic.errors import BadLinesError, BadValueError, MosaicError
from workshop.errors import message_of

MOST_TEXT = 1_500_000


def data_uri(png: bytes) -> str:
    """A picture inside its address: what was pasted has none of its own."""
    return "data:image/png;base64," + base64.b64encode(png).decode()


def pasted(request: HttpRequest, name: str = "text") -> str:
    """What was pasted or brought as a file.

    Raises
    ------
    BadValueError
        It is too long, or no text.
    """
    upload = request.FILES.get("file")
    if upload is not None and upload.size:
        data = upload.read(MOST_TEXT + 1)
        if b"\0" in data[:4096]:
            raise BadValueError(f"{upload.name} is no text; bring a CSV or text file, or paste its rows")
        text = data.decode("utf-8", "replace")
    else:
        text = request.POST.get(name, "")
    return not_too_long(text)


def not_too_long(text: str, most: int = MOST_TEXT) -> str:
    """The text itself.

    Raises
    ------
    BadValueError
        It is longer than what is read.
    """
    if len(text) > most:
        raise BadValueError(f"{len(text):,} characters; up to {most:,} are read")
    return text


def problems_of(error: MosaicError) -> list[tuple[int, str]]:
    """(line, words) of what is wrong; line 0 where it is not about a line."""
    if isinstance(error, BadLinesError):
        return [(problem.line, problem.words) for problem in error.problems]
    return [(0, message_of(error))]
