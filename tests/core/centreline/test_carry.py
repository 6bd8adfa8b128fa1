"""What stands at a chainage follows its centreline by place, chainage or share, and is named where it can't."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from delgrun.core.carrying import carried, stands_at_chainages
from delgrun.core.centreline.carry import Carry
from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.gradeline.grade_line import GradeLine, LineDesign
from delgrun.core.gradeline.ip import Ip
from delgrun.core.inputs import KINDS, LINE, NOTES, RANGES
from delgrun.core.limits.ranges import LimitRange, LimitRanges
from delgrun.core.notes.notes import Note, Notes


def line(*rows: tuple[float, ...], start: float = 0.0) -> Centreline:
    names = ("easting_m", "northing_m", "radius_m", "transition_in_m", "transition_out_m")
    return Centreline([CentrelineIp(**dict(zip(names, row, strict=False))) for row in rows], start)


OLD = line((0, 0), (400, 0, 150), (700, 300))
SMOOTHER = line((0, 0), (400, 0, 200, 60, 60), (700, 300))
LONGER = line((-100, 0), (400, 0, 150), (700, 300))
SHORTER = line((50, 0), (400, 0, 150), (600, 200))


def test_each_rule_carries_chainages_as_it_says():
    at = np.array([0.0, 120.0, OLD.end_chainage_m])
    # 100 m put before the start: by place all goes on by them.
    assert Carry(OLD, LONGER, "place").to(at) == pytest.approx(at + 100)
    assert Carry(OLD, LONGER, "chainage").to(at) == pytest.approx(at)
    assert Carry(OLD, LONGER, "share").to(at) == pytest.approx(at * LONGER.length_m / OLD.length_m)
    # On the stretch that is no more there is no place.
    cut = Carry(OLD, SHORTER, "place").to(at)
    assert np.isnan(cut[[0, 2]]).all() and cut[1] == pytest.approx(70)
    assert np.isnan(Carry(OLD, SHORTER, "chainage").to(at)).tolist() == [False, False, True]


@given(st.lists(st.floats(0, 1), min_size=1, max_size=20))
def test_by_place_what_goes_there_and_back_is_where_it_was(shares):
    at = np.sort(shares) * OLD.length_m
    there = Carry(OLD, SMOOTHER, "place").to(at)
    assert (np.diff(there) >= -1e-6).all()
    east, north, _ = OLD.locate(at)
    on = SMOOTHER.locate(there)
    # At right angles to the new line: nothing of it is nearer.
    away = np.hypot(on[0] - east, on[1] - north)
    for step in (-0.5, 0.5):
        other = SMOOTHER.locate(np.clip(there + step, 0, SMOOTHER.end_chainage_m))
        assert (np.hypot(other[0] - east, other[1] - north) >= away - 1e-9).all()


def test_lines_and_notes_follow_and_what_falls_off_is_named():
    ips = [(0, 100, 0), (30, 101, 20), (200, 105, 60), (OLD.end_chainage_m - 40, 110, 30), (OLD.end_chainage_m, 111, 0)]
    design = LineDesign(
        name="by hand", ips=GradeLine.of([Ip(chainage_m=s, level_m=z, curve_length_m=c) for s, z, c in ips]).ips
    )
    carry = Carry(OLD, SHORTER, "place")
    moved, says = carried(design, carry, 0.0, SHORTER.end_chainage_m, "centreline")
    LINE.check(moved)
    assert [ip.level_m for ip in moved.ips] == [100, 105, 111] and moved.ips[1].chainage_m == pytest.approx(150)
    assert says == ["IP 1 of “by hand” at 0+030.00", f"IP 3 of “by hand” at 0+{OLD.end_chainage_m - 40:.2f}"]
    notes = Notes(rows=(Note(chainage_m=10.0, words="gate"), Note(chainage_m=250.0, words="culvert")))
    kept, says = carried(notes, carry, 0.0, SHORTER.end_chainage_m, "centreline")
    NOTES.check(kept)
    assert [(n.chainage_m, n.words) for n in kept.rows] == [(200.0, "culvert")]
    assert says == ["“gate” at 0+010.00"]
    ranges = LimitRanges(rows=(LimitRange(from_m=20, to_m=300), LimitRange(from_m=5, to_m=30, words="bridge")))
    kept, says = carried(ranges, carry, 0.0, SHORTER.end_chainage_m, "centreline")
    RANGES.check(kept)
    # What begins before the new road begins with it.
    assert [(r.from_m, r.to_m) for r in kept.rows] == [(0.0, 250.0)] and says == ["“bridge” at 0+005.00"]
    # Nothing moved, nothing changed: not to the last digit.
    assert carried(design, Carry(OLD, OLD, "chainage"), 0.0, OLD.end_chainage_m, "centreline") == (design, [])
    assert {k.name for k in KINDS if stands_at_chainages(k.cls)} == {
        "line", "notes", "equations", "ranges", "controls", "works", "strata", "reserve", "along", "superelevation"
    }  # fmt: skip
