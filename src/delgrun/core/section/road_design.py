"""What is built along a road, resolved at the chainages that somebody asks about."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import STEP_M, Centreline
from delgrun.core.centreline.speeds import RoadWidth
from delgrun.core.centreline.superelevation import CENTRELINE, Diagram, Lean
from delgrun.core.ground.along import GroundSections, ground_and_surface
from delgrun.core.ground.tin import Tin
from delgrun.core.section import layered_kernels as kernels
from delgrun.core.section.along import SectionsAlong
from delgrun.core.section.carriageway import Carriageway, LayerKind, Profile, Reserve
from delgrun.core.section.frame import LIFT, Frame
from delgrun.core.section.layered import SideShape
from delgrun.core.section.leaning import leaned, lift_m
from delgrun.core.section.reaching import reaching
from delgrun.core.section.roadside import (
    STRIPPED,
    InGround,
    ReserveBounds,
    ReserveStretch,
    Strata,
    StratumDepth,
    TopsoilStretch,
    Works,
)
from delgrun.core.section.typical_section import SIDES, TypicalSection, plain_section
from delgrun.core.section.variation import Variation, lines_of, met_beside

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

Built = tuple[Carriageway, InGround]

# Where a material is not, its top lies so deep. [m]
_NOWHERE_M = 1e5


# So many sides of single sections are kept.
_MOST_BUILT = 256
# Lanes are straight where they leave that by less, and a stretch that is shorter. [m]
_STRAIGHT_M, _SHORT_M = 5e-4, 0.5
# Nearly level lanes are looked at so often. [m]
_LOOKED_M = 0.5


@dataclass(frozen=True, eq=False)
class LevelLanes:
    """Places (n,) at which a lane is nearly level [m], falls left and right (n, 2), and which stretch each is of."""

    chainage_m: FloatArray
    fall: FloatArray
    stretch: IntArray


@dataclass(frozen=True, eq=False)
class RoadDesign:
    """The typical sections of a road, what changes along it, and what stands beside it.

    `centreline`: where lines and boundaries are met from, and where the road ends. `met`: the surface that batters run
    to, where that is not the ground. `others`: the sections that ranges name, by slot. `diagram`: how it leans.
    Stretches hold from their beginning on, not at their end; at the end of the centreline, what holds before it.
    """

    section: TypicalSection
    works: Works = Works()  # noqa: RUF009 - frozen
    strata: Strata = Strata()  # noqa: RUF009
    reserve: ReserveBounds = ReserveBounds()  # noqa: RUF009
    road: str = "centreline"
    centreline: Centreline | None = None
    met: Tin | None = None
    along: SectionsAlong = SectionsAlong()  # noqa: RUF009
    others: Mapping[str, TypicalSection] = field(default_factory=dict)
    diagram: Diagram | None = None

    @staticmethod
    def plain(topsoil_depth_m: float = 0.15, **sizes: float) -> "RoadDesign":
        """One on `plain_section`."""
        return RoadDesign(plain_section(**sizes), Works(topsoil_depth_m=topsoil_depth_m))  # type: ignore[arg-type]

    @cached_property
    def sections(self) -> tuple[TypicalSection, ...]:
        """The section that is built where no range says otherwise, then those of ranges."""
        return (self.section, *(self.others[slot] for slot in self._slots[1:]))

    @cached_property
    def _slots(self) -> list[str]:
        named = [r.section for r in self.along.ranges if r.road == self.road and r.section in self.others]
        return list(dict.fromkeys([self.works.section, *named]))

    @cached_property
    def layers(self) -> tuple[LayerKind, ...]:
        """The layers of all sections; those of one name and one price are one."""
        kinds = dict.fromkeys((row.name, row.price_per_m3) for section in self.sections for row in section.layers)
        twice = {name for name, _ in kinds if sum(name == other for other, _ in kinds) > 1}
        of = {(row.name, row.price_per_m3): s.name for s in reversed(self.sections) for row in s.layers}
        return tuple(LayerKind(f"{n}, {of[n, p]}" if n in twice else n, p) for n, p in kinds)

    @cached_property
    def _columns(self) -> list[tuple[str, float]]:
        return list(dict.fromkeys((row.name, row.price_per_m3) for s in self.sections for row in s.layers))

    @cached_property
    def varies(self) -> Variation:
        """How the section varies along the road."""
        return Variation(self.along, self.road, self._slots, self.centreline)

    @cached_property
    def _frames(self) -> tuple[tuple[Frame, ...], tuple[Frame, ...]]:
        left, right = (tuple(Frame.of(s, side, self._columns) for s in self.sections) for side in SIDES)
        return left, right

    def sides_at(self, chainage_m: FloatArray, side: int) -> Iterator[tuple[IntArray, Frame, FloatArray]]:
        """What a side, 0 left and 1 right, is made of: which of the chainages, their frame, and sizes row by row."""
        s = self._inside(chainage_m)
        lean = None if self.diagram is None else self.diagram.at(s)
        turned = lean is not None and self.diagram is not None and self.diagram.settings.about != CENTRELINE
        deeper = (self._deeper(s, lean, 0), self._deeper(s, lean, 1)) if turned and lean is not None else None
        for rows, frame, sizes in self.varies.frames(s, self._frames[side], SIDES[side]):
            self.varies.change(s[rows], SIDES[side], frame, sizes, exceptions=False)
            if lean is not None and self.diagram is not None:
                leaned(frame, sizes, side, lean, rows, self.diagram.settings, self.varies.added)
                if deeper is not None:
                    sizes[:, LIFT] = lift_m(deeper, lean, self.diagram.settings)[rows]
            self.varies.lead(s[rows], side, frame, sizes)
            self.varies.change(s[rows], SIDES[side], frame, sizes, exceptions=True)
            yield rows, frame, sizes

    def _deeper(self, s: FloatArray, lean: Lean, side: int) -> FloatArray:
        """(n,) how much deeper the edge of a side's lanes would lie, were the road turned about its centreline. [m]"""
        assert self.diagram is not None
        out = np.zeros(len(s))
        for rows, frame, sizes in self.varies.frames(s, self._frames[side], SIDES[side]):
            self.varies.change(s[rows], SIDES[side], frame, sizes, exceptions=False)
            out[rows] = leaned(frame, sizes, side, lean, rows, self.diagram.settings, self.varies.added)
        return out

    def _inside(self, chainage_m: FloatArray) -> FloatArray:
        """Chainages of which those at or beyond the road's end lie right before it: stretches end there."""
        if self.centreline is None:
            return chainage_m
        return np.minimum(chainage_m, self.centreline.end_chainage_m - STEP_M)

    def built(self, chainage_m: FloatArray) -> NDArray[np.bool_]:
        """(n,) whether anything is built at chainages."""
        return self.varies.built(self._inside(chainage_m))

    def resolve(self, chainage_m: FloatArray) -> Carriageway:
        """What is built at these chainages."""
        n = len(chainage_m)
        offset = self.reserve_m(chainage_m)
        profiles: list[Profile] = []
        which = np.zeros((n, 2), dtype=np.int64)
        for side in (0, 1):
            known: dict[bytes, int] = {}
            for rows, frame, sizes in self.sides_at(chainage_m, side):
                # Frames differ in their sizes' number or in their order.
                told = np.column_stack([sizes, offset[rows, side]])
                for i, row, numbers in zip(rows.tolist(), sizes, told, strict=True):
                    key = id(frame).to_bytes(8, "little") + numbers.tobytes()
                    if key not in known:
                        known[key] = len(profiles)
                        reserve = self._reserve(float(offset[i, side]))
                        profiles.append(frame.profile(row, self.strata.materials, reserve, frame.shapes(row)))
                    which[i, side] = known[key]
        return Carriageway(chainage_m, tuple(profiles), which, self.layers, self.built(chainage_m))

    def built_at(self, chainage_m: float) -> tuple[tuple[Profile, tuple[SideShape, ...]], ...]:
        """What is built left and right at a chainage, and what it is made of where each variant holds."""
        at = np.array([chainage_m])
        offset = self.reserve_m(at)[0]
        out = []
        for side in (0, 1):
            _, frame, sizes = next(self.sides_at(at, side))
            key = id(frame), sizes.tobytes(), float(offset[side])
            found = self._built.get(key)
            if found is None:
                if len(self._built) >= _MOST_BUILT:
                    self._built.clear()
                shapes = frame.shapes(sizes[0])
                reserve = self._reserve(float(offset[side]))
                found = frame.profile(sizes[0], self.strata.materials, reserve, shapes), shapes
                self._built[key] = found
            out.append(found)
        return tuple(out)

    @cached_property
    def _built(self) -> dict[tuple[int, bytes, float], tuple[Profile, tuple[SideShape, ...]]]:
        """What was built at chainages asked for one by one; where nothing varies it is the same."""
        return {}

    def widths(self, chainage_m: FloatArray) -> list[RoadWidth]:
        """The lanes of the right side, and the fall of the first on straights, without added ones."""
        out = np.zeros((len(chainage_m), 2))
        added = self.varies.added
        for rows, frame, sizes in self.varies.frames(self._inside(chainage_m), self._frames[1], SIDES[1]):
            lanes = [i for i, e in enumerate(frame.elements) if e.kind == "lane" and e.name not in added]
            if lanes:
                out[rows, 0] = sizes[:, [frame.at_element(i, kernels.WIDTH) for i in lanes]].sum(axis=1)
                out[rows, 1] = sizes[:, frame.at_element(lanes[0], kernels.FALL)]
        return [RoadWidth(lane, fall) for lane, fall in out.tolist()]

    def lanes_m(self, chainage_m: FloatArray, *, added: bool = True) -> FloatArray:
        """(n, 2) how far out the lanes go, left and right, with added ones or without. [m]"""
        out = np.zeros((len(chainage_m), 2))
        left_out = frozenset[str]() if added else self.varies.added
        for side in (0, 1):
            for rows, frame, sizes in self.sides_at(chainage_m, side):
                lanes = [i for i, e in enumerate(frame.elements) if e.kind == "lane" and e.name not in left_out]
                out[rows, side] = sizes[:, [frame.at_element(i, kernels.WIDTH) for i in lanes]].sum(axis=1)
        return out

    def lane_falls(self, chainage_m: FloatArray) -> FloatArray:
        """(n, 2) how the first lane of each side falls, outwards; 0 without one. Exceptions are not looked at."""
        s = self._inside(chainage_m)
        out = np.zeros((len(s), 2))
        for side in (0, 1):
            for rows, frame, sizes in self.varies.frames(s, self._frames[side], SIDES[side]):
                self.varies.change(s[rows], SIDES[side], frame, sizes, exceptions=False)
                lane = next((i for i, e in enumerate(frame.elements) if e.kind == "lane"), None)
                if lane is not None:
                    out[rows, side] = sizes[:, frame.at_element(lane, kernels.FALL)]
        if self.diagram is None:
            return out
        lean = self.diagram.at(s)
        return np.column_stack([lean.falls(side, out[:, side]) for side in (0, 1)])

    @cached_property
    def nearly_level(self) -> "LevelLanes":
        """Where, on the way into and out of bends, a lane is less steep than water needs, whatever the line adds."""
        d, line = self.diagram, self.centreline
        parts = [] if d is None else d.stretches
        if d is None or line is None or not parts:
            return LevelLanes(np.zeros(0), np.zeros((0, 2)), np.zeros(0, dtype=np.int64))
        each = [np.linspace(a, b - STEP_M, max(int(np.ceil((b - a) / _LOOKED_M)), 2) + 1) for a, b in parts]
        s = np.unique(np.concatenate(each))
        s = s[(s >= line.start_chainage_m) & (s <= line.end_chainage_m)]
        falls = self.lane_falls(s)
        near = (np.abs(falls) < d.settings.least_slope).any(axis=1)
        s, falls = s[near], falls[near]
        return LevelLanes(s, falls, 1 + np.cumsum(np.diff(s, prepend=s[:1]) > 2 * _LOOKED_M))

    @cached_property
    def crown(self) -> float:
        """The steepest that any lane falls on straights."""
        falls = [abs(e.fall) for s in self.sections for e in s.elements if e.kind == "lane"]
        return max([*falls, *(abs(row.fall or 0.0) for row in self.varies.changes)], default=0.0)

    @cached_property
    def places(self) -> tuple[tuple[float, ...], tuple[float, ...]]:
        """Chainages at which anything of it turns, and those of them at which it may jump. [m]"""
        rows: tuple[TopsoilStretch | StratumDepth | ReserveStretch, ...]
        rows = (*self.works.rows, *self.strata.rows, *self.reserve.rows)
        jumps = {s for row in rows if row.road == self.road for s in (row.from_m, row.to_m)}
        turns, steps = self.varies.places
        if self.diagram is not None:
            turns, steps = turns | set(self.diagram.places), steps | set(self.diagram.steps)
        return tuple(sorted(turns | steps | jumps)), tuple(sorted(steps | jumps))

    def turns_along(self, line: Centreline) -> FloatArray:
        """(n,) chainages of a centreline between which its lanes are straight, to `_STRAIGHT_M` in width and a tenth of
        that in fall. [m]

        Where tapers overlap, a size is a product of theirs: such stretches are cut in three until they are.
        """
        turns, steps = self.places
        inner = [s for s in (*turns, *(at - STEP_M for at in steps)) if line.start_chainage_m < s < line.end_chainage_m]
        out = np.array(sorted({line.start_chainage_m, *inner, line.end_chainage_m}))
        low, high = out[:-1], out[1:]
        while len(low := low[(wide := high - low) > _SHORT_M]):
            high = low + wide[wide > _SHORT_M]
            thirds = np.stack([low, low + (high - low) / 3, high - (high - low) / 3, high])
            at = self._lanes(thirds.ravel()).reshape(4, len(low), -1)
            even = at[0] + np.array([1 / 3, 2 / 3])[:, None, None] * (at[3] - at[0])
            bent = (np.abs(at[1:3] - even) > _STRAIGHT_M).any(axis=(0, 2))
            out = np.concatenate([out, *thirds[1:3, bent]])
            low, high = thirds[:3, bent].ravel(), thirds[1:, bent].ravel()
        return np.sort(out)

    def _lanes(self, chainage_m: FloatArray) -> FloatArray:
        """(n, 6) how far out lanes go, with added ones and without, and ten times their fall, left and right."""
        wide = self.lanes_m(chainage_m), self.lanes_m(chainage_m, added=False)
        return np.column_stack([*wide, 10.0 * self.lane_falls(chainage_m)])

    def built_along(self, chainage_m: FloatArray) -> Built:
        """What is built at these chainages, and what is met below the ground there."""
        return self.resolve(chainage_m), self.in_ground(chainage_m)

    def ground(self, tin: Tin, centreline: Centreline, chainage_m: FloatArray, reach_m: float) -> GroundSections:
        """The ground across at these chainages, with the surface that batters run to."""
        return ground_and_surface(tin, centreline, chainage_m, reach_m, self.met)

    def ground_reached(self, tin: Tin, centreline: Centreline, chainage_m: FloatArray) -> GroundSections:
        """The same as far as sections are cut, and further where batters need it."""
        ground = self.ground(tin, centreline, chainage_m, self.works.reach_m)
        return self.reached(ground, tin, centreline, self.built_along(chainage_m))

    def reached(self, ground: GroundSections, tin: Tin, centreline: Centreline, built: Built) -> GroundSections:
        """Ground that was cut so, and further where batters need it."""
        return reaching(ground, *built, lambda s, reach: self.ground(tin, centreline, s, reach))

    def _reserve(self, offset_m: float) -> Reserve | None:
        r = self.reserve
        return Reserve(offset_m, r.least_cut_h_over_v, r.least_fill_h_over_v) if np.isfinite(offset_m) else None

    def reserve_m(self, chainage_m: FloatArray) -> FloatArray:
        """(n, 2) how far out works may go, left and right; infinity where nothing says so. [m]"""
        chainage_m = self._inside(chainage_m)
        out = np.full((len(chainage_m), 2), np.inf)
        for row in self.reserve.rows:
            if row.road == self.road:
                on = (chainage_m >= row.from_m) & (chainage_m < row.to_m)
                column = SIDES.index(row.side)
                out[on, column] = np.minimum(out[on, column], row.offset_m)
        if self.reserve.corners and self.centreline is not None:
            for line in self._boundaries:
                np.minimum(out, met_beside(self.centreline, chainage_m, line), out=out)
        return out

    @cached_property
    def _boundaries(self) -> list[FloatArray]:
        """(k, 2) corners of each boundary. [m]"""
        return list(lines_of(self.reserve.corners).values())

    def in_ground(self, chainage_m: FloatArray) -> InGround:
        """What is met below the ground at these chainages."""
        chainage_m = self._inside(chainage_m)
        names = [m.name for m in self.strata.materials]
        tops = np.full((len(chainage_m), len(names)), _NOWHERE_M)
        for row in self.strata.rows:
            if row.road == self.road:
                on = (chainage_m >= row.from_m) & (chainage_m < row.to_m)
                tops[on, names.index(row.material)] = row.depth_m
        topsoil = np.full(len(chainage_m), self.works.topsoil_depth_m)
        for strip in self.works.rows:
            if strip.road == self.road:
                topsoil[(chainage_m >= strip.from_m) & (chainage_m < strip.to_m)] = strip.depth_m
        # What lies deeper cuts off what would reach below it; nothing lies in the topsoil.
        for k in range(len(names) - 2, -1, -1):
            tops[:, k] = np.minimum(tops[:, k], tops[:, k + 1])
        tops = np.maximum(tops, topsoil[:, None])
        met = topsoil if self.works.batters_to == STRIPPED else np.zeros(len(chainage_m))
        return InGround(np.column_stack([met, topsoil, tops]), self.strata.materials)
