"""Sight for stopping along the line itself, in both directions: failures, or advice, as the limits say."""

from collections.abc import Callable, Iterator

import numpy as np

from delgrun.core.limits.check import Check, Checked, LimitUse
from delgrun.core.runs import runs
from delgrun.core.sight.along import Sight
from delgrun.core.units import say


def _uses(check: str, c: Checked) -> Iterator[LimitUse]:
    """Each lack, and of what hides the view without lack the eye that needs most of what it sees."""
    for sight, way in ((c.ahead, "ahead"), (c.back, "coming back")):
        for lack in sight.lacks:
            yield _use(check, c, lack.from_m, lack.to_m, lack.seen_m, lack.needed_m, lack.top_m, way)
        yield from _kept(check, c, sight, way)


def _kept(check: str, c: Checked, sight: Sight, way: str) -> Iterator[LimitUse]:
    for a, b in runs(np.isfinite(sight.seen_m)):
        share = sight.needed_m[a : b + 1] / np.maximum(sight.seen_m[a : b + 1], 1e-9)
        if share.max() <= 1.0:
            k = a + int(np.argmax(share))
            s = sight.at_m
            yield _use(
                check, c, float(s[a]), float(s[b]), float(sight.seen_m[k]), float(sight.needed_m[k]),
                float(sight.top_m[k]), way,
            )  # fmt: skip


def _use(
    check: str, c: Checked, from_m: float, to_m: float, seen_m: float, needed_m: float, top_m: float, way: str
) -> LimitUse:
    ip = int(np.argmin(np.abs(c.line.chainage_m - top_m)))
    about = say(f"{way}, hidden by the road at {{s:chainage}}", s=top_m)
    return LimitUse(check, from_m, to_m, seen_m, needed_m, needed_m / max(seen_m, 1e-9), ip, about)


def _check(id_: str, mode: str) -> Check:
    uses: Callable[[Checked], Iterator[LimitUse]] = lambda c: (  # noqa: E731
        _uses(id_, c) if c.limits.stopping_sight == mode else iter(())
    )
    return Check(
        id=id_,
        name="Stopping sight",
        row="sight",
        place="stretch",
        advice=mode == "advice",
        uses=uses,
        say=lambda u: say(
            "Sees {seen:length} of {needed:length} to stop, short by {short:length}, {about}",
            seen=u.value, needed=u.limit, short=u.limit - u.value, about=u.about,
        ),
    )  # fmt: skip


STOPPING_SIGHT = _check("stopping_sight", "fails")
STOPPING_SIGHT_ADVICE = _check("stopping_sight_advice", "advice")
