"""A centreline that runs past the ground: where its road starts and ends, and what is left of it when cut short."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from delgrun.core.centreline.centreline import Centreline, CentrelineDesign
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.shorten import shortened
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.along import ground_sections, long_section, stretch_with_ground
from delgrun.core.ground.tin import build_tin


def design(*corners: tuple[float, ...], start: float = 0.0) -> CentrelineDesign:
    names = ("easting_m", "northing_m", "radius_m", "transition_in_m", "transition_out_m")
    ips = tuple(CentrelineIp(**dict(zip(names, corner, strict=False))) for corner in corners)
    return CentrelineDesign(start_chainage_m=start, ips=ips)


def test_the_road_is_as_long_as_the_ground_and_says_what_lacks_at_each_end():
    square = np.array([[0.0, 0, 5], [100, 0, 5], [100, 100, 5], [0, 100, 5]])
    tin = build_tin(square)
    line = Centreline(list(design((-12.4, 50, 0), (107.6, 50, 0)).ips), 1000.0)
    road = stretch_with_ground(long_section(tin, line), line)
    assert road is not None
    assert (road.start_lacks_m, road.end_lacks_m) == pytest.approx((12.4, 7.6), abs=2e-3)
    assert 1012.4 <= road.from_m < 1012.402 and 1112.398 < road.to_m <= 1112.4
    s = line.priced_chainages(10.0, road.from_m, road.to_m)
    assert (s[0], s[-1]) == (road.from_m, road.to_m)
    assert not np.isnan(ground_sections(tin, line, s, 20.0).centre_level_m).any()
    inside = Centreline(list(design((20, 50, 0), (80, 50, 0)).ips))
    whole = stretch_with_ground(long_section(tin, inside), inside)
    assert whole is not None and (whole.from_m, whole.to_m, whole.start_lacks_m) == (0.0, 60.0, 0.0)
    beside = Centreline(list(design((0, 150, 0), (100, 150, 0)).ips))
    assert stretch_with_ground(long_section(tin, beside), beside) is None


@given(seed=st.integers(0, 100_000))
def test_what_is_left_lies_where_it_lay_and_keeps_its_chainages(seed):
    rng = np.random.default_rng(seed)
    turn = rng.uniform(-1.2, 1.2, 4)
    xy = np.cumsum(np.column_stack([np.cos(np.cumsum(turn)), np.sin(np.cumsum(turn))]) * 300, axis=0) + [5e5, 4.2e6]
    radius = [0.0, *rng.uniform(40, 110, 2), 0.0]
    # Transitions of up to what the bend turns by: then there is no arc.
    most = [0.0, *(2 * np.abs(turn[2:]) * radius[1:3]), 0.0]
    share = rng.choice([0, 0.2, 0.4999, 0.5 - 1e-9], (4, 2))
    old = design(
        *((e, n, r, m * a, m * b) for (e, n), r, m, (a, b) in zip(xy.tolist(), radius, most, share, strict=True)),
        start=rng.uniform(-100, 5000),
    )
    line = old.made()
    a, b = np.sort(rng.uniform(line.start_chainage_m, line.end_chainage_m, 2))
    # Longer than a bend: part of it is left in any case.
    assume(b - a >= 270.0)
    new = shortened(old, float(a), float(b)).made()
    # Part of a transition is no bend of its own: the end moves on to where it ends.
    kept = [x for x in line.elements if x.kind == "transition"]
    within = [x for x in kept for end in (a, b) if x.from_chainage_m < end < x.to_chainage_m]
    if not within:
        assert (new.start_chainage_m, new.end_chainage_m) == pytest.approx((a, b), abs=1e-6)
    assert a - 1e-6 <= new.start_chainage_m and new.end_chainage_m <= b + 1e-6
    assert new.length_m >= b - a - 2 * sum(x.length_m for x in within) - 1e-6
    s = np.linspace(new.start_chainage_m, new.end_chainage_m, 50)
    assert np.array(new.locate(s))[:2] == pytest.approx(np.array(line.locate(s))[:2], abs=1e-6)
    with pytest.raises(DesignInputError):
        shortened(old, float(b), float(a))
