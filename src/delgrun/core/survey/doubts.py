"""What looks mistaken in a survey though it can be read, and how its ground may be bounded."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.budget import LARGEST_COORDINATE_M
from delgrun.core.ground.noding import SAME_POINT_M, PointGrid, breakline_edges, untangle
from delgrun.core.units import say

FloatArray = NDArray[np.float64]

# Ground on Earth lies between the deepest sea and the highest summit, with room for levels on a local zero. [m]
LOWEST_LEVEL_M, HIGHEST_LEVEL_M = -12_000.0, 12_000.0
# What programs write where they have no level; common practice.
NO_DATA = (-9999.0, -99999.0, -999999.0, -32768.0, 99999.0, 999999.0)

# Outer edges up to this many times the usual spacing of the points are ground.
_EDGE_SPACINGS = 8
# A level further than this many times the middle half's spread from it is doubted.
_FAR_SPREADS = 6
# A point this many times as far from the middle as nearly all others is doubted.
_FAR_TIMES = 20
# Levels at a crossing that differ by less are one level to a surveyor. [m]
_APART_M = 0.05
# Ground this close to the centreline's box belongs to it. [m]
_NEAR_M = 500.0


def suggested_longest_edge_m(xyz: FloatArray) -> float:
    """Longest outer edge worth keeping: eight times the usual spacing of the points, up to 5 m. [m]"""
    # A point far from all others would make the spacing look wide.
    apart = _apart(xyz)
    xyz = xyz[apart <= _far_m(apart)]
    span = np.maximum(np.ptp(xyz[:, :2], axis=0), 1e-3)
    # Occupied area by a coarse grid, since a strip fills little of its box.
    cell = max(float(np.sqrt(span[0] * span[1] / len(xyz))) * 2, float(span.max()) / 2000)
    east, north = (((xyz[:, k] - xyz[:, k].min()) / cell).astype(np.int64) for k in (0, 1))
    cells = np.zeros((int(east.max()) + 1, int(north.max()) + 1), dtype=bool)
    cells[east, north] = True
    taken = int(cells.sum())
    spacing = float(np.sqrt(taken * cell * cell / len(xyz)))
    return float(5 * np.ceil(_EDGE_SPACINGS * spacing / 5))


def unlikely(role: str, value: float, unit_m: float = 1.0) -> str:
    """Why a number, in units of `unit_m` [m], can't be an easting, northing or level; empty where it can."""
    if abs(value * unit_m) > LARGEST_COORDINATE_M:
        return f"{value:g} lies beyond 100 000 km"
    if role != "level":
        return ""
    if value in NO_DATA:
        return f"{value:.0f} is a mark for “no level”"
    if not LOWEST_LEVEL_M <= value * unit_m <= HIGHEST_LEVEL_M:
        return f"{value * unit_m:g} m is no level on Earth"
    return ""


def doubts(
    xyz: FloatArray, line: NDArray[np.int64], breaklines: list[NDArray[np.int64]], counted: str = "Line"
) -> list[str]:
    """Sentences about (n, 3) points, from these lines of their file, that may be mapped wrongly or hold mistakes.

    `counted` is what `line` counts.

    Raises
    ------
    DesignInputError
        The breaklines cross too often to be meant.
    """
    plan = np.ascontiguousarray(xyz[:, :2] - xyz[:, :2].min(axis=0))
    same = PointGrid(plan).first_within(SAME_POINT_M)
    out = [*_far_away(xyz, line, counted), *_twice(xyz, same, line, counted), *_crossing(xyz, same, breaklines)]
    # A spike or two must not stand for the whole.
    low, middle, high = np.percentile(xyz, [2, 50, 98], axis=0)
    spread = high - low
    if spread[2] > max(spread[0], spread[1]):
        out.append("The levels differ by more than the plan does: is the level column an easting or northing?")
    elif spread[2] > 0.5 * min(spread[0], spread[1]) and abs(middle[2]) > 10 * max(spread[2], 1):
        out.append("The levels look like coordinates: check the columns for northing and level.")
    low, high = np.percentile(xyz[:, 2], [25, 75])
    reach = _FAR_SPREADS * max(high - low, 1.0)
    far = int(((xyz[:, 2] < low - reach) | (xyz[:, 2] > high + reach)).sum())
    if far:
        out.append(f"{far} point{'s lie' if far > 1 else ' lies'} far above or below the rest.")
    return out


def _and_more(count: int) -> str:
    return f", and {count - 1} more" if count > 1 else ""


def _apart(xyz: FloatArray) -> FloatArray:
    """(n,) distance from the middle of all points, along the farther axis. [m]"""
    out: FloatArray = np.abs(xyz[:, :2] - np.median(xyz[:, :2], axis=0)).max(axis=1)
    return out


def _far_m(apart_m: FloatArray) -> float:
    return _FAR_TIMES * max(float(np.percentile(apart_m, 90)), 100.0)


def _far_away(xyz: FloatArray, line: NDArray[np.int64], counted: str) -> list[str]:
    """A digit too many puts a point far from all others: it would stretch the picture, or end in long triangles."""
    apart = _apart(xyz)
    far = np.flatnonzero(apart > _far_m(apart))
    if not len(far):
        return []
    first = int(far[np.argmax(apart[far])])
    return [
        say(
            f"{counted} {line[first]}: the point at E {{e:length}}, N {{n:length}} lies {{apart:distance}} from the "
            f"others{_and_more(len(far))}: a digit too many?",
            e=xyz[first, 0], n=xyz[first, 1], apart=apart[first],
        )
    ]  # fmt: skip


def _twice(xyz: FloatArray, same: NDArray[np.int64], line: NDArray[np.int64], counted: str) -> list[str]:
    """Two levels at one place; `same` (n,) the first point at the place of each."""
    apart = np.abs(xyz[:, 2] - xyz[same, 2])
    unlike = np.flatnonzero(apart > SAME_POINT_M)
    if not len(unlike):
        return []
    worst = int(unlike[np.argmax(apart[unlike])])
    return [
        say(
            f"{counted}s {line[same[worst]]} and {line[worst]} give two levels for one place "
            f"({{first:level}} and {{second:level}}){_and_more(len(unlike))}: the first one holds.",
            first=xyz[same[worst], 2], second=xyz[worst, 2],
        )
    ]  # fmt: skip


def _crossing(xyz: FloatArray, same: NDArray[np.int64], breaklines: list[NDArray[np.int64]]) -> list[str]:
    """Breaklines that cross at different levels; `same` as above."""
    if not breaklines:
        return []
    plan = np.ascontiguousarray(xyz[:, :2] - xyz[:, :2].min(axis=0))
    first, number = np.unique(same, return_inverse=True)
    edges = breakline_edges(breaklines, number)
    if not len(edges):
        return []
    nodes = untangle(plan[first], xyz[first, 2], edges)
    apart = nodes.apart_m[nodes.apart_m > _APART_M]
    if not len(apart):
        return []
    where = nodes.plan[len(first) + int(np.argmax(nodes.apart_m))] + xyz[:, :2].min(axis=0)
    times = "once" if len(apart) == 1 else f"{len(apart)} times"
    return [
        say(
            f"Breaklines cross {times} at different levels, by {{by:length}} at E {{e:length}}, N {{n:length}}: "
            "the ground takes the mean there.",
            by=apart.max(), e=where[0], n=where[1],
        )
    ]  # fmt: skip


def beside(xyz: FloatArray, along: FloatArray) -> list[str]:
    """A sentence where (n, 3) points lie nowhere near (k, 2) points along the project's centreline."""
    low, high = xyz[:, :2].min(axis=0) - _NEAR_M, xyz[:, :2].max(axis=0) + _NEAR_M

    def within(plan: FloatArray) -> bool:
        return bool(((plan >= low) & (plan <= high)).all(axis=1).any())

    if within(along):
        return []
    gap = float(np.hypot(*(np.median(xyz[:, :2], axis=0) - along).T).min())
    why = "easting and northing are swapped?" if within(along[:, ::-1]) else "another grid, or another road?"
    return [say(f"These points lie {{gap:distance}} from the project's centreline: {why}", gap=gap)]
