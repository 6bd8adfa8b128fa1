"""The road and the ground at one chainage, exactly; and depth tables for all of them."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.ground.along import GroundSections
from delgrun.core.section import kernels
from delgrun.core.section.carriageway import Carriageway, Profile

FloatArray = NDArray[np.float64]

# Table rows are this far apart in height: on gentle cross slopes the areas turn within 0.1 m. [m]
TABLE_STEP_M = 0.025
# And reach this far below and above the ground. [m]
TABLE_REACH_M = 30.0


@dataclass(frozen=True)
class SectionSide:
    """One side: areas [m2], offset and level of the catch point [m], and whether the batter found ground."""

    cut_m2: float
    fill_m2: float
    catch_offset_m: float
    catch_level_m: float
    caught: bool
    in_cut: bool


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


@dataclass(frozen=True)
class DepthTable:
    """Cut area, fill area and footprint of every section by height above the ground there.

    `table` (n, count, 4) spline control values, in single precision (good to 0.1 dm2 at 1 000 m2);
    `caught` (n, count) bits (1 left, 2 right); row k
    stands for the height lowest_m + k * step_m. Where a batter lifts off a bump, areas jump:
    `jump_start` (n + 1,), `jump_at` (r,) row positions and `jump_size` (r, 4) say where and by how much.
    """

    centre_level_m: FloatArray
    table: FloatArray
    caught: NDArray[np.uint8]
    jump_start: NDArray[np.int64]
    jump_at: FloatArray
    jump_size: FloatArray
    lowest_m: float
    step_m: float

    def beyond(self, level_m: FloatArray) -> NDArray[np.bool_]:
        """(n,) whether a level lies further from the ground than the table reaches."""
        highest = self.lowest_m + self.step_m * (self.table.shape[1] - 1)
        above = level_m - self.centre_level_m
        out: NDArray[np.bool_] = (above < self.lowest_m) | (above > highest)
        return out

    def look_up(self, level_m: FloatArray) -> tuple[FloatArray, NDArray[np.uint8]]:
        """(n, 4) cut, fill [m2], reach left and right [m], and (n,) catch bits, at these levels."""
        out = np.empty((len(level_m), 4))
        bits = np.empty(len(level_m), dtype=np.uint8)
        kernels.look_up(
            self.table,
            self.caught,
            self.jump_start,
            self.jump_at,
            self.jump_size,
            self.centre_level_m,
            self.lowest_m,
            self.step_m,
            level_m,
            out,
            bits,
        )
        return out, bits


def exact_section(
    offset_m: FloatArray, level_m: FloatArray, road: tuple[Profile, Profile], grade_level_m: float
) -> Section:
    """Areas and catch points of what is built, left and right, at a grade line level over one ground section.

    Parameters
    ----------
    offset_m, level_m : (n,) ground from left to right through offset 0; n >= 2. [m]

    References
    ----------
    Level ground (b + n h) h, side-hill (B + k h)^2 / 2(k - n): reference values 4.1 to 4.3.
    """
    sides = []
    for side, profile in zip((-1, 1), road, strict=True):
        o, z = kernels.split_sides(offset_m, level_m, side)
        out = np.empty(5)
        kernels.side_areas(
            o,
            z,
            profile.formation,
            grade_level_m,
            float(profile.topsoil_m),
            float(profile.cut_run),
            float(profile.fill_run),
            out,
        )
        edge_ground = float(np.interp(profile.formation[-1, 0], o, z))
        sides.append(
            SectionSide(
                float(out[0]),
                float(out[1]),
                float(out[2]),
                float(out[4]),
                bool(out[3]),
                bool(edge_ground > grade_level_m + profile.formation[-1, 1]),
            )
        )
    return Section(sides[0], sides[1])


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
        _both_sides(left.formation, right.formation, level),
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


def _both_sides(left: FloatArray, right: FloatArray, level: float) -> tuple[tuple[float, float], ...]:
    return _points(np.concatenate([left[:0:-1] * [-1, 1], right]) + np.array([0.0, level]))


# So many stretches of the line are worked on at once; the kernel lets other threads run. More find no core here.
_STRETCHES = 2
# Shorter lines are quicker in one go. [sections]
_WORTH_SPLITTING = 64


def build_depth_table(ground: GroundSections, road: Carriageway) -> DepthTable:
    """Depth tables of every section, each row made from an exact section."""
    count = round(2 * TABLE_REACH_M / TABLE_STEP_M) + 1
    (profile,) = road.profiles

    def stretch(a: int, b: int) -> tuple[FloatArray, NDArray[np.uint8], NDArray[np.int64], FloatArray, FloatArray]:
        return kernels.depth_tables(  # type: ignore[no-any-return]
            ground.start[a : b + 1],
            ground.offset_m,
            ground.level_m,
            ground.centre_level_m[a:b],
            profile.formation,
            profile.topsoil_m,
            profile.cut_run,
            profile.fill_run,
            -TABLE_REACH_M,
            TABLE_STEP_M,
            count,
        )

    n = len(ground.centre_level_m)
    cuts = np.linspace(0, n, (_STRETCHES if n >= _WORTH_SPLITTING else 1) + 1).astype(int).tolist()
    with ThreadPoolExecutor(_STRETCHES) as pool:
        parts = list(pool.map(stretch, cuts[:-1], cuts[1:]))
    table, caught, starts, jump_at, jump_size = zip(*parts, strict=True)
    # Where each section's jumps begin is counted through all stretches.
    before = np.cumsum([0, *(len(at) for at in jump_at)])
    jump_start = np.concatenate([[0], *(s[1:] + k for s, k in zip(starts, before, strict=False))])
    return DepthTable(
        ground.centre_level_m,
        np.concatenate(table),
        np.concatenate(caught),
        jump_start.astype(np.int64),
        np.concatenate(jump_at),
        np.concatenate(jump_size),
        -TABLE_REACH_M,
        TABLE_STEP_M,
    )
