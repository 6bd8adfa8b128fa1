"""What checks say of a case: findings, sight, passing, speeds, level controls, and what would mend."""

from collections.abc import Callable, Iterable
from dataclasses import asdict, dataclass, replace
from typing import Any, Literal

import numpy as np

from delgrun.core.earthworks.evaluator import Earthworks, evaluate_line
from delgrun.core.limits.broken import in_words, newly_broken
from delgrun.core.limits.check import LimitUse, SightKind
from delgrun.core.limits.checks import BY_ID, CHECKS, brief, sentence, where
from delgrun.core.limits.clashes import Clash
from delgrun.core.limits.remedies import remedies
from delgrun.core.limits.site_ways import MENDED_ON_SITE, Wider, applied, site_ways
from delgrun.core.sight.allowed import Allowed, allowed_speeds
from delgrun.core.sight.passing import Marked, share_of
from delgrun.core.trucks.trucks import Truck
from delgrun.core.units import say
from delgrun.service.case import Case
from delgrun.service.land_figures import Arrays
from delgrun.service.results import of_checks, of_design, of_limits, of_works
from delgrun.service.results.of_limits import clashes_of

Badness = Literal["fails", "nearly", "advice"]


@dataclass(frozen=True, kw_only=True)
class Finding(LimitUse):
    """A use that fails, or nearly does, in words; `place` says whether it is about its IP or a stretch."""

    name: str
    brief: str
    sentence: str
    place: Literal["ip", "stretch"]
    advice: bool
    bad: Badness


@dataclass(frozen=True)
class UsesFigures:
    """All uses that are drawn; findings as they come; and those that are kept by a hair, the nearest first."""

    uses: list[LimitUse]
    findings: list[Finding]
    nearly: list[Finding]


# From here on a limit is kept by a hair.
NEARLY = 0.97


# So many sentences of a line at rest and of moves of it are kept.
_MOST_TOLD = 4000


def _told(case: Case, kind: str, u: LimitUse, tell: Callable[[LimitUse], Finding]) -> Finding:
    """A use in words, said once for a line and all moves of it."""
    told = (case.rest or case).told
    key = kind, u
    found: Finding | None = told.get(key)
    if found is None:
        if len(told) > _MOST_TOLD:
            told.clear()
        found = told[key] = tell(u)
    return found


def failing(u: LimitUse) -> Finding:
    """A use that fails, in words."""
    check = BY_ID[u.check]
    words = brief(u)
    return Finding(
        **vars(u), name=check.name, brief=words, sentence=sentence(u, words), place=check.place, advice=check.advice,
        bad="advice" if check.advice else "fails",
    )  # fmt: skip


def findings_of(case: Case) -> list[Finding]:
    """Those that fail, in words, the worst first."""
    return worst_first(_told(case, "fails", u, failing) for u in of_checks.uses(case) if u.fails)


def worst_first(bad: Iterable[Finding]) -> list[Finding]:
    """By use, a failure without a measure before and advice behind all."""
    return sorted(bad, key=lambda u: (u.advice, -u.use if u.use is not None else 0.0 if u.advice else -np.inf))


def _close(u: LimitUse) -> Finding:
    check = BY_ID[u.check]
    words = say("{use:percent} used", use=u.use)
    return Finding(
        **vars(u), name=check.name, brief=words, sentence=f"{words} {where(u)}", place=check.place, advice=False,
        bad="nearly",
    )  # fmt: skip


def nearly(case: Case) -> list[Finding]:
    """Limits that are kept by a hair, in words; tie-ins and levels that are met exactly are none."""
    close = [
        _told(case, "nearly", u, _close)
        for u in of_checks.uses(case)
        if u.use is not None and u.use >= NEARLY and not u.fails and not BY_ID[u.check].advice
    ]
    return sorted(close, key=lambda u: -(u.use or 0.0))


def uses(case: Case) -> tuple[UsesFigures, Arrays]:
    drawn_ = [u for u in of_checks.uses(case) if u.check in _DRAWN]
    return UsesFigures(drawn_, findings_of(case), nearly(case)), {}


_DRAWN = frozenset(c.id for c in CHECKS if c.row is not None)


def sight_of(name: str, kind: SightKind) -> Callable[[Case], tuple[Any, Arrays]]:
    """Sight of a kind both ways at each eye, NaN where one sees to the end, and what is needed. [m]"""

    def make(case: Case) -> tuple[None, Arrays]:
        ahead, back = of_checks.checked(case).sights(kind)
        return None, {
            f"{name}_at": ahead.at_m,
            f"{name}_ahead": np.where(np.isfinite(ahead.seen_m), ahead.seen_m, np.nan),
            f"{name}_ahead_needed": ahead.needed_m,
            f"{name}_back": np.where(np.isfinite(back.seen_m), back.seen_m, np.nan),
            f"{name}_back_needed": back.needed_m,
        }

    return make


@dataclass(frozen=True)
class PassingFigures:
    """Shares of the length where passing is possible each way, and the stretches with and without it."""

    ahead: float
    back: float
    marked: list[Marked]


def passing(case: Case) -> tuple[PassingFigures, Arrays]:
    """Where passing is possible, and the sight that it is judged by."""
    ahead, back = of_checks.checked(case).marked
    arrays = sight_of("passing", "passing")(case)[1]
    return PassingFigures(share_of(ahead), share_of(back), [*ahead, *back]), arrays


@dataclass(frozen=True)
class SpeedFigures:
    """What curves and bends allow, the fastest design speed and what a truck comes with. [km/h]"""

    allowed: list[Allowed]
    design_kmh: float
    truck_comes_with_kmh: float
    truck_least_kmh: float


def speeds(case: Case) -> tuple[SpeedFigures, Arrays]:
    """Speeds that the road allows, and that of the truck both ways. [km/h]"""
    c = of_checks.checked(case)
    design, truck = c.limits.design_speed_kmh, c.truck or Truck()
    fastest = truck.fastest(design)
    bends = ((b.from_m, b.to_m, b.allowed_kmh) for b in c.bends)
    allowed = list(allowed_speeds(c.line, bends, c.limits.stopping()))
    ahead, back = c.truck_ahead, c.truck_back
    arrays = {
        "truck_at": ahead.at_m,
        "design": c.limits.steps("design_speed_kmh").at(ahead.at_m),
        "truck_ahead": ahead.kmh,
        "truck_back": back.kmh,
    }
    return SpeedFigures(allowed, float(arrays["design"].max()), fastest, fastest - truck.most_slower_kmh), arrays


@dataclass(frozen=True)
class BandFigures:
    """A band of levels that a control (its place among all) or a utility asks, and how much room the line has in it.

    Its `points` places are the next ones of `band_chainage`, `band_low` and `band_high`; without a line there, or a
    reference, it has no `slack_m`.
    """

    kind: Literal["control", "utility", "depth"]
    row: int
    what: str
    points: int
    joined: bool
    slack_m: float | None = None
    at_m: float | None = None
    level_m: float | None = None
    limit_m: float | None = None
    lower: bool | None = None


def controls(case: Case) -> tuple[list[BandFigures], Arrays]:
    """Bands of levels that a line keeps to, with or without one, NaN where it is free or has no reference. [m]"""
    out = []
    rooms = (
        [(band, None) for band in of_limits.limits(case).value.bands]
        if case.grade_line is None
        else of_checks.checked(case).rooms
    )
    for band, found in rooms:
        of = BandFigures(band.kind, band.row, band.what, len(band.chainage_m), band.joined)
        if found is not None:
            of = replace(
                of, slack_m=found.slack_m, at_m=found.at_m, level_m=found.level_m, limit_m=found.limit_m,
                lower=found.lower,
            )  # fmt: skip
        out.append(of)
    rows = [(b.chainage_m, b.reference_m + b.low_m, b.reference_m + b.high_m) for b, _ in rooms]
    s, low, high = np.concatenate(rows, axis=1) if rows else np.zeros((3, 0))
    free = np.where(np.isfinite([low, high]), [low, high], np.nan)
    return out, {"band_chainage": s, "band_low": free[0], "band_high": free[1]}


def clashing(case: Case) -> tuple[list[Clash], Arrays]:
    """What no line can keep together."""
    return clashes_of(case), {}


@dataclass(frozen=True)
class RemedyFigures:
    """A remedy that mends what these checks say of an IP, and what it changes in cost; `edit` is as an edit is sent,
    `breaks` says what fails by it.
    """

    ip: int
    checks: list[str]
    label: str
    edit: dict[str, Any]
    cost_change: float
    breaks: list[str]


def mends(case: Case) -> tuple[list[RemedyFigures], Arrays]:
    """What would mend each failure of the line, and each advice."""
    works_, cost, own = of_works.works(case).value, case.cost.value, of_works.evaluation(case)
    found = remedies(
        of_checks.checked(case), CHECKS, lambda candidate: evaluate_line(works_, candidate, cost, own), newly_broken
    )
    return [
        RemedyFigures(
            r.ip,
            list(r.checks),
            r.label,
            {"what": r.edit.what, **asdict(r.edit)},
            r.cost_change,
            in_words(of_checks.checked(case).line, r.breaks),
        )
        for r in found
    ], {}


@dataclass(frozen=True)
class SiteWayFigures:
    """A way to mend a finding by building something else: the row that is added to an input and what it costs more, or
    the step where it is done by hand.
    """

    check: str
    from_chainage_m: float
    label: str
    into: str
    row: dict[str, Any] | None
    cost_change: float | None


# Ways are worked out for so many findings.
_MOST_MENDED = 12


def site(case: Case) -> tuple[list[SiteWayFigures], Arrays]:
    """Ways to mend what is found about sections, each with what it changes in cost about."""
    c = of_checks.checked(case)
    works, cost = of_works.works(case).value, case.cost.value
    design, before = of_design.design(case).value, of_works.evaluation(case).ledger.cost
    found: list[SiteWayFigures] = []
    bad = [u for u in of_checks.uses(case) if u.fails and u.check in MENDED_ON_SITE]
    for u in bad[:_MOST_MENDED]:
        for way in site_ways(c, u, case.road):
            change = None
            if way.row is not None and not isinstance(way.row, Wider):
                # On the sections that there are: those that it would add change little.
                there = Earthworks.of(works.ground, applied(design, way))
                change = evaluate_line(there, case.line, cost).ledger.cost - before
            row = None if way.row is None else vars(way.row)
            found.append(SiteWayFigures(way.check, way.from_m, way.label, way.into, row, change))
    return found, {}
