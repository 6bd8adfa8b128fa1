"""Limits along the road as the search holds its lines to them: the value of each that holds where."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.limits.limit_set import MORE, LimitSet

FloatArray = NDArray[np.float64]

# What holds for the line (rise, fall), for tangents (flattest, spacing, straight), for curves (curvature of crest, sag,
# length), and for IPs without one (change of grade).
RISE, FALL, FLATTEST, SPACING, STRAIGHT, CREST, SAG, LENGTH, KINK = range(9)
# Of these the greatest is the strictest, of the others the least.
GREATEST = (FLATTEST, SPACING, STRAIGHT, LENGTH)


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


def local_limits(limits: LimitSet) -> LocalLimits:
    """The limits of a road with its ranges."""
    names = ("max_grade", "max_fall", "min_grade", "min_ip_spacing_m", "min_tangent_m")
    rows = [
        _stepped(limits, ("max_grade",), lambda g: g[0]),
        _stepped(limits, names[:2], lambda g: g[0] if np.isnan(g[1]) else g[1]),
        _stepped(limits, ("min_grade", *MORE["min_grade"]), _most),
        _stepped(limits, names[3:4], _most),
        _stepped(limits, names[4:], _most),
        *(_stepped(limits, (k, *MORE[k]), _curvature) for k in ("min_crest_k_m_per_pct", "min_sag_k_m_per_pct")),
        _stepped(limits, ("min_curve_length_m",), _most),
        _stepped(limits, ("most_kink",), _most),
    ]
    wide = max(len(edges) for edges, _ in rows)
    edges = np.array([np.pad(e, (0, wide - len(e)), constant_values=np.inf) for e, _ in rows])
    values = np.array([np.pad(v, (0, wide + 1 - len(v)), mode="edge") for _, v in rows])
    return LocalLimits(edges.reshape(len(rows), wide), values)


def _most(values: FloatArray) -> float:
    return float(np.nanmax(values)) if not np.isnan(values).all() else 0.0


def _curvature(k: FloatArray) -> float:
    most = _most(k)
    return 1 / (100 * most) if most > 0 else 1.0


def _stepped(
    limits: LimitSet, names: tuple[str, ...], together: Callable[[FloatArray], float]
) -> tuple[FloatArray, FloatArray]:
    steps = [limits.steps(name) for name in names]
    edges = np.array(sorted({edge for s in steps for edge in s.edges}), dtype=np.float64)
    places = (
        np.zeros(1) if not len(edges) else np.concatenate([edges[:1] - 1, (edges[:-1] + edges[1:]) / 2, edges[-1:] + 1])
    )
    values = np.array([s.at(places) for s in steps])
    return edges, np.array([together(column) for column in values.T])
