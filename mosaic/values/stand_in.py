"""Courses of values for pages, tests and simulation: each gives the same values for the same seed and moment."""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

By = Literal["constant", "ramp", "sine", "walk", "clock", "list", "replay", "by hand", "live"]
MOST_LISTED, MOST_REPLAYED = 200, 5000


@dataclass(frozen=True)
class StandIn:
    """What a value does while no device is there.

    Attributes
    ----------
    by : "constant"; "ramp" from lowest to highest and again; "sine" between them; "walk": at random, by its seed, a step at a
        time; "clock": seconds or days go on; "list": the given ones in turn; "replay": those with times; "by hand": as set on
        the page; "live": as the maker's own program sends them.
    at : raw, where it begins, and all there is of a constant. every_ms : from one to the next.
    period_s : of ramp and sine, until they come round. seed : of the walk. reach : raw, the longest step of the walk; 0 for an
        eighth of the range.
    listed : raw numbers, or texts, in turn. replayed : (ms since the beginning, raw).
    """

    by: By = "constant"
    at: Annotated[int, Meta(ge=-1_000_000_000, le=1_000_000_000)] | None = None
    every_ms: Annotated[int, Meta(ge=10, le=86_400_000)] = 1000
    period_s: Annotated[int, Meta(ge=1, le=31_536_000)] = 60
    seed: Annotated[int, Meta(ge=0, le=2_147_483_647)] = 1
    reach: Annotated[int, Meta(ge=0, le=1_000_000_000)] = 0
    listed: Annotated[tuple[int | Annotated[str, Meta(max_length=80)] | None, ...], Meta(max_length=MOST_LISTED)] = ()
    replayed: Annotated[
        tuple[tuple[Annotated[int, Meta(ge=0, le=2_147_483_647)], int | None], ...], Meta(max_length=MOST_REPLAYED)
    ] = ()  # fmt: skip
