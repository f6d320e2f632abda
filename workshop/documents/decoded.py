"""Decoded originals: the one place where they are kept, bounded by bytes."""

from mosaic.imports.pictures import SourcePicture, read_picture
from workshop.documents.models import Original
from workshop.memory import ByteCache

_decoded = ByteCache("decoded originals", 96 * 2**20)


def source_of(sha256: str, name: str) -> SourcePicture:
    """An original as pixels; `name` is told in errors."""

    def read() -> SourcePicture:
        data = Original.objects.values_list("data", flat=True).get(pk=sha256)
        return read_picture(bytes(data), name)

    return _decoded.get_or_make(sha256, read, lambda source: source.byte_count)
