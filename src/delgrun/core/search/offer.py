"""A line fit to be offered: rounded as a person would type it, and checked against every limit."""

from dataclasses import dataclass

import numpy as np

from delgrun.core.controls.bands import AT_M, slack_of
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.checks import limit_uses
from delgrun.core.limits.checks.tie_ins import LEVEL_TOLERANCE_M
from delgrun.core.search.polish import Candidate, cleaned
from delgrun.core.search.problem import SearchProblem


@dataclass(frozen=True)
class Offer:
    """A finished line with its cost by the ledger's evaluator, after rounding.

    `rounded` is False where no rounded line near it keeps the limits: better than none, but any rounded one goes first.
    """

    line: GradeLine
    cost: float
    ips: int
    rounded: bool = True

    @property
    def rank(self) -> tuple[bool, float]:
        """Less is better."""
        return not self.rounded, self.cost


def offer_of(problem: SearchProblem, c: Candidate) -> Offer | None:
    """The candidate rounded, or as it is where rounding breaks a limit; None where it is no line within the limits."""
    best: Offer | None = None
    for longer in (False, True):
        clean = cleaned(problem, c, longer=longer)
        line = _line_within(problem, clean)
        if line is not None and (best is None or clean.cost < best.cost):
            best = Offer(line, clean.cost, clean.ips)
    if best is None:
        line = _line_within(problem, c)
        best = Offer(line, c.cost, c.ips, rounded=False) if line is not None else None
    return best


def _line_within(problem: SearchProblem, c: Candidate) -> GradeLine | None:
    """The candidate as a grade line; None where it is none, or breaks a limit or a tie-in."""
    if not np.isfinite([c.cost, *c.x, *c.z, *c.length]).all():
        return None
    try:
        line = c.line()
    except DesignInputError:
        return None
    ends = abs(c.z[0] - problem.start_level_m) + abs(c.z[-1] - problem.end_level_m)
    depths = [found for band in problem.limits.bands if band.kind == "depth" and (found := slack_of(line, band))]
    too_deep = any(found.slack_m < -AT_M for found in depths)
    if ends > LEVEL_TOLERANCE_M or too_deep or any(u.fails for u in limit_uses(line, problem.kept)):
        return None
    return line
