"""Readers of what a maker already has: captures, arrays, set-up sequences."""

import base64
import zlib
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.conversion.program import Setting, transmission
from mosaic.conversion.replay import replay as replayed
from mosaic.device.device import Device
from mosaic.errors import BadLinesError, BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.imports.capture import read_capture
from mosaic.imports.foreign import Found, found_raw, read_foreign
from mosaic.panels.geometry import Orientation, to_seen
from mosaic.panels.loader import catalogue
from mosaic.panels.windows import host_size
from mosaic.panels.wire import Part
from mosaic.pixels.direct import unpack_direct
from mosaic.pixels.formats import IndexedFormat
from mosaic.pixels.guess import KNOWN_SHARE, Candidate, Guess, candidates_for, guess, raw_codes, sizes_of_bytes
from mosaic.reduce.recipe import Recipe
from mosaic.setups.compare import Pair, compared, taken_over
from mosaic.setups.read import Sequence
from mosaic.virtual.panel import shown_pixels, virtual_panel
from workshop.bringup import examples, services
from workshop.bringup.pages import station_context
from workshop.bringup.subjects import png_of_values, setting_of, subject_of
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.builds.services import overview_of
from workshop.errors import message_of
from workshop.panels.description_form import revision_from
from workshop.pictures.services import add_picture, keep_original

MOST_TEXT = 1_500_000
SHOWN_GUESSES = 6
SHOWN_MISUSE = 60
OWN_SHARE = 0.02
FIGURE_PX = (560, 240)


def data_uri(png: bytes) -> str:
    """A picture inside its address: what was pasted has none of its own."""
    return "data:image/png;base64," + base64.b64encode(png).decode()


def _pasted(request: HttpRequest, name: str = "text") -> str:
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
    if len(text) > MOST_TEXT:
        raise BadValueError(f"{len(text):,} characters; up to {MOST_TEXT:,} are read")
    return text


def _problems(error: MosaicError) -> list[tuple[int, str]]:
    """(line, words) of what is wrong; line 0 where it is not about a line."""
    if isinstance(error, BadLinesError):
        return [(problem.line, problem.words) for problem in error.problems]
    return [(0, message_of(error))]


# ----- captures -----


def replay(request: HttpRequest, build_id: int) -> HttpResponse:
    """A capture played into the virtual panel; a post brings one, else an example of this build's own wire is shown."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    text, problems, result = "", [], None
    after = request.POST.get("after") == "1"
    try:
        text = _pasted(request) if request.method == "POST" else examples.capture_of(device)
        result = replayed(read_capture(text), device.passport, device.turn, device.link, after_setup=after)
    except MosaicError as error:
        problems = _problems(error)
    context = {
        **station_context(build, "replay", overview),
        "text": text, "problems": problems, "after": after, "is_example": request.method != "POST", "result": result,
    }  # fmt: skip
    if result is not None:
        wrong: dict[int, list[str]] = {}
        for said in result.misuse:
            wrong.setdefault(said.line, []).append(said.misuse.text)
        context |= {
            "glass_url": data_uri(png_of_values(result.shown, setting_of(device))),
            "misuse": result.misuse[:SHOWN_MISUSE],
            "more_misuse": max(0, len(result.misuse) - SHOWN_MISUSE),
            "lines": _marked_lines(text, wrong),
            "computed_ms": float(result.computed_s * 1000),
            "captured_ms": None if result.captured_s is None else float(result.captured_s * 1000),
            "stretches": [
                (s, float(s.computed_s * 1000), None if s.captured_s is None else float(s.captured_s * 1000))
                for s in result.stretches[:12]
            ],
        }
    return render(request, "bringup/replay.html", context, status=422 if problems else 200)


def _marked_lines(text: str, wrong: dict[int, list[str]]) -> list[tuple[int, str, list[str]]]:
    """(number, line, what is wrong) of the lines around each misuse; 0 stands for lines that are left out."""
    lines = text.splitlines()
    near = {n for at in wrong for n in range(at - 2, at + 3) if 1 <= n <= len(lines)}
    out: list[tuple[int, str, list[str]]] = []
    for number in sorted(near)[:200]:
        if out and number != out[-1][0] + 1:
            out.append((0, "", []))
        out.append((number, lines[number - 1][:90], wrong.get(number, [])))
    return out


# ----- arrays -----


@dataclass(frozen=True)
class Thumb:
    """A guess with its picture, upright before the reader of the panel it is known of."""

    guess: Guess
    url: str
    size: tuple[int, int]
    number: int


def _candidates(device: Device, found: Found) -> list[Candidate]:
    """This build's panel first, then every panel of the catalogue, then usual forms at their sizes."""
    own = Candidate(*host_size(device.passport, device.turn), device.passport.format, KNOWN_SHARE + OWN_SHARE, "this panel")
    known = [own]
    for panel in catalogue().values():
        for rotation in (0, 90) if panel.controller.turned_by == "controller" else (0,):
            width, height = host_size(panel, rotation)  # type: ignore[arg-type]
            known.append(Candidate(width, height, panel.format, KNOWN_SHARE, panel.name))
    sizes = list(dict.fromkeys([*((c.width, c.height) for c in known), *((c.height, c.width) for c in known)]))
    made = candidates_for(len(found.data), sizes, known, found.size)
    return made or candidates_for(len(found.data), sizes_of_bytes(len(found.data)), [], found.size)


def _picture(data: bytes, candidate: Candidate, device: Device) -> np.ndarray:
    """(H, W, 3) colours of the bytes under a candidate: the panel's own where its form fits, else steps of grey."""
    form = candidate.format
    if not isinstance(form, IndexedFormat):
        return unpack_direct(data, candidate.width, candidate.height, form)
    codes = raw_codes(data, candidate.width, candidate.height, form)
    table = np.zeros(256, np.uint8)
    levels = 1 << form.bits * len(form.planes)
    table[:levels] = np.linspace(0, 255, levels).astype(np.uint8)
    out = np.repeat(table[codes][..., None], 3, axis=2)
    palette = device.passport.palette
    if palette is not None and isinstance(device.passport.format, IndexedFormat) and len(palette) == form.colors:
        numbers = _numbers(device.passport.format)
        if len(form.planes) == len(device.passport.format.planes) and form.bits == device.passport.format.bits:
            colors = np.repeat(table[:, None], 3, axis=1)
            colors[numbers] = palette.measured_rgb
            out = colors[codes]
    return out


def _numbers(form: IndexedFormat) -> list[int]:
    """The number that stands for each colour, planes side by side."""
    out = []
    for codes in zip(*(plane.codes for plane in form.planes), strict=True):
        number = 0
        for code in codes:
            number = number << form.bits | code
        out.append(number)
    return out


def _thumbs(found: Found, device: Device) -> list[Thumb]:
    lies = device.turn if device.passport.controller.turned_by == "picture" else Orientation()
    thumbs = []
    for number, one in enumerate(guess(found.data, _candidates(device, found))[:SHOWN_GUESSES]):
        picture = _picture(found.data, one.candidate, device)
        if one.candidate.name == "this panel":
            picture = to_seen(picture, lies)
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
            text = _pasted(request)
            found = read_foreign(text)
        if len(found.data) > MOST_TEXT:
            raise BadValueError(f"more than {MOST_TEXT:,} bytes; bring one picture at a time")
        thumbs = _thumbs(found, overview.device)
    except MosaicError as error:
        problems = _problems(error)
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
        number = int(request.POST.get("number", ""))
        found = Found(data, "", None)
        if not data:
            raise ValueError("no bytes")
        chosen = guess(data, _candidates(device, found))[:SHOWN_GUESSES][number]
    except (ValueError, zlib.error, IndexError) as error:
        raise BadValueError("this page does not say which bytes are meant; read the array once more") from error
    picture = _picture(data, chosen.candidate, device)
    if chosen.candidate.name == "this panel" and device.passport.controller.turned_by == "picture":
        picture = to_seen(picture, device.turn)
    original = keep_original(data=encode_png(picture), file_name="array.png", owner=request.user)
    height, width = picture.shape[:2]
    fits = (width, height) == device.size
    recipe = Recipe().with_changes(fit="none" if fits else "contain", scaling="nearest", method="threshold")
    name = f"From an array, {width} × {height}"
    added = add_picture(build=build, original=original, file_name="array.png", recipe=recipe, name=name)
    messages.success(request, f"{added.name}: now a picture of this build.")
    return redirect("picture", build.pk, added.pk)


# ----- set-up sequences -----


def _run(sequence: Sequence, setting: Setting, build: Build, device: Device) -> tuple[str, int]:
    """What the panel shows under a set-up and the build's first picture, and how much it tripped over."""
    subject = subject_of(build, device, "")
    panel = virtual_panel(setting.passport)
    setup = Part("set-up", sequence.transactions(setting.passport.controller.family))
    for part in (setup, *transmission(subject.pixels, setting, setting.sending)[1:]):
        panel.play(part.transactions)
    panel.finish()
    return data_uri(png_of_values(shown_pixels(panel, setting.turn), setting)), len(panel.misuse)


def _figure_size(size: tuple[int, int]) -> tuple[int, int]:
    """The largest whole zoom that fits, or for large panels what does."""
    width, height = size
    zoom = min(FIGURE_PX[0] // width, FIGURE_PX[1] // height)
    if zoom:
        return width * zoom, height * zoom
    shrink = max(width / FIGURE_PX[0], height / FIGURE_PX[1])
    return round(width / shrink), round(height / shrink)


def setups(request: HttpRequest, build_id: int) -> HttpResponse:
    """Two set-ups in words, side by side: the one in use, and another that was found."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    setting = setting_of(device)
    is_example = request.method != "POST"
    texts = {
        "here": examples.own_setup(device) if is_example else request.POST.get("here", "")[:MOST_TEXT],
        "there": examples.other_setup(device) if is_example else request.POST.get("there", "")[:MOST_TEXT],
    }
    problems: list[tuple[str, int, str]] = []
    read: dict[str, Sequence] = {}
    for side, text in texts.items():
        try:
            read[side] = examples.read_setup(text, device)
        except MosaicError as error:
            problems += [({"here": "In use", "there": "Found"}[side], *problem) for problem in _problems(error)]
    context: dict[str, Any] = {
        **station_context(build, "setups", overview), "texts": texts, "problems": problems, "is_example": is_example,
    }  # fmt: skip
    if not problems:
        pairs = compared(read["here"], read["there"], device.passport.controller.family)
        shown = {side: _run(sequence, setting, build, device) for side, sequence in read.items()}
        context |= {
            "pairs": pairs, "differing": sum(pair.differs for pair in pairs), "marked": sum(pair.is_marked for pair in pairs),
            "read": read, "shown": shown, "figure": _figure_size(device.size), "alike": shown["here"][0] == shown["there"][0],
        }  # fmt: skip
    return render(request, "bringup/setups.html", context, status=422 if problems else 200)


@require_POST
def take_setups(request: HttpRequest, build_id: int) -> HttpResponse:
    """Chosen commands of the found set-up go into the build's passport."""
    build = own_build(request, build_id)
    device = build.to_device()
    chosen = request.POST.getlist("take")
    if not chosen:
        raise BadValueError("choose at least one command to take over")
    here = examples.read_setup(examples.own_setup(device), device)
    there = examples.read_setup(request.POST.get("there", "")[:MOST_TEXT], device)
    pairs: dict[str, Pair] = {p.key: p for p in compared(here, there, device.passport.controller.family) if p.differs}
    missing = [key for key in chosen if key not in pairs]
    if missing:
        raise BadValueError(f"the passport's set-up does not differ in {', '.join(missing)}; load the page again")
    setting = setting_of(device)
    for key in chosen:
        setting = taken_over(setting, pairs[key])
    services.take_setting(build=build, setting=setting, revision=revision_from(request.POST.get("revision", "")))
    words = ", ".join(p.there.words if (p := pairs[key]).there else f"without {p.key}" for key in chosen)
    messages.success(request, f"The passport’s set-up has now: {words}.")
    return redirect("bringup-setups", build.pk)
