"""A centreline that runs past the ground: where its road starts and ends, and what is left of it when cut short."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from delgrun.core.centreline.centreline import Centreline, CentrelineDesign, CentrelineIp
from delgrun.core.centreline.shorten import shortened
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.along import ground_sections, long_section, stretch_with_ground
from delgrun.core.ground.tin import build_tin


def design(*corners: tuple[float, float, float], start: float = 0.0) -> CentrelineDesign:
    ips = tuple(CentrelineIp(easting_m=e, northing_m=n, radius_m=r) for e, n, r in corners)
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
    radius = [0.0, *rng.uniform(50, 180, 2), 0.0]
    old = design(*((e, n, r) for (e, n), r in zip(xy.tolist(), radius, strict=True)), start=rng.uniform(-100, 5000))
    line = old.made()
    a, b = np.sort(rng.uniform(line.start_chainage_m, line.end_chainage_m, 2))
    if b - a < 1.0:
        return
    new = shortened(old, float(a), float(b)).made()
    assert (new.start_chainage_m, new.end_chainage_m) == pytest.approx((a, b), abs=1e-6)
    s = np.linspace(a, b, 50)
    assert np.array(new.locate(s))[:2] == pytest.approx(np.array(line.locate(s))[:2], abs=1e-6)
    with pytest.raises(DesignInputError):
        shortened(old, float(b), float(a))
