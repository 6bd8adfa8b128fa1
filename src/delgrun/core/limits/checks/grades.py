"""Steepest and flattest grade of the tangents."""

from collections.abc import Iterator

from delgrun.core.limits.check import Check, Checked, LimitUse, share
from delgrun.core.units import say

# A straight shorter than this between two curves is a joint, not a flat stretch. [m]
LEAST_STRAIGHT_M = 0.001


def _steepest(c: Checked) -> Iterator[LimitUse]:
    most, s = c.limits.steps("max_grade"), c.line.chainage_m.tolist()
    for i, g in enumerate(c.line.grade.tolist()):
        for a, b, limit in most.along(s[i], s[i + 1]):
            if limit is not None:
                yield LimitUse("steepest_grade", a, b, g, limit, share(abs(g), limit), i)


def _flattest(c: Checked) -> Iterator[LimitUse]:
    least = c.limits.steps("min_grade")
    start, end = c.line.curve_start_m.tolist(), c.line.curve_end_m.tolist()
    for i, g in enumerate(c.line.grade.tolist()):
        if start[i + 1] - end[i] > LEAST_STRAIGHT_M:
            for a, b, limit in least.along(end[i], start[i + 1]):
                if limit:
                    yield LimitUse("flattest_grade", a, b, g, limit, share(limit, abs(g)), i)


STEEPEST_GRADE = Check(
    id="steepest_grade",
    name="Steepest grade",
    row="grade",
    searched=True,
    uses=_steepest,
    say=lambda u: say(
        "Grade {value:grade}, at most {limit:percent}, too steep by {over:percent}",
        value=u.value, limit=u.limit, over=abs(u.value) - u.limit,
    ),
)  # fmt: skip
FLATTEST_GRADE = Check(
    id="flattest_grade",
    name="Flattest grade",
    row="grade",
    searched=True,
    uses=_flattest,
    say=lambda u: say(
        "Grade {value:grade}, needs {limit:percent} to drain, short by {short:percent}",
        value=u.value, limit=u.limit, short=u.limit - abs(u.value),
    ),
)  # fmt: skip
