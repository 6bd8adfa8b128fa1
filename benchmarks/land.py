"""The ground of a million points: triangulation on four kinds of layout, changes by hand, tiles, suspects, difference.

`PYTHONPATH=src .venv/bin/python benchmarks/land.py [tri] [edit] [suspects] [difference]`
"""

import sys
import time

import numpy as np
from scipy.spatial import Delaunay

from delgrun.core.ground.difference import difference
from delgrun.core.ground.edits import GroundChange, GroundEdit, as_built, edited
from delgrun.core.ground.tiles import Place, tile
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.survey.suspects import off_their_neighbours
from size import size

COUNT = size(1_000_000, 4_000)


def took(work) -> tuple[float, object]:
    began = time.perf_counter()
    out = work()
    return time.perf_counter() - began, out


def layouts() -> dict[str, np.ndarray]:
    rng = np.random.default_rng(1)
    k = int(np.sqrt(COUNT))
    e, n = (v.ravel().astype(float) for v in np.meshgrid(np.arange(k), np.arange(k)))
    grid = np.column_stack([e, n])
    return {
        "uniform random": rng.uniform(0, 2000, (COUNT, 2)),
        "jittered grid": grid + rng.uniform(-0.3, 0.3, grid.shape),
        "exact grid": grid,
        "band of 10 km x 240 m": rng.uniform(0, 1, (COUNT, 2)) * [10_000, 240],
    }


def raised(plan: np.ndarray) -> np.ndarray:
    z = 10 * np.sin(plan[:, 0] / 90) + np.random.default_rng(2).normal(0, 0.03, len(plan))
    return np.column_stack([plan, z])


def triangulations() -> None:
    build_tin(raised(np.random.default_rng(0).uniform(0, 50, (3000, 2))))
    for name, plan in layouts().items():
        xyz = raised(plan)
        ours, _ = took(lambda p=xyz: build_tin(p))
        theirs, _ = took(lambda p=plan: Delaunay(p))
        print(f"| {name} | {ours:.1f} s | {theirs:.1f} s | {theirs / ours:.1f} |", flush=True)


def changes(tin: Tin, xyz: np.ndarray) -> None:
    """Points taken out one by one, each on the surface before, and the tiles around drawn again."""
    rng = np.random.default_rng(3)
    used = np.unique(tin.triangles)
    before = as_built(tin)
    _ = tin.cells
    steps, tiles = [], []
    for v in rng.permutation(used)[:25].tolist():
        e, n, z = tin.xyz[v].tolist()
        change = GroundChange(rows=(GroundEdit(what="exclude", easting_m=e, northing_m=n, level_m=z),))
        seconds, after = took(lambda b=before, c=change: edited(b, [c], 20.0, lambda: xyz))
        steps.append(seconds)
        before = after
        # A map of half a metre a pixel: at most four tiles touch a change.
        places = {(int((e + a) // 128), int((n + b) // 128)) for a in (-8, 8) for b in (-8, 8)}
        tiles.append(took(lambda p=places, s=before.tin: [tile(s, Place(1, i, j), 0.5) for i, j in p])[0])
    for what, times in (("a point taken out", steps[2:]), ("the tiles around it", tiles[2:])):
        ms = 1000 * np.array(times)
        print(f"| {what} | {np.median(ms):.0f} ms median, {ms.max():.0f} most |", flush=True)


def main() -> None:
    wanted = sys.argv[1:] or ["tri", "edit", "suspects", "difference"]
    if "tri" in wanted:
        triangulations()
    xyz = raised(layouts()["band of 10 km x 240 m"])
    if "edit" in wanted:
        changes(build_tin(xyz, [], 20.0), xyz)
    if "suspects" in wanted:
        off_their_neighbours(xyz[:3000])
        seconds, found = took(lambda: off_their_neighbours(xyz))
        print(f"| suspects among {COUNT:,} good points | {seconds:.1f} s, {len(found.row)} found |", flush=True)
    if "difference" in wanted:
        other = xyz + np.random.default_rng(4).normal(0, 0.3, xyz.shape)
        difference(build_tin(xyz[:3000]), build_tin(other[:3000]))
        first, second = build_tin(xyz, [], 20.0), build_tin(other, [], 20.0)
        _ = second.cells
        seconds, found = took(lambda: difference(first, second))
        print(f"| what lies between two grounds of {COUNT:,} points | {seconds:.1f} s, {found.raised_m3:.0f} m3 |")


main()
