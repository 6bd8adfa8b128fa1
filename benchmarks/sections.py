"""Sections of 4, 10 and 50 km: resolved, worked out anew and beside a line at rest, and what a search reads of them;
and the same areas by polygons of shapely.

`PYTHONPATH=src:benchmarks .venv/bin/python benchmarks/sections.py`
"""

import sys
import time
from pathlib import Path

import numpy as np

import roads
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_levels, evaluate_line
from delgrun.core.ground.along import ground_sections
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import all_uses
from delgrun.core.section.section import exact_section
from delgrun.core.trucks.trucks import Truck
from size import size

# How polygons are made of a side is the tests'.
sys.path.insert(0, str(Path(__file__).parents[1] / "tests" / "core"))
from walk import areas_by_polygons

MOVES = size(200, 3)


def timed(work, times: int = 3) -> tuple[float, object]:
    best, out = np.inf, None
    for _ in range(times):
        began = time.perf_counter()
        out = work()
        best = min(best, time.perf_counter() - began)
    return best, out


def memory_mb(works: Earthworks) -> float:
    pieces = works.pieces(works.columns(roads.CostModel()).sums)
    kept = [*works.sides, *pieces, *works.road.shapes, works.in_ground.depth_m, works.road.which]
    return sum(a.nbytes for a in kept) / 1e6


def by_shapely(works: Earthworks, level: np.ndarray) -> float:
    """Areas below every top and of fill from the corners that our own outlines have, side by side."""
    began = time.perf_counter()
    g = works.ground
    for i in range(len(level)):
        offset, ground = g.one(i)
        section = exact_section(offset, ground, works.road.both(i), float(level[i]), works.in_ground.depth_m[i])
        for side, sign in ((section.left, -1.0), (section.right, 1.0)):
            on = sign * offset >= 0
            x, z = np.abs(offset[on]), ground[on]
            order = np.argsort(x, kind="stable")
            own = np.column_stack([x[order], z[order]])
            own = np.vstack([[0.0, np.interp(0.0, offset, ground)], own]) if own[0, 0] > 0 else own
            tops = [own - [0.0, d] for d in works.in_ground.depth_m[i]]
            areas_by_polygons([tuple(p) for p in side.outline.tolist()], side.hinge, tops, side.in_cut)
    return time.perf_counter() - began


def measure(road: roads.BenchRoad) -> None:
    works, s = road.works, road.works.chainage_m
    cut, ground = timed(lambda: ground_sections(road.tin, road.centreline, s, 60.0), 1)
    resolved, _ = timed(lambda: Earthworks.of(ground, road.typical).road.shapes)
    level = works.centre_level_m + 3 * np.sin(s / 150)
    line = road.by_hand

    def figures() -> list:
        """All of a line after its section was changed, checks and all."""
        made = Earthworks.of(ground, road.typical)
        return all_uses(Checked(line, road.limits, made, evaluate_line(made, line, road.cost), truck=Truck()))

    first, _ = timed(figures)
    anew, _ = timed(lambda: evaluate_levels(works, level, road.cost), 10)
    rest = evaluate_levels(works, level, road.cost)
    rng, took = np.random.default_rng(1), []
    for _ in range(MOVES):
        a = int(rng.integers(0, len(s) - 40))
        moved = level.copy()
        moved[a : a + 40] += rng.normal(0, 0.5)
        began = time.perf_counter()
        evaluate_levels(works, moved, road.cost, rest)
        took.append(1e3 * (time.perf_counter() - began))
    swept, pieces = timed(lambda: works.pieces(works.columns(road.cost).sums), 1)
    print(f"{road.name}: {len(s)} sections, {len(pieces.at)} pieces")
    print(f"| ground cut, sections resolved | {cut:.2f} s, {resolved:.3f} s |")
    print(f"| first figures after a change of the section, all checks | {first:.3f} s |")
    print(f"| a line anew | {1e3 * anew:.1f} ms |")
    print(f"| one move beside a line at rest, p95 | {np.median(took):.2f} ms, {np.percentile(took, 95):.2f} ms |")
    print(f"| pieces for a search | {swept:.2f} s |")
    print(f"| memory of all that is kept | {memory_mb(works):.1f} MB |")
    print(f"| the same areas by shapely's polygons | {by_shapely(works, level):.1f} s |")


def main() -> None:
    plains = [roads.demo_road(), *(roads.long_road(length) for length in size((10_000.0, 50_000.0), ()))]
    for plain in plains:
        for road in (plain, roads.rich(plain)):
            measure(road)


if __name__ == "__main__":
    main()
