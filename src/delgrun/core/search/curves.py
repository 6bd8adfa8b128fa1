"""The most that curves of a least length, their middles at least so far apart, can make of a weighted sum.

Everything is on a grid of one step over a stretch of road: psi at its points, and the integral of psi up to them. A
curve from point i to point j makes sag * (integral) or -crest * (integral), whichever is more. Curves never overlap,
are at least `least` long, and from the middle of one (its IP) to that of the next it is at least `apart`; what reaches
out of the stretch may have any length and middle.

Curves of `apart` and longer have to heed nothing but their neighbours' ends; shorter ones also the middles of other
short ones. So there are three kinds of best value: `a` after a long curve (or none) that ends by point j, `b` after a
short one that ends by point j, and `v` after a short one whose two ends add up to no more than d (its middle is d / 2).
"""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def weighed(at, first, v, step, psi, sums):
    """Fill psi and its integral on the grid over the hats first .. first + len(v) - 1 of points `at`.

    Returns the grid's own step, at most `step`, how many points it has, and the steepest that psi is. [m, 1, 1/m]
    """
    hats = v.shape[0]
    begin, end = at[first - 1], at[first + hats]
    parts = max(int(np.ceil((end - begin) / step - 1e-9)), 1)
    g = (end - begin) / parts
    steepest = 0.0
    k = first - 1
    left, right = 0.0, v[0]
    steepest = abs(right) / (at[k + 1] - at[k])
    before = 0.0
    for i in range(parts + 1):
        t = begin + i * g if i < parts else end
        while k + 1 < first + hats and t > at[k + 1]:
            before += (at[k + 1] - at[k]) * (left + right) / 2
            k += 1
            left = right
            right = v[k + 1 - first] if k + 1 < first + hats else 0.0
            steepest = max(steepest, abs(right - left) / (at[k + 1] - at[k]))
        share = (t - at[k]) / (at[k + 1] - at[k])
        psi[i] = left + (right - left) * share
        sums[i] = before + (t - at[k]) * (left + psi[i]) / 2
    return g, parts + 1, steepest


@kernel
def most(psi, sums, count, g, steepest, least, apart, crest, sag, safe, tables, ways):
    """The most that curves can make.

    With `safe`, each curve stands for all that end within half a step of its ends: the answer is an upper bound.
    `tables` (3, >= 2 count) and `ways` (7, >= 2 count) are room for the values and for how they were come by.
    """
    slack = g if safe else 0.0
    shortest = max(int(np.ceil((least - slack) / g - 1e-9)), 1)
    # From here on a curve heeds only its neighbours' ends.
    long = max(int(np.ceil((apart - slack) / g - 1e-9)), shortest)
    between = int(np.ceil(2 * (apart - slack) / g - 1e-9))
    a, b, v = tables[0], tables[1], tables[2]
    a[0], b[0] = 0.0, -1e300
    ways[0, 0], ways[2, 0] = 0, 0
    for d in range(2 * count):
        v[d] = -1e300
        ways[4, d] = -1
    known = -1
    up, up_from, down, down_from = -sag * sums[0], 0, crest * sums[0], 0
    behind = 0
    last = count - 1
    for j in range(1, count):
        while behind <= j - long:
            edge = g / 2 * (abs(psi[behind]) + g / 2 * steepest) if safe and behind > 0 else 0.0
            had = max(a[behind], b[behind])
            if had - sag * (sums[behind] - edge) > up:
                up, up_from = had - sag * (sums[behind] - edge), behind
            if had + crest * (sums[behind] + edge) > down:
                down, down_from = had + crest * (sums[behind] + edge), behind
            behind += 1
        edge = g / 2 * (abs(psi[j]) + g / 2 * steepest) if safe and j < last else 0.0
        # Nothing new ends here, or a long curve does.
        a[j], ways[0, j] = a[j - 1], 0
        if up + sag * (sums[j] + edge) > a[j]:
            a[j], ways[0, j], ways[1, j] = up + sag * (sums[j] + edge), 1, up_from
        if down - crest * (sums[j] - edge) > a[j]:
            a[j], ways[0, j], ways[1, j] = down - crest * (sums[j] - edge), -1, down_from
        # Or a short one, after a long one that ends where it begins, or after a short one far enough behind.
        b[j], ways[2, j] = b[j - 1], 0
        for length in range(shortest, min(long, j + 1)):
            i = j - length
            d = i + j
            while known < d - between:
                known += 1
                if known > 0 and v[known - 1] >= v[known]:
                    v[known] = v[known - 1]
                    ways[4, known] = ways[4, known - 1]
            had, after = a[i], 0
            if d - between >= 0 and v[d - between] > had:
                had, after = v[d - between], 1
            other = g / 2 * (abs(psi[i]) + g / 2 * steepest) if safe and i > 0 else 0.0
            made = sums[j] - sums[i]
            worth, way = sag * (made + edge + other), 1
            if -crest * (made - edge - other) > worth:
                worth, way = -crest * (made - edge - other), -1
            if had + worth > b[j]:
                b[j], ways[2, j], ways[3, j] = had + worth, way * (1 + after), i
            if had + worth > v[d]:
                v[d] = had + worth
                ways[4, d], ways[5, d], ways[6, d] = d, j, way * (1 + after)
    # Through the end a curve of any length may go out.
    for i in range(max(last - long + 1, 0), last):
        edge = g / 2 * (abs(psi[i]) + g / 2 * steepest) if safe and i > 0 else 0.0
        had = max(a[i], b[i])
        made = sums[last] - sums[i]
        if had + sag * (made + edge) > a[last]:
            a[last], ways[0, last], ways[1, last] = had + sag * (made + edge), 1, i
        if had - crest * (made - edge) > a[last]:
            a[last], ways[0, last], ways[1, last] = had - crest * (made - edge), -1, i
    # A sliver of a curve that reaches in from outside by less than half a step stands at no point of the grid.
    slivers = g * g / 4 * steepest * max(crest, sag) if safe else 0.0
    return max(a[last], b[last]) + slivers


@kernel
def _hat(left, middle, right, a, b):
    """Integral over a .. b of the hat that is 1 at `middle` and 0 from `left` and `right` on."""
    total = 0.0
    lo, hi = max(a, left), min(b, middle)
    if hi > lo:
        total += (hi - lo) * ((lo + hi) / 2 - left) / (middle - left)
    lo, hi = max(a, middle), min(b, right)
    if hi > lo:
        total += (hi - lo) * (right - (lo + hi) / 2) / (right - middle)
    return total


@kernel
def changes_of(at, first, count, g, least, apart, crest, sag, tables, ways, out):
    """The changes of slope of the curves that made the most (without `safe`); fills `out` (hats,)."""
    out[:] = 0.0
    begin = at[first - 1]
    between = int(np.ceil(2 * apart / g - 1e-9))
    j = count - 1
    after_short = tables[1, j] > tables[0, j]
    # By ends (d) where a short curve was reached from the short one before it.
    d = -1
    while j > 0 or d >= 0:
        if d >= 0:
            j, way = ways[5, d], ways[6, d]
            i = d - j
        elif after_short:
            if ways[2, j] == 0:
                j -= 1
                continue
            way, i = ways[2, j], ways[3, j]
        else:
            if ways[0, j] == 0:
                j -= 1
                continue
            way, i = ways[0, j], ways[1, j]
        rate = sag if way > 0 else -crest
        for k in range(out.shape[0]):
            h = first + k
            if at[h + 1] > begin + i * g and at[h - 1] < begin + j * g:
                out[k] += rate * _hat(at[h - 1], at[h], at[h + 1], begin + i * g, begin + j * g)
        if d < 0 and not after_short:
            # A long one: what came before is the better of both kinds.
            j = i
            after_short = tables[1, j] > tables[0, j]
        elif abs(way) == 2:
            d = ways[4, i + j - between]
            continue
        else:
            j, after_short = i, False
        d = -1
