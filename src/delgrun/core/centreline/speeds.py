"""Speed of bends: what radius, superelevation and side friction allow, and what a bend needs at its design speed."""

from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from delgrun.core.centreline.bends import Bend
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant
from delgrun.core.stopping import METRIC, US_CUSTOMARY
from delgrun.core.units import FOOT_M, MILE_KM, say

FloatArray = NDArray[np.float64]

# V^2 [km/h] over this and the radius [m] is the lateral acceleration over g, as it is printed: 3.6^2 x 9.8; in mph and
# feet 15.
_GRAVITY = 127.0
_GRAVITIES = {METRIC: _GRAVITY, US_CUSTOMARY: 15 * MILE_KM**2 / FOOT_M["us"]}
# 3.6^3: a speed in km/h, cubed, in m/s.
_CUBED = 46.656
# A bend that pulls less than this without a transition needs none: common practice, from memory. [m/s2]
_FELT_M_S2 = 1.3
_SHARED, _BANK_FIRST, _FRICTION_FIRST = CHOICES = ("shared", "superelevation first", "friction first")


@dataclass(frozen=True, kw_only=True)
class SpeedRow:
    """What is allowed at one speed; between rows it runs straight."""

    speed_kmh: float = meant("speed", "speed", low=5, high=200)
    side_friction: float = meant("factor", "side friction", low=0.01, high=0.6)
    relative_grade: float = meant("fall", "edge against axis", low=0.001, high=0.05)
    source: str = meant("line", "source", first="")


# Side friction and the greatest grade of a road's edge against its axis, by speed. Policy values: those of 30, 50, 70,
# 90 and 110 km/h and the grade at 70 km/h stand in the reference values 7.3 and 7.4; the others are from memory.
_KNOWN = (30, 50, 70, 90, 110)
_TABLE = (
    (20, 0.35, 0.0080),
    (30, 0.28, 0.0075),
    (40, 0.23, 0.0070),
    (50, 0.19, 0.0065),
    (60, 0.17, 0.0060),
    (70, 0.15, 0.0055),
    (80, 0.14, 0.0050),
    (90, 0.13, 0.0047),
    (100, 0.12, 0.0044),
    (110, 0.11, 0.0041),
    (120, 0.09, 0.0038),
    (130, 0.08, 0.0035),
)


def _source(speed: int) -> str:
    if speed == 70:
        return "printed policy"
    return "printed; edge from memory" if speed in _KNOWN else "from memory"


_ROWS = tuple(SpeedRow(speed_kmh=v, side_friction=f, relative_grade=g, source=_source(v)) for v, f, g in _TABLE)


# Wheelbases of vehicles that bends are widened for: of the policy's P, SU-9, CITY-BUS, WB-12 and WB-19; a trailer has
# one of its own from the hitch. From memory.
_TYPED = "as typed"
_VEHICLES: dict[str, tuple[float, ...]] = {
    _TYPED: (), "car": (3.35,), "truck": (6.1,), "bus": (7.62,), "semitrailer": (3.81, 7.77),
    "long semitrailer": (5.94, 12.5),
}  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class BendRules:
    """By what bends are judged. Each value is from memory of its authors where its row names no source."""

    max_superelevation: float = meant("fall", "steepest superelevation", low=0, high=0.15, first=0.08)
    divides: str = meant(
        "word",
        "gentler bends",
        choices=CHOICES,
        first=_SHARED,
        says="shared: with side friction, both as the curvature; or one of them as far as it goes before the other",
    )
    lateral_jerk: float = meant(
        "jerk", "lateral jerk", low=0.1, high=3, first=1.2, aside="at most", says="on transitions; from memory"
    )
    least_shift_m: float = meant(
        "size", "shift of the arc", low=0, high=2, first=0.2, aside="at least", says="by a transition; from memory"
    )
    lanes: int = meant(
        "count", "lanes", low=1, high=6, first=2, aside="both ways together", says="that are widened; 1: a single lane"
    )
    vehicle: str = meant(
        "word", "longest vehicle", choices=tuple(_VEHICLES), first=_TYPED,
        says="that bends are widened for; its wheelbases are from memory",
    )  # fmt: skip
    wheelbase_m: float = meant("size", "wheelbase", low=1, high=20, first=6.1, says="for widening, where it is typed")
    fastest_kmh: float = meant(
        "speed", "speed on straights", low=20, high=200, first=100.0, says="bends are not driven faster; from memory"
    )
    most_slower_kmh: float = meant("speed", "slower than a neighbour", low=1, high=100, first=10.0, aside="at most")
    form: str = meant(
        "word", "form", choices=tuple(_GRAVITIES), first=METRIC,
        says="least radius; metric: V²/(127 (e + f)); US customary: V²/(15 (e + f)) in mph and feet",
    )  # fmt: skip
    rows: tuple[SpeedRow, ...] = meant("count", "by speed", of=SpeedRow, most=60, first=_ROWS)

    def check(self) -> None:
        """Raises DesignInputError where the table says nothing, or friction grows with speed."""
        if len(self.rows) < 2:
            raise DesignInputError("rows", "The table by speed needs two rows or more.")
        for a, b in zip(self.rows, self.rows[1:], strict=False):
            if b.speed_kmh <= a.speed_kmh:
                raise DesignInputError(
                    "speed_kmh",
                    "The row of {b:speed} must come before that of {a:speed}.",
                    b=b.speed_kmh,
                    a=a.speed_kmh,
                )
            if b.side_friction > a.side_friction:
                raise DesignInputError(
                    "side_friction", "Side friction must not grow with speed, as it does at {v:speed}.", v=b.speed_kmh
                )

    @property
    def off_tracking_m2(self) -> float:
        """Squares of the wheelbases of the longest vehicle, from axle to axle or hitch, summed up."""
        parts = (self.wheelbase_m,) if self.vehicle == _TYPED else _VEHICLES[self.vehicle]
        return sum(part**2 for part in parts)

    @property
    def gravity(self) -> float:
        """V^2 [km/h] over this and the radius [m] is the lateral acceleration over g."""
        return _GRAVITIES[self.form]

    def friction(self, speed_kmh: FloatArray | float) -> FloatArray:
        """Side friction allowed at these speeds; beyond the table as at its ends."""
        speeds, friction, _ = self._columns
        found: FloatArray = np.interp(np.asarray(speed_kmh, dtype=np.float64), speeds, friction)
        return found

    def relative_grade(self, speed_kmh: float) -> float:
        """Greatest grade of the road's edge against its axis at a speed."""
        speeds, _, grades = self._columns
        return float(np.interp(speed_kmh, speeds, grades))

    @cached_property
    def _columns(self) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Speeds, side frictions and relative grades of the rows."""
        rows = np.array([(r.speed_kmh, r.side_friction, r.relative_grade) for r in self.rows], dtype=np.float64)
        return rows[:, 0], rows[:, 1], rows[:, 2]


# The same in miles an hour, of the policy's US customary tables: side friction at 40 and 60 mph stands in the
# reference values 7.3, the others are from memory.
_US_TABLE = (
    (15, 0.32, 0.0078),
    (20, 0.27, 0.0074),
    (25, 0.23, 0.0070),
    (30, 0.20, 0.0066),
    (35, 0.18, 0.0062),
    (40, 0.16, 0.0058),
    (45, 0.15, 0.0054),
    (50, 0.14, 0.0050),
    (55, 0.13, 0.0047),
    (60, 0.12, 0.0045),
    (65, 0.11, 0.0043),
    (70, 0.10, 0.0040),
    (75, 0.09, 0.0038),
    (80, 0.08, 0.0035),
)


def us_bend_rules() -> BendRules:
    """What a new project in feet judges its bends by.

    >>> round(least_radius_m(60 * MILE_KM, 0.06, 0.12, us_bend_rules().gravity) / 0.3048)
    1333
    """
    return BendRules(
        form=US_CUSTOMARY,
        fastest_kmh=60 * MILE_KM,
        most_slower_kmh=5 * MILE_KM,
        rows=tuple(
            SpeedRow(
                speed_kmh=v * MILE_KM,
                side_friction=f,
                relative_grade=g,
                source="printed; edge from memory" if v in (40, 60) else "from memory",
            )
            for v, f, g in _US_TABLE
        ),
    )


@dataclass(frozen=True)
class RoadWidth:
    """The road that is turned in bends: lane width [m], and its fall on straights."""

    lane_m: float
    crossfall: float


@dataclass(frozen=True)
class BendSpeed:
    """What a bend allows and needs. Speeds in km/h, lengths in metres, superelevation and friction as ratios.

    `allowed_kmh`: the speed at which all side friction is used, at most the table's fastest; `friction`: what the
    design speed needs; `transition_m` and `transition_by`: shortest usual transition and what asks for it;
    `without`: it should have transitions and has none; `slower_by_kmh`: how much slower than a neighbour.
    """

    ip: int
    design_kmh: float
    superelevation: float
    friction: float
    friction_allowed: float
    least_radius_m: float
    allowed_kmh: float
    transition_m: float
    transition_by: str
    runout_m: float
    without: bool
    widening_m: float
    slower_by_kmh: float

    @property
    def too_tight(self) -> bool:
        """Whether it allows less than its design speed."""
        return self.allowed_kmh < self.design_kmh - 1e-6


def marks(bend: Bend, speed: BendSpeed) -> list[str]:
    """What is to be said of a bend, and what to do; nothing where it is as it should be."""
    out = []
    if speed.too_tight:
        out.append(
            say("too tight for {v:speed}: R {r:about} or more", v=speed.design_kmh, r=np.ceil(speed.least_radius_m))
        )
    if speed.slower_by_kmh > 0:
        out.append(say("{v:about_speed} slower than a bend beside it", v=speed.slower_by_kmh))
    usual = say("{t:about} are usual ({by})", t=np.ceil(speed.transition_m), by=speed.transition_by)
    least = min(bend.transition_in_m, bend.transition_out_m)
    if speed.without:
        out.append(f"no transition; {usual}")
    elif 0 < least < speed.transition_m - 0.05:
        out.append(f"short transition: {usual}")
    return out


def least_radius_m(speed_kmh: float, superelevation: float, friction: float, gravity: float = _GRAVITY) -> float:
    """V^2 / (127 (e + f)), or with another form's constant. [m]

    Source: balance of a point mass on a banked road, with the policy's constants; reference values 7.3.

    >>> round(least_radius_m(70, 0.08, 0.15))
    168
    """
    return speed_kmh**2 / (gravity * (superelevation + friction))


def superelevation_of(rules: BendRules, speed_kmh: float, radius_m: float, least: float = 0.0) -> float:
    """What a bend is banked by at its design speed, at least the fall on straights.

    "shared": superelevation and friction both as the curvature, e = e_max R_min / R; "superelevation first": all that
    it takes, up to the steepest; "friction first": only what friction leaves. Common practice, no source.
    """
    most, friction = rules.max_superelevation, float(rules.friction(speed_kmh))
    pull = speed_kmh**2 / (rules.gravity * radius_m)
    if rules.divides == _BANK_FIRST:
        found = pull
    elif rules.divides == _FRICTION_FIRST:
        found = pull - friction
    else:
        found = most * pull / (most + friction)
    return float(min(max(found, least), most))


def allowed_speed_kmh(rules: BendRules, radius_m: float, superelevation: float) -> float:
    """The speed at which a bend uses all side friction: V^2 = 127 R (e + f(V)), at most the table's fastest.

    >>> round(allowed_speed_kmh(BendRules(), 168, 0.08))
    70
    """
    # At each row it is told on which side the speed lies; between two, friction runs straight, and V^2 with it.
    grip = rules.gravity * radius_m
    rows = rules.rows
    if rows[0].speed_kmh ** 2 >= grip * (superelevation + rows[0].side_friction):
        return float(np.sqrt(grip * (superelevation + rows[0].side_friction)))
    for a, b in pairwise(rows):
        if b.speed_kmh**2 >= grip * (superelevation + b.side_friction):
            fall = (b.side_friction - a.side_friction) / (b.speed_kmh - a.speed_kmh)
            half = grip * fall / 2
            there = grip * (superelevation + a.side_friction - fall * a.speed_kmh)
            return float(half + np.sqrt(half * half + there))
    return rows[-1].speed_kmh


def comfort_m(speed_kmh: float, radius_m: float, jerk: float) -> float:
    """Transition on which lateral acceleration grows at this rate [m/s3]: V^3 / (46.656 R C). Plane mechanics. [m]"""
    return speed_kmh**3 / (_CUBED * radius_m * jerk)


def shift_m(radius_m: float, shift: float) -> float:
    """Transition that moves its arc inward by this: sqrt(24 p R), the first term of the clothoid's series. [m]"""
    return float(np.sqrt(24 * shift * radius_m))


def runoff_m(width_m: float, lanes: float, change: float, relative_grade: float, shared: float = 1.0) -> float:
    """Length in which a road's edge may be turned: w n e b_w / d. Reference values 7.4. [m]

    Parameters
    ----------
    width_m : of one lane
    lanes : turned together
    change : of crossfall, as a ratio
    relative_grade : greatest grade of the edge against the axis
    shared : how much of it more than one lane takes (b_w)

    >>> round(runoff_m(3.6, 1, 0.06, 0.0055), 2)
    39.27
    """
    return width_m * lanes * change * shared / relative_grade


def widening_m(speed_kmh: float, radius_m: float, lanes: int, off_tracking_m2: float) -> float:
    """n sum(l^2) / (2 R) + V / (9.5 sqrt(R)): off-tracking of the wheelbases l, and room for steering. [m]

    From memory; that squares of the wheelbases of a trailer add up is the first term of R - sqrt(R^2 - sum(l^2)).

    >>> round(widening_m(50, 100, 2, 3.81**2 + 7.77**2), 2)
    1.28
    """
    return lanes * off_tracking_m2 / (2 * radius_m) + speed_kmh / (9.5 * float(np.sqrt(radius_m)))


def bend_speeds(
    bends: list[Bend], ips: list[CentrelineIp], rules: BendRules, design_kmh: list[float], roads: list[RoadWidth]
) -> list[BendSpeed]:
    """What each bend allows and needs; `design_kmh` is the design speed of each, `roads` what is built there."""
    each = zip(bends, design_kmh, roads, strict=True)
    found = [_one(b, ips[b.ip].superelevation, rules, v, road) for b, v, road in each]
    driven = np.minimum([b.allowed_kmh for b in found], rules.fastest_kmh)
    beside = np.full((2, len(driven)), -np.inf)
    beside[0, 1:], beside[1, :-1] = driven[:-1], driven[1:]
    slower = beside.max(axis=0, initial=-np.inf) - driven
    # A hair over the limit is rounding.
    return [
        replace(b, slower_by_kmh=float(by)) if by > rules.most_slower_kmh + 1e-6 else b
        for b, by in zip(found, slower, strict=True)
    ]


def _one(bend: Bend, banked: float | None, rules: BendRules, speed: float, road: RoadWidth) -> BendSpeed:
    radius = bend.radius_m
    e = superelevation_of(rules, speed, radius, road.crossfall) if banked is None else banked
    edge = rules.relative_grade(speed)
    asked = {
        "comfort": comfort_m(speed, radius, rules.lateral_jerk),
        "shift": shift_m(radius, rules.least_shift_m),
        "superelevation": runoff_m(road.lane_m, 1, e, edge),
    }
    by = max(asked, key=lambda name: asked[name])
    pulls = (speed / 3.6) ** 2 / radius
    return BendSpeed(
        ip=bend.ip,
        design_kmh=speed,
        superelevation=e,
        friction=max(speed**2 / (rules.gravity * radius) - e, 0.0),
        friction_allowed=float(rules.friction(speed)),
        least_radius_m=least_radius_m(speed, rules.max_superelevation, float(rules.friction(speed)), rules.gravity),
        allowed_kmh=allowed_speed_kmh(rules, radius, e),
        transition_m=asked[by],
        transition_by=by,
        runout_m=runoff_m(road.lane_m, 1, road.crossfall, edge),
        without=pulls > _FELT_M_S2 and bend.transition_in_m == 0.0 and bend.transition_out_m == 0.0,
        widening_m=widening_m(speed, radius, rules.lanes, rules.off_tracking_m2),
        slower_by_kmh=0.0,
    )


def standard_bend(turn: float, rules: BendRules, speed_kmh: float, road: RoadWidth) -> tuple[float, float]:
    """Radius and transitions of a bend that turns by so much [rad]: the least that its design speed allows. [m]

    Both in steps of 5 m. The arc is at least as long as each transition (common practice, no source): a small turn
    gets a larger radius.
    """
    radius = _up(least_radius_m(speed_kmh, rules.max_superelevation, float(rules.friction(speed_kmh)), rules.gravity))
    while True:
        e = superelevation_of(rules, speed_kmh, radius, road.crossfall)
        edge = rules.relative_grade(speed_kmh)
        transition = _up(
            max(
                comfort_m(speed_kmh, radius, rules.lateral_jerk),
                shift_m(radius, rules.least_shift_m),
                runoff_m(road.lane_m, 1, e, edge),
            )
        )
        if (speed_kmh / 3.6) ** 2 / radius <= _FELT_M_S2:
            return radius, 0.0
        if radius * abs(turn) >= 2 * transition:
            return radius, transition
        radius = _up(1.05 * radius)


def _up(length: float) -> float:
    return float(5 * np.ceil(length / 5 - 1e-9))
