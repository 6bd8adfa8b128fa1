"""Tangents and arcs (reference 7.1), and where the road is for a chainage."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.errors import DesignInputError
from reference import VALUES


def make(*rows: tuple[float, float, float], start: float = 0.0) -> Centreline:
    return Centreline([CentrelineIp(easting_m=e, northing_m=n, radius_m=r) for e, n, r in rows], start)


def test_bend_of_reference_7_1():
    want = VALUES["7.1"]
    turn = np.radians(40)
    line = make((0, 0, 0), (500, 0, 300), (500 + 500 * np.cos(turn), 500 * np.sin(turn), 0), start=1000.0)
    (bend,) = line.bends
    assert [bend.tangent_in_m, bend.arc_m] == pytest.approx([want["tangent_m"], want["arc_m"]], abs=0.001)
    # To the left, so the deflection is negative.
    assert np.degrees(bend.deflection) == pytest.approx(-40)
    e, n, _ = line.locate(np.array([bend.from_chainage_m, bend.to_chainage_m]))
    assert np.hypot(e[1] - e[0], n[1] - n[0]) == pytest.approx(want["chord_m"], abs=0.001)
    middle = line.locate(np.array([(bend.from_chainage_m + bend.to_chainage_m) / 2]))
    assert np.hypot(middle[0][0] - 500, middle[1][0]) == pytest.approx(want["external_m"], abs=0.001)
    assert line.end_chainage_m == pytest.approx(1000 + 2 * (500 - 109.191) + 209.440, abs=0.001)


@given(st.floats(-2.6, 2.6), st.floats(20, 150))
def test_the_road_is_smooth_and_chainage_is_its_length(turn, radius):
    line = make((0, 0, 0), (2500, 0, radius), (2500 + 2500 * np.cos(turn), 2500 * np.sin(turn), 0))
    s = np.linspace(0, line.length_m, 20001)
    e, n, direction = line.locate(s)
    steps = np.hypot(np.diff(e), np.diff(n))
    assert steps.sum() == pytest.approx(line.length_m, rel=1e-5)
    assert np.abs(np.diff(direction)).max() <= line.length_m / 20000 / radius + 1e-9
    assert [e[-1], n[-1]] == pytest.approx([2500 + 2500 * np.cos(turn), 2500 * np.sin(turn)], abs=1e-6)


def test_impossible_centrelines_say_where_and_why():
    with pytest.raises(DesignInputError, match=r"IP 2 .* turns by 90\.00° and needs a radius"):
        make((0, 0, 0), (100, 0, 0), (100, 100, 0))
    with pytest.raises(DesignInputError, match=r"IPs 2 and 3 .* need 100\.00 m and there are 80\.00 m, 20\.00 m short"):
        make((0, 0, 0), (100, 0, 50), (100, 80, 50), (0, 80, 0))
    with pytest.raises(DesignInputError, match="on one spot"):
        make((0, 0, 0), (0, 0, 0))


def test_priced_chainages_are_even_ends_and_critical_ones():
    turn = np.radians(40)
    line = make((0, 0, 0), (500, 0, 300), (500 + 500 * np.cos(turn), 500 * np.sin(turn), 0), start=4.0)
    s = line.priced_chainages(10.0)
    assert s[0] == 4.0 and s[1] == 10.0 and s[-1] == line.end_chainage_m
    assert set(np.round(line.critical_chainages, 6)) <= set(np.round(s, 6))
    assert (np.diff(s) > 0.01).all() and np.diff(s).max() <= 10 + 1e-9
