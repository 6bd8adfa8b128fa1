"""Least-cost movement of earth along a line, exactly, in one pass out and one back."""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def least_cost_flow(net, link_cost, borrow_cost, spoil_cost, flow, borrow, spoil):
    """Fill `flow` (n - 1,), `borrow` (n,), `spoil` (n,) and return the cost.

    Parameters
    ----------
    net : (n,) surplus of each section, negative where earth is missing. [m3]
    link_cost : (n - 1,) cost of moving 1 m3 to the next section. [cost/m3]

    Notes
    -----
    V_i(f), the least cost so far with flow f out of section i, is convex and piecewise linear. A
    section shifts it by its net and clips its slopes to [-spoil_cost, borrow_cost]; a link adds a kink
    of 2 link_cost at 0. Only the kinks are kept, sorted, with one common shift. The abscissae where
    clipping begins give, on the way back, the flow each section passes on. Checked against network
    simplex in the tests.
    """
    n = net.shape[0]
    if n == 0:
        return 0.0
    place = np.empty(2 * n + 4)
    size = np.empty(2 * n + 4)
    lo_at, hi_at = np.empty(n), np.empty(n)
    left, right = n + 1, n + 2
    place[left], size[left] = 0.0, max(borrow_cost + spoil_cost, 1e-12)
    shift = 0.0
    for i in range(n):
        shift += net[i]
        if i > 0:
            for side in range(2):
                drop = link_cost[i - 1]
                while drop > 0 and right - left > 0:
                    at = left if side == 0 else right - 1
                    if size[at] > drop or right - left == 1:
                        size[at] -= min(drop, size[at])
                        drop = 0.0
                    else:
                        drop -= size[at]
                        if side == 0:
                            left += 1
                        else:
                            right -= 1
        lo_at[i], hi_at[i] = place[left] + shift, place[right - 1] + shift
        if i < n - 1 and link_cost[i] > 0:
            want = -shift
            a, b = left, right
            while a < b:
                mid = (a + b) // 2
                if place[mid] < want:
                    a = mid + 1
                else:
                    b = mid
            if (a - left < right - a and left > 0) or right == place.shape[0]:
                for k in range(left, a):
                    place[k - 1], size[k - 1] = place[k], size[k]
                left -= 1
                a -= 1
            else:
                for k in range(right, a, -1):
                    place[k], size[k] = place[k - 1], size[k - 1]
                right += 1
            place[a], size[a] = want, 2 * link_cost[i]
    cost = 0.0
    out = 0.0
    for i in range(n - 1, -1, -1):
        kept = min(max(out, lo_at[i]), hi_at[i])
        extra = out - kept
        borrow[i], spoil[i] = max(extra, 0.0), max(-extra, 0.0)
        cost += borrow_cost * borrow[i] + spoil_cost * spoil[i]
        out = kept - net[i]
        if i > 0:
            flow[i - 1] = out
            cost += link_cost[i - 1] * abs(out)
    return cost
