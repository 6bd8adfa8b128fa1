"""What a side is made of, apart from its sizes: those change along the road, and between two sections in a taper."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from difflib import SequenceMatcher
from functools import cached_property
from itertools import groupby

import numpy as np
from numpy.typing import NDArray

from delgrun.core.section import layered_kernels as kernels
from delgrun.core.section.carriageway import BatterBand, BatterRule, Profile, Reserve
from delgrun.core.section.layered import CODES, ENDS, SideShape, side_shape
from delgrun.core.section.roadside import Material
from delgrun.core.section.typical_section import Batter, Element, Layer, TypicalSection

FloatArray = NDArray[np.float64]
Key = tuple[object, ...]

# Sizes, in this order: the lift, those of each element in the kernels' order, of each layer, of each batter.
_OF_ELEMENT = ("width_m", "fall", "drop_m", "front_h_over_v", "back_h_over_v", "depth_m")
_OF_LAYER = ("thickness_m", "extend_m", "extend_fall")
OF_BATTER = ("h_over_v", "height_m", "bench_m", "bench_fall")
LIFT = 0


@dataclass(frozen=True)
class Placed:
    """A layer, the elements it begins behind and ends with (None where that is not said), and its column."""

    row: Layer
    first: int | None
    last: int | None
    column: int


@dataclass(frozen=True, eq=False)
class _Holds:
    """What is built from a depth of the ground over the reference on."""

    above_m: float
    in_fill: bool
    built: NDArray[np.int64]
    # (l, 2) the first and the last element of each layer among those that are built.
    layers: NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Frame:
    """Elements, layers and batters of one side in their order; `columns`: how many layers the road has in all."""

    elements: tuple[Element, ...]
    layers: tuple[Placed, ...]
    batters: tuple[Batter, ...]
    columns: int

    @staticmethod
    def of(section: TypicalSection, side: str, columns: Sequence[tuple[str, float]]) -> "Frame":
        """The frame of a side; `columns`: names and prices of the road's layers."""
        own = section.on(side)
        names = [e.name for e in own]
        layers = tuple(
            Placed(
                row,
                names.index(row.first) if row.first in names else None,
                names.index(row.last) if row.last in names else None,
                columns.index((row.name, row.price_per_m3)),
            )
            for row in section.layers_on(side)
        )
        batters = tuple(b for b in section.batters if b.side == side)
        return Frame(own, layers, batters, len(columns))

    @cached_property
    def sizes(self) -> FloatArray:
        """(d,) its sizes as they are typed; NaN for what is left free."""
        return np.array([0.0, *self._typed()], dtype=np.float64)

    def _typed(self) -> Iterator[float]:
        rows: list[tuple[object, tuple[str, ...]]] = [(e, _OF_ELEMENT) for e in self.elements]
        rows += [(placed.row, _OF_LAYER) for placed in self.layers]
        rows += [(b, OF_BATTER) for b in self.batters]
        for row, names in rows:
            for name in names:
                value = getattr(row, name)
                yield np.nan if value is None else value

    def at_element(self, i: int, column: int) -> int:
        """Place of a size of element i; `column` as in the kernels."""
        return 1 + len(_OF_ELEMENT) * i + column - kernels.WIDTH

    def at_batter(self, i: int, name: str) -> int:
        """Place of a size of batter i."""
        before = 1 + len(_OF_ELEMENT) * len(self.elements) + len(_OF_LAYER) * len(self.layers)
        return before + len(OF_BATTER) * i + OF_BATTER.index(name)

    def named(self, name: str) -> int | None:
        """Place of the element with an outer point of this name."""
        return next((i for i, e in enumerate(self.elements) if e.name == name), None)

    def with_element(self, at: int, new: Element) -> "Frame":
        """The same with an element more at a place."""

        def moved(i: int | None) -> int | None:
            return i if i is None or i < at else i + 1

        layers = tuple(replace(p, first=moved(p.first), last=moved(p.last)) for p in self.layers)
        return replace(self, elements=(*self.elements[:at], new, *self.elements[at:]), layers=layers)

    @cached_property
    def _holds(self) -> tuple[_Holds, ...]:
        """By rising depth of the ground over the reference."""
        edges = {-e.exceeds_m if e.built == "in fill" else e.exceeds_m for e in self.elements if e.built != "always"}
        if any(placed.row.ends == "batter" for placed in self.layers):
            edges.add(0.0)
        rising = sorted(edges)
        out = []
        for low, high in zip([-np.inf, *rising], [*rising, np.inf], strict=True):
            built = [
                i for i, e in enumerate(self.elements)
                if e.built == "always"
                or (e.built == "in cut" and low >= e.exceeds_m)
                or (e.built == "in fill" and high <= -e.exceeds_m)
            ]  # fmt: skip
            place = {i: k for k, i in enumerate(built)}
            drain = next((k for k, i in enumerate(built) if self.elements[i].kind == "drain"), len(built))
            ends = np.empty((len(self.layers), 2), dtype=np.int64)
            for k, p in enumerate(self.layers):
                ends[k, 0] = 0 if p.first is None else place.get(p.first, -1) + 1
                ends[k, 1] = drain - 1 if p.last is None else place.get(p.last, drain - 1)
            out.append(_Holds(low, high <= 0.0, np.array(built, dtype=np.int64), ends))
        return tuple(out)

    @cached_property
    def _always(self) -> int:
        """How many elements are built everywhere, before one that is not."""
        return next((i for i, e in enumerate(self.elements) if e.built != "always"), len(self.elements))

    @cached_property
    def _codes(self) -> FloatArray:
        return np.array([CODES.get(e.kind, kernels.PLAIN) for e in self.elements], dtype=np.float64)

    def shapes(self, sizes: FloatArray) -> tuple[SideShape, ...]:
        """What is built where each variant holds, at these sizes."""
        e, count = len(self.elements), len(self.layers)
        elements = np.column_stack([self._codes, sizes[1 : 1 + 6 * e].reshape(e, 6)])
        of_layers = sizes[1 + 6 * e : 1 + 6 * e + 3 * count].reshape(count, 3)
        layers = np.zeros((count, 8))
        for i, placed in enumerate(self.layers):
            layers[i, kernels.COLUMN] = placed.column
            layers[i, kernels.ENDS] = ENDS[placed.row.ends]
            layers[i, kernels.TO_GROUND] = placed.row.to_ground
        layers[:, [kernels.THICKNESS, kernels.EXTEND, kernels.EXTEND_FALL]] = of_layers
        filled = next((i for i, b in enumerate(self.batters) if b.kind == "fill"), None)
        run = None if filled is None else float(sizes[self.at_batter(filled, "h_over_v")])
        out = []
        for holds in self._holds:
            layers[:, kernels.FIRST : kernels.LAST + 1] = holds.layers
            own = tuple(self.elements[i] for i in holds.built)
            rows = tuple(placed.row for placed in self.layers)
            out.append(
                side_shape(
                    own, elements[holds.built], rows, layers, self.columns, holds.above_m,
                    run if holds.in_fill else None, float(sizes[LIFT]),
                )
            )  # fmt: skip
        return tuple(out)

    def profile(
        self, sizes: FloatArray, materials: Sequence[Material], reserve: Reserve | None, shapes: tuple[SideShape, ...]
    ) -> Profile:
        """The side as it is built at these sizes, of which `shapes` are."""
        first = shapes[0]
        always = np.vstack([first.variant.surface[:1], first.corners[: first.start[self._always]]])
        surface = always[np.concatenate([[True], (np.diff(always, axis=0) != 0.0).any(axis=1)])]
        # Whether a side is in cut or fill is looked at the edge of what is built everywhere.
        x, y = surface[-1].tolist()
        # Batters stay as they are over most of a road.
        known = (sizes[self.at_batter(0, OF_BATTER[0]) :].tobytes(), tuple(materials))
        if known not in self._known:
            self._known[known] = self._rules("cut", sizes, materials), self._rules("fill", sizes, materials)
        return Profile(tuple(s.variant for s in shapes), (x, y), *self._known[known], surface, reserve)

    @cached_property
    def _known(self) -> dict[object, tuple[tuple[BatterRule, ...], tuple[BatterRule, ...]]]:
        return {}

    def _rules(self, of: str, sizes: FloatArray, materials: Sequence[Material]) -> tuple[BatterRule, ...]:
        own = [(b.up_to_m, i) for i, b in enumerate(self.batters) if b.kind == of]
        out = []
        for up_to, group in groupby(own, key=lambda row: row[0]):
            bands = []
            for _, i in group:
                at = self.at_batter(i, OF_BATTER[0])
                run, height, bench, fall = sizes[at : at + len(OF_BATTER)].tolist()
                runs = [m.batter_h_over_v if of == "cut" else None for m in materials]
                bands.append(
                    BatterBand(
                        (run, *(run if own_run is None else own_run for own_run in runs)),
                        np.inf if np.isnan(height) else height, bench, fall,
                    )
                )  # fmt: skip
            out.append(BatterRule(tuple(bands), np.inf if up_to is None else up_to))
        return tuple(out)


def _key(e: Element) -> Key:
    """Elements of two sections that a taper takes for the same."""
    beyond = e.exceeds_m if e.built != "always" else None
    return e.name, e.kind, e.built, beyond, e.drop_m is None, e.back_h_over_v is None


def _rules_key(b: Batter) -> Key:
    return b.kind, b.up_to_m, b.height_m is None


def _merged(a: list[Key], b: list[Key]) -> list[Key]:
    """Both lists in one, each in its own order, what is in both once."""
    out: list[Key] = []
    for what, a0, a1, b0, b1 in SequenceMatcher(a=a, b=b, autojunk=False).get_opcodes():
        out += a[a0:a1]
        if what != "equal":
            out += b[b0:b1]
    return list(dict.fromkeys(out))


def joined(frames: Sequence[Frame], leads: int) -> tuple[Frame, list[FloatArray]]:
    """One frame that holds several, and the sizes of each in it.

    Elements are the same by their names; what one of them does not have has no width, depth or thickness in it. Where
    batters are not made alike, those of frame `leads` stand for all.
    """
    if len(frames) == 1:
        return frames[0], [frames[0].sizes]
    owns = [{_key(e): e for e in f.elements} for f in frames]
    keys: list[Key] = []
    for own in owns:
        keys = _merged(keys, list(own))
    elements = [next(own[k] for own in owns if k in own) for k in keys]
    laid = [{_layer_key(f, p): p for p in f.layers} for f in frames]
    layer_keys: list[Key] = []
    for rows in laid:
        layer_keys = _merged(layer_keys, list(rows))
    layers = []
    for k in layer_keys:
        p = next(rows[k] for rows in laid if k in rows)
        first, last = (None if point is None else keys.index(point) for point in k[-2:])  # type: ignore[arg-type]
        layers.append(Placed(p.row, first, last, p.column))
    alike = all([_rules_key(b) for b in f.batters] == [_rules_key(b) for b in frames[0].batters] for f in frames)
    frame = Frame(tuple(elements), tuple(layers), frames[leads].batters, frames[0].columns)
    sizes = []
    for own, rows, f in zip(owns, laid, frames, strict=True):
        values = [0.0]
        for k, e in zip(keys, elements, strict=True):
            found = own.get(k)
            typed = [_number(getattr(found or e, name)) for name in _OF_ELEMENT]
            values += typed if found else [0.0, typed[1], typed[2] * 0.0, typed[3], typed[4], 0.0]
        for k, placed in zip(layer_keys, layers, strict=True):
            mine = rows.get(k)
            typed = [_number(getattr((mine or placed).row, name)) for name in _OF_LAYER]
            values += typed if mine else [0.0, 0.0, typed[2]]
        for b in f.batters if alike else frames[leads].batters:
            values += [_number(getattr(b, name)) for name in OF_BATTER]
        sizes.append(np.array(values, dtype=np.float64))
    return frame, sizes


def _layer_key(f: Frame, p: Placed) -> Key:
    """Layers that are taken for the same; last in it stand the elements that it begins behind and ends with."""
    ends = (None if i is None else _key(f.elements[i]) for i in (p.first, p.last))
    return p.row.name, p.column, p.row.ends, p.row.to_ground, p.row.extend_fall is None, *ends


def _number(value: float | None) -> float:
    return np.nan if value is None else float(value)
