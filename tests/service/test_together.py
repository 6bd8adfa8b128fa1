"""Many who ask at once have one answer, and nobody an old one."""

import sys
import threading
import time
import traceback
from concurrent.futures import Future, ThreadPoolExecutor

import pytest

from delgrun.service.together import Together


def waiting() -> int:
    """How many threads wait for an answer now."""
    stacks = (traceback.walk_stack(frame) for frame in sys._current_frames().values())
    return sum(any(frame.f_code is Future.result.__code__ for frame, _ in stack) for stack in stacks)


def test_sixty_at_once_are_two_rounds_and_nobody_hears_what_was_before_he_asked():
    saved, rounds = [0], [0]
    begun, go = threading.Event(), threading.Event()

    def work() -> int:
        rounds[0] += 1
        had = saved[0]
        begun.set()
        assert go.wait(20)
        return had

    ask = Together(work)

    with ThreadPoolExecutor(70) as pool:
        first = pool.submit(ask)
        assert begun.wait(20)
        saved[0] = 1
        others = [pool.submit(ask) for _ in range(60)]
        # All but the one that waits for its turn to work.
        while waiting() < 59:
            time.sleep(0.01)
        go.set()
        assert first.result() == 0
        assert {o.result() for o in others} == {1}
    assert rounds[0] == 2


def test_what_goes_wrong_is_told_to_all_and_the_next_round_is_a_new_one():
    turn = [0]

    def work() -> str:
        turn[0] += 1
        if turn[0] == 1:
            raise OSError("the database is away")
        return "back"

    ask = Together(work)
    with pytest.raises(OSError, match="away"):
        ask()
    assert ask() == "back"
