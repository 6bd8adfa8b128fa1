"""Sight in space: along the road in its lane, past cut batters on the inside of bends, over the ground beside it."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.earthworks.evaluator import Earthworks, Evaluation
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.runs import runs
from delgrun.core.sight import space_kernels as kernels
from delgrun.core.sight.along import Lack, Sight
from delgrun.core.stopping import Stopping

FloatArray = NDArray[np.float64]
Rows = tuple[NDArray[np.int64], FloatArray, FloatArray]

# The line of sight is held against the surface so often, and eyes stand at each fourth of these places. [m]
STEP_M = 2.5
_EYES = 4
# Where an object disappears is found to this. [m]
_FOUND_M = 0.05
# It is looked for as far as so many times what is needed: what is seen further is enough.
_FURTHER = 1.3
# A shortfall below this is none: the surface is known at sections, and straight between them. [m]
_NONE_M = 0.5


@dataclass(frozen=True)
class Road:
    """A designed road as it is looked along: places (m, 8) and polylines of its sections (`space_kernels.py`)."""

    places: FloatArray
    rows: Rows


@dataclass(frozen=True)
class LineOfSight:
    """The worst line of sight of a direction, and what hides its end.

    (k,) along it from the eye [m]: chainage, offset, its level and that of the surface, from `eye_m` to `to_m`.
    """

    eye_m: float
    to_m: float
    hidden_at_m: float
    hidden_offset_m: float
    along_m: FloatArray
    chainage_m: FloatArray
    offset_m: FloatArray
    ray_m: FloatArray
    surface_m: FloatArray


def road_of(line: GradeLine, centreline: Centreline, works: Earthworks, evaluation: Evaluation) -> Road:
    """The designed road with its batters and the ground beside it, from its sections."""
    ground, built = works.ground, works.road
    n = len(ground.chainage_m)
    rows = kernels.section_rows(
        (ground.start, ground.offset_m, ground.level_m), works.base_m, evaluation.level_m, built.shapes, built.surfaces,
        works.sides, built.which, np.column_stack([evaluation.left_m, evaluation.right_m]),
    )  # fmt: skip
    s = ground.chainage_m
    at = np.union1d(np.arange(np.ceil(s[0] / STEP_M) * STEP_M, s[-1], STEP_M), s[[0, -1]])
    e, north, direction = centreline.locate(at)
    i = np.clip(np.searchsorted(s, at, side="right") - 1, 0, n - 2)
    share = (at - s[i]) / (s[i + 1] - s[i])
    level = line.levels(at)
    places = np.column_stack([at, e, north, np.cos(direction), np.sin(direction), level, i, share])
    return Road(places, rows)


def sight_in_space(road: Road, rules: Stopping, along: Sight, lane_m: FloatArray, *, back: bool = False) -> Sight:
    """Sight for stopping in a lane (m,), its offset at each place, positive to the right, in the direction of chainage
    or against it.

    `along` is the sight along the line itself, with what is needed: what is seen is never more than that, and lacks are
    those that it does not have.
    """
    places, way = road.places, -1 if back else 1
    eyes = np.arange(0, len(places), _EYES)
    at = places[eyes, 0]
    needed = np.interp(at, along.at_m, along.needed_m)
    flat = np.interp(at, along.at_m, np.where(np.isfinite(along.seen_m), along.seen_m, 1e6))
    most = np.minimum(np.where(np.isfinite(needed), needed, 0.0) * _FURTHER, flat)
    heights = rules.eye_m, rules.object_m
    far, by = kernels.seen_in_space(places, road.rows, eyes, way, lane_m, heights, most, _FOUND_M)
    seen = np.minimum(far, np.where(flat < 1e6, flat, np.inf))
    top = np.where(by >= 0, places[np.maximum(by, 0), 0], np.nan)
    # What the line itself hides is told already.
    short = (needed - seen > _NONE_M) & (flat - seen > _NONE_M)
    lacks = []
    for a, b in runs(short):
        worst = a + int(np.argmax(needed[a : b + 1] / np.maximum(seen[a : b + 1], 1e-9)))
        here = float(at[worst]), float(seen[worst]), float(needed[worst]), float(top[worst])
        lacks.append(Lack(float(at[a]), float(at[b]), *here))
    return Sight(at, seen, needed, top, tuple(lacks))


def worst_line(road: Road, rules: Stopping, sight: Sight, lane_m: FloatArray, *, back: bool) -> LineOfSight | None:
    """The line from the eye that lacks most to what it must see; None where nothing lacks."""
    if not sight.lacks:
        return None
    lack = max(sight.lacks, key=lambda k: k.needed_m / max(k.seen_m, 1e-9))
    places, way = road.places, -1 if back else 1
    s = places[:, 0]
    first = int(np.argmin(np.abs(s - lack.at_m)))
    last = int(np.argmin(np.abs(s - (lack.at_m + way * lack.needed_m))))
    passed = kernels.line_of_sight(places, road.rows, first, last, way, lane_m, (rules.eye_m, rules.object_m))
    on = np.arange(first, last, way)[1:]
    on = on[~np.isnan(passed[on, 0])]
    t, offset, ray, surface = passed[on].T
    over = np.where(np.isnan(surface), -np.inf, surface - ray)
    if not len(over):
        return None
    hidden = int(np.argmax(over))
    length = float(np.hypot(*(places[last, 1:3] - places[first, 1:3])))
    return LineOfSight(
        float(s[first]), float(s[last]), float(s[on[hidden]]), float(offset[hidden]), t * length, s[on], offset, ray,
        surface,
    )  # fmt: skip
