"""Compiled work on two surfaces at once: what lies between them, triangle by triangle."""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def _clipped(px, py, pz, count, ax, ay, bx, by, qx, qy, qz):
    """A convex polygon with a value at each corner, cut at the line from a to b; what lies to its left stays."""
    made = 0
    for i in range(count):
        k = (i + 1) % count
        here = (bx - ax) * (py[i] - ay) - (by - ay) * (px[i] - ax)
        there = (bx - ax) * (py[k] - ay) - (by - ay) * (px[k] - ax)
        if here >= 0:
            qx[made], qy[made], qz[made] = px[i], py[i], pz[i]
            made += 1
        if (here > 0 and there < 0) or (here < 0 and there > 0):
            share = here / (here - there)
            qx[made] = px[i] + share * (px[k] - px[i])
            qy[made] = py[i] + share * (py[k] - py[i])
            qz[made] = pz[i] + share * (pz[k] - pz[i])
            made += 1
    return made


@kernel
def _under(px, py, pz, count):
    """Area of a convex polygon, and the volume between it and its plane of values."""
    area = volume = 0.0
    for i in range(1, count - 1):
        two = (px[i] - px[0]) * (py[i + 1] - py[0]) - (px[i + 1] - px[0]) * (py[i] - py[0])
        area += two / 2
        volume += two / 2 * (pz[0] + pz[i] + pz[i + 1]) / 3
    return area, volume


@kernel
def _above_zero(px, py, pz, count, sign, qx, qy, qz):
    """The part of a polygon whose values, times the sign, are above zero."""
    made = 0
    for i in range(count):
        k = (i + 1) % count
        here, there = sign * pz[i], sign * pz[k]
        if here >= 0:
            qx[made], qy[made], qz[made] = px[i], py[i], here
            made += 1
        if (here > 0 and there < 0) or (here < 0 and there > 0):
            share = here / (here - there)
            qx[made] = px[i] + share * (px[k] - px[i])
            qy[made] = py[i] + share * (py[k] - py[i])
            qz[made] = 0.0
            made += 1
    return made


@kernel
def _plane(xyz, a, b, c):
    """Level at the first corner and the rises to the east and north of a triangle's plane."""
    ux, uy, uz = xyz[b, 0] - xyz[a, 0], xyz[b, 1] - xyz[a, 1], xyz[b, 2] - xyz[a, 2]
    vx, vy, vz = xyz[c, 0] - xyz[a, 0], xyz[c, 1] - xyz[a, 1], xyz[c, 2] - xyz[a, 2]
    det = ux * vy - uy * vx
    return (uz * vy - vz * uy) / det, (ux * vz - vx * uz) / det


@kernel
def between(one, triangles, two, others, x0, y0, size, nx, ny, start, member):
    """Common area, volumes where the second surface is above and below the first, the extremes and where they are.

    Returns area, raised area, raised volume, lowered area, lowered volume, then the most above, with its place, and the
    most below, with its place. Cells are those of the second surface.
    """
    out = np.zeros(11)
    px, py, pz = np.empty(16), np.empty(16), np.empty(16)
    qx, qy, qz = np.empty(16), np.empty(16), np.empty(16)
    seen = np.full(len(others), -1, np.int64)
    for t in range(len(triangles)):
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ex, ny_ = _plane(one, a, b, c)
        low_x, high_x = min(one[a, 0], one[b, 0], one[c, 0]), max(one[a, 0], one[b, 0], one[c, 0])
        low_y, high_y = min(one[a, 1], one[b, 1], one[c, 1]), max(one[a, 1], one[b, 1], one[c, 1])
        i0, i1 = max(int((low_x - x0) // size), 0), min(int((high_x - x0) // size), nx - 1)
        j0, j1 = max(int((low_y - y0) // size), 0), min(int((high_y - y0) // size), ny - 1)
        for i in range(i0, i1 + 1):
            for j in range(j0, j1 + 1):
                for m in range(start[i * ny + j], start[i * ny + j + 1]):
                    o = member[m]
                    if seen[o] == t:
                        continue
                    seen[o] = t
                    d, e, f = others[o, 0], others[o, 1], others[o, 2]
                    if min(two[d, 0], two[e, 0], two[f, 0]) >= high_x or max(two[d, 0], two[e, 0], two[f, 0]) <= low_x:
                        continue
                    if min(two[d, 1], two[e, 1], two[f, 1]) >= high_y or max(two[d, 1], two[e, 1], two[f, 1]) <= low_y:
                        continue
                    # From the first triangle's corner on: small numbers keep their digits.
                    for k in range(3):
                        v = others[o, k]
                        px[k], py[k] = two[v, 0] - one[a, 0], two[v, 1] - one[a, 1]
                        pz[k] = two[v, 2] - (one[a, 2] + ex * px[k] + ny_ * py[k])
                    count = 3
                    for k in range(3):
                        p, q = triangles[t, k], triangles[t, (k + 1) % 3]
                        count = _clipped(
                            px, py, pz, count, one[p, 0] - one[a, 0], one[p, 1] - one[a, 1], one[q, 0] - one[a, 0],
                            one[q, 1] - one[a, 1], qx, qy, qz,
                        )  # fmt: skip
                        px, py, pz, qx, qy, qz = qx, qy, qz, px, py, pz
                        if count < 3:
                            break
                    if count < 3:
                        continue
                    area, _ = _under(px, py, pz, count)
                    out[0] += area
                    for k in range(count):
                        # Less than a nanometre is the rounding of two equal planes.
                        if abs(pz[k]) < 1e-9:
                            pz[k] = 0.0
                        if pz[k] > out[5]:
                            out[5], out[6], out[7] = pz[k], px[k] + one[a, 0], py[k] + one[a, 1]
                        if pz[k] < out[8]:
                            out[8], out[9], out[10] = pz[k], px[k] + one[a, 0], py[k] + one[a, 1]
                    for side in range(2):
                        part = _above_zero(px, py, pz, count, 1.0 if side == 0 else -1.0, qx, qy, qz)
                        if part >= 3:
                            area, volume = _under(qx, qy, qz, part)
                            out[1 + 2 * side] += area
                            out[2 + 2 * side] += volume
    return out
