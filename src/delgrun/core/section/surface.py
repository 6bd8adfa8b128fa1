"""The finished road as strings and triangles between its sections, with the ground to both sides: to be looked at."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.section.outline_kernels import CUT, CUT_BENCH, FILL, FILL_BENCH, WALL
from delgrun.core.section.section import ShownSection

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

# What triangles are of, in this order.
PARTS = ("ground", "road", "beside", "cut", "fill", "wall")
GROUND, ROAD, BESIDE, CUTTING, FILLING, WALLS = range(len(PARTS))
_OF_KIND = {CUT: CUTTING, CUT_BENCH: CUTTING, FILL: FILLING, FILL_BENCH: FILLING, WALL: WALLS}
# Stretches between sections that are further apart are left open. [m]
_GAP_M = 120.0


@dataclass(frozen=True, eq=False)
class RoadSurface:
    """`xyz` (n, 3) points [m]; `triangles` (m, 3) numbers of them, and what each is of (m,), in `PARTS`."""

    xyz: FloatArray
    triangles: IntArray
    part: IntArray


@dataclass(frozen=True)
class _Strip:
    """A polyline of one part of a section, offsets from the centreline outwards on its side; (k, 2). [m]"""

    part: int
    points: FloatArray


def road_surface(sections: Sequence[ShownSection], centreline: Centreline, lanes_m: FloatArray) -> RoadSurface:
    """The surface between sections in order of their chainages.

    Parameters
    ----------
    lanes_m : (n, 2) how far out the lanes go left and right, where the road changes its colour. [m]

    Notes
    -----
    In each section it is the section itself. Between two, strips of the same part are joined corner by corner, by how
    far out on the strip they lie; a strip that one of them does not have begins at the other's edge.
    """
    s = np.array([k.chainage_m for k in sections])
    e, n, direction = centreline.locate(s)
    xyz: list[FloatArray] = []
    triangles: list[tuple[int, int, int]] = []
    parts: list[int] = []
    count = 0
    before: list[list[tuple[int, IntArray, FloatArray]]] | None = None
    for i, shown in enumerate(sections):
        now: list[list[tuple[int, IntArray, FloatArray]]] = []
        for side, sign in ((0, -1.0), (1, 1.0)):
            own = []
            for strip in _strips(shown, side, float(lanes_m[i, side])):
                offset = sign * strip.points[:, 0]
                at = np.column_stack(
                    [
                        e[i] + offset * np.sin(direction[i]),
                        n[i] - offset * np.cos(direction[i]),
                        strip.points[:, 1],
                    ]
                )
                xyz.append(at)
                own.append((strip.part, np.arange(count, count + len(at)), _along(strip.points)))
                count += len(at)
            now.append(own)
        if before is not None and s[i] - s[i - 1] < _GAP_M:
            for a, b in zip(before, now, strict=True):
                _joined(a, b, triangles, parts)
        before = now
    points = np.concatenate(xyz) if xyz else np.zeros((0, 3))
    return RoadSurface(points, np.array(triangles, dtype=np.int64).reshape(-1, 3), np.array(parts, dtype=np.int64))


def _along(points: FloatArray) -> FloatArray:
    """(k,) share of the way along a polyline, from 0 to 1."""
    run = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    share: FloatArray = run / run[-1] if run[-1] > 0 else np.linspace(0.0, 1.0, len(points))
    return share


def _strips(shown: ShownSection, side: int, lanes_m: float) -> list[_Strip]:
    """One side of a section from the centreline outwards, part by part; each begins where the one before ends."""
    works = (shown.left, shown.right)[side]
    ground = np.array([(abs(o), z) for o, z in shown.ground if (o <= 0.0 if side == 0 else o >= 0.0)]).reshape(-1, 2)
    ground = ground[np.argsort(ground[:, 0], kind="stable")]
    if works is None or not shown.road:
        middle = np.array([[0.0, shown.ground_level_m if shown.ground_level_m is not None else np.nan]])
        return [_Strip(GROUND, np.vstack([middle, ground]))] if len(ground) and not np.isnan(middle).any() else []
    road = np.array([(abs(o), z) for o, z in shown.road if (o <= 0.0 if side == 0 else o >= 0.0)])
    road = road if side else road[::-1]
    edge = float(np.interp(lanes_m, road[:, 0], road[:, 1]))
    inner, outer = road[road[:, 0] < lanes_m - 1e-9], road[road[:, 0] > lanes_m + 1e-9]
    out = [_Strip(ROAD, np.vstack([inner, [[min(lanes_m, road[-1, 0]), edge]]]))]
    if len(outer):
        out.append(_Strip(BESIDE, np.vstack([out[-1].points[-1:], outer])))
    batter = works.outline[works.hinge :]
    # From the finished edge: what lies between it and the formation's is hidden.
    corners = [out[-1].points[-1], *batter[1:]]
    kinds = works.kinds[works.hinge + 1 :].tolist()
    for (a, b), kind in zip(pairwise(corners), kinds, strict=False):
        part = _OF_KIND.get(int(kind), CUTTING)
        if out[-1].part == part and part != ROAD:
            out[-1] = _Strip(part, np.vstack([out[-1].points, [b]]))
        else:
            out.append(_Strip(part, np.array([a, b])))
    end = out[-1].points[-1]
    beyond = ground[ground[:, 0] > end[0] + 1e-6]
    if len(beyond):
        out.append(_Strip(GROUND, np.vstack([[end], beyond])))
    return out


_Row = tuple[int, IntArray, FloatArray]


def _joined(a: list[_Row], b: list[_Row], triangles: list[tuple[int, int, int]], parts: list[int]) -> None:
    """Join the strips of two sections' sides: alike ones with each other, another one with an edge."""
    i = j = 0
    while i < len(a) or j < len(b):
        if i < len(a) and j < len(b) and a[i][0] == b[j][0]:
            _zip(a[i], b[j], triangles, parts)
            i, j = i + 1, j + 1
        elif i < len(a) and (j >= len(b) or all(a[i][0] != r[0] for r in b[j:])):
            edge = b[j][1][:1] if j < len(b) else b[-1][1][-1:] if b else a[i][1][:0]
            if len(edge):
                _zip(a[i], (a[i][0], edge, np.zeros(1)), triangles, parts)
            i += 1
        else:
            edge = a[i][1][:1] if i < len(a) else a[-1][1][-1:] if a else b[j][1][:0]
            if len(edge):
                _zip((b[j][0], edge, np.zeros(1)), b[j], triangles, parts)
            j += 1


def _zip(a: _Row, b: _Row, triangles: list[tuple[int, int, int]], parts: list[int]) -> None:
    """Triangles between two polylines, walked along together."""
    (part, p, u), (_, q, v) = a, b
    i = j = 0
    while i + 1 < len(p) or j + 1 < len(q):
        if j + 1 >= len(q) or (i + 1 < len(p) and u[i + 1] <= v[j + 1]):
            triangles.append((int(p[i]), int(p[i + 1]), int(q[j])))
            i += 1
        else:
            triangles.append((int(p[i]), int(q[j + 1]), int(q[j])))
            j += 1
        parts.append(part)
