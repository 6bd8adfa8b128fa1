"""The ground along and across a centreline, cut exactly through the triangles."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.line import Line
from delgrun.core.ground import tin_kernels
from delgrun.core.ground.tin import Tin

FloatArray = NDArray[np.float64]

# The ground reaches an end of the line if it comes this close to it. [m]
_EDGE_M = 1e-3
# Ground beside the line is looked up in so many places at most, and no closer than this. [m]
_BESIDE_PLACES, _BESIDE_STEP_M = 800, 1.0
# Beside the centreline a level control looks at the ground so often. [m]
_CLOSE_M = 0.5
# On less ground no road is designed. [m]
_SHORTEST_M = 1.0


@dataclass(frozen=True)
class LongSection:
    """Ground along the line: one row for each crossing of a triangle's edge.

    `chainage_m`, `level_m` (n,); `after_gap` (n,) bool: no ground between this row and the one before.
    Between rows the ground is straight on a tangent; on an arc it follows the triangle's plane.
    """

    chainage_m: FloatArray
    level_m: FloatArray
    after_gap: NDArray[np.bool_]


@dataclass(frozen=True)
class GroundSections:
    """Ground across the line: section i has rows `start[i]` to `start[i+1]` of offsets and levels.

    `offset_m` (r,) negative left, positive right looking forward; `level_m` (r,);
    `centre_level_m` (n,) level at the centreline, NaN without ground; `met_m` (r,) level of another surface there,
    where batters run to one; `cut_m` (n,) how far to both sides each was cut, where it was.
    """

    chainage_m: FloatArray
    start: NDArray[np.int64]
    offset_m: FloatArray
    level_m: FloatArray
    centre_level_m: FloatArray
    met_m: FloatArray | None = None
    cut_m: FloatArray | None = None

    def one(self, i: int) -> tuple[FloatArray, FloatArray]:
        """Offsets and levels of section i. [m]"""
        rows = slice(self.start[i], self.start[i + 1])
        return self.offset_m[rows], self.level_m[rows]

    def some(self, rows: NDArray[np.int64]) -> "GroundSections":
        """Some of the sections, in the order given."""
        first, count = self.start[rows], np.diff(self.start)[rows]
        starts = np.concatenate([[0], np.cumsum(count)]).astype(np.int64)
        at = np.repeat(first - starts[:-1], count) + np.arange(starts[-1])
        met = None if self.met_m is None else self.met_m[at]
        cut = None if self.cut_m is None else self.cut_m[rows]
        return GroundSections(
            self.chainage_m[rows], starts, self.offset_m[at], self.level_m[at], self.centre_level_m[rows], met, cut
        )

    def put(self, rows: NDArray[np.int64], other: "GroundSections") -> "GroundSections":
        """The same with other ground for some of its sections, in the order given."""
        met = None if self.met_m is None or other.met_m is None else np.concatenate([self.met_m, other.met_m])
        cut = None if self.cut_m is None or other.cut_m is None else np.concatenate([self.cut_m, other.cut_m])
        both = GroundSections(
            np.concatenate([self.chainage_m, other.chainage_m]),
            np.concatenate([self.start, self.start[-1] + other.start[1:]]),
            np.concatenate([self.offset_m, other.offset_m]), np.concatenate([self.level_m, other.level_m]),
            np.concatenate([self.centre_level_m, other.centre_level_m]), met, cut,
        )  # fmt: skip
        which = np.arange(len(self.chainage_m))
        which[rows] = len(which) + np.arange(len(rows))
        return both.some(which)

    def met(self, i: int) -> FloatArray | None:
        """Levels of the other surface in section i, where there is one. [m]"""
        return None if self.met_m is None else self.met_m[self.start[i] : self.start[i + 1]]


@dataclass(frozen=True)
class Stretch:
    """Chainages between which a road can be designed: from its first ground to its last. [m]

    `start_lacks_m`, `end_lacks_m`: how much of the centreline before and after has no ground. [m]
    """

    from_m: float
    to_m: float
    start_lacks_m: float
    end_lacks_m: float


def stretch_with_ground(along: LongSection, centreline: Centreline) -> Stretch | None:
    """The centreline less what runs past the ground at either end; None where it meets none."""
    start, end = centreline.start_chainage_m, centreline.end_chainage_m
    if not len(along.chainage_m):
        return None
    first, last = float(along.chainage_m[0]), float(along.chainage_m[-1])
    # To the whole millimetre within the ground: at its very edge, rounding decides whether there is any.
    if first - start > _EDGE_M:
        start = math.ceil(first * 1000 + _EDGE_M) / 1000
    if end - last > _EDGE_M:
        end = math.floor(last * 1000 - _EDGE_M) / 1000
    if end - start < _SHORTEST_M:
        return None
    return Stretch(start, end, start - centreline.start_chainage_m, centreline.end_chainage_m - end)


def long_section(tin: Tin, centreline: Centreline) -> LongSection:
    """Every chainage at which the centreline crosses a triangle's edge, with the ground level there."""
    return rows_along(tin, centreline.line)


def rows_along(tin: Tin, line: Line) -> LongSection:
    """The same along any line."""
    c = tin.cells
    rows: FloatArray = tin_kernels.cut_along(
        tin.xyz, tin.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle, line.arcs
    )
    chainage, gap = rows[:, 0], rows[:, 2] > 0
    # Where one element hands over to the next, the same point stands twice unless the ground ends there.
    twice = np.zeros(len(rows), dtype=bool)
    twice[1:] = gap[1:] & (np.diff(chainage) < 1e-5)
    return LongSection(chainage[~twice], rows[~twice, 1], gap[~twice])


def beside(tin: Tin, centreline: Centreline, offset_m: Sequence[float]) -> tuple[FloatArray, FloatArray]:
    """Even chainages (n,), and the ground at each of k offsets there (k, n), NaN without ground: to be drawn. [m]"""
    count = int(min(centreline.length_m / _BESIDE_STEP_M + 2, _BESIDE_PLACES))
    s = np.linspace(centreline.start_chainage_m, centreline.end_chainage_m, count)
    e, n, direction = centreline.locate(s)
    aside = np.array(offset_m, dtype=np.float64)[:, None]
    east, north = e + aside * np.sin(direction), n - aside * np.cos(direction)
    return s, tin.level_at(east.ravel(), north.ravel()).reshape(east.shape)


def level_along(
    tin: Tin, centreline: Centreline, rows: LongSection, offset_m: float, from_m: float, to_m: float
) -> tuple[FloatArray, FloatArray]:
    """Chainages (n,) from one to another, and the ground there at an offset, NaN where there is none. [m]

    At the centreline all of `rows`, the ground along it, between them; beside it every half metre.
    """
    if offset_m == 0.0:
        # Where ground ends and begins again stands a place without.
        gaps = np.flatnonzero(rows.after_gap[1:]) + 1
        s = np.insert(rows.chainage_m, gaps, (rows.chainage_m[gaps - 1] + rows.chainage_m[gaps]) / 2)
        z = np.insert(rows.level_m, gaps, np.nan)
        inner = (s > from_m) & (s < to_m)
        ends = np.interp([from_m, to_m], s, z, left=np.nan, right=np.nan)
        return np.concatenate([[from_m], s[inner], [to_m]]), np.concatenate([ends[:1], z[inner], ends[1:]])
    s = np.linspace(from_m, to_m, max(int(np.ceil((to_m - from_m) / _CLOSE_M)), 1) + 1)
    known = (s >= centreline.start_chainage_m) & (s <= centreline.end_chainage_m)
    e, n, direction = centreline.locate(s[known])
    z = np.full(len(s), np.nan)
    z[known] = tin.level_at(e + offset_m * np.sin(direction), n - offset_m * np.cos(direction))
    return s, z


def ground_sections(tin: Tin, centreline: Centreline, chainage_m: FloatArray, half_width_m: float) -> GroundSections:
    """Ground at right angles to the line at each chainage, to `half_width_m` on both sides."""
    s = np.ascontiguousarray(chainage_m, dtype=np.float64)
    e, n, direction = centreline.locate(s)
    c = tin.cells
    start, rows = tin_kernels.cut_sections(
        tin.xyz, tin.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle, e, n, direction, half_width_m
    )
    offset, level = np.ascontiguousarray(rows[:, 0]), np.ascontiguousarray(rows[:, 1])
    centre = np.full(len(s), np.nan)
    for i in range(len(s)):
        o = offset[start[i] : start[i + 1]]
        if len(o):
            centre[i] = np.interp(0.0, o, level[start[i] : start[i + 1]])
    return GroundSections(s, start, offset, level, centre, cut_m=np.full(len(s), float(half_width_m)))


def with_surface(ground: GroundSections, other: GroundSections) -> GroundSections:
    """Ground with another surface at the same chainages, in rows wherever either turns; where that ends, the ground."""
    offset, level, met, count = [], [], [], [0]
    for i in range(len(ground.chainage_m)):
        (x, z), (u, v) = ground.one(i), other.one(i)
        if len(x) and len(u):
            # The ground's own rows stay as they are, faces and all.
            more = np.unique(u[(u > x[0]) & (u < x[-1]) & ~np.isin(u, x)])
            at = np.searchsorted(x, more)
            there = np.interp(more, x, z)
            x, z = np.insert(x, at, more), np.insert(z, at, there)
            own = np.interp(x, u, v, left=np.nan, right=np.nan)
            met.append(np.where(np.isnan(own), z, own))
        else:
            met.append(z)
        offset.append(x)
        level.append(z)
        count.append(len(x))
    return GroundSections(
        ground.chainage_m, np.cumsum(count).astype(np.int64), np.concatenate(offset), np.concatenate(level),
        ground.centre_level_m, np.concatenate(met), ground.cut_m,
    )  # fmt: skip


def ground_and_surface(
    tin: Tin, centreline: Centreline, chainage_m: FloatArray, half_width_m: float, other: Tin | None = None
) -> GroundSections:
    """`ground_sections`, with another surface where there is one; on the inside of a bend no further than to where the
    road's other side begins, so that nothing is counted twice.
    """
    room = centreline.room_beside(np.asarray(chainage_m, dtype=np.float64), half_width_m)
    found = [_cut_off(ground_sections(t, centreline, chainage_m, half_width_m), room) for t in (tin, other) if t]
    return found[0] if other is None else with_surface(*found)


def _cut_off(ground: GroundSections, room_m: FloatArray) -> GroundSections:
    """Ground no further out than (n, 2) rooms to the left and right. [m]"""
    low, high = -np.repeat(room_m[:, 0], np.diff(ground.start)), np.repeat(room_m[:, 1], np.diff(ground.start))
    if ((ground.offset_m >= low) & (ground.offset_m <= high)).all():
        return ground
    offset, level, count = [], [], [0]
    for i, (left, right) in enumerate(room_m.tolist()):
        x, z = ground.one(i)
        if len(x) and (x[0] < -left or x[-1] > right):
            ends = np.clip([-left, right], x[0], x[-1])
            inner = (x > ends[0]) & (x < ends[1])
            z = np.concatenate([np.interp(ends[:1], x, z), z[inner], np.interp(ends[1:], x, z)])
            x = np.concatenate([ends[:1], x[inner], ends[1:]])
        offset.append(x)
        level.append(z)
        count.append(len(x))
    starts = np.cumsum(count).astype(np.int64)
    return GroundSections(
        ground.chainage_m,
        starts,
        np.concatenate(offset),
        np.concatenate(level),
        ground.centre_level_m,
        cut_m=ground.cut_m,
    )
