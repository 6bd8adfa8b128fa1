"""Depths at the centreline and water in low points, over level ground where both are sums done by hand."""

from dataclasses import replace

import numpy as np
import pytest

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_line
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import ground_sections
from delgrun.core.ground.tin import build_tin
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import BY_ID, brief
from delgrun.core.limits.limit_set import default_limits
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.section.road_design import RoadDesign


@pytest.fixture(scope="module")
def works() -> Earthworks:
    """600 m of road over ground that lies at level 100 throughout."""
    e, n = np.meshgrid(np.arange(-20.0, 621.0, 10.0), np.arange(-60.0, 61.0, 10.0))
    tin = build_tin(np.column_stack([e.ravel(), n.ravel(), np.full(e.size, 100.0)]), [], 40.0)
    road = Centreline([CentrelineIp(easting_m=0.0, northing_m=0.0), CentrelineIp(easting_m=600.0, northing_m=0.0)])
    across = ground_sections(tin, road, road.priced_chainages(10.0), 60.0)
    typical = RoadDesign.plain()
    return Earthworks.of(across, typical)


def checked(works: Earthworks, line: GradeLine, **limits) -> Checked:
    ranges = limits.pop("ranges", ())
    own = replace(default_limits(50.0), **limits).with_ranges(ranges)
    return Checked(line, own, works, evaluate_line(works, line, CostModel()))


# 3 m deep in the ground at 200 m, 2.4 m above it at 400 m.
LINE = GradeLine.of(
    [
        Ip(chainage_m=0, level_m=100), Ip(chainage_m=200, level_m=97), Ip(chainage_m=400, level_m=102.4),
        Ip(chainage_m=600, level_m=100),
    ]
)  # fmt: skip


def test_too_deep_and_too_high_are_stretches_with_their_deepest_place(works):
    c = checked(works, LINE, most_cut_m=2.0, most_fill_m=2.0)
    cut = [u for u in BY_ID["cut_depth"].uses(c) if u.fails]
    fill = [u for u in BY_ID["fill_height"].uses(c) if u.fails]
    # Deeper than 2 m where 1.5 % has fallen more than that, from 133.3 m on, and until the rise is back there.
    assert [(u.from_chainage_m, u.to_chainage_m, u.ip) for u in cut] == [(140.0, 230.0, 1)]
    assert cut[0].value == pytest.approx(3.0) and brief(cut[0]) == "Cut 3.00 m, at most 2 m, too much by 1.00 m"
    assert [(u.value, u.ip) for u in fill] == [(pytest.approx(2.4), 2)]
    # What keeps its limit has its use beside it; without a limit there is none.
    assert any(not u.fails and 0 < u.use <= 1 for u in BY_ID["cut_depth"].uses(c))
    assert not list(BY_ID["cut_depth"].uses(checked(works, LINE)))
    ranged = checked(works, LINE, ranges=[LimitRange(from_m=195, to_m=205, most_cut_m=2.5)])
    assert [(u.from_chainage_m, u.to_chainage_m) for u in BY_ID["cut_depth"].uses(ranged) if u.fails] == [
        (200.0, 200.0)
    ]


def test_water_gathers_at_a_low_point_in_a_cut_and_not_on_a_fill(works):
    low = Ip(chainage_m=200, level_m=97, curve_length_m=100)
    sag = GradeLine.of([Ip(chainage_m=0, level_m=100), low, Ip(chainage_m=600, level_m=103)])
    (found,) = BY_ID["undrained_sag"].uses(checked(works, sag))
    ((s, z, kind),) = sag.turning_points()
    assert (found.from_chainage_m, found.value, kind) == (s, pytest.approx(100 - z), "low")
    assert brief(found).startswith(f"Water gathers at the low point, level {z:.3f} m, in a cut {100 - z:.2f} m deep")
    raised = GradeLine.of([Ip(**{**vars(ip), "level_m": ip.level_m + 4}) for ip in sag.ips])
    assert not list(BY_ID["undrained_sag"].uses(checked(works, raised)))
