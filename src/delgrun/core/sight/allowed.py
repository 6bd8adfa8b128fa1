"""The speed that each crest, each sag and each bend of a road allows."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.sight.stopping import Stopping

# A change of grade below this bends nothing. [m/m]
_NO_CHANGE = 1e-9
# What allows more is not listed. [km/h]
FASTEST_KMH = 130.0


@dataclass(frozen=True)
class Allowed:
    """A stretch of chainage and the speed it allows [km/h]; `ip` is the vertical curve's, None for a bend in plan."""

    kind: Literal["crest", "sag", "bend"]
    from_m: float
    to_m: float
    kmh: float
    ip: int | None = None


def speed_for(sight_m: float, rules: Stopping) -> float:
    """The speed that a sight distance lets stop from on the level: t V / 3.6 + 0.039 V^2 / a = S. [km/h]

    >>> round(speed_for(104.9, Stopping(speed_kmh=70)), 1)
    70.0
    """
    a, b = 0.039 / rules.deceleration_m_s2, 0.278 * rules.reaction_s
    return float((-b + np.sqrt(b * b + 4 * a * max(sight_m, 0.0))) / (2 * a))


def crest_sight_m(change: float, length_m: float, eye_m: float, object_m: float) -> float:
    """Least sight over a crest of a length and change of grade [m/m]. [m]

    References
    ----------
    sqrt(C L / A) within the curve, L / 2 + C / (2 A) beyond it, C = 200 (sqrt h1 + sqrt h2)^2 and A in percent:
    reference values 2.3, 2.7 and 3.1 to 3.4.
    """
    percent = 100 * abs(change)
    constant = 200 * (np.sqrt(eye_m) + np.sqrt(object_m)) ** 2
    within = float(np.sqrt(constant * length_m / percent))
    return within if within <= length_m else float(length_m / 2 + constant / (2 * percent))


def sag_sight_m(change: float, length_m: float) -> float:
    """How far headlights reach in a sag of a length and change of grade [m/m]; infinite where it is too slight. [m]

    References
    ----------
    A S^2 / (120 + 3.5 S) = L within the curve, 2 S - (120 + 3.5 S) / A = L beyond it: reference values 2.4.
    """
    percent = 100 * abs(change)
    k = length_m / percent
    within = (3.5 * k + np.sqrt((3.5 * k) ** 2 + 480 * k)) / 2
    if within <= length_m:
        return float(within)
    left = 2 - 3.5 / percent
    return float((length_m + 120 / percent) / left) if left > 0 else np.inf


def allowed_speeds(line: GradeLine, bends: Iterable[tuple[float, float, float]], rules: Stopping) -> Iterator[Allowed]:
    """Speeds of vertical curves on level road, then of bends (from, to, km/h) as they are given."""
    start, end = line.curve_start_m.tolist(), line.curve_end_m.tolist()
    for i in range(1, len(line.ips) - 1):
        change = line.change_of_grade(i)
        if abs(change) < _NO_CHANGE:
            continue
        # An unsymmetrical curve, or a circle, is as sharp as its K says.
        length = min(100 * float(line.k(i)) * abs(change), float(line.curve_length_m[i]))
        crest = change < 0
        far = crest_sight_m(change, length, rules.eye_m, rules.object_m) if crest else sag_sight_m(change, length)
        kmh = speed_for(far, rules) if np.isfinite(far) else np.inf
        if kmh <= FASTEST_KMH:
            yield Allowed("crest" if crest else "sag", start[i], end[i], kmh, i)
    for from_m, to_m, kmh in bends:
        if kmh <= FASTEST_KMH:
            yield Allowed("bend", from_m, to_m, kmh)
