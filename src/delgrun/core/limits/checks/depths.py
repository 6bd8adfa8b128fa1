"""Deepest cut and highest fill at the centreline."""

from collections.abc import Callable, Iterator

import numpy as np

from delgrun.core.limits.check import USE_TOLERANCE, Check, Checked, LimitUse, share
from delgrun.core.limits.mending import moved_level, moved_together
from delgrun.core.runs import runs
from delgrun.core.units import say


def _uses(check: str, name: str, sign: float) -> Callable[[Checked], Iterator[LimitUse]]:
    """`sign` 1: the ground above the line, -1 below. Stretches that are too deep, and elsewhere the deepest of each."""

    def uses(c: Checked) -> Iterator[LimitUse]:
        works, evaluation, steps = c.works, c.evaluation, c.limits.steps(name)
        if works is None or evaluation is None or all(v is None for v in steps.values):
            return
        most = steps.at(works.chainage_m)
        on = np.flatnonzero(~np.isnan(most))
        # Where it is free nothing is looked at: a stretch ends there.
        whole = slice(on[0], on[-1] + 1) if len(on) else slice(0, 0)
        s, most = works.chainage_m[whole], np.where(np.isnan(most[whole]), np.inf, most[whole])
        depth = sign * (works.centre_level_m[whole] - evaluation.level_m[whole])
        depth = np.where(np.isnan(depth) | np.isinf(most), 0.0, depth)
        used = depth / most
        # Each run of sections on this side of the ground is one stretch, cut where it becomes too deep.
        kind = np.where(used > 1 + USE_TOLERANCE, 2, np.where(depth > 0, 1, 0))
        for a, b in runs(kind):
            if np.isfinite(most[a : b + 1]).any():
                k = int(a + np.argmax(used[a : b + 1]))
                value, limit = float(depth[k]), float(most[k])
                ip = int(np.argmin(np.abs(c.line.chainage_m - s[k])))
                yield LimitUse(check, float(s[a]), float(s[b]), value, limit, share(value, limit), ip)

    return uses


def _check(check: str, name: str, of: str, sign: float, words: str) -> Check:
    return Check(
        id=check,
        name=name,
        limit=of,
        on_ground=True,
        measure="length",
        row="depth",
        place="stretch",
        uses=_uses(check, of, sign),
        # Too deep a cut wants the line up, too high a fill down.
        remedies=lambda c, u, mends: (*moved_level(c, u, mends, sign), *moved_together(c, u, mends, sign)),
        say=lambda u: say(
            words + " {value:length}, at most {limit:size}, too much by {over:length}",
            value=u.value, limit=u.limit, over=u.value - u.limit,
        ),
    )  # fmt: skip


CUT_DEPTH = _check("cut_depth", "Deepest cut", "most_cut_m", 1.0, "Cut")
FILL_HEIGHT = _check("fill_height", "Highest fill", "most_fill_m", -1.0, "Fill")
