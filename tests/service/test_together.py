"""Many who ask at once have one answer, and nobody an old one."""

import threading
import time
from concurrent.futures import ThreadPoolExecutor

import pytest

from delgrun.service.together import Together


def test_sixty_at_once_are_two_rounds_and_nobody_hears_what_was_before_he_asked():
    saved, rounds, asked = [0], [0], [0]
    begun, go = threading.Event(), threading.Event()

    def work() -> int:
        rounds[0] += 1
        had = saved[0]
        begun.set()
        assert go.wait(20)
        return had

    ask = Together(work)

    def one() -> int:
        asked[0] += 1
        return ask()

    with ThreadPoolExecutor(70) as pool:
        first = pool.submit(ask)
        assert begun.wait(20)
        saved[0] = 1
        others = [pool.submit(one) for _ in range(60)]
        while asked[0] < 60:
            time.sleep(0.01)
        time.sleep(0.2)
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
