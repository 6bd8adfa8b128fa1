"""A grade line as numbers: levels at chainages and critical points, and each curve by its coefficients."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.stations import Stations, each_and_at
from delgrun.core.gradeline.grade_line import GradeLine

FloatArray = NDArray[np.float64]

# Points of a line that are nearer than this are one. [m]
_SAME_M = 5e-4


@dataclass(frozen=True)
class Coefficients:
    """A vertical curve by its numbers, x in metres from its start.

    A parabola before the IP: level = `level_m` + `grade` x + `before` / 2 x^2; behind it, with y back from the end and
    the end's level and grade, level = end - grade out y + `after` / 2 y^2. A symmetrical one has both alike, and its
    first form holds throughout. [m, m/m, 1/m] Of a circle there are none but its radius.
    """

    name: str
    from_m: float
    to_m: float
    level_m: float
    grade: float
    before: float | None
    after: float | None
    k_m_per_pct: float | None
    radius_m: float | None


def coefficients(line: GradeLine) -> list[Coefficients]:
    """Of each curve, in order.

    References
    ----------
    Offset at the IP A L1 L2 / (2 (L1 + L2)), reference values 1.2: so `before` is A L2 / (L L1), `after` A L1 / (L L2).
    """
    out = []
    for i in range(1, len(line.ips) - 1):
        ip, share, length = line.ips[i], float(line.before[i]), line.ips[i].curve_length_m
        if length <= 0:
            continue
        a, grade, circle = line.change_of_grade(i), float(line.grade[i - 1]), ip.shape == "circle"
        k, radius = line.k(i), float(line.radius_m[i])
        out.append(
            Coefficients(
                line.name(i),
                float(line.curve_start_m[i]),
                float(line.curve_end_m[i]),
                ip.level_m - grade * share * length,
                grade,
                None if circle else a * (1 - share) / (share * length),
                None if circle else a * share / ((1 - share) * length),
                k if np.isfinite(k) else None,
                radius or None,
            )
        )
    return out


def critical_points(line: GradeLine) -> list[tuple[float, str]]:
    """Chainages of the line's ends, IPs, starts and ends of curves, high and low points, each with what it is. [m]

    Where several are at one chainage they are one row, named together.
    """
    found: list[tuple[float, str]] = [(float(line.chainage_m[0]), "start"), (float(line.chainage_m[-1]), "end")]
    for i in range(1, len(line.ips) - 1):
        found.append((float(line.chainage_m[i]), line.name(i)))
        if line.ips[i].curve_length_m > 0:
            found.append((float(line.curve_start_m[i]), f"curve starts, {line.name(i)}"))
            found.append((float(line.curve_end_m[i]), f"curve ends, {line.name(i)}"))
    found += [(s, f"{kind} point") for s, _, kind in line.turning_points()]
    found.sort()
    out: list[tuple[float, str]] = []
    for s, what in found:
        if out and s - out[-1][0] < _SAME_M:
            out[-1] = out[-1][0], f"{out[-1][1]}; {what}"
        else:
            out.append((s, what))
    return out


def level_stations(
    line: GradeLine, written: Stations, interval_m: float, critical: bool
) -> tuple[FloatArray, list[str]]:
    """Chainages at which whole intervals are written along a line, and its critical points with their names. [m]"""
    ends = float(line.chainage_m[0]), float(line.chainage_m[-1])
    return each_and_at(ends, written, interval_m, critical_points(line) if critical else [])
