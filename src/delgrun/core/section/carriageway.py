"""What is built at each chainage, side by side: the one answer to how wide a road is and how its surface lies.

Whatever says what is built along a road is resolved to this at the chainages that somebody asks about. Levels are over
the grade line, offsets from the centreline outwards, unless they are said to be positive to the right. [m]
"""

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.section.area_kernels import DUG, FILLED, ROOM, WALLED
from delgrun.core.section.outline_kernels import FORMATION, LAID, Shapes, outline
from delgrun.core.section.sides import Sides

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]
_Answer = Callable[["Profile", FloatArray], FloatArray]


@dataclass(frozen=True)
class BatterBand:
    """A batter up to a height from where it begins, and the bench behind it; the last band of a rule repeats.

    `run`: how far out it goes for each metre of height, in each material from the top down; `bench_fall` outwards. [m]
    """

    run: tuple[float, ...]
    height_m: float = np.inf
    bench_m: float = 0.0
    bench_fall: float = 0.0


@dataclass(frozen=True)
class BatterRule:
    """The bands of a batter no higher than so much in all; of several rules the first that holds is built. [m]"""

    bands: tuple[BatterBand, ...]
    up_to_m: float = np.inf


@dataclass(frozen=True)
class Reserve:
    """An offset that nothing may pass, and the least runs of batters that are steepened to end there. [m]"""

    offset_m: float
    least_cut_run: float
    least_fill_run: float


@dataclass(frozen=True, eq=False)
class Variant:
    """What is built where the ground lies more than `above_m` over the reference.

    `surface` (k, 2): offsets, from 0, and levels of what is driven on and drained to; `formation` (c, 5): corners of
    what earthworks go to - offset, level, how these move with the line (0 and 1 as one with it, 0 and 0 for a level
    of its own), and 1 + k where what ends there is the underside of layer k, which is laid to the ground. The batter
    begins at the last. [m]

    What is built whatever the level: `layers_m2` of each layer of the road, earth put back over them, and how high
    walls stand in it.
    """

    surface: FloatArray
    formation: FloatArray
    above_m: float = -np.inf
    layers_m2: tuple[float, ...] = ()
    put_back_m2: float = 0.0
    walls_m: float = 0.0

    @staticmethod
    def rigid(surface: FloatArray, formation: FloatArray, above_m: float = -np.inf) -> "Variant":
        """One that moves as one with the line; `formation` (c, 2)."""
        moves = np.tile([0.0, 1.0, 0.0], (len(formation), 1))
        return Variant(surface, np.hstack([formation, moves]), above_m)


@dataclass(frozen=True, eq=False)
class Profile:
    """One side as it is built: variants by rising depth of the ground over a reference, (offset, level), and rules of
    its batters. `surface` (k, 2): what is driven on and drained to, as far as that is built everywhere. [m]
    """

    variants: tuple[Variant, ...]
    reference: tuple[float, float]
    cut: tuple[BatterRule, ...]
    fill: tuple[BatterRule, ...]
    surface: FloatArray
    reserve: Reserve | None = None

    @property
    def edge_m(self) -> float:
        """How far out the finished surface reaches. [m]"""
        return float(self.surface[-1, 0])


def shapes_of(profiles: Sequence[Profile]) -> Shapes:
    """Profiles as numbers; see `Shapes`."""
    variants = [v for p in profiles for v in p.variants]
    rules = [r for p in profiles for r in (*p.cut, *p.fill)]
    bands = [b for r in rules for b in r.bands]
    counts = [(len(p.cut), len(p.fill)) for p in profiles]
    before = np.cumsum([0, *(c + f for c, f in counts)])[:-1]
    none = Reserve(np.inf, 0.0, 0.0)
    reserves = [p.reserve or none for p in profiles]
    return Shapes(
        _starts(len(p.variants) for p in profiles),
        np.array([v.above_m for v in variants]),
        np.array([p.reference for p in profiles], dtype=np.float64),
        _starts(len(v.formation) for v in variants),
        _kinds(np.concatenate([v.formation for v in variants])),
        np.array([_constant(v) for v in variants]),
        np.array([(b, b + c, b + c + f) for b, (c, f) in zip(before.tolist(), counts, strict=True)], dtype=np.int64),
        np.array([r.up_to_m for r in rules]),
        _starts(len(r.bands) for r in rules),
        np.array([(b.height_m, b.bench_m, b.bench_fall, *b.run) for b in bands]),
        np.array([(r.offset_m, r.least_cut_run, r.least_fill_run) for r in reserves]),
    )


def _kinds(corners: FloatArray) -> FloatArray:
    out = corners.copy()
    out[:, 4] = np.where(corners[:, 4] > 0.0, LAID - 1 + corners[:, 4], FORMATION)
    return out


def _constant(v: Variant) -> list[float]:
    """By column, as `area_kernels.side_at` wants it."""
    out = [0.0] * DUG
    out[FILLED], out[WALLED] = v.put_back_m2, v.walls_m
    return [*out, *v.layers_m2]


# Works are looked at so far beside the centreline. [m]
_REACH_M = 100.0
# No ground is met below or above. [m]
_NO_GROUND_M = 1e5


def _ways(p: Profile, *, cut: bool) -> list[list[FloatArray]]:
    """Outlines (k, 2) of each variant with each of its rules, by the flattest material, where no ground ends them."""
    far, away = _REACH_M, _NO_GROUND_M if cut else -_NO_GROUND_M
    sides = Sides(np.array([0, 2]), np.array([0.0, far]), np.full((2, 2), away))
    found: list[list[FloatArray]] = []
    for v in p.variants:
        found.append([])
        for rule in p.cut if cut else p.fill:
            bands = tuple(replace(b, run=(max(b.run),)) for b in rule.bands)
            alone = (BatterRule(bands),)
            one = shapes_of([Profile((replace(v, above_m=-np.inf),), p.reference, alone, alone, p.surface)])
            points, told = np.empty((ROOM, 6)), np.empty(8)
            n = outline(one, sides, 0, 0, 0.0, points, told)
            found[-1].append(points[:n, :2].copy())
    return found


def _starts(counts: Iterable[int]) -> IntArray:
    return np.cumsum([0, *counts]).astype(np.int64)


@dataclass(frozen=True)
class LayerKind:
    """A material of layers, and its price."""

    name: str
    price_per_m3: float = 0.0


@dataclass(frozen=True, eq=False)
class Carriageway:
    """(n,) chainages, which of some profiles is built at each, left and right: (n, 2), and what its layers are.

    `built` (n,): where anything is; None: everywhere.
    """

    chainage_m: FloatArray
    profiles: tuple[Profile, ...]
    which: IntArray
    layers: tuple[LayerKind, ...] = ()
    built: NDArray[np.bool_] | None = None

    @cached_property
    def shapes(self) -> Shapes:
        return shapes_of(self.profiles)

    @cached_property
    def surfaces(self) -> tuple[IntArray, FloatArray]:
        """Where the corners of each variant's finished surface start, in the order of `shapes`, and these: (c, 2)."""
        each = [v.surface for p in self.profiles for v in p.variants]
        return _starts(map(len, each)), np.concatenate(each)

    @cached_property
    def walls_m(self) -> FloatArray:
        """(n,) how high the walls of the section itself stand at the most, left and right together."""
        most = np.array([max(v.walls_m for v in p.variants) for p in self.profiles])
        out: FloatArray = most[self.which].sum(axis=1)
        return out

    def both(self, i: int) -> tuple[Profile, Profile]:
        """The profiles left and right at chainage i."""
        left, right = self.which[i].tolist()
        return self.profiles[left], self.profiles[right]

    def surface_m(self, offset_m: FloatArray) -> FloatArray:
        """(n,) level of the finished surface at an offset, positive to the right; past its edge that of the edge."""
        return self._each(offset_m, lambda p, aside: np.interp(aside, p.surface[:, 0], p.surface[:, 1]))

    def edge_m(self, offset_m: FloatArray) -> FloatArray:
        """(n,) how far out the finished surface reaches on the side of an offset for each chainage."""
        return self._each(offset_m, lambda p, aside: np.full(len(aside), p.edge_m))

    def beyond_m(self, offset_m: FloatArray) -> FloatArray:
        """(n,) how far an offset for each chainage lies past that edge, 0 on the surface."""
        return np.maximum(np.abs(offset_m) - self.edge_m(offset_m), 0.0)

    def batters_m(self, offset_m: FloatArray, *, cut: bool) -> tuple[FloatArray, FloatArray]:
        """(v, n) levels over the line that works may reach beyond the road's surface, variant by variant: the lowest in
        cut, the highest in fill; and (v + 1, n) the depths of the ground between which each holds, rising.

        Of all its rules, in each band by the flattest of its materials, where no ground ends it before; to
        `_REACH_M` from the centreline, and beyond that as there. NaN where a side has fewer variants.
        """
        most = max(len(p.variants) for p in self.profiles)
        levels = np.full((most, len(offset_m)), np.nan)
        above = np.full((most + 1, len(offset_m)), np.inf)
        # Profiles that differ in their reserve have the same ways.
        known: dict[int, list[list[FloatArray]]] = {}
        for p, here in self._beside(offset_m):
            if id(p.variants) not in known:
                known[id(p.variants)] = _ways(p, cut=cut)
            for k, (v, paths) in enumerate(zip(p.variants, known[id(p.variants)], strict=True)):
                reached = [np.interp(np.abs(offset_m[here]), path[:, 0], path[:, 1]) for path in paths]
                levels[k, here] = (np.min if cut else np.max)(reached, axis=0)
                above[k, here] = v.above_m
        return levels, above

    def reference_m(self, offset_m: FloatArray) -> tuple[FloatArray, FloatArray]:
        """(n,) where it is looked which variant holds beside an offset: offset, positive to the right, and level over
        the line. [m]
        """
        at, level = np.empty(len(offset_m)), np.empty(len(offset_m))
        for p, here in self._beside(offset_m):
            at[here], level[here] = p.reference
        return np.where(offset_m >= 0.0, at, -at), level

    def corners_m(self) -> FloatArray:
        """(k, n) offsets at which the finished surface turns, positive to the right, from left to right; NaN where it
        turns less often.
        """
        most = max(len(p.surface) for p in self.profiles)
        each = np.full((len(self.profiles), most), np.nan)
        for k, p in enumerate(self.profiles):
            each[k, : len(p.surface)] = p.surface[:, 0]
        left, right = each[self.which[:, 0]].T, each[self.which[:, 1]].T
        return np.concatenate([-left[::-1], right])

    def _each(self, offset_m: FloatArray, answer: _Answer) -> FloatArray:
        out = np.full(len(offset_m), np.nan)
        for profile, here in self._beside(offset_m):
            out[here] = answer(profile, np.abs(offset_m[here]))
        return out

    def _beside(self, offset_m: FloatArray) -> Iterator[tuple[Profile, IntArray]]:
        """Each profile that is built on the side of some offset, and at which."""
        beside = np.where(offset_m >= 0.0, self.which[:, 1], self.which[:, 0])
        order = np.argsort(beside, kind="stable")
        ends = np.flatnonzero(np.diff(beside[order])) + 1
        for rows in np.split(order, ends):
            if len(rows):
                yield self.profiles[beside[rows[0]]], rows
