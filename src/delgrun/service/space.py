"""Sight in space of a case: both ways, in words, with the worst line of sight of each."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from delgrun.core.sight.along import Lack, Sight
from delgrun.core.sight.space import LineOfSight, road_of, sight_in_space, worst_line
from delgrun.core.units import say
from delgrun.service.case import Case, once
from delgrun.service.results import of_checks, of_design, of_limits, of_road, of_works

FloatArray = NDArray[np.float64]
Way = Literal["ahead", "back"]
_WAYS: tuple[tuple[Way, str], ...] = (("ahead", "ahead"), ("back", "coming back"))


@dataclass(frozen=True)
class InSpace:
    """Sight in the direction of chainage and against it, and the worst line of sight of each, if any lacks."""

    ahead: Sight
    back: Sight
    worst: tuple[LineOfSight | None, LineOfSight | None]


@once
def in_space(case: Case) -> InSpace:
    """In the middle of the lanes that are driven in, added ones left out; what hides along the line is told too."""
    c, limits = of_checks.checked(case), of_limits.limits(case).value
    road = road_of(case.line, of_road.centreline(case).value, of_works.works(case).value, of_works.evaluation(case))
    rules = limits.stopping()
    lanes = of_design.lane_falls(case).value
    left, right = (np.interp(road.places[:, 0], lanes.chainage_m, m) / 2 for m in lanes.lanes_m.T)
    there, here = (right, -left) if limits.drive_on == "right" else (-left, right)
    ahead = sight_in_space(road, rules, c.ahead, there)
    back = sight_in_space(road, rules, c.back, here, back=True)
    worst = worst_line(road, rules, ahead, there, back=False), worst_line(road, rules, back, here, back=True)
    return InSpace(ahead, back, worst)


@dataclass(frozen=True)
class Hidden:
    """A stretch that lacks sight in space, in words; `bad` as stopping sight is judged by the limits."""

    way: Way
    from_m: float
    to_m: float
    at_m: float
    seen_m: float
    needed_m: float
    sentence: str
    bad: Literal["fails", "advice"]


@dataclass(frozen=True)
class WorstFigures:
    """The worst line of sight of a direction: its arrays are `space_<way>_...`; what hides it, in words."""

    way: Way
    eye_m: float
    to_m: float
    hidden_at_m: float
    hidden_offset_m: float
    sentence: str


@dataclass(frozen=True)
class SpaceFigures:
    hidden: list[Hidden]
    worst: list[WorstFigures]


def space(case: Case) -> tuple[SpaceFigures, dict[str, FloatArray]]:
    """Sight for stopping past bends, NaN where nothing hides anything; and the worst lines of sight. [m]"""
    found = in_space(case)
    mode = of_limits.limits(case).value.stopping_sight
    hidden: list[Hidden] = []
    worst: list[WorstFigures] = []
    arrays = {"space_at": found.ahead.at_m}
    for (way, signed), sight, line in zip(_WAYS, (found.ahead, found.back), found.worst, strict=True):
        arrays[f"space_{way}"] = np.where(np.isfinite(sight.seen_m), sight.seen_m, np.nan)
        if mode != "off":
            hidden += [_told(way, signed, lack, "fails" if mode == "fails" else "advice") for lack in sight.lacks]
        if line is not None:
            worst.append(WorstFigures(way, line.eye_m, line.to_m, line.hidden_at_m, line.hidden_offset_m, _why(line)))
            for name in ("along_m", "chainage_m", "offset_m", "ray_m", "surface_m"):
                arrays[f"space_{way}_{name.removesuffix('_m')}"] = getattr(line, name)
    return SpaceFigures(hidden, worst), arrays


def _why(line: LineOfSight) -> str:
    side = "right" if line.hidden_offset_m > 0 else "left"
    return say(
        f"From {{a:chainage}} an object at {{b:chainage}} is hidden at {{h:chainage}}, {{o:length}} to the {side}",
        a=line.eye_m, b=line.to_m, o=abs(line.hidden_offset_m), h=line.hidden_at_m,
    )  # fmt: skip


def _told(way: Way, words: str, lack: Lack, bad: Literal["fails", "advice"]) -> Hidden:
    said = say(
        "Past bends it sees {seen:about} of {needed:about} to stop, {way}, from {a:chainage} to {b:chainage}",
        seen=lack.seen_m, needed=lack.needed_m, way=words, a=lack.from_m, b=lack.to_m,
    )  # fmt: skip
    return Hidden(way, lack.from_m, lack.to_m, lack.at_m, lack.seen_m, lack.needed_m, said, bad)
