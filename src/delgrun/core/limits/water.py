"""Where water goes along a line: its high and low points, and stretches about them and between them that are flat."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from delgrun.core.gradeline.piece_kernels import parallel
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks.drainage import ponds

# A flat stretch shorter than this is none. [m]
_LEAST_M = 0.1


@dataclass(frozen=True)
class Water:
    """A high or low point, or a flat stretch, by chainage [m], with its level, grade and K where it has one.

    `lies_in`: "cut", "fill" or "" where the ground is not known; `says`: what is wrong with it.
    """

    what: str
    from_m: float
    to_m: float
    level_m: float
    grade: float | None
    k_m_per_pct: float | None
    lies_in: str
    says: str


def water_along(c: Checked) -> list[Water]:
    """High and low points and flat stretches, by chainage.

    Flat is a stretch of the line itself, curves and all, that is flatter than the flattest grade allowed there; about a
    high or low point that is K times twice the flattest grade long (common practice).
    """
    line = c.line
    undrained = {round(at, 6) for at in ponds(c)}
    out = []
    for s, z, kind in line.turning_points():
        i = int(np.argmin(np.abs(line.chainage_m - s)))
        k = float(line.k(i)) if 0 < i < len(line.ips) - 1 and line.curve_length_m[i] > 0 else None
        says = "water gathers in a cut" if round(s, 6) in undrained else ""
        out.append(Water(f"{kind} point", s, s, z, 0.0, k, _lies_in(c, s), says))
    for a, b in flat_stretches(c):
        middle = (a + b) / 2
        grade = float(line.grades(np.array([middle]))[0])
        level = float(line.levels(np.array([middle]))[0])
        out.append(Water("flat stretch", a, b, level, grade, None, _lies_in(c, middle), "flatter than what drains"))
    return sorted(out, key=lambda w: w.from_m)


def flat_stretches(c: Checked) -> list[tuple[float, float]]:
    """Stretches of the line, curves and all, that are flatter than the flattest grade allowed on them. [m]"""
    steps = c.limits.steps("min_grade")
    found: list[tuple[float, float]] = []
    for piece in c.line.pieces:
        for a, b, least in steps.along(float(piece[0]), float(piece[1])):
            if not least or b - a <= 0:
                continue
            turns = [float(parallel(piece, g)) for g in (least, -least)]
            bounds = sorted([a, b, *(t for t in turns if a < t < b)])
            for x, y in pairwise(bounds):
                if abs(float(c.line.grades(np.array([(x + y) / 2]))[0])) < least - 1e-9:
                    if found and abs(found[-1][1] - x) < 1e-6:
                        found[-1] = found[-1][0], y
                    else:
                        found.append((x, y))
    return [(a, b) for a, b in found if b - a > _LEAST_M]


def _lies_in(c: Checked, s: float) -> str:
    if c.works is None or c.evaluation is None:
        return ""
    at = int(np.argmin(np.abs(c.works.chainage_m - s)))
    cut, fill = float(c.evaluation.cut_m2[at]), float(c.evaluation.fill_m2[at])
    return "" if np.isnan(cut) else "cut" if cut > fill else "fill"
