"""What lies between the bound and a line: which of it is the price of limits that the bound knows little of."""

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Literal

from delgrun.core.earthworks.evaluator import evaluate_levels
from delgrun.core.search.bound import Bound
from delgrun.core.search.layouts import USUAL_M, dense_start
from delgrun.core.search.offer import Offer
from delgrun.core.search.polish import Candidate, polish
from delgrun.core.search.problem import SearchProblem

# A gap of less is not worth taking apart.
_WORTH_IT = 1e-3
# With neither a shortest curve nor a spacing to keep, IPs stand as close as sections let a line show it.
_CLOSE_M = 20.0
_STEPS = 8
_MOST_IPS = 1000

Why = Literal["fewer_ips", "rounding", "flattest_grade", "curves_and_spacing", "earth", "unknown"]


@dataclass(frozen=True)
class GapPart:
    """A share of the bound; the parts of a gap add up to it."""

    why: Why
    share: float


def gap_parts(
    problem: SearchProblem, bound: Bound, offered: Offer, best: Offer, unrounded: Candidate
) -> tuple[GapPart, ...]:
    """Take the gap apart by finding lines that need not keep one thing after the other.

    From the offered line to the best, to the same before rounding, to a line without a flattest grade, to one that
    needs neither a shortest curve nor a spacing: what each saves is its part. `earth` is how much more the bound's own
    curve costs than the bound says: where areas bend downwards (a drain that appears, a batter by its height, a wall)
    it knows their convex envelope only, and it may count on cutting or filling for its own sake. What then is left is
    looseness of the bound or a line not found, and nothing here can tell which.
    """
    floor = bound.lower_bound
    if floor <= 0 or offered.cost / floor - 1 < _WORTH_IT:
        return ()
    lim = problem.limits
    any_grade = problem.without(min_grade=0.0)
    near = {name: min(getattr(lim, name), _CLOSE_M) for name in ("min_curve_length_m", "min_ip_spacing_m")}
    any_curve = any_grade.without(**near, min_tangent_m=None)
    # Close enough to follow what sections show, but on a long road not more IPs than a moment allows.
    apart = max(1.3 * _CLOSE_M, float(problem.chainage_m[-1] - problem.chainage_m[0]) / _MOST_IPS)
    probes: dict[Why, Callable[[], Candidate]] = {}
    if lim.min_grade > 0:
        probes["flattest_grade"] = lambda: polish(any_grade, unrounded, _STEPS)
    if any_curve.limits != any_grade.limits:
        probes["curves_and_spacing"] = lambda: polish(
            any_curve, dense_start(any_curve, bound.free_level_m, apart / USUAL_M), _STEPS
        )
    with ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as pool:
        lines = pool.map(lambda probe: probe(), probes.values())
        costs: list[tuple[Why, float]] = [("fewer_ips", best.cost), ("rounding", unrounded.cost)]
        costs += [(why, line.cost) for why, line in zip(probes, lines, strict=True) if line.kept]
    out: list[GapPart] = []
    at = offered.cost
    for why, cost in costs:
        # What would cost less than the bound keeps something that the bound knows of: no more than the whole gap.
        below = max(min(cost, at), floor)
        out.append(GapPart(why, (at - below) / floor))
        at = below
    earth = min(
        max(evaluate_levels(problem.works, bound.free_level_m, problem.cost).ledger.cost - floor, 0.0), at - floor
    )
    out += [GapPart("earth", earth / floor), GapPart("unknown", (at - floor - earth) / floor)]
    return tuple(out)
