"""Sight along a grade line in both directions: how far one sees, and how far one must."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.runs import runs
from delgrun.core.sight import kernels
from delgrun.core.sight.stopping import Stopping

FloatArray = NDArray[np.float64]

# Between eyes so far apart a lack is looked for; where it begins and ends is found to a millimetre. [m]
EYES_M = 10.0
_FOUND_M = 1e-3
# A shorter curve is a kink. [m]
_LEAST_CURVE_M = 1e-6
# A circle this large is worked out as the parabola that it is to a tenth of a nanometre over 200 m. [m]
_STRAIGHT_M = 1e6
# A shortfall below this is none. [m]
_NONE_M = 1e-3


def pieces(line: GradeLine) -> FloatArray:
    """(m, 6) pieces of a line as `sight/kernels.py` takes them, by chainage. [m]"""
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


@dataclass(frozen=True)
class Lack:
    """A stretch of eyes that see less than they must, by chainage.

    `at_m`: the eye of the greatest share; `seen_m` of `needed_m` there, hidden by the road at `top_m`.
    """

    from_m: float
    to_m: float
    at_m: float
    seen_m: float
    needed_m: float
    top_m: float


@dataclass(frozen=True)
class Sight:
    """Sight in one direction at (n,) chainages: seen [m], needed [m], the chainage that hides the rest, and lacks.

    Beyond the end of the line nothing is known: who sees to it sees enough (`seen` is infinite there).
    """

    at_m: FloatArray
    seen_m: FloatArray
    needed_m: FloatArray
    top_m: FloatArray
    lacks: tuple[Lack, ...]


def eyes_along(line: GradeLine) -> FloatArray:
    """Chainages at which sight is worked out: even ones, and where curves begin and end. [m]"""
    low, high = float(line.chainage_m[0]), float(line.chainage_m[-1])
    even = np.arange(np.ceil(low / EYES_M) * EYES_M, high, EYES_M)
    own = np.concatenate([line.chainage_m, line.curve_start_m, line.curve_end_m])
    return np.unique(np.clip(np.concatenate([even, own]), low, high))


def stopping_sight(
    line: GradeLine,
    rules: Stopping,
    speed_kmh: Callable[[FloatArray], FloatArray] | None = None,
    *,
    back: bool = False,
) -> Sight:
    """Sight for stopping along a line, in the direction of chainage or against it.

    `speed_kmh`: what is driven at each chainage, where it is not the rules' speed everywhere.
    """
    eyes = eyes_along(line)
    rows = pieces(line)
    if back:
        rows, eyes = mirrored(rows), -eyes[::-1]

    def both(at: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
        far, top = kernels.seen(rows, at, rules.eye_m, rules.object_m)
        own = np.full(len(at), rules.speed_kmh) if speed_kmh is None else speed_kmh(-at if back else at)
        needed = kernels.stopped(rows, at, rules.reacting_at(own), rules.braking_at(own), rules.force)
        return np.where(np.isnan(top), np.inf, far), needed, top

    far, needed, top = both(eyes)
    found = _lacks(eyes, far, needed, top, both)
    if not back:
        return Sight(eyes, far, needed, top, found)
    lacks = tuple(Lack(-k.to_m, -k.from_m, -k.at_m, k.seen_m, k.needed_m, -k.top_m) for k in reversed(found))
    return Sight(-eyes[::-1], far[::-1], needed[::-1], -top[::-1], lacks)


_Looks = Callable[[FloatArray], tuple[FloatArray, FloatArray, FloatArray]]


def _lacks(eyes: FloatArray, far: FloatArray, needed: FloatArray, top: FloatArray, both: _Looks) -> tuple[Lack, ...]:
    """Stretches where less is seen than needed; their ends lie between an eye that lacks and one that does not."""
    short = needed - far > _NONE_M
    found = np.array(runs(short), dtype=int).reshape(-1, 2)
    first, last = found.T
    starts = _edges(eyes[np.maximum(first - 1, 0)], eyes[first], both)
    ends = _edges(eyes[np.minimum(last + 1, len(eyes) - 1)], eyes[last], both)
    out = []
    for k, (a, b) in enumerate(zip(first.tolist(), last.tolist(), strict=True)):
        worst = a + int(np.argmax(needed[a : b + 1] / np.maximum(far[a : b + 1], 1e-9)))
        here = (float(eyes[worst]), float(far[worst]), float(needed[worst]), float(top[worst]))
        out.append(Lack(float(starts[k]), float(ends[k]), *here))
    return tuple(out)


def _edges(good: FloatArray, bad: FloatArray, both: _Looks) -> FloatArray:
    """(n,) where lacks begin, each between an eye that sees enough and one that does not: halved all at once. [m]"""
    good, bad = good.copy(), bad.copy()
    while len(bad) and np.abs(bad - good).max() > _FOUND_M:
        middle = (good + bad) / 2
        far, needed, _ = both(middle)
        lacks = needed - far > _NONE_M
        bad[lacks], good[~lacks] = middle[lacks], middle[~lacks]
    return bad
