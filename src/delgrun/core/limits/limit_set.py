"""The limits of a project: one set for the whole length, and ranges that replace parts of it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from delgrun.core.controls.bands import Band
from delgrun.core.errors import DesignInputError
from delgrun.core.fields import fields_of, meant
from delgrun.core.limits.ranges import LimitRange, Steps
from delgrun.core.limits.sources import LimitSource
from delgrun.core.limits.topics import GradeLimits, Topics
from delgrun.core.stopping import Stopping, crest_k, design_stopping_sight_m, sag_k


@dataclass(frozen=True, kw_only=True)
class LimitSet(Topics):
    """Bounds for the whole length, and ranges with others.

    Grades are ratios, K in m/%; an empty tie-in leaves that end free.

    The first values are those of 70 km/h: see `default_limits`.
    """

    sources: tuple[LimitSource, ...] = meant("count", "sources", of=LimitSource, most=100, first=())

    def source_of(self, name: str) -> LimitSource | None:
        """Where the value of a limit came from; None for one that was only ever typed."""
        return next((row for row in self.sources if row.name == name), None)

    @property
    def ranges(self) -> tuple[LimitRange, ...]:
        """Ranges of the road that is looked at; they are an input of their own."""
        return ()

    @property
    def bands(self) -> tuple[Band, ...]:
        """What level controls and utilities ask of the line of the road that is looked at."""
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

    def check(self) -> None:
        """Rules for saving; what was saved under older rules is read all the same.

        Raises
        ------
        DesignInputError
            Limits that no line could keep together.
        """
        GradeLimits.check(self)
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
