"""The speed that each crest, each sag and each bend of a road allows."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.stopping import Heights, Stopping

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
    """The speed that a sight distance lets stop from on the level, by the form that the rules name. [km/h]

    >>> round(speed_for(104.9, Stopping(speed_kmh=70)), 1)
    70.0
    """
    a, b = rules.constants.quadratic(rules.reaction_s, rules.deceleration_m_s2)
    return float((-b + np.sqrt(b * b + 4 * a * max(sight_m, 0.0))) / (2 * a))


def crest_sight_m(change: float, length_m: float, heights: Heights) -> float:
    """Least sight over a crest of a length and change of grade [m/m]. [m]

    References
    ----------
    sqrt(C L / A) within the curve, L / 2 + C / (2 A) beyond it, C = 200 (sqrt h1 + sqrt h2)^2 and A in percent:
    reference values 2.3, 2.7 and 3.1 to 3.4.
    """
    percent = 100 * abs(change)
    constant = heights.crest_m
    within = float(np.sqrt(constant * length_m / percent))
    return within if within <= length_m else float(length_m / 2 + constant / (2 * percent))


def sag_sight_m(change: float, length_m: float, heights: Heights) -> float:
    """How far headlights reach in a sag of a length and change of grade [m/m]; infinite where it is too slight. [m]

    References
    ----------
    With h + t S, 200 times the beam's height there: A S^2 / (h + t S) = L within the curve, 2 S - (h + t S) / A = L
    beyond it: reference values 2.4, where they are rounded to 120 + 3.5 S.
    """
    percent = 100 * abs(change)
    k, h = length_m / percent, heights.sag_m(0.0)
    t = heights.sag_m(1.0) - h
    within = (t * k + np.sqrt((t * k) ** 2 + 4 * h * k)) / 2
    if within <= length_m:
        return float(within)
    left = 2 - t / percent
    return float((length_m + h / percent) / left) if left > 0 else np.inf


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
        far = (crest_sight_m if crest else sag_sight_m)(change, length, rules)
        kmh = speed_for(far, rules) if np.isfinite(far) else np.inf
        if kmh <= FASTEST_KMH:
            yield Allowed("crest" if crest else "sag", start[i], end[i], kmh, i)
    for from_m, to_m, kmh in bends:
        if kmh <= FASTEST_KMH:
            yield Allowed("bend", from_m, to_m, kmh)
