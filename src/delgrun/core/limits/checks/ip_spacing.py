"""Least spacing of IPs."""

from collections.abc import Iterator

import numpy as np

from delgrun.core.gradeline.edit_kinds import MoveIp
from delgrun.core.limits.check import Check, Checked, LimitUse, Mends, Remedy, Row, share
from delgrun.core.units import say


def _uses(c: Checked) -> Iterator[LimitUse]:
    s = c.line.chainage_m.tolist()
    for i in range(1, len(s) - 2):
        apart = s[i + 1] - s[i]
        least = c.limits.over("min_ip_spacing_m", s[i], s[i + 1])
        yield LimitUse("ip_spacing", s[i], s[i + 1], apart, least, share(least, apart), i)


def _apart(c: Checked, u: LimitUse, _mends: Mends) -> Iterator[Remedy]:
    """Either of the two moved away from the other, along the grade that it keeps."""
    for at, sign, other in ((u.ip, -1.0, u.ip - 1), (u.ip + 1, 1.0, u.ip + 2)):
        ip, beside = c.line.ips[at], c.line.ips[other]
        by = float(np.ceil(100 * (u.limit - u.value)) / 100)
        grade = (beside.level_m - ip.level_m) / (beside.chainage_m - ip.chainage_m)
        to = round(ip.chainage_m + sign * by, 3), round(ip.level_m + sign * by * grade, 3)
        edit = MoveIp(ip=at, chainage_m=to[0], level_m=to[1], slide=False)
        yield Remedy(say(f"Move IP {at} {'back' if sign < 0 else 'on'} by {{m:length}}", m=by), edit)


IP_SPACING = Check(
    id="ip_spacing",
    name="Spacing of IPs",
    limit="min_ip_spacing_m",
    measure="length",
    row="spacing",
    local=True,
    rows=(Row("spacing", "min_ip_spacing_m"),),
    uses=_uses,
    remedies=_apart,
    say=lambda u: say(
        "IPs {value:length} apart, needs {limit:size}, short by {short:length}",
        value=u.value, limit=u.limit, short=u.limit - u.value,
    ),
)  # fmt: skip
