"""How the road leans in bends against what is allowed: too quickly, too much, the wrong way, or too level to drain."""

from collections.abc import Callable, Iterator
from weakref import WeakKeyDictionary

import numpy as np

from delgrun.core.limits.check import Check, Checked, LimitUse, share
from delgrun.core.runs import runs
from delgrun.core.section.lean_told import Told, adverse, too_quick, too_steep
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.units import say

_SOURCE = "the rules for bends and superelevation of this project, beside them"


_KNOWN: WeakKeyDictionary[RoadDesign, dict[str, list[Told]]] = WeakKeyDictionary()


def _near(c: Checked, s: float) -> int:
    return int(np.argmin(np.abs(c.line.chainage_m - s)))


def _of(check: str, found: Callable[[RoadDesign], list[Told]]) -> Callable[[Checked], Iterator[LimitUse]]:
    """What follows from the bends alone."""

    def uses(c: Checked) -> Iterator[LimitUse]:
        if c.design is None or c.design.diagram is None:
            return
        # Said once of a design: moves of the line change none of it.
        known = _KNOWN.setdefault(c.design, {})
        if check not in known:
            known[check] = found(c.design)
        for t in known[check]:
            use = share(t.value, t.limit) if t.limit > 0 else None
            yield LimitUse(check, t.from_m, t.to_m, t.value, t.limit, use, _near(c, (t.from_m + t.to_m) / 2), t.about)

    return uses


def _level(c: Checked) -> Iterator[LimitUse]:
    """Lanes whose fall and the line's grade together leave water standing."""
    if c.design is None or c.design.diagram is None:
        return
    least = c.design.diagram.settings.least_slope
    flat = c.design.nearly_level
    if not len(flat.chainage_m) or least <= 0:
        return
    s = np.clip(flat.chainage_m, c.line.chainage_m[0], c.line.chainage_m[-1])
    grade = c.line.grades(s)
    for side, words in enumerate(("left", "right")):
        slope = np.hypot(flat.fall[:, side], grade)
        # Stretches that are not next to each other are no run.
        wet = (slope < least).astype(np.int64) * flat.stretch
        for a, b in runs(wet):
            worst = a + int(np.argmin(slope[a : b + 1]))
            value = float(slope[worst])
            use = min(least / value, 1e6) if value > 0 else 1e6
            ends = float(flat.chainage_m[a]), float(flat.chainage_m[b])
            yield LimitUse("lean_level", *ends, value, least, use, _near(c, ends[0]), words)


def _check(
    id_: str, name: str, text: Callable[[LimitUse], str], uses: Callable[[Checked], Iterator[LimitUse]]
) -> Check:
    return Check(
        id=id_, name=name, measure="percent", source=_SOURCE, place="stretch", advice=True, uses=uses, say=text,
        on_ground=True,
    )  # fmt: skip


LEANING: tuple[Check, ...] = (
    _check(
        "lean_quick", "Turned too quickly",
        lambda u: say(
            "The road's edge rises against its axis by {v:percent}, {about}; at most {most:percent}",
            v=u.value, about=u.about, most=u.limit,
        ),
        _of("lean_quick", too_quick),
    ),
    _check(
        "lean_steep", "Leans too much",
        lambda u: say("{about} fall by {v:percent}, at most {most:percent}", about=u.about, v=u.value, most=u.limit),
        _of("lean_steep", too_steep),
    ),
    _check(
        "lean_adverse", "Leans the wrong way",
        lambda u: say("{about} falls outwards by {v:percent}", about=u.about, v=u.value),
        _of("lean_adverse", adverse),
    ),
    _check(
        "lean_level", "Too level to drain",
        lambda u: say(
            "Fall and grade of the {about} lanes together are {v:percent}, at least {least:percent} to drain",
            about=u.about, v=u.value, least=u.limit,
        ),
        _level,
    ),
)  # fmt: skip
