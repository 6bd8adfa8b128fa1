"""Water at high and low points: curves too flat about them, and low points in a cut."""

from collections.abc import Iterator

import numpy as np

from delgrun.core.limits.check import Check, Checked, LimitUse, share
from delgrun.core.limits.mending import moved_level, shortened
from delgrun.core.units import say

# A low point whose section is cut by more than this, and filled by no more than the other, lies in a cut. [m2]
_CUT_M2, _FILL_M2 = 0.5, 0.01


def _flat(c: Checked) -> Iterator[LimitUse]:
    """Vertical curves with a high or low point: the larger K is, the longer they are nearly level about it."""
    most, line = c.limits.steps("most_drained_k_m_per_pct"), c.line
    for i in range(1, len(line.ips) - 1):
        a, b = float(line.curve_start_m[i]), float(line.curve_end_m[i])
        limit = most.over(a, b)
        if limit is not None and line.curve_length_m[i] > 0 and line.grade[i - 1] * line.grade[i] < 0:
            k = float(line.k(i))
            yield LimitUse("drained_k", a, b, k, limit, share(k, limit), i)


def ponds(c: Checked) -> Iterator[float]:
    """Chainages of low points in a cut. [m]"""
    works, evaluation = c.works, c.evaluation
    if works is None or evaluation is None:
        return
    low = np.array([(s, z) for s, z, kind in c.line.turning_points() if kind == "low"]).reshape(-1, 2)
    s, level = low.T
    depth = np.interp(s, works.chainage_m, works.centre_level_m) - level
    at = np.searchsorted((works.chainage_m[:-1] + works.chainage_m[1:]) / 2, s)
    for k in np.flatnonzero((evaluation.cut_m2[at] > _CUT_M2) & (evaluation.fill_m2[at] <= _FILL_M2) & (depth > 0)):
        yield float(s[k])


def _undrained(c: Checked) -> Iterator[LimitUse]:
    for s in ponds(c):
        assert c.works is not None
        z = float(c.line.levels(np.array([s]))[0])
        depth = float(np.interp(s, c.works.chainage_m, c.works.centre_level_m)) - z
        ip = int(np.argmin(np.abs(c.line.chainage_m - s)))
        yield LimitUse("undrained_sag", s, s, depth, 0.0, None, ip, say("{z:level}", z=z))


DRAINED_K = Check(
    id="drained_k",
    name="K at a high or low point",
    limit="most_drained_k_m_per_pct",
    measure="bare_k",
    row="K",
    local=True,
    uses=_flat,
    remedies=lambda c, u, _mends: shortened(c, u, 100 * u.limit * abs(c.line.change_of_grade(u.ip))),
    say=lambda u: say(
        "K {k:bare_k}, at most {limit:bare_k} to drain, more by {over:bare_k}",
        k=round(u.value, 1), limit=u.limit, over=round(u.value - u.limit, 1),
    ),
)  # fmt: skip
UNDRAINED_SAG = Check(
    id="undrained_sag",
    name="Undrained sag",
    on_ground=True,
    source="common practice",
    place="stretch",
    advice=True,
    uses=_undrained,
    remedies=lambda c, u, mends: moved_level(c, u, mends, 1.0),
    say=lambda u: say(
        "Water gathers at the low point, level {about}, in a cut {depth:length} deep: it needs an outlet, or a move",
        about=u.about, depth=u.value,
    ),
)  # fmt: skip
