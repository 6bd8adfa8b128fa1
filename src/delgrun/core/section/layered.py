"""Elements and layers of a side as they lie in a section, made by `layered_kernels.py`."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from delgrun.core.section import layered_kernels as kernels
from delgrun.core.section.carriageway import Variant
from delgrun.core.section.typical_section import Element, Layer

FloatArray = NDArray[np.float64]
Corner = tuple[float, float]

# So near is the same place. [m]
_SAME = 1e-12
CODES = {"kerb": kernels.KERB, "wall": kernels.WALL, "drain": kernels.DRAIN}
ENDS = {"own edge": kernels.OWN_EDGE, "drain front": kernels.DRAIN_FRONT, "batter": kernels.BATTER}


@dataclass(frozen=True)
class NamedPoint:
    """An element's outer point: name, offset outwards and level over the line [m], and whether it is written."""

    name: str
    offset_m: float
    level_m: float
    written: bool = True


@dataclass(frozen=True)
class LayerShape:
    """A layer as it lies in a section: rings of offset outwards and level over the line. [m]"""

    name: str
    rings: tuple[tuple[Corner, ...], ...]


@dataclass(frozen=True, eq=False)
class SideShape:
    """One side as it is built where a variant holds, besides its batter.

    `own`, `rows`: its elements and layers; `start`, `corners`, `parts`, `of` as `side_corners` gives them.
    """

    variant: Variant
    own: tuple[Element, ...]
    rows: tuple[Layer, ...]
    start: NDArray[np.int64]
    corners: FloatArray
    parts: FloatArray
    of: NDArray[np.int64]

    @cached_property
    def layers(self) -> tuple[LayerShape, ...]:
        return tuple(LayerShape(row.name, _rings(self.parts[self.of == i])) for i, row in enumerate(self.rows))

    @cached_property
    def elements(self) -> tuple[tuple[Element, tuple[Corner, ...]], ...]:
        """The corners of each element, from the outer point of the one before to its own."""
        begins: Corner = (0.0, float(self.variant.surface[0, 1]))
        out = []
        for e, a, b in zip(self.own, self.start[:-1], self.start[1:], strict=True):
            found = [(x, y) for x, y in self.corners[a:b].tolist()]
            out.append((e, (begins, *found)))
            begins = found[-1]
        return tuple(out)

    @cached_property
    def points(self) -> tuple[NamedPoint, ...]:
        return tuple(p for e, corners in self.elements for p in _points_of(e, corners[1:]))


def _points_of(e: Element, corners: Sequence[Corner]) -> list[NamedPoint]:
    """Its named points: the outer one by its own name, those of a drain before that by what they are."""
    names = [""] * (len(corners) - 1) + [e.name]
    if e.kind == "drain":
        names[:-1] = [f"{e.name} {part}" for part in ("bottom", "far bottom")[: len(corners) - 1]]
        if e.back_h_over_v is None:
            names[0] = f"{e.name} bottom"
    return [NamedPoint(n, *c, e.written) for n, c in zip(names, corners, strict=True) if n]


def side_shape(
    own: tuple[Element, ...],
    elements: FloatArray,
    rows: tuple[Layer, ...],
    layers: FloatArray,
    columns: int,
    above_m: float,
    fill_run: float | None,
    lift_m: float = 0.0,
) -> SideShape:
    """A side of these elements and layers, with their sizes as `layered_kernels.py` has them.

    `fill_run`: how far out a fill batter goes for a metre of height, for layers that end at it; None where the side is
    in cut. `lift_m`: how high it begins over the grade line.
    """
    run = np.nan if fill_run is None else fill_run
    start, corners, surface, formation, areas, back, walls, parts, of = kernels.side_corners(
        elements, layers, columns, run, lift_m
    )
    variant = Variant(surface, formation, above_m, tuple(areas.tolist()), back, walls)
    return SideShape(variant, own, rows, start, corners, parts, of)


def _rings(parts: FloatArray) -> tuple[tuple[Corner, ...], ...]:
    """A ring for each run of parts that touch: along their tops, and back along their undersides."""
    if not len(parts):
        return ()
    joins = (np.abs(parts[:-1, :, 2] - parts[1:, :, 0]) < _SAME) & (np.abs(parts[:-1, :, 3] - parts[1:, :, 1]) < _SAME)
    starts = [0, *(np.flatnonzero(~joins.all(axis=1)) + 1).tolist(), len(parts)]
    out = []
    for a, b in pairwise(starts):
        tops, bottoms = ([tuple(p[0, :2]), *map(tuple, p[:, 2:4])] for p in (parts[a:b, 0], parts[a:b, 1]))
        out.append(tuple((float(x), float(y)) for x, y in (*tops, *reversed(bottoms))))
    return tuple(out)
