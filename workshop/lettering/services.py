"""What a maker does with letterings beyond what is done with any document: fonts of one's own, and the build's texts."""

from mosaic.device.notes import Texts
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.texts import parse_texts
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents.models import Original
from workshop.lettering.documents import Lettering, TextsDocument


def add_lettering(
    *, build: Build, name: str, plan: LetteringPlan, original: Original | None = None, file_name: str = ""
) -> Lettering:
    """A new lettering of a build; raises as `documents.services.add`."""
    sources = [(original, file_name)] if original else []
    return documents.add(Lettering, build=build, name=name, record=plan, sources=sources)


def keep_texts(*, build: Build, written: str, base: int) -> None:
    """What the build's screens show, one text a line; `base` is the revision it began from, 0 for the first.

    Raises
    ------
    BadValueError
        A line cannot be read; the text says which, and what is accepted.
    ConflictError
        The texts were changed elsewhere since.
    """
    written = "\n".join(written.splitlines())
    parse_texts(written)
    documents.save_single(TextsDocument, build=build, base=base, record=Texts(written))
