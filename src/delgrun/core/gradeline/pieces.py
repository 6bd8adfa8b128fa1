"""A grade line as what it is made of: parabolas, circles and straights, one behind the other."""

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from delgrun.core.gradeline.grade_line import GradeLine

FloatArray = NDArray[np.float64]

# A shorter curve is a kink. [m]
_LEAST_CURVE_M = 1e-6
# A circle this large is worked out as the parabola that it is to a tenth of a nanometre over 200 m. [m]
_STRAIGHT_M = 1e6


def pieces_of(line: "GradeLine") -> FloatArray:
    """(m, 6) pieces of a line as `piece_kernels.py` takes them, by chainage. [m]"""
    rows: list[tuple[float, ...]] = []
    grade, before = line.grade.tolist(), line.before.tolist()
    curved = line.curve_length_m > _LEAST_CURVE_M
    start = np.where(curved, line.curve_start_m, line.chainage_m).tolist()
    end = np.where(curved, line.curve_end_m, line.chainage_m).tolist()
    last = len(line.ips) - 1
    for i, ip in enumerate(line.ips):
        if 0 < i < last and curved[i]:
            rows += _curve(
                ip.chainage_m, ip.level_m, grade[i - 1], grade[i], ip.curve_length_m, before[i], line.radius_m[i]
            )
        if i < last and start[i + 1] > end[i]:
            rows.append((end[i], start[i + 1], 0.0, ip.level_m + grade[i] * (end[i] - ip.chainage_m), grade[i], 0.0))
    return np.array(rows)


def _curve(
    s: float, z: float, g1: float, g2: float, length: float, share: float, radius: float
) -> list[tuple[float, ...]]:
    first, second = share * length, (1 - share) * length
    a, b = s - first, s + second
    if 0 < radius < _STRAIGHT_M:
        up = 1.0 if g2 > g1 else -1.0
        root = float(np.hypot(1.0, g1))
        # Its centre lies square to the first tangent where it starts.
        return [(a, b, -up, a - up * radius * g1 / root, z - g1 * first + up * radius / root, radius)]
    # Two parabolas with one tangent at the IP, parallel to the chord; of a symmetrical one both are the same.
    bend = (g2 - g1) / length
    middle = g1 + (g2 - g1) * (1 - share)
    rise = bend * (1 - share) / share / 2
    at_ip = z + rise * first**2
    return [
        (a, s, 0.0, z - g1 * first, g1, rise),
        (s, b, 0.0, at_ip, middle, bend * share / (1 - share) / 2),
    ]


def mirrored(rows: FloatArray) -> FloatArray:
    """Pieces of the same line driven the other way: chainages are those of the line with their sign turned."""
    out = rows[::-1].copy()
    out[:, 0], out[:, 1] = -rows[::-1, 1], -rows[::-1, 0]
    even = out[:, 2] == 0.0
    length = out[:, 1] - out[:, 0]
    out[~even, 3] *= -1.0
    p0, p1, p2 = out[even, 3], out[even, 4], out[even, 5]
    out[even, 3] = p0 + length[even] * (p1 + length[even] * p2)
    out[even, 4] = -p1 - 2 * length[even] * p2
    return out
