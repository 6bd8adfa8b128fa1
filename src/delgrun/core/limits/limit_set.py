"""The limits of a project: one set for the whole length, and ranges that replace parts of it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, reduce
from typing import Any, Literal

import numpy as np

from delgrun.core.controls.bands import Band
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import fields_of, meant
from delgrun.core.limits.ranges import STRICTER, LimitRange, Steps
from delgrun.core.limits.sources import LimitSource
from delgrun.core.sight.stopping import FORM_NAMES, METRIC, Stopping, crest_k, design_stopping_sight_m, sag_k

_LEAST = "at least"
# Kinds of K beside the one for stopping, and for headlights; and the flattest grade of places of their own.
MORE = {
    "min_crest_k_m_per_pct": ("crest_k_intermediate", "crest_k_passing", "crest_k_appearance"),
    "min_sag_k_m_per_pct": ("sag_k_comfort", "sag_k_appearance"),
    "min_grade": ("min_kerb_grade",),
}
MODES = ("fails", "advice", "off")


def _mode(label: str, first: str, says: str) -> str:
    """Declares what it is to break a rule: a failure, advice, or nothing."""
    return meant("word", label, choices=MODES, first=first, says=says)  # type: ignore[no-any-return]


@dataclass(frozen=True, kw_only=True)
class TieIn:
    """What an end of the line must meet: a level [m] and a grade [m/m]; None leaves it free."""

    level_m: float | None = None
    grade: float | None = None


@dataclass(frozen=True, kw_only=True)
class LimitSet:
    """Bounds for the whole length, and ranges with others.

    Grades are ratios, K in m/%; an empty tie-in leaves that end free.

    The first values are those of 70 km/h: see `default_limits`.
    """

    design_speed_kmh: float = meant("speed", "design speed", low=20, high=130, first=70.0)
    max_grade: float = meant(
        "fall", "steepest grade", low=0, above=True, high=0.5, first=0.08, says="up or down, of tangents"
    )
    min_grade: float = meant("fall", "flattest grade", low=0, high=0.1, first=0.005, aside="of tangents")
    min_crest_k_m_per_pct: float = meant("k", "K of crests", low=0, high=1e6, first=17.0, aside=_LEAST)
    min_sag_k_m_per_pct: float = meant("k", "K of sags", low=0, high=1e6, first=23.0, aside=_LEAST)
    min_curve_length_m: float = meant("size", "shortest curve", low=0, high=1e6, first=45.0)
    min_ip_spacing_m: float = meant("size", "IP spacing", low=0, high=1e6, first=60.0, aside=_LEAST)
    min_tangent_m: float | None = meant(
        "size",
        "shortest tangent",
        low=0,
        high=1e6,
        first=None,
        optional=True,
        says="between curves that do not touch",
    )
    most_cut_m: float | None = meant(
        "size", "deepest cut", low=0, above=True, high=1e3, first=None, optional=True, says="at the centreline"
    )
    most_fill_m: float | None = meant(
        "size", "highest fill", low=0, above=True, high=1e3, first=None, optional=True, says="at the centreline"
    )
    most_drained_k_m_per_pct: float | None = meant(
        "k", "K where drained", low=0, above=True, high=1e6, first=None, optional=True, aside="at most",
        says="of curves with a high or low point, which are nearly level about it; usual beside kerbs",
    )  # fmt: skip
    longest_tangent_m: float | None = meant(
        "size", "longest tangent", low=0, above=True, high=1e6, first=None, optional=True, aside="advice"
    )
    max_fall: float | None = meant(
        "fall",
        "steepest fall",
        low=0,
        above=True,
        high=0.5,
        first=None,
        optional=True,
        says="downhill in the direction of chainage; free: as steep as up",
    )
    min_cut_grade: float | None = meant(
        "fall",
        "flattest in cut",
        low=0,
        high=0.1,
        first=None,
        optional=True,
        says="of tangents where they lie in a cut",
    )
    min_kerb_grade: float | None = meant(
        "fall",
        "flattest at kerbs",
        low=0,
        high=0.1,
        first=None,
        optional=True,
        says="of tangents with kerbs beside them; usual in ranges",
    )
    steep_grade: float | None = meant(
        "fall",
        "long grades over",
        low=0,
        high=0.5,
        first=None,
        optional=True,
        says="from here on a grade counts as steep, and may not go on for longer than below",
    )
    longest_steep_m: float | None = meant(
        "size",
        "last at most",
        low=0,
        above=True,
        high=1e6,
        first=None,
        optional=True,
        says="stretches steeper than that",
    )
    most_kink: float | None = meant(
        "percent",
        "change without curve",
        low=0,
        high=0.1,
        first=None,
        optional=True,
        aside="at most",
        says="so small a change of grade needs no vertical curve; free: every one does",
    )
    crest_k_intermediate: float | None = meant(
        "k", "K of crests, intermediate", low=0, high=1e6, first=None, optional=True
    )
    crest_k_passing: float | None = meant("k", "K of crests, passing", low=0, high=1e6, first=None, optional=True)
    crest_k_appearance: float | None = meant("k", "K of crests, appearance", low=0, high=1e6, first=None, optional=True)
    sag_k_comfort: float | None = meant("k", "K of sags, comfort", low=0, high=1e6, first=None, optional=True)
    sag_k_appearance: float | None = meant("k", "K of sags, appearance", low=0, high=1e6, first=None, optional=True)
    reaction_s: float = meant("time", "reaction", low=0.5, high=10, first=2.5)
    deceleration_m_s2: float = meant(
        "acceleration", "deceleration", low=0.5, high=10, first=3.4, says="of the brakes, on the level"
    )
    stopping_form: str = meant(
        "word", "form of stopping", choices=FORM_NAMES, first=METRIC,
        says="metric: 0.278 V t + V²/(254 (a/9.81 + G)); US customary: 1.47 V t + V²/(30 (a/32.2 + G)) in mph and "
        "feet; friction: V t/3.6 + V²/(254 (d + G))",
    )  # fmt: skip
    eye_m: float = meant("size", "eye", low=0.3, high=4, first=1.08, aside="above road")
    object_m: float = meant(
        "size", "object", low=0, high=4, first=0.6, aside="above road", says="what must be seen in time to stop"
    )
    stopping_sight: str = _mode(
        "stopping sight", "advice",
        "whether too little of it along the line, grades and both directions looked at, is a failure",
    )  # fmt: skip
    bend_speed: str = _mode(
        "speed of bends", "fails", "whether a bend that allows less than the design speed is a failure"
    )
    bend_transition: str = _mode(
        "transitions of bends", "advice", "whether a bend without usual transitions is a failure"
    )
    bend_width: str = _mode(
        "width in bends", "advice",
        "whether a bend that needs more width is a failure; sections are not widened yet",
    )  # fmt: skip
    drive_on: str = meant(
        "word",
        "drive on the",
        choices=("right", "left"),
        first="right",
        says="in which lane sight past bends is looked at",
    )
    intermediate_sight: str = _mode(
        "intermediate sight", "off",
        "whether two vehicles that meet on one lane must see each other in time for both to stop",
    )  # fmt: skip
    headlight_sight: str = _mode("headlight sight", "off", "whether headlights must reach as far as stopping needs")
    headlight_m: float = meant("size", "headlights", low=0.1, high=3, first=0.6, aside="above road")
    headlight_deg: float = meant("angle", "beam", low=0, high=10, first=1.0, aside="upwards")
    passing_sight_m: float | None = meant(
        "size",
        "passing sight",
        low=0,
        above=True,
        high=1e5,
        first=None,
        optional=True,
        says="needed to pass; free: what the table has for the design speed",
    )
    shortest_passing_m: float = meant(
        "size",
        "shortest passing",
        low=0,
        high=1e5,
        first=120.0,
        says="a stretch that is shorter is marked as no passing",
    )
    least_passing_share: float | None = meant(
        "percent", "passing possible", low=0, high=1, first=None, optional=True, aside="of the length, at least"
    )
    start_level_m: float | None = meant("level", "start level", low=-1e8, high=1e8, first=None, optional=True)
    start_grade: float | None = meant("exact_grade", "start grade", low=-2, high=2, first=None, optional=True)
    end_level_m: float | None = meant("level", "end level", low=-1e8, high=1e8, first=None, optional=True)
    end_grade: float | None = meant("exact_grade", "end grade", low=-2, high=2, first=None, optional=True)
    sources: tuple[LimitSource, ...] = meant("count", "sources", of=LimitSource, most=100, first=())

    def source_of(self, name: str) -> LimitSource | None:
        """Where the value of a limit came from; None for one that was only ever typed."""
        return next((row for row in self.sources if row.name == name), None)

    @property
    def fall(self) -> float:
        """Steepest fall of the whole length."""
        return self.max_grade if self.max_fall is None else self.max_fall

    @property
    def ranges(self) -> tuple[LimitRange, ...]:
        """Ranges of the road that is looked at; they are an input of their own."""
        return ()

    @property
    def bands(self) -> tuple[Band, ...]:
        """What level controls and services ask of the line of the road that is looked at."""
        return ()

    def with_ranges(self, ranges: Sequence[LimitRange]) -> "LimitSet":
        """The same for the whole length, with ranges."""
        return RoadLimits(**self._typed(), own=tuple(ranges), kept=self.bands)

    def with_bands(self, bands: Sequence[Band]) -> "LimitSet":
        """The same with what level controls ask."""
        return RoadLimits(**self._typed(), own=self.ranges, kept=tuple(bands))

    def _typed(self) -> dict[str, Any]:
        return {f.name: getattr(self, f.name) for f in fields_of(LimitSet)}

    def steps(self, name: str) -> Steps:
        """One of the limits along the road, ranges looked at."""
        if name not in self._steps:
            self._steps[name] = Steps(name, getattr(self, name), self.ranges)
        return self._steps[name]

    def over(self, name: str, from_m: float, to_m: float) -> float:
        """The strictest value of a limit that is never free, on a stretch of chainage."""
        found = self.steps(name).over(from_m, to_m)
        assert found is not None, name
        return found

    @cached_property
    def _steps(self) -> dict[str, Steps]:
        return {}

    def everywhere(self, pick: Literal["strictest", "loosest"]) -> "LimitSet":
        """Limits for the whole length that are as strict as the strictest that holds anywhere, or as the loosest."""
        values: dict[str, Any] = {}
        for name, stricter in STRICTER.items():
            said = self.steps(name).values
            if name == "most_kink":
                # Where none is set, no change of grade goes without a curve: that is the strictest.
                said = [v or 0.0 for v in said]
            if pick == "loosest" and None in said:
                values[name] = None
                continue
            given = [v for v in said if v is not None]
            choose = stricter if pick == "strictest" else min if stricter is max else max
            values[name] = reduce(choose, given) if given else None
            if name == "most_kink" and not values[name]:
                values[name] = None
        # A curve keeps the K of every kind, and a tangent the flattest of both: together they are one limit.
        for one, others in MORE.items():
            values[one] = max(values[name] or 0.0 for name in (one, *others))
        falls = self.steps("max_fall").values
        if pick == "loosest" and None in falls:
            # Where it is free it falls as steeply as it may rise.
            values["max_fall"] = max([values["max_grade"], *(v for v in falls if v is not None)])
        whole = LimitSet(**self._typed() | values)
        return whole.with_bands(self.bands) if self.bands else whole

    def stopping(self, speed_kmh: float | None = None) -> Stopping:
        """What a driver needs to stop, at the design speed or another."""
        return Stopping(
            speed_kmh=self.design_speed_kmh if speed_kmh is None else speed_kmh,
            reaction_s=self.reaction_s,
            deceleration_m_s2=self.deceleration_m_s2,
            eye_m=self.eye_m,
            object_m=self.object_m,
            headlight_m=self.headlight_m,
            headlight_deg=self.headlight_deg,
            form=self.stopping_form,
        )

    @property
    def start(self) -> TieIn:
        return TieIn(level_m=self.start_level_m, grade=self.start_grade)

    @property
    def end(self) -> TieIn:
        return TieIn(level_m=self.end_level_m, grade=self.end_grade)

    def check(self) -> None:
        """Rules for saving; what was saved under older rules is read all the same.

        Raises
        ------
        DesignInputError
            Limits that no line could keep together.
        """
        steepest = min(self.max_grade, self.fall)
        for name in ("min_grade", "min_cut_grade", "min_kerb_grade"):
            flattest = getattr(self, name)
            if flattest is not None and flattest >= steepest:
                raise DesignInputError(name, "The flattest grade must be less than the steepest.")
        if (self.steep_grade is None) != (self.longest_steep_m is None):
            missing = "steep_grade" if self.steep_grade is None else "longest_steep_m"
            raise DesignInputError(
                missing, "A longest stretch and the grade it is steeper than belong together: type both, or neither."
            )
        for name, tie in (("start", self.start), ("end", self.end)):
            if tie.grade is not None and not -self.fall <= tie.grade <= self.max_grade:
                raise DesignInputError(
                    f"{name}_grade",
                    f"The tie-in at the {name} has {{tie:grade}}, steeper than the steepest grade of "
                    "{most:percent}: no line could keep both.",
                    tie=tie.grade,
                    most=self.max_grade if tie.grade > 0 else self.fall,
                )


@dataclass(frozen=True, kw_only=True)
class RoadLimits(LimitSet):
    """Limits with the ranges and the level controls of one road: only worked with, never stored."""

    own: tuple[LimitRange, ...] = ()
    kept: tuple[Band, ...] = ()

    @property
    def ranges(self) -> tuple[LimitRange, ...]:
        return self.own

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.kept


# Steepest grade of a rural road in rolling ground by design speed: common practice, from memory.
_STEEPEST = {30: 0.11, 40: 0.11, 50: 0.10, 60: 0.09, 70: 0.08, 80: 0.07, 90: 0.06, 100: 0.05, 110: 0.05, 120: 0.04}
FIRST_SPEED_KMH = 70.0


def shortest_curve_m(design_speed_kmh: float) -> float:
    """0.6 m for each km/h, up to 5 m: common practice."""
    return float(5 * np.ceil(0.6 * design_speed_kmh / 5 - 1e-9))


def ip_spacing_m(shortest_m: float, unit_m: float = 1.0) -> float:
    """A third more than the shortest curve, up to 5 units (m), so that two curves never follow at once: ours."""
    return float(5 * np.ceil(shortest_m / unit_m * 4 / 3 / 5 - 1e-9)) * unit_m


def default_limits(design_speed_kmh: float = FIRST_SPEED_KMH) -> LimitSet:
    """The limits of a design speed, without tie-ins.

    K values are the printed metric columns of reference section 2. The flattest grade (0.5 %, to
    drain) and the shortest curve (0.6 m per km/h, up to 5 m) are common practice; the least spacing
    of IPs, a third more than the shortest curve, is ours, so that two curves never follow at once.
    """
    sight = design_stopping_sight_m(design_speed_kmh)
    speeds = np.array(sorted(_STEEPEST))
    steepest = _STEEPEST[int(speeds[np.argmin(np.abs(speeds - design_speed_kmh))])]
    shortest = shortest_curve_m(design_speed_kmh)
    return LimitSet(
        design_speed_kmh=design_speed_kmh,
        max_grade=steepest,
        min_grade=0.005,
        min_crest_k_m_per_pct=crest_k(sight),
        min_sag_k_m_per_pct=sag_k(sight),
        min_curve_length_m=shortest,
        min_ip_spacing_m=ip_spacing_m(shortest),
    )


def most_rise(limits: LimitSet, a: float, b: float) -> tuple[float, float]:
    """The most that a line can rise, and fall, between two chainages. [m]"""
    up, down = limits.steps("max_grade"), limits.steps("max_fall")
    rise = sum((y - x) * (g or 0.0) for x, y, g in up.along(a, b)) if b > a else 0.0
    fall = 0.0
    for x, y, own in down.along(a, b) if b > a else ():
        fall += (y - x) * own if own is not None else sum((q - p) * (g or 0.0) for p, q, g in up.along(x, y))
    return rise, fall
