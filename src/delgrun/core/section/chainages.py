"""Where sections are reported: at an interval, denser in curves, and at critical points of both geometries."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from delgrun.core.centreline.centreline import SAME_SECTION_M, Centreline
from delgrun.core.centreline.points import critical_points as plan_points
from delgrun.core.centreline.stations import Stations
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.level_table import critical_points as line_points
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.section.roadside import multiples


@dataclass(frozen=True)
class Reported:
    """A chainage [m] at which a section is reported, and what is there, if anything."""

    chainage_m: float
    what: str = ""


def reported(
    centreline: Centreline,
    design: RoadDesign,
    line: GradeLine | None,
    written: Stations,
    asked: tuple[Sequence[float], Sequence[float]],
    ends: tuple[float, float],
) -> list[Reported]:
    """Sections of a road from one end to another.

    `asked`: chainages of sections beside those at even intervals, and those of them at which what is built may jump,
    where there are two. [m]
    """
    works = design.works
    named: list[tuple[float, str]] = [(p.chainage_m, p.what) for p in plan_points(centreline, written)]
    also = set(asked[0])
    if line is not None:
        points = line_points(line)
        named += [(s, what) for s, what in points if what not in ("start", "end")]
        also |= {s for s, _ in points}
        each = works.in_curves_m
        if each:
            curves = zip(line.curve_start_m.tolist(), line.curve_end_m.tolist(), strict=True)
            also |= {s for a, b in curves if b > a for s in multiples(each, a, b)}
    also |= {s for s, _ in named}
    named += [(row.at_m, row.words) for row in works.singles if row.road == design.road and row.words]
    if design.diagram is not None:
        named += [(k.chainage_m, f"superelevation: {k.what}") for k in design.diagram.keys]
    named += [(row.from_m, row.reason) for row in design.varies.changes if row.reason]
    interval = works.reported_m or works.interval_m
    s = centreline.priced_chainages(interval, *ends, tuple(also), tuple(asked[1]))
    words: list[list[str]] = [[] for _ in s]
    for at, what in named:
        k = int(np.argmin(np.abs(s - at)))
        if abs(s[k] - at) <= SAME_SECTION_M and what not in words[k]:
            words[k].append(what)
    steps = np.array(asked[1])
    for k, at in enumerate(s.tolist()):
        # Of two sections where what is built jumps, the first.
        if k + 1 < len(s) and s[k + 1] - at < SAME_SECTION_M and len(steps):
            words[k].insert(0, "right before")
    return [Reported(at, "; ".join(w)) for at, w in zip(s.tolist(), words, strict=True)]
