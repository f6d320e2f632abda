"""Keeping uploaded files, each once."""

import hashlib
from typing import Any

from django.db import transaction

from mosaic.errors import BadValueError
from mosaic.imports.pictures import MAX_FILE_BYTES, read_header, read_picture
from workshop.documents.models import Original, Upload


@transaction.atomic
def store(*, data: bytes, file_name: str, owner: Any, media_type: str, size: tuple[int, int] = (0, 0)) -> Original:
    """Keep a file that has been checked, and note who brought it. `size` is that of a picture in pixels."""
    original, _ = Original.objects.defer("data").get_or_create(
        sha256=hashlib.sha256(data).hexdigest(),
        defaults={
            "media_type": media_type, "width": size[0], "height": size[1], "byte_count": len(data), "data": data,
        },
    )  # fmt: skip
    Upload.objects.update_or_create(owner=owner, original=original, defaults={"name": file_name[:120]})
    return original


def keep_picture(*, data: bytes, file_name: str, owner: Any) -> Original:
    """Check a picture file to its last pixel, then keep it once.

    Raises
    ------
    BadPictureError
        The file is no picture, too large or damaged; nothing is kept.
    """
    header = read_header(data, file_name)
    read_picture(data, file_name)
    size = (header.width, header.height)
    return store(data=data, file_name=file_name, owner=owner, media_type=header.media_type, size=size)


def read_upload(upload: Any, most_bytes: int = MAX_FILE_BYTES, what: str = "pictures") -> bytes:
    """The bytes of an uploaded file, no more than are needed to refuse it in words.

    Raises
    ------
    BadValueError
        It is larger than `most_bytes`.
    """
    if upload.size > most_bytes + 1:
        size, most = upload.size / 2**20, most_bytes // 2**20
        raise BadValueError(f"{upload.name} is {size:.1f} MiB; {what} up to {most} MiB are accepted")
    return upload.read(most_bytes + 1)
