"""Compiled: elements and layers of a side as corners: the finished surface, the formation, and what lies between them.

Lines are straight pieces from left to right that touch in offset: (n, 5) rows of where each begins and ends, offset and
level [m], and 1 + its layer where that is laid to the ground, else 0.
"""

import numpy as np

from delgrun.core.kernels import kernel

# Columns of an element: what it is, and its sizes as typed; NaN for a drop or a back slope that it has not.
CODE, WIDTH, FALL, DROP, FRONT, BACK, DEPTH = range(7)
PLAIN, KERB, WALL, DRAIN = range(4)
# Columns of a layer: its column of areas, thickness, the element it begins with and its last one (before it: none),
# where it ends, how far it goes on and at which fall (NaN: as there), and whether it goes down to the ground.
COLUMN, THICKNESS, FIRST, LAST, ENDS, EXTEND, EXTEND_FALL, TO_GROUND = range(8)
OWN_EDGE, DRAIN_FRONT, BATTER = range(3)

# So near is the same place, or the same line. [m]
_SAME = 1e-12
# A layer that goes on to the batter is looked for so far below the road's edge. [m]
_DEEP_M = 20.0


@kernel
def corners_of(e, x, y, out):
    """Fill in the corners of an element beyond the place where it begins; how many there are. [m]"""
    code = int(e[CODE])
    width, fall, drop = e[WIDTH], e[FALL], e[DROP]
    if code == DRAIN:
        out[0, 0], out[0, 1] = x + e[FRONT] * e[DEPTH], y - e[DEPTH]
        out[1, 0], out[1, 1] = out[0, 0] + width, out[0, 1]
        if np.isnan(e[BACK]):
            return 2
        out[2, 0], out[2, 1] = out[1, 0] + e[BACK] * e[DEPTH], y
        return 3
    if KERB <= code <= WALL and drop == drop and drop != 0.0:
        if drop < 0.0:
            out[0, 0], out[0, 1] = x, y - drop
            out[1, 0], out[1, 1] = x + width, y - drop - width * fall
        else:
            out[0, 0], out[0, 1] = x + width, y - width * fall
            out[1, 0], out[1, 1] = x + width, y - width * fall - drop
        return 2
    out[0, 0], out[0, 1] = x + width, y - (width * fall if np.isnan(drop) else drop)
    return 1


@kernel
def _level(p, x):
    if x == p[0]:
        return p[1]
    if x == p[2]:
        return p[3]
    return p[1] + (p[3] - p[1]) * (x - p[0]) / (p[2] - p[0])


@kernel
def _put(out, p, a, b, laid):
    """The part of a piece between two offsets."""
    out[0], out[1], out[2], out[3], out[4] = a, _level(p, a), b, _level(p, b), laid


@kernel
def _holding(line, x):
    for i in range(line.shape[0]):
        if line[i, 0] <= x <= line[i, 2]:
            return i
    return -1


@kernel
def _together(a, b):
    """(m, 2, 5) both cut at each other's ends, where both are."""
    na, nb = a.shape[0], b.shape[0]
    xs = np.empty(2 * (na + nb))
    for i in range(na):
        xs[2 * i], xs[2 * i + 1] = a[i, 0], a[i, 2]
    for i in range(nb):
        xs[2 * (na + i)], xs[2 * (na + i) + 1] = b[i, 0], b[i, 2]
    xs.sort()
    out = np.empty((xs.shape[0], 2, 5))
    m = 0
    for i in range(xs.shape[0] - 1):
        u, v = xs[i], xs[i + 1]
        if v - u <= _SAME:
            continue
        one, two = _holding(a, (u + v) / 2), _holding(b, (u + v) / 2)
        if one >= 0 and two >= 0:
            _put(out[m, 0], a[one], u, v, a[one, 4])
            _put(out[m, 1], b[two], u, v, b[two, 4])
            m += 1
    return out[:m]


@kernel
def _clipped(line, x0, x1):
    out = np.empty_like(line)
    m = 0
    for i in range(line.shape[0]):
        a, b = max(line[i, 0], x0), min(line[i, 2], x1)
        if b - a > _SAME:
            _put(out[m], line[i], a, b, line[i, 4])
            m += 1
    return out[:m]


@kernel
def _parts(under, bottom, laid):
    """(m, 2, 5) what lies between a line and one that is under it, as far as that is under it: tops and undersides."""
    both = _together(under, bottom)
    out = np.empty_like(both)
    m = 0
    for i in range(both.shape[0]):
        top, low = both[i, 0], both[i, 1]
        d0, d1 = top[1] - low[1], top[3] - low[3]
        if d0 <= _SAME and d1 <= _SAME:
            continue
        a, b = top[0], top[2]
        if d0 < -_SAME or d1 < -_SAME:
            meets = a + (b - a) * d0 / (d0 - d1)
            if d0 < 0:
                a = meets
            else:
                b = meets
            if b - a <= _SAME:
                continue
        _put(out[m, 0], top, a, b, top[4])
        _put(out[m, 1], low, a, b, laid)
        # Where they meet they are one.
        if d0 < -_SAME:
            out[m, 1, 1] = out[m, 0, 1]
        if d1 < -_SAME:
            out[m, 1, 3] = out[m, 0, 3]
        m += 1
    return out[:m]


@kernel
def _lowered(under, parts):
    """What lies lowest once a layer of these parts is built."""
    out = np.empty((under.shape[0] + 2 * parts.shape[0], 5))
    m = 0
    for i in range(under.shape[0]):
        p = under[i]
        x = p[0]
        for j in range(parts.shape[0]):
            low = parts[j, 1]
            if low[2] <= x + _SAME or low[0] >= p[2] - _SAME:
                continue
            if low[0] > x + _SAME:
                _put(out[m], p, x, low[0], p[4])
                m += 1
            out[m] = low
            m += 1
            x = low[2]
        if p[2] > x + _SAME:
            out[m, 0], out[m, 1], out[m, 2], out[m, 3], out[m, 4] = x, _level(p, x), p[2], p[3], p[4]
            m += 1
    return out[:m]


@kernel
def _no_thicker(part, most_m, out):
    """Fill in a part of a layer whose top lies no higher over its underside, in one or two parts; how many."""
    top, low = part[0], part[1]
    d0, d1 = top[1] - low[1] - most_m, top[3] - low[3] - most_m
    if d0 <= _SAME and d1 <= _SAME:
        out[0] = part
        return 1
    capped = np.array([low[0], low[1] + most_m, low[2], low[3] + most_m, 0.0])
    if d0 >= -_SAME and d1 >= -_SAME:
        out[0, 0], out[0, 1] = capped, low
        return 1
    x = top[0] + (top[2] - top[0]) * d0 / (d0 - d1)
    m = 0
    for half in range(2):
        a, b = (top[0], x) if half == 0 else (x, top[2])
        if b - a > _SAME:
            upper = capped if (d0 > 0) == (a == top[0]) else top
            _put(out[m, 0], upper, a, b, upper[4])
            _put(out[m, 1], low, a, b, low[4])
            m += 1
    return m


@kernel
def _area(part):
    a, b = part[0], part[1]
    return (a[2] - a[0]) * ((a[1] - b[1]) + (a[3] - b[3])) / 2


@kernel
def _area_until(part, x):
    """The same, as far as an offset."""
    a, b = part[0], part[1]
    if a[0] >= x:
        return 0.0
    if a[2] <= x:
        return _area(part)
    return (x - a[0]) * ((a[1] - b[1]) + (_level(a, x) - _level(b, x))) / 2


@kernel
def _formation(pieces, end, foot_x, foot_y):
    """(c, 5) corners of the pieces that begin before an offset, as `Variant.formation` has them; pieces that go on
    straight are one. `foot`: where an upright face at the end leads, NaN without.
    """
    out = np.empty((2 * pieces.shape[0] + 2, 3))
    n = 0
    before = np.nan
    for i in range(pieces.shape[0]):
        x0, y0, x1, y1, laid = pieces[i]
        if not x0 < end - _SAME:
            continue
        if n == 0:
            out[0] = np.array([x0, y0, 0.0])
            n = 1
        slope = (y1 - y0) / (x1 - x0)
        if abs(out[n - 1, 1] - y0) > _SAME:
            out[n] = np.array([x0, y0, 0.0])
            n += 1
            before = np.nan
        if not (abs(slope - before) < 1e-9 and out[n - 1, 2] == laid):
            n += 1
        out[n - 1] = np.array([x1, y1, laid])
        before = slope
    if foot_x == foot_x and abs(foot_y - out[n - 1, 1]) > _SAME and abs(foot_x - out[n - 1, 0]) < _SAME:
        out[n] = np.array([foot_x, foot_y, 0.0])
        n += 1
    corners = np.zeros((n, 5))
    corners[:, :2], corners[:, 3], corners[:, 4] = out[:n, :2], 1.0, out[:n, 2]
    return corners


@kernel
def side_corners(elements, layers, columns, fill_run, lift):
    """A side of elements and layers.

    Parameters
    ----------
    elements (e, 7), layers (l, 8) : see the columns above
    columns : how many columns of areas there are
    fill_run : how far out a fill batter goes for a metre of height, for layers that end at it; NaN where the side is in
        cut, where they end at their own edge
    lift : level at the centreline over the grade line. [m]

    Returns
    -------
    start (e + 1,) and corners (c, 2): those of element i, outwards, behind where it begins
    surface (k, 2): the same without those that stand twice
    formation (f, 5): see `Variant`
    areas (columns,), what is put back [m2] and the height of walls [m]
    parts (m, 2, 5) and which layer each is of (m,)
    """
    count = elements.shape[0]
    start = np.zeros(count + 1, np.int64)
    corners = np.empty((3 * count, 2))
    walls = 0.0
    x, y, c = 0.0, lift, 0
    drain = -1
    for i in range(count):
        start[i] = c
        c += corners_of(elements[i], x, y, corners[c:])
        x, y = corners[c - 1]
        if int(elements[i, CODE]) == WALL and elements[i, DROP] == elements[i, DROP]:
            walls += abs(elements[i, DROP])
        if drain < 0 and int(elements[i, CODE]) == DRAIN:
            drain = i
    start[count] = c
    surface = np.empty((c + 1, 2))
    surface[0, 0], surface[0, 1] = 0.0, lift
    k = 1
    for i in range(c):
        if corners[i, 0] != surface[k - 1, 0] or corners[i, 1] != surface[k - 1, 1]:
            surface[k] = corners[i]
            k += 1
    surface = surface[:k]
    edge = surface[k - 1, 0]
    in_fill = fill_run == fill_run
    to_batter = False
    for i in range(layers.shape[0]):
        to_batter = to_batter or int(layers[i, ENDS]) == BATTER
    top = np.empty((k, 5))
    n = 0
    for i in range(k - 1):
        if surface[i + 1, 0] > surface[i, 0]:
            top[n, 0], top[n, 1] = surface[i]
            top[n, 2], top[n, 3] = surface[i + 1]
            top[n, 4] = 0.0
            n += 1
    if in_fill and to_batter:
        top[n] = np.array([x, y, x + fill_run * _DEEP_M, y - _DEEP_M, 0.0])
        n += 1
    top = top[:n]
    under = top
    areas = np.zeros(columns)
    inside = 0.0
    laid_parts = np.empty((0, 2, 5))
    of = np.empty(0, np.int64)
    for i in range(layers.shape[0]):
        layer = layers[i]
        first, last = int(layer[FIRST]), int(layer[LAST])
        if last < first:
            continue
        column = int(layer[COLUMN])
        number = column + 1.0 if layer[TO_GROUND] != 0.0 else 0.0
        x0 = corners[start[first] - 1, 0] if first > 0 else 0.0
        x1 = corners[start[last + 1] - 1, 0]
        own = _clipped(under, x0, x1)
        for j in range(own.shape[0]):
            own[j, 1] -= layer[THICKNESS]
            own[j, 3] -= layer[THICKNESS]
            own[j, 4] = 0.0
        between = _parts(under, own, number)
        far = x1 + layer[EXTEND]
        if int(layer[ENDS]) == BATTER and in_fill:
            far = top[n - 1, 2]
        elif int(layer[ENDS]) == DRAIN_FRONT and drain > last:
            far = corners[start[drain], 0]
        under = _lowered(under, between)
        if own.shape[0] > 0 and far > x1:
            end = own[own.shape[0] - 1]
            fall = layer[EXTEND_FALL]
            if fall != fall:
                fall = (end[1] - end[3]) / (end[2] - end[0])
            on = np.array([[x1, end[3], far, end[3] - fall * (far - x1), 0.0]])
            beyond = _parts(under, on, number)
            under = _lowered(under, beyond)
            # Beyond its elements it is no thicker than it is; what lies over it there is earth.
            thin = np.empty((2 * beyond.shape[0], 2, 5))
            t = 0
            for j in range(beyond.shape[0]):
                t += _no_thicker(beyond[j], layer[THICKNESS], thin[t:])
            between = np.concatenate((between, thin[:t]))
        total, within = 0.0, 0.0
        for j in range(between.shape[0]):
            total += _area(between[j])
            within += _area_until(between[j], edge)
        areas[column] += total
        inside += within
        laid_parts = np.concatenate((laid_parts, between))
        of = np.concatenate((of, np.full(between.shape[0], i, np.int64)))
    # The formation goes to the surface's edge, or to where the last layer meets the batter.
    end_x = edge
    both = _together(top, under)
    for j in range(both.shape[0]):
        a, b = both[j, 0], both[j, 1]
        if (a[1] - b[1] > _SAME or a[3] - b[3] > _SAME) and a[2] > end_x:
            end_x = a[2]
    upright = surface[k - 1, 0] == surface[k - 2, 0]
    formation = _formation(under, end_x, edge if upright else np.nan, surface[k - 1, 1])
    whole = 0.0
    both = _together(_clipped(top, 0.0, edge), _clipped(under, 0.0, edge))
    for j in range(both.shape[0]):
        whole += _area(both[j])
    back = whole - inside
    return start, corners[:c], surface, formation, areas, back if back > 1e-9 else 0.0, walls, laid_parts, of
