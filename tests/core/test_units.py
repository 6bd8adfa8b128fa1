"""Numbers and words in metres and in feet."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.reference import VALUES

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.units import DIMENSIONS, FOOT_M, plain_chainage, said, say, shortened, spoken, text

FOOT = FOOT_M["us"]


def test_the_handbooks_levels_at_stations_of_a_hundred_feet():
    """Reference 1.1, kept in metres: its stations, levels and K as they are printed, in feet."""
    want = VALUES["1.1"]
    line = GradeLine.of([Ip(chainage_m=s * FOOT, level_m=z * FOOT, curve_length_m=c * FOOT) for s, z, c in want["ips"]])
    s = np.arange(31) * 100.0 * FOOT
    with spoken("us"):
        written = [plain_chainage(at) for at in s.tolist()]
        assert written == [f"{k}+00.00" for k in range(31)]
        assert [text(line.k(i), "k") for i in (1, 2)] == [f"{k:.2f} ft/%" for k in want["k"]]
    levels = [float(DIMENSIONS["plan"].number(z, "us")) for z in line.levels(s).tolist()]
    assert levels == pytest.approx(want["levels_by_station"], abs=0.0011)


@pytest.mark.parametrize(
    ("dimension", "si", "shown"),
    [
        # NIST Special Publication 811 (2008), appendix B.8: yd3 0.764554857984 m3, acre of the foot 4046.8564224 m2.
        ("volume", 764.554857984, "1000 yd³"), ("land", 4046.8564224, "1.000 ac"), ("speed", 1.609344, "1 mph"),
        ("distance", 1609.344, "1.0 mi"), ("price_m3", 1 / 0.764554857984, "1 / yd³"), ("batter", 2.0, "2 : 1, H : V"),
        ("haul", 0.764554857984 * 30.48, "1 station-yd³"), ("grade", 0.0325, "+3.25 %"),
    ],
)  # fmt: skip
def test_units_of_the_practice_in_feet(dimension, si, shown):
    with spoken("us"):
        assert text(si, dimension) == shown


@given(st.floats(-1e7, 1e7), st.sampled_from(sorted(d for d in DIMENSIONS if DIMENSIONS[d].kind == "number")))
def test_what_is_kept_reads_as_if_it_had_been_said_to_the_reader(value, dimension):
    template = f"the level “Level {{name}}” is {{v:{dimension}}}, or {{v:+{dimension}}}, at a chainage"
    values = {"v": value, "name": "level {v}"}
    with spoken("kept"):
        kept = say(template, **values)
    for system in ("metric", "us", "us_survey"):
        with spoken(system):
            assert said(kept, system) == say(template, **values)


def test_words_of_that_practice_but_for_what_somebody_wrote():
    refusal = DesignInputError("name", "“{name}” has a level at {s:chainage}, and levels.", name="level 1", s=304.8)
    with spoken("us"):
        assert refusal.message == "“level 1” has an elevation at 10+00.00, and elevations."
        assert DesignInputError("x", "“Level crossing”: its level.").message == "“Level crossing”: its elevation."
    assert refusal.message == "“level 1” has a level at 0+304.80, and levels."


def test_what_is_cut_short_leaves_no_half_of_a_mark():
    with spoken("kept"):
        kept = say("up to {s:chainage} and {z:level}", s=10.0, z=2.0)
    for longest in range(len(kept) + 1):
        assert "\ufdd0" not in said(shortened(kept, longest), "metric")
    assert said(shortened(kept, len(kept)), "metric") == "up to 0+010.00 and 2.000 m"
