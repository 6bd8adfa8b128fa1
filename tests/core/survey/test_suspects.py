"""Suspects on made land: blunders found, banks and creeks left alone. Figures on many lands: docs/suspects.md."""

import numpy as np
import pytest

from delgrun.core.ground.tin import build_tin
from delgrun.core.survey.points import Survey
from delgrun.core.survey.suspects import off_their_neighbours, suspects

SIGMA = 0.03


def land(seed: int, height, count: int = 6000) -> tuple[np.ndarray, np.random.Generator]:
    rng = np.random.default_rng(seed)
    plan = rng.uniform(0, 230, (count, 2))
    return np.column_stack([plan, height(*plan.T) + rng.normal(0, SIGMA, count)]), rng


def hills(e, n):
    return 8 * np.sin(e / 70) * np.cos(n / 60)


def bank(e, n):
    """Top 9 m wide, 6 m high, 1 : 1.5 on both sides."""
    return hills(e, n) / 4 + np.clip((13.5 - np.abs(n - 115)) / 1.5, 0, 6)


def creek(e, n):
    return hills(e, n) / 4 - np.clip((6.5 - np.abs(n - 115 - 10 * np.sin(e / 40))) / 1.5, 0, 3)


@pytest.mark.parametrize("origin", [(0.0, 0.0), (500_000.0, 4_200_000.0)])
def test_blunders_on_hills_are_found_and_nothing_else(origin):
    xyz, rng = land(1, hills)
    xyz[:, :2] += origin
    bad = rng.permutation(len(xyz))[:40]
    size = rng.choice([-1, 1], 40) * SIGMA * rng.uniform(10, 100, 40)
    xyz[bad, 2] += size
    found = off_their_neighbours(xyz)
    assert set(bad.tolist()) == set(found.row.tolist())
    by_row = dict(zip(found.row.tolist(), found.above_m.tolist(), strict=True))
    assert [by_row[b] for b in bad.tolist()] == pytest.approx(size, abs=6 * SIGMA)
    # The worst first.
    assert (np.diff(found.times) <= 0).all()


@pytest.mark.parametrize(("size", "share"), [(4.0, 0.9), (0.5, 0.75), (-0.5, 0.75)])
@pytest.mark.parametrize("height", [bank, creek])
def test_a_steep_bank_and_a_creek_are_no_list_of_errors_and_hide_no_spike(height, size, share):
    xyz, _ = land(2, height)
    assert len(off_their_neighbours(xyz).row) <= 1
    on_it = np.flatnonzero(np.abs(xyz[:, 1] - 115) < 20)[::40]
    # Half a metre is less than the bank rises between two points.
    xyz[on_it, 2] += size
    found = set(off_their_neighbours(xyz).row.tolist())
    assert len(found & set(on_it.tolist())) >= share * len(on_it)
    assert len(found - set(on_it.tolist())) <= 1


def test_a_survey_no_wider_than_a_road_needs_is_judged_as_well():
    rng = np.random.default_rng(6)
    plan = rng.uniform([0, 97], [1000, 133], (4000, 2))
    xyz = np.column_stack([plan, bank(*plan.T) + rng.normal(0, SIGMA, 4000)])
    assert len(off_their_neighbours(xyz).row) <= 2
    bad = np.arange(50, 4000, 100)
    xyz[bad, 2] += rng.choice([-1, 1], len(bad)) * rng.uniform(0.6, 4, len(bad))
    assert len(set(off_their_neighbours(xyz).row.tolist()) & set(bad.tolist())) >= 0.8 * len(bad)


def test_rough_ground_is_judged_by_its_own_roughness():
    xyz, rng = land(3, hills)
    rough = xyz[:, 0] > 115
    xyz[rough, 2] += rng.normal(0, 10 * SIGMA, int(rough.sum()))
    assert len(off_their_neighbours(xyz).row) <= 1


def test_doubles_codes_and_crossing_strings_are_suspects_too_each_with_its_reason():
    xyz, _ = land(4, hills, 800)
    twice = [*xyz[10, :2], xyz[10, 2] + 0.5]
    cross = np.array([[300.0, 0, 10], [310, 10, 10], [300, 10, 12], [310, 0, 12]])
    points = np.vstack([xyz, twice, cross])
    code = np.array(["GR"] * 800 + ["GR"] + ["CB"] * 4, dtype="U10")
    code[[3, 4]] = "MH LID"
    survey = Survey(points, [np.array([801, 802]), np.array([803, 804])], np.full(805, ""), code)
    tin = build_tin(survey.xyz, survey.breaklines)
    found = suspects(tin, survey, {})
    why = {s.why: s for s in found}
    assert why["double"].row == 800 and "0.500 m lower" in why["double"].says
    assert sorted(s.row for s in found if s.why == "code") == [3, 4] and "mostly no ground" in why["code"].says
    assert (why["crossing"].easting_m, why["crossing"].northing_m) == pytest.approx((305, 5)) and why[
        "crossing"
    ].above_m == 2
    told = suspects(tin, survey, {"MH LID": "ground", "CB": "not_ground"})
    assert {s.row for s in told if s.why == "code"} == {801, 802, 803, 804}


def test_few_points_are_not_judged():
    assert len(off_their_neighbours(np.random.default_rng(0).uniform(0, 9, (8, 3))).row) == 0
