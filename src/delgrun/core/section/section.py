"""The road and the ground at one chainage, exactly."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.along import GroundSections
from delgrun.core.section.area_kernels import DUG, FILLED, ROOM, side_at
from delgrun.core.section.carriageway import Profile, shapes_of
from delgrun.core.section.outline_kernels import CAUGHT, IN_CUT, KIND, VARIANT, WALL_M
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.sides import Sides, sides_of

FloatArray = NDArray[np.float64]
Point = tuple[float, float]


@dataclass(frozen=True)
class SectionSide:
    """One side: its columns [m2, m], whether the batter found ground, is in cut, how high a wall it ends with [m], and
    which of its variants is built.

    `outline` (k, 2): offsets outwards and levels of the works, to the catch point or the last ground; from its corner
    `hinge` on it is the batter. `kinds` (k,): what the piece is that ends there, see `outline_kernels`. [m]
    """

    columns: FloatArray
    caught: bool
    in_cut: bool
    wall_m: float
    variant: int
    outline: FloatArray
    kinds: NDArray[np.int64]
    hinge: int

    @property
    def cut_m2(self) -> float:
        return float(self.columns[DUG])

    @property
    def fill_m2(self) -> float:
        return float(self.columns[FILLED])

    @property
    def catch_offset_m(self) -> float:
        return float(self.outline[-1, 0])

    @property
    def catch_level_m(self) -> float:
        return float(self.outline[-1, 1])

    def works_m(self, aside_m: float) -> float:
        """Level of the works so far out; NaN beyond them. [m]"""
        return float(np.interp(aside_m, self.outline[:, 0], self.outline[:, 1], right=np.nan))


@dataclass(frozen=True)
class Section:
    """The exact section at one chainage; offsets negative left."""

    left: SectionSide
    right: SectionSide

    @property
    def cut_m2(self) -> float:
        return self.left.cut_m2 + self.right.cut_m2

    @property
    def fill_m2(self) -> float:
        return self.left.fill_m2 + self.right.fill_m2


def exact_section(
    offset_m: FloatArray,
    level_m: FloatArray,
    road: tuple[Profile, Profile],
    grade_level_m: float,
    depth_m: FloatArray,
    met_m: FloatArray | None = None,
) -> Section:
    """Columns and outline of what is built, left and right, at a grade line level over one ground section.

    Parameters
    ----------
    offset_m, level_m : (n,) ground from left to right through offset 0; n >= 2. [m]
    depth_m : (2 + k,) how deep what batters run to, the stripped ground and further tops lie there, `InGround`. [m]
    met_m : (n,) level of another surface that batters run to. [m]

    References
    ----------
    Level ground (b + n h) h, side-hill (B + k h)^2 / 2(k - n): reference values 4.1 to 4.3.
    """
    shapes = shapes_of(road)
    base = np.array([np.floor(np.interp(0.0, offset_m, level_m))])
    met = level_m if met_m is None else met_m
    sides = Sides(*sides_of(np.array([0, len(offset_m)]), offset_m, level_m, met, base, depth_m[None, :]))
    z = grade_level_m - base[0]
    points, found = np.empty((ROOM, 6)), np.empty(8)
    width = len(depth_m) - 1 + shapes.constant.shape[1]
    made = []
    for side in range(2):
        values, rates = np.zeros(width), np.zeros(width)
        n = side_at(shapes, sides, side, side, z, points, found, values, rates)
        if n == 0:
            bare = np.array([[0.0, grade_level_m]])
            made.append(SectionSide(values, False, False, 0.0, 0, bare, np.zeros(1, dtype=np.int64), 0))
            continue
        corners, kinds = points[:n, :2] + [0.0, base[0]], points[:n, KIND].astype(np.int64)
        last = sides.x[sides.start[side + 1] - 1]
        if corners[-1, 0] > last:
            # The ground ends under the formation.
            k = int((corners[:, 0] <= last).sum())
            (x0, y0), (x1, y1) = corners[k - 1 : k + 1]
            end = [last, y0 + (y1 - y0) * (last - x0) / (x1 - x0)]
            corners, kinds = np.vstack([corners[:k], [end]]), kinds[: k + 1]
        variant = int(found[VARIANT])
        hinge = len(road[side].variants[variant].formation) - 1
        made.append(
            SectionSide(
                values,
                bool(found[CAUGHT]),
                bool(found[IN_CUT]),
                float(found[WALL_M]),
                variant,
                corners,
                kinds,
                min(hinge, len(corners) - 1),
            )
        )
    return Section(made[0], made[1])


def section_of(
    design: RoadDesign,
    offset_m: FloatArray,
    level_m: FloatArray,
    grade_level_m: float,
    chainage_m: float = 0.0,
    met_m: FloatArray | None = None,
) -> Section:
    """The same of what is built at a chainage, with the strata that are there."""
    at = np.array([chainage_m])
    left, right = (profile for profile, _ in design.built_at(chainage_m))
    depth = design.in_ground(at).depth_m[0]
    return exact_section(offset_m, level_m, (left, right), grade_level_m, depth, met_m)


# A shown section reaches this far past its outer catch point. [m]
SHOWN_MARGIN_M = 6.0


@dataclass(frozen=True)
class ShownSection:
    """The exact section at one chainage as it is drawn; points are (offset, level), offsets negative left.

    `tops`: what is dug from below the ground by name, the stripped ground first; `layers`: rings of each; `points`:
    named points of the road as (name, offset, level), those that are written; `reserve_m`: where works end left and
    right, infinity without; `met`: the other surface that batters run to.
    """

    chainage_m: float
    level_m: float | None = None
    ground_level_m: float | None = None
    grade: float | None = None
    cut_m2: float = 0.0
    fill_m2: float = 0.0
    ground: tuple[Point, ...] = ()
    road: tuple[Point, ...] = ()
    formation: tuple[Point, ...] = ()
    left: SectionSide | None = None
    right: SectionSide | None = None
    tops: tuple[tuple[str, tuple[Point, ...]], ...] = ()
    layers: tuple[tuple[str, tuple[Point, ...]], ...] = ()
    points: tuple[tuple[str, float, float], ...] = ()
    reserve_m: tuple[float, float] = (np.inf, np.inf)
    met: tuple[Point, ...] = ()
    # Utilities that pass here: (offset, level, name, "buried" or "overhead").
    utilities: tuple[tuple[float, float, str, str], ...] = ()
    # What a bend here asks of the road that the section does not have, in words.
    lacks: str = ""


def shown_section(
    across: GroundSections,
    chainage_m: float,
    design: RoadDesign,
    line: GradeLine | None,
    i: int = 0,
    margin_m: float = SHOWN_MARGIN_M,
) -> ShownSection:
    """The section at a chainage over ground section `i`, with ground as far as a margin beyond its works; without a
    line, or ground, what there is."""
    offset, ground = across.one(i)
    level = np.nan if line is None else float(line.levels(np.array([chainage_m]))[0])
    shown = None if np.isnan(level) else level
    if len(offset) < 2:
        return ShownSection(chainage_m, shown)
    centre = float(across.centre_level_m[i])
    here = np.array([chainage_m])
    if line is None or np.isnan(level) or np.isnan(centre) or not design.built(here)[0]:
        return ShownSection(chainage_m, shown, centre, ground=_points(np.column_stack([offset, ground])))
    (left, left_shapes), (right, right_shapes) = design.built_at(chainage_m)
    both = left, right
    in_ground = design.in_ground(here)
    section = exact_section(offset, ground, both, level, in_ground.depth_m[0], across.met(i))
    ends = np.clip(chainage_m + np.array([-0.05, 0.05]), line.chainage_m[0], line.chainage_m[-1])
    sides = section.left, section.right
    built = [p.variants[s.variant] for p, s in zip(both, sides, strict=True)]
    reach = max(*(s.catch_offset_m for s in sides), *(float(v.surface[-1, 0]) for v in built))
    drawn = _clipped(offset, ground, reach + margin_m)
    names = [STRIPPED_TOP, *(m.name for m in in_ground.materials)]
    low = min(float(s.outline[:, 1].min()) for s in sides) - SHOWN_MARGIN_M
    tops = [
        (name, _points(drawn - [0.0, depth]))
        for name, depth in zip(names, in_ground.depth_m[0, 1:].tolist(), strict=True)
        # What lies far below is not drawn; areas are those over the stripped ground, wherever that lies.
        if depth > 0 and (name == STRIPPED_TOP or drawn[:, 1].max() - depth > low)
    ]
    layers, points = [], []
    for sign, shapes, side in zip((-1.0, 1.0), (left_shapes, right_shapes), sides, strict=True):
        for layer in shapes[side.variant].layers:
            layers += [(layer.name, tuple((sign * x, level + y) for x, y in ring)) for ring in layer.rings]
        points += [(p.name, sign * p.offset_m, level + p.level_m) for p in shapes[side.variant].points if p.written]
    met = across.met(i)
    return ShownSection(
        chainage_m,
        level,
        centre,
        float(np.diff(line.levels(ends))[0] / np.diff(ends)[0]),
        section.cut_m2,
        section.fill_m2,
        _points(drawn),
        _both_sides(built[0].surface, built[1].surface, level),
        _both_sides(_formation(section.left), _formation(section.right), 0.0),
        section.left,
        section.right,
        tuple(tops),
        tuple(layers),
        tuple(points),
        tuple(np.inf if p.reserve is None else p.reserve.offset_m for p in both),  # type: ignore[arg-type]
        () if met is None else _points(_clipped(offset, met, reach + margin_m)),
    )


# What lies under the topsoil.
STRIPPED_TOP = "stripped ground"


def _clipped(offset: FloatArray, level: FloatArray, reach_m: float) -> FloatArray:
    """(k, 2) ground within a reach to both sides, cut where the reach ends: vertices may stand far apart."""
    ends = np.clip([-reach_m, reach_m], offset[0], offset[-1])
    inner = offset[(offset > ends[0]) & (offset < ends[1])]
    at = np.concatenate([ends[:1], inner, ends[1:]])
    return np.column_stack([at, np.interp(at, offset, level)])


def _points(rows: FloatArray) -> tuple[Point, ...]:
    return tuple((o, z) for o, z in rows.tolist())


def _formation(side: SectionSide) -> FloatArray:
    return side.outline[: side.hinge + 1]


def _both_sides(left: FloatArray, right: FloatArray, level: float) -> tuple[Point, ...]:
    return _points(np.concatenate([left[:0:-1] * [-1, 1], right]) + np.array([0.0, level]))
