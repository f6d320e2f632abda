"""Keeping uploaded files, each once."""

import hashlib
from typing import Any

from django.db import transaction

from workshop.builds.models import Original, Upload


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
