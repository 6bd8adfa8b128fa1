"""Shortest tangent between two vertical curves; curves that touch have none."""

from collections.abc import Iterator

from delgrun.core.limits.check import Check, Checked, LimitUse, Row, share
from delgrun.core.limits.checks.grades import LEAST_STRAIGHT_M
from delgrun.core.limits.mending import shortened
from delgrun.core.units import say


def _uses(c: Checked) -> Iterator[LimitUse]:
    least = c.limits.steps("min_tangent_m")
    start, end, length = c.line.curve_start_m.tolist(), c.line.curve_end_m.tolist(), c.line.curve_length_m.tolist()
    for i in range(1, len(start) - 2):
        straight = start[i + 1] - end[i]
        limit = least.over(end[i], start[i + 1])
        if straight > LEAST_STRAIGHT_M and length[i] > 0 and length[i + 1] > 0 and limit:
            yield LimitUse("shortest_tangent", end[i], start[i + 1], straight, limit, share(limit, straight), i)


SHORTEST_TANGENT = Check(
    id="shortest_tangent",
    name="Shortest tangent",
    limit="min_tangent_m",
    measure="length",
    row="tangent",
    local=True,
    place="stretch",
    rows=(Row("straight", "min_tangent_m"),),
    uses=_uses,
    # As much of the curve before it as makes up for the shortfall.
    remedies=lambda c, u, _mends: shortened(c, u, float(c.line.curve_length_m[u.ip]) - 2 * (u.limit - u.value)),
    say=lambda u: say(
        "Tangent of {value:length} between curves, needs {limit:size}, short by {short:length}",
        value=u.value, limit=u.limit, short=u.limit - u.value,
    ),
)  # fmt: skip
