"""Caches in the process, each bounded by bytes: for arrays, which no shared cache should carry.

Everything that outlives a request is kept in one of these, so that `held_bytes` tells what a process keeps.
"""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any

_caches: list["ByteCache"] = []


class ByteCache:
    """Keeps the values used last, up to `limit_bytes` in all. Safe to use from several threads."""

    def __init__(self, name: str, limit_bytes: int) -> None:
        self.name, self.limit_bytes = name, limit_bytes
        self._values: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self.held = 0
        self._lock = threading.Lock()
        _caches.append(self)

    def get(self, key: Hashable) -> Any:
        """The kept value, or None."""
        with self._lock:
            if key not in self._values:
                return None
            self._values.move_to_end(key)
            return self._values[key][0]

    def put(self, key: Hashable, value: Any, size: int) -> None:
        """Keep a value of so many bytes, if it fits at all; those not used for longest make room."""
        with self._lock:
            if size <= self.limit_bytes and key not in self._values:
                self._values[key] = (value, size)
                self.held += size
            while self.held > self.limit_bytes:
                _, (_, freed) = self._values.popitem(last=False)
                self.held -= freed

    def get_or_make(self, key: Hashable, make: Callable[[], Any], size_of: Callable[[Any], int]) -> Any:
        """The kept value, or a new one, which is kept if it fits at all."""
        value = self.get(key)
        if value is None:
            value = make()
            self.put(key, value, size_of(value))
        return value

    def clear(self) -> None:
        with self._lock:
            self._values.clear()
            self.held = 0


def held_bytes() -> dict[str, int]:
    """Bytes that each cache of this process holds, by its name."""
    return {cache.name: cache.held for cache in _caches}


def clear_all(*names: str) -> None:
    """Forget everything that is kept, or what the caches of these names keep."""
    for cache in _caches:
        if not names or cache.name in names:
            cache.clear()
