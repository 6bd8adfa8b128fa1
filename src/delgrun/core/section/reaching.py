"""Sections cut wider than was asked for, where batters need it."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground.along import GroundSections
from delgrun.core.section.area_kernels import columns_beside, sections_at
from delgrun.core.section.carriageway import Carriageway
from delgrun.core.section.roadside import WIDEST_M, InGround
from delgrun.core.section.sides import Sides, sides_of

FloatArray = NDArray[np.float64]
Rows = NDArray[np.int64]

# Batters are to meet the ground from lines so far over it and below. [m]
_DEPTHS_M = (2.0, 5.0, 15.0)
# Ground that goes as far as it was cut ends there, not at the survey's edge. [m]
_END_M = 0.01


def reaching(
    ground: GroundSections, road: Carriageway, in_ground: InGround, cut: Callable[[FloatArray, float], GroundSections]
) -> GroundSections:
    """The same ground, cut twice as wide, and twice again up to `WIDEST_M`, where the batter of a line no further than
    15 m from the ground finds none in what was cut.

    `cut`: the ground at some chainages, to so far on both sides. It depends on no line, so that sections stay as they
    are while one is dragged.
    """
    if ground.cut_m is None:
        return ground
    wide = ground.cut_m.copy()
    rows = np.arange(len(wide))
    while len(rows := _open(ground, wide, road, in_ground, rows[wide[rows] < WIDEST_M])):
        wide[rows] = np.minimum(2.0 * wide[rows], WIDEST_M)
        for width in np.unique(wide[rows]).tolist():
            mine = rows[wide[rows] == width]
            ground = ground.put(mine, cut(ground.chainage_m[mine], width))
    return ground


def _open(ground: GroundSections, wide: FloatArray, road: Carriageway, in_ground: InGround, rows: Rows) -> Rows:
    """Those of some sections in which a batter goes on at the end of what was cut, where the ground may do so too."""
    last = ground.start[rows + 1] - 1
    known = rows[last > ground.start[rows]]
    ends = np.column_stack([-ground.offset_m[ground.start[known]], ground.offset_m[ground.start[known + 1] - 1]])
    further = ends >= wide[known, None] - _END_M
    at_end = further.any(axis=1)
    known, further = known[at_end], further[at_end]
    if not len(known):
        return known
    some = ground.some(known)
    level = some.centre_level_m
    base = np.floor(level) if road.built is None else np.where(road.built[known], np.floor(level), np.nan)
    met = some.level_m if some.met_m is None else some.met_m
    sides = Sides(*sides_of(some.start, some.offset_m, some.level_m, met, base, in_ground.depth_m[known]))
    which, anew = road.which[known], np.ones(len(known), dtype=bool)
    caught = np.zeros(len(known), dtype=np.uint8)
    out = np.empty((len(known), columns_beside(len(in_ground.materials), len(road.layers))))
    wants = np.zeros(len(known), dtype=bool)
    for depth in _DEPTHS_M:
        for sign in (-1.0, 1.0):
            sections_at(road.shapes, sides, which, level + sign * depth - base, anew, out, caught)
            missing = np.column_stack([caught & 1, caught & 2]) == 0
            wants |= (missing & further).any(axis=1)
    found: Rows = known[wants & ~np.isnan(base)]
    return found
