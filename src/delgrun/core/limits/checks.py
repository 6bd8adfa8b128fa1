"""How much of each limit a grade line uses, and where it fails. Data only; `wording` makes sentences of it."""

from dataclasses import dataclass

import numpy as np

from delgrun.core.earthworks.evaluator import Earthworks, Evaluation
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.limit_set import LimitSet

# Millimetre rounding of levels and lengths may use up this much of a limit.
USE_TOLERANCE = 1e-6
TIE_LEVEL_TOLERANCE_M = 0.0005
# A tie-in's grade counts as met within 0.01 %: levels kept to the millimetre can do no better.
TIE_GRADE_TOLERANCE = 1e-4
# A straight shorter than this between two curves is a joint, not a flat stretch. [m]
LEAST_STRAIGHT_M = 0.001


@dataclass(frozen=True)
class LimitUse:
    """Use of one limit over one stretch: demand over what is allowed; above 1 it fails.

    For a most, demand is the value; for a least, use = allowed / provided. `unit` is "ratio", "m",
    "m/%" or "" ; `ip` is the IP the stretch belongs to, or the one it starts from.
    """

    check: str
    from_chainage_m: float
    to_chainage_m: float
    value: float
    limit: float
    unit: str
    use: float
    ip: int

    @property
    def fails(self) -> bool:
        return self.use > 1 + USE_TOLERANCE


def limit_uses(line: GradeLine, limits: LimitSet) -> list[LimitUse]:
    """Use of every limit along the line, in order of check and chainage."""
    out: list[LimitUse] = []
    n = len(line.ips)
    s, start, end = line.chainage_m, line.curve_start_m, line.curve_end_m
    for i, g in enumerate(line.grade):
        out.append(
            LimitUse(
                "steepest_grade",
                s[i],
                s[i + 1],
                float(g),
                limits.max_grade,
                "ratio",
                _over(abs(g), limits.max_grade),
                i,
            )
        )
    for i, g in enumerate(line.grade):
        if start[i + 1] - end[i] > LEAST_STRAIGHT_M and limits.min_grade > 0:
            out.append(
                LimitUse(
                    "flattest_grade",
                    end[i],
                    start[i + 1],
                    float(g),
                    limits.min_grade,
                    "ratio",
                    _over(limits.min_grade, abs(g)),
                    i,
                )
            )
    for i in range(1, n - 1):
        change = line.change_of_grade(i)
        if abs(change) < 1e-12:
            continue
        crest = change < 0
        least = limits.min_crest_k_m_per_pct if crest else limits.min_sag_k_m_per_pct
        out.append(
            LimitUse(
                "crest_k" if crest else "sag_k", start[i], end[i], line.k(i), least, "m/%", _over(least, line.k(i)), i
            )
        )
    for i in range(1, n - 1):
        if abs(line.change_of_grade(i)) < 1e-12 and line.curve_length_m[i] == 0:
            continue
        out.append(
            LimitUse(
                "curve_length",
                start[i],
                end[i],
                float(line.curve_length_m[i]),
                limits.min_curve_length_m,
                "m",
                _over(limits.min_curve_length_m, line.curve_length_m[i]),
                i,
            )
        )
    for i in range(1, n - 2):
        gap = float(s[i + 1] - s[i])
        out.append(
            LimitUse(
                "ip_spacing", s[i], s[i + 1], gap, limits.min_ip_spacing_m, "m", _over(limits.min_ip_spacing_m, gap), i
            )
        )
    return [LimitUse(u.check, float(u.from_chainage_m), float(u.to_chainage_m), *_rest(u)) for u in out]


def _rest(u: LimitUse) -> tuple[float, float, str, float, int]:
    return u.value, u.limit, u.unit, float(u.use), u.ip


def _over(demand: float, allowed: float) -> float:
    # A provided value of 0 uses up any least value endlessly; a million keeps it a number on the wire.
    return float(min(demand / allowed, 1e6)) if allowed > 0 else (1e6 if demand > 0 else 0.0)


def tie_in_failures(line: GradeLine, limits: LimitSet) -> list[LimitUse]:
    """Ends of the line that miss the existing road in level or in grade."""
    out = []
    for tie, i, grade in ((limits.start, 0, line.grade[0]), (limits.end, len(line.ips) - 1, line.grade[-1])):
        s, z = float(line.chainage_m[i]), float(line.level_m[i])
        if tie.level_m is not None and abs(z - tie.level_m) > TIE_LEVEL_TOLERANCE_M:
            out.append(LimitUse("tie_in_level", s, s, z, tie.level_m, "m", 1e6, i))
        if tie.grade is not None and abs(grade - tie.grade) > TIE_GRADE_TOLERANCE:
            out.append(LimitUse("tie_in_grade", s, s, float(grade), tie.grade, "ratio", 1e6, i))
    return out


def ground_failures(works: Earthworks, evaluation: Evaluation) -> list[LimitUse]:
    """Stretches without ground at the centreline, or where a batter finds none on a side."""
    s = works.chainage_m
    missing = np.isnan(works.tables.centre_level_m) & ~np.isnan(evaluation.level_m)
    built = ~np.isnan(evaluation.level_m) & ~missing
    out = []
    for check, mask in (
        ("no_ground", missing),
        ("no_catch_left", built & ((evaluation.caught & 1) == 0)),
        ("no_catch_right", built & ((evaluation.caught & 2) == 0)),
    ):
        edges = np.flatnonzero(np.diff(np.concatenate([[0], mask.astype(np.int8), [0]])))
        for a, b in zip(edges[::2], edges[1::2] - 1, strict=True):
            out.append(LimitUse(check, float(s[a]), float(s[b]), float(b - a + 1), 0.0, "", 1e6, 0))
    return out
