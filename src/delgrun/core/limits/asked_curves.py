"""The length that the limits ask of a vertical curve: for curves that follow them, and for those that are new."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from delgrun.core.gradeline.around import Around
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.vertical_curve import ByLimits, VerticalCurve, length_for_sight, length_of_k
from delgrun.core.limits.checks.crest_and_sag_k import kinds_of_k
from delgrun.core.limits.limit_set import LimitSet
from delgrun.core.sight.passing import passing_sight_m
from delgrun.core.stopping import Heights, Stopping

# The K that a kind of sight has in the limits, of crests and of sags: a sag never hides what a headlight does not.
_CREST, _SAG = "min_crest_k_m_per_pct", "min_sag_k_m_per_pct"
_K_OF: dict[str, str] = {
    "stopping": _CREST, "intermediate": "crest_k_intermediate", "passing": "crest_k_passing", "headlight": _CREST,
}  # fmt: skip
# Ranges that a curve comes to touch as it grows are looked at so often: there are no more edges than that in practice.
_TURNS = 50
# Curves that were asked about last: those that stand still while one is dragged.
_MOST_KNOWN = 2000
# No curve is longer. [m]
_LONGEST_M = 1e5


def around(
    limits: LimitSet | None,
    ground: Callable[[float], float] | None = None,
    lines: Mapping[str, GradeLine] | None = None,
) -> Around:
    """What edits look at under these limits, with what these ask of curves."""
    if limits is None:
        return Around(None, ground, lines or {})

    def stopping(chainage_m: float) -> Stopping:
        return limits.stopping(limits.over("design_speed_kmh", chainage_m, chainage_m))

    return Around(stopping, ground, lines or {}, AskedCurves(limits))


@dataclass(frozen=True)
class AskedCurves:
    """What limits ask of curves at their places: least lengths, each for the ranges that the curve then touches. [m]

    Of kind "limits" it is all that fails the line otherwise: K of every kind, the shortest curve, and sight along the
    line where too little of it is a failure, with the grades of both tangents. Of another kind it is the K that the
    limits have for that, or the sight distance of the design speed where they have none; and the shortest curve.
    """

    limits: LimitSet

    def __call__(self, chainage_m: float, curve: VerticalCurve, kind: ByLimits = "limits") -> float:
        """The least length of a curve whose IP lies at a chainage. [m]"""
        # Its own length is not asked about.
        key = chainage_m, curve.shape, curve.grade_in, curve.grade_out, curve.share, kind
        found = self._known.get(key)
        if found is None:
            if len(self._known) > _MOST_KNOWN:
                self._known.clear()
            found = self._known[key] = self._asked(chainage_m, curve, kind)
        return found

    @cached_property
    def _known(self) -> dict[tuple[float, str, float, float, float, ByLimits], float]:
        return {}

    def _asked(self, chainage_m: float, curve: VerticalCurve, kind: ByLimits) -> float:
        length = 0.0
        for _ in range(_TURNS):
            start = chainage_m - length * curve.before
            asked = min(self._over(start, start + length, curve, kind), _LONGEST_M)
            if asked <= length:
                break
            length = asked
        return length

    def _over(self, a: float, b: float, curve: VerticalCurve, kind: ByLimits) -> float:
        crest = curve.change < 0
        shortest = self.limits.over("min_curve_length_m", a, b)
        if kind != "limits":
            k = self.limits.steps(_K_OF[kind] if crest else _SAG).over(a, b)
            own = self._by_speed(a, b, curve, kind) if k is None else length_of_k(k, curve)
            return max(shortest, own)
        kinds = [self.limits.steps(n).over(a, b) for n in kinds_of_k("crest" if crest else "sag")]
        least = max(k for k in kinds if k is not None)
        return max(shortest, length_of_k(least, curve), *self._sights(a, b, curve))

    def _by_speed(self, a: float, b: float, curve: VerticalCurve, kind: ByLimits) -> float:
        """The length for the sight that the design speed asks for: two that meet, or pass, see each other's eyes."""
        rules = self.limits.stopping(self.limits.over("design_speed_kmh", a, b))
        if kind == "passing":
            own = self.limits.steps("passing_sight_m").over(a, b)
            needed = float(passing_sight_m(np.array([rules.speed_kmh]))[0]) if own is None else own
        else:
            needed = (2 if kind == "intermediate" else 1) * rules.design_m
        return length_for_sight(needed, curve, _eyes(rules) if kind in ("passing", "intermediate") else rules)

    def _sights(self, a: float, b: float, curve: VerticalCurve) -> list[float]:
        """Lengths for sight along the line, on the steepest of both tangents downhill in either direction."""
        lim = self.limits
        out = [0.0]
        modes = {
            "stopping": curve.change < 0 and lim.stopping_sight == "fails",
            "headlight": curve.change > 0 and lim.headlight_sight == "fails",
            "intermediate": curve.change < 0 and lim.intermediate_sight == "fails",
        }
        if not any(modes.values()):
            return out
        grades = curve.grade_in, curve.grade_out
        reach = 0.0
        for _ in range(_TURNS):
            rules = lim.stopping(lim.over("design_speed_kmh", a - reach, b + reach))
            ahead, back = (_to_stop(rules, fall) for fall in (min(grades), -max(grades)))
            needed = ahead + back if modes["intermediate"] else max(ahead, back)
            if needed <= reach:
                break
            reach = needed
        if modes["stopping"] or modes["headlight"]:
            out.append(length_for_sight(max(ahead, back), curve, rules))
        if modes["intermediate"]:
            out.append(length_for_sight(ahead + back, curve, _eyes(rules)))
        return [v for v in out if np.isfinite(v)]


def _eyes(rules: Stopping) -> Heights:
    """Eyes that look for eyes."""
    return replace(rules, object_m=rules.eye_m)


def _to_stop(rules: Stopping, grade: float) -> float:
    """Way to stop on one grade; without end where the brakes don't hold. [m]"""
    force = rules.force + grade
    v = rules.speed_kmh
    return rules.reacting_at(v) + rules.braking_at(v) / force if force > 0 else np.inf
