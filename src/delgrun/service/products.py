"""What can be asked of a case, one product each: a new one is a function and a line in `PRODUCTS`.

The page asks for the products that its tracks and cards need. STILL ones need no grade line, LIVE ones go with
every move of the pointer, AFTER ones follow once the hand lets go. Each answers with a dataclass (its fields are
the API's) and arrays.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Bend
from delgrun.core.controls.utilities import Utilities, crossings
from delgrun.core.earthworks.evaluator import Evaluation, Ledger
from delgrun.core.earthworks.raising import level_price
from delgrun.core.earthworks.shifting import offset_price
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.vertical_curve import Held, Shape
from delgrun.core.ground import drawn
from delgrun.core.ground.contours import contour_interval_m
from delgrun.core.ground.tiles import Surface
from delgrun.core.inputs import UTILITIES
from delgrun.core.limits.check import Changed, LimitUse
from delgrun.core.limits.checks import BY_ID, brief
from delgrun.core.limits.clashes import Clash
from delgrun.core.section.chainages import Reported
from delgrun.core.units import FOOT_M
from delgrun.service.case import Case
from delgrun.service.check_figures import (
    BandFigures,
    PassingFigures,
    RemedyFigures,
    SiteWayFigures,
    SpeedFigures,
    UsesFigures,
    clashing,
    controls,
    mends,
    passing,
    sight_of,
    site,
    speeds,
    uses,
)
from delgrun.service.land_figures import Arrays, CodeFigures, LandFigures, areas, codes, land
from delgrun.service.results import of_checks, of_design, of_ground, of_road, of_works
from delgrun.service.section_figures import (
    LeanFigures,
    SectionFigures,
    SolidFigures,
    lean,
    section,
    sections,
    solid,
    stations,
)
from delgrun.service.space import SpaceFigures, space

FloatArray = NDArray[np.float64]

# The strip map shows less than is cut. [m]
STRIP_REACH_M = 40.0
# The grade of the ground at an end is taken over so much. [m]
END_REACH_M = 10.0


# STILL


@dataclass(frozen=True)
class GroundFigures:
    """Ground along the centreline: where the road starts and ends, and how much of the centreline lacks ground.

    Levels are those at the ends, grades those of the first and last metres.
    """

    start_m: float
    end_m: float
    start_level_m: float | None
    start_grade: float | None
    end_level_m: float | None
    end_grade: float | None
    start_lacks_m: float
    end_lacks_m: float
    bends: list[Bend]
    points: int
    triangles: int


def ground(case: Case) -> tuple[GroundFigures, Arrays]:
    tin, c, ls = of_ground.tin(case).value, of_road.centreline(case).value, of_road.long(case).value
    road = of_road.stretch(case)
    ends = _ground_at_ends(case)
    figures = GroundFigures(
        road.from_m, road.to_m, *ends, road.start_lacks_m, road.end_lacks_m, c.bends, len(tin.xyz), len(tin.triangles)
    )
    return figures, {
        "ground_chainage": ls.chainage_m,
        "ground_level": ls.level_m,
        "ground_gap": ls.after_gap,
        "section_chainage": of_design.chainages(case).value,
        "section_ground": of_design.cut_across(case).value.centre_level_m,
    }


def _ground_at_ends(case: Case) -> tuple[float | None, float | None, float | None, float | None]:
    """Level and grade of the ground at the start, and at the end."""
    road, along = (
        of_road.stretch(case),
        min(END_REACH_M, (of_road.stretch(case).to_m - of_road.stretch(case).from_m) / 2),
    )
    first, second = of_road.ground_at(case, road.from_m), of_road.ground_at(case, road.from_m + along)
    third, last = of_road.ground_at(case, road.to_m - along), of_road.ground_at(case, road.to_m)
    found = first, (second - first) / along, last, (last - third) / along
    return tuple(None if np.isnan(v) else float(v) for v in found)  # type: ignore[return-value]


def plan(case: Case) -> tuple[None, Arrays]:
    """The centreline each few metres; the project's other roads one behind the other, each begun by a NaN."""
    s, e, n, direction = drawn.centreline_samples(of_road.centreline(case).value)
    others = [drawn.outline(line) for road, line in of_road.roads(case).items() if road != case.road]
    gap = np.full((1, 2), np.nan)
    beside = np.concatenate([part for line in others for part in (gap, line)]) if others else np.zeros((0, 2))
    return None, {
        "plan_chainage": s, "plan_e": e, "plan_n": n, "plan_direction": direction, "other_e": beside[:, 0],
        "other_n": beside[:, 1],
    }  # fmt: skip


@dataclass(frozen=True)
class UtilityFigures:
    """A utility as it is drawn: its vertices (easting, northing, level), and where it crosses the centreline as
    (chainage, level). [m]
    """

    name: str
    what: str
    least_m: float
    xyz: list[tuple[float, float, float]]
    crossings: list[tuple[float, float]]


def utilities_drawn(case: Case) -> tuple[list[UtilityFigures], Arrays]:
    """Buried and overhead utilities in plan and along the road."""
    utilities: Utilities = case.state.get(UTILITIES)
    met = (
        case.made(crossings, case.state.slots[UTILITIES.name], of_road.centreline(case)).value if utilities.rows else []
    )
    return [
        UtilityFigures(
            of.name, of.what, of.least_m, [tuple(p) for p in of.xyz.tolist()],
            [(s, z) for row, s, z in met if row == k],
        )
        for k, of in enumerate(utilities.lines)
    ], {}  # fmt: skip


@dataclass(frozen=True)
class StripFigures:
    """Contours of the ground unrolled along the centreline: level and length of each piece in `strip`."""

    contour_interval_m: float
    levels: list[float]
    lengths: list[int]


def strip(case: Case) -> tuple[StripFigures, Arrays]:
    interval = contour_interval_m(of_ground.tin(case).value, FOOT_M.get(case.system, 1.0))
    pieces = case.made(drawn.strip_contours, of_design.cut_across(case), interval, STRIP_REACH_M).value
    figures = StripFigures(interval, [level for level, _ in pieces], [len(xy) for _, xy in pieces])
    joined = np.concatenate([xy for _, xy in pieces]) if pieces else np.zeros((0, 2))
    return figures, {"strip_chainage": joined[:, 0], "strip_offset": joined[:, 1]}


# LIVE


@dataclass(frozen=True)
class IpFigures:
    """An IP as it is kept, and what follows from it; grades are ratios."""

    chainage_m: float
    level_m: float
    curve_length_m: float
    held_k_m_per_pct: float | None
    shape: Shape
    in_share: float | None
    held: Held
    held_m: float | None
    held_level_m: float | None
    step_m: float
    locked_chainage_m: float | None
    locked_level_m: float | None
    locked_grade: float | None
    held_eye_m: float | None
    held_object_m: float | None
    held_headlight_m: float | None
    held_headlight_deg: float | None
    grade_in: float | None
    grade_out: float | None
    change_of_grade: float
    k_m_per_pct: float | None
    radius_m: float | None
    room_m: float
    curve_start_m: float
    curve_end_m: float


@dataclass(frozen=True)
class LineFigures:
    """The line itself, and its high and low points as (chainage, level, "high" or "low")."""

    ips: list[IpFigures]
    turning_points: list[tuple[float, float, str]]


def ip_figures(line: GradeLine, rest: tuple[GradeLine, list[IpFigures]] | None = None) -> list[IpFigures]:
    """What card and table show of each IP; `rest`: of the line that this one is a move of."""
    last = len(line.ips) - 1
    grade, start, end = line.grade.tolist(), line.curve_start_m.tolist(), line.curve_end_m.tolist()
    out: list[IpFigures] = []
    at = Changed.between(rest[0], line) if rest else None
    for i, ip in enumerate(line.ips):
        if rest and at and not at.low <= i < at.high:
            out.append(rest[1][i])
            continue
        k = line.k(i) if 0 < i < last else np.inf
        out.append(
            IpFigures(
                **vars(ip),
                grade_in=grade[i - 1] if i > 0 else None,
                grade_out=grade[i] if i < last else None,
                change_of_grade=line.change_of_grade(i),
                k_m_per_pct=float(k) if np.isfinite(k) else None,
                radius_m=float(line.radius_m[i]) or None,
                room_m=line.room_m(i),
                curve_start_m=start[i],
                curve_end_m=end[i],
            )
        )
    return out


def _ips_of(case: Case) -> list[IpFigures]:
    if "ips" not in case.told:
        case.told["ips"] = ip_figures(case.line)
    found: list[IpFigures] = case.told["ips"]
    return found


def line(case: Case) -> tuple[LineFigures, Arrays]:
    value = case.line
    s = np.unique(
        np.concatenate([of_design.chainages(case).value, value.chainage_m, value.curve_start_m, value.curve_end_m])
    )
    rest = (case.rest.line, _ips_of(case.rest)) if case.rest else None
    ips = ip_figures(value, rest) if rest else _ips_of(case)
    return LineFigures(ips, value.turning_points()), {"line_chainage": s, "line_level": value.levels(s)}


def works(case: Case) -> tuple[None, Arrays]:
    e = of_works.evaluation(case)
    return None, {"cut": e.cut_m2, "fill": e.fill_m2, "left": -e.left_m, "right": e.right_m}


def mass(case: Case) -> tuple[None, Arrays]:
    return None, {"mass": of_works.evaluation(case).mass_m3}


@dataclass(frozen=True)
class WorstUse:
    """The most used limit of those that have a measure, or the first failure that has none (`use` None).

    `brief` says what is wrong in the limit's own unit, where something is.
    """

    use: float | None
    name: str
    brief: str
    chainage_m: float


@dataclass(frozen=True)
class LedgerFigures(Ledger):
    """Totals of the line, its worst use and how many limits fail; advice is no failure."""

    worst_use: WorstUse | None
    failures: int


def ledger_figures(evaluation: Evaluation, uses: list[LimitUse]) -> LedgerFigures:
    """The ledger of a line with what its checks say."""
    counted = [u for u in uses if not BY_ID[u.check].advice]
    fails = [u for u in counted if u.fails]
    # Beside failures stands the worst of them, and a failure without a measure is worse than any that has one.
    among = fails or counted
    worst = max(among, key=lambda u: np.inf if u.use is None else u.use, default=None)
    shown = (
        None
        if worst is None
        else WorstUse(worst.use, BY_ID[worst.check].name, brief(worst) if worst.fails else "", worst.from_chainage_m)
    )
    return LedgerFigures(**vars(evaluation.ledger), worst_use=shown, failures=len(fails))


def ledger(case: Case) -> tuple[LedgerFigures, Arrays]:
    return ledger_figures(of_works.evaluation(case), of_checks.uses(case)), {}


# AFTER


def shift(case: Case) -> tuple[None, Arrays]:
    """What the road would cost more, or less, further left or right: money for each metre, per metre of road."""
    price = offset_price(
        of_works.works(case).value, of_works.evaluation(case), case.cost.value, of_road.centreline(case).value
    )
    return None, {"shift_left": price.left, "shift_right": price.right}


def level(case: Case) -> tuple[None, Arrays]:
    """What the road would cost more, or less, higher or lower: money for each metre, per metre of road."""
    price = level_price(of_works.works(case).value, of_works.evaluation(case), case.cost.value)
    return None, {"level_up": price.up, "level_down": price.down}


When = Literal["STILL", "LIVE", "AFTER"]


@dataclass(frozen=True)
class Product:
    """One thing to ask for; `shape`: type of what `make` answers beside its arrays, `at`: whether it asks for a
    chainage, or for some.
    """

    name: str
    when: When
    shape: Any
    make: Callable[..., tuple[Any, Arrays]]
    at: Literal["", "one", "many"] = ""


PRODUCTS: tuple[Product, ...] = (
    Product("ground", "STILL", GroundFigures, ground),
    Product("land", "STILL", LandFigures, land),
    Product("codes", "AFTER", list[CodeFigures], codes),
    Product("areas", "AFTER", Surface, areas),
    Product("plan", "STILL", None, plan),
    Product("strip", "STILL", StripFigures, strip),
    Product("lean", "STILL", LeanFigures, lean),
    Product("utilities", "LIVE", list[UtilityFigures], utilities_drawn),
    Product("line", "LIVE", LineFigures, line),
    Product("ledger", "LIVE", LedgerFigures, ledger),
    Product("uses", "LIVE", UsesFigures, uses),
    Product("works", "LIVE", None, works),
    Product("mass", "LIVE", None, mass),
    Product("sight", "LIVE", None, sight_of("sight", "stopping")),
    Product("headlight", "LIVE", None, sight_of("headlight", "headlight")),
    Product("intermediate", "LIVE", None, sight_of("intermediate", "intermediate")),
    Product("passing", "LIVE", PassingFigures, passing),
    Product("speeds", "LIVE", SpeedFigures, speeds),
    Product("controls", "LIVE", list[BandFigures], controls),
    Product("section", "LIVE", SectionFigures, section, at="one"),
    Product("sections", "LIVE", list[SectionFigures], sections, at="many"),
    Product("remedies", "AFTER", list[RemedyFigures], mends),
    Product("space", "AFTER", SpaceFigures, space),
    Product("clashes", "AFTER", list[Clash], clashing),
    Product("site", "AFTER", list[SiteWayFigures], site),
    Product("stations", "AFTER", list[Reported], stations),
    Product("solid", "AFTER", SolidFigures, solid),
    Product("shift", "AFTER", None, shift),
    Product("level", "AFTER", None, level),
)
BY_NAME: dict[str, Product] = {p.name: p for p in PRODUCTS}
