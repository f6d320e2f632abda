"""The capture reader: what went over the wires, played into the virtual panel."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from mosaic.conversion.replay import replay as replayed
from mosaic.errors import MosaicError
from mosaic.imports.capture import read_capture
from workshop.bringup import examples
from workshop.bringup.pages import station_context
from workshop.bringup.pasted import data_uri, pasted, problems_of
from workshop.bringup.subjects import png_of_values, setting_of
from workshop.builds.pages import own_build
from workshop.stations.overview import overview_of

SHOWN_MISUSE = 60


def replay(request: HttpRequest, build_id: int) -> HttpResponse:
    """A capture played into the virtual panel; a post brings one, else an example of this build's own wire is shown."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    text, problems, result = "", [], None
    after = request.POST.get("after") == "1"
    try:
        text = pasted(request) if request.method == "POST" else examples.capture_of(device)
        capture = read_capture(text)
        result = replayed(capture, device.passport, device.turn, device.link, after_setup=after)
    except MosaicError as error:
        problems = problems_of(error)
    context = {
        **station_context(build, "replay", overview),
        "text": text, "problems": problems, "after": after, "is_example": request.method != "POST", "result": result,
    }  # fmt: skip
    if result is not None:
        wrong: dict[int, list[str]] = {line: [words] for line, words in capture.remarks}
        for said, count in result.counted[:SHOWN_MISUSE]:
            wrong.setdefault(said.line, []).append(f"{said.misuse.text}{f', {count} times in all' if count > 1 else ''}")
        context |= {
            "glass_url": data_uri(png_of_values(result.shown, setting_of(device))),
            "more_misuse": max(0, len(result.counted) - SHOWN_MISUSE),
            "lines": _marked_lines(text, wrong),
            "computed_ms": float((result.computed_s if result.captured_s is None else result.comparable_s) * 1000),
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
