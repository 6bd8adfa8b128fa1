"""The made-up country of the demo: Hollin Brow, a link of about 4 km between two existing roads.

Everything is invented. The land is a sum of long and short waves with the slopes of real hills, a
valley with an incised creek, and the beds of the two roads. The same numbers come out on every
machine.
"""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from delgrun.core.section.along import AddedLane, SectionChange, SectionRange, SectionsAlong
from delgrun.core.section.roadside import Material, Strata, StratumDepth, Works
from delgrun.core.section.typical_section import Batter, Element, Layer, TypicalSection, mirrored

FloatArray = NDArray[np.float64]

PROJECT_NAME = "Hollin Brow link"

# Corners of the centreline: easting, northing, radius. [m] The fourth is the tight bend.
CENTRELINE = (
    (12000.0, 48000.0, 0.0),
    (12710.0, 48190.0, 450.0),
    (13240.0, 47900.0, 300.0),
    (13830.0, 48240.0, 110.0),
    (13990.0, 47760.0, 260.0),
    (14700.0, 47610.0, 500.0),
    (15260.0, 47800.0, 400.0),
    (15560.0, 47762.0, 0.0),
)
# Half the width of the existing roads, and their fall from crown to edge.
ROAD_HALF_WIDTH_M = 3.0
ROAD_CROSSFALL = 0.025
_CREEK = np.array([
    (14080.0, 48260.0), (14150.0, 48130.0), (14290.0, 48050.0), (14330.0, 47900.0), (14280.0, 47790.0),
    (14345.0, 47680.0), (14440.0, 47610.0), (14450.0, 47500.0), (14560.0, 47400.0), (14590.0, 47260.0),
])  # fmt: skip
_CREEK_DEPTH_M, _CREEK_TOP_M, _CREEK_BOTTOM_M = 1.7, 5.0, 1.6
_WAVES, _SEED = 64, 4711
POINT_SPACING_M = 5.35


@dataclass(frozen=True)
class Road:
    """An existing road: a straight through a point, along a unit vector, its crown at a level with a grade."""

    easting_m: float
    northing_m: float
    along_e: float
    along_n: float
    crown_level_m: float
    grade: float

    def along_across(self, e: FloatArray, n: FloatArray) -> tuple[FloatArray, FloatArray]:
        de, dn = e - self.easting_m, n - self.northing_m
        return de * self.along_e + dn * self.along_n, np.abs(-de * self.along_n + dn * self.along_e)


def existing_roads() -> tuple[Road, Road]:
    """The roads at the start and at the end; the link meets each at its edge, at a right angle."""
    out = []
    for here, other, grade in ((CENTRELINE[0], CENTRELINE[1], 0.012), (CENTRELINE[-1], CENTRELINE[-2], -0.018)):
        away = np.array([other[0] - here[0], other[1] - here[1]])
        away /= np.hypot(*away)
        crown = np.array(here[:2]) - away * ROAD_HALF_WIDTH_M
        level = float(_hills(crown[:1], crown[1:])[0])
        out.append(Road(float(crown[0]), float(crown[1]), float(-away[1]), float(away[0]), round(level, 2), grade))
    return out[0], out[1]


def tie_ins() -> tuple[float, float, float, float]:
    """Start level and grade, end level and grade: the edges of the existing roads."""
    start, end = existing_roads()
    fall = ROAD_HALF_WIDTH_M * ROAD_CROSSFALL
    return (
        round(start.crown_level_m - fall, 3),
        -ROAD_CROSSFALL,
        round(end.crown_level_m - fall, 3),
        ROAD_CROSSFALL,
    )


def level(e: FloatArray, n: FloatArray) -> FloatArray:
    """(k,) true ground level. [m]"""
    z = _hills(e, n)
    for road in existing_roads():
        along, across = road.along_across(e, n)
        surface = road.crown_level_m + road.grade * along - ROAD_CROSSFALL * np.minimum(across, ROAD_HALF_WIDTH_M)
        near = np.abs(along) < 200
        # From the edge the verge runs out into the land over 25 m.
        share = np.clip((across - ROAD_HALF_WIDTH_M) / 25.0, 0.0, 1.0)
        share = share * share * (3 - 2 * share)
        z = np.where(near, surface * (1 - share) + z * share, z)
    return z


def _hills(e: FloatArray, n: FloatArray) -> FloatArray:
    rng = np.random.default_rng(_SEED)
    length = np.geomspace(2600.0, 70.0, _WAVES)
    direction = rng.uniform(0, 2 * np.pi, _WAVES)
    phase = rng.uniform(0, 2 * np.pi, _WAVES)
    # Amplitude by wavelength as on real hills: steep enough to matter, ever smoother when small.
    height = 1.75 * (length / 600.0) ** 1.45 * rng.uniform(0.6, 1.3, _WAVES)
    creek = creek_distance(e, n)
    z = 212.0 - 0.004 * (e - 12000.0) + 0.006 * (n - 48000.0)
    calm = 1.0 - 0.75 * np.exp(-((creek / 90.0) ** 2))
    for k in range(_WAVES):
        run = (e * np.cos(direction[k]) + n * np.sin(direction[k])) / length[k]
        wave = height[k] * np.sin(2 * np.pi * run + phase[k])
        z = z + (wave if length[k] > 900 else wave * calm)
    z = z - 10.0 * np.exp(-((creek / 150.0) ** 2))
    bank = np.clip((_CREEK_TOP_M - creek) / (_CREEK_TOP_M - _CREEK_BOTTOM_M), 0.0, 1.0)
    return z - _CREEK_DEPTH_M * bank


def creek_distance(e: FloatArray, n: FloatArray) -> FloatArray:
    """Distance to the creek. [m]"""
    best = np.full(np.shape(e), np.inf)
    for a, b in pairwise(_CREEK):
        d = b - a
        length = float(np.hypot(*d))
        t = np.clip(((e - a[0]) * d[0] + (n - a[1]) * d[1]) / length**2, 0.0, 1.0)
        off = np.hypot(e - a[0] - t * d[0], n - a[1] - t * d[1])
        best = np.minimum(best, off)
    return best


@dataclass(frozen=True)
class SurveyPoint:
    """One shot of the survey; `string` names the breakline it belongs to."""

    easting_m: float
    northing_m: float
    level_m: float
    code: str
    string: str


def survey_points(on_line: FloatArray) -> list[SurveyPoint]:
    """About 20 000 points in a ragged strip along the line, and breaklines along creek and road edges.

    Parameters
    ----------
    on_line : (k, 2) float array
        Points of the centreline a few metres apart. [m]
    """
    rng = np.random.default_rng(_SEED + 1)
    out: list[SurveyPoint] = []
    strings = _strings(on_line)
    taken = np.concatenate([line for _, _, line in strings])
    lo, hi = on_line.min(axis=0) - 95, on_line.max(axis=0) + 95
    grid = np.stack(
        np.meshgrid(np.arange(lo[0], hi[0], POINT_SPACING_M), np.arange(lo[1], hi[1], POINT_SPACING_M)), -1
    ).reshape(-1, 2)
    grid += rng.uniform(-0.42, 0.42, grid.shape) * POINT_SPACING_M
    # The edge of a survey wanders with hedges, woods and patience.
    reach = 74 + 7 * np.sin(grid[:, 0] / 83.0) + 5 * np.sin(grid[:, 1] / 41.0 + grid[:, 0] / 190.0)
    keep = _distance(grid, on_line) < reach
    # Here and there a point is skipped, and none stands on a breakline.
    keep &= rng.uniform(size=len(grid)) > 0.05
    grid = grid[keep]
    grid = grid[_distance(grid, taken) > 1.8]
    z = level(grid[:, 0], grid[:, 1]) + rng.normal(0, 0.015, len(grid))
    out += [SurveyPoint(float(e), float(n), float(v), "GR", "") for (e, n), v in zip(grid, z, strict=True)]
    for name, code, line in strings:
        z = level(line[:, 0], line[:, 1])
        out += [SurveyPoint(float(e), float(n), float(v), code, name) for (e, n), v in zip(line, z, strict=True)]
    return out


def typical_section() -> TypicalSection:
    """Two sealed lanes on three layers, a drain in cut, cuts with a bench behind each five metres."""
    own = (
        Element(kind="lane", name="lane", width_m=3.0, fall=0.03),
        Element(kind="shoulder", name="shoulder", width_m=1.0, fall=0.04),
        Element(kind="drain", name="drain", width_m=0.4, depth_m=0.6, front_h_over_v=2.0, built="in cut"),
    )
    layers = (
        Layer(name="surface course", thickness_m=0.05, last="lane"),
        Layer(name="base course", thickness_m=0.15, last="shoulder"),
        Layer(name="subbase", thickness_m=0.25, ends="drain front"),
    )
    batters = (
        Batter(kind="cut", h_over_v=1.5, height_m=5.0, bench_m=2.0, bench_fall=0.05),
        Batter(kind="fill", h_over_v=2.0),
    )
    right = TypicalSection(name="Two lanes, sealed", elements=own, layers=layers, batters=batters)
    return mirrored(right, "left")


def village_section() -> TypicalSection:
    """Wider lanes between kerbs, and a path behind each."""
    own = (
        Element(kind="lane", name="lane", width_m=3.25, fall=0.03),
        Element(kind="kerb", name="kerb", width_m=0.15, drop_m=-0.12),
        Element(kind="verge", name="path", width_m=1.5, fall=-0.02),
        Element(kind="drain", name="drain", width_m=0.4, depth_m=0.6, front_h_over_v=2.0, built="in cut"),
    )
    layers = (
        Layer(name="surface course", thickness_m=0.05, last="lane"),
        Layer(name="base course", thickness_m=0.15, last="kerb"),
        Layer(name="subbase", thickness_m=0.25, last="path"),
    )
    rural = typical_section().batters
    right = TypicalSection(
        name="Village", elements=own, layers=layers, batters=tuple(b for b in rural if b.side == "right")
    )
    return mirrored(right, "left")


def sections_along() -> SectionsAlong:
    """A village between kerbs, a lane for trucks that climb to its ridge, and a gate beside the road."""
    return SectionsAlong(
        ranges=(
            SectionRange(from_m=1680.0, to_m=2060.0, taper_in_m=30.0, taper_out_m=30.0, section="section-2"),
        ),
        changes=(
            SectionChange(
                from_m=2520.0, to_m=2532.0, taper_in_m=6.0, taper_out_m=6.0, side="left", point="shoulder",
                width_m=3.0, reason="field gate",
            ),
        ),
        lanes=(
            AddedLane(
                from_m=2960.0, to_m=3520.0, taper_in_m=60.0, taper_out_m=60.0, name="climbing lane",
                reason="slow trucks",
            ),
        ),
    )  # fmt: skip


def works() -> Works:
    """Sections worked out each 10 m, reported each 20 m and in curves each 10 m."""
    return Works(reported_m=20.0, in_curves_m=10.0)


def strata() -> Strata:
    """Rippable rock below the soil, sound rock below that in the two ridges that the road cuts into."""
    rippable = Material(name="rippable", batter_h_over_v=1.0, cut_per_m3=8.0, compacted_per_bank=1.0)
    rock = Material(name="rock", batter_h_over_v=0.5, cut_per_m3=16.0, compacted_per_bank=1.2)
    depths = (
        StratumDepth(from_m=0.0, to_m=4000.0, material="rippable", depth_m=2.5),
        StratumDepth(from_m=2150.0, to_m=2700.0, material="rock", depth_m=5.0),
        StratumDepth(from_m=2950.0, to_m=3450.0, material="rock", depth_m=4.0),
    )
    return Strata(materials=(rippable, rock), rows=depths)


def _distance(points: FloatArray, to: FloatArray) -> FloatArray:
    out = np.empty(len(points))
    for k in range(0, len(points), 4096):
        part = points[k : k + 4096]
        out[k : k + 4096] = np.sqrt(((part[:, None, :] - to[None, :, :]) ** 2).sum(axis=2).min(axis=1))
    return out


def _strings(on_line: FloatArray) -> list[tuple[str, str, FloatArray]]:
    """Breaklines as (name, code, points)."""
    out = []
    for road, side in zip(existing_roads(), ("W", "E"), strict=True):
        step = np.arange(-84.0, 84.1, 7.0)
        for code, across in (("ER", -ROAD_HALF_WIDTH_M), ("RC", 0.0), ("ER", ROAD_HALF_WIDTH_M)):
            e = road.easting_m + step * road.along_e - across * road.along_n
            n = road.northing_m + step * road.along_n + across * road.along_e
            name = f"{side}{'crown' if across == 0 else 'edge1' if across < 0 else 'edge2'}"
            out.append((name, code, np.column_stack([e, n])))
    along = np.diff(_CREEK, axis=0)
    length = np.hypot(along[:, 0], along[:, 1])
    # Corners of the creek are mitred so that its strings run side by side.
    unit = along / length[:, None]
    normal = np.column_stack([-unit[:, 1], unit[:, 0]])
    mitre = np.vstack([normal[:1], normal[:-1] + normal[1:], normal[-1:]])
    mitre /= (mitre * np.vstack([normal[:1], normal])).sum(axis=1)[:, None]
    for name, code, off in (
        ("creek1", "CT", -_CREEK_TOP_M),
        ("creek2", "CB", -_CREEK_BOTTOM_M),
        ("creek3", "CB", _CREEK_BOTTOM_M),
        ("creek4", "CT", _CREEK_TOP_M),
    ):
        corners = _CREEK + mitre * off
        run = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(corners, axis=0).T))])
        at = np.unique(np.concatenate([np.arange(0.0, run[-1], 8.0), run]))
        line = np.column_stack([np.interp(at, run, corners[:, 0]), np.interp(at, run, corners[:, 1])])
        out.append((name, code, line[_distance(line, on_line) < 78]))
    return out
