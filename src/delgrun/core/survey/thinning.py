"""Thinning of dense surveys: the fewest points found whose surface keeps every other one within a tolerance.

Points are put in where the surface of those chosen so far is off the most, one a triangle and round, first in tiles
and then all over, until no point that is left out is off by more than the tolerance: the last look is at the very
surface that is handed on, so that the tolerance is kept by what was measured and not by what was hoped.
"""

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.budget import MOST_POINTS
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.tin import Tin, build_tin
from delgrun.core.survey import thinning_kernels
from delgrun.core.survey.points import Survey

FloatArray = NDArray[np.float64]
Numbers = NDArray[np.int64]
# Told which share is done; it may raise to end the work.
Say = Callable[[float], None]

# Fewer than these are not worth it.
_FEWEST = 20
_TILE_POINTS = 250_000
# The first points of a tile are this many times as far apart as the points are.
_START_SPACINGS = 16
_ROUNDS = 200
# Share of the time that the tiles take.
_TILES_SHARE = 0.6
# Rim points this close together, as shares of the longest edge: less than it, so that none of the rim is trimmed.
_RIM_CELL = 1 / 3


@dataclass(frozen=True)
class Thinned:
    """The survey that is left; `kept` rows of the whole one; `off_m` the most that a left-out point is off. [m]"""

    survey: Survey
    kept: Numbers
    off_m: float


def thin(survey: Survey, tolerance_m: float, longest_edge_m: float, say: Say = lambda _: None) -> Thinned:
    """Leave out points that the surface of the others gives within a tolerance; points of breaklines stay.

    Of each point that is left out the level is within `tolerance_m` of the surface that `build_tin` makes of those
    that stay, with the same breaklines and the same longest edge; none is outside of it.

    Parameters
    ----------
    survey : Survey
        Any number of points; names and codes of those that stay are kept.
    tolerance_m : float
        Vertical; more than 0. [m]
    longest_edge_m : float
        As the surface is to be bounded; see `build_tin`. [m]
    say : function
        Told which share is done.

    Raises
    ------
    DesignInputError
        More points than can be one ground model are needed to keep the tolerance.

    References
    ----------
    Greedy insertion: M. Garland, P. S. Heckbert, "Fast Polygonal Approximation of Terrains and Height Fields", 1995;
    here with all triangles at once.
    """
    if len(survey.xyz) < _FEWEST:
        return Thinned(survey, np.arange(len(survey.xyz)), 0.0)
    origin = np.floor(survey.xyz[:, :2].min(axis=0))
    plan = np.ascontiguousarray(survey.xyz[:, :2] - origin)
    tiles = _tiles(plan)
    # Tile by tile in memory, so that what is looked at together lies together.
    order = np.concatenate(tiles)
    xyz = np.column_stack([plan[order], survey.xyz[order, 2]])
    ends = np.cumsum([0, *map(len, tiles)])
    place = np.empty(len(order), dtype=np.int64)
    place[order] = np.arange(len(order))
    chosen = np.zeros(len(xyz), dtype=bool)
    for line in survey.breaklines:
        chosen[place[line]] = True
    chosen[_rim(xyz, longest_edge_m)] = True

    def one(k: int) -> Numbers:
        a, b = ends[k], ends[k + 1]
        found: Numbers = a + _in_tile(xyz[a:b], np.flatnonzero(chosen[a:b]), tolerance_m)
        return found

    with ThreadPoolExecutor(os.cpu_count()) as pool:
        for k, found in enumerate(pool.map(one, range(len(tiles)))):
            chosen[found] = True
            say(_TILES_SHARE * (k + 1) / len(tiles))
        return _everywhere(survey, order, xyz, chosen, tolerance_m, longest_edge_m, pool, say)


def _everywhere(
    survey: Survey,
    order: Numbers,
    xyz: FloatArray,
    chosen: NDArray[np.bool_],
    tolerance_m: float,
    longest_edge_m: float,
    pool: ThreadPoolExecutor,
    say: Say,
) -> Thinned:
    """Rounds over the whole, on the surface that is handed on, until it keeps the tolerance."""
    share = _TILES_SHARE
    for _ in range(_ROUNDS):
        if chosen.sum() > MOST_POINTS:
            raise DesignInputError(
                "thin_m",
                f"More than {MOST_POINTS} points are needed to keep {{by:size}}: allow more, or take a narrower strip.",
                by=tolerance_m,
            )
        kept = np.sort(order[chosen])
        mask = np.zeros(len(xyz), dtype=bool)
        mask[kept] = True
        left = survey.only(mask)
        tin = build_tin(left.xyz, left.breaklines, longest_edge_m)
        worst, off = _worst_of_all(tin, survey.xyz, order, chosen, tolerance_m, longest_edge_m, pool)
        if not len(worst):
            return Thinned(left, kept, off)
        chosen[worst] = True
        share += (1 - share) / 3
        say(share)
    raise DesignInputError("thin_m", "No surface could be found that keeps {by:size}: allow more.", by=tolerance_m)


def _worst_of_all(
    tin: Tin,
    xyz: FloatArray,
    order: Numbers,
    chosen: NDArray[np.bool_],
    tolerance_m: float,
    longest_edge_m: float,
    pool: ThreadPoolExecutor,
) -> tuple[Numbers, float]:
    """Places in `order` of the points to put in, and how far the worst of those left out is off [m]."""
    c = tin.cells
    outside_cell = max(longest_edge_m * _RIM_CELL, 1e-3)

    def part(k: int) -> tuple[Numbers, float]:
        stop = min(k + _TILE_POINTS, len(order))
        points = xyz[order[k:stop]]
        worst, off, outside = thinning_kernels.worst_by_triangle(
            tin.xyz, tin.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle, points, chosen[k:stop],
            tolerance_m,
        )  # fmt: skip
        return k + np.concatenate([worst, _spread(points, outside, outside_cell)]), float(off)

    found = list(pool.map(part, range(0, len(order), _TILE_POINTS)))
    return np.concatenate([f for f, _ in found]), max(off for _, off in found)


def _spread(points: FloatArray, of: Numbers, cell_m: float) -> Numbers:
    """One of these points for each cell that holds any: as many as bring the rim nearer to them all."""
    if not len(of):
        return of
    cells = np.floor(points[of, :2] / cell_m).astype(np.int64)
    _, first = np.unique(cells, axis=0, return_index=True)
    return of[first]


def _tiles(plan: FloatArray) -> list[Numbers]:
    """Point numbers in tiles of about equal size: halves of halves, across the longer side."""
    out: list[Numbers] = []
    rest = [np.arange(len(plan))]
    while rest:
        own = rest.pop()
        if len(own) <= _TILE_POINTS:
            out.append(own)
            continue
        span = [np.ptp(plan[own, k]) for k in (0, 1)]
        values = plan[own, int(np.argmax(span))]
        half = np.argpartition(values, len(own) // 2)
        rest += [own[half[len(own) // 2 :]], own[half[: len(own) // 2]]]
    return out


def _in_tile(xyz: FloatArray, first: Numbers, tolerance_m: float) -> Numbers:
    """Points of a tile whose surface, without any longest edge, keeps the tolerance for its others."""
    plan = xyz[:, :2]
    chosen = np.zeros(len(xyz), dtype=bool)
    chosen[first] = True
    chosen[_start(plan)] = True
    for _ in range(_ROUNDS):
        try:
            tin = build_tin(xyz[chosen])
        except DesignInputError:
            # All on one line, or too few: what is left is for the rounds over the whole.
            return np.flatnonzero(chosen)
        c = tin.cells
        worst, _, _ = thinning_kernels.worst_by_triangle(
            tin.xyz, tin.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle, xyz, chosen, tolerance_m
        )
        if not len(worst):
            break
        chosen[worst] = True
    return np.flatnonzero(chosen)


def _start(plan: FloatArray) -> Numbers:
    """One point for each cell of a wide grid, and those farthest out in eight directions."""
    span = np.maximum(np.ptp(plan, axis=0), 1e-3)
    cell = _START_SPACINGS * float(np.sqrt(span[0] * span[1] / len(plan)))
    cells = np.floor((plan - plan.min(axis=0)) / max(cell, float(span.max()) / 4000)).astype(np.int64)
    _, first = np.unique(cells[:, 0] * (int(cells[:, 1].max()) + 1) + cells[:, 1], return_index=True)
    way = np.arange(8) * np.pi / 4
    out = np.argmax(plan @ np.vstack([np.cos(way), np.sin(way)]), axis=0)
    return np.concatenate([first, out])


def _rim(xyz: FloatArray, longest_edge_m: float) -> Numbers:
    """Points along the outline, close enough to each other that an outline of edges no longer than that stays.

    In every cell of a grid that has an empty one beside it, the points farthest out in eight directions.
    """
    if longest_edge_m <= 0:
        return np.zeros(0, dtype=np.int64)
    plan = xyz[:, :2]
    low = plan.min(axis=0)
    cell = max(longest_edge_m * _RIM_CELL, float(np.ptp(plan, axis=0).max()) / 20_000)
    east, north = ((plan[:, k] - low[k]) // cell for k in (0, 1))
    found: Numbers = thinning_kernels.rim_points(plan, east.astype(np.int32), north.astype(np.int32))
    return found
