"""A surface that can be changed in places: triangles near a change are made anew, all others stay.

Taking a point out of a constrained Delaunay triangulation, putting one in, or leading an edge through it changes
nothing outside the triangles touched: those at the point, those whose circle holds it, those the edge crosses
(de Berg et al., Computational Geometry, ch. 9). So each change gives the surface that building it anew would give,
up to the choice of diagonal among points on one circle.
"""

from collections.abc import Callable, Iterable, Iterator, Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.ground import contour_kernels
from delgrun.core.ground.cells import patched
from delgrun.core.ground.noding import SAME_POINT_M
from delgrun.core.ground.patches import (
    FLAT_M,
    depth_in,
    double_area,
    in_circle,
    off_edge,
    shares_within,
    triangulated,
)
from delgrun.core.ground.tin import Tin

FloatArray = NDArray[np.float64]
Triple = tuple[int, int, int]
Edge = tuple[int, int]


def _key(a: int, b: int) -> Edge:
    return (a, b) if a < b else (b, a)


class Mesh:
    """A Tin's points and triangles with changes on top; numbers of points and triangles hold while it lives."""

    def __init__(self, tin: Tin, longest_edge_m: float = 0.0) -> None:
        self._tin = tin
        self._longest_m = longest_edge_m
        # Those of the surface until one of them changes.
        self.xyz, self.row = tin.xyz, tin.row
        self._count = len(self.xyz)
        self._edges = {_key(a, b) for a, b in tin.edges.tolist()}
        self._gone: set[int] = set()
        self._new: dict[int, Triple] = {}
        self._next = len(tin.triangles)
        self._touched: list[FloatArray] = []

    # Looking

    def corners(self, t: int) -> Triple:
        """Points of a triangle, counter-clockwise."""
        if t in self._new:
            return self._new[t]
        a, b, c = self._tin.triangles[t].tolist()
        return a, b, c

    def _plan(self, points: Sequence[int]) -> FloatArray:
        """Where points lie in plan. [m]"""
        return self.xyz[list(points), :2]

    def near(self, low: FloatArray, high: FloatArray) -> list[int]:
        """Triangles whose boxes touch a box. [m]"""
        c = self._tin.cells
        found = contour_kernels.triangles_in_box(
            self._tin.xyz, self._tin.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle, *low, *high
        ).tolist()
        out = [t for t in found if t not in self._gone]
        if self._new:
            which = np.array(list(self._new))
            box = self.xyz[np.array(list(self._new.values())), :2]
            touch = (box.min(axis=1) <= high).all(axis=1) & (box.max(axis=1) >= low).all(axis=1)
            out += which[touch].tolist()
        return out

    def point_at(self, at: FloatArray, reach_m: float = SAME_POINT_M) -> int | None:
        """The point of the surface nearest to a place (easting, northing), if one lies within reach. [m]"""
        found = {v for t in self.near(at - reach_m, at + reach_m) for v in self.corners(t)}
        if not found:
            return None
        which = np.array(sorted(found))
        away = np.hypot(*(self.xyz[which, :2] - at).T)
        best = int(np.argmin(away))
        return int(which[best]) if away[best] <= reach_m else None

    def triangle_at(self, at: FloatArray) -> int | None:
        """The triangle that holds a place best, within a hundredth of a millimetre."""
        best, found = -1e-5, None
        for t in self.near(at, at):
            depth = depth_in(self._plan(self.corners(t)), at)
            if depth > best:
                best, found = depth, t
        return found

    def star(self, v: int) -> list[int]:
        """Triangles at a point."""
        at = self.xyz[v, :2]
        return [t for t in self.near(at, at) if v in self.corners(t)]

    def breaklines_at(self, v: int) -> list[int]:
        """Points that breaklines join to this one."""
        near = {u for t in self.star(v) for u in self.corners(t)} - {v}
        return sorted(u for u in near if _key(u, v) in self._edges)

    def across(self, a: int, b: int) -> list[int]:
        """The third points of the triangles at an edge: two, one at the outline, none where there is no such edge."""
        shared = [self.corners(t) for t in self.star(a) if b in self.corners(t)]
        return [next(v for v in corner if v not in (a, b)) for corner in shared]

    # Changing

    def as_it_is(self) -> Callable[[], None]:
        """Puts everything back as it is now, when it is called."""
        kept = (self.xyz, self.row, self._count, set(self._edges), set(self._gone), dict(self._new), len(self._touched))

        def back() -> None:
            self.xyz, self.row, self._count, self._edges, self._gone, self._new, touched = kept
            del self._touched[touched:]

        return back

    def set_level(self, v: int, level_m: float, row: int | None = None) -> None:
        """Give a point another level, and perhaps the row of the survey that it stands for now."""
        if self.xyz is self._tin.xyz:
            self.xyz, self.row = self.xyz.copy(), self.row.copy()
        self.xyz[v, 2] = level_m
        if row is not None:
            self.row[v] = row
        self._touch(self.star(v))

    def add_point(self, at: FloatArray, level_m: float) -> int:
        """A new point; raises DesignInputError where there is no ground."""
        first = self.triangle_at(at)
        if first is None:
            raise DesignInputError("points", "There is no ground at that place.")
        region, waiting = {first}, [first]
        while waiting:
            corner = self.corners(waiting.pop())
            for k in range(3):
                a, b = corner[k], corner[(k + 1) % 3]
                on_it = off_edge(self._plan((a, b)), at) < SAME_POINT_M
                if _key(a, b) in self._edges and not on_it:
                    continue
                for t in self.star(a):
                    if (
                        t not in region
                        and b in self.corners(t)
                        and (on_it or in_circle(self._plan(self.corners(t)), at))
                    ):
                        region.add(t)
                        waiting.append(t)
        v = self._append(np.array([at[0], at[1], level_m]))
        halves: list[Edge] = []
        for a, b in self._inner_edges(region):
            if _key(a, b) in self._edges and off_edge(self._plan((a, b)), at) < SAME_POINT_M:
                self._edges.remove(_key(a, b))
                halves += [_key(a, v), _key(v, b)]
        self._edges.update(halves)
        self._fill(region, added=[v], joins=halves)
        return v

    def remove_point(self, v: int) -> None:
        """Take a point out; a breakline that ran through it goes on between its neighbours."""
        joined = self.breaklines_at(v)
        region = set(self.star(v))
        rim = [e for e in self._inner_edges(region) if v not in e]
        self._edges -= {_key(v, u) for u in joined}
        made = self._fill(region, dropped=v)
        if joined:
            # A breakline that is no more kept triangles apart whose circles hold points beyond it.
            made += self._flipped([*rim, *self._inner_edges(t for t in made if t in self._new)])
        if self._longest_m > 0:
            self._trim(made)
        if len(joined) == 2:
            self.join(joined[0], joined[1])

    def _flipped(self, waiting: list[Edge]) -> list[int]:
        """Swap edges until no circle holds the point across, beginning with these; numbers of the new triangles.

        Source: C. L. Lawson, Software for C1 surface interpolation, 1977; it ends in the constrained Delaunay surface.
        """
        out: list[int] = []
        while waiting:
            a, b = waiting.pop()
            shared = [t for t in self.star(a) if b in self.corners(t)]
            if _key(a, b) in self._edges or len(shared) != 2:
                continue
            c, d = (next(v for v in self.corners(t) if v not in (a, b)) for t in shared)
            corner = self.corners(shared[0])
            if corner[(corner.index(a) + 1) % 3] != b:
                a, b = b, a
            made = [(a, d, c), (d, b, c)]
            flat = min(double_area(self._plan(new)) for new in made) <= FLAT_M
            if flat or not in_circle(self._plan(corner), self.xyz[d, :2], rounding=1e-9):
                continue
            self._touch(shared)
            for t, new in zip(shared, made, strict=True):
                self._kill(t)
                self._new[self._next] = new
                out.append(self._next)
                self._next += 1
            waiting += [(a, c), (c, b), (b, d), (d, a)]
        return out

    def _trim(self, which: list[int]) -> None:
        """Take away triangles at the outline with longer outer edges than the surface may have."""
        waiting = list(which)
        while waiting:
            t = waiting.pop()
            if t not in self._new:
                continue
            c = self.corners(t)
            for a, b in ((c[0], c[1]), (c[1], c[2]), (c[2], c[0])):
                long = np.hypot(*(self.xyz[a, :2] - self.xyz[b, :2])) > self._longest_m
                if long and len(self.across(a, b)) == 1:
                    self._kill(t)
                    self._forget([_key(c[k], c[(k + 1) % 3]) for k in range(3)])
                    waiting += [u for u in which if u in self._new]
                    break

    def join(self, p: int, q: int) -> None:
        """Lead an edge between two points, through the points and across the breaklines on its way.

        Raises
        ------
        DesignInputError
            Some of the way has no ground; nothing is changed.
        """
        if p == q or not self._on_ground(self.xyz[p, :2], self.xyz[q, :2]):
            raise DesignInputError("points", "There is no ground along some of that line: end it at the hole.")
        for a, b in self._stops(p, q):
            if not self.across(a, b):
                region = self._crossed(a, b)
                if not region:
                    raise DesignInputError("points", "There is no ground along some of that line.")
                self._fill(region, joins=[_key(a, b)])
            # Only what is an edge of the surface by now is a breakline of it.
            self._edges.add(_key(a, b))

    def drop(self, which: Iterable[int]) -> None:
        """Take triangles away: there is no ground any more."""
        which = list(which)
        self._touch(which)
        sides = self._inner_edges(which)
        for t in which:
            self._kill(t)
        self._forget(sides)

    def _forget(self, sides: Iterable[Edge]) -> None:
        """Breaklines that no triangle has any more are none of the surface."""
        self._edges -= {side for side in sides if side in self._edges and not self.across(*side)}

    # How it is done

    def _append(self, point: FloatArray) -> int:
        if self._count == len(self.xyz):
            more = max(len(self.xyz) // 8, 64)
            self.xyz = np.concatenate([self.xyz, np.full((more, 3), np.nan)])
            self.row = np.concatenate([self.row, np.full(more, -1)])
        self.xyz[self._count] = point
        self._count += 1
        return self._count - 1

    def _kill(self, t: int) -> None:
        if t in self._new:
            del self._new[t]
        else:
            self._gone.add(t)

    def _touch(self, which: Iterable[int]) -> None:
        corner = [v for t in which for v in self.corners(t)]
        if corner:
            p = self.xyz[corner, :2]
            self._touched.append(np.concatenate([p.min(axis=0), p.max(axis=0)]))

    def _inner_edges(self, region: Iterable[int]) -> list[Edge]:
        return sorted({_key(c[k], c[(k + 1) % 3]) for t in region for c in [self.corners(t)] for k in range(3)})

    def _stops(self, p: int, q: int) -> list[Edge]:
        """The straight way from p to q in pieces: through points within a millimetre, and new ones at breaklines."""
        a, b = self.xyz[p, :2], self.xyz[q, :2]
        length = float(np.hypot(*(b - a)))
        stops: dict[int, float] = {p: 0.0, q: length}
        region = self._crossed(p, q)
        unit = (b - a) / length
        for v in {v for t in region for v in self.corners(t)} - {p, q}:
            to = self.xyz[v, :2] - a
            along = float(to @ unit)
            if 0 < along < length and abs(unit[0] * to[1] - unit[1] * to[0]) < SAME_POINT_M:
                stops[v] = along
        for u, v in self._inner_edges(region):
            if _key(u, v) in self._edges and u not in stops and v not in stops:
                c, d = self.xyz[u], self.xyz[v]
                det = unit[0] * (d - c)[1] - unit[1] * (d - c)[0]
                if abs(det) < 1e-12:
                    continue
                w = c[:2] - a
                along, share = (w[0] * (d - c)[1] - w[1] * (d - c)[0]) / det, (w[0] * unit[1] - w[1] * unit[0]) / det
                if 0 < along < length and 0 < share < 1:
                    own = self.xyz[p, 2] + along / length * (self.xyz[q, 2] - self.xyz[p, 2])
                    # As where surveyed breaklines cross: the mean of both.
                    level = (own + c[2] + share * (d - c)[2]) / 2
                    stops[self.add_point(a + along * unit, float(level))] = float(along)
        order = sorted(stops, key=lambda v: stops[v])
        return list(pairwise(order))

    def _on_ground(self, a: FloatArray, b: FloatArray) -> bool:
        """Whether a straight way lies on triangles from end to end, along their edges too."""
        spans: list[tuple[float, float]] = []
        for _, enter, leave in self._along(a, b, SAME_POINT_M):
            spans += [(x, y) for x, y in zip(enter.tolist(), leave.tolist(), strict=True) if y >= x]
        reached = 0.0
        for enters, leaves in sorted(spans):
            if enters > reached + 1e-9:
                return False
            reached = max(reached, leaves)
        return reached >= 1 - 1e-9

    def _along(
        self, a: FloatArray, b: FloatArray, beside_m: float
    ) -> Iterator[tuple[list[int], FloatArray, FloatArray]]:
        """Triangles near the straight way from a to b, and the shares of it at which it enters and leaves each.

        A piece at a time, so that a long slanting way does not look at all the land in its box.
        """
        pieces = max(int(np.hypot(*(b - a)) / (8 * self._tin.cells.size)), 1)
        for i in range(pieces):
            u, v = a + (b - a) * i / pieces, a + (b - a) * (i + 1) / pieces
            near = self.near(np.minimum(u, v), np.maximum(u, v))
            if near:
                corner = self.xyz[np.array([self.corners(t) for t in near]), :2]
                yield near, *shares_within(corner, a, b, beside_m)

    def _crossed(self, p: int, q: int) -> set[int]:
        """Triangles whose inside the straight way from p to q meets."""
        out: set[int] = set()
        # Just inside their edges: a way along an edge crosses neither of its triangles.
        for near, enter, leave in self._along(self.xyz[p, :2], self.xyz[q, :2], -1e-9):
            out |= {t for t, yes in zip(near, (leave - enter > 1e-9).tolist(), strict=True) if yes}
        return out

    def _fill(
        self, region: set[int], dropped: int | None = None, added: Iterable[int] = (), joins: Iterable[Edge] = ()
    ) -> list[int]:
        """Triangulate the room of some triangles anew, without one point, with others and with these edges."""
        self._touch(region)
        old = [self.corners(t) for t in region]
        directed = {(c[k], c[(k + 1) % 3]) for c in old for k in range(3)}
        rim = [(a, b) for a, b in directed if (b, a) not in directed and dropped not in (a, b)]
        points = sorted(({v for c in old for v in c} | set(added)) - {dropped})
        if len(points) >= 3:
            inner = [e for e in self._inner_edges(region) if e in self._edges and dropped not in e]
            edges = sorted({_key(a, b) for a, b in rim} | set(inner) | set(joins))
            number = {v: i for i, v in enumerate(points)}
            found = triangulated(
                self.xyz[points, :2], np.array([(number[a], number[b]) for a, b in edges]), self.xyz[np.array(old), :2]
            )
            made = [(points[a], points[b], points[c]) for a, b, c in found.tolist()]
        else:
            made = []
        for t in region:
            self._kill(t)
        first = self._next
        for corner in made:
            self._new[self._next] = corner
            self._next += 1
        return list(range(first, self._next))

    # The result

    @property
    def touched_m(self) -> FloatArray:
        """(k, 4) boxes (west, south, east, north) of what has changed. [m]"""
        return np.array(self._touched).reshape(-1, 4)

    def tin(self, doubles: NDArray[np.int64]) -> Tin:
        """The surface as it is now; triangles that did not change keep their numbers, but for the last few.

        Nothing may be changed after it: it shares the mesh's points.
        """
        tin = self._tin
        triangles = tin.triangles.copy()
        free = sorted(self._gone)
        fresh = list(self._new.values())
        filled = free[: len(fresh)]
        if filled:
            triangles[filled] = fresh[: len(filled)]
        left, more = free[len(fresh) :], fresh[len(free) :]
        changed = set(free)
        if more:
            changed |= set(range(len(triangles), len(triangles) + len(more)))
            triangles = np.concatenate([triangles, np.array(more, dtype=np.int32)])
        # Room that is left over is filled from the end.
        last = len(triangles) - len(left)
        moved = [t for t in range(last, len(triangles)) if t not in set(left)]
        triangles[[t for t in left if t < last]] = triangles[moved]
        changed |= set(moved)
        triangles = np.ascontiguousarray(triangles[:last])
        xyz, row = self.xyz[: self._count], self.row[: self._count]
        edges = np.array(sorted(self._edges), dtype=np.int32).reshape(-1, 2)
        made = Tin(xyz, triangles, doubles, tin.apart_m, row, edges)
        cells = patched(tin, made, np.array(sorted(changed), dtype=np.int64))
        # A cached property: put in place what would be worked out anew.
        made.__dict__["cells"] = cells
        return made
