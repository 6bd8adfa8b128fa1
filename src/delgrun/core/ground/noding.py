"""Breaklines made fit for triangulation: led through the points they pass, and cut where they cross."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.ground import noding_kernels

FloatArray = NDArray[np.float64]
Numbers = NDArray[np.int64]
Marks = NDArray[np.bool_]

# Points closer than this in plan are one point, and a breakline this close to a point runs through it: a survey has
# no better precision. [m]
SAME_POINT_M = 0.001
# So many crossings are a mistake in the file (a code taken for a breakline's name), and would take for ever.
MOST_CROSSINGS = 20_000
_MOST_TESTS = 400_000_000
# Leading an edge through a point moves it, which may bring it to another one: from then on only what it all but
# touches counts, or it would be drawn along a row of points, a millimetre further at each.
_TOUCH_M = SAME_POINT_M / 20
_ROUNDS = 40


@dataclass(frozen=True)
class PointGrid:
    """Points by the cells of an even grid; `plan` (n, 2) from zero on. [m]"""

    plan: FloatArray

    @cached_property
    def cells(self) -> tuple[float, int, int, Numbers, NDArray[np.int32]]:
        span = np.maximum(self.plan.max(axis=0), 1e-3)
        size = _cell_size(span, len(self.plan))
        nx, ny = int(span[0] / size) + 1, int(span[1] / size) + 1
        start, member = noding_kernels.points_by_cell(self.plan, size, nx, ny)
        return size, nx, ny, start, member

    @property
    def by_cell(self) -> Numbers:
        """(n,) point numbers, cell by cell."""
        return self.cells[4].astype(np.int64)

    def first_within(self, reach_m: float) -> Numbers:
        """(n,) number of the first point that stands for each: itself, or an earlier one within `reach_m`."""
        found: Numbers = noding_kernels.first_within(self.plan, *self.cells, reach_m)
        return found


@dataclass(frozen=True)
class Nodes:
    """Points with those that crossings add, and edges that meet at points only.

    `plan` (n, 2) and `level` (n,) [m]; the first of them are the surveyed ones. `edges` (k, 2) point numbers, and
    whether each is `marked`, (k,): a piece of an edge that was. `apart_m` (c,) by how much the levels of the breaklines
    differ at each crossing; its level is their mean.
    """

    plan: FloatArray
    level: FloatArray
    edges: Numbers
    marked: Marks
    apart_m: FloatArray


def _cell_size(span: FloatArray, count: int) -> float:
    """Side of a cell so that each holds about two, and there are no more than some millions of them. [m]"""
    return float(max(np.sqrt(2 * span[0] * span[1] / max(count, 1)), span.max() / 4000, 0.01))


def untangle(
    plan: FloatArray, level: FloatArray, edges: Numbers, most: int = MOST_CROSSINGS, marked: Marks | None = None
) -> Nodes:
    """Cut edges where they cross and lead them through the points they pass within a millimetre.

    Where breaklines cross, a point is added with the mean of their levels there, so that the order of points and
    breaklines in the file changes nothing. Where a breakline passes a surveyed point, the point's level holds.

    Parameters
    ----------
    plan : (n, 2) easting and northing from zero on [m], no two closer than a millimetre
    level : (n,) [m]
    edges : (k, 2) point numbers
    most : crossings that are taken for meant
    marked : (k,) edges whose pieces are to be known again

    Raises
    ------
    DesignInputError
        The breaklines cross too often to be meant.
    """
    marked = np.zeros(len(edges), dtype=bool) if marked is None else marked
    if not len(edges):
        return Nodes(plan, level, edges, marked, np.zeros(0))
    apart = [np.zeros(0)]
    for turn in range(_ROUNDS):
        found, share = noding_kernels.points_on_edges(
            plan, edges, *PointGrid(plan).cells, _TOUCH_M if turn else SAME_POINT_M
        )
        if len(found):
            edges, marked = _split(edges, marked, found[:, 0], found[:, 1], share)
            continue
        plan, level, edges, marked, spread = _cut(plan, level, edges, marked, most)
        if not len(spread):
            return Nodes(plan, level, edges, marked, np.concatenate(apart))
        apart.append(spread)
    raise DesignInputError(
        "points", "The breaklines lie so close together that they can't be told apart: check the breakline column."
    )


def breakline_edges(breaklines: list[NDArray[np.int64]], number: NDArray[np.int64]) -> NDArray[np.int64]:
    """(k, 2) distinct edges between kept points."""
    pairs = [np.column_stack([number[line[:-1]], number[line[1:]]]) for line in breaklines if len(line) > 1]
    if not pairs:
        return np.zeros((0, 2), dtype=np.int64)
    edges = np.concatenate(pairs)
    return distinct(edges, np.zeros(len(edges), dtype=bool))[0]


def distinct(edges: Numbers, marked: Marks) -> tuple[Numbers, Marks]:
    """Edges between different points, each once with its lower point first, and whether any that was it is marked."""
    real = edges[:, 0] != edges[:, 1]
    edges, place = np.unique(np.sort(edges[real], axis=1), axis=0, return_inverse=True)
    return edges, np.bincount(place, marked[real], minlength=len(edges)) > 0


def _split(edges: Numbers, marked: Marks, which: Numbers, point: Numbers, share: FloatArray) -> tuple[Numbers, Marks]:
    """Edges with `point[i]` put into edge `which[i]` at `share[i]` of its length."""
    order = np.lexsort((share, which))
    which, point = which[order], point[order]
    whole = np.ones(len(edges), dtype=bool)
    whole[which] = False
    first = np.r_[True, which[1:] != which[:-1]]
    last = np.r_[first[1:], True]
    pieces = [
        edges[whole],
        np.column_stack([np.where(first, edges[which, 0], np.roll(point, 1)), point]),
        np.column_stack([point[last], edges[which[last], 1]]),
    ]
    marks = [marked[whole], marked[which], marked[which[last]]]
    return distinct(np.concatenate(pieces), np.concatenate(marks))


def _cut(
    plan: FloatArray, level: FloatArray, edges: Numbers, marked: Marks, most: int
) -> tuple[FloatArray, FloatArray, Numbers, Marks, FloatArray]:
    span = np.maximum(plan.max(axis=0), 1e-3)
    length = np.hypot(*(plan[edges[:, 1]] - plan[edges[:, 0]]).T)
    size = float(max(length.mean() / 2, _cell_size(span, 4 * len(edges)) / 2, span.max() / 4000, 0.01))
    nx, ny = int(span[0] / size) + 1, int(span[1] / size) + 1
    pairs, shares, tests = noding_kernels.crossings(plan, edges, size, nx, ny, most + 1, _MOST_TESTS)
    if len(pairs) > most or tests > _MOST_TESTS:
        often = f"more than {most} times" if len(pairs) > most else "too often to count"
        raise DesignInputError(
            "points", f"Breaklines cross {often}: check which column names them, and leave it out if none does."
        )
    if not len(pairs):
        return plan, level, edges, marked, np.zeros(0)
    end = np.concatenate([pairs[:, 0], pairs[:, 1]])
    share = np.concatenate([shares[:, 0], shares[:, 1]])
    a, b = edges[end, 0], edges[end, 1]
    own_level = level[a] * (1 - share) + level[b] * share
    first = plan[edges[pairs[:, 0], 0]], plan[edges[pairs[:, 0], 1]]
    place = first[0] + shares[:, :1] * (first[1] - first[0])
    # Crossings at one place are one point, whichever pair found it.
    order = np.lexsort((place[:, 1], place[:, 0]))
    group = np.empty(len(place), dtype=np.int64)
    group[order] = PointGrid(np.maximum(place[order], 0.0)).first_within(SAME_POINT_M)
    heads, group = np.unique(group, return_inverse=True)
    centre = place[order][heads]
    # Each breakline counts once at each place.
    both = np.unique(np.column_stack([np.concatenate([group, group]), end]), axis=0, return_index=True)[1]
    at = np.concatenate([group, group])[both]
    values = own_level[both]
    count = np.bincount(at, minlength=len(heads))
    mean = np.bincount(at, values, minlength=len(heads)) / count
    low, high = np.full(len(heads), np.inf), np.full(len(heads), -np.inf)
    np.minimum.at(low, at, values)
    np.maximum.at(high, at, values)
    edges, marked = _split(edges, marked, end[both], len(plan) + at, share[both])
    return np.concatenate([plan, centre]), np.concatenate([level, mean]), edges, marked, high - low
