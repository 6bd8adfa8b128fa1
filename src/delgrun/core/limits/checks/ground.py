"""Stretches that the line does not reach, without ground at the centreline, where a batter finds none on a side, or
where one becomes a wall at the reserve.
"""

from collections.abc import Iterator

import numpy as np

from delgrun.core.limits.check import Check, Checked, LimitUse
from delgrun.core.limits.mending import moved_level
from delgrun.core.runs import runs
from delgrun.core.section.area_kernels import WALLED
from delgrun.core.units import say

_LEFT, _RIGHT, _NOT_REACHED = 1, 2, -1
# A wall that is no higher is none. [m]
_NO_WALL_M = 1e-3


def _stretches(check: str, c: Checked, side: int) -> Iterator[LimitUse]:
    """`side` 0: no ground at the centreline; 1, 2: the batter on the left or right catches none; -1: no line."""
    works, evaluation = c.works, c.evaluation
    if works is None or evaluation is None:
        return
    s = works.chainage_m
    reached = ~np.isnan(evaluation.level_m)
    built = works.road.built if works.road.built is not None else np.ones(len(s), dtype=bool)
    missing = np.isnan(works.centre_level_m) & reached
    if side == _NOT_REACHED:
        mask = ~reached
    elif side == 0:
        mask = missing
    else:
        mask = built & reached & ~missing & ((evaluation.caught & side) == 0)
    for a, b in runs(mask):
        yield LimitUse(check, float(s[a]), float(s[b]), float(b - a + 1), 0.0, None, 0)


def _walls(c: Checked) -> Iterator[LimitUse]:
    """Where works end at the reserve with a wall beside those that the section itself has."""
    works, evaluation = c.works, c.evaluation
    if works is None or evaluation is None or all(p.reserve is None for p in works.road.profiles):
        return
    high = np.nan_to_num(evaluation.areas[:, WALLED] - works.road.walls_m)
    s = works.chainage_m
    for a, b in runs(high > _NO_WALL_M):
        worst = a + int(np.argmax(high[a : b + 1]))
        ip = int(np.argmin(np.abs(c.line.chainage_m - s[worst])))
        yield LimitUse("reserve_wall", float(s[a]), float(s[b]), float(high[worst]), 0.0, None, ip)


RESERVE_WALL = Check(
    id="reserve_wall",
    name="Wall at the reserve",
    on_ground=True,
    source="the reserve and the steepest slopes of this project",
    place="stretch",
    advice=True,
    uses=_walls,
    remedies=lambda c, u, mends: (r for sign in (1.0, -1.0) for r in moved_level(c, u, mends, sign)),
    say=lambda u: say("The steepest batter does not end within the reserve: a wall of up to {h:length}", h=u.value),
)
NO_GROUND = Check(
    id="no_ground",
    name="No ground",
    place="stretch",
    uses=lambda c: _stretches("no_ground", c, 0),
    say=lambda _: "The survey has no ground at the centreline",
)
NO_CATCH_LEFT = Check(
    id="no_catch_left",
    name="No ground left",
    place="stretch",
    uses=lambda c: _stretches("no_catch_left", c, _LEFT),
    say=lambda _: "The batter on the left finds no ground within the survey",
)
NO_CATCH_RIGHT = Check(
    id="no_catch_right",
    name="No ground right",
    place="stretch",
    uses=lambda c: _stretches("no_catch_right", c, _RIGHT),
    say=lambda _: "The batter on the right finds no ground within the survey",
)
NOT_REACHED = Check(
    id="not_reached",
    name="No grade line",
    place="stretch",
    uses=lambda c: _stretches("not_reached", c, _NOT_REACHED),
    say=lambda _: "The grade line does not reach the sections",
)
