"""Limits by chainage: which range holds where, against the rules said in words, and checks that follow them."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import BY_ID, brief, limit_uses
from delgrun.core.limits.limit_set import LimitSet, default_limits
from delgrun.core.limits.ranges import STRICTER, LimitRange, LimitRanges
from delgrun.core.search.local import everywhere

BASE = default_limits(70.0)


def limits(*ranges: LimitRange, **own) -> LimitSet:
    return replace(BASE, **own).with_ranges(ranges)


def test_a_range_inside_another_replaces_it_and_between_equals_the_stricter_holds():
    village = LimitRange(from_m=100, to_m=900, design_speed_kmh=50, max_grade=0.05, min_crest_k_m_per_pct=7)
    bridge = LimitRange(from_m=300, to_m=400, max_grade=0.03, design_speed_kmh=60)
    beside = LimitRange(from_m=800, to_m=1200, max_grade=0.06, min_crest_k_m_per_pct=12)
    of = limits(village, bridge, beside)
    grades = of.steps("max_grade")
    assert [grades.over(s, s) for s in (50, 200, 350, 850, 1000, 1500)] == [0.08, 0.05, 0.03, 0.05, 0.06, 0.08]
    # A looser one inside a stricter one replaces it there; K in the bridge is the village's, since it says none.
    assert of.over("design_speed_kmh", 350, 350) == 60
    assert of.over("min_crest_k_m_per_pct", 350, 350) == 7
    # A curve keeps what holds in every range that it touches, and a range that it only meets is none of them.
    assert of.over("min_crest_k_m_per_pct", 500, 820) == 12
    assert of.over("min_crest_k_m_per_pct", 500, 800) == 7
    assert of.over("min_crest_k_m_per_pct", 60, 140) == 17
    assert list(grades.along(250, 450)) == [(250, 300, 0.05), (300, 400, 0.03), (400, 450, 0.05)]


ROWS = st.lists(
    st.tuples(st.integers(0, 12), st.integers(1, 8), st.sampled_from([None, 0.03, 0.05, 0.09, 0.12])), max_size=6
)


@given(ROWS, st.integers(0, 20), st.integers(0, 6))
def test_it_is_what_the_rules_say_at_every_place(rows, start, length):
    ranges = [LimitRange(from_m=a, to_m=a + n, max_grade=g) for a, n, g in rows]
    of = limits(*ranges).steps("max_grade")

    def at(s: float) -> float:
        """By the words: of ranges that say something here, those that hold none of the others; of them the stricter."""
        here = [r for r in ranges if r.max_grade is not None and r.from_m < s < r.to_m]
        inner = [
            r.max_grade
            for r in here
            if not any(
                q.from_m >= r.from_m and q.to_m <= r.to_m and (q.from_m, q.to_m) != (r.from_m, r.to_m) for q in here
            )
        ]
        return min(inner) if inner else BASE.max_grade

    middles = [start + k + 0.5 for k in range(length)]
    strictest = min(map(at, middles)) if middles else min(at(start - 0.5), at(start + 0.5))
    assert of.over(start, start + length) == strictest
    for a, b, value in of.along(start, start + length) if length else ():
        assert all(at(s) == value for s in middles if a < s < b)
    assert of.at(np.array([start + 0.5])).tolist() == [at(start + 0.5)]


@given(ROWS)
def test_strictest_and_loosest_bound_what_holds_anywhere(rows):
    def row(a: int, n: int, g: float | None) -> LimitRange:
        return LimitRange(from_m=a, to_m=a + n, max_grade=g, longest_tangent_m=None if g is None else 1000 * g)

    of = limits(*(row(*r) for r in rows))
    strict, loose = everywhere(of, "strictest"), everywhere(of, "loosest")
    assert strict.ranges == loose.ranges == ()
    for s in np.arange(-0.5, 22):
        assert strict.max_grade <= of.over("max_grade", s, s) <= loose.max_grade
    # Free somewhere is free for what must know of all lines.
    assert loose.longest_tangent_m is None
    assert set(STRICTER) <= set(vars(strict))


def test_checks_follow_the_ranges():
    line = GradeLine.of(
        [
            Ip(chainage_m=0, level_m=100), Ip(chainage_m=400, level_m=124, curve_length_m=180),
            Ip(chainage_m=800, level_m=104, curve_length_m=200), Ip(chainage_m=1200, level_m=104.2),
        ]
    )  # fmt: skip
    village = LimitRange(from_m=450, to_m=700, max_grade=0.04, min_crest_k_m_per_pct=30, design_speed_kmh=100)
    fails = {
        (u.check, u.from_chainage_m, u.to_chainage_m, u.limit) for u in limit_uses(line, limits(village)) if u.fails
    }
    # The crest from 310 to 490 touches it; of the line, curve and all, only what lies in it is too steep.
    steep = [(a, b) for check, a, b, _ in sorted(fails) if check == "steepest_grade"]
    assert steep == [(450.0, 490.0), (490.0, 700.0)] and ("crest_k", 310.0, 490.0, 30.0) in fails
    assert not any(check == "steepest_grade" and a < 450 for check, a, _, _ in fails)
    # Who drives in the range needs the sight of its speed.
    slow, fast = Checked(line, limits()).ahead, Checked(line, limits(village)).ahead
    inside = (slow.at_m > 450) & (slow.at_m < 700)
    assert (fast.needed_m[inside] > slow.needed_m[inside] + 50).all()
    assert fast.needed_m[~inside][:30] == pytest.approx(slow.needed_m[~inside][:30])


def test_tangents_between_curves_and_depths_have_limits():
    line = GradeLine.of(
        [
            Ip(chainage_m=0, level_m=0), Ip(chainage_m=200, level_m=8, curve_length_m=100),
            Ip(chainage_m=330, level_m=4, curve_length_m=100), Ip(chainage_m=600, level_m=10),
        ]
    )  # fmt: skip
    (use,) = BY_ID["shortest_tangent"].uses(Checked(line, limits(min_tangent_m=40.0)))
    assert (use.value, use.limit, use.fails) == (30.0, 40.0, True)
    assert not list(BY_ID["shortest_tangent"].uses(Checked(line, limits())))


def test_curves_with_a_high_point_are_not_to_be_too_flat_about_it():
    """51 m/% (167 ft/%) beside kerbs: "A Policy on Geometric Design of Highways and Streets", from memory."""
    line = GradeLine.of(
        [
            Ip(chainage_m=0, level_m=0), Ip(chainage_m=400, level_m=8, curve_length_m=300),
            Ip(chainage_m=800, level_m=0, curve_length_m=100), Ip(chainage_m=1200, level_m=-16),
        ]
    )  # fmt: skip
    uses = list(BY_ID["drained_k"].uses(Checked(line, limits(most_drained_k_m_per_pct=51.0))))
    # The second curve goes down on both sides: it has no such point.
    assert [(u.ip, u.value, u.fails) for u in uses] == [(1, pytest.approx(75.0), True)]
    assert brief(uses[0]) == "K 75, at most 51 to drain, more by 24"


def test_a_range_without_length_or_grade_is_refused():
    with pytest.raises(DesignInputError, match=r"from 0\+200.00 to 0\+100.00 has no length"):
        LimitRanges(rows=(LimitRange(from_m=200, to_m=100),)).check()
    with pytest.raises(DesignInputError, match="flattest grade must be less"):
        LimitRanges(rows=(LimitRange(from_m=0, to_m=100, max_grade=0.02, min_grade=0.03),)).check()


def test_a_steepest_grade_holds_on_the_line_itself_curves_included():
    """Random lines of all shapes under random ranges of rise and fall: the check fails where, and only where, the line
    walked by decimetres is steeper than what holds there."""
    rng = np.random.default_rng(4)
    failed = in_curves = 0
    for _ in range(250):
        n = int(rng.integers(3, 7))
        s = np.cumsum(rng.uniform(80, 300, n)).round(1)
        z = np.cumsum(rng.normal(0, 8, n)).round(2)
        room = np.minimum(np.diff(s)[:-1], np.diff(s)[1:]) * 0.95
        length = room * rng.choice([0.0, 0.5, 1.0], n - 2)
        share_in = rng.choice([None, 0.4, 0.6], n - 2)
        ips = [Ip(chainage_m=float(a), level_m=float(b)) for a, b in zip(s, z, strict=True)]
        for i in range(1, n - 1):
            shape = "circle" if share_in[i - 1] is None and rng.random() < 0.2 else "parabola"
            own = float(length[i - 1]) * (1.0 if share_in[i - 1] is None else 0.75)
            ips[i] = replace(ips[i], curve_length_m=own, in_share=share_in[i - 1], shape=shape)
        line = GradeLine(tuple(ips))
        if line.conflict():
            continue
        ranges = []
        for _ in range(int(rng.integers(1, 4))):
            a = float(rng.choice(s[1:-1])) if rng.random() < 0.3 else float(rng.uniform(s[0] - 50, s[-1]))
            b = a + float(rng.uniform(20, 400))
            own = {"max_grade": float(rng.uniform(0.01, 0.1)) if rng.random() < 0.8 else None}
            own["max_fall"] = float(rng.uniform(0.01, 0.1)) if rng.random() < 0.4 else None
            ranges.append(LimitRange(from_m=a, to_m=b, **own))
        base = default_limits(60.0)
        under = replace(base, max_grade=0.08, max_fall=0.07 if rng.random() < 0.3 else None).with_ranges(ranges)
        found = [u for u in BY_ID["steepest_grade"].uses(Checked(line, under)) if u.fails]
        at = np.arange(s[0] + 0.05, s[-1], 0.1)
        g, rise, fall = line.grades(at), under.steps("max_grade").at(at), under.steps("max_fall").at(at)
        over = np.where(g >= 0, g - rise, -g - np.where(np.isnan(fall), rise, fall))
        # As near to a limit as a walk tells nothing of.
        for u in found:
            near = (at > u.from_chainage_m - 0.2) & (at < u.to_chainage_m + 0.2)
            assert over[near].max() > -2e-4, (u, over[near].max())
        told = np.zeros(len(at), dtype=bool)
        for u in found:
            # Half a curve that no range begins in is told with the tangent it turns from.
            told |= (at >= line.curve_start_m[u.ip]) & (at <= line.curve_end_m[u.ip + 1])
        assert not (~told & (over > 2e-4)).any()
        failed += len(found)
        in_curves += sum(
            any(
                a < u.to_chainage_m and u.from_chainage_m < b
                for a, b in zip(line.curve_start_m[1:-1], line.curve_end_m[1:-1], strict=True)
            )
            for u in found
        )
    assert failed > 100 and in_curves > 50
