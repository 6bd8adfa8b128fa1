"""Longest straight between two vertical curves: advice, since a long even grade tires and hides what follows."""

from collections.abc import Iterator

from delgrun.core.limits.check import Check, Checked, LimitUse, share
from delgrun.core.units import say


def _uses(c: Checked) -> Iterator[LimitUse]:
    allowed = c.limits.steps("longest_tangent_m")
    start, end = c.line.curve_start_m.tolist(), c.line.curve_end_m.tolist()
    for i in range(len(start) - 1):
        straight = start[i + 1] - end[i]
        most = allowed.over(end[i], start[i + 1])
        if straight > 0 and most is not None:
            yield LimitUse("longest_tangent", end[i], start[i + 1], straight, most, share(straight, most), i)


LONGEST_TANGENT = Check(
    id="longest_tangent",
    name="Longest tangent",
    limit="longest_tangent_m",
    measure="length",
    row="tangent",
    local=True,
    place="stretch",
    advice=True,
    uses=_uses,
    say=lambda u: say(
        "{value:length} without a curve, advised at most {limit:size}, longer by {over:length}",
        value=u.value, limit=u.limit, over=u.value - u.limit,
    ),
)  # fmt: skip
