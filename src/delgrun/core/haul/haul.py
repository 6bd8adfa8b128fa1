"""Least-cost haul along the line, with borrow and spoil at every section."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.haul import kernels

FloatArray = NDArray[np.float64]


@dataclass(frozen=True)
class HaulPlan:
    """What moves where: `flow_m3` (n - 1,) over each link, positive forward; `borrow_m3`, `spoil_m3` (n,)."""

    flow_m3: FloatArray
    borrow_m3: FloatArray
    spoil_m3: FloatArray
    cost: float
    haul_m3_m: float


def plan_haul(
    net_m3: FloatArray,
    chainage_m: FloatArray,
    *,
    haul_per_m3_m: float,
    borrow_per_m3: float,
    spoil_per_m3: float,
) -> HaulPlan:
    """The cheapest way to balance surpluses and needs along the line.

    Parameters
    ----------
    net_m3 : (n,) float array
        Compacted surplus (+) or need (-) of each section. [m3]
    chainage_m : (n,) float array
        Rising. [m]

    References
    ----------
    Minimum-cost flow on a line; derivation in docs/formulas.md#haul. Check value: reference 5.3.
    """
    net = np.ascontiguousarray(net_m3, dtype=np.float64)
    link_m = np.diff(chainage_m)
    flow, borrow, spoil = np.zeros(max(len(net) - 1, 0)), np.zeros(len(net)), np.zeros(len(net))
    cost = kernels.least_cost_flow(
        net, link_m * haul_per_m3_m, float(borrow_per_m3), float(spoil_per_m3), flow, borrow, spoil
    )
    return HaulPlan(flow, borrow, spoil, float(cost), float(np.abs(flow) @ link_m))
