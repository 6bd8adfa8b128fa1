"""Results are made once, kept under what they used, and bounded in bytes."""

import threading
import time

import numpy as np
import pytest

from delgrun.service.made import Kept, Key, Made

_made: list[str] = []


def twice(x: int) -> int:
    time.sleep(0.05)
    _made.append("twice")
    return 2 * x


def big(size: int) -> np.ndarray:
    return np.zeros(size)


def wrapped(inner: np.ndarray) -> tuple[np.ndarray, int]:
    return inner, 1


def fails() -> int:
    raise ValueError("no")


def test_a_value_asked_for_by_many_at_once_is_made_once():
    made = Made()
    got: list[int] = []
    threads = [threading.Thread(target=lambda: got.append(made(twice, 3).value)) for _ in range(8)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert got == [6] * 8 and len(_made) == 1
    assert made(twice, 4).value == 8 and len(_made) == 2


def test_what_is_kept_is_bounded_in_bytes_and_shared_arrays_count_once():
    made = Made(most_bytes=10_000)
    one = made(big, 1000)
    before = made.bytes
    assert made(wrapped, one).value[0] is one.value and made.bytes - before < 1000
    for size in range(100, 1100, 100):
        made(big, size)
        assert made.bytes <= 10_000
    # The first went to make room, and is made anew, the same.
    assert made(big, 1000).value.shape == (1000,)


def test_keys_follow_from_what_was_used():
    made = Made()
    a, b = Kept(5, Key("input", 5)), Kept(5, Key("input", 5))
    assert made(twice, a) is made(twice, b)
    assert made(twice, Kept(5, Key("other", 5))) is not made(twice, a)


def test_a_failed_value_is_tried_again():
    made = Made()
    for _ in range(2):
        with pytest.raises(ValueError, match="no"):
            made(fails)
