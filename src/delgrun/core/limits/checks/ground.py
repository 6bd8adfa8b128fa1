"""Stretches that the line does not reach, without ground at the centreline, where a batter finds none on a side, or
where one becomes a wall at the reserve.
"""

from collections.abc import Iterator

import numpy as np

from delgrun.core.earthworks.evaluator import Earthworks, Evaluation
from delgrun.core.limits.check import Check, Checked, LimitUse
from delgrun.core.limits.mending import moved_level
from delgrun.core.runs import runs
from delgrun.core.section.area_kernels import WALLED
from delgrun.core.units import say

_LEFT, _RIGHT, _NOT_REACHED = 1, 2, -1
# Where a batter ends and where ground does is the same within so much; one that lacks more runs along the ground. [m]
_END_M, _PARALLEL_M = 0.01, 50.0
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
        value, about = (float(b - a + 1), "") if side < 1 else _lacking(c, works, evaluation, a, b, side - 1)
        yield LimitUse(check, float(s[a]), float(s[b]), value, 0.0, None, 0, about)


def _lacking(c: Checked, works: Earthworks, evaluation: Evaluation, a: int, b: int, side: int) -> tuple[float, str]:
    """The width that lacks at the worst section of a run, 0 where none would do; and why the batter finds no ground."""
    ends = [(works.open_end(i, side, float(evaluation.level_m[i])), i) for i in range(a, b + 1)]
    known = [(end, i) for end, i in ends if end is not None]
    if not known:
        return 0.0, "there is none"
    end, worst = max(known, key=lambda k: np.inf if k[0].lacks_m is None else k[0].lacks_m)
    why = "the survey ends {o:length} out"
    if c.design is not None and c.design.centreline is not None:
        reach = c.design.works.reach_m if works.ground.cut_m is None else float(works.ground.cut_m[worst])
        room = c.design.centreline.room_beside(works.chainage_m[[worst]], reach)[0, side]
        if end.offset_m >= reach - _END_M:
            why = "sections are cut to {o:length} only"
        elif end.offset_m >= room - _END_M:
            why = "on the inside of the bend the road's other side begins {o:length} out"
    over = "above" if end.gap_m > 0 else "below"
    if end.lacks_m is None or end.lacks_m > _PARALLEL_M:
        words = say(
            f"it runs nearly parallel to it, still {{g:length}} {over}, and {why}", g=abs(end.gap_m), o=end.offset_m
        )
        return 0.0, words
    return end.lacks_m, say(f"{why}, {{m:length}} short", o=end.offset_m, m=end.lacks_m)


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
    say=lambda u: f"The batter on the left finds no ground: {u.about}",
)
NO_CATCH_RIGHT = Check(
    id="no_catch_right",
    name="No ground right",
    place="stretch",
    uses=lambda c: _stretches("no_catch_right", c, _RIGHT),
    say=lambda u: f"The batter on the right finds no ground: {u.about}",
)
NOT_REACHED = Check(
    id="not_reached",
    name="No grade line",
    place="stretch",
    uses=lambda c: _stretches("not_reached", c, _NOT_REACHED),
    say=lambda _: "The grade line does not reach the sections",
)
