"""A cross-section as a drawing: metres of offset (negative left) and of level."""

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from delgrun.core.drawing.scene import Drawing, Mark, Point, Region, Role, Stroke, Words
from delgrun.core.runs import runs
from delgrun.core.section.outline_kernels import ALONG, CUT, CUT_BENCH, FILL, FILL_BENCH, FORMATION, LAID, WALL
from delgrun.core.section.section import STRIPPED_TOP, SectionSide, ShownSection
from delgrun.core.units import say

FloatArray = NDArray[np.float64]

# Pens. [mm]
_THICK, _MEDIUM, _THIN = 0.6, 0.4, 0.25
# Slopes are written along batters, falls on elements, no shorter than this. [m]
_LONG_M, _WIDE_M = 1.0, 0.8
# A reserve's boundary is drawn so far up and down from the ground. [m]
_POST_M = 2.0


def section_drawing(s: ShownSection) -> Drawing:
    """Ground, road and works of a section, with cut and fill as regions, layers, strata and what passes there.

    Regions are what the engine counts: across the formation cut and fill, behind its edge the side's own only; their
    areas are the section's (Gauss's area formula).
    """
    if len(s.ground) < 2:
        return Drawing()
    parts: list[Stroke | Region | Words | Mark] = []
    ground = np.array(s.ground)
    if s.left is not None and s.right is not None:
        tops = dict(s.tops)
        stripped = np.array(tops.get(STRIPPED_TOP, s.ground))
        for side, sign in ((s.left, -1.0), (s.right, 1.0)):
            for works, roles in _stretches(side, sign):
                for role in roles:
                    over, under = (stripped, works) if role == "cut" else (works, stripped)
                    parts += [Region(role, ring) for ring in _between(over, under, works[0, 0], works[-1, 0])]
        parts += [Region("layer", ring, _THIN) for _, ring in s.layers]
        for name, line in s.tops:
            # The stripped ground lies so near to the ground that it only tells what the areas tell.
            if name != STRIPPED_TOP:
                parts.append(Stroke("stratum", line, _THIN, (2.0, 1.0)))
                at = 0.85 * line[-1][0]
                level = float(np.interp(at, [p[0] for p in line], [p[1] for p in line]))
                parts.append(Words(name, (at, level), role="stratum", anchor="middle", shift_mm=(0.0, 0.8)))
        for side, sign in ((s.left, -1.0), (s.right, 1.0)):
            outline = side.outline * [sign, 1.0]
            parts.append(Stroke("works", _line(outline), _MEDIUM))
            parts += _slopes(side, sign)
            if not side.caught:
                parts.append(Mark("bad", _at(outline[-1]), "cross"))
            if side.wall_m > 0:
                parts.append(Words(say("wall {h:length}", h=side.wall_m), _at(outline[-1]), role="bad"))
        for sign, far in zip((-1.0, 1.0), s.reserve_m, strict=True):
            if ground[0, 0] <= sign * far <= ground[-1, 0]:
                level = float(np.interp(sign * far, ground[:, 0], ground[:, 1]))
                post = ((sign * far, level - _POST_M), (sign * far, level + _POST_M))
                parts.append(Stroke("reserve", post, _MEDIUM, (2.5, 0.8, 0.5, 0.8)))
                parts.append(Words("reserve", post[1], role="reserve", anchor="middle", shift_mm=(0.0, 0.8)))
    if s.met:
        parts.append(Stroke("ground", s.met, _THIN, (1.0, 1.0)))
    parts.append(Stroke("ground", s.ground, _MEDIUM))
    if s.road:
        parts.append(Stroke("road", s.road, _THICK))
        parts += _falls(s.road)
        for name, o, z in s.points:
            parts.append(Mark("road", (o, z), "dot", 0.8))
            parts.append(Words(name, (o, z), 1.8, "road", "middle", shift_mm=(0.0, 1.6)))
    half = max(abs(p[0]) for stroke in parts if isinstance(stroke, Stroke) for p in stroke.points)
    for o, z, name, what in s.utilities:
        if abs(o) <= half:
            parts.append(Mark("utility", (o, z), "wire" if what == "overhead" else "pipe"))
            parts.append(Words(name, (o, z), role="utility", anchor="middle", shift_mm=(0.0, 2.0)))
    return Drawing.of(parts)


def _stretches(side: SectionSide, sign: float) -> list[tuple[FloatArray, tuple[Role, ...]]]:
    """Pieces of the works' outline between upright faces, by what is counted under or over them; offsets rise."""
    found: list[tuple[list[Point], tuple[Role, ...]]] = []
    corners, kinds = [_at(p) for p in side.outline.tolist()], side.kinds.tolist()
    for a, b, kind in zip(corners, corners[1:], kinds[1:], strict=False):
        if b[0] <= a[0] or kind == WALL:
            continue
        roles = _ROLES[min(kind, LAID)]
        if found and found[-1][1] == roles and found[-1][0][-1] == a:
            found[-1][0].append(b)
        else:
            found.append(([a, b], roles))
    return [(np.array(p if sign > 0 else p[::-1]) * [sign, 1.0], roles) for p, roles in found]


_ROLES: dict[int, tuple[Role, ...]] = {
    FORMATION: ("cut", "fill"), LAID: ("cut", "layer"), CUT: ("cut",), CUT_BENCH: ("cut",), ALONG: ("cut",),
    FILL: ("fill",), FILL_BENCH: ("fill",),
}  # fmt: skip


def _slopes(side: SectionSide, sign: float) -> list[Words]:
    """How steep each batter is, in its middle."""
    out = []
    corners, kinds = side.outline.tolist(), side.kinds.tolist()
    for (x0, y0), (x1, y1), kind in zip(corners, corners[1:], kinds[1:], strict=False):
        if kind not in (CUT, FILL) or x1 - x0 < 1e-9 or math.hypot(x1 - x0, y1 - y0) < _LONG_M:
            continue
        run = abs((x1 - x0) / (y1 - y0)) if y1 != y0 else math.inf
        if math.isfinite(run):
            out.append(
                Words(
                    say("{r:steepness}", r=round(float(run), 2)),
                    (sign * (x0 + x1) / 2, (y0 + y1) / 2),
                    1.8,
                    anchor="middle",
                )
            )
    return out


def _falls(road: tuple[Point, ...]) -> list[Words]:
    out = []
    for (x0, y0), (x1, y1) in pairwise(road):
        if x1 - x0 >= _WIDE_M and abs(y1 - y0) < 0.2 * (x1 - x0):
            fall = (y0 - y1 if x0 >= 0 else y1 - y0) / (x1 - x0)
            out.append(Words(say("{f:percent}", f=fall), ((x0 + x1) / 2, (y0 + y1) / 2), 1.8, "faint", "middle"))
    return out


def _at(p: Sequence[float] | FloatArray) -> Point:
    return float(p[0]), float(p[1])


def _line(rows: FloatArray) -> tuple[Point, ...]:
    return tuple(_at(p) for p in rows.tolist())


# Where two lines are nearer they meet. [m]
_MEET_M = 1e-9


def _between(over: FloatArray, under: FloatArray, x0: float, x1: float) -> list[tuple[Point, ...]]:
    """Rings of where one polyline lies above another between two offsets; both (n, 2) with offsets that rise."""
    if x1 - x0 <= 0:
        return []
    x = np.unique(np.concatenate([[x0, x1], *(p[(p[:, 0] > x0) & (p[:, 0] < x1), 0] for p in (over, under))]))
    a, b = (np.interp(x, p[:, 0], p[:, 1]) for p in (over, under))
    d = a - b
    if d.max() <= _MEET_M:
        return []
    cross = np.flatnonzero(d[:-1] * d[1:] < 0)
    share = d[cross] / (d[cross] - d[cross + 1])
    x = np.sort(np.concatenate([x, x[cross] + (x[cross + 1] - x[cross]) * share]))
    a, b = (np.interp(x, p[:, 0], p[:, 1]) for p in (over, under))
    b = np.where(np.abs(a - b) < _MEET_M, a, b)
    # A piece between two neighbours is above where its middle is: at a crossing neither end tells.
    above = (a - b)[:-1] + (a - b)[1:] > _MEET_M
    rings = []
    for first, last in runs(above):
        there = slice(first, last + 2)
        top, bottom = (np.column_stack([x[there], z[there]]).tolist() for z in (a, b))
        rings.append(tuple((o, z) for o, z in (*top, *bottom[::-1])))
    return rings
