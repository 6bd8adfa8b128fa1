"""Speed of bends: least radii and runoff of reference 7.3 and 7.4, and laws between what is allowed and needed."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.room import made_to_fit
from delgrun.core.centreline.speeds import (
    CHOICES,
    BendRules,
    RoadWidth,
    allowed_speed_kmh,
    bend_speeds,
    comfort_m,
    least_radius_m,
    marks,
    runoff_m,
    shift_m,
    standard_bend,
    superelevation_of,
)
from delgrun.core.errors import DesignInputError
from reference import VALUES

RULES, ROAD = BendRules(), RoadWidth(3.6, 0.02)
FOOT, MILE = 0.3048, 1.609344


def test_least_radii_of_reference_7_3():
    want = VALUES["7.3"]
    for speed, friction, radius in want["least"]:
        assert round(least_radius_m(speed, want["e"], friction)) == radius
        assert RULES.friction(speed) == pytest.approx(friction)
    # The customary units' constant 15 is the metric 127 rounded otherwise, and 1330 is 1333: within 0.7 percent.
    for mph, friction, feet in want["us_least"]:
        assert least_radius_m(mph * MILE, want["us_e"], friction) / FOOT == pytest.approx(feet, rel=7e-3)


def test_runoff_of_reference_7_4():
    want, edge = VALUES["7.4"], RULES.relative_grade(70)
    assert runoff_m(3.6, 1, 0.06, edge) == pytest.approx(want["one_lane_m"], abs=5e-3)
    assert runoff_m(3.6, 2, 0.06, edge, 0.75) == pytest.approx(want["two_lanes_m"], abs=5e-3)
    assert runoff_m(3.6, 1, 0.02, edge) == pytest.approx(want["runout_m"], abs=5e-3)


def test_transition_minima_in_closed_form():
    # 20 m/s on R 200: 2 m/s2 that grow at 0.5 m/s3 take 4 s, 80 m.
    assert comfort_m(72, 200, 0.5) == pytest.approx(80, rel=1e-4)
    # The shift of reference 7.2: R 250, 60 m, p 0.5997; its series begins with L^2 / 24 R.
    assert shift_m(250, 0.5997) == pytest.approx(60, rel=1e-3)


@given(st.floats(15, 3000), st.sampled_from(CHOICES), st.floats(30, 120), st.floats(0.03, 0.12))
def test_friction_at_the_allowed_speed_is_all_there_is(radius, divides, design, steepest):
    rules = BendRules(divides=divides, max_superelevation=steepest)
    e = superelevation_of(rules, design, radius, ROAD.crossfall)
    assert min(ROAD.crossfall, steepest) <= e <= steepest
    allowed = allowed_speed_kmh(rules, radius, e)
    needed = allowed**2 / (127 * radius) - e
    if allowed < 130:
        assert needed == pytest.approx(float(rules.friction(allowed)), abs=1e-6)
    else:
        assert needed <= float(rules.friction(130)) + 1e-9
    # A bend is fast enough for its design speed exactly where its radius is the least or more.
    least = least_radius_m(design, steepest, float(rules.friction(design)))
    if abs(radius / least - 1) > 1e-6 and divides != "friction first":
        assert (allowed >= design) == (radius > least)


def bends(*radii: float) -> Centreline:
    """Bends of 30 degrees with these radii, alternately, far apart."""
    ips, heading, at = [CentrelineIp(easting_m=0, northing_m=0)], 0.0, np.zeros(2)
    for i, radius in enumerate(radii):
        at = at + 1500 * np.array([np.cos(heading), np.sin(heading)])
        ips.append(CentrelineIp(easting_m=at[0], northing_m=at[1], radius_m=radius))
        heading += np.radians(30) * (-1) ** i
    at = at + 1500 * np.array([np.cos(heading), np.sin(heading)])
    return Centreline([*ips, CentrelineIp(easting_m=at[0], northing_m=at[1])])


def test_a_bend_much_slower_than_its_neighbours_is_marked_and_gentle_ones_count_as_straights():
    line = bends(600, 170, 250, 5000)
    found = bend_speeds(line.bends, line.ips, RULES, [70.0] * 4, [ROAD] * 4)
    speeds = [min(b.allowed_kmh, RULES.fastest_kmh) for b in found]
    # Slower than both: by what it is slower than the faster of them; the first and last are slower than nobody.
    assert found[1].slower_by_kmh == pytest.approx(max(speeds[0], speeds[2]) - speeds[1])
    assert found[2].slower_by_kmh == pytest.approx(speeds[3] - speeds[2])
    assert found[0].slower_by_kmh == found[3].slower_by_kmh == 0.0
    assert speeds[3] == 100.0


def test_what_is_said_of_a_bend_says_what_to_do():
    line = bends(600, 110, 5000)
    found = bend_speeds(line.bends, line.ips, RULES, [70.0] * 3, [ROAD] * 3)
    assert [marks(b, s) for b, s in zip(line.bends, found, strict=True)][::2] == [[], []]
    tight, slow, bare = marks(line.bends[1], found[1])
    assert tight == "too tight for 70 km/h: R 168 m or more"
    assert slow == f"{round(found[1].slower_by_kmh)} km/h slower than a bend beside it"
    assert bare == f"no transition; {np.ceil(found[1].transition_m):.0f} m are usual ({found[1].transition_by})"


def test_a_typed_superelevation_counts():
    line = bends(170)
    flat = [CentrelineIp(**{**vars(ip), "superelevation": 0.0}) for ip in line.ips]
    rules, typed = (bend_speeds(line.bends, ips, RULES, [70.0], [ROAD])[0] for ips in (line.ips, flat))
    assert rules.allowed_kmh >= 70 > typed.allowed_kmh
    assert typed.friction == pytest.approx(70**2 / (127 * 170))
    assert typed.friction > typed.friction_allowed


@given(st.floats(40, 110), st.lists(st.floats(-2.0, 2.0).filter(lambda t: abs(t) > 0.03), min_size=1, max_size=6))
def test_standard_bends_are_what_the_rules_ask_for_or_said_to_be_misfits(speed, turns):
    ips, heading, at = [CentrelineIp(easting_m=0, northing_m=0)], 0.0, np.zeros(2)
    for turn in [*turns, 0.0]:
        at = at + 300 * np.array([np.cos(heading), np.sin(heading)])
        radius, transition = standard_bend(turn, RULES, speed, ROAD) if turn else (0.0, 0.0)
        kept = {"radius_m": radius, "transition_in_m": transition, "transition_out_m": transition}
        ips.append(CentrelineIp(easting_m=at[0], northing_m=at[1], **kept))
        heading += turn
    made, misfits = made_to_fit(ips)
    line = Centreline(made)
    found = {
        b.ip: b for b in bend_speeds(line.bends, line.ips, RULES, [speed] * len(line.bends), [ROAD] * len(line.bends))
    }
    for b in line.bends:
        if b.ip not in {m.ip for m in misfits}:
            assert found[b.ip].allowed_kmh >= speed - 1e-9 and not found[b.ip].without
            assert b.transition_in_m == 0 or b.transition_in_m >= found[b.ip].transition_m - 1e-6
            assert b.transition_in_m <= b.arc_m + 1e-6


def test_a_table_that_makes_no_sense_is_refused():
    first, second, *_ = RULES.rows
    with pytest.raises(DesignInputError, match="must not grow with speed, as it does at 30 km/h"):
        BendRules(rows=(first, replace(second, side_friction=0.4))).check()
    with pytest.raises(DesignInputError, match="20 km/h must come before that of 30"):
        BendRules(rows=(second, first)).check()
