"""The array reader: bytes from anywhere, ranked by what they may be, and taken as a picture."""

import base64
import zlib
from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.conversion.foreign import candidates_of, picture_of
from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.imports.foreign import Found, found_raw, read_foreign
from mosaic.numbers import whole
from mosaic.pixels.guess import Guess, guess
from mosaic.reduce.recipe import Recipe
from workshop.bringup import examples
from workshop.bringup.pages import station_context
from workshop.bringup.pasted import MOST_TEXT, data_uri, pasted, problems_of
from workshop.builds.pages import own_build
from workshop.stations.exchange import bring_picture
from workshop.stations.overview import overview_of

SHOWN_GUESSES = 6


@dataclass(frozen=True)
class Thumb:
    """A guess with its picture."""

    guess: Guess
    url: str
    size: tuple[int, int]
    number: int


def _guesses(found: Found, device: Device) -> list[Guess]:
    return guess(found.data, candidates_of(found, device.passport, device.turn))[:SHOWN_GUESSES]


def _thumbs(found: Found, device: Device) -> list[Thumb]:
    thumbs = []
    for number, one in enumerate(_guesses(found, device)):
        picture = picture_of(found.data, one.candidate, device.passport, device.turn)
        height, width = picture.shape[:2]
        thumbs.append(Thumb(one, data_uri(encode_png(picture)), (width, height), number))
    return thumbs


def arrays(request: HttpRequest, build_id: int) -> HttpResponse:
    """Bytes from anywhere: what they are, ranked, as pictures."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    text, problems, thumbs, found = "", [], [], None
    try:
        if request.method != "POST":
            text = examples.array_of_old_project()
            found = read_foreign(text)
        elif request.FILES.get("file"):
            upload = request.FILES["file"]
            found = found_raw(upload.read(MOST_TEXT + 1), upload.name)
        else:
            text = pasted(request)
            found = read_foreign(text)
        if len(found.data) > MOST_TEXT:
            raise BadValueError(f"more than {MOST_TEXT:,} bytes; bring one picture at a time")
        thumbs = _thumbs(found, overview.device)
    except MosaicError as error:
        problems = problems_of(error)
    context = {
        **station_context(build, "arrays", overview),
        "text": text, "problems": problems, "thumbs": thumbs, "found": found, "is_example": request.method != "POST",
        "kept": base64.b64encode(zlib.compress(found.data, 6)).decode() if found and thumbs else "",
    }  # fmt: skip
    return render(request, "bringup/arrays.html", context, status=422 if problems else 200)


@require_POST
def take_array(request: HttpRequest, build_id: int) -> HttpResponse:
    """The chosen guess becomes a picture of the build."""
    build = own_build(request, build_id)
    device = build.to_device()
    try:
        data = zlib.decompressobj().decompress(base64.b64decode(request.POST.get("kept", "")), MOST_TEXT)
        number = whole(request.POST.get("number"))
        if not data or number is None:
            raise ValueError("no bytes, or no guess")
        chosen = _guesses(Found(data, "", None), device)[number]
    except (ValueError, zlib.error, IndexError) as error:
        raise BadValueError("this page does not say which bytes are meant; read the array once more") from error
    picture = picture_of(data, chosen.candidate, device.passport, device.turn)
    height, width = picture.shape[:2]
    fits = (width, height) == device.size
    recipe = Recipe().with_changes(fit="none" if fits else "contain", scaling="nearest", method="threshold")
    name = f"From an array, {width} × {height}"
    told = {"file_name": "array.png", "name": name, "recipe": recipe, "owner": request.user}
    added = bring_picture(build=build, data=encode_png(picture), **told)
    messages.success(request, f"{added.name}: now a picture of this build.")
    return redirect(added.url)
