"""One move of a line of 10 km with about 60 IPs: its earthworks, sight both ways, trucks, and every check under ranges.

`PYTHONPATH=src:benchmarks .venv/bin/python benchmarks/checks.py`
"""

import time

import numpy as np

import roads
from delgrun.core.earthworks.evaluator import evaluate_line
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import all_uses
from delgrun.core.limits.ranges import LimitRange
from delgrun.core.trucks.trucks import Truck

IPS, MOVES = 62, 200


def main() -> None:
    problem = roads.long_road(10_000).problem()
    s, ground = problem.works.chainage_m, problem.works.tables.centre_level_m
    at = np.linspace(s[0], s[-1], IPS)
    ips = [
        Ip(chainage_m=float(x), level_m=float(z), curve_length_m=100.0 if 0 < i < IPS - 1 else 0.0)
        for i, (x, z) in enumerate(zip(at, np.interp(at, s, ground), strict=True))
    ]
    limits = problem.limits.with_ranges(
        [
            LimitRange(from_m=1000, to_m=2500, design_speed_kmh=50, max_grade=0.06),
            LimitRange(from_m=1500, to_m=1700, max_grade=0.04),
            LimitRange(from_m=6000, to_m=8000, most_cut_m=6, most_fill_m=8, min_tangent_m=30),
        ]
    )
    rng = np.random.default_rng(3)
    names = ("earthworks", "sight, both ways", "trucks, both ways", "all checks", "together")
    took = np.zeros((MOVES, len(names)))
    for k in range(MOVES + 5):
        i = int(rng.integers(1, IPS - 1))
        moved = Ip(**{**vars(ips[i]), "level_m": ips[i].level_m + float(rng.normal(0, 0.5))})
        clock = [time.perf_counter()]
        line = GradeLine((*ips[:i], moved, *ips[i + 1 :]))
        checked = Checked(line, limits, problem.works, evaluate_line(problem.works, line, problem.cost), truck=Truck())
        clock.append(time.perf_counter())
        _ = checked.ahead, checked.back
        clock.append(time.perf_counter())
        _ = checked.truck_ahead, checked.truck_back
        clock.append(time.perf_counter())
        uses = all_uses(checked)
        clock.append(time.perf_counter())
        if k >= 5:
            took[k - 5] = 1e3 * np.array([*np.diff(clock), clock[-1] - clock[0]])
    print(f"{len(s)} sections, {len(checked.ahead.at_m)} eyes, {len(uses)} uses")
    for name, (median, p95) in zip(names, np.percentile(took, [50, 95], axis=0).T, strict=True):
        print(f"| {name} | {median:.1f} ms | {p95:.1f} ms |")


if __name__ == "__main__":
    main()
