"""The kinds of long work. Stations hand them in; a new kind is its function and an entry in a station's tuple."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from mosaic.errors import UnknownNameError
from workshop.jobs.models import Job
from workshop.jobs.progress import Made, Progress


@dataclass(frozen=True)
class JobKind:
    """One kind: what it is called while it runs and when it is done, and what does it.

    `shows_itself` is one whose page shows what was made, so that it is loaded again at the end.
    """

    name: str
    running: str
    take: str
    media_type: str
    run: Callable[[Job, Progress], Made]
    shows_itself: bool = True


_kinds: dict[str, JobKind] = {}


def register(kinds: Iterable[JobKind]) -> None:
    """Make kinds known; one that is known already stays."""
    for kind in kinds:
        if _kinds.setdefault(kind.name, kind) is not kind:
            raise ValueError(f"two kinds of long work are named {kind.name!r}")


def kind_of(name: str) -> JobKind:
    """The kind of this name; raises `UnknownNameError`."""
    if name not in _kinds:
        raise UnknownNameError(f"no kind of long work is named {name!r}; known: {', '.join(_kinds)}")
    return _kinds[name]
