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
from delgrun.core.sight.stopping import Stopping, crest_k, design_stopping_sight_m, sag_k

_LEAST = "at least"
# What it is to have too little sight.
SIGHT_CHECKS = ("fails", "advice", "off")


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
    reaction_s: float = meant("time", "reaction", low=0.5, high=10, first=2.5)
    deceleration_m_s2: float = meant(
        "acceleration", "deceleration", low=0.5, high=10, first=3.4, says="of the brakes, on the level"
    )
    eye_m: float = meant("size", "eye", low=0.3, high=4, first=1.08, aside="above road")
    object_m: float = meant(
        "size", "object", low=0, high=4, first=0.6, aside="above road", says="what must be seen in time to stop"
    )
    stopping_sight: str = meant(
        "word", "stopping sight", choices=SIGHT_CHECKS, first="advice",
        says="whether too little of it along the line, grades and both directions looked at, is a failure",
    )  # fmt: skip
    start_level_m: float | None = meant("level", "start level", low=-1e8, high=1e8, first=None, optional=True)
    start_grade: float | None = meant("exact_grade", "start grade", low=-2, high=2, first=None, optional=True)
    end_level_m: float | None = meant("level", "end level", low=-1e8, high=1e8, first=None, optional=True)
    end_grade: float | None = meant("exact_grade", "end grade", low=-2, high=2, first=None, optional=True)

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
            if pick == "loosest" and None in said:
                values[name] = None
                continue
            given = [v for v in said if v is not None]
            choose = stricter if pick == "strictest" else min if stricter is max else max
            values[name] = reduce(choose, given) if given else None
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
        if not self.min_grade < self.max_grade:
            raise DesignInputError("min_grade", "The flattest grade must be less than the steepest.")
        for name, tie in (("start", self.start), ("end", self.end)):
            if tie.grade is not None and abs(tie.grade) > self.max_grade:
                raise DesignInputError(
                    f"{name}_grade",
                    f"The tie-in at the {name} has {{tie:grade}}, steeper than the steepest grade of "
                    "{most:percent}: no line could keep both.",
                    tie=tie.grade,
                    most=self.max_grade,
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


def ip_spacing_m(shortest_m: float) -> float:
    """A third more than the shortest curve, up to 5 m, so that two curves never follow at once: ours."""
    return float(5 * np.ceil(shortest_m * 4 / 3 / 5 - 1e-9))


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
