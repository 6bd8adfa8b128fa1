"""Stretches without ground at the centreline, or where a batter finds none on a side."""

from collections.abc import Iterator

import numpy as np

from delgrun.core.limits.check import Check, Checked, LimitUse

_LEFT, _RIGHT = 1, 2


def _stretches(check: str, c: Checked, side: int) -> Iterator[LimitUse]:
    """`side` 0: no ground at the centreline; 1, 2: the batter on the left or right catches none."""
    works, evaluation = c.works, c.evaluation
    if works is None or evaluation is None:
        return
    s = works.chainage_m
    reached = ~np.isnan(evaluation.level_m)
    missing = np.isnan(works.tables.centre_level_m) & reached
    mask = missing if side == 0 else reached & ~missing & ((evaluation.caught & side) == 0)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], mask.astype(np.int8), [0]])))
    for a, b in zip(edges[::2], edges[1::2] - 1, strict=True):
        yield LimitUse(check, float(s[a]), float(s[b]), float(b - a + 1), 0.0, None, 0)


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
