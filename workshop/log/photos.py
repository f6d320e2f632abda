"""Photos in logs: scaled down, without where and with what they were taken."""

import io
from typing import Any

import numpy as np
from PIL import Image

from mosaic.errors import BadPictureError
from mosaic.imports.pictures import read_picture
from workshop.documents.models import Original
from workshop.documents.originals import read_upload, store

MOST_BYTES, LONGEST_PX = 32 * 2**20, 1600


def keep_photo(upload: Any, owner: Any) -> Original:
    """A photo, no longer than 1,600 px, as a picture without any of the camera's notes.

    Raises
    ------
    BadPictureError, BadValueError
        It is no picture that can be read here, or too large.
    """
    data = read_upload(upload, MOST_BYTES, "photos")
    if data[4:12] in (b"ftypheic", b"ftypheix", b"ftypmif1", b"ftypheif", b"ftyphevc"):
        raise BadPictureError(f"{upload.name} is HEIC, which cannot be read here; let the phone send it as JPEG")
    source = read_picture(data, upload.name)
    shown = Image.fromarray(np.ascontiguousarray(source.rgb))
    shown.thumbnail((LONGEST_PX, LONGEST_PX), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    shown.save(out, "PNG", optimize=False)
    return store(data=out.getvalue(), file_name=upload.name, owner=owner, media_type="image/png", size=shown.size)
