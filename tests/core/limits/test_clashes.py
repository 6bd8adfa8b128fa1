"""What no line can keep together: told where levels are too far apart, and never of what a line keeps."""

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import trapezoid
from scipy.optimize import linprog

from delgrun.core.controls.bands import Band
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.checks import limit_uses
from delgrun.core.limits.clashes import clashes
from delgrun.core.limits.limit_set import LimitSet, default_limits, most_rise
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
        "From 0+300.00 to 0+400.00 no tangent is as steep as 4.00 % and no steeper than 3.00 %: only a vertical curve "
        "can lie there"
    ]
    # One can, and keeps all: that is no proof.
    curved = GradeLine.of(
        [Ip(chainage_m=0, level_m=100), Ip(chainage_m=350, level_m=86, curve_length_m=240),
         Ip(chainage_m=2000, level_m=152)]
    )  # fmt: skip
    assert not [u for u in limit_uses(curved, flat) if u.fails]
    assert [c.proven for c in clashes(flat, (0.0, 2000.0), None)] == [False]


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


class Curved:
    """Lines of touching vertical curves, an IP each 50 m: grade and level at a place are linear in the IPs' levels."""

    EACH, IPS = 50.0, 21

    def grades(self, s: np.ndarray) -> np.ndarray:
        """(k, n) from levels of IPs to grades at places: they run straight between the middles of tangents."""
        middle = self.EACH * (np.arange(self.IPS - 1) + 0.5)
        tangent = (np.eye(self.IPS)[1:] - np.eye(self.IPS)[:-1]) / self.EACH
        return np.array([np.interp(s, middle, row) for row in tangent.T]).T

    def levels(self, s: np.ndarray) -> np.ndarray:
        """(k, n) the same to levels: grades summed over half metres, exactly: middles lie on them."""
        steps = [np.linspace(0.0, at, max(round(at / 0.5), 1) + 1) for at in s]
        summed = [trapezoid(self.grades(x), x, axis=0) for x in steps]
        return np.array(summed) + np.eye(self.IPS)[0]

    def keeps_all(self, limits: LimitSet, end: float) -> bool:
        """Whether HiGHS finds levels of the IPs with which such a line keeps ranges of grades and level controls."""
        edges = [x for r in limits.ranges for x in (r.from_m, r.to_m)]
        s = np.unique(np.concatenate([np.arange(0.0, end + 1, self.EACH / 2), edges, np.array(edges) + 1e-9]))
        most = np.array([limits.over("max_grade", x, x) for x in s])
        at = np.array([float(b.chainage_m[0]) for b in limits.bands])
        low, high = np.array([b.low_m for b in limits.bands]), np.array([b.high_m for b in limits.bands])
        g, z = self.grades(s), self.levels(at)
        rows, free = np.vstack([g, -g, z, -z]), np.concatenate([most, most, high, -low])
        found = linprog(np.zeros(self.IPS), rows[free < 1e9], free[free < 1e9], bounds=(None, None), method="highs")
        return found.status == 0


def test_no_claim_is_false_of_curved_lines_that_an_independent_solver_finds():
    """Against HiGHS (scipy): of random ranges and controls near what is possible, none that a line keeps is a clash."""
    rng, curved, kept, claimed = np.random.default_rng(11), Curved(), 0, 0
    for _ in range(120):
        a, b = np.sort(rng.choice(np.arange(50.0, 1000.0, 25.0), 2, replace=False))
        limits = BASE.with_ranges([LimitRange(from_m=a, to_m=b, max_grade=float(rng.uniform(0.005, 0.06)))])
        at = np.sort(rng.choice(np.arange(0.0, 1000.5, 0.5), int(rng.integers(2, 5)), replace=False))
        # About as far apart in level as the steepest grades on the way allow.
        rise = [most_rise(limits, x, y)[0] for x, y in pairwise(at)]
        level = np.cumsum([100.0, *(rng.choice([-1, 1]) * r * rng.uniform(0.8, 1.03) for r in rise)])
        limits = limits.with_bands([point(f"c{k}", x, z, z) for k, (x, z) in enumerate(zip(at, level, strict=True))])
        keeps, claims = curved.keeps_all(limits, 1000.0), bool(clashes(limits, (0.0, 1000.0), None))
        assert not (keeps and claims)
        kept, claimed = kept + keeps, claimed + claims
    assert kept > 20 and claimed > 20


@pytest.mark.parametrize("grade", [0.05, 0.0801, 0.2])
def test_it_is_told_exactly_where_the_grade_between_is_steeper(grade):
    two = [point("a", 100, 50.0, 50.0), point("b", 900, 50.0 + 800 * grade, 50.0 + 800 * grade)]
    assert bool(said(BASE.with_bands(two))) == (grade > 0.08)
