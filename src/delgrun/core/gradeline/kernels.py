"""Compiled levels of a whole grade line."""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def line_levels(ip_chainage, ip_level, curve_length, chainage):
    """(n,) levels: the tangent polygon plus A t^2 / (2 L) within t of a curve's ends, NaN past the ends.

    At distance x from an IP, t = L/2 - |x| is how deep the point lies inside the curve
    (docs/formulas.md#offset-from-the-tangents).
    """
    m = ip_chainage.shape[0]
    out = np.empty(chainage.shape[0])
    j = 0
    for i in range(chainage.shape[0]):
        s = chainage[i]
        if s < ip_chainage[0] - 1e-6 or s > ip_chainage[m - 1] + 1e-6:
            out[i] = np.nan
            continue
        if s < ip_chainage[j]:
            j = 0
        while j < m - 2 and s > ip_chainage[j + 1]:
            j += 1
        run = ip_chainage[j + 1] - ip_chainage[j]
        z = ip_level[j] + (ip_level[j + 1] - ip_level[j]) / run * (s - ip_chainage[j])
        for k in range(j, j + 2):
            if k == 0 or k == m - 1 or curve_length[k] <= 0:
                continue
            t = curve_length[k] / 2 - abs(s - ip_chainage[k])
            if t > 0:
                g_in = (ip_level[k] - ip_level[k - 1]) / (ip_chainage[k] - ip_chainage[k - 1])
                g_out = (ip_level[k + 1] - ip_level[k]) / (ip_chainage[k + 1] - ip_chainage[k])
                z += (g_out - g_in) * t * t / (2 * curve_length[k])
        out[i] = z
    return out
