"""Limits along the road as the search holds its lines to them: the value of each that holds where."""

from dataclasses import dataclass
from functools import reduce
from typing import Any, Literal, get_args

import numpy as np
from numpy.typing import NDArray

from delgrun.core.fields import fields_of
from delgrun.core.limits.check import Row, RowKind
from delgrun.core.limits.checks import rows_of
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.limits.ranges import STRICTER

FloatArray = NDArray[np.float64]

# Rows of limits, in the order in which kernels have them.
KINDS: tuple[RowKind, ...] = get_args(RowKind)
RISE, FALL, FLATTEST, SPACING, STRAIGHT, CREST, SAG, LENGTH, KINK = range(len(KINDS))
# Of these the greatest is the strictest, of the others the least.
GREATEST = (FLATTEST, SPACING, STRAIGHT, LENGTH)
# Several limits of these bound the same: of what holds at a place the strictest.
TOGETHER: tuple[RowKind, ...] = ("flattest", "crest", "sag")


@dataclass(frozen=True)
class LocalLimits:
    """(9, k) chainages, rising and padded with infinity, and (9, k + 1) values that hold between them. [m, m/m, 1/m]"""

    edges: FloatArray
    values: FloatArray

    def along(self, which: int, from_m: float, to_m: float) -> tuple[FloatArray, FloatArray]:
        """Lengths (n,) of the parts of a stretch, and the value (n,) that holds on each."""
        edges = self.edges[which]
        inner = edges[(edges > from_m) & (edges < to_m)]
        bounds = np.concatenate([[from_m], inner, [to_m]])
        first = int(np.searchsorted(edges, from_m, side="right"))
        return np.diff(bounds), self.values[which, first : first + len(bounds) - 1]

    def over(self, which: int, from_m: float, to_m: float) -> float:
        """A value all along a stretch, summed over its length."""
        length, value = self.along(which, from_m, to_m)
        return float(length @ value)

    def loosest(self, which: int, from_m: float, to_m: float) -> float:
        """The loosest value that holds anywhere on a stretch."""
        value = self.along(which, from_m, to_m)[1]
        return float(value.min() if which in GREATEST else value.max())


def everywhere(limits: LimitSet, pick: Literal["strictest", "loosest"]) -> LimitSet:
    """Limits for the whole length that are as strict as the strictest that holds anywhere, or as the loosest."""
    values: dict[str, Any] = {}
    for name, stricter in STRICTER.items():
        said = limits.steps(name).values
        if name == "most_kink":
            # Where none is set, no change of grade goes without a curve: that is the strictest.
            said = [v or 0.0 for v in said]
        if pick == "loosest" and None in said:
            values[name] = None
            continue
        given = [v for v in said if v is not None]
        choose = stricter if pick == "strictest" else min if stricter is max else max
        values[name] = reduce(choose, given) if given else None
        if name == "most_kink" and not values[name]:
            values[name] = None
    # A curve keeps the K of every kind, and a tangent the flattest of both: together they are one limit.
    for kind in TOGETHER:
        names = [row.limit for row in rows_of(kind)]
        values[names[0]] = max(values[name] or 0.0 for name in names)
    falls = limits.steps("max_fall").values
    if pick == "loosest" and None in falls:
        # Where it is free it falls as steeply as it may rise.
        values["max_fall"] = max([values["max_grade"], *(v for v in falls if v is not None)])
    whole = LimitSet(**{f.name: getattr(limits, f.name) for f in fields_of(LimitSet)} | values)
    return whole.with_bands(limits.bands) if limits.bands else whole


def local_limits(limits: LimitSet) -> LocalLimits:
    """The limits of a road with its ranges: what each check asks that is kept row by row."""
    rows = [_stepped(limits, kind) for kind in KINDS]
    wide = max(len(edges) for edges, _ in rows)
    edges = np.array([np.pad(e, (0, wide - len(e)), constant_values=np.inf) for e, _ in rows])
    values = np.array([np.pad(v, (0, wide + 1 - len(v)), mode="edge") for _, v in rows])
    return LocalLimits(edges.reshape(len(rows), wide), values)


def _stepped(limits: LimitSet, kind: RowKind) -> tuple[FloatArray, FloatArray]:
    """Chainages at which a kind's value changes, and the strictest of its rows between them: 0 where none says any."""
    rows = rows_of(kind)
    names = [name for row in rows for name in (row.limit, row.instead) if name]
    edges = np.array(sorted({edge for name in names for edge in limits.steps(name).edges}), dtype=np.float64)
    places = (
        np.zeros(1) if not len(edges) else np.concatenate([edges[:1] - 1, (edges[:-1] + edges[1:]) / 2, edges[-1:] + 1])
    )
    said = np.array([_said(limits, row, places) for row in rows])
    strictest = np.fmin if kind in ("rise", "fall") else np.fmax
    found = np.nan_to_num(strictest.reduce(said))
    if kind in ("crest", "sag"):
        found = np.divide(1, 100 * found, out=np.ones(len(found)), where=found > 0)
    return edges, found


def _said(limits: LimitSet, row: Row, places: FloatArray) -> FloatArray:
    own = limits.steps(row.limit).at(places)
    return np.where(np.isnan(own), limits.steps(row.instead).at(places), own) if row.instead else own
