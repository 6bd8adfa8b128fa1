"""What is said of the ground: facts, changes by hand, codes and areas; products that need no centreline."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from delgrun.core.ground.contours import contour_interval_m
from delgrun.core.ground.edits import What, is_bulk
from delgrun.core.ground.tiles import Surface, extents, surface
from delgrun.core.ground.tin import Tin
from delgrun.core.survey.points import Survey
from delgrun.core.survey.suspects import mostly_no_ground
from delgrun.service.case import Case
from delgrun.service.results import of_ground

Arrays = Mapping[str, np.ndarray[Any, Any]]

# A survey with more codes has numbers in that column.
_MOST_CODES = 300


@dataclass(frozen=True)
class ChangeFigures:
    """A change of the ground by hand: what it does with how many points, where (`box_m`: west, south, east, north of
    what it changed, empty if nothing), who made it, when and why; `idle` says why it could not be made.
    """

    slot: str
    what: What
    points: int
    easting_m: float
    northing_m: float
    level_m: float
    new_level_m: float | None
    box_m: list[float]
    author: str
    made_at: str
    note: str
    idle: str


@dataclass(frozen=True)
class LandFigures:
    """The surveyed ground, whether or not there is a centreline; its tiles are asked for one by one.

    `box_m` is west, south, lowest, east, north, highest; `spacing_m` the usual distance between points; `decided` are
    place and level of every surveyed point that a change is about.
    """

    points: int
    triangles: int
    breaklines: int
    box_m: list[float]
    spacing_m: float
    contour_interval_m: float
    changes: list[ChangeFigures]
    decided: list[tuple[float, float, float]]


def land(case: Case) -> tuple[LandFigures, Arrays]:
    tin = of_ground.tin(case).value
    # What only says how to draw is of the ground as built: a change by hand must not wait for it.
    interval, spacing = case.made(drawing_of, of_ground.built(case)).value
    whole = extents(tin)
    return LandFigures(
        whole.points,
        len(tin.triangles),
        len(tin.edges),
        whole.box_m,
        spacing,
        interval,
        changes_of(case),
        decided_by(case),
    ), {}


def decided_by(case: Case) -> list[tuple[float, float, float]]:
    """Every surveyed point that was taken out, kept or given another level."""
    return [
        (row.easting_m, row.northing_m, row.level_m)
        for kept in case.state.changes.values()
        if kept.value.what in ("exclude", "keep", "level")
        for row in kept.value.rows
    ]


def drawing_of(tin: Tin) -> tuple[float, float]:
    """Contour interval and usual spacing of points. [m]"""
    return contour_interval_m(tin), float(np.sqrt(surface(tin).plan_area_m2 / len(tin.xyz)))


def changes_of(case: Case) -> list[ChangeFigures]:
    """The changes by hand, oldest first."""
    made = of_ground.ground(case).value
    idle = dict(made.idle)
    out, number = [], 0
    for slot, kept in case.state.changes.items():
        change = kept.value
        box: list[float] = []
        reason = ""
        if is_bulk(change):
            plan = np.array([(r.easting_m, r.northing_m) for r in change.rows])
            box = [*plan.min(axis=0).tolist(), *plan.max(axis=0).tolist()]
        else:
            own = made.touched_m[made.of == number]
            if len(own):
                box = [*own[:, :2].min(axis=0).tolist(), *own[:, 2:].max(axis=0).tolist()]
            reason = idle.get(number, "")
            number += 1
        first = change.rows[0]
        out.append(
            ChangeFigures(
                slot, change.what, len(change.rows), first.easting_m, first.northing_m, first.level_m,
                first.new_level_m, box, change.author, change.made_at, change.note, reason,
            )
        )  # fmt: skip
    return out


@dataclass(frozen=True)
class CodeFigures:
    """A code of the survey: how many points have it, and whether its words name what mostly is no ground."""

    code: str
    points: int
    no_ground: bool


def codes(case: Case) -> tuple[list[CodeFigures], Arrays]:
    """The survey's codes, the most frequent first."""
    found, count = case.made(_codes_of, of_ground.points(case)).value
    return [CodeFigures(c, n, mostly_no_ground(c)) for c, n in zip(found, count, strict=True)], {}


def _codes_of(points: Survey) -> tuple[list[str], list[int]]:
    code, count = np.unique(points.code[points.code != ""], return_counts=True)
    order = np.argsort(-count, kind="stable")[:_MOST_CODES]
    return [str(c) for c in code[order]], count[order].tolist()


def areas(case: Case) -> tuple[Surface, Arrays]:
    """Areas of the ground; they take as long as a look at every triangle."""
    return case.made(surface, of_ground.tin(case)).value, {}
