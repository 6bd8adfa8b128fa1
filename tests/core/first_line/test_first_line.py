"""A first line: within every limit, near the ground, honest about depths."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from delgrun.core.errors import DesignInputError
from delgrun.core.first_line.first_line import beyond_depths, drained, first_line
from delgrun.core.first_line.wishes import Depths, Round
from delgrun.core.limits.checks import limit_uses
from delgrun.core.limits.limit_set import default_limits
from delgrun.core.limits.ranges import LimitRange
from laws import examples, looked, looks

S = np.arange(0.0, 3000.5, 7.5)
EVEN = default_limits(60.0)


def hills(heights: list[float], lengths: list[float], tilt: float) -> np.ndarray:
    """Ground of waves over a slope."""
    waves = [h * np.sin(2 * np.pi * S / length + i) for i, (h, length) in enumerate(zip(heights, lengths, strict=True))]
    return 200 + tilt * S + np.sum(waves, axis=0)


def test_on_an_even_slope_it_is_the_slope():
    made = first_line((S, 100 + 0.03 * S), (0.0, 3000.0), EVEN, Depths(cut_m=0.5, fill_m=0.5))
    assert len(made.line.ips) == 2 and made.line.ips[1].level_m == pytest.approx(190.0, abs=1e-3)
    assert made.too_deep == made.too_high == []


@settings(max_examples=examples(20))
@given(
    st.lists(st.floats(0.5, 12), min_size=3, max_size=3),
    st.lists(st.floats(150, 1500), min_size=3, max_size=3),
    st.floats(-0.03, 0.03),
    st.sampled_from([40.0, 60.0, 90.0]),
    st.booleans(),
)
def test_it_keeps_every_limit_and_lies_nearer_to_the_ground_than_a_straight_one(heights, lengths, tilt, speed, tied):
    ground = hills(heights, lengths, tilt)
    # Where the flattest grade is asked of flat ground, it leads away from it.
    limits = replace(default_limits(speed), min_grade=0.005 if tied else 0.0)
    if tied:
        limits = replace(limits, start_level_m=ground[0] + 0.4, start_grade=tilt, end_level_m=ground[-1] - 0.3)
    assume(abs(ground[-1] - ground[0]) <= limits.max_grade * 2900)
    line = first_line((S, ground), (0.0, 3000.0), limits, Depths()).line
    # The flattest grade is kept where it can be: a tie-in may be flatter, and flat ground leave no other way.
    assert [u.check for u in limit_uses(line, limits) if u.fails and u.check != "flattest_grade"] == []
    if tied:
        assert line.level_m[[0, -1]].tolist() == [limits.start_level_m, limits.end_level_m]
        assert line.grade[0] == pytest.approx(tilt, abs=1e-4)
    level = np.interp(S, [0.0, 3000.0], line.level_m[[0, -1]])
    assert tied or np.abs(line.levels(S) - ground).mean() <= np.abs(level - ground).mean() + 0.01
    assert len(line.ips) <= 3000 / max(limits.min_ip_spacing_m, 20) + 2


@looks()
@settings(max_examples=examples(12), deadline=None)
@given(
    st.lists(st.floats(0.5, 9), min_size=3, max_size=3), st.lists(st.floats(250, 1500), min_size=3, max_size=3),
    st.floats(-0.02, 0.02), st.sampled_from([40.0, 60.0, 90.0]), st.booleans(),
)  # fmt: skip
def test_where_it_is_round_it_is_so_in_all_but_the_last_grade_and_keeps_every_limit(
    heights, lengths, tilt, speed, tied
):
    ground = hills(heights, lengths, tilt)
    limits = default_limits(speed)
    if tied:
        limits = replace(limits, start_level_m=ground[0] + 0.4, start_grade=0.0123, end_level_m=ground[-1] - 0.3)
    assume(abs(ground[-1] - ground[0]) <= limits.max_grade * 2900)
    plain = first_line((S, ground), (0.0, 3000.0), limits, Depths())
    made = first_line((S, ground), (0.0, 3000.0), limits, Depths(), even=Round())
    breaks = [u for u in limit_uses(made.line, limits) if u.fails]
    assert {u.check for u in breaks} <= {u.check for u in limit_uses(plain.line, limits) if u.fails}, breaks
    if made.uneven:
        assert made.line == plain.line
        return
    looked()
    grades = np.round(made.line.grade[1 if tied else 0 : -1] / 0.001, 4)
    assert np.abs(grades - np.round(grades)).max(initial=0.0) < 0.01
    fives = made.line.chainage_m / 5
    assert (np.abs(fives - np.round(fives)) < 1e-6).mean() > 0.7


def test_depths_are_kept_where_they_can_be_and_else_told():
    # Gentle waves, and one bank of 14 m that no line at 90 km/h gets over within 3 m.
    ground = hills([2.0, 1.0, 0.5], [900.0, 400.0, 250.0], 0.0) + 14 * np.exp(-(((S - 1500) / 60) ** 2))
    free = first_line((S, ground), (0.0, 3000.0), default_limits(90.0), Depths())
    kept = first_line((S, ground), (0.0, 3000.0), default_limits(90.0), Depths(cut_m=8.0, fill_m=3.0))
    over = ground - kept.line.levels(S)
    assert over.max() < (ground - free.line.levels(S)).max()
    assert over.max() > 8.0 and len(kept.too_deep) == 1
    (a, b, by) = kept.too_deep[0]
    assert 1400 < a <= 1500 <= b < 1600 and by == pytest.approx(over.max() - 8.0, abs=0.1)
    assert (over[(a - 15 > S) | (b + 15 < S)] < 8.05).all()
    said = beyond_depths(kept, Depths(cut_m=8.0, fill_m=3.0))
    assert said[0].startswith("From 1+") and "the cut is deeper than 8.00 m, by up to" in said[0]


def test_ends_that_no_line_joins_are_refused():
    with pytest.raises(DesignInputError, match=r"From end to end it is 10\.00 %, the steepest allowed is 9\.00 %"):
        first_line((S, 100 + 0.1 * S), (0.0, 3000.0), EVEN, Depths())


def test_a_range_binds_where_it_is_and_not_the_whole_road():
    """A village of 300 m with 3 % on a hillside that goes up and down by 8 %: only there the line leaves the ground."""
    ground = 200 + 18 * np.sin(2 * np.pi * S / 1400)
    village = [LimitRange(from_m=1300, to_m=1600, max_grade=0.03, min_ip_spacing_m=150, min_crest_k_m_per_pct=20)]
    limits = replace(default_limits(60.0), min_grade=0.0)
    free = first_line((S, ground), (0.0, 3000.0), limits, Depths()).line
    kept = first_line((S, ground), (0.0, 3000.0), limits.with_ranges(village), Depths()).line
    assert [u.check for u in limit_uses(kept, limits.with_ranges(village)) if u.fails] == []
    off = [np.abs(line.levels(S) - ground) for line in (free, kept)]
    away = (S < 900) | (S > 2000)
    assert off[1][away].mean() < off[0][away].mean() + 0.1
    assert np.abs(np.diff(kept.levels(S))).max() > 0.06 * 7.5


def test_over_ground_that_is_too_flat_it_rolls_or_is_even_and_says_why():
    """A plain of 0.1 % with a decimetre of noise, as surveyed each 20 m."""
    rng = np.random.default_rng(3)
    ground = 50 + 0.001 * S + np.interp(S, np.arange(0, 3020, 20), rng.normal(0, 0.1, 151))
    limits = replace(EVEN, min_grade=0.005)
    for tie in ({}, {"start_level_m": 50.2, "end_level_m": 53.1}):
        rolls = first_line((S, ground), (0.0, 3000.0), replace(limits, **tie), Depths())
        assert rolls.flattest == 0.005 and not [u for u in limit_uses(rolls.line, replace(limits, **tie)) if u.fails]
        assert np.abs(rolls.line.levels(S) - ground).mean() < 0.6
        (said,) = drained(rolls, "roll", lambda line: f"{len(line.ips)} EUR")
        assert "The ground is flatter than 0.50 %" in said and f"by turns and costs {len(rolls.line.ips)} EUR;" in said
        # Between two levels that are given no even grade of half a percent leads.
        assert said.endswith("keeps no limits here." if tie else "would be the other choice and costs 2 EUR.")
    even = first_line((S, ground), (0.0, 3000.0), limits, Depths(), "even").line
    assert len(even.ips) == 2 and even.grade[0] == pytest.approx(0.005, abs=1e-6)
    steep = first_line((S, 50 + 0.02 * S), (0.0, 3000.0), limits, Depths())
    assert steep.flattest == 0 and drained(steep, "roll") == []
