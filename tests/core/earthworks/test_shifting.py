"""Price of offset: on a side slope a metre sideways is so much level, and inside a bend the road is shorter."""

import numpy as np
import pytest

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.earthworks.evaluator import CostModel, Earthworks, evaluate_line
from delgrun.core.earthworks.shifting import STEP_M, offset_price
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import GroundSections
from delgrun.core.section.typical_section import TypicalSection

COST = CostModel()
TYPICAL = TypicalSection(topsoil_depth_m=0.0)


def on_slope(fall: float, centreline: Centreline, depth: float) -> tuple[Earthworks, GradeLine]:
    """A road at a depth below the middle of ground that rises to the right by `fall`, and level along the line."""
    s = np.arange(centreline.start_chainage_m, centreline.end_chainage_m, 10.0)
    offset = np.tile([-60.0, 60.0], len(s))
    ground = GroundSections(s, np.arange(0, 2 * len(s) + 1, 2), offset, 100 + fall * offset, np.full(len(s), 100.0))
    works = Earthworks.of(ground, TYPICAL)
    ips = [Ip(chainage_m=float(c), level_m=100 - depth) for c in (s[0], s[-1])]
    return works, GradeLine.of(ips)


STRAIGHT = Centreline([CentrelineIp(easting_m=0, northing_m=0), CentrelineIp(easting_m=500, northing_m=0)])


@pytest.mark.parametrize("depth", [4.0, 0.3, -3.0])
@pytest.mark.parametrize("fall", [0.0, 0.1, -0.25])
def test_on_a_plane_a_metre_sideways_is_so_much_level(depth, fall):
    works, line = on_slope(fall, STRAIGHT, depth)
    price = offset_price(works, evaluate_line(works, line, COST), COST, STRAIGHT)

    def cost(lower: float) -> float:
        # All of the road lower by so much: all earth is borrowed or spoiled where it is cut or filled.
        ips = [Ip(chainage_m=ip.chainage_m, level_m=ip.level_m - lower) for ip in line.ips]
        return evaluate_line(works, GradeLine.of(ips), COST).ledger.cost

    length = works.weight_m.sum()
    for side, found in ((1, price.right), (-1, price.left)):
        want = (cost(side * fall * STEP_M) - cost(0.0)) / STEP_M / length
        # Tables give the sum; they are good to 0.02 m2.
        assert found == pytest.approx(np.full(len(found), want), abs=0.13, rel=0.02)
    if fall == 0.0:
        assert price.left == pytest.approx(0, abs=1e-9)


def test_inside_a_bend_the_road_is_shorter():
    ips = [(0, 0, 0), (400, 0, 200), (400, 400, 0)]
    bend = Centreline([CentrelineIp(easting_m=e, northing_m=n, radius_m=r) for e, n, r in ips])
    works, line = on_slope(0.0, bend, 3.0)
    evaluation = evaluate_line(works, line, COST)
    price = offset_price(works, evaluation, COST, bend)
    k = len(works.chainage_m) // 2
    # A bend to the left: a metre to the left is a two-hundredth shorter, of a section that is only cut and spoiled.
    per_metre = evaluation.cut_m2[k] * (COST.cut_per_m3 + COST.compacted_per_bank * COST.spoil_per_m3)
    assert price.left[k] == pytest.approx(-per_metre / 200, rel=1e-3)
    assert price.right[k] == pytest.approx(per_metre / 200, rel=1e-3)
