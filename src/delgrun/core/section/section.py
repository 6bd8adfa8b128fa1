"""The road and the ground at one chainage, exactly."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.along import GroundSections
from delgrun.core.section.area_kernels import ROOM, measure
from delgrun.core.section.carriageway import Carriageway, Profile, shapes_of
from delgrun.core.section.outline_kernels import CAUGHT, IN_CUT, VARIANT, WALL_M, outline
from delgrun.core.section.sides import Sides, sides_of

FloatArray = NDArray[np.float64]


@dataclass(frozen=True)
class SectionSide:
    """One side: areas [m2], whether the batter found ground, is in cut, and how high a wall it ends with [m].

    `outline` (k, 2): offsets outwards and levels of the works, to the catch point or the last ground; from its corner
    `hinge` on it is the batter. [m]
    """

    cut_m2: float
    fill_m2: float
    caught: bool
    in_cut: bool
    wall_m: float
    outline: FloatArray
    hinge: int

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
    offset_m: FloatArray, level_m: FloatArray, road: tuple[Profile, Profile], grade_level_m: float
) -> Section:
    """Areas and outline of what is built, left and right, at a grade line level over one ground section.

    Parameters
    ----------
    offset_m, level_m : (n,) ground from left to right through offset 0; n >= 2. [m]

    References
    ----------
    Level ground (b + n h) h, side-hill (B + k h)^2 / 2(k - n): reference values 4.1 to 4.3.
    """
    shapes = shapes_of(road)
    base = np.array([np.floor(np.interp(0.0, offset_m, level_m))])
    depths = np.array([[[p.topsoil_m] for p in road]])
    sides = Sides(*sides_of(np.array([0, len(offset_m)]), offset_m, level_m, base, depths))
    z = grade_level_m - base[0]
    points, found = np.empty((ROOM, 6)), np.empty(8)
    values, rates = np.empty(2), np.empty(2)
    made = []
    for side, profile in enumerate(road):
        n = outline(shapes, sides, side, side, z, points, found)
        if n == 0:
            made.append(SectionSide(0.0, 0.0, False, False, 0.0, np.array([[0.0, grade_level_m]]), 0))
            continue
        measure(sides, side, points, n, z, found, values, rates)
        corners = points[:n, :2] + [0.0, base[0]]
        last = sides.x[sides.start[side + 1] - 1]
        if corners[-1, 0] > last:
            # The ground ends under the formation.
            end = [last, np.interp(last, corners[:, 0], corners[:, 1])]
            corners = np.vstack([corners[corners[:, 0] < last], [end]])
        hinge = len(profile.variants[int(found[VARIANT])].formation) - 1
        made.append(
            SectionSide(
                float(values[0]),
                float(values[1]),
                bool(found[CAUGHT]),
                bool(found[IN_CUT]),
                float(found[WALL_M]),
                corners,
                min(hinge, len(corners) - 1),
            )
        )
    return Section(made[0], made[1])


# A shown section reaches this far past its outer catch point. [m]
_SHOWN_MARGIN_M = 6.0


@dataclass(frozen=True)
class ShownSection:
    """The exact section at one chainage as it is drawn; points are (offset, level), offsets negative left."""

    chainage_m: float
    level_m: float | None = None
    ground_level_m: float | None = None
    grade: float | None = None
    cut_m2: float = 0.0
    fill_m2: float = 0.0
    ground: tuple[tuple[float, float], ...] = ()
    road: tuple[tuple[float, float], ...] = ()
    formation: tuple[tuple[float, float], ...] = ()
    left: SectionSide | None = None
    right: SectionSide | None = None
    # Utilities that pass here: (offset, level, name, "buried" or "overhead").
    utilities: tuple[tuple[float, float, str, str], ...] = ()
    # What a bend here asks of the road that the section does not have, in words.
    lacks: str = ""


def shown_section(
    across: GroundSections, chainage_m: float, road: Carriageway, line: GradeLine | None, i: int = 0
) -> ShownSection:
    """The section at a chainage over ground section `i`; without a line, or ground, what there is."""
    offset, ground = across.one(i)
    level = np.nan if line is None else float(line.levels(np.array([chainage_m]))[0])
    shown = None if np.isnan(level) else level
    if len(offset) < 2:
        return ShownSection(chainage_m, shown)
    centre = float(across.centre_level_m[i])
    if line is None or np.isnan(level) or np.isnan(centre):
        return ShownSection(chainage_m, shown, centre, ground=_points(np.column_stack([offset, ground])))
    left, right = road.both(i)
    section = exact_section(offset, ground, (left, right), level)
    ends = np.clip(chainage_m + np.array([-0.05, 0.05]), line.chainage_m[0], line.chainage_m[-1])
    reach = max(section.left.catch_offset_m, section.right.catch_offset_m, left.edge_m, right.edge_m)
    drawn = _clipped(offset, ground, reach + _SHOWN_MARGIN_M)
    return ShownSection(
        chainage_m,
        level,
        centre,
        float(np.diff(line.levels(ends))[0] / np.diff(ends)[0]),
        section.cut_m2,
        section.fill_m2,
        _points(drawn),
        _both_sides(left.surface, right.surface, level),
        _both_sides(_formation(section.left), _formation(section.right), 0.0),
        section.left,
        section.right,
    )


def _clipped(offset: FloatArray, level: FloatArray, reach_m: float) -> FloatArray:
    """(k, 2) ground within a reach to both sides, cut where the reach ends: vertices may stand far apart."""
    ends = np.clip([-reach_m, reach_m], offset[0], offset[-1])
    inner = offset[(offset > ends[0]) & (offset < ends[1])]
    at = np.concatenate([ends[:1], inner, ends[1:]])
    return np.column_stack([at, np.interp(at, offset, level)])


def _points(rows: FloatArray) -> tuple[tuple[float, float], ...]:
    return tuple((o, z) for o, z in rows.tolist())


def _formation(side: SectionSide) -> FloatArray:
    return side.outline[: side.hinge + 1]


def _both_sides(left: FloatArray, right: FloatArray, level: float) -> tuple[tuple[float, float], ...]:
    return _points(np.concatenate([left[:0:-1] * [-1, 1], right]) + np.array([0.0, level]))
