"""What station 4 makes, as documents: letterings, and the texts that the screens show."""

from typing import Any

from mosaic.device.notes import Texts
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.source import MOST_BYTES, font_info, kind_of, plain_font
from mosaic.lettering.texts import MOST_LINES, MOST_TEXT, parse_texts
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.models import Document, Original
from workshop.documents.originals import read_upload, store
from workshop.stations.exchange import offered_texts

MEDIA_TYPES = {"outlines": "font/sfnt", "bdf": "application/x-font-bdf", "pcf": "application/x-font-pcf"}


class Lettering(Document):
    """A lettering; it is made of its own font, if it has one."""

    KIND, NOUN, RECORD, PAGE, LIST_PAGE, MOST = "lettering", "lettering", LetteringPlan, "lettering", "letterings", 40

    class Meta:
        proxy = True

    @classmethod
    def refs_in(cls, description: dict[str, Any]) -> set[str]:
        return {use["source"] for use in description.get("pictures", [])}

    @classmethod
    def with_refs(cls, description: dict[str, Any], refs: dict[str, str]) -> dict[str, Any]:
        uses = [{**use, "source": refs.get(use["source"], use["source"])} for use in description.get("pictures", [])]
        return {**description, "pictures": uses}

    @classmethod
    def keep_source(cls, *, data: bytes, file_name: str, owner: Any) -> Original:
        return keep_font(data=data, file_name=file_name, owner=owner)


class TextsDocument(Document):
    """What a build's screens show, one text a line, with the bounds of the values in them."""

    KIND, NOUN, RECORD, PAGE, SINGLE = "texts", "texts of the screens", Texts, "measuring", True

    class Meta:
        proxy = True

    @classmethod
    def read(cls, description: Any) -> Texts:
        texts = super().read(description)
        parse_texts(texts.lines)
        return texts


def keep_font(*, data: bytes, file_name: str, owner: Any) -> Original:
    """Check a font, then keep it once, a gzip about it taken off.

    Raises
    ------
    MosaicError
        It is no font, too large or broken; nothing is kept.
    """
    plain = plain_font(data, file_name)
    font_info(plain, file_name)
    return store(data=plain, file_name=file_name, owner=owner, media_type=MEDIA_TYPES[kind_of(plain)])


def read_font(upload: Any) -> bytes:
    """The bytes of an uploaded font, refused in words before they are read where it is too large."""
    return read_upload(upload, MOST_BYTES, "fonts")


def written_texts(build: Build) -> str:
    """Texts of the build as they were written by hand."""
    row = shelf.single(build, TextsDocument)
    return row.record.lines if row else ""


def texts_of(build: Build) -> str:
    """What the build's screens show: as it was written by hand, and what stands on the screens themselves."""
    written = written_texts(build).splitlines()
    known = set(written)
    collected = [text for text in offered_texts(build) if text not in known and len(text) <= MOST_TEXT]
    return "\n".join([*written, *collected[: max(0, MOST_LINES - len(written))]])
