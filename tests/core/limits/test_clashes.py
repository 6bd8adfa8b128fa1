"""What no line can keep together: told where levels are too far apart, and never of what a line keeps."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.controls.bands import Band
from delgrun.core.limits.clashes import clashes
from delgrun.core.limits.limit_set import LimitSet, default_limits
from delgrun.core.limits.ranges import LimitRange
from lines import IPS, random_line

BASE = replace(default_limits(60.0), max_grade=0.08)


def point(what: str, at: float, low: float, high: float) -> Band:
    return Band("control", 0, what, np.array([at]), np.zeros(1), low, high)


def said(limits: LimitSet, ground=None) -> list[str]:
    return [c.sentence for c in clashes(limits, (0.0, 2000.0), ground)]


def test_two_controls_too_far_apart_for_their_distance():
    creek, pipe = point("creek", 500, 110.0, np.inf), point("pipe", 700, -np.inf, 93.9)
    (words,) = said(BASE.with_bands([creek, pipe]))
    assert words.startswith(
        "“creek” at 0+500.00 and “pipe” at 0+700.00 can't both be kept: 16.10 m in level over 200 m"
    )
    assert "8.05 %" in words and "the steepest grade is 8.00 %" in words
    # A range between them that may be steeper, or a fall of its own, changes that.
    assert said(BASE.with_bands([creek, pipe]).with_ranges([LimitRange(from_m=550, to_m=650, max_grade=0.09)])) == []
    assert said(replace(BASE, max_fall=0.09).with_bands([creek, pipe])) == []
    # Not next to each other, and with tie-ins.
    between = point("between", 600, 0.0, 500.0)
    tied = replace(BASE, start_level_m=69.0, end_level_m=10.0).with_bands([creek, between, pipe])
    assert [("start" in w, "pipe" in w, "end" in w) for w in said(tied)] == [(True, False, False), (False, True, False)]


def test_one_place_depths_and_grades():
    (words,) = said(BASE.with_bands([point("creek", 500, 101.0, np.inf), point("wire", 500, -np.inf, 100.0)]))
    assert "no level there suits both, they miss by 1.00 m" in words
    s = np.arange(0.0, 2001.0, 10.0)
    cliff = np.where(s < 1000, 100.0, 120.0)
    deep = replace(BASE, most_cut_m=3.0, most_fill_m=3.0)
    assert "the steepest grade is 8.00 %" in said(deep, (s, cliff))[0]
    assert said(replace(deep, most_cut_m=15.0, most_fill_m=15.0), (s, cliff)) == []
    flat = BASE.with_ranges(
        [LimitRange(from_m=100, to_m=900, min_grade=0.04), LimitRange(from_m=300, to_m=400, max_grade=0.03)]
    )
    assert said(flat) == [
        "From 0+300.00 to 0+400.00 no grade can be as steep as 4.00 % and no steeper than 3.00 %"
    ]  # fmt: skip


@settings(deadline=None)
@given(IPS, st.lists(st.tuples(st.floats(0, 1), st.floats(0, 2), st.booleans()), min_size=2, max_size=6))
def test_what_a_line_keeps_never_clashes(rows, places):
    line = random_line(rows)
    end = float(line.chainage_m[-1])
    steepest = float(np.abs(line.grade).max()) + 1e-9
    bands = []
    for share, room, lower in places:
        level = float(line.levels(np.array([share * end]))[0])
        bands.append(point("", share * end, level - room if lower else -np.inf, np.inf if lower else level + room))
    limits = replace(BASE, max_grade=steepest, min_grade=0.0).with_bands(bands)
    assert clashes(limits, (0.0, end), None) == []


@pytest.mark.parametrize("grade", [0.05, 0.0801, 0.2])
def test_it_is_told_exactly_where_the_grade_between_is_steeper(grade):
    two = [point("a", 100, 50.0, 50.0), point("b", 900, 50.0 + 800 * grade, 50.0 + 800 * grade)]
    assert bool(said(BASE.with_bands(two))) == (grade > 0.08)
