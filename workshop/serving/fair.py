"""A queue in which everybody has a turn: one maker with fifty requests waits behind none of another's fifty, but beside them."""

from collections import OrderedDict, deque
from typing import Any


class FairQueue:
    """Takes tasks in and gives them out by turns of whoever sent them, each one's own in the order in which they came.

    It stands in the place of a `deque`: `append`, `popleft`, `len` and truth are what a dispatcher asks of one.
    """

    def __init__(self) -> None:
        self._waiting: OrderedDict[str, deque[Any]] = OrderedDict()
        self._count = 0

    def append(self, task: Any) -> None:
        self._waiting.setdefault(sender_of(task), deque()).append(task)
        self._count += 1

    def popleft(self) -> Any:
        if not self._count:
            raise IndexError("nothing waits")
        sender, tasks = next(iter(self._waiting.items()))
        task = tasks.popleft()
        self._count -= 1
        # Whoever had a turn stands at the end again.
        del self._waiting[sender]
        if tasks:
            self._waiting[sender] = tasks
        return task

    def __len__(self) -> int:
        return self._count


def sender_of(task: Any) -> str:
    """Who sent a task: by the session of its request, or where there is none by its address."""
    requests = getattr(task, "requests", None)
    cookies = requests[0].headers.get("COOKIE", "") if requests else ""
    for part in cookies.split(";"):
        name, _, value = part.strip().partition("=")
        if name == "sessionid":
            return str(value)
    return str(getattr(task, "addr", ("",))[0])
