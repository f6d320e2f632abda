"""How often the form of packed bytes is guessed rightly, over every panel and every painting: `python -m bench.guess`."""

import time
from collections import Counter

from mosaic.conversion.foreign import known_candidates, sizes_of
from mosaic.conversion.pipeline import apply_tone, fit_stage, pack
from mosaic.conversion.reducing import task_of
from mosaic.imports.pictures import read_picture
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.panels.windows import host_size
from mosaic.pixels.formats import DirectFormat
from mosaic.pixels.guess import Candidate, candidates_for, guess
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from workshop.scenario import painting

PAINTINGS = (
    painting.slip_at_dusk, painting.morning_mist, painting.club_crest, painting.fair_weather, painting.rain_coming,
    painting.wind_rising,
)  # fmt: skip


def _order(candidate: Candidate) -> tuple[object, ...]:
    form = candidate.format
    if isinstance(form, DirectFormat):
        return candidate.width, candidate.height, form.bits, form.byte_order if form.bits == 16 else ""
    return candidate.width, candidate.height, form.bits, form.along, form.first, form.follow, len(form.planes)


def main() -> None:
    panels = catalogue()
    known = known_candidates()
    sizes = sizes_of(known)
    sources = [read_picture(paint(), "p.png") for paint in PAINTINGS]
    for method in METHODS:
        tried: Counter[str] = Counter()
        right: Counter[str] = Counter()
        seconds = 0.0
        for panel in panels.values():
            turn, recipe = Orientation(panel.rotation), Recipe(method=method, auto_threshold=True)
            bits = f"{panel.format.bits} bits" + ("" if panel.is_direct else f" × {len(panel.format.planes)} planes")
            kind = f"{panel.technology}, {bits}"
            for source in sources:
                toned = apply_tone(fit_stage(source, recipe, panel, turn).linear, recipe)
                data = pack(METHODS[method].reduce(task_of(toned, recipe, panel)[0], recipe), panel, turn)
                if len(set(data)) < 3:
                    continue  # one plain colour looks the same in every form
                start = time.perf_counter()
                first = guess(data, candidates_for(len(data), sizes, list(known)))[0].candidate
                seconds += time.perf_counter() - start
                tried[kind] += 1
                right[kind] += _order(first) == _order(Candidate(*host_size(panel, turn), panel.format))
        total = sum(tried.values())
        print(
            f"{method}: {sum(right.values())} of {total} first ({sum(right.values()) / total:.1%}), {seconds / total:.2f} s each"
        )
        for kind in tried:
            print(f"    {kind:28} {right[kind]:3} of {tried[kind]}")


if __name__ == "__main__":
    main()
