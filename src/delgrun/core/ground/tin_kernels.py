"""Compiled work on triangles: index, levels, trimming, and lines cut through them.

A line is cut by clipping it against every triangle near it, each on its own. No walk from triangle
to triangle can then get lost at a vertex, along an edge or at a gap: the pieces are sorted afterwards.
"""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def _box_of_cells(xyz, triangles, t, x0, y0, size, nx, ny):
    """First and last column, first and last row of the cells that a triangle's box touches."""
    a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
    i0 = int((min(xyz[a, 0], xyz[b, 0], xyz[c, 0]) - x0) / size)
    i1 = int((max(xyz[a, 0], xyz[b, 0], xyz[c, 0]) - x0) / size)
    j0 = int((min(xyz[a, 1], xyz[b, 1], xyz[c, 1]) - y0) / size)
    j1 = int((max(xyz[a, 1], xyz[b, 1], xyz[c, 1]) - y0) / size)
    return max(i0, 0), min(i1, nx - 1), max(j0, 0), min(j1, ny - 1)


@kernel
def count_cells(xyz, triangles, x0, y0, size, nx, ny):
    """In how many cells the triangles stand, all together."""
    total = 0
    for t in range(triangles.shape[0]):
        i0, i1, j0, j1 = _box_of_cells(xyz, triangles, t, x0, y0, size, nx, ny)
        total += (i1 - i0 + 1) * (j1 - j0 + 1)
    return total


@kernel
def bin_triangles(xyz, triangles, x0, y0, size, nx, ny):
    """Triangle numbers by grid cell: (nx*ny + 1,) starts and the list they point into."""
    m = triangles.shape[0]
    count = np.zeros(nx * ny + 1, np.int64)
    for step in range(2):
        if step == 1:
            for c in range(nx * ny):
                count[c + 1] += count[c]
            out = np.empty(count[nx * ny], np.int32)
            fill = count[:-1].copy()
        for t in range(m):
            i0, i1, j0, j1 = _box_of_cells(xyz, triangles, t, x0, y0, size, nx, ny)
            for i in range(i0, i1 + 1):
                for j in range(j0, j1 + 1):
                    cell = i * ny + j
                    if step == 0:
                        count[cell + 1] += 1
                    else:
                        out[fill[cell]] = t
                        fill[cell] += 1
    return count, out


@kernel
def plane_level(xyz, a, b, c, x, y):
    """Level of a triangle's plane at (x, y)."""
    ux, uy = xyz[b, 0] - xyz[a, 0], xyz[b, 1] - xyz[a, 1]
    vx, vy = xyz[c, 0] - xyz[a, 0], xyz[c, 1] - xyz[a, 1]
    det = ux * vy - uy * vx
    px, py = x - xyz[a, 0], y - xyz[a, 1]
    s = (px * vy - py * vx) / det
    t = (ux * py - uy * px) / det
    return xyz[a, 2] + s * (xyz[b, 2] - xyz[a, 2]) + t * (xyz[c, 2] - xyz[a, 2])


@kernel
def depth_within(xyz, a, b, c, x, y):
    """How far (x, y) lies within the nearest edge of a triangle, negative outside. [m]"""
    worst = 1e30
    for k in range(3):
        p = a if k == 0 else (b if k == 1 else c)
        q = b if k == 0 else (c if k == 1 else a)
        ex, ey = xyz[q, 0] - xyz[p, 0], xyz[q, 1] - xyz[p, 1]
        cross = ex * (y - xyz[p, 1]) - ey * (x - xyz[p, 0])
        worst = min(worst, cross / np.sqrt(ex * ex + ey * ey))
    return worst


@kernel
def _inside(xyz, a, b, c, x, y):
    """Whether (x, y) lies in the triangle, its edges included to a hundredth of a millimetre."""
    return depth_within(xyz, a, b, c, x, y) >= -1e-5


@kernel
def levels(xyz, triangles, x0, y0, size, nx, ny, start, members, easting, northing):
    """(n,) levels, NaN outside every triangle."""
    out = np.full(easting.shape[0], np.nan)
    for p in range(easting.shape[0]):
        # A rounding before the first cell belongs to it, and so does the far edge of the last one.
        if easting[p] < x0 - 1e-5 or northing[p] < y0 - 1e-5:
            continue
        i = min(max(int((easting[p] - x0) / size), 0), nx - 1)
        j = min(max(int((northing[p] - y0) / size), 0), ny - 1)
        cell = i * ny + j
        # The triangle that holds it best: beside a narrow one, a hundredth of a millimetre outside is a level apart.
        best = -1e-5
        for k in range(start[cell], start[cell + 1]):
            t = members[k]
            a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
            depth = depth_within(xyz, a, b, c, easting[p], northing[p])
            if depth >= best:
                out[p] = plane_level(xyz, a, b, c, easting[p], northing[p])
                best = depth
                if depth > 1e-6:
                    break
    return out


@kernel
def _clip_segment(xyz, a, b, c, px, py, dx, dy, length):
    """Distances along a segment at which it enters and leaves a triangle; entry > leave: it misses."""
    t0, t1 = 0.0, length
    for k in range(3):
        p = a if k == 0 else (b if k == 1 else c)
        q = b if k == 0 else (c if k == 1 else a)
        ex, ey = xyz[q, 0] - xyz[p, 0], xyz[q, 1] - xyz[p, 1]
        side = ex * (py - xyz[p, 1]) - ey * (px - xyz[p, 0])
        rate = ex * dy - ey * dx
        if abs(rate) < 1e-12 * np.sqrt(ex * ex + ey * ey):
            # Parallel to this edge: inside it, or along it, or outside.
            if side < -1e-7 * np.sqrt(ex * ex + ey * ey):
                return 1.0, 0.0
        elif rate > 0:
            t0 = max(t0, -side / rate)
        else:
            t1 = min(t1, -side / rate)
    return t0, t1


@kernel
def cut_segment(xyz, triangles, x0, y0, size, nx, ny, start, members, px, py, dx, dy, length, out):
    """Pieces of one segment inside triangles, unsorted: rows (from, to, level, level) in `out`.

    (px, py) is its start, (dx, dy) its unit direction. Returns the number of rows; when `out` is too
    small, minus one.
    """
    rows = 0
    qx = px + dx * length
    i0 = max(int(np.floor((min(px, qx) - x0) / size)), 0)
    i1 = min(int(np.floor((max(px, qx) - x0) / size)), nx - 1)
    for i in range(i0, i1 + 1):
        # Stretch of the segment within this column of cells, and so the rows of cells it touches.
        ta, tb = 0.0, length
        if abs(dx) > 1e-12:
            u, v = (x0 + i * size - px) / dx, (x0 + (i + 1) * size - px) / dx
            ta, tb = max(ta, min(u, v)), min(tb, max(u, v))
        ya, yb = py + dy * ta, py + dy * tb
        j0 = max(int(np.floor((min(ya, yb) - y0) / size - 1e-6)), 0)
        j1 = min(int(np.floor((max(ya, yb) - y0) / size + 1e-6)), ny - 1)
        for j in range(j0, j1 + 1):
            cell = i * ny + j
            for k in range(start[cell], start[cell + 1]):
                t = members[k]
                a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
                u, v = _clip_segment(xyz, a, b, c, px, py, dx, dy, length)
                if v - u < 1e-9:
                    continue
                # A triangle stands in several cells; the one that holds the middle of the piece reports it.
                mid = (u + v) / 2
                mi = min(max(int(np.floor((px + dx * mid - x0) / size)), 0), nx - 1)
                mj = min(max(int(np.floor((py + dy * mid - y0) / size)), 0), ny - 1)
                if mi != i or mj != j:
                    continue
                if rows == out.shape[0]:
                    return -1
                out[rows, 0], out[rows, 1] = u, v
                out[rows, 2] = plane_level(xyz, a, b, c, px + dx * u, py + dy * u)
                out[rows, 3] = plane_level(xyz, a, b, c, px + dx * v, py + dy * v)
                rows += 1
    return rows


@kernel
def cut_arc(xyz, triangles, x0, y0, size, nx, ny, start, members, cx, cy, radius, from_angle, sweep, out):
    """As cut_segment, for an arc about (cx, cy); distances run along the arc, `sweep` is signed [rad]."""
    rows = 0
    arc = radius * abs(sweep)
    sign = 1.0 if sweep > 0 else -1.0
    hit = np.empty(8)
    # Cells are taken along the arc in steps shorter than half a cell, each once.
    steps = int(arc / (size * 0.5)) + 2
    # The arc is nowhere further from its points than its rise over a step: of cells beside it only those it may touch.
    rise = radius * (1 - np.cos(sweep / steps / 2)) + 1e-6
    left, low = np.inf, np.inf
    right, high = -np.inf, -np.inf
    for step in range(steps + 1):
        angle = from_angle + sweep * step / steps
        x, y = cx + radius * np.cos(angle), cy + radius * np.sin(angle)
        left, right = min(left, x - rise), max(right, x + rise)
        low, high = min(low, y - rise), max(high, y + rise)
    i0, i1 = max(int(np.floor((left - x0) / size)), 0), min(int(np.floor((right - x0) / size)), nx - 1)
    j0, j1 = max(int(np.floor((low - y0) / size)), 0), min(int(np.floor((high - y0) / size)), ny - 1)
    seen = set()
    for step in range(steps + 1):
        angle = from_angle + sweep * step / steps
        ci = int(np.floor((cx + radius * np.cos(angle) - x0) / size))
        cj = int(np.floor((cy + radius * np.sin(angle) - y0) / size))
        for i in range(max(ci - 1, i0), min(ci + 1, i1) + 1):
            for j in range(max(cj - 1, j0), min(cj + 1, j1) + 1):
                cell = i * ny + j
                if cell in seen:
                    continue
                seen.add(cell)
                for k in range(start[cell], start[cell + 1]):
                    t = members[k]
                    a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
                    # With all corners within the circle there is no piece of it in a triangle.
                    far = 0.0
                    for e in range(3):
                        fx, fy = xyz[triangles[t, e], 0] - cx, xyz[triangles[t, e], 1] - cy
                        far = max(far, fx * fx + fy * fy)
                    if far < (radius - 1e-6) ** 2:
                        continue
                    hits = 2
                    hit[0], hit[1] = 0.0, arc
                    for e in range(3):
                        p = triangles[t, e]
                        q = triangles[t, (e + 1) % 3]
                        fx, fy = xyz[p, 0] - cx, xyz[p, 1] - cy
                        gx, gy = xyz[q, 0] - xyz[p, 0], xyz[q, 1] - xyz[p, 1]
                        g2 = gx * gx + gy * gy
                        half = (fx * gx + fy * gy) / g2
                        disc = half * half - (fx * fx + fy * fy - radius * radius) / g2
                        if disc < 0:
                            continue
                        root = np.sqrt(disc)
                        for s in range(2):
                            u = -half - root if s == 0 else -half + root
                            if u < -1e-12 or u > 1 + 1e-12:
                                continue
                            at = np.arctan2(fy + u * gy, fx + u * gx)
                            run = sign * (at - from_angle) % (2 * np.pi) * radius
                            if 0 < run < arc:
                                hit[hits] = run
                                hits += 1
                    ordered = np.sort(hit[:hits])
                    for h in range(hits - 1):
                        u, v = ordered[h], ordered[h + 1]
                        if v - u < 1e-9:
                            continue
                        mid = from_angle + sign * (u + v) / 2 / radius
                        mx, my = cx + radius * np.cos(mid), cy + radius * np.sin(mid)
                        if not _inside(xyz, a, b, c, mx, my):
                            continue
                        mi = min(max(int(np.floor((mx - x0) / size)), 0), nx - 1)
                        mj = min(max(int(np.floor((my - y0) / size)), 0), ny - 1)
                        if mi != i or mj != j:
                            continue
                        if rows == out.shape[0]:
                            return -1
                        w = from_angle + sign * u / radius
                        out[rows, 0], out[rows, 1] = u, v
                        out[rows, 2] = plane_level(xyz, a, b, c, cx + radius * np.cos(w), cy + radius * np.sin(w))
                        w = from_angle + sign * v / radius
                        out[rows, 3] = plane_level(xyz, a, b, c, cx + radius * np.cos(w), cy + radius * np.sin(w))
                        rows += 1
    return rows


@kernel
def chain_pieces(pieces, rows, out):
    """Sort pieces by their start and join them: rows (distance, level, starts-after-a-gap) in `out`.

    A piece that lies within what is already covered (a line along an edge lies in two triangles) is
    passed over. Returns the number of rows.
    """
    order = np.argsort(pieces[:rows, 0])
    n = 0
    reach = -1e30
    for r in range(rows):
        u, v, zu, zv = pieces[order[r]]
        if v <= reach + 1e-7:
            continue
        if u > reach + 1e-5:
            out[n, 0], out[n, 1], out[n, 2] = u, zu, 1.0
            n += 1
        out[n, 0], out[n, 1], out[n, 2] = v, zv, 0.0
        n += 1
        reach = v
    return n


@kernel
def cut_along(xyz, triangles, x0, y0, size, nx, ny, start, members, arcs):
    """Ground along tangents and arcs (as columns of a line): rows (chainage, level, starts-after-a-gap).

    Each is chained by itself, so that where one hands over to the next the same point stands twice.
    """
    pieces = np.empty((1024, 4))
    store = np.empty((4 * len(arcs) + 1024, 3))
    used = 0
    for a in range(len(arcs)):
        e, n, heading, bent, length = arcs[a, 1], arcs[a, 2], arcs[a, 3], arcs[a, 4], arcs[a, 6]
        while True:
            if bent == 0.0:
                rows = cut_segment(
                    xyz,
                    triangles,
                    x0,
                    y0,
                    size,
                    nx,
                    ny,
                    start,
                    members,
                    e,
                    n,
                    np.cos(heading),
                    np.sin(heading),
                    length,
                    pieces,
                )
            else:
                # The centre lies to the left of an arc that turns left.
                cx, cy = e - np.sin(heading) / bent, n + np.cos(heading) / bent
                from_angle = heading - np.sign(bent) * np.pi / 2
                rows = cut_arc(
                    xyz,
                    triangles,
                    x0,
                    y0,
                    size,
                    nx,
                    ny,
                    start,
                    members,
                    cx,
                    cy,
                    1 / abs(bent),
                    from_angle,
                    length * bent,
                    pieces,
                )
            if rows >= 0:
                break
            pieces = np.empty((4 * pieces.shape[0], 4))
        if used + 2 * rows + 1 > store.shape[0]:
            bigger = np.empty((2 * store.shape[0] + 2 * rows + 1, 3))
            bigger[:used] = store[:used]
            store = bigger
        m = chain_pieces(pieces, rows, store[used:])
        for r in range(used, used + m):
            store[r, 0] += arcs[a, 0]
        used += m
    return store[:used].copy()


@kernel
def cut_sections(xyz, triangles, x0, y0, size, nx, ny, start, members, e, n, direction, half_width):
    """Ground across the line at many chainages: (k + 1,) starts and (r, 2) offsets and levels.

    Offsets run from left (negative) to right; only the ground that hangs together with the centreline
    is kept, and a chainage without ground at the centreline has no rows.
    """
    k = e.shape[0]
    starts = np.zeros(k + 1, np.int64)
    store = np.empty((k * 64 + 1024, 2))
    pieces = np.empty((1024, 4))
    chain = np.empty((2048, 3))
    used = 0
    for s in range(k):
        # Right of the direction of travel is the direction turned by a quarter clockwise.
        rx, ry = np.sin(direction[s]), -np.cos(direction[s])
        px, py = e[s] - rx * half_width, n[s] - ry * half_width
        while True:
            rows = cut_segment(
                xyz, triangles, x0, y0, size, nx, ny, start, members, px, py, rx, ry, 2 * half_width, pieces
            )
            if rows >= 0:
                break
            pieces = np.empty((2 * pieces.shape[0], 4))
            chain = np.empty((4 * pieces.shape[0], 3))
        m = chain_pieces(pieces, rows, chain)
        # The stretch without gaps that holds offset 0.
        lo = 0
        for r in range(m):
            if chain[r, 2] == 1.0:
                lo = r
            last = r == m - 1 or chain[r + 1, 2] == 1.0
            if last and chain[lo, 0] <= half_width <= chain[r, 0]:
                if used + r + 1 - lo > store.shape[0]:
                    bigger = np.empty((2 * store.shape[0] + r, 2))
                    bigger[:used] = store[:used]
                    store = bigger
                for q in range(lo, r + 1):
                    store[used, 0] = chain[q, 0] - half_width
                    store[used, 1] = chain[q, 1]
                    used += 1
                break
        starts[s + 1] = used
    return starts, store[:used].copy()
