"""Speeds that curves allow: reference values 2 and 2.3 read backwards, and the sight along the line itself."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.sight.allowed import allowed_speeds, crest_sight_m, sag_sight_m, speed_for
from delgrun.core.sight.along import stopping_sight
from delgrun.core.stopping import FORM_NAMES, Heights, Stopping, sight_curve_m, stopping_sight_m


def test_the_inverse_of_crest_lengths():
    """Reference 2.3: L 120, A 7.5 gives 102.61; L 40, A 3 gives 129.67 (C = 658)."""
    assert crest_sight_m(-0.075, 120.0, Heights()) == pytest.approx(102.61, abs=0.03)
    assert crest_sight_m(-0.03, 40.0, Heights()) == pytest.approx(129.67, abs=0.03)


@given(st.floats(0.015, 0.15), st.floats(30, 300))
def test_sight_of_the_least_length_is_the_sight_it_was_made_for(change, sight):
    for sign in (-1.0, 1.0):
        for heights in (Heights(), Heights(eye_m=1.1, object_m=0.2, headlight_m=0.75)):
            length = sight_curve_m(sight, sign * change, heights)
            if length > 0:
                found = (crest_sight_m if sign < 0 else sag_sight_m)(sign * change, length, heights)
                assert found == pytest.approx(sight, rel=1e-9)


@given(st.floats(20, 130), st.sampled_from(FORM_NAMES), st.floats(1, 4), st.floats(2, 5))
def test_the_speed_for_a_sight_needs_that_sight_by_each_form(speed, form, reaction, brakes):
    rules = Stopping(speed_kmh=speed, form=form, reaction_s=reaction, deceleration_m_s2=brakes)
    assert speed_for(rules.level_m, rules) == pytest.approx(speed, rel=1e-9)
    assert rules.level_m <= rules.design_m < rules.level_m + rules.constants.step_m
    assert stopping_sight_m(speed) == Stopping(speed_kmh=speed).level_m


@settings(deadline=None)
@given(st.floats(20, 130), st.sampled_from(FORM_NAMES), st.floats(-0.06, 0.06))
def test_stopping_along_an_even_grade_is_the_forms_own_on_that_grade(speed, form, grade):
    """What the kernels work out piece by piece is V t + V^2 / (c (a / g + G)), whichever constants the form has."""
    rules = Stopping(speed_kmh=speed, form=form)
    line = GradeLine.of([Ip(chainage_m=0, level_m=0), Ip(chainage_m=3000, level_m=3000 * grade)])
    needed = stopping_sight(line, rules).needed_m[0]
    assert needed == pytest.approx(rules.reacting_at(speed) + rules.braking_at(speed) / (rules.force + grade), rel=1e-9)


@settings(deadline=None)
@given(st.floats(0.02, 0.12), st.floats(0.1, 0.9), st.floats(20, 200))
def test_a_crest_allows_the_speed_that_its_least_sight_along_the_line_stops_from(change, share, length):
    """Beside one crest on a long line, sight every decimetre is never less than its closed form, and comes as near."""
    first = share * change
    line = GradeLine.of(
        [
            Ip(chainage_m=0, level_m=100), Ip(chainage_m=600, level_m=100 + 600 * first, curve_length_m=length),
            Ip(chainage_m=1200, level_m=100 + 600 * first - 600 * (change - first)),
        ]
    )  # fmt: skip
    (allowed,) = allowed_speeds(line, (), Stopping(speed_kmh=70))
    far = stopping_sight(line, Stopping(speed_kmh=70)).seen_m
    least = crest_sight_m(-change, length, Heights())
    assert allowed.kind == "crest" and allowed.kmh == pytest.approx(speed_for(least, Stopping(speed_kmh=70)))
    assert least - 1e-6 <= np.min(far) <= least + 0.35 * 10


def test_bends_and_curves_that_allow_more_than_anyone_drives_are_left_out():
    line = GradeLine.of(
        [Ip(chainage_m=0, level_m=0), Ip(chainage_m=500, level_m=5, curve_length_m=400), Ip(chainage_m=1000, level_m=4)]
    )
    found = list(allowed_speeds(line, [(0.0, 50.0, 62.0), (80.0, 90.0, 200.0)], Stopping(speed_kmh=70)))
    assert [(a.kind, a.kmh) for a in found] == [("bend", 62.0)]
