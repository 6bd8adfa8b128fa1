"""One move of a line of 10 km with about 60 IPs: its earthworks, sight both ways, trucks, and every check under ranges,
level controls and utilities; then what follows at rest.

`PYTHONPATH=src:benchmarks .venv/bin/python benchmarks/checks.py`
"""

import time
from dataclasses import replace

import numpy as np

import roads
from delgrun.core.controls.bands import Band, slack_of
from delgrun.core.earthworks.evaluator import evaluate_line
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import CHECKS, all_uses
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.limits.remedies import remedies
from delgrun.core.search.problem import SearchProblem
from delgrun.core.sight.space import road_of, sight_in_space
from delgrun.core.trucks.trucks import Truck
from size import size

IPS, MOVES, RESTS = 62, size(300, 3), size(12, 1)
_TRUCK = Truck()


def _checked(line: GradeLine, problem: SearchProblem, limits: LimitSet, rest: Checked | None = None) -> Checked:
    evaluation = evaluate_line(problem.works, line, problem.cost, rest.evaluation if rest else None)
    return Checked(line, limits, problem.works, evaluation, truck=_TRUCK, rest=rest)


def main() -> None:
    plain = roads.long_road(10_000)
    for name, road in (("plain section", plain), ("richest section", roads.rich(plain))):
        print(name)
        measure(road)


def measure(road: roads.BenchRoad) -> None:
    problem = road.problem()
    s, ground = problem.works.chainage_m, problem.works.centre_level_m
    at = np.linspace(s[0], s[-1], IPS)
    ips = [
        Ip(chainage_m=float(x), level_m=float(z), curve_length_m=100.0 if 0 < i < IPS - 1 else 0.0)
        for i, (x, z) in enumerate(zip(at, np.interp(at, s, ground), strict=True))
    ]
    ranges = [
        LimitRange(from_m=1000, to_m=2500, design_speed_kmh=50, max_grade=0.06),
        LimitRange(from_m=1500, to_m=1700, max_grade=0.04),
        LimitRange(from_m=6000, to_m=8000, most_cut_m=6, most_fill_m=8, min_tangent_m=30),
    ]
    # Ten level controls, half of them over the ground of a hundred metres, and a pipe of 240 places.
    bands = []
    for k in range(10):
        a = 500.0 + 900 * k
        where = np.arange(a, a + 100, 1.0) if k % 2 else np.array([a, a + 50])
        bands.append(Band("control", k, f"control {k}", where, np.interp(where, s, ground) - 6, 0.0, np.inf))
    where = np.linspace(4200.0, 4230.0, 240)
    bands.append(Band("utility", 0, "pipe", where, np.interp(where, s, ground) - 5, 0.0, np.inf, joined=False))
    limits = problem.limits.with_ranges(ranges).with_bands(bands)
    rng = np.random.default_rng(3)
    names = ("earthworks", "sight, both ways", "trucks, both ways", "all checks", "room in controls", "together")
    took = np.zeros((MOVES, len(names)))
    # As in a drag: what the line at rest has is there, and taken over where nothing changed.
    rest = _checked(GradeLine(tuple(ips)), problem, limits)
    _ = rest.ahead, rest.back, rest.truck_ahead, rest.truck_back, all_uses(rest)
    for k in range(MOVES + 5):
        i = int(rng.integers(1, IPS - 1))
        moved = replace(ips[i], level_m=ips[i].level_m + float(rng.normal(0, 0.5)))
        clock = [time.perf_counter()]
        line = GradeLine((*ips[:i], moved, *ips[i + 1 :]))
        checked = _checked(line, problem, limits, rest)
        clock.append(time.perf_counter())
        _ = checked.ahead, checked.back
        clock.append(time.perf_counter())
        _ = checked.truck_ahead, checked.truck_back
        clock.append(time.perf_counter())
        uses = all_uses(checked)
        clock.append(time.perf_counter())
        _ = [slack_of(line, band) for band in limits.bands]
        clock.append(time.perf_counter())
        if k >= 5:
            took[k - 5] = 1e3 * np.array([*np.diff(clock), clock[-1] - clock[0]])
    print(f"{len(s)} sections, {len(checked.ahead.at_m)} eyes, {len(uses)} uses")
    for name, (median, p95) in zip(names, np.percentile(took, [50, 95], axis=0).T, strict=True):
        print(f"| {name} | {median:.1f} ms | {p95:.1f} ms |")
    rests = np.zeros((RESTS, 2))
    for k in range(RESTS):
        began = time.perf_counter()
        assert checked.evaluation is not None
        seen = road_of(checked.line, road.centreline, problem.works, checked.evaluation)
        lane = np.full(len(seen.places), float(problem.works.road.profiles[0].surface[1, 0]) / 2)
        for back, way in ((False, checked.ahead), (True, checked.back)):
            sight_in_space(seen, limits.stopping(), way, -lane if back else lane, back=back)
        rests[k, 0] = time.perf_counter() - began
        found = remedies(checked, CHECKS, lambda line: evaluate_line(problem.works, line, problem.cost))
        rests[k, 1] = time.perf_counter() - began - rests[k, 0]
    for name, seconds in zip(("sight past bends, both ways", f"{len(found)} remedies"), rests.T, strict=True):
        print(f"| {name} | {np.median(seconds):.2f} s | {seconds.max():.2f} s |")


if __name__ == "__main__":
    main()
