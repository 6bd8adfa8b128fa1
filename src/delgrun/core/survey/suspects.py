"""Points that don't look like ground: off what their neighbours tell, doubled, coded otherwise, on crossing strings."""

import re
from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from os import cpu_count
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.ground.noding import SAME_POINT_M, PointGrid
from delgrun.core.ground.tin import Tin
from delgrun.core.survey import suspect_kernels
from delgrun.core.survey.points import Survey
from delgrun.core.units import say as in_words

FloatArray = NDArray[np.float64]

# A point this many times further off than its neighbours' scatter lets expect is suspected. Chosen on made lands so
# that of a million good points at most twenty are; see docs/suspects.md.
LIMIT = 4.5
# No survey is better than this: what lies nearer is not worth a look. [m]
_FINEST_M = 0.002
# The usual scatter is that of so many points around.
_BLOCK_POINTS = 300
_ROUNDS = 4
# So many points are judged between two words of how far it is.
_AT_ONCE = 100_000
# Told which share is done; it may raise to end the work.
Say = Callable[[float], None]
# Levels at a crossing that differ by less are one level to a surveyor. [m]
_APART_M = 0.05
# It is taken at each so many points of a large survey.
_EACH = 4
# Of eight sides' scatters the least is about so much of the true one (on made noise).
_BEST_OF_EIGHT = 0.72


@dataclass(frozen=True)
class Off:
    """Points off the ground that their neighbours tell of, worst first.

    `row` (k,) of the points given; `above_m` (k,) how far above it each lies, below it negative [m]; `times` (k,) how
    many times what its neighbours' scatter lets expect.
    """

    row: NDArray[np.int64]
    above_m: FloatArray
    times: FloatArray


def off_their_neighbours(xyz: FloatArray, limit: float = LIMIT, say: Say = lambda _: None) -> Off:
    """Spikes and pits among surveyed points.

    Each point is held against a smooth surface through its neighbours, fitted so that a few wrong ones among them
    don't count (M-estimation with Huber's and then Tukey's weights). How far off is far follows from the scatter of the
    points around, so that rough ground is no list of errors. Where a smooth surface does not fit (banks, crests,
    creeks) planes of one side and lines through opposite neighbours are tried, and a point is only suspected if it is
    off all that fit. What was found is left out, and its surroundings are looked at again, since a large error hides
    small ones and makes good neighbours look wrong.

    Parameters
    ----------
    xyz : (n, 3) float array
        Easting, northing, level, no two at one place. [m]
    limit : float
        In multiples of the scatter.
    say : function
        Told which share is done.

    References
    ----------
    P. J. Huber, Robust Statistics, 1981, ch. 7; Tukey's biweight as in Beaton and Tukey, 1974. Figures on made lands
    and on a real one: docs/suspects.md.
    """
    n = len(xyz)
    none = Off(np.zeros(0, dtype=np.int64), np.zeros(0), np.zeros(0))
    if n < 12:
        return none
    plan = np.ascontiguousarray(xyz[:, :2] - xyz[:, :2].min(axis=0))
    level = np.ascontiguousarray(xyz[:, 2])
    grid = PointGrid(plan)
    out = np.zeros(n, dtype=bool)
    above, times = np.zeros(n), np.zeros(n)
    usual = _usual(plan, _scatters(grid, level))
    which = np.arange(n)
    done = 0
    for _ in range(_ROUNDS):
        for part in np.array_split(which, -(-len(which) // _AT_ONCE)):
            above[part], times[part] = _off(grid, level, out, usual, part, limit)
            done += len(part)
            say(done / (done + n))
        now = times > limit
        changed = np.flatnonzero(now != out)
        if not len(changed):
            break
        out = now
        which = _around(grid, changed)
    row = np.flatnonzero(out)
    row = row[np.argsort(-times[row], kind="stable")]
    return Off(row, above[row], times[row])


def _side_by_side(work: Callable[[NDArray[np.int64]], Any], which: NDArray[np.int64]) -> list[Any]:
    """Compiled work on parts of some points, on all cores."""
    parts = np.array_split(which, max(min(cpu_count() or 1, len(which) // 2000), 1))
    with ThreadPoolExecutor(len(parts)) as pool:
        return list(pool.map(work, parts))


def _off(
    grid: PointGrid,
    level: FloatArray,
    out: NDArray[np.bool_],
    usual: FloatArray,
    which: NDArray[np.int64],
    limit: float,
) -> tuple[FloatArray, FloatArray]:
    cells = grid.cells
    made = _side_by_side(lambda part: suspect_kernels.off(grid.plan, level, *cells, out, usual, part, limit), which)
    above, times = (np.concatenate([m[i] for m in made]) for i in range(2))
    return above, times


def _scatters(grid: PointGrid, level: FloatArray) -> FloatArray:
    """(n,) scatter about the best side's plane [m], at every few points; -1 elsewhere."""
    cells = grid.cells
    some = np.arange(0, len(level), _EACH if len(level) > 20 * _BLOCK_POINTS else 1)
    made = _side_by_side(lambda part: suspect_kernels.scatters(grid.plan, level, *cells, part), some)
    out = np.full(len(level), -1.0)
    out[some] = np.concatenate(made)
    return out


def _usual(plan: FloatArray, scatter: FloatArray) -> FloatArray:
    """(n,) scatter usual around each point: the median of its block's, and never far below that of all. [m]"""
    known = scatter >= 0
    scatter = scatter / _BEST_OF_EIGHT
    if not known.any():
        return np.full(len(plan), _FINEST_M)
    all_of_it = float(np.median(scatter[known]))
    span = np.maximum(plan.max(axis=0), 1e-3)
    side = float(np.sqrt(span[0] * span[1] * _BLOCK_POINTS / len(plan)))
    block = np.floor(plan / side).astype(np.int64) @ [int(span[1] / side) + 2, 1]
    order = np.lexsort((scatter, block))
    order = order[known[order]]
    name, first, count = np.unique(block[order], return_index=True, return_counts=True)
    middle = scatter[order][first + count // 2]
    few = count < 20
    middle[few] = all_of_it
    at = np.clip(np.searchsorted(name, block), 0, len(name) - 1)
    out = np.where(name[at] == block, middle[at], all_of_it)
    return np.maximum(np.maximum(out, 0.6 * all_of_it), _FINEST_M)


def _around(grid: PointGrid, points: NDArray[np.int64]) -> NDArray[np.int64]:
    """The points that these are neighbours of, themselves among them."""
    size, nx, ny, start, member = grid.cells
    cell = np.minimum((grid.plan[points] / size).astype(np.int64), [nx - 1, ny - 1])
    reach = np.arange(-3, 4)
    i = (cell[:, 0, None, None] + reach[None, :, None]).clip(0, nx - 1)
    j = (cell[:, 1, None, None] + reach[None, None, :]).clip(0, ny - 1)
    touched = np.unique((i * ny + j).ravel())
    length = start[touched + 1] - start[touched]
    inside = np.repeat(start[touched] - np.concatenate([[0], np.cumsum(length)[:-1]]), length) + np.arange(length.sum())
    return np.unique(np.concatenate([member[inside].astype(np.int64), points]))


Why = Literal["off", "double", "code", "crossing"]

# Codes that surveyors give to what stands on the ground or under it; common practice, from memory.
NOT_GROUND_WORDS = (
    "lid", "mh", "manhole", "cover", "wall", "wt", "roof", "eave", "ridge", "floor", "tree", "trunk", "hedge", "pole",
    "post", "sign", "lamp", "mast", "fence", "gate", "pipe", "invert", "inv", "cable", "wire", "soffit", "canopy",
)  # fmt: skip


@dataclass(frozen=True)
class Suspect:
    """A point that may be no ground: which, where, by how much it is off [m] (None where that says nothing), how many
    times what the land around lets expect, and why in words.
    """

    why: Why
    row: int
    easting_m: float
    northing_m: float
    level_m: float
    above_m: float | None
    times: float | None
    says: str


def suspects(tin: Tin, points: Survey, meanings: Mapping[str, str], say: Say = lambda _: None) -> list[Suspect]:
    """All suspects of a surface, worst first in each kind: off their neighbours, doubled, by code, at crossings.

    Parameters
    ----------
    points : the survey the surface is made of, whose rows it names
    meanings : what codes mean ("ground", "string", "not_ground"); others are judged by their words
    say : told which share is done; it may raise to end the work
    """
    used = np.zeros(len(tin.xyz), dtype=bool)
    used[tin.triangles] = True
    mine = np.flatnonzero(used & (tin.row >= 0))
    found = off_their_neighbours(tin.xyz[mine], say=say)
    out = []
    for i, above, times in zip(found.row.tolist(), found.above_m.tolist(), found.times.tolist(), strict=True):
        way = "above" if above > 0 else "below"
        says = in_words(
            f"{{off:length}} {way} what its neighbours tell, {times:.0f} times what their scatter lets expect",
            off=abs(above),
        )
        out.append(_suspect("off", int(tin.row[mine[i]]), tin.xyz[mine[i]], above, times, says))
    for behind, row in tin.doubles.tolist():
        apart = float(points.xyz[behind, 2] - points.xyz[row, 2])
        if abs(apart) > SAME_POINT_M:
            which = "lower" if apart > 0 else "higher"
            says = in_words(f"at the place of another point that is {{by:level}} {which}", by=abs(apart))
            out.append(_suspect("double", behind, points.xyz[behind], apart, None, f"{says}; that one holds"))
    out += _by_code(tin, mine, points, meanings)
    added = np.flatnonzero(tin.row < 0)[: len(tin.apart_m)]
    for v, apart in sorted(zip(added.tolist(), tin.apart_m.tolist(), strict=False), key=lambda p: -p[1]):
        if apart > _APART_M:
            says = in_words("breaklines cross here {by:length} apart; the ground takes the mean", by=apart)
            out.append(_suspect("crossing", -1, tin.xyz[v], apart, None, says))
    return out


def mostly_no_ground(code: str) -> bool:
    """Whether a code's words name what mostly is no ground."""
    return bool(set(re.findall(r"[a-z]+", code.lower())) & set(NOT_GROUND_WORDS))


def _by_code(tin: Tin, mine: NDArray[np.int64], points: Survey, meanings: Mapping[str, str]) -> list[Suspect]:
    if not len(points.code):
        return []
    out = []
    codes = points.code[tin.row[mine]]
    for code in np.unique(codes).tolist():
        meant = meanings.get(code)
        if meant == "not_ground" or (meant is None and mostly_no_ground(code)):
            says = f"code “{code}” is no ground" if meant else f"code “{code}” is mostly no ground"
            out += [
                _suspect("code", int(tin.row[v]), tin.xyz[v], None, None, says) for v in mine[codes == code].tolist()
            ]
    return out


def _suspect(why: Why, row: int, at: FloatArray, above: float | None, times: float | None, says: str) -> Suspect:
    e, n, z = at.tolist()
    return Suspect(why, row, e, n, z, above, times, says)
