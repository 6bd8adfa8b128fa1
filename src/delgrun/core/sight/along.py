"""Sight along a grade line in both directions: how far one sees, and how far one must."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.pieces import mirrored
from delgrun.core.runs import runs
from delgrun.core.sight import kernels
from delgrun.core.sight.stopping import Stopping

FloatArray = NDArray[np.float64]

# Between eyes so far apart a lack is looked for; where it begins and ends is found to a millimetre. [m]
EYES_M = 10.0
_FOUND_M = 1e-3
# A shortfall below this is none. [m]
_NONE_M = 1e-3


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
    rows = line.pieces
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
