"""What a check is: a rule of the line that says how much of it is used, where it fails, and what would mend it."""

from bisect import bisect_left
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.controls.bands import Band, Slack, slack_of
from delgrun.core.earthworks.evaluator import Earthworks, Evaluation
from delgrun.core.gradeline.edit_kinds import Edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.sight.along import AtRest, Driven, Lights, Sight, meeting_sight, passing_sight, stopping_sight
from delgrun.core.sight.passing import Marked, markings, passing_sight_m
from delgrun.core.trucks.trucks import RunAtRest, Truck, TruckRun, run
from delgrun.core.units import say

FloatArray = NDArray[np.float64]

SightKind = Literal["stopping", "headlight", "intermediate", "passing"]

# Millimetre rounding of levels and lengths may use up this much of a limit.
USE_TOLERANCE = 1e-6


@dataclass(frozen=True)
class LimitUse:
    """What one check says of one stretch.

    `use` is demand over what is allowed, above 1 it fails: for a most, demand is the value; for a least,
    use = allowed / provided. None: the rule has no measure and is broken. `ip` is the IP the stretch
    belongs to, or the one it starts from. `about`: words for what else it is about, such as a bend.
    """

    check: str
    from_chainage_m: float
    to_chainage_m: float
    value: float
    limit: float
    use: float | None
    ip: int
    about: str = ""

    @property
    def fails(self) -> bool:
        return self.use is None or self.use > 1 + USE_TOLERANCE


@dataclass(frozen=True)
class PlanBend:
    """A bend as checks look at it: where it lies [m], its radius [m, positive to the right], the speed it allows and
    that it should, the least radius for that, its shorter transition and what is usual (`without`: it should have one
    and has none), and how much wider it should be. [m, km/h]
    """

    from_m: float
    to_m: float
    radius_m: float
    allowed_kmh: float
    design_kmh: float = 0.0
    least_radius_m: float = 0.0
    transition_m: float = 0.0
    usual_m: float = 0.0
    without: bool = False
    widening_m: float = 0.0

    @property
    def words(self) -> str:
        side = "right" if self.radius_m > 0 else "left"
        return say(f"the bend to the {side} of R {{r:about}}", r=abs(self.radius_m))


def _ip(u: LimitUse) -> int:
    return u.ip


# A local check looks at an IP, and at no more than so many to each side of it.
BESIDE = 3


@dataclass(frozen=True)
class Changed:
    """Where a line differs from another with as many IPs: IPs from `low` to before `high` may be used otherwise; the
    line itself runs otherwise between two chainages. [m]
    """

    low: int
    high: int
    from_m: float
    to_m: float

    @property
    def skipped(self) -> int:
        """How many IPs stand before those that local checks look at for it."""
        return max(self.low - BESIDE, 0)

    @staticmethod
    def between(rest: GradeLine, line: GradeLine) -> "Changed | None":
        """None where too much differs for anything to be taken over."""
        n = len(line.ips)
        if len(rest.ips) != n:
            return None
        other = [i for i in range(n) if rest.ips[i] is not line.ips[i] and rest.ips[i] != line.ips[i]]
        if not other:
            return Changed(0, 0, np.inf, -np.inf)
        first, last = max(other[0] - 1, 0), min(other[-1] + 1, n - 1)
        low, high = max(other[0] - BESIDE, 0), min(other[-1] + BESIDE + 1, n)
        if 2 * (high - low) > n:
            return None
        # Curves of the IPs beside those that moved change with their grades, and tangents with the curves they join.
        start = float(line.curve_end_m[first - 1] if first > 0 else line.chainage_m[0])
        end = float(line.curve_start_m[last + 1] if last < n - 1 else line.chainage_m[-1])
        return Changed(low, high, start, end)


@dataclass(frozen=True)
class Checked:
    """What checks look at: a line under limits and, where known, its earthworks, bends in plan and a truck.

    `rest`: the same of a line that this one was made of by an edit. What it says holds here too where nothing changed:
    the same answer as anew, to the bit.
    """

    line: GradeLine
    limits: LimitSet
    works: Earthworks | None = None
    evaluation: Evaluation | None = None
    bends: tuple[PlanBend, ...] = ()
    truck: Truck | None = None
    rest: "Checked | None" = field(default=None, compare=False, repr=False)
    design: RoadDesign | None = field(default=None, compare=False, repr=False)

    @cached_property
    def changed(self) -> Changed | None:
        """Where the line differs from the one at rest, whose results elsewhere are taken over; None: there is none."""
        rest = self.rest
        if rest is None or rest.limits is not self.limits or rest.bends is not self.bends:
            return None
        if rest.works is not self.works or rest.truck != self.truck:
            return None
        return Changed.between(rest.line, self.line)

    def used(self, check: "Check") -> list[LimitUse]:
        """What a check says, worked out once; what a local one says of IPs that did not change is as at rest."""
        if check.id not in self._used:
            self._used[check.id] = self._found(check)
        return self._used[check.id]

    def _found(self, check: "Check") -> list[LimitUse]:
        if not check.local:
            return list(check.uses(self))
        at = self.changed
        if at is None or self.rest is None:
            return sorted(check.uses(self), key=_ip)
        old, here = self.rest.used(check), self._here(at)
        new = [
            LimitUse(u.check, u.from_chainage_m, u.to_chainage_m, u.value, u.limit, u.use, u.ip + at.skipped, u.about)
            for u in check.uses(here)
            if at.low <= u.ip + at.skipped < at.high
        ]
        before, behind = bisect_left(old, at.low, key=_ip), bisect_left(old, at.high, key=_ip)
        return [*old[:before], *sorted(new, key=_ip), *old[behind:]]

    def _here(self, at: Changed) -> "Checked":
        """The same of the IPs where the line changed, and as many beside them as local checks look at."""
        if "here" not in self._parts:
            line = GradeLine(self.line.ips[at.skipped : at.high + BESIDE])
            self._parts["here"] = Checked(line, self.limits, self.works, self.evaluation, self.bends, self.truck)
        return self._parts["here"]

    @cached_property
    def _used(self) -> dict[str, list[LimitUse]]:
        return {}

    @cached_property
    def _parts(self) -> "dict[str, Checked]":
        return {}

    @cached_property
    def ahead(self) -> Sight:
        """Sight for stopping in the direction of chainage."""
        return stopping_sight(self.line, self.limits.stopping(), self.driven, rest=self._at_rest("ahead"))

    @cached_property
    def back(self) -> Sight:
        return stopping_sight(self.line, self.limits.stopping(), self.driven, back=True, rest=self._at_rest("back"))

    def _at_rest(self, way: Literal["ahead", "back"]) -> "AtRest | None":
        at = self.changed
        return None if at is None or self.rest is None else AtRest(getattr(self.rest, way), at.from_m, at.to_m)

    @cached_property
    def rooms(self) -> list[tuple[Band, Slack | None]]:
        """Each band of levels, and how much room the line has in it."""
        return [(band, slack_of(self.line, band)) for band in self.limits.bands]

    @cached_property
    def driven(self) -> Driven:
        """The design speed along the road."""
        steps = self.limits.steps("design_speed_kmh")
        return Driven(np.array(steps.edges, dtype=np.float64), np.array(steps.values, dtype=np.float64))

    def sights(self, kind: SightKind) -> tuple[Sight, Sight]:
        """Sight of a kind in the direction of chainage, and against it."""
        if kind == "stopping":
            return self.ahead, self.back
        return getattr(self, f"_{kind}")  # type: ignore[no-any-return]

    @cached_property
    def _headlight(self) -> tuple[Sight, Sight]:
        lim = self.limits
        lights = Lights(lim.headlight_m, float(np.tan(np.radians(lim.headlight_deg))))
        return self._both(lambda back: stopping_sight(self.line, lim.stopping(), self.driven, back=back, lights=lights))

    @cached_property
    def _intermediate(self) -> tuple[Sight, Sight]:
        rules = self.limits.stopping()
        return self._both(lambda back: meeting_sight(self.line, rules, self.driven, back=back))

    @cached_property
    def _passing(self) -> tuple[Sight, Sight]:
        return self._both(lambda back: passing_sight(self.line, self.limits.eye_m, self._to_pass_m, back=back))

    def _to_pass_m(self, chainage_m: FloatArray) -> FloatArray:
        """(n,) sight needed to pass: what is set there, or else the table's for the design speed. [m]"""
        own = self.limits.steps("passing_sight_m").at(chainage_m)
        return np.where(np.isnan(own), passing_sight_m(self.driven.at(chainage_m)), own)

    @staticmethod
    def _both(look: Callable[[bool], Sight]) -> tuple[Sight, Sight]:
        return look(False), look(True)

    @cached_property
    def marked(self) -> tuple[list[Marked], list[Marked]]:
        """Stretches with and without passing in the direction of chainage, and against it."""
        ahead, back = self.sights("passing")
        shortest = self.limits.shortest_passing_m
        lanes = () if self.design is None else self.design.varies.lanes
        driving = self.limits.drive_on
        with_it = [(row.from_m, row.to_m) for row in lanes if row.side == driving]
        against = [(row.from_m, row.to_m) for row in lanes if row.side != driving]
        return markings(ahead, "ahead", shortest, with_it), markings(back, "back", shortest, against)

    @cached_property
    def truck_ahead(self) -> TruckRun:
        """The truck that grades are judged by, in the direction of chainage; one is needed."""
        return self._run("truck_ahead")

    @cached_property
    def truck_back(self) -> TruckRun:
        return self._run("truck_back")

    def _run(self, way: Literal["truck_ahead", "truck_back"]) -> TruckRun:
        at = self.changed
        rest = None if at is None or self.rest is None else RunAtRest(getattr(self.rest, way), at.from_m, at.to_m)
        truck = self.truck or Truck()
        return run(self.line, truck, self.limits.design_speed_kmh, back=way == "truck_back", rest=rest)


@dataclass(frozen=True)
class Remedy:
    """An edit that may mend a failure, in the words of its button."""

    label: str
    edit: Edit


Mends = Callable[[Edit], bool]


def no_remedies(_checked: Checked, _use: LimitUse, _mends: Mends) -> Iterable[Remedy]:
    """For checks that no single edit of an IP mends."""
    return ()


RowKind = Literal["rise", "fall", "flattest", "spacing", "straight", "crest", "sag", "length", "kink"]


@dataclass(frozen=True)
class Row:
    """A row in which the search keeps a check: what it bounds, and by which limit (`instead`: where that is free).

    Rise and fall of the line; flattest grade, spacing and straight of a tangent; curvature of crests and sags, and
    length, of a curve; change of grade of an IP without one.
    """

    kind: RowKind
    limit: str
    instead: str = ""


@dataclass(frozen=True, kw_only=True)
class Check:
    """One rule.

    `row` is its row in the track of uses (None: it is not drawn there); `place` says what a finding is
    about: its IP, or the stretch of chainage. `rows`: how the search keeps it, row by row of its programs; or as
    levels, or as what is given at an end. `advice`: not keeping it is no failure; `group` names checks that are
    shown together. `limit` is the field of the limits that says what is allowed, `measure` the dimension of value
    and limit, `source` where a rule comes from that is no field. `on_ground`: it looks at the earthworks; `near_m`:
    what is further from an IP changes nothing that it says of the IP (0: all may); `local`: what it says of an IP
    hangs on that one and three to each side of it. `uses` yields every stretch with its use, `say` words one that
    fails (without the place), `remedies` yields edits that may mend it, given a test of whether an edit does.
    """

    id: str
    name: str
    uses: Callable[[Checked], Iterable[LimitUse]]
    say: Callable[[LimitUse], str]
    row: str | None = None
    place: Literal["ip", "stretch"] = "ip"
    rows: tuple[Row, ...] | Literal["levels", "ends"] = ()
    advice: bool = False
    group: str = ""
    limit: str = ""
    measure: str = ""
    source: str = ""
    on_ground: bool = False
    near_m: float = 0.0
    local: bool = False
    remedies: Callable[[Checked, LimitUse, Mends], Iterable[Remedy]] = no_remedies

    def rows_of(self, kind: RowKind) -> list[Row]:
        """Its rows of one kind."""
        return [row for row in self.rows if isinstance(row, Row) and row.kind == kind]

    @property
    def searched(self) -> bool:
        """Whether the search keeps it."""
        return bool(self.rows)


def share(demand: float, allowed: float) -> float:
    """Demand over what is allowed; a million where nothing is, so that it stays a number on the wire."""
    return float(min(demand / allowed, 1e6)) if allowed > 0 else (1e6 if demand > 0 else 0.0)
