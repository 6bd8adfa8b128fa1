"""One answer for all who ask for the same at once."""

import threading
from collections.abc import Callable
from concurrent.futures import Future
from typing import Generic, TypeVar

T = TypeVar("T")


class Together(Generic[T]):
    """Work that many ask for: one does it, and those who ask before it begins have the same answer.

    Who asks while it is under way waits for the next round, so that nobody is told what was true before he asked.
    """

    def __init__(self, work: Callable[[], T]) -> None:
        self._work = work
        self._lock, self._one_at_a_time = threading.Lock(), threading.Lock()
        self._next: Future[T] | None = None

    def __call__(self) -> T:
        with self._lock:
            answer, first = self._next, self._next is None
            if answer is None:
                answer = self._next = Future()
        if first:
            with self._one_at_a_time:
                with self._lock:
                    self._next = None
                try:
                    answer.set_result(self._work())
                except BaseException as e:
                    answer.set_exception(e)
        return answer.result()
