"""What a little more, or a little less, earth at each section costs once the haul is planned anew."""

import numpy as np
from numpy.typing import NDArray

from delgrun.core.haul.haul import HaulPlan

FloatArray = NDArray[np.float64]

# Less than this share of all earth is moved, borrowed or spoiled only by rounding.
_NOTHING = 1e-11


def haul_prices(
    plan: HaulPlan, chainage_m: FloatArray, *, haul_per_m3_m: float, borrow_per_m3: float, spoil_per_m3: float
) -> tuple[FloatArray, FloatArray]:
    """Change of the haul's cost for each cubic metre more, and for each less, at each section: (n,) each.

    Notes
    -----
    Shortest ways in the plan's residual network: over a link that carries earth one way, less is carried instead of
    more the other way, and what is borrowed somewhere is saved before anything is spoiled. A line's ways do not
    branch, so that two passes find them. They hold as far as no flow turns round: the cost is convex, and piecewise
    linear. Source: sensitivity of a minimum-cost flow, any book on network flows.
    """
    link = np.diff(chainage_m) * haul_per_m3_m
    flow = plan.flow_m3
    from_and_to = np.abs(np.diff(flow, prepend=0.0, append=0.0)).sum()
    nothing = _NOTHING * float(from_and_to + plan.borrow_m3.sum() + plan.spoil_m3.sum())
    forward = np.where(flow < -nothing, -link, link)
    back = np.where(flow > nothing, -link, link)
    lose = np.where(plan.borrow_m3 > nothing, -borrow_per_m3, spoil_per_m3)
    gain = np.where(plan.spoil_m3 > nothing, -spoil_per_m3, borrow_per_m3)
    # More earth goes on its way; less earth is missed where it went, so that it comes the other way round.
    return _nearest(lose, forward, back), _nearest(gain, back, forward)


def _nearest(end: FloatArray, forward: FloatArray, back: FloatArray) -> FloatArray:
    """The least of an end's price and the way to it, from each section."""
    best = end.tolist()
    ahead, behind = forward.tolist(), back.tolist()
    for i in range(len(best) - 2, -1, -1):
        best[i] = min(best[i], ahead[i] + best[i + 1])
    for i in range(1, len(best)):
        best[i] = min(best[i], behind[i - 1] + best[i - 1])
    return np.array(best)
