"""Price of offset: on a side slope a metre sideways is so much level, in a bend the road is shorter; price of level."""

import numpy as np
import pytest

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_levels, evaluate_line
from delgrun.core.earthworks.raising import level_price
from delgrun.core.earthworks.shifting import STEP_M, offset_price, shift_of
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import GroundSections
from delgrun.core.section.road_design import RoadDesign

COST = CostModel()
TYPICAL = RoadDesign.plain(topsoil_depth_m=0.0)


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
        assert found == pytest.approx(np.full(len(found), want), abs=1e-6, rel=1e-9)
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


@pytest.mark.parametrize("seed", range(6))
def test_a_shifted_stretch_costs_what_a_road_over_shifted_ground_does(seed):
    """Planned anew it is the cost of the same sections cut aside, whatever single prices add up to."""
    rng = np.random.default_rng(seed)
    s = np.arange(0.0, 501.0, 10.0)
    offset = np.tile(np.linspace(-60, 60, 25), len(s))
    level = np.repeat(100 + np.cumsum(rng.normal(0, 0.7, len(s))), 25) + rng.uniform(-0.3, 0.3) * offset
    level += rng.normal(0, 0.4, len(level))
    starts = np.arange(0, 25 * len(s) + 1, 25)
    works = Earthworks.of(GroundSections(s, starts, offset, level, level[12::25]), TYPICAL)
    line = GradeLine.of([Ip(chainage_m=0.0, level_m=100.0), Ip(chainage_m=500.0, level_m=float(level[-13]))])
    here = evaluate_line(works, line, COST)
    a, b = np.sort(rng.uniform(0, 500, 2))
    aside = float(rng.choice([-0.5, 0.5, 3.0]))
    found = shift_of(works, here, COST, STRAIGHT, (a, b), aside)
    moved = np.where((s >= a) & (s <= b), aside, 0.0).repeat(25)
    middle = np.array([np.interp(0, offset[i : i + 25] - moved[i], level[i : i + 25]) for i in starts[:-1]])
    # Levels are against the same base: a shift changes what lies beside, not what is measured over.
    there = Earthworks.of(GroundSections(s, starts, offset - moved, level, middle), TYPICAL)
    assert found.planned == pytest.approx(evaluate_line(there, line, COST).ledger.cost - here.ledger.cost, abs=1e-5)
    assert found.open_m == 0.0


@pytest.mark.parametrize("seed", range(6))
def test_price_of_level_is_what_differences_of_the_ledger_say(seed):
    """Each section by itself a tenth of a millimetre up, and down: earthworks, haul, borrow and spoil."""
    rng = np.random.default_rng(seed)
    s = np.arange(0.0, 400.0, 10.0)
    offset = np.tile(np.sort(np.append(rng.uniform(-60, 60, 14), [-60.0, 0.0, 60.0])), len(s))
    level = np.repeat(100 + np.cumsum(rng.normal(0, 0.6, len(s))), 17) + 0.2 * offset + rng.normal(0, 0.3, len(offset))
    middle = level.reshape(len(s), 17)[np.arange(len(s)), int(np.argmin(np.abs(offset[:17])))]
    works = Earthworks.of(GroundSections(s, np.arange(0, 17 * len(s) + 1, 17), offset, level, middle), TYPICAL)
    lies = middle + np.cumsum(rng.normal(0, 0.5, len(s)))
    here = evaluate_levels(works, lies, COST)
    price, step = level_price(works, here, COST), 1e-4
    near = 0
    for i in range(len(s)):
        for way, found in ((1, price.up), (-1, price.down)):
            moved = lies.copy()
            moved[i] += way * step
            there = evaluate_levels(works, moved, COST).ledger.cost
            change = (there - here.ledger.cost) / step / works.weight_m[i]
            # Between two levels areas may turn, and a way of the earth end.
            near += abs(found[i] - change) < 0.01 + 1e-3 * abs(change)
    assert near >= 0.95 * 2 * len(s)
    assert np.isnan(level_price(works, evaluate_levels(works, np.full(len(s), np.nan), COST), COST).up).all()
