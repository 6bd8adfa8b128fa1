"""A move of a line takes over what did not change from the line at rest: the same answer as anew, to the bit."""

from dataclasses import replace

import numpy as np
import pytest

from delgrun.core.earthworks.columns import CostModel
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_line
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.edit_kinds import MoveIp, MoveMany, SetCurve, SetLength, apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip, IpNumber
from delgrun.core.limits.asked_curves import around
from delgrun.core.limits.check import Changed, Checked, PlanBend
from delgrun.core.limits.checks import CHECKS, all_uses
from delgrun.core.limits.limit_set import LimitSet, default_limits
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.trucks.trucks import Truck
from laws import examples


def road(rng: np.random.Generator) -> GradeLine:
    """A line with curves of every shape, some of which touch, some of which keep something."""
    n = int(rng.integers(12, 40))
    s = np.round(np.cumsum(np.r_[rng.uniform(-500, 500_000), rng.uniform(90, 420, n - 1)]), 3)
    z = np.round(rng.uniform(0, 4000) + np.cumsum(rng.normal(0, 0.04, n) * np.r_[0.0, np.diff(s)]), 3)
    line = GradeLine(tuple(Ip(chainage_m=float(a), level_m=float(b)) for a, b in zip(s, z, strict=True)))
    limits = around(default_limits(60.0))
    for i in range(1, n - 1):
        shape = rng.choice(["parabola", "circle"])
        share = float(rng.uniform(0.2, 0.8)) if shape == "parabola" and rng.random() < 0.3 else None
        kept = {"held": "limits"} if rng.random() < 0.3 else {"curve_length_m": round(float(rng.uniform(0, 160)), 2)}
        try:
            line = apply_edit(line, SetCurve(ip=i, shape=shape, in_share=share, **kept), limits).line
        except DesignInputError:
            continue
    return line


def limits_of(rng: np.random.Generator, line: GradeLine) -> LimitSet:
    a, b = float(line.chainage_m[0]), float(line.chainage_m[-1])
    ranges = []
    for _ in range(int(rng.integers(0, 4))):
        start = float(rng.uniform(a, b))
        own = {"max_grade": 0.05, "design_speed_kmh": 90.0, "min_tangent_m": 40.0, "max_fall": 0.03}
        some = {k: v for k, v in own.items() if rng.random() < 0.6}
        ranges.append(LimitRange(from_m=start, to_m=start + float(rng.uniform(20, 900)), **some))
    mode = str(rng.choice(["fails", "advice"]))
    limits = replace(
        default_limits(float(rng.choice([40.0, 60.0, 80.0]))), stopping_sight=mode, headlight_sight=mode,
        longest_tangent_m=200.0, most_drained_k_m_per_pct=40.0, sag_k_comfort=30.0, min_kerb_grade=0.01,
    )  # fmt: skip
    return limits.with_ranges(ranges)


def bends_of(rng: np.random.Generator, line: GradeLine) -> tuple[PlanBend, ...]:
    at = np.sort(rng.uniform(line.chainage_m[0], line.chainage_m[-1], 14)).reshape(-1, 2)
    return tuple(PlanBend(a, b, float(rng.choice([-1, 1]) * rng.uniform(60, 400)), 50.0, 60.0) for a, b in at.tolist())


def edits_of(rng: np.random.Generator, line: GradeLine):
    i = int(rng.integers(0, len(line.ips)))
    ip = line.ips[i]
    to = ip.chainage_m + float(rng.normal(0, 8)), ip.level_m + float(rng.normal(0, 1))
    yield MoveIp(ip=i, chainage_m=to[0], level_m=to[1], slide=True)
    some = tuple(IpNumber(ip=k) for k in range(i, min(i + 2, len(line.ips))))
    yield MoveMany(ips=some, along_m=0.0, up_m=float(rng.normal(0, 0.5)), tilt=0.0, about_m=0.0, slide=True)
    if 0 < i < len(line.ips) - 1:
        yield SetLength(ip=i, curve_length_m=round(float(rng.uniform(0, line.room_m(i))), 2))


def test_a_move_says_what_the_line_says_anew():
    rng = np.random.default_rng(17)
    looked = taken = 0
    for _ in range(examples(60)):
        line = road(rng)
        limits, bends, truck = limits_of(rng, line), bends_of(rng, line), Truck()
        line = line.under(around(limits).asks).held()
        rest = Checked(line, limits, bends=bends, truck=truck)
        all_uses(rest)
        for edit in edits_of(rng, line):
            try:
                moved = apply_edit(line, edit, around(limits)).line
            except DesignInputError:
                continue
            move, anew = Checked(moved, limits, bends=bends, truck=truck, rest=rest), replace(rest, line=moved)
            looked += 1
            taken += move.changed is not None and move.changed.high > 0
            for ours, theirs in ((move.ahead, anew.ahead), (move.back, anew.back)):
                for name in ("at_m", "seen_m", "needed_m", "top_m"):
                    assert np.array_equal(getattr(ours, name), getattr(theirs, name), equal_nan=True), (name, edit)
                assert ours.lacks == theirs.lacks, edit
            for ours, theirs in ((move.truck_ahead, anew.truck_ahead), (move.truck_back, anew.truck_back)):
                assert np.array_equal(ours.at_m, theirs.at_m) and np.array_equal(ours.kmh, theirs.kmh), edit
                assert ours.slow == theirs.slow, edit
            for check in CHECKS:
                assert move.used(check) == anew.used(check), (check.id, edit)
    assert looked > 2 * examples(60) and taken > looked / 2


def test_the_flattest_in_a_cut_and_depths_follow_the_ground_under_a_move():
    """Beside works, whose levels change with the line, too."""
    roads = pytest.importorskip("roads")
    found = roads.long_road(3_000).problem()
    works: Earthworks = found.works
    s, ground = works.chainage_m, works.centre_level_m
    at = np.linspace(s[0], s[-1], 18)
    ips = [
        Ip(chainage_m=float(x), level_m=float(z), curve_length_m=60.0 if 0 < i < 17 else 0.0)
        for i, (x, z) in enumerate(zip(at, np.interp(at, s, ground), strict=True))
    ]
    line = GradeLine(tuple(ips))
    limits = replace(default_limits(60.0), min_cut_grade=0.02, most_cut_m=1.0, most_fill_m=1.0)
    cost = CostModel()
    rest = Checked(line, limits, works, evaluate_line(works, line, cost), truck=Truck())
    rng = np.random.default_rng(5)
    for _ in range(examples(40)):
        i = int(rng.integers(1, 17))
        ips_now = [*ips[:i], replace(ips[i], level_m=ips[i].level_m + float(rng.normal(0, 1))), *ips[i + 1 :]]
        moved = GradeLine(tuple(ips_now))
        evaluation = evaluate_line(works, moved, cost)
        move = Checked(moved, limits, works, evaluation, truck=Truck(), rest=rest)
        assert all_uses(move) == all_uses(Checked(moved, limits, works, evaluation, truck=Truck()))


def test_nothing_is_taken_over_from_another_line_or_other_limits():
    line = GradeLine(tuple(Ip(chainage_m=100.0 * i, level_m=float(i % 3)) for i in range(20)))
    limits = default_limits(60.0)
    rest = Checked(line, limits)
    assert Checked(line, default_limits(60.0), rest=rest).changed is None
    fewer = GradeLine(line.ips[:10] + line.ips[11:])
    assert Checked(fewer, limits, rest=rest).changed is None
    assert Checked(line, limits, rest=rest).changed == Changed(0, 0, np.inf, -np.inf)
