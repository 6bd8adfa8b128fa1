"""A grade line follows its centreline, and what is kept agrees with its held K and its ends."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from delgrun.core.carrying import carried
from delgrun.core.centreline.carry import Carry
from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline import edits
from delgrun.core.gradeline.edit_kinds import EDITS, DeleteIp, MoveIp, SetIps, SetK, apply_edit
from delgrun.core.gradeline.follow import follow
from delgrun.core.gradeline.grade_line import GradeLine, LineDesign
from delgrun.core.gradeline.ip import Ip
from delgrun.core.inputs import LINE


def line(*rows) -> GradeLine:
    return GradeLine.of([Ip(chainage_m=s, level_m=z, curve_length_m=length) for s, z, length in rows])


HILL = line((0, 100, 0), (300, 109, 120), (700, 101, 200), (1007.00305, 108, 0))


def test_another_start_takes_the_whole_line_along():
    # A road that began at 0+000 and now begins at 0+500 lies over the same ground, 500 m on in chainage.
    moved, gone = follow(HILL, HILL.chainage_m + 500.0, 500.0, 1507.00305)
    assert gone == []
    assert [ip.chainage_m for ip in moved.ips] == pytest.approx([500, 800, 1200, 1507.00305], abs=1e-9)
    assert (moved.level_m == HILL.level_m).all() and (moved.curve_length_m == HILL.curve_length_m).all()


def test_a_shortened_road_lets_go_of_a_k_that_no_longer_fits():
    held = edits.set_k(HILL, 2, 40.0).line
    short, gone = follow(held, held.chainage_m, 0.0, 760.0)
    assert gone == []
    LINE.check(LineDesign(name="short", ips=short.ips))
    assert short.ips[2].held_k_m_per_pct is None and short.curve_end_m[2] <= 760.0
    # And every edit of it is possible again.
    assert apply_edit(short, MoveIp(ip=1, chainage_m=310.0, level_m=109.5, slide=True)).stopped is None


@given(
    st.lists(st.tuples(st.floats(20, 300), st.floats(-8, 8), st.floats(0, 1), st.booleans()), min_size=1, max_size=7),
    st.floats(-2000, 2000), st.floats(5, 2500),
)  # fmt: skip
def test_whatever_becomes_of_the_centreline_the_line_can_be_kept(steps, start, length):
    s, z = 0.0, 100.0
    ips = [Ip(chainage_m=0.0, level_m=100.0)]
    for run, rise, share, holds in steps:
        s, z = round(s + run, 3), round(z + rise, 3)
        ips.append(Ip(chainage_m=s, level_m=z, held_k_m_per_pct=3 * share + 0.1 if holds else None))
    full = GradeLine((*ips, Ip(chainage_m=s + 50, level_m=z))).held()
    assume(full.conflict() is None)
    moved, gone = follow(full, full.chainage_m + start, start, start + length)
    assert len(moved.ips) == len(full.ips) - len(gone)
    LINE.check(LineDesign(name="n", ips=moved.ips))
    assert (moved.chainage_m[0], moved.chainage_m[-1]) == (start, start + length)


def test_an_end_keeps_its_exact_chainage_when_it_is_moved():
    # Rounded to 1007.003 it would end 0.05 mm before the last section and lose that section's earth.
    for slide in (True, False):
        moved = edits.move_ip(HILL, 3, 900.0, 112.3456, slide=slide).line
        assert moved.chainage_m[-1] == 1007.00305 and moved.level_m[-1] == 112.346


def test_a_line_that_contradicts_its_held_k_is_not_kept():
    middle = Ip(chainage_m=100.0, level_m=5.0, curve_length_m=10.0, held_k_m_per_pct=20.0)
    ips = (Ip(chainage_m=0.0, level_m=0.0), middle, Ip(chainage_m=200.0, level_m=0.0))
    with pytest.raises(DesignInputError, match=r"The curve of IP 1 is 10\.00 m and what it keeps asks for 200\.00 m"):
        LINE.check(LineDesign(name="n", ips=ips))


def test_every_edit_names_itself_and_refuses_impossible_numbers():
    assert all(cls.what == what for what, cls in EDITS.items())
    assert (
        DeleteIp(ip=1).label(HILL) == "Delete IP 1"
        and MoveIp(ip=3, chainage_m=0.0, level_m=0.0, slide=True).label(HILL) == "Move the end"
    )
    with pytest.raises(DesignInputError, match="K is more than 0 m/%"):
        apply_edit(HILL, SetK(ip=1, k_m_per_pct=0.0))
    with pytest.raises(DesignInputError, match="Level is not a number"):
        apply_edit(HILL, MoveIp(ip=1, chainage_m=300.0, level_m=np.nan, slide=False))
    with pytest.raises(DesignInputError, match="needs a start and an end"):
        apply_edit(HILL, SetIps(ips=()))


def test_a_curve_that_keeps_a_chainage_takes_it_along_or_lets_it_go():
    ips = [CentrelineIp(easting_m=0, northing_m=0), CentrelineIp(easting_m=1000, northing_m=0)]
    old, new = Centreline(ips, 0.0), Centreline(ips, 250.0)
    middle = Ip(chainage_m=500.0, level_m=20.0, held="start", held_m=440.0)
    line = GradeLine((Ip(chainage_m=0, level_m=10), middle, Ip(chainage_m=1000, level_m=5))).held()
    design = LineDesign(name="line", ips=line.ips)
    moved, _ = carried(design, Carry(old, new, "place"), 250.0, 1250.0, "centreline")
    assert (moved.ips[1].held, moved.ips[1].held_m, moved.ips[1].curve_length_m) == ("start", 690.0, 120.0)
    # Its start lies past the new end of the road: it stays as long as it is.
    far = replace(
        design, ips=(line.ips[0], replace(middle, held="end", held_m=560.0, curve_length_m=120.0), line.ips[2])
    )
    short = Centreline([CentrelineIp(easting_m=0, northing_m=0), CentrelineIp(easting_m=540, northing_m=0)], 0.0)
    cut, _ = carried(far, Carry(old, short, "place"), 0.0, 540.0, "centreline")
    assert cut.ips[1].held == "length" and cut.line.conflict() is None
    # An IP that comes to lie before what it is to start at lets that go.
    kept, _ = follow(line, np.array([0.0, 300.0, 1000.0]), 0.0, 1000.0)
    assert kept.ips[1].held == "length" and kept.conflict() is None
