"""The most that curves of a least length, their middles at least so far apart, can make of a weighted sum.

Everything is on a grid of one step over a stretch of road: psi at its points, and the integral of psi up to them. A
curve from point i to point j makes sag * (integral) or -crest * (integral), whichever is more. Curves never overlap,
are at least `least` long, and from the IP of one to that of the next it is at least `apart`; what reaches out of the
stretch may have any length and IP.

Curves of `apart` and longer have to heed nothing but their neighbours' ends; shorter ones also the IPs of other short
ones. An IP stands in the middle of its curve, unless that is unsymmetrical: what is proved (`at_most`) doesn't ask
where, what is tried (`most`) puts it in the middle. There are three kinds of best value there: `a` after a long curve
(or none) that ends by point j, `b` after a short one that ends by point j, and `v` after a short one whose two ends add
up to no more than d (its middle is d / 2).
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
def at_most(psi, sums, count, g, steepest, least, apart, crest, sag):
    """What no line's curves make more than, wherever within them their IPs stand.

    Each curve stands for all that end within half a step of its ends. Of two curves each within `apart` of the other
    what holds of any IPs in them is kept: from the start of one to the end of the next it is `apart`, and they don't
    overlap. `a` is the best after a long curve (or none) that ends by point j; row j of `short` (a ring of rows) has
    the best after a short one that ends by j and starts by j - t, for each t that is asked for.
    """
    shortest = max(int(np.ceil((least - g) / g - 1e-9)), 1)
    # From here on a curve heeds only its neighbours' ends.
    long = max(int(np.ceil((apart - g) / g - 1e-9)), shortest)
    kinds = long - shortest
    rows = long + 1 if kinds else 1
    short = np.full((rows, kinds + 1), -1e300)
    a = np.empty(count)
    a[0] = 0.0
    up, down = -sag * sums[0], crest * sums[0]
    behind, last = 0, count - 1
    for j in range(1, count):
        while behind <= j - long:
            edge = g / 2 * (abs(psi[behind]) + g / 2 * steepest) if behind > 0 else 0.0
            had = max(a[behind], short[behind % rows, 0])
            up = max(up, had - sag * (sums[behind] - edge))
            down = max(down, had + crest * (sums[behind] + edge))
            behind += 1
        edge = g / 2 * (abs(psi[j]) + g / 2 * steepest) if j < last else 0.0
        # Nothing new ends here, or a long curve does.
        a[j] = max(a[j - 1], up + sag * (sums[j] + edge), down - crest * (sums[j] - edge))
        # Or a short one, after a long one that ends where it begins, or after a short one that starts early enough.
        if not kinds:
            continue
        before, here = short[(j - 1) % rows], short[j % rows]
        best = -1e300
        for t in range(long - 1, -1, -1):
            i = j - t
            if t >= shortest and i >= 0:
                other = g / 2 * (abs(psi[i]) + g / 2 * steepest) if i > 0 else 0.0
                made = sums[j] - sums[i]
                had = max(a[i], short[i % rows, long - t])
                best = max(best, had + max(sag * (made + edge + other), -crest * (made - edge - other)))
            elif t > kinds:
                continue
            if t <= kinds:
                here[t] = max(best, before[max(t - 1, 0)])
    # Through the end a curve of any length may go out.
    out = max(a[last], short[last % rows, 0])
    for i in range(max(last - long + 1, 0), last):
        edge = g / 2 * (abs(psi[i]) + g / 2 * steepest) if i > 0 else 0.0
        had = max(a[i], short[i % rows, 0])
        made = sums[last] - sums[i]
        out = max(out, had + sag * (made + edge), had - crest * (made - edge))
    # A sliver of a curve that reaches in from outside by less than half a step stands at no point of the grid.
    return out + g * g / 4 * steepest * max(crest, sag)


@kernel
def most(psi, sums, count, g, least, apart, crest, sag, tables, ways):
    """The most that curves can make whose IPs stand in their middles: what the nearest line is made of.

    `tables` (3, >= 2 count) and `ways` (7, >= 2 count) are room for the values and for how they were come by.
    """
    shortest = max(int(np.ceil(least / g - 1e-9)), 1)
    # From here on a curve heeds only its neighbours' ends.
    long = max(int(np.ceil(apart / g - 1e-9)), shortest)
    between = int(np.ceil(2 * apart / g - 1e-9))
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
            had = max(a[behind], b[behind])
            if had - sag * sums[behind] > up:
                up, up_from = had - sag * sums[behind], behind
            if had + crest * sums[behind] > down:
                down, down_from = had + crest * sums[behind], behind
            behind += 1
        # Nothing new ends here, or a long curve does.
        a[j], ways[0, j] = a[j - 1], 0
        if up + sag * sums[j] > a[j]:
            a[j], ways[0, j], ways[1, j] = up + sag * sums[j], 1, up_from
        if down - crest * sums[j] > a[j]:
            a[j], ways[0, j], ways[1, j] = down - crest * sums[j], -1, down_from
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
            made = sums[j] - sums[i]
            worth, way = sag * made, 1
            if -crest * made > worth:
                worth, way = -crest * made, -1
            if had + worth > b[j]:
                b[j], ways[2, j], ways[3, j] = had + worth, way * (1 + after), i
            if had + worth > v[d]:
                v[d] = had + worth
                ways[4, d], ways[5, d], ways[6, d] = d, j, way * (1 + after)
    # Through the end a curve of any length may go out.
    for i in range(max(last - long + 1, 0), last):
        had = max(a[i], b[i])
        made = sums[last] - sums[i]
        if had + sag * made > a[last]:
            a[last], ways[0, last], ways[1, last] = had + sag * made, 1, i
        if had - crest * made > a[last]:
            a[last], ways[0, last], ways[1, last] = had - crest * made, -1, i
    return max(a[last], b[last])


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
