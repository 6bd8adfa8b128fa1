"""Outlines and areas of sides of all kinds against a walk of its own with shapely, and pieces against the kernels."""

import numpy as np
import pytest

from delgrun.core.section.area_kernels import BATTER, DUG, FILLED, ROOM, WALLED, side_at
from delgrun.core.section.carriageway import BatterBand, BatterRule, Profile, Reserve, Variant, shapes_of
from delgrun.core.section.outline_kernels import CAUGHT, KIND, TURNING, WALL, WALL_M
from delgrun.core.section.pieces import Pieces, areas_in, pieces_of
from delgrun.core.section.sides import Sides
from laws import examples
from walk import areas_by_polygons, walked

KINDS = ("plain", "benches", "rules", "drain", "own level", "reserve", "all")


class Made:
    """A random side: a profile, ground with strata, and what the kernels make of it."""

    def __init__(self, rng: np.random.Generator, kind: str, base: float = 0.0) -> None:
        self.rng, self.kind, self.materials = rng, kind, int(rng.integers(1, 4))
        self.lattice = bool(rng.random() < 0.3)
        self.x, self.tops = self._ground(base)
        self.profile = self._profile(base)
        self.shapes = shapes_of([self.profile])
        self.sides = Sides(np.array([0, len(self.x)]), self.x, np.column_stack(self.tops))
        self.points, self.found = np.empty((ROOM, 6)), np.empty(8)

    def _ground(self, base: float) -> tuple[np.ndarray, list[np.ndarray]]:
        """Lattice points, where ties are the rule; or random ones, some with a face that is all but upright."""
        rng = self.rng
        n = rng.integers(12, 50)
        if self.lattice:
            x = np.concatenate([[0.0], np.cumsum(rng.integers(1, 4, n)).astype(float)])
            x = np.unique(np.append(x[x <= 60], 60.0))
            y = np.cumsum(rng.integers(-1, 2, len(x))).astype(float)
        else:
            x = np.unique(np.concatenate([[0.0, 60.0], rng.uniform(0, 60, n)]))
            y = np.cumsum(rng.normal(0, rng.choice([0.3, 1, 2]), len(x))) + rng.normal(0, 0.1) * x
            i = rng.integers(1, len(x) - 1)
            if rng.random() < 0.3 and x[i] + 1e-4 < x[i + 1]:
                x, y = np.insert(x, i + 1, x[i] + 1e-4), np.insert(y, i + 1, y[i] + rng.normal(0, 4))
        y = y + base
        deep = float(rng.choice([0.0, 0.15, 0.3]))
        tops = [y, y - deep]
        for _ in range(self.materials - 1):
            if self.lattice:
                deep += float(rng.integers(0, 3))
                tops.append(y - deep)
            elif rng.random() < 0.5:
                deep += rng.uniform(0, 2.5)
                tops.append(y - deep)
            else:
                # One with a shape of its own, which pinches out on the one above.
                tops.append(y - deep - rng.normal(1, 1.5) + rng.normal(0, 0.1) * x)
        for k in range(2, len(tops)):
            d = tops[k] - tops[k - 1]
            i = np.flatnonzero(d[:-1] * d[1:] < 0)
            own = np.union1d(x, x[i] + (x[i + 1] - x[i]) * d[i] / (d[i] - d[i + 1]))
            tops, x = [np.interp(own, x, t) for t in tops], own
            tops[k] = np.minimum(tops[k], tops[k - 1])
        keep = np.concatenate([[True], np.diff(x) > 1e-9])
        return x[keep], [t[keep] for t in tops]

    def _bands(self, cut: bool) -> tuple[BatterBand, ...]:
        rng = self.rng
        count = int(rng.integers(1, 4)) if self.kind in ("benches", "all") else 1
        out = []
        for _ in range(count):
            runs = sorted(rng.choice([0.25, 0.5, 1.0, 1.5, 2.0, 3.0], self.materials), reverse=True)
            run = tuple(map(float, runs)) if cut else (float(rng.choice([1.5, 2.0, 3.0])),) * self.materials
            if count == 1:
                return (BatterBand(run),)
            bench = float(rng.choice([0.0, 1.0, 2.0])), float(rng.choice([-0.05, 0.0, 0.05]))
            out.append(BatterBand(run, float(rng.choice([2.0, 3.0, 5.0])), *bench))
        return tuple(out)

    def _rules(self, cut: bool) -> tuple[BatterRule, ...]:
        heights = sorted(self.rng.choice([1.0, 2.0, 4.0], 2, replace=False)) if self.kind in ("rules", "all") else []
        return tuple(BatterRule(self._bands(cut), float(h)) for h in [*heights, np.inf])

    def _profile(self, base: float) -> Profile:
        rng = self.rng
        corners = [(0.0, -float(rng.choice([0, 0.45])))]
        for width, fall in ((3.0, 0.03), (1.0, 0.05)):
            x, y = corners[-1]
            corners.append((x + width, y - width * fall * float(rng.choice([1, 1, -1]))))
        if rng.random() < 0.2:
            corners.append((corners[-1][0], corners[-1][1] + 0.15))
        x, y = corners[-1]
        plain = np.array(corners)
        variants = [Variant.rigid(plain, plain)]
        if self.kind in ("drain", "all"):
            drained = np.vstack([plain, [[x + 1.0, y - 0.5], [x + 1.6, y - 0.5]]])
            variants.append(Variant.rigid(drained, drained, float(rng.choice([0.0, 0.3]))))
        if self.kind == "own level":
            level = base + float(rng.normal(0, 1))
            own = np.array([[x + 1.0, level, 0.0, 0.0, 0.0], [x + 1.6, level, 0.0, 0.0, 0.0]])
            variants = [Variant(plain, np.vstack([variants[0].formation, own]))]
        reserve = None
        if self.kind in ("reserve", "all"):
            reserve = Reserve(float(rng.uniform(6, 20)), *map(float, rng.choice([0.25, 1.0], 2)))
        return Profile(tuple(variants), (x, y), self._rules(True), self._rules(False), plain, reserve)

    def at(self, z: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Corners, columns and their change at a level."""
        values, rates = np.empty(DUG + self.materials), np.empty(DUG + self.materials)
        n = side_at(self.shapes, self.sides, 0, 0, z, self.points, self.found, values, rates)
        return self.points[:n].copy(), values, rates

    def levels(self, count: int) -> list[float]:
        if self.lattice:
            return [float(self.rng.integers(-8, 9)) + float(self.rng.choice([0.0, 0.5])) for _ in range(count)]
        return (self.tops[0][0] + self.rng.normal(0, 5, count)).tolist()


@pytest.mark.parametrize("kind", KINDS)
def test_areas_are_those_of_shapelys_polygons_under_an_outline_walked_with_shapely(kind):
    rng = np.random.default_rng(KINDS.index(kind))
    walls = caught = 0
    for _ in range(examples(400)):
        made = Made(rng, kind)
        for z in made.levels(2):
            corners, values, _ = made.at(z)
            tops = [np.column_stack([made.x, top]) for top in made.tops]
            path, hinge, ends = walked(made.profile, tops, z)
            assert bool(made.found[CAUGHT]) == ends.caught
            own = [(float(x), float(y)) for x, y in corners[:, :2]]
            areas = [*values[DUG:], values[FILLED]]
            assert areas == pytest.approx(areas_by_polygons(own, hinge, tops, ends.cut), abs=1e-9)
            # The walk's own steps are good to a ten-millionth of a metre, on a face that is all but upright too.
            assert areas == pytest.approx(areas_by_polygons(path, hinge, tops, ends.cut), abs=3e-6)
            batter = np.diff(corners[hinge:, :2], axis=0)
            wall = corners[hinge + 1 :, KIND] == WALL
            assert values[BATTER] == pytest.approx(np.hypot(*batter[~wall].T).sum(), abs=1e-9)
            assert values[WALLED] == pytest.approx(np.abs(batter[wall, 1]).sum(), abs=1e-9)
            caught += ends.caught
            walls += bool((corners[:, KIND] == WALL).any() and made.found[WALL_M] > 0)
    assert caught > 50 and (walls > 5 or kind not in ("reserve", "all"))


@pytest.mark.parametrize(("kind", "base"), [*((k, 0.0) for k in KINDS), ("drain", 4100.0), ("all", 4100.0)])
def test_pieces_are_the_areas_at_every_level(kind, base):
    """And what areas gain by a metre of level is what differences say."""
    rng = np.random.default_rng(KINDS.index(kind) + 10)
    area = np.empty(4)
    for _ in range(examples(40)):
        made = Made(rng, kind)
        # Levels are told over a base; a ground at level 4 100 without one is what rounding must not hurt.
        if base:
            made = Made(rng, kind, base)
        s = made.sides
        both = Sides(np.array([0, len(s.x), 2 * len(s.x)]), np.tile(s.x, 2), np.tile(s.tops, (2, 1)))
        middle = np.array([made.tops[0][0]])
        # Cut, fill, walls, and one sum of them all.
        weigh = np.eye(DUG + made.materials)[[DUG, FILLED, WALLED]]
        weigh = np.vstack([weigh, [1.0, 2.0, 3.0] @ weigh])
        pieces = Pieces(*pieces_of(made.shapes, both, np.zeros((1, 2), dtype=np.int64), middle, weigh))
        for z in middle[0] + np.concatenate([rng.uniform(-15, 15, 12), rng.uniform(-200, 200, 3)]):
            _, values, rates = made.at(z)
            turning = made.found[TURNING] > 0
            areas_in(pieces, 0, 0, z, area)
            assert area == pytest.approx(2 * (weigh @ values), abs=1e-6 if turning else 1e-9, rel=1e-12)
            up, down = (made.at(z + d)[1] for d in (1e-6, -1e-6))
            # Unless a corner lies between.
            if not turning and np.abs(up - 2 * values + down).max() < 1e-9:
                assert rates == pytest.approx((up - down) / 2e-6, abs=1e-4, rel=1e-6)
