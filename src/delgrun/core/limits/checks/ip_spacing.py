"""Least spacing of IPs."""

from collections.abc import Iterator

from delgrun.core.limits.check import Check, Checked, LimitUse, share
from delgrun.core.units import say


def _uses(c: Checked) -> Iterator[LimitUse]:
    s = c.line.chainage_m.tolist()
    for i in range(1, len(s) - 2):
        apart = s[i + 1] - s[i]
        least = c.limits.over("min_ip_spacing_m", s[i], s[i + 1])
        yield LimitUse("ip_spacing", s[i], s[i + 1], apart, least, share(least, apart), i)


IP_SPACING = Check(
    id="ip_spacing",
    name="Spacing of IPs",
    row="spacing",
    searched=True,
    uses=_uses,
    say=lambda u: say(
        "IPs {value:length} apart, needs {limit:size}, short by {short:length}",
        value=u.value, limit=u.limit, short=u.limit - u.value,
    ),
)  # fmt: skip
