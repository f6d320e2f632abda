"""A cache in the process that is bounded by bytes: for arrays, which no shared cache should carry."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any


class ByteCache:
    """Keeps the values used last, up to `limit_bytes` in all. Safe to use from several threads."""

    def __init__(self, limit_bytes: int) -> None:
        self.limit_bytes = limit_bytes
        self._values: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._held = 0
        self._lock = threading.Lock()

    def get_or_make(self, key: Hashable, make: Callable[[], Any], size_of: Callable[[Any], int]) -> Any:
        """The kept value, or a new one, which is kept if it fits at all."""
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
                return self._values[key][0]
        value = make()
        size = size_of(value)
        with self._lock:
            if size <= self.limit_bytes and key not in self._values:
                self._values[key] = (value, size)
                self._held += size
            while self._held > self.limit_bytes:
                _, (_, freed) = self._values.popitem(last=False)
                self._held -= freed
        return value
