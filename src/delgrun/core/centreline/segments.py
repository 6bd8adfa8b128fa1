"""A polyline cut into straights and arcs: where each begins and ends, by dynamic programming over its points."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]

# What a further piece must gain, in the logarithm of the number of points: it has so many parameters, and its end.
_LINE_PRICE, _ARC_PRICE = 4.0, 5.0
# Newton's steps for the root of Taubin's cubic.
_STEPS = 12
# Points are no better than this. [m]
_LEAST_NOISE_M = 0.005


@dataclass(frozen=True)
class Segment:
    """Points `first` to `last` (inclusive) lie on a straight (curvature 0) or an arc (positive to the left). [1/m]"""

    first: int
    last: int
    curvature: float


def noise_of(points: FloatArray) -> float:
    """How far (n, 2) points of a smooth line scatter, from the third differences of their places aside. [m]

    Third differences of evenly spaced values scatter by the root of 20 times as much; the median leaves out corners.
    """
    if len(points) < 8:
        return _LEAST_NOISE_M
    ahead = points[2:] - points[:-2]
    length = np.maximum(np.hypot(ahead[:, 0], ahead[:, 1]), 1e-9)
    way = points[1:-1] - points[:-2]
    share = np.clip((way * ahead).sum(axis=1) / length**2, 0, 1)
    aside = (ahead[:, 0] * way[:, 1] - ahead[:, 1] * way[:, 0]) / length
    # The place of a point against its neighbours' chord, had it stood in their middle.
    even = np.sqrt((1 + share**2 + (1 - share) ** 2) / 1.5)
    third = np.diff(aside / even)
    return float(max(1.4826 * np.median(np.abs(third)) / np.sqrt(5), _LEAST_NOISE_M))


def segments(points: FloatArray, noise_m: float) -> list[Segment]:
    """The cheapest way to cut (n, 2) points into straights and arcs.

    Each costs its squared residuals over the noise's, and a price for its parameters. Straights by their covariance's
    smaller eigenvalue, arcs by Taubin's fit (IEEE PAMI 13, 1991), both from running sums: all n^2 stretches are looked
    at.
    """
    n = len(points)
    xy = points - points.mean(axis=0)
    # Lengths of about one, so that sums of fourth powers keep their digits.
    scale = float(np.abs(xy).max()) or 1.0
    x, y = (xy / scale).T
    z = x * x + y * y
    sums = np.vstack(
        [np.zeros(9), np.cumsum(np.column_stack([x, y, z, x * x, x * y, y * y, x * z, y * z, z * z]), axis=0)]
    )
    price = np.log(max(n, 3))
    cost = np.full(n + 1, np.inf)
    cost[0] = 0.0
    came: list[tuple[int, float]] = [(0, 0.0)] * (n + 1)
    for end in range(2, n + 1):
        first = np.arange(0, end - 1)
        line, arc, curvature = _fits(sums[end] - sums[first], end - first)
        line = cost[first] + line * (scale / noise_m) ** 2 + _LINE_PRICE * price
        # An arc through three points proves nothing.
        arc = np.where(end - first > 3, cost[first] + arc * (scale / noise_m) ** 2 + _ARC_PRICE * price, np.inf)
        i, j = int(np.argmin(line)), int(np.argmin(arc))
        if line[i] <= arc[j]:
            cost[end], came[end] = line[i], (i, 0.0)
        else:
            cost[end], came[end] = arc[j], (j, curvature[j] / scale)
    out: list[Segment] = []
    end = n
    while end > 0:
        start, bent = came[end]
        if bent:
            bent *= _side(points[start:end])
        out.append(Segment(start, end - 1, bent))
        end = start
    return out[::-1]


def _fits(s: FloatArray, count: NDArray[np.int64]) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Squared residuals of straight and of arc, and the arc's curvature, of stretches with these sums."""
    k = count.astype(np.float64)
    mx, my = s[:, 0] / k, s[:, 1] / k
    cxx = s[:, 3] / k - mx * mx
    cxy = s[:, 4] / k - mx * my
    cyy = s[:, 5] / k - my * my
    trace, det = cxx + cyy, cxx * cyy - cxy * cxy
    least = trace / 2 - np.sqrt(np.maximum(trace * trace / 4 - det, 0))
    line = k * np.maximum(least, 0)
    # Moments of z = x^2 + y^2 about the middle of the points.
    mz = trace
    m2 = mx * mx + my * my
    # Sums of x z, y z and z z shifted to the middle.
    ex, ey, ez = s[:, 6] / k, s[:, 7] / k, s[:, 8] / k
    sz = s[:, 2] / k
    cxz = ex - mx * sz - 2 * (mx * cxx + my * cxy)
    cyz = ey - my * sz - 2 * (mx * cxy + my * cyy)
    czz = (
        ez
        - 4 * (mx * ex + my * ey)
        + 4 * (mx * mx * (cxx + mx * mx) + 2 * mx * my * (cxy + mx * my) + my * my * (cyy + my * my))
        + 2 * m2 * sz
        - 4 * m2 * m2
        + m2 * m2
    )
    a3 = 4 * mz
    a2 = -3 * mz * mz - czz
    a1 = czz * mz + 4 * det * mz - cxz * cxz - cyz * cyz - mz**3
    a0 = cxz * cxz * cyy + cyz * cyz * cxx - czz * det - 2 * cxz * cyz * cxy + mz * mz * det
    root = np.zeros_like(mz)
    for _ in range(_STEPS):
        value = a0 + root * (a1 + root * (a2 + root * a3))
        slope = a1 + root * (2 * a2 + root * 3 * a3)
        step = np.where(np.abs(slope) > 0, value / np.where(slope == 0, 1, slope), 0.0)
        root = np.maximum(root - step, 0.0)
    deter = root * root - root * mz + det
    safe = np.where(np.abs(deter) > 1e-300, deter, 1.0)
    cx = (cxz * (cyy - root) - cyz * cxy) / safe / 2
    cy = (cyz * (cxx - root) - cxz * cxy) / safe / 2
    radius = np.sqrt(cx * cx + cy * cy + mz)
    good = (np.abs(deter) > 1e-300) & np.isfinite(radius) & (radius > 0)
    arc = np.where(good, k * np.minimum(root, np.maximum(least, 0)), line)
    return line, arc, np.where(good, 1 / np.where(good, radius, 1.0), 0.0)


def _side(points: FloatArray) -> float:
    """1 where points turn to the left, -1 to the right."""
    chord = points[-1] - points[0]
    aside = chord[0] * (points[:, 1] - points[0, 1]) - chord[1] * (points[:, 0] - points[0, 0])
    return -1.0 if aside.sum() > 0 else 1.0
