"""Elements and layers of a side as corners: the finished surface, the formation, and what lies between them."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from delgrun.core.section.carriageway import NamedPoint, Variant
from delgrun.core.section.typical_section import Element, Layer

# Straight pieces from left to right that touch in offset: (x0, y0, x1, y1, and 1 + its layer where that is laid to the
# ground, else 0). [m]
Piece = tuple[float, float, float, float, int]
Corner = tuple[float, float]

# So near is the same place, or the same line. [m]
_SAME = 1e-12
# A layer that goes on to the batter is looked for so far below the road's edge. [m]
_DEEP_M = 20.0


@dataclass(frozen=True)
class LayerShape:
    """A layer as it lies in a section: rings of offset outwards and level over the line. [m]"""

    name: str
    rings: tuple[tuple[Corner, ...], ...]


@dataclass(frozen=True)
class SideShape:
    """One side as it is built where a variant holds, besides its batter."""

    variant: Variant
    layers: tuple[LayerShape, ...]
    # The corners of each element, from the outer point of the one before to its own.
    elements: tuple[tuple[Element, tuple[Corner, ...]], ...]


def corners_of(e: Element, x: float, y: float) -> list[Corner]:
    """The corners of an element beyond the place where it begins. [m]"""
    if e.kind == "drain":
        out = [(x + e.front_h_over_v * e.depth_m, y - e.depth_m)]
        out.append((out[0][0] + e.width_m, out[0][1]))
        if e.back_h_over_v is not None:
            out.append((out[1][0] + e.back_h_over_v * e.depth_m, y))
        return out
    if e.kind in ("kerb", "wall") and e.drop_m:
        fall = e.width_m * e.fall
        if e.drop_m < 0:
            return [(x, y - e.drop_m), (x + e.width_m, y - e.drop_m - fall)]
        return [(x + e.width_m, y - fall), (x + e.width_m, y - fall - e.drop_m)]
    return [(x + e.width_m, y - (e.width_m * e.fall if e.drop_m is None else e.drop_m))]


def points_of(e: Element, corners: Sequence[Corner]) -> list[NamedPoint]:
    """Its named points: the outer one by its own name, those of a drain before that by what they are."""
    names = [""] * (len(corners) - 1) + [e.name]
    if e.kind == "drain":
        names[:-1] = [f"{e.name} {part}" for part in ("bottom", "far bottom")[: len(corners) - 1]]
        if e.back_h_over_v is None:
            names[0] = f"{e.name} bottom"
    return [NamedPoint(n, *c, e.written) for n, c in zip(names, corners, strict=True) if n]


def side_shape(
    own: Sequence[Element],
    layers: Sequence[Layer],
    columns: Sequence[str],
    above_m: float,
    fill_run: float | None,
) -> SideShape:
    """A side of these elements and layers.

    Parameters
    ----------
    columns : names of the road's layers; the variant's areas are in their order.
    fill_run : how far out a fill batter goes for a metre of height, for layers that end at it; None where the side is
        in cut, where they end at their own edge.
    """
    at: Corner = (0.0, 0.0)
    each: list[tuple[Element, tuple[Corner, ...]]] = []
    points: list[NamedPoint] = []
    walls = 0.0
    for e in own:
        found = corners_of(e, *at)
        each.append((e, (at, *found)))
        points += points_of(e, found)
        walls += abs(e.drop_m or 0.0) if e.kind == "wall" else 0.0
        at = found[-1]
    surface = _joined([c for _, cs in each for c in cs])
    edge = surface[-1][0]
    top = _pieces(surface)
    runs_out = fill_run is not None and any(row.ends == "batter" for row in layers)
    if runs_out:
        assert fill_run is not None
        top = [*top, (*at, at[0] + fill_run * _DEEP_M, at[1] - _DEEP_M, 0)]
    under, laid = top, []
    areas = [0.0] * len(columns)
    inside = 0.0
    for row in layers:
        column = columns.index(row.name)
        bottom, further = _bottom(row, each, under, top, fill_run is not None)
        number = column + 1 if row.to_ground else 0
        under, between = _lowered(under, bottom, number)
        under, beyond = _lowered(under, further, number)
        # Beyond its elements it is no thicker than it is; what lies over it there is earth.
        between += [p for part in beyond for p in _no_thicker(*part, row.thickness_m)]
        areas[column] += sum(_area(*p) for p in between)
        inside += sum(_area(*_until(*p, edge)) for p in between if p[0][0] < edge)
        laid.append(LayerShape(row.name, _rings(between)))
    kept = [p for p in under if p[0] < _end(under, top, edge) - _SAME]
    formation = _formation(kept, surface[-1] if surface[-1][0] == surface[-2][0] else None)
    whole = sum(_area(a, b) for a, b in _together(_clipped(top, edge), _clipped(under, edge)))
    back = whole - inside
    variant = Variant(
        np.array(surface), formation, above_m, tuple(areas), back if back > 1e-9 else 0.0, walls, tuple(points)
    )
    return SideShape(variant, tuple(laid), tuple(each))


def _joined(corners: Sequence[Corner]) -> list[Corner]:
    return [c for i, c in enumerate(corners) if i == 0 or c != corners[i - 1]]


def _pieces(corners: Sequence[Corner]) -> list[Piece]:
    return [(*a, *b, 0) for a, b in pairwise(corners) if b[0] > a[0]]


def _level(p: Piece, x: float) -> float:
    if x == p[0]:
        return p[1]
    if x == p[2]:
        return p[3]
    return p[1] + (p[3] - p[1]) * (x - p[0]) / (p[2] - p[0])


def _together(a: Sequence[Piece], b: Sequence[Piece]) -> list[tuple[Piece, Piece]]:
    """Both cut at each other's ends, where both are."""
    xs = sorted({x for p in (*a, *b) for x in (p[0], p[2])})
    out = []
    for u, v in pairwise(xs):
        if v - u <= _SAME:
            continue
        middle = (u + v) / 2
        pair = [next((p for p in line if p[0] <= middle <= p[2]), None) for line in (a, b)]
        if pair[0] is not None and pair[1] is not None:
            one, two = ((u, _level(p, u), v, _level(p, v), p[4]) for p in pair if p is not None)
            out.append((one, two))
    return out


def _lowered(
    under: Sequence[Piece], bottom: Sequence[Piece], laid: int
) -> tuple[list[Piece], list[tuple[Piece, Piece]]]:
    """What lies lowest once a layer with this underside is built, and the layer's parts: (top, bottom) each."""
    parts: list[tuple[Piece, Piece]] = []
    for top, low in _together(under, bottom):
        d0, d1 = top[1] - low[1], top[3] - low[3]
        if d0 <= _SAME and d1 <= _SAME:
            continue
        a, b = top[0], top[2]
        if d0 < -_SAME or d1 < -_SAME:
            meets = a + (b - a) * d0 / (d0 - d1)
            a, b = (meets, b) if d0 < 0 else (a, meets)
            if b - a <= _SAME:
                continue
        one, two = ((a, _level(p, a), b, _level(p, b), p[4]) for p in (top, low))
        # Where they meet they are one.
        if d0 < -_SAME:
            two = (a, one[1], *two[2:])
        if d1 < -_SAME:
            two = (*two[:3], one[3], two[4])
        parts.append((one, (*two[:4], laid)))
    out: list[Piece] = []
    for p in under:
        x = p[0]
        for _, low in parts:
            if low[2] <= x + _SAME or low[0] >= p[2] - _SAME:
                continue
            if low[0] > x + _SAME:
                out.append((x, _level(p, x), low[0], _level(p, low[0]), p[4]))
            out.append(low)
            x = low[2]
        if p[2] > x + _SAME:
            out.append((x, _level(p, x), p[2], p[3], p[4]))
    return out, parts


def _no_thicker(top: Piece, low: Piece, most_m: float) -> list[tuple[Piece, Piece]]:
    """A part of a layer whose top lies no higher over its underside."""
    d0, d1 = top[1] - low[1] - most_m, top[3] - low[3] - most_m
    capped: Piece = (low[0], low[1] + most_m, low[2], low[3] + most_m, 0)
    if d0 <= _SAME and d1 <= _SAME:
        return [(top, low)]
    if d0 >= -_SAME and d1 >= -_SAME:
        return [(capped, low)]
    x = top[0] + (top[2] - top[0]) * d0 / (d0 - d1)
    halves = []
    for a, b in ((top[0], x), (x, top[2])):
        if b - a > _SAME:
            upper = capped if (d0 > 0) == (a == top[0]) else top
            one, two = ((a, _level(p, a), b, _level(p, b), p[4]) for p in (upper, low))
            halves.append((one, two))
    return halves


def _bottom(
    row: Layer,
    each: Sequence[tuple[Element, tuple[Corner, ...]]],
    under: Sequence[Piece],
    top: Sequence[Piece],
    in_fill: bool,
) -> tuple[list[Piece], list[Piece]]:
    """The underside of a layer: its thickness under what there is, and where it goes on beyond its elements."""
    names = [e.name for e, _ in each]
    ends = [cs[-1] for _, cs in each]
    drain = next((i for i, (e, _) in enumerate(each) if e.kind == "drain"), None)
    first = names.index(row.first) + 1 if row.first in names else 0
    last = names.index(row.last) if row.last in names else (len(each) if drain is None else drain) - 1
    if last < first:
        return [], []
    x0 = ends[first - 1][0] if first else 0.0
    x1 = ends[last][0]
    own = [(p[0], p[1] - row.thickness_m, p[2], p[3] - row.thickness_m, 0) for p in _clipped(under, x1, x0)]
    far = x1 + row.extend_m
    if row.ends == "batter" and in_fill:
        far = top[-1][2]
    elif row.ends == "drain front" and drain is not None and drain > last:
        far = each[drain][1][1][0]
    if not own or far <= x1:
        return own, []
    end = own[-1]
    fall = (end[1] - end[3]) / (end[2] - end[0]) if row.extend_fall is None else row.extend_fall
    return own, [(x1, end[3], far, end[3] - fall * (far - x1), 0)]


def _clipped(line: Sequence[Piece], x1: float, x0: float = 0.0) -> list[Piece]:
    out = []
    for p in line:
        a, b = max(p[0], x0), min(p[2], x1)
        if b - a > _SAME:
            out.append((a, _level(p, a), b, _level(p, b), p[4]))
    return out


def _end(under: Sequence[Piece], top: Sequence[Piece], edge: float) -> float:
    """How far out the formation goes: to the surface's edge, or to where the last layer meets the batter."""
    far = [a[2] for a, b in _together(top, under) if a[1] - b[1] > _SAME or a[3] - b[3] > _SAME]
    return max([edge, *far])


def _formation(pieces: Sequence[Piece], foot: Corner | None) -> np.ndarray:
    """(c, 5) corners; pieces that go on straight are one. `foot`: where an upright face at the end leads."""
    out: list[list[float]] = [[pieces[0][0], pieces[0][1], 0.0]]
    before: float | None = None
    for x0, y0, x1, y1, laid in pieces:
        slope = (y1 - y0) / (x1 - x0)
        last = out[-1]
        if abs(last[1] - y0) > _SAME:
            out.append([x0, y0, 0.0])
            before = None
        if before is not None and abs(slope - before) < 1e-9 and last[2] == float(laid):
            out[-1] = [x1, y1, float(laid)]
        else:
            out.append([x1, y1, float(laid)])
        before = slope
    if foot is not None and abs(foot[1] - out[-1][1]) > _SAME and abs(foot[0] - out[-1][0]) < _SAME:
        out.append([*foot, 0.0])
    return np.array([(x, y, 0.0, 1.0, laid) for x, y, laid in out])


def _area(a: Piece, b: Piece) -> float:
    return (a[2] - a[0]) * ((a[1] - b[1]) + (a[3] - b[3])) / 2


def _until(a: Piece, b: Piece, x: float) -> tuple[Piece, Piece]:
    if a[2] <= x:
        return a, b
    one, two = ((p[0], p[1], x, _level(p, x), p[4]) for p in (a, b))
    return one, two


def _rings(parts: Sequence[tuple[Piece, Piece]]) -> tuple[tuple[Corner, ...], ...]:
    """A ring for each run of parts that touch: along their tops, and back along their undersides."""
    runs: list[list[tuple[Piece, Piece]]] = []
    for part in parts:
        joins = runs and all(
            abs(p[2] - q[0]) < _SAME and abs(p[3] - q[1]) < _SAME for p, q in zip(runs[-1][-1], part, strict=True)
        )
        if joins:
            runs[-1].append(part)
        else:
            runs.append([part])
    out = []
    for run in runs:
        tops = [(run[0][0][0], run[0][0][1]), *((a[2], a[3]) for a, _ in run)]
        bottoms = [(run[0][1][0], run[0][1][1]), *((b[2], b[3]) for _, b in run)]
        out.append((*tops, *reversed(bottoms)))
    return tuple(out)
