"""Results kept under what they were made from: made once, evicted by bytes."""

from collections import Counter, OrderedDict
from collections.abc import Callable, Hashable, Iterator
from threading import Lock
from typing import Any, Generic, TypeVar

import numpy as np

from delgrun.service.shelf import Shelf

T = TypeVar("T")

# What all results together may take. The sections of 10 km take about 3 MB, its ground model more.
MOST_BYTES = 600 * 2**20


class Key:
    """What a result was made from: a function's name and the keys of what it used. Its hash is worked out once."""

    __slots__ = ("_hash", "parts")

    def __init__(self, *parts: Hashable) -> None:
        self.parts = parts
        self._hash = hash(parts)

    def __hash__(self) -> int:
        return self._hash

    def __repr__(self) -> str:
        return f"Key{self.parts!r}"

    def __eq__(self, other: object) -> bool:
        return self is other or (isinstance(other, Key) and self._hash == other._hash and self.parts == other.parts)


class Kept(Generic[T]):
    """A value together with the key of what it was made from."""

    __slots__ = ("key", "value")

    def __init__(self, value: T, key: Key) -> None:
        self.value = value
        self.key = key


# What anything that is no array is taken to need. [bytes]
_SMALL = 100


def arrays_of(value: object) -> Iterator[np.ndarray[Any, Any]]:
    """The arrays a result holds, however deep; in long lists of small things none are looked for."""
    if isinstance(value, np.ndarray):
        yield value
    elif isinstance(value, list | tuple):
        if value and next(arrays_of(value[0]), None) is not None:
            for v in value:
                yield from arrays_of(v)
    elif isinstance(value, dict):
        for v in value.values():
            yield from arrays_of(v)
    elif hasattr(value, "__dict__"):
        for v in vars(value).values():
            yield from arrays_of(v)


class Made:
    """Results by key. A key follows from the arguments, so that nothing is declared twice and nothing drifts.

    Arguments are `Kept` results or inputs, or plain hashable values. A result asked for by many at once is
    made once; the least recently used ones go when all together are larger than `most_bytes`.
    """

    def __init__(self, most_bytes: int = MOST_BYTES, shelf: Shelf | None = None) -> None:
        self._most = most_bytes
        self._shelf = shelf
        self._kept: OrderedDict[Key, tuple[Kept[Any], list[tuple[int, int]]]] = OrderedDict()
        # How many results hold each array: one that several share is counted once.
        self._holders: Counter[int] = Counter()
        self._bytes = 0
        self._lock = Lock()
        self._making: dict[Key, Lock] = {}

    @property
    def bytes(self) -> int:
        """What is kept now. [bytes]"""
        return self._bytes

    @staticmethod
    def _key(make: Callable[..., T], used: tuple[Any, ...]) -> Key:
        return Key(make.__module__, make.__qualname__, *(u.key if isinstance(u, Kept) else u for u in used))

    def has(self, make: Callable[..., T], *used: Any) -> Kept[T] | None:
        """The result of `make` on what it used, if it is kept; it is not made."""
        with self._lock:
            found = self._kept.get(self._key(make, used))
        return None if found is None else found[0]

    def __call__(
        self, make: Callable[..., T], *used: Any, on_shelf: type | None = None, quicker: Callable[[], T] | None = None
    ) -> Kept[T]:
        """The result of `make` on what it used; one of class `on_shelf` is also looked for, and put, on disk.

        `quicker` makes the same in less time.
        """
        key = self._key(make, used)
        with self._lock:
            found = self._kept.get(key)
            if found is not None:
                self._kept.move_to_end(key)
                return found[0]
            making = self._making.setdefault(key, Lock())
        with making:
            with self._lock:
                found = self._kept.get(key)
                if found is not None:
                    return found[0]
            kept = Kept(self._quickly(key, quicker, on_shelf) or self._from_shelf(key, make, used, on_shelf), key)
            held = [(id(a), a.nbytes) for a in arrays_of(kept.value)]
            with self._lock:
                self._kept[key] = (kept, held)
                self._count(held, 1)
                self._making.pop(key, None)
                while self._bytes > self._most and len(self._kept) > 1:
                    _, (_, gone) = self._kept.popitem(last=False)
                    self._count(gone, -1)
            return kept

    def _quickly(self, key: Key, quicker: Callable[[], T] | None, on_shelf: type | None) -> T | None:
        if quicker is None:
            return None
        value = quicker()
        if on_shelf is not None and self._shelf is not None:
            self._shelf.put(key, value)
        return value

    def _from_shelf(self, key: Key, make: Callable[..., T], used: tuple[Any, ...], cls: type | None) -> T:
        shelf = self._shelf if cls is not None else None
        if shelf is not None and cls is not None:
            found = shelf.take(key, cls)
            if found is not None:
                return found  # type: ignore[no-any-return]
        value = make(*(u.value if isinstance(u, Kept) else u for u in used))
        if shelf is not None:
            shelf.put(key, value)
        return value

    def _count(self, held: list[tuple[int, int]], sign: int) -> None:
        self._bytes += sign * _SMALL
        for array, size in held:
            if self._holders[array] == (0 if sign > 0 else 1):
                self._bytes += sign * size
            self._holders[array] += sign
            if not self._holders[array]:
                del self._holders[array]
