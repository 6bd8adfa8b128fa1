"""The sizes of a side along a road: ranges of sections with their tapers, added lanes, changes, and led edges."""

from collections.abc import Iterator, Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.section import layered_kernels as kernels
from delgrun.core.section.along import NO_SECTION, AddedLane, SectionChange, SectionRange, SectionsAlong
from delgrun.core.section.frame import Frame, joined
from delgrun.core.section.typical_section import Element

FloatArray = NDArray[np.float64]
Tapered = SectionRange | SectionChange | AddedLane

_OF_ELEMENT = {
    "width_m": kernels.WIDTH, "fall": kernels.FALL, "drop_m": kernels.DROP, "depth_m": kernels.DEPTH,
}  # fmt: skip
_OF_BATTER = {"cut": "cut_h_over_v", "fill": "fill_h_over_v"}


def share_of(row: Tapered, s: FloatArray) -> FloatArray:
    """(n,) how much of a row holds at chainages: all within it, less in its tapers, nothing beyond."""
    out = ((s >= row.from_m) & (s < row.to_m)).astype(np.float64)
    if row.taper_in_m > 0:
        before = (s >= row.from_m - row.taper_in_m) & (s < row.from_m)
        out[before] = (s[before] - row.from_m + row.taper_in_m) / row.taper_in_m
    if row.taper_out_m > 0:
        behind = (s >= row.to_m) & (s < row.to_m + row.taper_out_m)
        out[behind] = 1.0 - (s[behind] - row.to_m) / row.taper_out_m
    return out


class Variation:
    """What `along` says of one road, whose sections have these slots, the first where no range says otherwise."""

    def __init__(self, along: SectionsAlong, road: str, slots: Sequence[str], centreline: Centreline | None) -> None:
        self.ranges = tuple(r for r in along.ranges if r.road == road)
        self.changes = tuple(r for r in along.changes if r.road == road)
        self.lanes = tuple(r for r in along.lanes if r.road == road)
        self.added = frozenset(r.name for r in self.lanes)
        self.slots, self.centreline = list(slots), centreline
        self._corners = along.corners
        self._joined: dict[object, tuple[Frame, list[FloatArray]]] = {}

    def built(self, s: FloatArray) -> NDArray[np.bool_]:
        """(n,) where something is built: not where the last range that holds has no section."""
        out = np.ones(len(s), dtype=bool)
        for row in self.ranges:
            if row.section == NO_SECTION or row.section in self.slots:
                out[(s >= row.from_m) & (s < row.to_m)] = row.section != NO_SECTION
        return out

    def weights(self, s: FloatArray) -> FloatArray:
        """(n, k) how much of each section is built at chainages."""
        out = np.zeros((len(s), len(self.slots)))
        out[:, 0] = 1.0
        for row in self.ranges:
            if row.section in self.slots:
                share = share_of(row, s)
                out *= 1.0 - share[:, None]
                out[:, self.slots.index(row.section)] += share
        return out

    def frames(
        self, s: FloatArray, frames: Sequence[Frame], side: str
    ) -> Iterator[tuple[NDArray[np.int64], Frame, FloatArray]]:
        """Chainages of one frame: which they are, the frame, and (m, d) its sizes there."""
        if not len(s):
            return
        weights = self.weights(s)
        lanes = [row for row in self.lanes if row.side == side]
        shares = np.array([share_of(row, s) for row in lanes]).reshape(len(lanes), len(s))
        leads = weights.argmax(axis=1)
        told = np.column_stack([weights > 0, leads, (shares > 0).T]).astype(np.int64)
        if (told == told[0]).all():
            kinds, which = told[:1], np.zeros(len(s), dtype=np.int64)
        else:
            kinds, which = np.unique(told, axis=0, return_inverse=True)
        for k in range(len(kinds)):
            rows = np.flatnonzero(which.reshape(-1) == k)
            active = np.flatnonzero(kinds[k, : len(self.slots)]).tolist()
            added = np.flatnonzero(kinds[k, len(self.slots) + 1 :]).tolist()
            leading = int(kinds[k, len(self.slots)])
            key = (side, tuple(active), leading, tuple(added))
            if key not in self._joined:
                own = [_with_lanes(frames[i], [lanes[j] for j in added]) for i in active]
                self._joined[key] = joined(own, active.index(leading))
            frame, bases = self._joined[key]
            # Not by a matrix product, whose rounding depends on how many rows there are.
            sizes = np.zeros((len(rows), len(bases[0])))
            for i, base in zip(active, bases, strict=True):
                sizes += weights[rows, i, None] * base
            for j in added:
                at = frame.named(lanes[j].name)
                assert at is not None
                sizes[:, frame.at_element(at, kernels.WIDTH)] *= shares[j, rows]
            yield rows, frame, sizes

    def change(self, s: FloatArray, side: str, frame: Frame, sizes: FloatArray, *, exceptions: bool) -> None:
        """Put the sizes of changes, or of those with a reason, at (m,) chainages into (m, d) sizes."""
        for row in self.changes:
            if row.side != side or bool(row.reason) != exceptions:
                continue
            share = share_of(row, s)
            at = frame.named(row.point)
            if at is not None:
                for name, column in _OF_ELEMENT.items():
                    _blend(sizes, frame.at_element(at, column), getattr(row, name), share)
            for i, b in enumerate(frame.batters):
                _blend(sizes, frame.at_batter(i, "h_over_v"), getattr(row, _OF_BATTER[b.kind]), share)

    def lead(self, s: FloatArray, side: int, frame: Frame, sizes: FloatArray) -> None:
        """Widen elements, or narrow them, so that their outer points lie on the lines that lead them."""
        for row in self.changes:
            at = frame.named(row.point)
            if not row.led_by or at is None or ("left", "right")[side] != row.side or self.centreline is None:
                continue
            share = share_of(row, s)
            on = np.flatnonzero(share > 0)
            if not len(on):
                continue
            to = met_beside(self.centreline, s[on], self._lines[row.led_by])[:, side]
            before = sum((_extent(frame, sizes[on], i) for i in range(at)), start=np.zeros(len(on)))
            column = frame.at_element(at, kernels.WIDTH)
            other = _extent(frame, sizes[on], at) - sizes[on, column]
            led = np.where(np.isfinite(to), np.maximum(to - before - other, 0.0), sizes[on, column])
            sizes[on, column] += share[on] * (led - sizes[on, column])

    @cached_property
    def _lines(self) -> dict[str, FloatArray]:
        return lines_of(self._corners)

    @cached_property
    def places(self) -> tuple[set[float], set[float]]:
        """Chainages at which it turns, and those at which it may jump. [m]"""
        turns: set[float] = set()
        steps: set[float] = set()
        for row in (*self.ranges, *self.changes, *self.lanes):
            ends = row.from_m - row.taper_in_m, row.from_m, row.to_m, row.to_m + row.taper_out_m
            turns |= set(ends)
            # To nothing there is no taper.
            none = isinstance(row, SectionRange) and row.section == NO_SECTION
            steps |= {
                at for at, taper in ((row.from_m, row.taper_in_m), (row.to_m, row.taper_out_m)) if not taper or none
            }
            if isinstance(row, SectionRange):
                # Batters that are not made alike change where one section outweighs the other.
                steps |= {row.from_m - row.taper_in_m / 2, row.to_m + row.taper_out_m / 2}
        if self.centreline is not None:
            for row in self.changes:
                if row.led_by:
                    line = self._lines[row.led_by]
                    at = self.centreline.line.nearest(line[:, 0], line[:, 1]).chainage_m
                    turns |= {s for s in at.tolist() if row.from_m - row.taper_in_m < s < row.to_m + row.taper_out_m}
        return turns, steps


def _blend(sizes: FloatArray, column: int, value: float | None, share: FloatArray) -> None:
    if value is None:
        return
    own = sizes[:, column]
    # A size that is left free has nothing to go from.
    sizes[:, column] = np.where(share > 0, np.where(np.isnan(own), value, own + share * (value - own)), own)


def _extent(frame: Frame, sizes: FloatArray, i: int) -> FloatArray:
    """(m,) how far out an element goes. [m]"""
    wide, front, back, deep = (
        sizes[:, frame.at_element(i, c)] for c in (kernels.WIDTH, kernels.FRONT, kernels.BACK, kernels.DEPTH)
    )
    out: FloatArray = wide + (front + np.nan_to_num(back)) * deep if frame.elements[i].kind == "drain" else wide.copy()
    return out


def _with_lanes(frame: Frame, lanes: Sequence[AddedLane]) -> Frame:
    """A frame with lanes behind its own."""
    for lane in lanes:
        own = frame.elements
        last = max((i for i, e in enumerate(own) if e.kind == "lane"), default=-1)
        fall = own[last].fall if last >= 0 else 0.0
        new = Element(side=lane.side, kind="lane", name=lane.name, width_m=lane.width_m, fall=fall)
        frame = frame.with_element(last + 1, new)
    return frame


def lines_of(corners: Sequence[object]) -> dict[str, FloatArray]:
    """(k, 2) corners of each line by its name, in the order of their first ones. [m]"""
    by_name: dict[str, list[tuple[float, float]]] = {}
    for c in corners:
        by_name.setdefault(c.name, []).append((c.easting_m, c.northing_m))  # type: ignore[attr-defined]
    return {name: np.array(line) for name, line in by_name.items()}


# So many pairs of a chainage and a piece of a boundary are looked at together.
_TOGETHER = 200_000


def met_beside(centreline: Centreline, chainage_m: FloatArray, line: FloatArray) -> FloatArray:
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
