"""The search: a bound, dense starts, polishing, thinning, and a clean line to offer."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.checks import limit_uses
from delgrun.core.limits.checks.tie_ins import LEVEL_TOLERANCE_M
from delgrun.core.search.bound import Bound, lower_bound
from delgrun.core.search.polish import Candidate, assess, cleaned, level_line, polish, tie_levels
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.thin import thinned
from delgrun.core.units import chainage_text

# Spacings of the dense starts, as shares of the usual one.
_STARTS = (1.0, 1.3, 0.85)
# The line offered has the fewest IPs among those within this share of the best.
WITHIN_BEST = 0.01


@dataclass(frozen=True)
class Offer:
    """A finished line with its cost by the ledger's evaluator, after rounding."""

    line: GradeLine
    cost: float
    ips: int


@dataclass(frozen=True)
class Progress:
    """What the search can say at any moment; costs are true costs."""

    stage: str
    share: float
    lower_bound: float
    best_cost: float | None
    best_ips: int | None
    starts: int


@dataclass(frozen=True)
class Begun:
    """What an earlier attempt at the same search left: its best line, and how many starts it was through with."""

    line: GradeLine | None = None
    starts: int = 0


@dataclass(frozen=True)
class SearchResult:
    """`offered` has the fewest IPs within 1 % of `best`; `front` lists (IPs, cost) of all found.

    `lower_bound` is proven: no line under the limits costs less.
    """

    lower_bound: float
    best: Offer
    offered: Offer
    front: list[tuple[int, float]]
    finished: bool

    @property
    def gap(self) -> float | None:
        """How far the offered line is above the bound, as a share of the bound; None where that is nothing or less."""
        return self.offered.cost / self.lower_bound - 1 if self.lower_bound > 0 else None


def search(
    problem: SearchProblem,
    report: Callable[[Progress, GradeLine | None], None],
    stop: Callable[[], bool],
    begun: Begun = Begun(),
) -> SearchResult:
    """Look for the cheapest grade line.

    Parameters
    ----------
    report : called with progress and, whenever there is a better one, a finished line
    stop : asked between steps; True ends the search with what it has
    begun : where an attempt that was cut off had got to; the search goes on from there

    Raises
    ------
    DesignInputError
        No line can keep the limits, or none was found that does.
    """
    report(Progress("bound", 0.0, 0.0, None, None, begun.starts), None)
    bound = lower_bound(problem)
    if not bound.feasible:
        raise DesignInputError(
            "limits",
            "No line can keep these limits between the ends: by the free curve they are broken most at "
            f"{chainage_text(bound.worst_chainage_m)}, by {bound.worst_m:.2f} m. Allow a steeper grade or a smaller K.",
        )
    found: list[Candidate] = []
    best: Offer | None = None
    through = begun.starts

    def tell(stage: str, share: float) -> None:
        nonlocal best
        line = None
        top = min((c for c in found if c.kept), key=lambda c: c.cost, default=None)
        if top is not None and (best is None or top.cost < best.cost):
            offer = _offer(problem, top)
            if offer is not None and (best is None or offer.cost < best.cost):
                best, line = offer, offer.line
        cost, ips = (best.cost, best.ips) if best else (None, None)
        report(Progress(stage, share, bound.lower_bound, cost, ips, through), line)

    if begun.line is not None:
        had = begun.line
        found.append(assess(problem, had.chainage_m, had.level_m, had.curve_length_m))
        tell("taken up again", begun.starts / len(_STARTS))
    for number, share in enumerate(_STARTS):
        if number < begun.starts:
            continue
        if number and stop() and any(c.kept for c in found):
            break
        here = number / len(_STARTS)
        first = _dense_start(problem, bound, share)
        first = polish(problem, first, 4)
        found.append(first)
        tell("first line" if number == 0 else "another start", here + 0.05)
        first = polish(problem, first, 12)
        found.append(first)
        tell("polishing", here + 0.12)
        if not first.kept:
            continue
        dense = first.ips
        for smaller in thinned(problem, first, stop):
            found.append(smaller)
            tell("thinning", here + 0.12 + 0.2 * (1 - smaller.ips / dense))
        through = number + 1
    return _finish(problem, bound, found, not stop())


def _dense_start(problem: SearchProblem, bound: Bound, share: float) -> Candidate:
    s, lim = problem.chainage_m, problem.limits
    length = s[-1] - s[0]
    least = max(lim.min_ip_spacing_m, lim.min_curve_length_m, 20.0)
    spacing = max(max(100.0, 1.3 * least) * share, 1.02 * least)
    ips = max(int(length / spacing), 2)
    x = np.linspace(s[0], s[-1], ips + 1)
    curve = np.full(ips + 1, max(lim.min_curve_length_m, min(0.9 * spacing, 0.98 * (x[1] - x[0]))))
    curve[0] = curve[-1] = 0.0
    z = tie_levels(problem, x, np.interp(x, s, bound.free_level_m))
    return level_line(problem, x, z, curve)


def _offer(problem: SearchProblem, c: Candidate) -> Offer | None:
    """The candidate rounded, or as it is where rounding breaks a limit; None where it is no line within the limits."""
    best: Offer | None = None
    for longer in (False, True):
        clean = cleaned(problem, c, longer=longer)
        line = _line_within(problem, clean)
        if line is not None and (best is None or clean.cost < best.cost):
            best = Offer(line, clean.cost, clean.ips)
    if best is None:
        line = _line_within(problem, c)
        best = Offer(line, c.cost, c.ips) if line is not None else None
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
    if ends > LEVEL_TOLERANCE_M or any(u.fails for u in limit_uses(line, problem.limits)):
        return None
    return line


def _finish(problem: SearchProblem, bound: Bound, found: list[Candidate], finished: bool) -> SearchResult:
    kept = sorted((c for c in found if c.kept), key=lambda c: c.cost)
    front: dict[int, Candidate] = {}
    for c in kept:
        if c.ips not in front:
            front[c.ips] = c
    offers = [o for o in (_offer(problem, c) for c in kept[:3]) if o is not None]
    if kept:
        # Few IPs first: each is polished once more before it is measured against the best.
        near = [c for c in front.values() if c.cost <= kept[0].cost * (1 + 2 * WITHIN_BEST)]
        for c in sorted(near, key=lambda c: c.ips)[:6]:
            offer = _offer(problem, polish(problem, c, 8) if finished else c)
            if offer is not None:
                offers.append(offer)
    if not offers:
        raise DesignInputError(
            "limits", "No line within the limits was found. Allow a steeper grade, shorter curves or a closer spacing."
        )
    best = min(offers, key=lambda o: o.cost)
    offered = min((o for o in offers if o.cost <= best.cost * (1 + WITHIN_BEST)), key=lambda o: (o.ips, o.cost))
    pairs = sorted((ips, c.cost) for ips, c in front.items())
    return SearchResult(bound.lower_bound, best, offered, pairs, finished)
