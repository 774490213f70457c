"""A bounded store that several threads may use at once: what was used longest ago makes room."""

from threading import RLock
from typing import Generic, TypeVar

from cachetools import LRUCache

K = TypeVar("K")
V = TypeVar("V")


class Kept(Generic[K, V]):
    """The last few values by key."""

    def __init__(self, most: int) -> None:
        self._lru: LRUCache[K, V] = LRUCache(most)
        self._turn = RLock()

    def get(self, key: K) -> V | None:
        """What is kept under a key, or None."""
        with self._turn:
            return self._lru.get(key)

    def keep(self, key: K, value: V) -> V:
        """Keep a value and give it back."""
        with self._turn:
            self._lru[key] = value
        return value

    def clear(self) -> None:
        """Keep nothing."""
        with self._turn:
            self._lru.clear()

    def __contains__(self, key: object) -> bool:
        with self._turn:
            return key in self._lru

    def __len__(self) -> int:
        with self._turn:
            return len(self._lru)
