"""Least K of crests and of sags: where the rule for K is, for screen, report and search alike.

The least values stand in the limits (`LimitSet.min_crest_k_m_per_pct`, `min_sag_k_m_per_pct`); where they come from is
`core/sight/stopping.py`. K itself is `core/gradeline/vertical_curve.py`.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from delgrun.core.limits.check import Check, Checked, LimitUse, share
from delgrun.core.limits.remedies import longer_curve, moved_level
from delgrun.core.units import say

# A change of grade below this is none: no curve is needed. [m/m]
NO_CHANGE = 1e-12


@dataclass(frozen=True)
class _KindOfCurve:
    check: str
    sign: float
    limit: str

    def __call__(self, c: Checked) -> Iterator[LimitUse]:
        start, end = c.line.curve_start_m, c.line.curve_end_m
        for i in range(1, len(c.line.ips) - 1):
            change = c.line.change_of_grade(i)
            if change * self.sign > NO_CHANGE:
                k, a, b = float(c.line.k(i)), float(start[i]), float(end[i])
                # A curve keeps what holds in every range that it touches.
                least = c.limits.over(self.limit, a, b)
                yield LimitUse(self.check, a, b, k, least, share(least, k), i)


def say_k(u: LimitUse) -> str:
    """K, the least and the shortfall; two decimals where one would hide it."""
    digits = 1 if u.limit - u.value >= 0.05 else 2
    return say(
        "K {k:bare_k}, needs {limit:bare_k}, short by {short:bare_k}",
        k=round(u.value, digits), limit=u.limit, short=round(u.limit - u.value, digits),
    )  # fmt: skip


CREST_K = Check(
    id="crest_k",
    name="Crest K",
    row="K",
    searched=True,
    uses=_KindOfCurve("crest_k", -1.0, "min_crest_k_m_per_pct"),
    say=say_k,
    # A crest is eased by lowering its IP.
    remedies=lambda c, u, mends: (*longer_curve(c, u), *moved_level(c, u, mends, -1.0)),
)
SAG_K = Check(
    id="sag_k",
    name="Sag K",
    row="K",
    searched=True,
    uses=_KindOfCurve("sag_k", 1.0, "min_sag_k_m_per_pct"),
    say=say_k,
    remedies=lambda c, u, mends: (*longer_curve(c, u), *moved_level(c, u, mends, 1.0)),
)
