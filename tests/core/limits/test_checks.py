"""Printed tables of stopping sight and K, and what fails (reference values, section 2)."""

import pytest

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import all_uses, limit_uses, sentence
from delgrun.core.limits.checks.tie_ins import TIE_IN_GRADE, TIE_IN_LEVEL
from delgrun.core.limits.limit_set import LimitSet, default_limits
from delgrun.core.stopping import crest_k, design_stopping_sight_m, sag_k, stopping_sight_m
from reference import VALUES


@pytest.mark.parametrize(("speed", "calculated", "sight", "crest", "sag"), VALUES["2"]["metric"])
def test_printed_sight_and_k(speed, calculated, sight, crest, sag):
    assert stopping_sight_m(speed) == pytest.approx(calculated, abs=0.15)
    assert design_stopping_sight_m(speed) == sight
    assert (crest_k(sight), sag_k(sight)) == (crest, sag)


def test_the_level_table_is_not_the_grade_form_with_no_grade():
    trap = VALUES["2.1"]
    assert [design_stopping_sight_m(v) for v in trap["speeds"]] == trap["printed_m"]


LIMITS = LimitSet(
    design_speed_kmh=70, max_grade=0.08, min_grade=0.005, min_crest_k_m_per_pct=17, min_sag_k_m_per_pct=23,
    min_curve_length_m=45, min_ip_spacing_m=60, start_level_m=100.0, start_grade=0.02,
)  # fmt: skip


def tie_ins(line):
    return all_uses(Checked(line, LIMITS), (TIE_IN_LEVEL, TIE_IN_GRADE))


def uses(*rows):
    line = GradeLine.of([Ip(chainage_m=s, level_m=z, curve_length_m=length) for s, z, length in rows])
    return line, {(u.check, u.ip): u for u in limit_uses(line, LIMITS)}


def test_use_is_demand_over_allowed_and_a_failure_says_by_how_much():
    # Grades +2 %, -3 %, +6 %: A 5 and 9; curves of 80 and 45 m: K 16 and 5.
    line, found = uses((0, 100, 0), (200, 104, 80), (400, 98, 45), (600, 110, 0))
    assert found["steepest_grade", 2].use == pytest.approx(0.75)
    assert found["flattest_grade", 0].use == pytest.approx(0.25)
    assert found["crest_k", 1].use == pytest.approx(17 / 16) and found["crest_k", 1].fails
    assert found["sag_k", 2].use == pytest.approx(23 / 5)
    assert found["curve_length", 2].use == pytest.approx(1.0) and not found["curve_length", 2].fails
    assert found["ip_spacing", 1].use == pytest.approx(0.3)
    assert sentence(found["crest_k", 1]) == "K 16, needs 17, short by 1 from 0+160.00 to 0+240.00"
    assert tie_ins(line) == []


def test_a_shortfall_that_rounding_would_hide_is_shown():
    _, found = uses((0, 100, 0), (200, 104, 84.8), (400, 98, 0), (600, 92, 0))
    assert sentence(found["crest_k", 1]).startswith("K 16.96, needs 17, short by 0.04")


def test_flat_tangents_kinks_and_missed_tie_ins_fail():
    line, found = uses((0, 100.01, 0), (300, 100.7, 0), (340, 101.5, 0), (600, 104, 0))
    assert found["flattest_grade", 0].fails and found["curve_length", 1].fails and found["ip_spacing", 1].fails
    assert found["sag_k", 1].value == 0 and found["sag_k", 1].fails
    texts = [sentence(u) for u in tie_ins(line)]
    assert texts[0] == "Level 100.010 m, the road there is at 100.000 m, off by +0.010 m at 0+000.00"
    assert "off by -1.770 %" in texts[1]


def test_default_limits_keep_the_printed_k():
    limits = default_limits(70)
    assert (limits.min_crest_k_m_per_pct, limits.min_sag_k_m_per_pct, limits.min_curve_length_m) == (17, 23, 45)
