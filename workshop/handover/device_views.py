"""What devices and other programs ask for with a token: the frame, and what they hand in."""

import time
from collections.abc import Callable
from functools import wraps
from typing import Any

import numpy as np
from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.csrf import csrf_exempt

from mosaic.errors import MosaicError
from mosaic.json_text import read_json
from workshop.handover.frames import COUNTER, POLLS, WRONG, admitted, frame_of, give_values, png_of, report
from workshop.handover.models import FrameFeed

MOST_JSON = 64 * 1024
MEDIA = {"bin": "application/octet-stream", "raw": "application/octet-stream", "png": "image/png"}


def refused(words: str, status: int, again_s: float = 0.0) -> HttpResponse:
    """An answer that a program can read."""
    response = JsonResponse({"error": words}, status=status)
    response["Cache-Control"] = "no-store"
    if again_s:
        response["Retry-After"] = str(max(1, round(again_s + 0.5)))
    return response


def for_devices(*methods: str) -> Callable[[Callable[..., HttpResponse]], Callable[..., HttpResponse]]:
    """A view for programs: with a token in place of a sign-in, and no more often than is good."""

    def marked(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
        @csrf_exempt
        @login_not_required
        @wraps(view)
        def asked(request: HttpRequest, build_id: int, **more: Any) -> HttpResponse:
            if request.method not in methods:
                response = refused(f"{request.method} is not taken here; {' and '.join(methods)} are accepted", 405)
                response["Allow"] = ", ".join(methods)
                return response
            now, who = time.monotonic(), request.META.get("REMOTE_ADDR", "")
            kind, _, token = request.headers.get("Authorization", "").partition(" ")
            feed = admitted(build_id, token.strip()) if kind == "Bearer" and token.strip() else None
            if feed is None:
                wait = WRONG.wait_s(who, now)
                if wait:
                    return refused("too many wrong tokens came from there", 429, wait)
                return refused("this token opens no frame feed; send the header Authorization: Bearer TOKEN", 401)
            wait = POLLS.wait_s(feed.pk, now)
            if wait:
                return refused("this feed is asked too often", 429, wait)
            try:
                return view(request, feed, **more)
            except MosaicError as error:
                return refused(str(error), 422)

        return asked

    return marked


@for_devices("GET", "HEAD")
def frame(request: HttpRequest, feed: FrameFeed, ending: str) -> HttpResponse:
    """The frame as it is now: packed, as a picture, or pixel by pixel; 304 where the device has it already."""
    found = frame_of(feed)
    tag = f'"{found.tag}-{ending}"'
    asked = [one.strip().removeprefix("W/") for one in request.headers.get("If-None-Match", "").split(",")]
    if tag in asked or "*" in asked:
        response = HttpResponse(status=304)
        COUNTER.note(feed, 0, unchanged=True)
    else:
        if ending == "png":
            data = png_of(found, feed.build.to_device())
        elif ending == "raw":
            data = np.ascontiguousarray(found.pixels).tobytes()
        else:
            data = found.packed
        response = HttpResponse(data, content_type=MEDIA[ending])
        COUNTER.note(feed, len(data), unchanged=False)
    response["ETag"] = tag
    response["Cache-Control"] = f"private, max-age={found.again_s}"
    response["X-Ask-Again"] = str(found.again_s)
    return response


def _json(request: HttpRequest) -> Any:
    return read_json(request.body[: MOST_JSON + 1], "text")


@for_devices("POST", "PUT")
def values(request: HttpRequest, feed: FrameFeed) -> HttpResponse:
    """Values that another program hands in."""
    if int(request.META.get("CONTENT_LENGTH") or 0) > MOST_JSON:
        return refused(f"this is longer than {MOST_JSON >> 10} KiB", 413)
    return JsonResponse({"kept": give_values(feed, _json(request))})


@for_devices("POST", "PUT")
def reports(request: HttpRequest, feed: FrameFeed) -> HttpResponse:
    """What a device reports of itself."""
    if int(request.META.get("CONTENT_LENGTH") or 0) > MOST_JSON:
        return refused(f"this is longer than {MOST_JSON >> 10} KiB", 413)
    return JsonResponse({"kept": report(feed, _json(request))})
