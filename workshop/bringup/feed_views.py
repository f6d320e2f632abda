"""The live feed: a token, how to connect, and the glass as the maker's program draws on it."""

from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.exports.feed_program import feed_program
from mosaic.numbers import whole_of
from mosaic.virtual.panel import shown_pixels, virtual_panel
from workshop.answers import image, page_before
from workshop.bringup.feed_server import HELD_FOR
from workshop.bringup.models import Feed, FeedInput, new_token
from workshop.bringup.pages import station_context, whole_number
from workshop.bringup.subjects import png_of_values, setting_of
from workshop.builds.models import Build
from workshop.builds.pages import own_build

EXAMPLES = settings.BASE_DIR / "examples" / "feed"
PROGRAM = "program.c"
FILES = {"panel_feed.h": "text/x-c", "panel_feed.c": "text/x-c", "panel_feed.py": "text/x-python"}


def feed_of(build: Build) -> Feed:
    """The live feed of a build."""
    feed, _ = Feed.objects.defer("png").get_or_create(build=build)
    return feed


def _state(build: Build, feed: Feed) -> dict:
    return {
        "build": build,
        "feed": feed,
        "is_live": bool(feed.session and feed.seen and feed.seen > timezone.now() - HELD_FOR),
        "glass_url": reverse("bringup-feed-png", args=[build.pk, feed.version]),
    }


def program_of(build: Build, feed: Feed) -> bytes:
    """A complete program for this build: its set-up, its feed, and stripes on the whole glass."""
    device = build.to_device()
    return feed_program(device.passport, device.turn, settings.FEED_PORT, feed.token, build.name)


def feed(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    context = {
        **station_context(build, "feed"), **_state(build, feed_of(build)), "port": settings.FEED_PORT, "files": list(FILES),
    }  # fmt: skip
    return render(request, "bringup/feed.html", context)


def state(request: HttpRequest, build_id: int) -> HttpResponse:
    """What has changed since a version; nothing to say is 204."""
    build = own_build(request, build_id)
    current = feed_of(build)
    context = _state(build, current)
    since, was_live = whole_number(request, "since"), request.GET.get("live") == "1"
    if since == current.version and was_live == context["is_live"]:
        return HttpResponse(status=204)
    return render(request, "bringup/partials/feed_state.html", context)


def glass(request: HttpRequest, build_id: int, version: int) -> HttpResponse:
    """The glass as it was drawn last, or as it is before anything came."""
    build = own_build(request, build_id)
    png = Feed.objects.filter(build=build).values_list("png", flat=True).first()
    if not png:
        setting = setting_of(build.to_device())
        png = png_of_values(shown_pixels(virtual_panel(setting.passport), setting.turn), setting)
    response = image(bytes(png))
    response["Cache-Control"] = "private, no-store"
    return response


@require_POST
def fresh_token(request: HttpRequest, build_id: int) -> HttpResponse:
    """Another token; whoever has the old one is refused from now on."""
    build = own_build(request, build_id)
    current = feed_of(build)
    Feed.objects.filter(pk=current.pk).update(token=new_token(), session="")
    messages.success(request, "The feed has a new token; the old one is refused.")
    return redirect("bringup-feed", build.pk)


def example(request: HttpRequest, build_id: int, name: str) -> HttpResponse:
    """One of the transports, to be put into the maker's own program; or a whole program to begin from."""
    build = own_build(request, build_id)
    if name == PROGRAM:
        response = HttpResponse(program_of(build, feed_of(build)), content_type="text/x-c")
    elif name in FILES:
        response = HttpResponse(Path(EXAMPLES / name).read_bytes(), content_type=FILES[name])
    else:
        raise Http404("no such file")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


MOST_WAITING = 200
TAP_MS, HOLD_MS = 120, 1300


def _number(request: HttpRequest, name: str, least: int = 0, most: int = 100_000) -> int:
    return whole_of(request.POST.get(name), name, least, most)


def lines_of(request: HttpRequest) -> list[tuple[int, str]]:
    """What somebody does, as (after so many ms, line for the program).

    Raises
    ------
    BadValueError
        It is nothing that a program takes.
    """
    what, long = request.POST.get("what", ""), HOLD_MS if "hold" in request.POST else TAP_MS
    match what:
        case "touch" | "tap":
            line = f"touch {_number(request, 'x', most=4095)} {_number(request, 'y', most=4095)}"
            return [(0, line)] if what == "touch" else [(0, line), (long, "lift")]
        case "lift":
            return [(0, "lift")]
        case "pin":
            of, down = _number(request, "of", most=63), _number(request, "down", most=1)
            return [(0, f"pin {of} {1 - down}"), (80, f"pin {of} {down}"), (80 + long, f"pin {of} {1 - down}")]
        case "turn":
            of, back = _number(request, "of", most=63), "back" in request.POST
            steps = ((0, 1), (0, 0), (1, 0), (1, 1)) if not back else ((1, 0), (0, 0), (0, 1), (1, 1))
            return [(0, f"lines {of} 1 1"), *((25 * n, f"lines {of} {a} {b}") for n, (a, b) in enumerate(steps, 1))]
        case "reading":
            raw = _number(request, "raw", least=-(2**31), most=2**31 - 1)
            return [(0, f"reading {_number(request, 'of', most=511)} {raw}")]
        case "wake":
            return [(0, "wake")]
    raise BadValueError(
        f"{what[:20]!r} is nothing that can be done to a panel; touch, lift, pin, turn, reading and wake are accepted"
    )


@require_POST
def give_input(request: HttpRequest, build_id: int) -> HttpResponse:
    """Somebody touches the glass, presses a button, turns a knob, sets a reading: the program is told."""
    build = own_build(request, build_id)
    current = feed_of(build)
    now = timezone.now()
    if not (current.session and current.seen and current.seen > now - HELD_FOR):
        raise BadValueError("no program is connected; start one first")
    if current.inputs.count() >= MOST_WAITING:
        raise BadValueError("the program takes nothing in; stop it and start it again")
    lines = lines_of(request)
    FeedInput.objects.bulk_create(FeedInput(feed=current, line=line, due=now + timedelta(milliseconds=ms)) for ms, line in lines)
    back = page_before(request)
    return redirect(back) if back and not request.htmx else HttpResponse(status=204)  # type: ignore[attr-defined]
