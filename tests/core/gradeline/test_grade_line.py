"""Grade lines against hand sums and closed forms (reference values, section 1)."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline import edits
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from laws import looked, looks
from reference import VALUES


def line(*rows: tuple[float, float, float]) -> GradeLine:
    return GradeLine.of([Ip(chainage_m=s, level_m=z, curve_length_m=length) for s, z, length in rows])


def test_handbook_example():
    # Nothing in it depends on the unit of length.
    want = VALUES["1.1"]
    handbook = line(*want["ips"])
    assert handbook.levels(np.arange(31) * 100.0) == pytest.approx(want["levels_by_station"], abs=0.0006)
    assert [handbook.k(1), handbook.k(2)] == pytest.approx(want["k"], abs=0.01)
    (s1, z1, kind1), (s2, z2, kind2) = handbook.turning_points()
    assert (kind1, kind2) == ("high", "low")
    assert [s1, z1, s2, z2] == pytest.approx([*want["high"], *want["low"]], abs=0.006)
    at_ips = handbook.levels(np.array([850.0, 2150.0]))
    assert [324.30 - at_ips[0], at_ips[1] - 297.00] == pytest.approx(want["offsets"], abs=1e-9)


def test_longest_parabola_that_fits():
    want = VALUES["1.4"]
    base = line(*want["ips"])
    longest = want["longest_at_500"]
    assert base.room_m(2) == pytest.approx(longest)
    assert edits.set_length(base, 2, longest).line.ips[2].curve_length_m == longest
    with pytest.raises(DesignInputError, match=r"room for 320\.00 m"):
        edits.set_length(base, 2, want["refused"])


def test_degenerate_lines():
    # Reference 1.7.
    straight = line((0, 10, 0), (100, 11, 80), (200, 12, 0))
    assert straight.k(1) == np.inf and straight.turning_points() == []
    assert straight.levels(np.array([70.0, 100.0])) == pytest.approx([10.7, 11.0])
    assert line((0, 10, 0), (100, 11, 80), (200, 14, 0)).turning_points() == []
    kink = line((0, 10, 0), (100, 11, 0), (200, 10, 0))
    assert kink.turning_points() == [(100.0, 11.0, "high")]
    with pytest.raises(DesignInputError, match="does not lie after"):
        line((0, 10, 0), (0, 11, 0))
    assert np.isnan(straight.levels(np.array([-1.0, 201.0]))).all()


def _random_line(draw) -> GradeLine:
    gaps = draw(st.lists(st.floats(20, 300), min_size=2, max_size=8))
    s = np.concatenate([[0.0], np.cumsum(gaps)])
    z = draw(st.lists(st.floats(0, 60), min_size=len(s), max_size=len(s)))
    share = draw(st.lists(st.floats(0, 1), min_size=len(s), max_size=len(s)))
    length = [0.0] + [share[i] * min(gaps[i - 1], gaps[i]) for i in range(1, len(s) - 1)] + [0.0]
    return line(*zip(s, z, length, strict=True))


random_lines = st.composite(_random_line)()


@given(random_lines)
def test_a_line_read_backwards_is_the_same_line(forward):
    end = forward.chainage_m[-1]
    rows = [(end - p.chainage_m, p.level_m, p.curve_length_m) for p in reversed(forward.ips)]
    s = np.linspace(0, end, 97)
    assert line(*rows).levels(end - s) == pytest.approx(forward.levels(s), abs=1e-9)


@given(random_lines)
def test_levels_are_the_twice_integrated_curvature(slow):
    # A slow twin: piece the line together from tangents and z = z0 + g1 x + (g2 - g1) x^2 / (2 L).
    s = np.linspace(0, slow.chainage_m[-1], 203)
    want = np.interp(s, slow.chainage_m, slow.level_m)
    for i in range(1, len(slow.ips) - 1):
        a, b = slow.curve_start_m[i], slow.curve_end_m[i]
        inside = (s >= a) & (s <= b)
        if b > a:
            (g1, g2), x = slow.grade[i - 1 : i + 1], s[inside] - a
            want[inside] = slow.level_m[i] - g1 * (b - a) / 2 + g1 * x + (g2 - g1) * x**2 / (2 * (b - a))
    assert slow.levels(s) == pytest.approx(want, abs=1e-8)


@looks()
@given(random_lines, st.data())
def test_a_drag_never_breaks_the_line_and_stops_at_the_last_possible_place(before, data):
    i = data.draw(st.integers(0, len(before.ips) - 1))
    to_s = data.draw(st.floats(-100, before.chainage_m[-1] + 100))
    to_z = data.draw(st.floats(-20, 80))
    result = edits.move_ip(before, i, to_s, to_z, slide=True)
    assert result.line.conflict() is None
    if result.stopped is None or i in (0, len(before.ips) - 1):
        return
    assume(before.ips[i].curve_length_m > 0)
    looked()
    at = result.line.ips[i]
    if at.level_m == pytest.approx(to_z, abs=0.002) and abs(at.chainage_m - to_s) > 0.01:
        # Two millimetres further on towards the pointer there is no room.
        further = at.chainage_m + np.copysign(0.002, to_s - at.chainage_m)
        with pytest.raises(DesignInputError):
            edits.move_ip(result.line, i, further, to_z, slide=False)


def test_a_held_k_follows_the_grades_and_a_held_length_does_not():
    base = line((0, 10, 0), (200, 18, 60), (400, 10, 0))
    held = edits.set_k(base, 1, 20.0).line
    assert held.ips[1].curve_length_m == pytest.approx(160.0) and held.k(1) >= 20.0
    flatter = edits.move_ip(held, 1, 200.0, 15.0, slide=False).line
    assert flatter.ips[1].curve_length_m == pytest.approx(100.0)
    by_length = edits.set_length(flatter, 1, 80.0).line
    assert edits.move_ip(by_length, 1, 200.0, 18.0, slide=False).line.ips[1].curve_length_m == 80.0


def test_adding_and_deleting_an_ip():
    base = line((0, 10, 0), (200, 18, 60), (400, 10, 0))
    added = edits.add_ip(base.under(lambda *asked: 500.0), 300.0, 14.0)
    # Room up to the neighbour's curve end at 230: 2 * 70.
    assert added.selected == 2 and added.line.ips[2].curve_length_m == pytest.approx(140.0)
    assert edits.delete_ip(added.line, 2).line == base
    with pytest.raises(DesignInputError, match="clear of the curves"):
        edits.add_ip(base, 210.0, 14.0)
    with pytest.raises(DesignInputError):
        edits.delete_ip(base, 0)
    assert edits.set_grade(base, 1, 0.03, "in").line.ips[1].level_m == pytest.approx(16.0)
