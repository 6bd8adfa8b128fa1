"""The search: a bound, dense starts, polishing, thinning, and a clean line to offer; side by side on every core."""

import os
import queue
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field

import numpy as np

from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.search.bound import Bound, lower_bound, raised
from delgrun.core.search.gap import GapPart, gap_parts
from delgrun.core.search.grow import grown
from delgrun.core.search.layouts import USUAL_M, dense_start
from delgrun.core.search.offer import Offer, offer_of
from delgrun.core.search.polish import Candidate, assess, polish
from delgrun.core.search.problem import SearchProblem
from delgrun.core.search.thin import thinned

# Spacings of the dense starts, as shares of the usual one, and whether the first and the last IP stand half a spacing
# from the ends; the first start is what a first line is made of.
_Start = tuple[float, bool]
_STARTS: tuple[_Start, ...] = ((1.0, False), (0.85, True), (0.95, False), (0.6, False), (1.3, True))
# A short road has few layouts, and each is quick: so many more of them for one of less than so many spacings.
_SHORT, _MORE = 12.0, ((1.0, True), (0.75, True), (0.75, False), (0.6, True), (1.6, False), (2.2, True))
# And where none of these leads to a line within the limits: fewer and fewer IPs, as steep ground asks for long curves.
_SPARSE: tuple[_Start, ...] = ((2.0, False), (2.0, True), (3.0, False), (4.5, True), (7.0, False), (11.0, True))
# So many of the lines that starts led to are tried with more IPs, of a short road all; what share of it starts are.
_GROWN, _STARTS_SHARE = 2, 0.8
# The line offered has the fewest IPs among those within this share of the best.
WITHIN_BEST = 0.01
# How often a stop is looked for.
_LOOK_S = 0.1


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

    `lower_bound` is proven: no line under the limits costs less. `parts` say what lies between it and the offered line.
    """

    lower_bound: float
    best: Offer
    offered: Offer
    front: list[tuple[int, float]]
    parts: tuple[GapPart, ...]
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
        No line can keep the limits, which is proven then, or none was found that does.
    """
    report(Progress("bound", 0.0, 0.0, None, None, begun.starts), None)
    bound = lower_bound(problem.loosened)
    if bound.impossible:
        raise _impossible(problem.loosened, bound)
    run = _Run(problem, bound, report, stop)
    if begun.line is not None:
        had = assess(problem, begun.line.chainage_m, begun.line.level_m, begun.line.curve_length_m)
        run.take(-1, "taken up again", had, offer_of(problem, had))
    run.starts(_starts(problem), begun.starts, raising=True)
    if not run.offers and not run.stopping.is_set():
        run.starts(_SPARSE, 0, raising=False)
    run.grow(_GROWN if len(_starts(problem)) == len(_STARTS) else len(run.ends))
    return run.finished()


def _starts(problem: SearchProblem) -> tuple[_Start, ...]:
    """The layouts to begin from."""
    lim = problem.limits
    spacing = max(USUAL_M, 1.3 * max(lim.min_ip_spacing_m, lim.min_curve_length_m))
    length = float(problem.chainage_m[-1] - problem.chainage_m[0])
    return _STARTS + _MORE if length < _SHORT * spacing else _STARTS


def _impossible(problem: SearchProblem, bound: Bound) -> DesignInputError:
    """Why no line can be: the ends too far apart in level, or else where the limits clash."""
    length = float(problem.chainage_m[-1] - problem.chainage_m[0])
    rise = problem.end_level_m - problem.start_level_m
    most = problem.limits.max_grade if rise > 0 else problem.limits.fall
    if abs(rise) > most * length:
        return DesignInputError(
            "limits",
            "No line can keep these limits: the ends lie {rise:size} apart in level over {length:size}, which is "
            "{mean:percent} on average, and the steepest grade is {most:percent}. Allow a steeper grade, or change the "
            "level of an end or the length of the centreline.",
            rise=abs(rise),
            length=length,
            mean=abs(rise) / length,
            most=most,
        )
    return DesignInputError(
        "limits",
        "No line can keep these limits between the ends: this is proven. They clash most at {at:chainage}, where a "
        "line would miss by {by:size}. Allow a steeper grade or a smaller K there, or change the level or grade of an "
        "end, or a level control.",
        at=bound.worst_chainage_m,
        by=bound.broken_m,
    )


_FoundLine = tuple[str, Candidate, Offer | None]
_Found = Bound | _FoundLine
_Job = tuple[int, Iterator[_Found]]


@dataclass(frozen=True)
class _News:
    """What the thread of start `number` (-1: of the bound) has found; nothing more to come where `found` is None."""

    number: int
    found: _Found | None = None
    failed: BaseException | None = None


@dataclass
class _Run:
    """One search under way: what has been found, and the threads that find more.

    The threads share nothing; what they find comes through a queue to the one thread that reports.
    """

    problem: SearchProblem
    bound: Bound
    report: Callable[[Progress, GradeLine | None], None]
    stop: Callable[[], bool]
    found: list[Candidate] = field(default_factory=list)
    offers: list[Offer] = field(default_factory=list)
    # The cheapest line of each start, and of an earlier attempt (-1).
    ends: dict[int, Candidate] = field(default_factory=dict)
    through: int = 0
    share: float = 0.0
    stopping: threading.Event = field(default_factory=threading.Event)

    def __post_init__(self) -> None:
        # Every start begins from the same curve, however far the bound is raised by then.
        self.curve = self.bound.free_level_m

    def take(self, number: int, stage: str, candidate: Candidate, offer: Offer | None) -> None:
        """Keep what start `number` has found, and report; the line goes along if it is the best so far."""
        self.found.append(candidate)
        if candidate.kept:
            self.ends[number] = min(self.ends.get(number, candidate), candidate, key=lambda c: c.cost)
        better = offer is not None and all(offer.rank < o.rank for o in self.offers)
        if offer is not None:
            self.offers.append(offer)
        self.tell(stage, offer.line if offer is not None and better else None)

    def tell(self, stage: str, line: GradeLine | None = None) -> None:
        best = min(self.offers, key=lambda o: o.rank, default=None)
        cost, ips = (best.cost, best.ips) if best else (None, None)
        self.report(Progress(stage, self.share, self.bound.lower_bound, cost, ips, self.through), line)

    def starts(self, layouts: tuple[_Start, ...], already: int, *, raising: bool) -> None:
        """Lines from dense starts, while the bound is raised beside them."""
        jobs: list[_Job] = [
            (number, self._lines(*layout)) for number, layout in enumerate(layouts) if number >= already
        ]
        if raising:
            # A first line comes first; then the bound, beside the other starts.
            jobs.insert(1, (-1, raised(self.problem.loosened, self.bound, self.stopping.is_set)))
        through = set(range(already))

        def done(number: int, waiting: int) -> None:
            through.add(number)
            self.through = next(k for k in range(len(layouts) + 1) if k not in through)
            self.share = _STARTS_SHARE * (1 - waiting / len(jobs))

        # A stop waits for a first line, but not for more than one start that leads to none.
        self._side_by_side(jobs, done, lambda: bool(self.offers or through - {-1}))

    def grow(self, most: int) -> None:
        """From the cheapest line of each start, at most so many, cheaper ones with more IPs."""
        ends = sorted(self.ends.values(), key=lambda c: c.cost)[:most]

        def done(_: int, waiting: int) -> None:
            self.share = 1 - (1 - _STARTS_SHARE) * waiting / len(ends)

        self._side_by_side([(k, self._more(c)) for k, c in enumerate(ends)], done, lambda: True)

    def _side_by_side(self, jobs: list[_Job], done: Callable[[int, int], None], may_stop: Callable[[], bool]) -> None:
        """Run jobs on all cores and take what they find; `done` is told of each with how many are still at it."""
        news: queue.Queue[_News] = queue.Queue()

        def work(number: int, steps: Iterator[_Found]) -> None:
            try:
                for step in steps:
                    news.put(_News(number, found=step))
                news.put(_News(number))
            except BaseException as e:  # raised again in the thread that asked for the search
                news.put(_News(number, failed=e))

        failed: BaseException | None = None
        with ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as pool:
            for job in jobs:
                pool.submit(work, *job)
            waiting = len(jobs)
            while waiting:
                try:
                    new: _News | None = news.get(timeout=_LOOK_S)
                except queue.Empty:
                    new = None
                if may_stop() and not self.stopping.is_set() and self.stop():
                    self.stopping.set()
                if new is None:
                    continue
                if isinstance(new.found, Bound):
                    self.bound = new.found
                    self.tell("bound")
                elif new.found is not None:
                    self.take(new.number, *new.found)
                else:
                    waiting -= 1
                    done(new.number, waiting)
                    if new.failed is not None:
                        failed = new.failed
                        self.stopping.set()
        if failed is not None:
            raise failed

    def _with_offer(self, stage: str, c: Candidate, least: float) -> _FoundLine:
        """What was found; rounded too, if it is cheaper than this."""
        return stage, c, offer_of(self.problem, c) if c.kept and c.cost < least else None

    def _lines(self, share: float, half_ends: bool) -> Iterator[_FoundLine]:
        """Candidates from one dense start, and fewer and fewer IPs of it."""
        if self.stopping.is_set():
            return
        start = dense_start(self.problem, self.curve, share, half_ends=half_ends)
        first = polish(self.problem, start, 4)
        yield self._with_offer("first line", first, np.inf)
        best = polish(self.problem, first, 12)
        yield self._with_offer("polishing", best, first.cost if first.kept else np.inf)
        if not best.kept:
            return
        for smaller in thinned(self.problem, best, self.stopping.is_set):
            yield self._with_offer("thinning", smaller, best.cost)
            best = min(best, smaller, key=lambda c: c.cost)

    def _more(self, best: Candidate) -> Iterator[_FoundLine]:
        """From a candidate, cheaper ones with more IPs, and fewer and fewer IPs of the last of them."""
        more = best
        for more in grown(self.problem, best, self.stopping.is_set):
            yield self._with_offer("putting IPs in", more, best.cost)
        if more is not best:
            for smaller in thinned(self.problem, more, self.stopping.is_set):
                yield self._with_offer("thinning", smaller, more.cost)

    def finished(self) -> SearchResult:
        """The line to offer, after a last polish of those with few IPs."""
        problem, whole = self.problem, not self.stopping.is_set()
        kept = sorted((c for c in self.found if c.kept), key=lambda c: c.cost)
        front: dict[int, Candidate] = {}
        for c in kept:
            front.setdefault(c.ips, c)
        # Few IPs first: each is polished once more before it is measured against the best.
        near = [c for c in front.values() if c.cost <= kept[0].cost * (1 + 2 * WITHIN_BEST)]
        few = sorted(near, key=lambda c: c.ips)[:6]

        def polished(c: Candidate) -> Offer | None:
            return offer_of(problem, polish(problem, c, 8) if whole else c)

        with ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as pool:
            offers = [o for o in pool.map(polished, [*kept[:1], *few]) if o is not None]
        offers += self.offers
        if not offers and not whole:
            raise DesignInputError(
                "limits",
                "Stopped before a line within the limits was found. Search again, and let it go on for longer.",
            )
        if not offers:
            raise DesignInputError(
                "limits",
                f"No line within the limits was found from {len(_starts(problem)) + len(_SPARSE)} layouts of IPs; that "
                "there is none is not proven. Allow a steeper grade, shorter curves or a closer spacing.",
            )
        best = min(offers, key=lambda o: o.rank)
        near_best = [o for o in offers if o.rounded == best.rounded and o.cost <= best.cost * (1 + WITHIN_BEST)]
        offered = min(near_best, key=lambda o: (o.ips, o.cost))
        pairs = sorted((ips, c.cost) for ips, c in front.items())
        parts = gap_parts(problem, self.bound, offered, best, kept[0]) if whole and kept else ()
        return SearchResult(self.bound.lower_bound, best, offered, pairs, parts, whole)
