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
    formation : (k, 2) corners of this side's formation outwards from offset 0, relative to the grade line.
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
    last = formation.shape[0] - 1
    edge = formation[last, 0]
    edge_level = at_level + formation[last, 1]
    j = 0
    # Across the formation: piece by piece between ground points and formation corners.
    x, g = offset[0], level[0]
    f = at_level + formation[0, 1]
    part = 0
    complete = False
    while j < n - 1 and part < last:
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
            complete = part == last
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


# A batter's reach that grows by more than this from one row to the next may have jumped. [m]
_REACH_STEP_M = 0.25
# Smaller jumps of an area are not worth keeping. [m2]
_LEAST_JUMP_M2 = 1e-4


@kernel
def _jump(o, z, formation, centre, strip, cut_batter, fill_batter, lo, hi, low, high):
    """Narrow a jump of one side between heights lo and hi above the centre; returns its height.

    `low` and `high` (5,) hold the side's values on both sides of it afterwards.
    """
    mid = np.empty(5)
    for _ in range(40):
        h = (lo + hi) / 2
        side_areas(o, z, formation, centre + h, strip, cut_batter, fill_batter, mid)
        if abs(mid[2] - low[2]) >= abs(high[2] - mid[2]):
            hi = h
            high[:] = mid
        else:
            lo = h
            low[:] = mid
    return hi


@kernel
def depth_tables(start, offset, level, centre, formation, strip, cut_batter, fill_batter, lowest, step, count):
    """Tables of cut, fill [m2], reach left and right [m] by height above the ground at the centreline.

    Returns
    -------
    (n, count, 4) spline control values, (n, count) catch bits (1 left, 2 right found ground), and the
    jumps: (n + 1,) where each section's begin, (r,) row positions, (r, 4) sizes, upwards

    Notes
    -----
    Row k of section i comes from the exact section at height lowest + k * step. The rows are the control
    values of a quadratic B-spline, each less an eighth of its second difference, which makes the spline
    exact wherever the area is quadratic in the height: that is, everywhere but within a row of where a
    batter passes a bend of the ground. Where a rising batter lifts off a bump and lands further out,
    areas and reach jump; no spline can follow that, so each jump is found by bisection and kept.
    """
    n = centre.shape[0]
    table = np.zeros((n, count, 4), np.float32)
    caught = np.zeros((n, count), np.uint8)
    exact = np.zeros((count, 4))
    one = np.empty(5)
    sides = np.empty((2, count, 5))
    jump_start = np.zeros(n + 1, np.int64)
    jump_at, jump_size = np.empty(64), np.empty((64, 4))
    jumps = 0
    for i in range(n):
        jump_start[i + 1] = jumps
        a, b = start[i], start[i + 1]
        if b - a < 2:
            continue
        for side in range(2):
            o, z = split_sides(offset[a:b], level[a:b], 2 * side - 1)
            for k in range(count):
                at = centre[i] + lowest + k * step
                side_areas(o, z, formation, at, strip, cut_batter, fill_batter, one)
                sides[side, k] = one
                if k == 0 or abs(one[2] - sides[side, k - 1, 2]) < _REACH_STEP_M:
                    continue
                low, high = sides[side, k - 1].copy(), one.copy()
                h = _jump(
                    o,
                    z,
                    formation,
                    centre[i],
                    strip,
                    cut_batter,
                    fill_batter,
                    lowest + (k - 1) * step,
                    lowest + k * step,
                    low,
                    high,
                )
                if abs(high[0] - low[0]) + abs(high[1] - low[1]) < _LEAST_JUMP_M2:
                    continue
                if jumps == jump_at.shape[0]:
                    more_at, more_size = np.empty(2 * jumps), np.empty((2 * jumps, 4))
                    more_at[:jumps], more_size[:jumps] = jump_at, jump_size
                    jump_at, jump_size = more_at, more_size
                jump_at[jumps] = (h - lowest) / step
                jump_size[jumps] = 0.0
                jump_size[jumps, 0], jump_size[jumps, 1] = high[0] - low[0], high[1] - low[1]
                jump_size[jumps, 2 + side] = high[2] - low[2]
                jumps += 1
        jump_start[i + 1] = jumps
        for k in range(count):
            exact[k, 0], exact[k, 1] = sides[0, k, 0] + sides[1, k, 0], sides[0, k, 1] + sides[1, k, 1]
            exact[k, 2], exact[k, 3] = sides[0, k, 2], sides[1, k, 2]
            caught[i, k] = int(sides[0, k, 3]) + 2 * int(sides[1, k, 3])
        for k in range(count):
            for c in range(4):
                bend = 0.0
                if 0 < k < count - 1:
                    bend = exact[k - 1, c] - 2 * exact[k, c] + exact[k + 1, c]
                table[i, k, c] = exact[k, c] - bend / 8
    return table, caught, jump_start, jump_at[:jumps].copy(), jump_size[:jumps].copy()


@kernel
def step_less_spline(u, at):
    """What the spline of a unit step at row position `at` is short of the step itself, at row position u.

    Nothing further than three rows away; never more than 1 1/16 in size.
    """
    k0 = np.floor(at)
    if at == k0:
        k0 -= 1.0
    x = u - k0
    if x <= -1.5 or x >= 2.5:
        return 0.0
    k = int(np.floor(x + 0.5))
    t = x - k
    # Control values of the sampled step: 0 up to row -1, then -1/8 and 9/8 about it, then 1.
    a, b, d = _step_control(k - 1), _step_control(k), _step_control(k + 1)
    value = a * (0.5 - t) ** 2 / 2 + b * (0.75 - t * t) + d * (0.5 + t) ** 2 / 2
    return (1.0 if u >= at else 0.0) - value


@kernel
def _step_control(k):
    if k < 0:
        return 0.0
    if k == 0:
        return -0.125
    return 1.125 if k == 1 else 1.0


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
def look_up(table, caught, jump_start, jump_at, jump_size, centre, lowest, step, levels, out, bits):
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
            out[i, c] = spline(table, i, c, u)[0]
        for j in range(jump_start[i], jump_start[i + 1]):
            share = step_less_spline(u, jump_at[j])
            if share != 0.0:
                for c in range(4):
                    out[i, c] += share * jump_size[j, c]
        for c in range(4):
            out[i, c] = max(out[i, c], 0.0)
        bits[i] = caught[i, k] & caught[i, k + 1]
