"""How fast behaviour is: `python -m bench.behaviour`, in processor time, with a plain loop over a million sums as the measure."""

import random
import time

from mosaic.behaviour.behaviour import Action, Behaviour, Rule, Trigger
from mosaic.behaviour.living import born, lived
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.screen_map import map_of
from mosaic.behaviour.words import Speaker
from mosaic.screens.screen import Design
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Source, Value

SCREENS, WAYS = 40, 160


def _ms(work: object, times: int) -> float:
    """The least processor time of a few runs, in ms."""
    best = float("inf")
    for _ in range(times):
        begin = time.process_time()
        work()  # type: ignore[operator]
        best = min(best, time.process_time() - begin)
    return best * 1000


def machine() -> Machine:
    """Forty screens, each leading to the next and to three more."""
    dice = random.Random(3)
    ways = [(n, n % SCREENS + 1) for n in range(1, SCREENS + 1)]
    ways += [(dice.randrange(1, SCREENS + 1), dice.randrange(1, SCREENS + 1)) for _ in range(WAYS - len(ways))]
    rules = tuple(
        Rule(f"r{n}", Trigger("after", ms=1000 + n), (Action("screen", f"screen-{to}"),), f"screen-{at}")
        for n, (at, to) in enumerate(ways)
    )
    tide = Value("v1", "tide", source=Source(every_ms=500), stand_in=StandIn("walk", at=50, every_ms=500))
    return Machine(Behaviour(rules=rules), (tide,), tuple(f"screen-{n}" for n in range(1, SCREENS + 1)), 0, {})


def main() -> None:
    made = machine()
    speaker = Speaker(made.behaviour, Design(), {ref: ref for ref in made.screens})
    plain = _ms(lambda: sum(n & 7 for n in range(1_000_000)), 5)
    laid = _ms(lambda: map_of(made, speaker, (320, 240)), 5)
    life = lived(born(made), [], 60_000)
    played = _ms(lambda: lived(born(made), [], 60_000), 3)
    print(f"a million sums in a plain loop                  {plain:8.1f} ms")
    print(f"map of {SCREENS} screens and {WAYS} ways            {laid:8.1f} ms  {laid / plain:6.3f} of it (150 ms wanted)")
    print(f"a minute of {len(life.happened)} steps with {WAYS} rules       {played:8.1f} ms  {played / plain:6.3f} of it")
    print(f"one step                                        {played / len(life.happened):8.3f} ms")


if __name__ == "__main__":
    main()
