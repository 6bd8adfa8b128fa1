"""Chainage equations: what is written, read back, and set out at even values; overlaps and gaps."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from delgrun.core.centreline.stations import Equation, Equations, Stations
from delgrun.core.errors import DesignInputError
from delgrun.core.units import chainage_text, on_road, said, say, spoken, written_by


def stations(*pairs: tuple[float, float]) -> Stations:
    return Stations([Equation(at_m=s, ahead_m=a) for s, a in pairs])


def test_a_gap_and_an_overlap_as_on_the_ground():
    # At 1+000 of the line it is 1+250 ahead: 1+000 to 1+250 is written nowhere.
    gap = stations((1000, 1250))
    assert [gap.text(s) for s in (999, 1000, 1100)] == ["0+999.00", "1+250.00", "1+350.00"]
    assert gap.found(1100.0) == [] and gap.found(1350.0) == [1100.0] and gap.back(0) == 1000
    # At 1+000 of the line it is 0+900 ahead: 0+900 to 1+000 is written twice, and the stretch tells which.
    twice = stations((1000, 900))
    assert twice.found(950.0) == [950.0, 1050.0]
    assert [twice.text(s) for s in (950, 1050, 1200)] == ["0+950.00 (1)", "0+950.00 (2)", "1+100.00"]
    assert twice.even(880, 1120, 50.0).tolist() == [900, 950, 1000, 1050, 1100]


@given(
    st.lists(st.tuples(st.floats(0, 5000), st.floats(-2000, 9000)), max_size=5, unique_by=lambda p: round(p[0])),
    st.floats(-100, 6000),
    st.sampled_from([10.0, 20.0, 33.0]),
)
def test_what_is_written_is_found_again(pairs, at, step):
    assume(all(abs(s - at) >= 0.01 for s, _ in pairs))
    line = stations(*pairs)
    assert any(abs(s - at) < 1e-6 for s in line.found(line.written(at)))
    # Every even place has a whole value written there, each stretch has all of its own.
    even = line.even(0.0, 6000.0, step)
    for s in even.tolist():
        assert line.written(s) / step == pytest.approx(round(line.written(s) / step), abs=1e-6)
    ends = [0.0, *sorted(s for s, _ in pairs), 6000.0]
    for a, b in pairwise(ends):
        assert abs(((even >= a) & (even < b)).sum() - (b - a) / step) <= 1 + 1e-6


def test_sentences_follow_the_road_that_is_spoken_of():
    with spoken("metric", stations((1000, 2000)).text):
        assert say("at {s:chainage}", s=1010.0) == "at 2+010.00" and chainage_text(990) == "0+990.00"
    assert chainage_text(1010) == "1+010.00"


def test_what_is_kept_is_written_along_its_road_once_somebody_reads_it():
    with spoken("kept"):
        kept = say("at {s:chainage}, a level of {z:length}", s=1010.0, z=3.048)
    roads = {"": stations((1000, 2000)).text, "centreline-2": stations((1000, 5000)).text}
    assert said(kept, "metric", roads.__getitem__) == "at 2+010.00, a level of 3.05 m"
    other = on_road(kept, "centreline-2")
    assert said(other, "us", roads.__getitem__) == "at 164+37.01, an elevation of 10.00 ft"
    assert said(written_by(other, roads.__getitem__), "metric") == "at 5+010.00, a level of 3.05 m"
    # Once said of a road it stays of that road.
    assert on_road(other, "centreline-3") == other and said(kept, "metric") == "at 1+010.00, a level of 3.05 m"


def test_two_equations_at_one_place_are_refused_and_roads_keep_apart():
    with pytest.raises(DesignInputError, match=r"stand at 0\+500.00"):
        Equations(rows=(Equation(at_m=500, ahead_m=1), Equation(at_m=500, ahead_m=2))).check()
    both = Equations(rows=(Equation(at_m=500, ahead_m=0), Equation(at_m=500, ahead_m=2, road="centreline-2")))
    both.check()
    assert both.of("centreline").written(600) == 100 and both.of("centreline-2").written(600) == 102
    assert np.array_equal(both.of("centreline-3").even(0, 20, 10), [0, 10, 20])
