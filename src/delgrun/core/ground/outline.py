"""Where the ground ends: outer boundaries, holes and islands in them, drawn or read, that cut without moving it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.ground import contour_kernels, outline_kernels
from delgrun.core.ground.noding import SAME_POINT_M, PointGrid, distinct, untangle
from delgrun.core.ground.tin import Tin, still_edges, triangulate

FloatArray = NDArray[np.float64]
Numbers = NDArray[np.int64]

RingKind = Literal["outer", "hole", "island"]
RING_KINDS: tuple[RingKind, ...] = get_args(RingKind)
MOST_CORNERS = 20_000
_MOST_CROSSINGS = 1_000_000


@dataclass(frozen=True, kw_only=True)
class OutlineCorner:
    """One corner of a ring: which ring it belongs to, and what the ring bounds."""

    ring: int = meant("count", "ring", low=1, high=10_000)
    what: Literal["outer", "hole", "island"] = meant("word", "what", choices=RING_KINDS, first="outer")
    easting_m: float = meant("plan", "easting", low=-1e8, high=1e8)
    northing_m: float = meant("plan", "northing", low=-1e8, high=1e8)


@dataclass(frozen=True)
class Ring:
    """A closed line: its number, what it bounds, and its (k, 2) corners, the first not repeated. [m]"""

    number: int
    what: RingKind
    plan: FloatArray


@dataclass(frozen=True, kw_only=True)
class Outline:
    """How the ground is bounded: rings by their corners in order, and another longest outer edge than the surveys'."""

    longest_edge_m: float | None = meant(
        "size", "longest outer edge", low=0, high=10_000, optional=True, first=None,
        says="outer triangles with a longer edge are left away; free: as the surveys say",
    )  # fmt: skip
    rows: tuple[OutlineCorner, ...] = meant("count", "corners", of=OutlineCorner, most=MOST_CORNERS, first=())

    @property
    def rings(self) -> list[Ring]:
        """The rings, in the order of their numbers."""
        numbers = sorted({row.ring for row in self.rows})
        own = {n: [row for row in self.rows if row.ring == n] for n in numbers}
        return [
            Ring(n, own[n][0].what, np.array([(r.easting_m, r.northing_m) for r in own[n]], dtype=np.float64))
            for n in numbers
        ]

    def check(self) -> None:
        """Raises DesignInputError where a ring is none: too few corners, or it crosses itself."""
        for ring in self.rings:
            if len({row.what for row in self.rows if row.ring == ring.number}) > 1:
                raise DesignInputError("rows", f"Ring {ring.number} bounds two things at once.")
            if len(ring.plan) < 3:
                raise DesignInputError("rows", f"Ring {ring.number} has {len(ring.plan)} corners: a ring needs 3.")
            at = outline_kernels.crosses_itself(ring.plan)
            if at >= 0:
                e, n = ring.plan[at]
                raise DesignInputError(
                    "rows",
                    f"Ring {ring.number} crosses itself after its corner at E {{e:length}}, N {{n:length}}.",
                    e=float(e),
                    n=float(n),
                )


def cut_out(tin: Tin, rings: Sequence[Ring]) -> Tin:
    """A surface within its outer boundaries and without its holes, but with the islands in them.

    Triangles that a ring crosses are cut in pieces that lie in their planes: no level changes, and none of the
    triangles elsewhere. Without an outer boundary all but the holes stays.

    Raises
    ------
    DesignInputError
        Nothing of the ground would be left.
    """
    if not rings:
        return tin
    start = np.cumsum([0, *(len(r.plan) for r in rings)])
    corners = np.ascontiguousarray(np.concatenate([r.plan for r in rings]))
    what = np.array([RING_KINDS.index(r.what) for r in rings])

    def within(plan: FloatArray) -> NDArray[np.bool_]:
        inside: NDArray[np.bool_] = outline_kernels.within(np.ascontiguousarray(plan), corners, start, what)
        return inside

    near = _near(tin, rings)
    rest = np.ones(len(tin.triangles), dtype=bool)
    rest[near] = False
    whole = np.flatnonzero(rest)
    whole = whole[within(tin.xyz[tin.triangles[whole], :2].mean(axis=1))]
    xyz, pieces, edges = _cut_pieces(tin, near, rings)
    pieces = pieces[within(xyz[pieces, :2].mean(axis=1))]
    triangles = np.concatenate([tin.triangles[whole], pieces]).astype(np.int32)
    if not len(triangles):
        raise DesignInputError("rows", "Within these boundaries no ground is left: draw them around it.")
    row = np.concatenate([tin.row, np.full(len(xyz) - len(tin.row), -1)])
    return replace(
        tin, xyz=xyz, triangles=np.ascontiguousarray(triangles), row=row, edges=still_edges(edges, triangles, len(xyz))
    )


def _near(tin: Tin, rings: Sequence[Ring]) -> Numbers:
    """Triangles that a ring may cross."""
    c = tin.cells
    found = [np.zeros(0, dtype=np.int64)]
    for ring in rings:
        ends = np.roll(ring.plan, -1, axis=0)
        steps = np.maximum(np.ceil(np.hypot(*(ends - ring.plan).T) / (2 * c.size)).astype(int), 1)
        for p, q, k in zip(ring.plan, ends, steps.tolist(), strict=True):
            way = p + np.outer(np.arange(k + 1) / k, q - p)
            low, high = np.minimum(way[:-1], way[1:]) - SAME_POINT_M, np.maximum(way[:-1], way[1:]) + SAME_POINT_M
            for a, b in zip(low.tolist(), high.tolist(), strict=True):
                found.append(
                    contour_kernels.triangles_in_box(
                        tin.xyz, tin.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle, *a, *b
                    )
                )
    return np.unique(np.concatenate(found))


def _cut_pieces(tin: Tin, near: Numbers, rings: Sequence[Ring]) -> tuple[FloatArray, Numbers, Numbers]:
    """Points with those that rings add, pieces (k, 3) of the near triangles, and all pieces of breaklines."""
    used = np.unique(tin.triangles[near]).astype(np.int64)
    if not len(used):
        return tin.xyz, np.zeros((0, 3), dtype=np.int64), tin.edges.astype(np.int64)
    number = np.full(len(tin.xyz), -1)
    number[used] = np.arange(len(used))
    local = number[tin.triangles[near]]
    sides = np.concatenate([local[:, [0, 1]], local[:, [1, 2]], local[:, [2, 0]]])
    low = np.concatenate([tin.xyz[used, :2], *(r.plan for r in rings)]).min(axis=0)
    corners = np.concatenate([r.plan for r in rings])
    plan = np.ascontiguousarray(np.concatenate([tin.xyz[used, :2], corners]) - np.floor(low))
    first = len(used) + np.cumsum([0, *(len(r.plan) for r in rings)])
    ring_edges = [
        np.column_stack([np.arange(a, b), np.roll(np.arange(a, b), -1)])
        for a, b in zip(first[:-1].tolist(), first[1:].tolist(), strict=True)
    ]
    # A corner at a point of the surface is that point.
    same = PointGrid(plan).first_within(SAME_POINT_M)
    kept, place = np.unique(same, return_inverse=True)
    touched = (number[tin.edges] >= 0).all(axis=1)
    breaks = number[tin.edges[touched]]
    edges, is_break = distinct(
        place[np.concatenate([breaks, sides, *ring_edges])],
        np.arange(len(breaks) + len(sides) + len(corners)) < len(breaks),
    )
    nodes = untangle(plan[kept], np.zeros(len(kept)), edges, _MOST_CROSSINGS, is_break)
    triangles, _ = triangulate(nodes)
    # Ring and surface have pieces of their own beside what is cut: only what lies in a near triangle is one.
    full = nodes.plan + np.floor(low)
    full[: len(kept)] = np.concatenate([tin.xyz[used, :2], corners])[kept]
    middle = full[triangles].mean(axis=1)
    c = tin.cells
    there = outline_kernels.triangle_at(
        tin.xyz, tin.triangles, c.x0, c.y0, c.size, c.nx, c.ny, c.start, c.triangle, np.ascontiguousarray(middle)
    )
    is_near = np.zeros(len(tin.triangles) + 1, dtype=bool)
    is_near[near] = True
    triangles = triangles[is_near[there]]
    added = np.unique(triangles[triangles >= len(used)])
    new = np.arange(len(full))
    new[: len(used)] = used
    new[added] = len(tin.xyz) + np.arange(len(added))
    level = tin.level_at(full[added, 0], full[added, 1])
    xyz = np.concatenate([tin.xyz, np.column_stack([full[added], level])])
    breaks = new[nodes.edges[nodes.marked]]
    return np.ascontiguousarray(xyz), new[triangles], np.concatenate([tin.edges[~touched].astype(np.int64), breaks])
