"""Compiled sight in space: a straight line from eye to object against the road, its batters and the ground beside it.

What is seen against is a surface over (chainage, offset): at each section a polyline of heights over the grade line,
`row_start` (n + 1,), `row_offset` and `row_height` (r,), straight between neighbouring sections at one offset. The road
is walked in places (m,): chainage, easting, northing, cosine and sine of the direction, level of the grade line, the
section before it and the share of the way to the next one. A driver's path in a lane is its offset (m,) at each place.
"""

import numpy as np

from delgrun.core.kernels import kernel
from delgrun.core.section.area_kernels import ROOM
from delgrun.core.section.outline_kernels import VARIANT, X, Y, outline

# What is higher than the line of sight by less than this hides nothing: grazing is seen. [m]
_GRAZE_M = 1e-6


@kernel
def section_rows(ground, base, z, built, surfaces, sides, which, reach):
    """Polylines of all sections of a road: ground, batters and finished surface as heights over the grade line.

    `ground`: (n + 1,) starts, offsets and levels across; `base` (n,) what levels of `sides` are over; `z` (n,) levels
    of the line; `built`: the shapes of sides, with their `surfaces`: (v + 1,) starts and (c, 2) corners by variant;
    `which` (n, 2) shape of each side; `reach` (n, 2) of the works to the left and to the right. A section without
    ground, or line, gets no rows.

    Returns
    -------
    (n + 1,) where each section's rows start, (r,) offsets and (r,) heights
    """
    start, offset, level = ground
    n = z.shape[0]
    row_start = np.zeros(n + 1, np.int64)
    rows = np.empty((2 * offset.shape[0] + 64 * n, 2))
    at = 0
    points, found = np.empty((ROOM, 6)), np.empty(8)
    for i in range(n):
        row_start[i] = at
        a, b = start[i], start[i + 1]
        if b - a < 2 or np.isnan(z[i]) or np.isnan(reach[i, 0]) or np.isnan(reach[i, 1]):
            continue
        if at + (b - a) + 4 * ROOM > rows.shape[0]:
            more = np.empty((2 * rows.shape[0] + 4 * ROOM, 2))
            more[:at] = rows[:at]
            rows = more
        if np.isnan(base[i]):
            # Nothing is built there.
            for j in range(a, b):
                rows[at, 0], rows[at, 1] = offset[j], level[j] - z[i]
                at += 1
            continue
        for j in range(a, b):
            if offset[j] < -reach[i, 0]:
                rows[at, 0], rows[at, 1] = offset[j], level[j] - z[i]
                at += 1
        at = _side_rows(built, surfaces, sides, 2 * i, which[i, 0], z[i], base[i], -1.0, points, found, rows, at)
        at = _side_rows(built, surfaces, sides, 2 * i + 1, which[i, 1], z[i], base[i], 1.0, points, found, rows, at)
        for j in range(a, b):
            if offset[j] > reach[i, 1]:
                rows[at, 0], rows[at, 1] = offset[j], level[j] - z[i]
                at += 1
    row_start[n] = at
    return row_start, rows[:at, 0].copy(), rows[:at, 1].copy()


@kernel
def _side_rows(built, surfaces, sides, side, shape, z, base, sign, points, found, rows, at):
    """Add one side's finished surface and batter, from left to right; the middle itself with the right side."""
    count = outline(built, sides, side, shape, z - base, points, found)
    variant = built.variants[shape] + int(found[VARIANT])
    hinge = built.corners[variant + 1] - built.corners[variant] - 1
    first, last = surfaces[0][variant], surfaces[0][variant + 1]
    total = last - first
    # The hinge only where a batter goes on from there.
    batter = count - hinge if count > hinge + 1 else 0
    for m in range(total + batter) if sign > 0.0 else range(1, total + batter):
        k = m if sign > 0.0 else total + batter - m
        if k < total:
            rows[at, 0], rows[at, 1] = sign * surfaces[1][first + k, 0], surfaces[1][first + k, 1]
        else:
            p = points[hinge + k - total]
            rows[at, 0], rows[at, 1] = sign * p[X], p[Y] + base - z
        at += 1
    return at


@kernel
def _height(rows, i, o):
    """Height of section i over the grade line at an offset; NaN beyond what is known."""
    row_start, row_offset, row_height = rows
    a, b = row_start[i], row_start[i + 1]
    if b - a < 2 or o < row_offset[a] or o > row_offset[b - 1]:
        return np.nan
    lo, hi = a, b - 1
    while hi - lo > 1:
        mid = (lo + hi) // 2
        if row_offset[mid] <= o:
            lo = mid
        else:
            hi = mid
    wide = row_offset[hi] - row_offset[lo]
    if wide <= 0.0:
        return max(row_height[lo], row_height[hi])
    return row_height[lo] + (o - row_offset[lo]) / wide * (row_height[hi] - row_height[lo])


@kernel
def surface_at(places, rows, k, o):
    """Level of the surface at place k and an offset; NaN where it is not known."""
    i, share = int(places[k, 6]), places[k, 7]
    below = _height(rows, i, o)
    if share <= 0.0:
        return places[k, 5] + below
    above = _height(rows, i + 1, o)
    return places[k, 5] + below + share * (above - below)


@kernel
def _ray(places, rows, first, last, way, eye, target, profile):
    """Whether all places between two see by the straight line from `eye` to `target`, (easting, northing, level) each.

    Returns the place that hides it, -1 for none. With room in `profile` (m, 4) its rows are filled: share of the way,
    offset, level of the line and of the surface.
    """
    dx, dy, dz = target[0] - eye[0], target[1] - eye[1], target[2] - eye[2]
    found = -1
    k = first + way
    while (last - k) * way > 0:
        c, s = places[k, 3], places[k, 4]
        along = dx * c + dy * s
        if along != 0.0:
            x, y = places[k, 1] - eye[0], places[k, 2] - eye[1]
            t = (x * c + y * s) / along
            # Where the line of sight passes the section: to the right of the centreline.
            px, py = t * dx - x, t * dy - y
            o = px * s - py * c
            level = surface_at(places, rows, k, o)
            ray = eye[2] + t * dz
            if profile.shape[0] > 0:
                profile[k, 0], profile[k, 1], profile[k, 2], profile[k, 3] = t, o, ray, level
            if found < 0 and 0.0 < t < 1.0 and level > ray + _GRAZE_M:
                found = k
                if profile.shape[0] == 0:
                    return k
        k += way
    return found


@kernel
def _point(places, rows, k, share, way, o, up):
    """Easting, northing and level over the surface of a place in a lane, `share` of the way on to the next."""
    j = k + way if share > 0.0 else k
    e = places[k, 1] + o[k] * places[k, 4]
    n = places[k, 2] - o[k] * places[k, 3]
    z = surface_at(places, rows, k, o[k])
    if share > 0.0:
        e += share * (places[j, 1] + o[j] * places[j, 4] - e)
        n += share * (places[j, 2] - o[j] * places[j, 3] - n)
        z += share * (surface_at(places, rows, j, o[j]) - z)
    return e, n, z + up


@kernel
def seen_in_space(places, rows, eyes, way, o, heights, most, found_m):
    """(n,) how far ahead an object that recedes in its lane is seen from each place of `eyes`, and what hides it.

    `way`: 1 in the direction of chainage, -1 against it; `o`: offsets of the lane; `heights`: of eye and object; `most`
    (n,) is looked no further than. Infinite where nothing hides it so far, or where the road is not known; the second
    answer is the place that hides it (-1: none). Where it disappears is halved to `found_m`.
    """
    none = np.empty((0, 4))
    far, by = np.full(eyes.shape[0], np.inf), np.full(eyes.shape[0], -1)
    m = places.shape[0]
    for i in range(eyes.shape[0]):
        first = eyes[i]
        eye = _point(places, rows, first, 0.0, way, o, heights[0])
        if np.isnan(eye[2]):
            continue
        k = first + way
        while 0 <= k < m and abs(places[k, 0] - places[first, 0]) <= most[i]:
            target = _point(places, rows, k, 0.0, way, o, heights[1])
            if np.isnan(target[2]):
                break
            hides = _ray(places, rows, first, k, way, eye, target, none)
            if hides >= 0:
                low, high = 0.0, 1.0
                wide = abs(places[k, 0] - places[k - way, 0])
                while (high - low) * wide > found_m:
                    middle = 0.5 * (low + high)
                    target = _point(places, rows, k - way, middle, way, o, heights[1])
                    if _ray(places, rows, first, k, way, eye, target, none) >= 0:
                        high = middle
                    else:
                        low = middle
                far[i] = abs(places[k - way, 0] - places[first, 0]) + high * wide
                by[i] = hides
                break
            k += way
    return far, by


@kernel
def line_of_sight(places, rows, first, last, way, o, heights):
    """(m, 4) what a line of sight passes between two places: share of the way, offset, its level and the surface's.

    NaN elsewhere.
    """
    profile = np.full((places.shape[0], 4), np.nan)
    eye = _point(places, rows, first, 0.0, way, o, heights[0])
    target = _point(places, rows, last, 0.0, way, o, heights[1])
    _ray(places, rows, first, last, way, eye, target, profile)
    return profile
