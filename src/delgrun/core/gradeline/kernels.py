"""Compiled levels and grades of a whole grade line."""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def _bent(k, s, chainage, level, before, after, radius):
    """What the curve of IP k adds to the tangents at s, and to their grade: (offset, grade); nothing outside of it.

    A parabola's offset is e (t / l)^2 on each side, t the distance into the curve and l the length on that side, with
    e = A l1 l2 / (2 (l1 + l2)) (docs/formulas.md#offset-from-the-tangents).
    """
    x = s - chainage[k]
    if x <= -before[k] or x >= after[k]:
        return 0.0, 0.0
    g1 = (level[k] - level[k - 1]) / (chainage[k] - chainage[k - 1])
    g2 = (level[k + 1] - level[k]) / (chainage[k + 1] - chainage[k])
    if radius[k] > 0.0:
        # The centre of a circle lies square to its first tangent; left of a sag, right of a crest.
        up = 1.0 if g2 > g1 else -1.0
        root = np.sqrt(1 + g1 * g1)
        cx = -before[k] - up * radius[k] * g1 / root
        cz = -g1 * before[k] + up * radius[k] / root
        rise = np.sqrt(radius[k] ** 2 - (x - cx) ** 2)
        own = g1 if x <= 0 else g2
        return cz - up * rise - own * x, up * (x - cx) / rise - own
    e = (g2 - g1) * before[k] * after[k] / (2 * (before[k] + after[k]))
    if x <= 0:
        t = (before[k] + x) / before[k]
        return e * t * t, 2 * e * t / before[k]
    t = (after[k] - x) / after[k]
    return e * t * t, -2 * e * t / after[k]


@kernel
def line_levels(chainage, level, before, after, radius, at):
    """(n,) levels, and grades, at each chainage, NaN past the ends.

    Of each IP: chainage, level, lengths of its curve before and behind it, radius of a circle (0: a parabola). At a
    kink the grade is that of the tangent before it.
    """
    m = chainage.shape[0]
    out, grade = np.empty(at.shape[0]), np.empty(at.shape[0])
    j = 0
    for i in range(at.shape[0]):
        s = at[i]
        if s < chainage[0] - 1e-6 or s > chainage[m - 1] + 1e-6 or np.isnan(s):
            out[i] = grade[i] = np.nan
            continue
        if s < chainage[j]:
            j = 0
        while j < m - 2 and s > chainage[j + 1]:
            j += 1
        g = (level[j + 1] - level[j]) / (chainage[j + 1] - chainage[j])
        z = level[j] + g * (s - chainage[j])
        for k in range(j, j + 2):
            if 0 < k < m - 1:
                # Beside its IP a curve adds to the tangent that is followed here.
                by, turn = _bent(k, s, chainage, level, before, after, radius)
                z, g = z + by, g + turn
        out[i], grade[i] = z, g
    return out, grade
