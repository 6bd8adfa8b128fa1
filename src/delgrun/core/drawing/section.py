"""A cross-section as a drawing: metres of offset (negative left) and of level."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.drawing.scene import Drawing, Mark, Point, Region, Role, Stroke, Words
from delgrun.core.runs import runs
from delgrun.core.section.section import ShownSection

FloatArray = NDArray[np.float64]

# Pens. [mm]
_THICK, _MEDIUM, _THIN = 0.6, 0.4, 0.25


def section_drawing(s: ShownSection, topsoil_m: float = 0.0) -> Drawing:
    """Ground, road and works of a section, with cut and fill as regions and what passes there.

    `topsoil_m`: stripped before anything is cut or filled. Regions are what the engine counts: across the formation
    cut and fill, behind its edge the side's own only; their areas are the section's (Gauss's area formula).
    """
    if len(s.ground) < 2:
        return Drawing()
    parts: list[Stroke | Region | Words | Mark] = []
    ground = np.array(s.ground)
    if s.left is not None and s.right is not None:
        formation = np.array(s.formation)
        left = np.array([[-s.left.catch_offset_m, s.left.catch_level_m], s.formation[0]])
        right = np.array([s.formation[-1], [s.right.catch_offset_m, s.right.catch_level_m]])
        stripped = ground - np.array([0.0, topsoil_m])
        both: tuple[Role, ...] = ("cut", "fill")
        for works, roles in ((formation, both), (left, _of(s.left.in_cut)), (right, _of(s.right.in_cut))):
            for role in roles:
                over, under = (stripped, works) if role == "cut" else (works, stripped)
                parts += [Region(role, ring) for ring in _between(over, under, works[0, 0], works[-1, 0])]
        outline = (tuple(left[0].tolist()), *s.formation, tuple(right[1].tolist()))
        parts.append(Stroke("works", outline, _MEDIUM))
        for side, at in ((s.left, outline[0]), (s.right, outline[-1])):
            if not side.caught:
                parts.append(Mark("bad", at, "cross"))
    parts.append(Stroke("ground", s.ground, _MEDIUM))
    if s.road:
        parts.append(Stroke("road", s.road, _THICK))
    half = max(abs(p[0]) for stroke in parts if isinstance(stroke, Stroke) for p in stroke.points)
    for o, z, name, what in s.utilities:
        if abs(o) <= half:
            parts.append(Mark("utility", (o, z), "wire" if what == "overhead" else "pipe"))
            parts.append(Words(name, (o, z), role="utility", anchor="middle", shift_mm=(0.0, 2.0)))
    return Drawing.of(parts)


# Where two lines are nearer they meet. [m]
_MEET_M = 1e-9


def _of(in_cut: bool) -> tuple[Role, ...]:
    return ("cut",) if in_cut else ("fill",)


def _between(over: FloatArray, under: FloatArray, x0: float, x1: float) -> list[tuple[Point, ...]]:
    """Rings of where one polyline lies above another between two offsets; both (n, 2) with offsets that rise."""
    if x1 - x0 <= 0:
        return []
    x = np.unique(np.concatenate([[x0, x1], *(p[(p[:, 0] > x0) & (p[:, 0] < x1), 0] for p in (over, under))]))
    a, b = (np.interp(x, p[:, 0], p[:, 1]) for p in (over, under))
    d = a - b
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
