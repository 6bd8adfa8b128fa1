"""Bends against the design speed: how fast they let one drive, their transitions, and the width they need.

What a bend allows is worked out by its rules in `core/centreline/speeds.py`; here it is held against the limits.
"""

from collections.abc import Callable, Iterator

import numpy as np

from delgrun.core.limits.check import Check, Checked, LimitUse, PlanBend, share
from delgrun.core.units import say

# Lengths are told to the decimetre: less is no shortfall. [m]
_SAME_M = 0.05
_SOURCE = "the rules of bends, beside them: V^2 / (127 (e + f)), in mph and feet 15, and usual transitions"


def _near(c: Checked, b: PlanBend) -> int:
    return int(np.argmin(np.abs(c.line.chainage_m - (b.from_m + b.to_m) / 2)))


def _speed(c: Checked, b: PlanBend) -> tuple[float, float, float, str]:
    about = say("{bend}, which takes R {r:about} or more", bend=b.words, r=float(np.ceil(b.least_radius_m)))
    return b.allowed_kmh, b.design_kmh, share(b.design_kmh, b.allowed_kmh), about


def _transition(c: Checked, b: PlanBend) -> tuple[float, float, float, str] | None:
    if not (b.without or 0 < b.transition_m < b.usual_m - _SAME_M):
        return None
    # None at all counts as one of half the length.
    return b.transition_m, b.usual_m, share(b.usual_m, b.usual_m / 2 if b.without else b.transition_m), b.words


def _width(c: Checked, b: PlanBend) -> tuple[float, float, float, str] | None:
    # It has no measure to be worse by: it comes behind what has.
    return (0.0, b.widening_m, 1.001, b.words) if b.widening_m > 0 else None


_Measure = Callable[[Checked, PlanBend], tuple[float, float, float, str] | None]


def _check(check: str, name: str, measure: str, of: _Measure, text: Callable[[LimitUse], str], mode: str) -> Check:
    own = check if mode == "fails" else f"{check}_advice"

    def uses(c: Checked) -> Iterator[LimitUse]:
        if getattr(c.limits, check) != mode:
            return
        for b in c.bends:
            found = of(c, b)
            if found is not None:
                value, limit, use, about = found
                yield LimitUse(own, b.from_m, b.to_m, value, limit, use, _near(c, b), about)

    return Check(
        id=own, name=name, measure=measure, source=_SOURCE, place="stretch", advice=mode == "advice",
        row="bends" if check == "bend_speed" else None,
        uses=uses, say=text,
    )  # fmt: skip


def _say_speed(u: LimitUse) -> str:
    return say(
        "Allows {v:about_speed} where {want:about_speed} are driven: {bend}",
        v=float(np.floor(u.value + 1e-6)), want=u.limit, bend=u.about,
    )  # fmt: skip


def _say_transition(u: LimitUse) -> str:
    if not u.value:
        return say("{bend} has no transition; {l:about} are usual", bend=_capital(u.about), l=float(np.ceil(u.limit)))
    return say(
        "{bend} has transitions of {v:about}; {l:about} are usual",
        bend=_capital(u.about), v=u.value, l=float(np.ceil(u.limit)),
    )  # fmt: skip


def _say_width(u: LimitUse) -> str:
    return say(
        "{bend} needs {w:length} more width; sections do not have it yet", bend=_capital(u.about), w=u.limit
    )  # fmt: skip


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


BENDS: tuple[Check, ...] = tuple(
    _check(check, name, measure, of, text, mode)
    for check, name, measure, of, text in (
        ("bend_speed", "Speed of a bend", "speed", _speed, _say_speed),
        ("bend_transition", "Transitions of a bend", "length", _transition, _say_transition),
        ("bend_width", "Width in a bend", "length", _width, _say_width),
    )
    for mode in ("fails", "advice")
)
