"""Shortest vertical curve."""

from collections.abc import Iterator

from delgrun.core.limits.check import Check, Checked, LimitUse, Row, share
from delgrun.core.limits.checks.crest_and_sag_k import longer_curve, needs_no_curve
from delgrun.core.units import say

_NO_CHANGE = 1e-12


def _uses(c: Checked) -> Iterator[LimitUse]:
    line = c.line
    start, end, length = line.curve_start_m.tolist(), line.curve_end_m.tolist(), line.curve_length_m.tolist()
    for i, change in enumerate(line.changes, 1):
        if length[i] > 0 or (abs(change) >= _NO_CHANGE and not needs_no_curve(c, i)):
            least = c.limits.over("min_curve_length_m", start[i], end[i])
            yield LimitUse("curve_length", start[i], end[i], length[i], least, share(least, length[i]), i)


CURVE_LENGTH = Check(
    id="curve_length",
    name="Shortest curve",
    limit="min_curve_length_m",
    measure="length",
    row="curve",
    local=True,
    rows=(Row("length", "min_curve_length_m"),),
    uses=_uses,
    say=lambda u: say(
        "Curve {value:length}, needs {limit:size}, short by {short:length}",
        value=u.value, limit=u.limit, short=u.limit - u.value,
    ),
    remedies=lambda c, u, _mends: longer_curve(c, u),
)  # fmt: skip
