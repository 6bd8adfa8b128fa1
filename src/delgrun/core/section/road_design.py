"""What is built along a road, resolved at the chainages that somebody asks about."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from itertools import takewhile

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.ground.along import GroundSections, ground_and_surface
from delgrun.core.ground.tin import Tin
from delgrun.core.section.carriageway import BatterBand, BatterRule, Carriageway, LayerKind, Profile, Reserve
from delgrun.core.section.layered import SideShape, side_shape
from delgrun.core.section.roadside import STRIPPED, Material, ReserveBounds, Strata, Works
from delgrun.core.section.typical_section import SIDES, Batter, TypicalSection, plain_section

FloatArray = NDArray[np.float64]

# Where a material is not, its top lies so deep. [m]
_NOWHERE_M = 1e5


@dataclass(frozen=True, eq=False)
class InGround:
    """What is met below the ground at (n,) chainages. [m]

    `depth_m` (n, 2 + k): what batters run to, the stripped ground, and the top of each further material, none above
    the one before.
    """

    depth_m: FloatArray
    materials: tuple[Material, ...] = ()

    @property
    def topsoil_m(self) -> FloatArray:
        return self.depth_m[:, 1]


@dataclass(frozen=True, eq=False)
class RoadDesign:
    """The typical section of a road, and what stands beside it.

    `centreline`: where boundaries are met from. `met`: the surface that batters run to, where that is not the ground.
    """

    section: TypicalSection
    works: Works = Works()  # noqa: RUF009 - frozen
    strata: Strata = Strata()  # noqa: RUF009
    reserve: ReserveBounds = ReserveBounds()  # noqa: RUF009
    road: str = "centreline"
    centreline: Centreline | None = None
    met: Tin | None = None

    @staticmethod
    def plain(topsoil_depth_m: float = 0.15, **sizes: float) -> "RoadDesign":
        """One on `plain_section`."""
        return RoadDesign(plain_section(**sizes), Works(topsoil_depth_m=topsoil_depth_m))  # type: ignore[arg-type]

    @cached_property
    def shapes(self) -> tuple[tuple[SideShape, ...], tuple[SideShape, ...]]:
        """What is built left and right where each variant holds."""
        return shapes_of_side(self.section, "left"), shapes_of_side(self.section, "right")

    @cached_property
    def layers(self) -> tuple[LayerKind, ...]:
        prices = {row.name: row.price_per_m3 for row in self.section.layers}
        return tuple(LayerKind(name, prices[name]) for name in layer_names(self.section))

    @cached_property
    def sides(self) -> tuple[Profile, Profile]:
        """What is built left and right where there is no reserve."""
        left, right = (self._profile(side, own) for side, own in zip(SIDES, self.shapes, strict=True))
        return left, right

    def _profile(self, side: str, shapes: Sequence[SideShape]) -> Profile:
        surface = _always(self.section, side)
        rules = {
            of: tuple(
                BatterRule(tuple(self._band(b) for b in bands), np.inf if up_to is None else up_to)
                for up_to, bands in self.section.rules(side, of)
            )
            for of in ("cut", "fill")
        }
        variants = tuple(s.variant for s in shapes)
        # Whether a side is in cut or fill is looked at the edge of what is built everywhere.
        x, y = surface[-1].tolist()
        return Profile(variants, (x, y), rules["cut"], rules["fill"], surface)

    def _band(self, b: Batter) -> BatterBand:
        own = [m.batter_h_over_v if b.kind == "cut" else None for m in self.strata.materials]
        runs = (b.h_over_v, *(b.h_over_v if run is None else run for run in own))
        return BatterBand(runs, np.inf if b.height_m is None else b.height_m, b.bench_m, b.bench_fall)

    def resolve(self, chainage_m: FloatArray) -> Carriageway:
        """What is built at these chainages."""
        n = len(chainage_m)
        offset = self.reserve_m(chainage_m)
        profiles: list[Profile] = []
        which = np.zeros((n, 2), dtype=np.int64)
        for side, profile in enumerate(self.sides):
            each, number = np.unique(offset[:, side], return_inverse=True)
            which[:, side] = number.reshape(n) + len(profiles)
            profiles += [replace(profile, reserve=self._reserve(m)) for m in each.tolist()]
        return Carriageway(chainage_m, tuple(profiles), which, self.layers)

    def ground(self, tin: Tin, centreline: Centreline, chainage_m: FloatArray, reach_m: float) -> GroundSections:
        """The ground across at these chainages, with the surface that batters run to."""
        return ground_and_surface(tin, centreline, chainage_m, reach_m, self.met)

    def _reserve(self, offset_m: float) -> Reserve | None:
        r = self.reserve
        return Reserve(offset_m, r.least_cut_h_over_v, r.least_fill_h_over_v) if np.isfinite(offset_m) else None

    def reserve_m(self, chainage_m: FloatArray) -> FloatArray:
        """(n, 2) how far out works may go, left and right; infinity where nothing says so. [m]"""
        out = np.full((len(chainage_m), 2), np.inf)
        for row in self.reserve.rows:
            if row.road == self.road:
                on = (chainage_m >= row.from_m) & (chainage_m <= row.to_m)
                column = SIDES.index(row.side)
                out[on, column] = np.minimum(out[on, column], row.offset_m)
        if self.reserve.corners and self.centreline is not None:
            for line in self._boundaries:
                np.minimum(out, _met_beside(self.centreline, chainage_m, line), out=out)
        return out

    @cached_property
    def _boundaries(self) -> list[FloatArray]:
        """(k, 2) corners of each boundary, in the order of their first ones. [m]"""
        by_name: dict[str, list[tuple[float, float]]] = {}
        for c in self.reserve.corners:
            by_name.setdefault(c.name, []).append((c.easting_m, c.northing_m))
        return [np.array(corners) for corners in by_name.values()]

    def in_ground(self, chainage_m: FloatArray) -> InGround:
        """What is met below the ground at these chainages."""
        names = [m.name for m in self.strata.materials]
        tops = np.full((len(chainage_m), len(names)), _NOWHERE_M)
        for row in self.strata.rows:
            if row.road == self.road:
                on = (chainage_m >= row.from_m) & (chainage_m <= row.to_m)
                tops[on, names.index(row.material)] = row.depth_m
        topsoil = np.full(len(chainage_m), self.works.topsoil_depth_m)
        for strip in self.works.rows:
            if strip.road == self.road:
                topsoil[(chainage_m >= strip.from_m) & (chainage_m <= strip.to_m)] = strip.depth_m
        # What lies deeper cuts off what would reach below it; nothing lies in the topsoil.
        for k in range(len(names) - 2, -1, -1):
            tops[:, k] = np.minimum(tops[:, k], tops[:, k + 1])
        tops = np.maximum(tops, topsoil[:, None])
        met = topsoil if self.works.batters_to == STRIPPED else np.zeros(len(chainage_m))
        return InGround(np.column_stack([met, topsoil, tops]), self.strata.materials)


def layer_names(section: TypicalSection) -> tuple[str, ...]:
    """Materials of the layers, each once, from the top down."""
    return tuple(dict.fromkeys(row.name for row in section.layers))


def _always(section: TypicalSection, side: str) -> FloatArray:
    """(k, 2) surface of what is built everywhere, as far as something that is not. [m]"""
    own = tuple(takewhile(lambda e: e.built == "always", section.on(side)))
    return side_shape(own, (), (), -np.inf, None).variant.surface


@lru_cache(maxsize=64)
def shapes_of_side(section: TypicalSection, side: str) -> tuple[SideShape, ...]:
    """What is built on a side, by rising depth of the ground over the reference."""
    own, layers = section.on(side), section.layers_on(side)
    edges = {-e.exceeds_m if e.built == "in fill" else e.exceeds_m for e in own if e.built != "always"}
    if any(row.ends == "batter" for row in layers):
        edges.add(0.0)
    out = []
    for low, high in zip([-np.inf, *sorted(edges)], [*sorted(edges), np.inf], strict=True):
        built = [
            e for e in own
            if e.built == "always"
            or (e.built == "in cut" and low >= e.exceeds_m)
            or (e.built == "in fill" and high <= -e.exceeds_m)
        ]  # fmt: skip
        rules = section.rules(side, "fill")
        run = rules[0][1][0].h_over_v if rules and high <= 0.0 else None
        out.append(side_shape(built, layers, layer_names(section), low, run))
    return tuple(out)


# So many pairs of a chainage and a piece of a boundary are looked at together.
_TOGETHER = 200_000


def _met_beside(centreline: Centreline, chainage_m: FloatArray, line: FloatArray) -> FloatArray:
    """(n, 2) how far to the left and right a line is first met at right angles to the centreline; infinity without."""
    at = centreline.line.at(chainage_m)
    place = np.column_stack([at.easting_m, at.northing_m])
    right = np.column_stack([np.sin(at.direction), -np.cos(at.direction)])
    along = np.diff(line, axis=0)
    out = np.full((len(chainage_m), 2), np.inf)
    some = max(_TOGETHER // len(along), 1)
    for i in range(0, len(chainage_m), some):
        e, n = (right[i : i + some, k, None] for k in (0, 1))
        we, wn = (line[None, :-1, k] - place[i : i + some, k, None] for k in (0, 1))
        with np.errstate(divide="ignore", invalid="ignore"):
            cross = e * along[:, 1] - n * along[:, 0]
            far = (we * along[:, 1] - wn * along[:, 0]) / cross
            share = (we * n - wn * e) / cross
        far = np.where((share >= 0) & (share <= 1), far, np.nan)
        for column, sign in ((0, -1.0), (1, 1.0)):
            out[i : i + some, column] = np.where(sign * far > 0, sign * far, np.inf).min(axis=1)
    return out
