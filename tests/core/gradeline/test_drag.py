"""A drag that is stopped has gone as far as it can: no millimetre further in chainage or level is free."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from delgrun.core.gradeline.edits import move_ip, move_straight
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from laws import examples, looked, looks


def some_line(seed: int) -> GradeLine:
    """Six IPs, some with a held K, some circles or unsymmetrical or the longest, on whole millimetres or not."""
    rng = np.random.default_rng(seed)
    s = np.concatenate([[0.0], np.cumsum(rng.uniform(90, 250, 5))])
    z = 100 + rng.uniform(-8, 8, 6)
    if seed % 2:
        s, z = s.round(3), z.round(3)
    ips = []
    for i in range(6):
        k = float(rng.uniform(3, 12)) if 0 < i < 5 and rng.random() < 0.6 else None
        length = 0.0 if k or i in (0, 5) else float(rng.uniform(10, 60))
        kind = rng.integers(5) if 0 < i < 5 else 4
        shape = "circle" if kind == 0 else "parabola"
        share = float(rng.uniform(0.2, 0.8)) if kind == 1 else None
        held = "longest" if kind == 2 and k is None else "length"
        ips.append(
            Ip(
                chainage_m=float(s[i]),
                level_m=float(z[i]),
                curve_length_m=length,
                held_k_m_per_pct=k,
                shape=shape,
                in_share=share,
                held=held,
            )
        )
    return GradeLine(tuple(ips)).held()


@looks()
@settings(max_examples=examples(150))
@given(st.integers(0, 10**9), st.floats(-400, 400), st.floats(-40, 40))
def test_a_stopped_drag_leaves_no_millimetre_and_never_sticks(seed, along, up):
    line = some_line(seed)
    assume(line.conflict() is None)
    i = 1 + seed % 4
    ip = line.ips[i]
    want = ip.chainage_m + along, ip.level_m + up
    moved = move_ip(line, i, *want, slide=True)
    got = moved.line.ips[i]
    assert moved.line.conflict() is None
    if moved.stopped is None:
        assert (got.chainage_m, got.level_m) == pytest.approx(want, abs=0.00051)
        return
    looked()
    # Never away from where the hand went, and nothing free in front of it.
    for here, was, there in ((got.chainage_m, ip.chainage_m, want[0]), (got.level_m, ip.level_m, want[1])):
        assert min(was, there) - 0.0005 <= here <= max(was, there) + 0.0005
    for axis, there in (("chainage_m", want[0]), ("level_m", want[1])):
        here = getattr(got, axis)
        if abs(there - here) < 0.002:
            continue
        further = round(here + np.sign(there - here) * 0.0016, 3)
        beyond = replace(ip, **{"chainage_m": got.chainage_m, "level_m": got.level_m, axis: further})
        next_ips = (*line.ips[:i], beyond, *line.ips[i + 1 :])
        assert GradeLine(next_ips).held().conflict() is not None


@settings(max_examples=examples(150))
@given(st.integers(0, 10**9), st.floats(-400, 400), st.floats(-40, 40))
def test_a_drag_kept_to_its_way_stops_where_a_bisection_does(seed, along, up):
    line = some_line(seed)
    assume(line.conflict() is None)
    i = 1 + seed % 4
    ip = line.ips[i]
    moved = move_straight(line, i, ip.chainage_m + along, ip.level_m + up)
    assert moved.line.conflict() is None

    def possible(share: float) -> bool:
        there = replace(ip, chainage_m=ip.chainage_m + share * along, level_m=ip.level_m + share * up)
        return GradeLine((*line.ips[:i], there, *line.ips[i + 1 :])).held().conflict() is None

    low, high = 0.0, 1.0
    while not possible(1.0) and high - low > 1e-9:
        middle = (low + high) / 2
        low, high = (middle, high) if possible(middle) else (low, middle)
    share = 1.0 if possible(1.0) else low
    got = moved.line.ips[i]
    # Ways to the millimetre may begin and end one apart: steep ones in level, flat ones in chainage.
    steepness = max(abs(along), abs(up), 1e-9) / max(min(abs(along), abs(up)), 1e-9)
    if moved.stopped is None or steepness < 50:
        assert [got.chainage_m, got.level_m] == pytest.approx(
            [ip.chainage_m + share * along, ip.level_m + share * up], abs=0.0021 * min(steepness, 50)
        )
