"""Compiled work of building a surface: its triangles within the outline, who is beside whom, and what it comes to."""

import numpy as np

from delgrun.core.kernels import kernel


@kernel
def outer(plan, margin):
    """(k,) points that may be corners of the convex hull.

    They are those that are not inside, by more than `margin`, of the octagon of the points furthest in eight directions
    (S. G. Akl, G. T. Toussaint, A fast convex hull algorithm, 1978, with eight directions for four).
    """
    n = plan.shape[0]
    far = np.zeros(8, np.int64)
    most = np.full(8, -np.inf)
    for p in range(n):
        x, y = plan[p, 0], plan[p, 1]
        for w, d in enumerate((x, x + y, y, y - x, -x, -x - y, -y, x - y)):
            if d > most[w]:
                most[w], far[w] = d, p
    found = [np.int64(0) for _ in range(0)]
    for p in range(n):
        for w in range(8):
            ax, ay = plan[far[w], 0], plan[far[w], 1]
            dx, dy = plan[far[(w + 1) % 8], 0] - ax, plan[far[(w + 1) % 8], 1] - ay
            if dx == 0.0 and dy == 0.0:
                continue
            if dx * (plan[p, 1] - ay) - dy * (plan[p, 0] - ax) <= margin * np.hypot(dx, dy):
                found.append(np.int64(p))
                break
    return np.array(found)


@kernel
def within_edges(vertices, neighbours, count, fixed):
    """Triangles between `count` points that the three before them (the triangle around all) can't reach.

    A way ends at an edge whose number, lower point times `count` plus higher, is in `fixed`, sorted. Returns (m, 3)
    point numbers, and (m, 3) neighbours with -1 where there is none.
    """
    n = vertices.shape[0]
    outside = np.zeros(n, np.bool_)
    stack = [np.int64(-1)]
    for t in range(n):
        low = min(vertices[t, 0], vertices[t, 1], vertices[t, 2])
        high = max(vertices[t, 0], vertices[t, 1], vertices[t, 2])
        if low < 3 or high >= count + 3:
            outside[t] = True
            if high < count + 3:
                stack.append(t)
    while len(stack) > 1:
        t = stack.pop()
        for side in range(3):
            other = np.int64(neighbours[t, side])
            if other >= n or outside[other]:
                continue
            low, high = np.int64(-1), np.int64(-1)
            for k in range(3):
                for h in range(3):
                    if vertices[t, k] == vertices[other, h]:
                        low, high = high, np.int64(vertices[t, k]) - 3
            number = min(low, high) * count + max(low, high)
            at = np.searchsorted(fixed, number)
            if at == len(fixed) or fixed[at] != number:
                outside[other] = True
                stack.append(other)
    place = np.cumsum(~outside) - 1
    m = place[-1] + 1
    triangles = np.empty((m, 3), np.int32)
    beside = np.full((m, 3), -1, np.int64)
    for t in range(n):
        if not outside[t]:
            for k in range(3):
                triangles[place[t], k] = vertices[t, k] - 3
                other = neighbours[t, k]
                if other < n and not outside[other]:
                    beside[place[t], k] = place[other]
    return triangles, beside


@kernel
def twins(triangles, neighbours):
    """(3 m,) for edge k of triangle t, at 3 t + k, the same edge in neighbour k, or -1 at the outline.

    Edge k runs from corner k to the next. -2 where a neighbour does not share the edge the other way round.
    """
    m = triangles.shape[0]
    twin = np.full(3 * m, -1, np.int64)
    for t in range(m):
        for k in range(3):
            other = neighbours[t, k]
            if other < 0:
                continue
            twin[3 * t + k] = -2
            for h in range(3):
                if (
                    triangles[t, k] == triangles[other, (h + 1) % 3]
                    and triangles[t, (k + 1) % 3] == triangles[other, h]
                ):
                    twin[3 * t + k] = 3 * other + h
    return twin


@kernel
def first_unpaired(twin):
    """The first edge whose twin is none of its own, or -1."""
    for h in range(twin.shape[0]):
        if twin[h] < -1 or (twin[h] >= 0 and twin[twin[h]] != h):
            return h
    return -1


@kernel
def edges_between(triangles, ends):
    """(k,) edges of triangles that have both their points marked in `ends`: lower point times `len(ends)` plus higher.

    An edge of two triangles stands twice.
    """
    n = np.int64(ends.shape[0])
    found = [np.int64(0) for _ in range(0)]
    for t in range(triangles.shape[0]):
        for k in range(3):
            a, b = np.int64(triangles[t, k]), np.int64(triangles[t, (k + 1) % 3])
            if ends[a] and ends[b]:
                found.append(min(a, b) * n + max(a, b))
    return np.array(found)


@kernel
def trim_outer(xyz, triangles, twin, longest):
    """Triangles without those that reach the outer edge through edges longer than `longest`; `twin` as by `twins`."""
    m = triangles.shape[0]
    gone = np.zeros(m, np.bool_)
    stack = [np.int64(h) for h in range(3 * m) if twin[h] < 0]
    while len(stack) > 0:
        h = stack.pop()
        t = h // 3
        if gone[t]:
            continue
        p, q = triangles[t, h % 3], triangles[t, (h + 1) % 3]
        if np.hypot(xyz[p, 0] - xyz[q, 0], xyz[p, 1] - xyz[q, 1]) <= longest:
            continue
        gone[t] = True
        for k in range(3):
            other = twin[3 * t + k]
            if other >= 0:
                stack.append(other)
    kept = np.empty((m - gone.sum(), 3), np.int32)
    r = 0
    for t in range(m):
        if not gone[t]:
            kept[r] = triangles[t]
            r += 1
    return kept


@kernel
def looked_over(plan, triangles, lowest):
    """Twice the area of all triangles, the first that is lower than `lowest` over its longest side (or -1), and (n,)
    whether each point is in one.
    """
    total = 0.0
    flat = -1
    used = np.zeros(plan.shape[0], np.bool_)
    for t in range(triangles.shape[0]):
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        used[a] = used[b] = used[c] = True
        ux, uy = plan[b, 0] - plan[a, 0], plan[b, 1] - plan[a, 1]
        vx, vy = plan[c, 0] - plan[a, 0], plan[c, 1] - plan[a, 1]
        wx, wy = plan[c, 0] - plan[b, 0], plan[c, 1] - plan[b, 1]
        double = ux * vy - uy * vx
        longest = np.sqrt(max(ux * ux + uy * uy, vx * vx + vy * vy, wx * wx + wy * wy))
        total += double
        if flat < 0 and double <= lowest * longest:
            flat = t
    return total, flat, used


@kernel
def extents(xyz, triangles, row):
    """How many surveyed points are in a triangle, and the (6,) box of all points that are: least, then greatest."""
    used = np.zeros(len(xyz), np.bool_)
    for t in range(len(triangles)):
        for k in range(3):
            used[triangles[t, k]] = True
    count, box = 0, np.array([np.inf, np.inf, np.inf, -np.inf, -np.inf, -np.inf])
    for v in range(len(xyz)):
        if used[v]:
            count += row[v] >= 0
            for k in range(3):
                box[k], box[3 + k] = min(box[k], xyz[v, k]), max(box[3 + k], xyz[v, k])
    return count, box


@kernel
def areas(xyz, triangles):
    """Area of all triangles in plan, and along them."""
    plan = real = 0.0
    for t in range(triangles.shape[0]):
        a, b, c = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        ux, uy, uz = xyz[b, 0] - xyz[a, 0], xyz[b, 1] - xyz[a, 1], xyz[b, 2] - xyz[a, 2]
        vx, vy, vz = xyz[c, 0] - xyz[a, 0], xyz[c, 1] - xyz[a, 1], xyz[c, 2] - xyz[a, 2]
        x, y, z = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        plan += abs(z) / 2
        real += np.sqrt(x * x + y * y + z * z) / 2
    return plan, real
