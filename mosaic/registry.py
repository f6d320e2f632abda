"""One kind of registry for every family: methods, formats, exporters, rules, panels."""

import difflib
from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import TypeVar

from mosaic.errors import DoubleNameError, UnknownNameError

T = TypeVar("T")


class Registry(Mapping[str, T]):
    """An ordered, read-only mapping of names to members.

    Parameters
    ----------
    kind : str
        What the members are, for messages ("reduction method").
    members : iterable
        In the order in which they shall be shown.
    name_of : callable
        Gives the name under which a member is kept.

    Raises
    ------
    DoubleNameError
        Two members have one name.
    """

    def __init__(self, kind: str, members: Iterable[T], name_of: Callable[[T], str]) -> None:
        self.kind = kind
        self._members: dict[str, T] = {}
        for member in members:
            name = name_of(member)
            if name in self._members:
                raise DoubleNameError(f"there are two entries named {name!r} among {kind}s")
            self._members[name] = member

    def __getitem__(self, name: str) -> T:
        try:
            return self._members[name]
        except KeyError:
            raise UnknownNameError(self._unknown(name)) from None

    def __iter__(self) -> Iterator[str]:
        return iter(self._members)

    def __len__(self) -> int:
        return len(self._members)

    def __contains__(self, name: object) -> bool:
        return name in self._members

    def _unknown(self, name: str) -> str:
        near = difflib.get_close_matches(str(name), self._members, n=3, cutoff=0.5)
        if near:
            return f"no {self.kind} is named {name!r}; near it: {', '.join(near)}"
        return f"no {self.kind} is named {name!r}; known: {', '.join(self._members)}"
