"""Least K of crests and of sags: where the rule for K is, for screen, report and search alike.

The least values stand in the limits (`LimitSet.min_crest_k_m_per_pct`, `min_sag_k_m_per_pct`); where they come from is
`core/stopping.py`. K itself is `core/gradeline/vertical_curve.py`.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from delgrun.core.gradeline.edit_kinds import SetLength
from delgrun.core.gradeline.vertical_curve import length_of_k
from delgrun.core.limits.check import Check, Checked, LimitUse, Remedy, Row, share
from delgrun.core.limits.mending import moved_level
from delgrun.core.units import say

# A change of grade below this is none: no curve is needed. [m/m]
NO_CHANGE = 1e-12


def needs_no_curve(c: Checked, i: int) -> bool:
    """Whether an IP without a curve changes the grade by so little that it needs none."""
    if c.line.curve_length_m[i] > 0:
        return False
    at = float(c.line.chainage_m[i])
    most = c.limits.steps("most_kink").over(at, at)
    return most is not None and abs(c.line.change_of_grade(i)) <= most + NO_CHANGE


@dataclass(frozen=True)
class _KindOfCurve:
    check: str
    sign: float
    limit: str

    def __call__(self, c: Checked) -> Iterator[LimitUse]:
        steps = c.limits.steps(self.limit)
        if steps.free:
            return
        start, end, of_k = c.line.curve_start_m.tolist(), c.line.curve_end_m.tolist(), c.line.k_m_per_pct
        for i, change in enumerate(c.line.changes, 1):
            if change * self.sign > NO_CHANGE and not needs_no_curve(c, i):
                k, a, b = of_k[i], start[i], end[i]
                # A curve keeps what holds in every range that it touches.
                least = steps.over(a, b)
                if least is not None:
                    yield LimitUse(self.check, a, b, k, least, share(least, k), i)


def say_k(u: LimitUse) -> str:
    """K, the least and the shortfall; two decimals where one would hide it."""
    digits = 1 if u.limit - u.value >= 0.05 else 2
    return say(
        "K {k:bare_k}, needs {limit:bare_k}, short by {short:bare_k}",
        k=round(u.value, digits), limit=u.limit, short=round(u.limit - u.value, digits),
    )  # fmt: skip


def kinds_of_k(curve: Literal["crest", "sag"]) -> list[str]:
    """The limits that the K of a curve has to keep, all of them."""
    return [row.limit for check in (CREST_K, SAG_K, *MORE_K) for row in check.rows_of(curve)]


def longer_curve(c: Checked, u: LimitUse) -> Iterator[Remedy]:
    """The shortest whole-metre curve that keeps both K and the shortest length."""
    a = c.line.change_of_grade(u.ip)
    kinds = [c.limits.steps(kind) for kind in kinds_of_k("crest" if a < 0 else "sag")]
    at, length, curve = float(c.line.chainage_m[u.ip]), 0.0, c.line.curve(u.ip)
    # The longer it is the more ranges it may touch.
    for _ in range(1 + len(c.limits.ranges)):
        reach = at - length * curve.before, at + length * (1 - curve.before)
        k = max(kind.over(*reach) or 0.0 for kind in kinds)
        asked = max(length_of_k(k, curve), c.limits.over("min_curve_length_m", *reach))
        if asked <= length:
            break
        length = float(np.ceil(asked - 1e-9))
    yield Remedy(say("Lengthen the curve to {m:size}", m=length), SetLength(ip=u.ip, curve_length_m=length))


def _check(check: str, name: str, limit: str) -> Check:
    # A crest is eased by lowering its IP, a sag by lifting it.
    sign = -1.0 if "crest" in limit else 1.0
    return Check(
        id=check,
        name=name,
        limit=limit,
        measure="bare_k",
        row="K",
        local=True,
        rows=(Row("crest" if "crest" in limit else "sag", limit), Row("kink", "most_kink")),
        uses=_KindOfCurve(check, sign, limit),
        say=say_k,
        remedies=lambda c, u, mends: (*longer_curve(c, u), *moved_level(c, u, mends, sign)),
    )


CREST_K = _check("crest_k", "Crest K", "min_crest_k_m_per_pct")
SAG_K = _check("sag_k", "Sag K", "min_sag_k_m_per_pct")
# Kinds of K that are set beside these two.
MORE_K = (
    _check("crest_k_intermediate", "Crest K, intermediate", "crest_k_intermediate"),
    _check("crest_k_passing", "Crest K, passing", "crest_k_passing"),
    _check("crest_k_appearance", "Crest K, appearance", "crest_k_appearance"),
    _check("sag_k_comfort", "Sag K, comfort", "sag_k_comfort"),
    _check("sag_k_appearance", "Sag K, appearance", "sag_k_appearance"),
)
