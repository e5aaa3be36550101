"""One kind of cache for the core: values under declared names, safe to share between threads."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Any, ClassVar, TypeVar

Value = TypeVar("Value")


class Cache:
    """Computed values by name and key. A subclass declares its names in ``sizes``: how many entries of each are kept
    (None: all); the entry unused for longest goes first. An undeclared name is a KeyError.

    Values are computed outside the lock: two threads that miss at once compute twice, and both get what was stored first.
    """

    sizes: ClassVar[dict[str, int | None]] = {}

    def __init__(self) -> None:
        self._lock = Lock()
        self._entries: dict[str, OrderedDict[Hashable, Any]] = {name: OrderedDict() for name in self.sizes}

    def get(self, name: str, key: Hashable, make: Callable[[], Value]) -> Value:
        """The value under ``name`` and ``key``, computed by ``make`` where there is none."""
        entries = self._entries[name]
        with self._lock:
            if key in entries:
                entries.move_to_end(key)
                found: Value = entries[key]
                return found
        made = make()
        with self._lock:
            stored: Value = entries.setdefault(key, made)
            size = self.sizes[name]
            while size is not None and len(entries) > size:
                entries.popitem(last=False)
            return stored

    def clear(self) -> None:
        """Forget all of it; it is computed again where it is asked for."""
        with self._lock:
            for entries in self._entries.values():
                entries.clear()

    def holds(self, name: str, key: Hashable) -> bool:
        """Whether a value is there already."""
        with self._lock:
            return key in self._entries[name]

    def count(self, name: str) -> int:
        """Entries under a name."""
        with self._lock:
            return len(self._entries[name])
