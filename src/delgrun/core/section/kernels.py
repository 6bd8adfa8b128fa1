"""Compiled areas of one section: formation and batters against the ground."""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def _positive_area(width, left, right):
    """Area above zero of a straight line from `left` to `right` over `width`."""
    if left >= 0 and right >= 0:
        return width * (left + right) / 2
    if left <= 0 and right <= 0:
        return 0.0
    if left > 0:
        return width * left * left / (left - right) / 2
    return width * right * right / (right - left) / 2


@kernel
def side_areas(offset, level, formation, at_level, strip, cut_batter, fill_batter, out):
    """Cut, fill, reach and catch of one side.

    Parameters
    ----------
    offset, level : (n,) ground from the centreline outwards, offset[0] = 0. [m]
    formation : (3, 2) formation of this side, relative to the grade line.
    at_level : level of the grade line. [m]
    strip : topsoil depth: areas are taken to the ground less this, catch points to the ground itself. [m]
    out : (5,) filled with cut [m2], fill [m2], offset of the catch point or of the last ground [m], 1.0 where the
        batter found ground, and the level at that offset. [m]

    Notes
    -----
    Whether a side is in cut or in fill is told by the ground at the formation's edge. On a cut side
    the batter counts cut only, on a fill side fill only: between batter and stripped ground at the
    very catch point there is neither.
    """
    cut, fill = 0.0, 0.0
    n = offset.shape[0]
    edge = formation[2, 0]
    edge_level = at_level + formation[2, 1]
    j = 0
    # Across the formation: piece by piece between ground points and formation corners.
    x, g = offset[0], level[0]
    f = at_level + formation[0, 1]
    part = 0
    complete = False
    while j < n - 1 and part < 2:
        nx = min(offset[j + 1], formation[part + 1, 0])
        run = offset[j + 1] - offset[j]
        ng = level[j] + (level[j + 1] - level[j]) * ((nx - offset[j]) / run if run > 0 else 1.0)
        share = (nx - formation[part, 0]) / (formation[part + 1, 0] - formation[part, 0])
        nf = at_level + formation[part, 1] + (formation[part + 1, 1] - formation[part, 1]) * share
        da, db = g - strip - f, ng - strip - nf
        cut += _positive_area(nx - x, da, db)
        fill += _positive_area(nx - x, -da, -db)
        x, g, f = nx, ng, nf
        if nx == formation[part + 1, 0]:
            part += 1
            complete = part == 2
        if nx == offset[j + 1]:
            j += 1
    out[3], out[4] = 0.0, g
    if complete:
        in_cut = g > edge_level
        slope = 1.0 / cut_batter if in_cut else -1.0 / fill_batter
        sign = 1.0 if in_cut else -1.0
        b = edge_level
        if sign * (g - b) <= 0:
            out[3] = 1.0
        while out[3] == 0.0 and j < n - 1:
            nx, ng = offset[j + 1], level[j + 1]
            nb = edge_level + slope * (nx - edge)
            da, db = sign * (g - b), sign * (ng - nb)
            if db <= 0:
                # The batter meets the ground within this piece.
                share = da / (da - db) if da > db else 1.0
                nx = x + (nx - x) * share
                nb = edge_level + slope * (nx - edge)
                ng, db = nb, 0.0
                out[3] = 1.0
            area = _positive_area(nx - x, da - sign * strip, db - sign * strip)
            if in_cut:
                cut += area
            else:
                fill += area
            x, g, b = nx, ng, nb
            j += 1
        out[4] = b
    out[0], out[1], out[2] = cut, fill, x


@kernel
def split_sides(offset, level, side):
    """One side's ground outwards from the centreline: offsets from 0 and levels. `side` is -1 left, 1 right."""
    n = offset.shape[0]
    centre = 0.0
    at = n
    for i in range(n):
        if offset[i] >= 0:
            at = i
            break
    if at == 0 or offset[at] == 0:
        centre = level[at]
    else:
        u = -offset[at - 1] / (offset[at] - offset[at - 1])
        centre = level[at - 1] * (1 - u) + level[at] * u
    o, z = np.empty(n + 1), np.empty(n + 1)
    o[0], z[0] = 0.0, centre
    m = 1
    if side > 0:
        for i in range(at, n):
            if offset[i] > 1e-9:
                o[m], z[m] = offset[i], level[i]
                m += 1
    else:
        for i in range(at - 1, -1, -1):
            if offset[i] < -1e-9:
                o[m], z[m] = -offset[i], level[i]
                m += 1
    return o[:m].copy(), z[:m].copy()


@kernel
def depth_tables(start, offset, level, centre, formation, strip, cut_batter, fill_batter, lowest, step, count):
    """(n, count, 4) control values of cut, fill [m2], reach left and right [m], and (n, count) catch bits.

    Row k of section i comes from the exact section at height lowest + k * step above the ground at the
    centreline. The rows are the control values of a quadratic B-spline, each less an eighth of its
    second difference, which makes the spline exact wherever the area is quadratic in the height: that
    is, everywhere but within a row of where a batter passes a bend of the ground. Catch bits: 1 left,
    2 right found ground.
    """
    n = centre.shape[0]
    table = np.zeros((n, count, 4))
    caught = np.zeros((n, count), np.uint8)
    exact = np.zeros((count, 4))
    one = np.empty(5)
    for i in range(n):
        a, b = start[i], start[i + 1]
        if b - a < 2:
            continue
        lo, lz = split_sides(offset[a:b], level[a:b], -1)
        ro, rz = split_sides(offset[a:b], level[a:b], 1)
        for k in range(count):
            at = centre[i] + lowest + k * step
            side_areas(lo, lz, formation, at, strip, cut_batter, fill_batter, one)
            cut, fill, reach, bits = one[0], one[1], one[2], int(one[3])
            side_areas(ro, rz, formation, at, strip, cut_batter, fill_batter, one)
            exact[k, 0], exact[k, 1], exact[k, 2], exact[k, 3] = cut + one[0], fill + one[1], reach, one[2]
            caught[i, k] = bits + 2 * int(one[3])
        for k in range(count):
            for c in range(4):
                bend = 0.0
                if 0 < k < count - 1:
                    bend = exact[k - 1, c] - 2 * exact[k, c] + exact[k + 1, c]
                table[i, k, c] = max(exact[k, c] - bend / 8, 0.0)
    return table, caught


@kernel
def spline(table, i, c, u):
    """Value of column c of section i at row position u, its slope and its bend per row.

    Quadratic B-spline of the rows; past the ends it goes on straight.
    """
    count = table.shape[1]
    k = min(max(int(np.floor(u + 0.5)), 1), count - 2)
    t = min(max(u - k, -0.5), 0.5)
    a, b, d = table[i, k - 1, c], table[i, k, c], table[i, k + 1, c]
    slope = d * (0.5 + t) - a * (0.5 - t) - 2 * t * b
    value = a * (0.5 - t) ** 2 / 2 + b * (0.75 - t * t) + d * (0.5 + t) ** 2 / 2
    past = u - k - t
    return value + past * slope, slope, (a - 2 * b + d if past == 0.0 else 0.0)


@kernel
def look_up(table, caught, centre, lowest, step, levels, out, bits):
    """Cut, fill, reach left and right of every section at these levels: (n, 4) `out`.

    Without ground all is zero and no batter catches.
    """
    count = table.shape[1]
    for i in range(levels.shape[0]):
        if not (centre[i] == centre[i] and levels[i] == levels[i]):
            out[i, :] = 0.0
            bits[i] = 0
            continue
        u = (levels[i] - centre[i] - lowest) / step
        k = min(max(int(np.floor(u)), 0), count - 2)
        for c in range(4):
            out[i, c] = max(spline(table, i, c, u)[0], 0.0)
        bits[i] = caught[i, k] & caught[i, k + 1]
