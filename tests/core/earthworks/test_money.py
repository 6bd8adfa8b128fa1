"""Laws of quantities and money that hold for every line, and volumes of whole bodies."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad
from shapely.geometry import Polygon

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_levels, evaluate_line
from delgrun.core.earthworks.volumes import end_area_volumes
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.ground.along import ground_sections
from delgrun.core.ground.tin import build_tin
from delgrun.core.limits.check import Checked, LimitUse
from delgrun.core.limits.checks import all_uses, brief, sentence, where
from delgrun.core.limits.checks.ground import NO_CATCH_LEFT, NO_CATCH_RIGHT, NO_GROUND
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.units import chainage_text
from grounds import problem

_kept: list[Earthworks] = []


def works() -> Earthworks:
    if not _kept:
        _kept.append(problem("rolling").works)
    return _kept[0]


def some_levels(seed: int) -> np.ndarray:
    rng = np.random.default_rng(seed)
    s = works().chainage_m
    wave = sum(rng.normal(0, 1.5) * np.sin(s / rng.uniform(60, 900) + rng.uniform(0, 6)) for _ in range(4))
    return works().centre_level_m + wave


prices = st.floats(0.01, 50)
models = st.builds(
    CostModel, currency=st.just("EUR"), cut_per_m3=prices, fill_per_m3=prices, haul_per_m3_m=st.floats(1e-5, 0.05),
    borrow_per_m3=prices, spoil_per_m3=prices, compacted_per_bank=st.floats(0.7, 1.3),
)  # fmt: skip


@given(models, st.integers(0, 500))
def test_the_ledger_adds_up_and_no_cubic_metre_is_lost(cost, seed):
    got = evaluate_levels(works(), some_levels(seed), cost)
    led = got.ledger
    items = (led.cut_cost, led.fill_cost, led.haul_cost, led.borrow_cost, led.spoil_cost)
    assert led.cost == pytest.approx(sum(items), rel=1e-12) and min(items) >= 0
    assert led.cut_cost == pytest.approx(cost.cut_per_m3 * led.cut_m3)
    assert led.haul_cost == pytest.approx(cost.haul_per_m3_m * led.haul_m3_m)
    # What is dug, borrowed and kept is what is filled and wasted.
    balance = cost.compacted_per_bank * led.cut_m3 + led.borrow_m3 - led.fill_m3 - led.spoil_m3
    assert balance == pytest.approx(0, abs=1e-5 * (led.cut_m3 + led.fill_m3))
    assert got.mass_m3[-1] == pytest.approx(cost.compacted_per_bank * led.cut_m3 - led.fill_m3, abs=1e-6 * led.cut_m3)
    assert led.topsoil_m3 == pytest.approx(works().in_ground.topsoil_m[0] * led.footprint_m2)


@given(models, st.integers(0, 500), st.floats(0.1, 9))
def test_money_in_another_currency_buys_the_same_line(cost, seed, rate):
    names = ("cut_per_m3", "fill_per_m3", "haul_per_m3_m", "borrow_per_m3", "spoil_per_m3")
    other = replace(cost, currency="NOK", **{n: rate * getattr(cost, n) for n in names})
    a, b = (evaluate_levels(works(), some_levels(seed), c).ledger for c in (cost, other))
    # Which of two equally dear hauls is taken may differ; what they cost may not.
    assert b.cost == pytest.approx(rate * a.cost, rel=1e-9)


@given(models, st.integers(0, 500), st.sampled_from(["cut_per_m3", "haul_per_m3_m", "borrow_per_m3", "spoil_per_m3"]))
def test_a_dearer_price_never_makes_a_line_cheaper(cost, seed, name):
    dearer = replace(cost, **{name: 1.3 * getattr(cost, name)})
    a, b = (evaluate_levels(works(), some_levels(seed), c).ledger.cost for c in (cost, dearer))
    assert b >= a * (1 - 1e-12)


def test_a_whole_body_equals_the_integral_of_its_sections():
    """A level road 3 m under a plane that rises along it: end areas against scipy's integral of shapely's polygons."""
    e, n = np.meshgrid(np.arange(-10.0, 211.0, 10.0), np.arange(-60.0, 61.0, 10.0))
    xyz = np.column_stack([e.ravel(), n.ravel(), 10 + 0.02 * e.ravel() + 0.05 * n.ravel()])
    line = Centreline([CentrelineIp(easting_m=0, northing_m=0), CentrelineIp(easting_m=200, northing_m=0)])
    typical = RoadDesign.plain(
        lane_width_m=3, lane_crossfall=0, shoulder_width_m=1, shoulder_crossfall=0, pavement_thickness_m=0,
        topsoil_depth_m=0, cut_batter_h_over_v=1.5, fill_batter_h_over_v=2,
    )  # fmt: skip
    s = line.priced_chainages(5.0)
    ground = ground_sections(build_tin(xyz), line, s, 60.0)
    road = Earthworks.of(ground, typical)
    cost = CostModel(currency="EUR", cut_per_m3=1, fill_per_m3=1, haul_per_m3_m=0.001, borrow_per_m3=1, spoil_per_m3=1,
                     compacted_per_bank=1)  # fmt: skip
    flat = GradeLine.of([Ip(chainage_m=0, level_m=7.0), Ip(chainage_m=200, level_m=7.0)])

    def area(at: float) -> float:
        # Northing is to the left, so the ground rises to the left.
        under = Polygon([(-60, 10 + 0.02 * at + 3), (60, 10 + 0.02 * at - 3), (60, -90), (-60, -90)])
        over = Polygon([(-64, 47), (-4, 7), (4, 7), (64, 47)])
        return under.intersection(over).area

    want = quad(area, 0, 200)[0]
    got = evaluate_line(road, flat, cost).ledger
    assert got.fill_m3 == 0 and got.cut_m3 == pytest.approx(want, rel=2e-4)
    coarse = np.linspace(0, 200, 3)
    # Average end areas of a convex body lie above it, and the closer the sections the less.
    assert end_area_volumes(np.array([area(x) for x in coarse]), coarse).sum() > got.cut_m3 > want


def test_stretches_without_ground_or_catch_are_told_by_side():
    e, n = np.meshgrid(np.arange(0.0, 301.0, 10.0), np.arange(-60.0, 11.0, 10.0))
    xyz = np.column_stack([e.ravel(), n.ravel(), np.full(e.size, 20.0)])
    line = Centreline([CentrelineIp(easting_m=-50, northing_m=0), CentrelineIp(easting_m=280, northing_m=0)])
    typical = RoadDesign.plain(
        lane_width_m=3, lane_crossfall=0.03, shoulder_width_m=1, shoulder_crossfall=0.04, pavement_thickness_m=0.4,
        topsoil_depth_m=0.1, cut_batter_h_over_v=1.5, fill_batter_h_over_v=2,
    )  # fmt: skip
    s = line.priced_chainages(10.0)
    ground = ground_sections(build_tin(xyz), line, s, 60.0)
    road = Earthworks.of(ground, typical)
    # 8 m of fill: 15 m of batter to the left, where the survey ends after 10; and no ground before 0+050.
    cost = problem("rolling").cost
    flat = GradeLine.of([Ip(chainage_m=s[0], level_m=28.0), Ip(chainage_m=s[-1], level_m=28.0)])
    checked = Checked(flat, LimitSet(), road, evaluate_levels(road, np.full(len(s), 28.0), cost))
    found = all_uses(checked, (NO_GROUND, NO_CATCH_LEFT, NO_CATCH_RIGHT))
    assert {u.check for u in found} == {"no_ground", "no_catch_left"}
    texts = sorted(sentence(u) for u in found)
    assert texts == [
        "The batter on the left finds no ground: the survey ends 10.00 m out, 8.94 m short from 0+050.00 to 0+330.00",
        "The survey has no ground at the centreline from 0+000.00 to 0+040.00",
    ]


CHECKS = {
    "steepest_grade": (0.09, 0.08, "Grade +9.00 %, at most 8.00 %, too steep by 1.00 %"),
    "flattest_grade": (-0.003, 0.005, "Grade -0.30 %, needs 0.50 % to drain, short by 0.20 %"),
    "sag_k": (22.96, 23.0, "K 22.96, needs 23, short by 0.04"),
    "curve_length": (40.0, 45.0, "Curve 40.00 m, needs 45 m, short by 5.00 m"),
    "ip_spacing": (55.0, 60.0, "IPs 55.00 m apart, needs 60 m, short by 5.00 m"),
    "no_catch_right": (1.0, 0.0, "The batter on the right finds no ground: "),
}


@pytest.mark.parametrize("check", CHECKS)
def test_every_failure_says_what_by_how_much_and_where(check):
    value, limit, words = CHECKS[check]
    u = LimitUse(check, 1234.5, 1300.0, value, limit, 2.0, 3)
    assert brief(u) == words and where(u) == "from 1+234.50 to 1+300.00"
    assert sentence(u) == f"{words} from 1+234.50 to 1+300.00"


@given(st.floats(-99_999, 999_999))
def test_a_chainage_reads_back_within_half_a_centimetre(value):
    text = chainage_text(value)
    km, rest = text.lstrip("-").split("+")
    back = (int(km) * 1000 + float(rest)) * (-1 if text.startswith("-") else 1)
    assert abs(back - value) <= 0.005 + 1e-6 and len(rest) == 6
