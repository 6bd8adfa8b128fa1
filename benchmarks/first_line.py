"""First lines along the ground beside a straight one: time, IPs, cost, limits broken.

`PYTHONPATH=src:benchmarks .venv/bin/python benchmarks/first_line.py`
"""

import time

import grounds
import roads
from delgrun.core.earthworks.evaluator import evaluate_line
from delgrun.core.first_line.first_line import first_line
from delgrun.core.first_line.wishes import Depths
from delgrun.core.gradeline.follow import straight
from delgrun.core.limits.checks import limit_uses
from delgrun.core.search.problem import SearchProblem
from size import size


def row(name: str, problem: SearchProblem) -> None:
    s, ground = problem.works.chainage_m, problem.works.centre_level_m
    plain = straight(s[0], ground[0], s[-1], ground[-1])
    instead = evaluate_line(problem.works, plain, problem.cost).ledger.cost
    for depths in (Depths(), Depths(cut_m=4.0, fill_m=4.0)):
        began = time.perf_counter()
        made = first_line((s, ground), (s[0], s[-1]), problem.limits, depths)
        took = time.perf_counter() - began
        cost = evaluate_line(problem.works, made.line, problem.cost).ledger.cost
        fails = sum(u.fails for u in limit_uses(made.line, problem.limits))
        over = ground - made.line.levels(s)
        wished = "free" if depths.cut_m is None else f"{depths.cut_m:g} m"
        road, ips = f"{name}, {(s[-1] - s[0]) / 1000:.0f} km", len(made.line.ips) - 2
        print(f"| {road} | {wished} | {took:.2f} s | {ips} | {cost:,.0f} | {instead / cost:.0f} times ", end="")
        print(f"| {over.max():.1f}, {-over.min():.1f} m | {fails} |", flush=True)


def main() -> None:
    for name in size(("gentle", "rolling", "rugged"), ("gentle",)):
        row(name, grounds.problem(name))
    row("demo", roads.demo_road().problem())
    for length in size((10_000, 50_000), (2_000,)):
        row("the demo's hills", roads.long_road(length).problem())


if __name__ == "__main__":
    main()
