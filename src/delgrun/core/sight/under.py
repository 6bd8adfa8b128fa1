"""Sight under what hangs over a road: in a sag a bridge or a wire hides the road behind it from high eyes."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.gradeline.grade_line import GradeLine

FloatArray = NDArray[np.float64]

# A truck driver's eye, and the tail light that must be seen [m]: "A Policy on Geometric Design of Highways and
# Streets", from memory; reference values 2.5.
EYE_M, OBJECT_M = 2.4, 0.6
# Eyes stand so far apart before the structure, and objects behind it. [m]
_STEP_M = 2.0


@dataclass(frozen=True)
class Under:
    """The least sight under a structure in one direction [m], from an eye [m], and what is needed there [m]."""

    eye_m: float
    seen_m: float
    needed_m: float


def sight_under(
    line: GradeLine, at_m: float, underside_m: float, needed: tuple[FloatArray, FloatArray], *, back: bool = False
) -> Under | None:
    """The eye that needs most of what it sees under a structure at a chainage; None where it hides nothing in reach.

    The straight line from eye to object passes the structure below its underside. `needed`: chainages (n,), rising, and
    the sight needed there (n,), in this direction.

    References
    ----------
    L = A S^2 / (800 (C - 1.5)) for S within a sag's curve, C the clearance: reference values 2.5.
    """
    way = -1.0 if back else 1.0
    low, high = float(line.chainage_m[0]), float(line.chainage_m[-1])
    reach = float(np.max(needed[1][np.isfinite(needed[1])], initial=0.0))
    before = np.arange(_STEP_M, reach, _STEP_M)
    eyes = at_m - way * before
    eyes = eyes[(eyes >= low) & (eyes <= high)]
    if not len(eyes):
        return None
    asked = np.interp(eyes, *needed)
    behind = np.arange(_STEP_M, reach, _STEP_M)
    objects = at_m + way * behind
    objects = objects[(objects >= low) & (objects <= high)]
    top = line.levels(eyes) + EYE_M
    tail = line.levels(objects) + OBJECT_M
    worst: Under | None = None
    for s, z, need in zip(eyes.tolist(), top.tolist(), asked.tolist(), strict=True):
        d = np.abs(objects - s)
        over = z + (tail - z) * abs(at_m - s) / d - underside_m
        hidden = np.flatnonzero(over > 0)
        if not len(hidden):
            continue
        k = int(hidden[0])
        # Between the last that is seen and the first that is not, in proportion.
        seen = float(d[k]) if k == 0 else float(d[k - 1] + (d[k] - d[k - 1]) * over[k - 1] / (over[k - 1] - over[k]))
        if worst is None or need / seen > worst.needed_m / worst.seen_m:
            worst = Under(s, seen, need)
    return worst
