"""Lanes and shoulders of a side as they lean and widen in bends."""

from collections.abc import Collection

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.superelevation import INNER, Lean, Superelevation
from delgrun.core.section import layered_kernels as kernels
from delgrun.core.section.frame import Frame

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]


def leaned(
    frame: Frame,
    sizes: FloatArray,
    side: int,
    lean: Lean,
    rows: IntArray,
    settings: Superelevation,
    added: Collection[str] = (),
) -> FloatArray:
    """Put falls and widths as they are in bends into (m, d) sizes, of rows of `lean`; (m,) how much deeper the lanes'
    edge lies for it, unwidened. [m]

    Lanes are clipped between the falls that the diagram allows. A shoulder falls at least as the lane beside it on the
    low side; on the high side it is turned as soon as its fall differs by more than it may. The last lane is widened
    that is not one of those `added`.
    """
    low, high = lean.low[rows, side], lean.high[rows, side]
    deeper = np.zeros(len(rows))
    own = turned = None
    lanes = [i for i, e in enumerate(frame.elements) if e.kind == "lane"]
    last = max((i for i in lanes if frame.elements[i].name not in added), default=max(lanes, default=-1))
    for i, e in enumerate(frame.elements):
        wide, fall, drop = (frame.at_element(i, c) for c in (kernels.WIDTH, kernels.FALL, kernels.DROP))
        if e.kind == "lane":
            # One that is typed by its drop leans by the fall it has.
            by_drop = ~np.isnan(sizes[:, drop]) & (sizes[:, wide] > 0)
            sizes[by_drop, fall] = sizes[by_drop, drop] / sizes[by_drop, wide]
            sizes[by_drop, drop] = np.nan
            own = sizes[:, fall].copy()
            turned = np.clip(own, low, high)
            sizes[:, fall] = turned
            deeper += sizes[:, wide] * (turned - own)
            if i == last:
                sizes[:, wide] += lean.widening_m[rows, side]
        elif e.kind == "shoulder" and own is not None and turned is not None:
            straight = sizes[:, fall]
            on_high = np.minimum(straight, turned + settings.shoulder_difference)
            on_low = np.maximum(straight, turned - np.maximum(own - straight, 0.0))
            sizes[:, fall] = np.where(turned < own, on_high, np.where(turned > own, on_low, straight))
    return deeper


def lift_m(deeper: tuple[FloatArray, FloatArray], lean: Lean, settings: Superelevation) -> FloatArray:
    """(n,) how far the centreline is lifted where the road turns about an edge of its lanes, which keeps its level: by
    as much as that edge would lie deeper, left and right. [m]
    """
    right = lean.pivot if settings.about == INNER else 1.0 - lean.pivot
    out: FloatArray = right * deeper[1] + (1.0 - right) * deeper[0]
    return out
