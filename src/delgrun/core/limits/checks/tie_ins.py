"""Ends of the line that miss the existing road in level or in grade."""

from collections.abc import Iterator

from delgrun.core.limits.check import Check, Checked, LimitUse
from delgrun.core.units import say

LEVEL_TOLERANCE_M = 0.0005
# A tie-in's grade counts as met within 0.01 %: levels kept to the millimetre can do no better.
GRADE_TOLERANCE = 1e-4


def _levels(c: Checked) -> Iterator[LimitUse]:
    for tie, i in ((c.limits.start, 0), (c.limits.end, len(c.line.ips) - 1)):
        s, z = float(c.line.chainage_m[i]), float(c.line.level_m[i])
        if tie.level_m is not None and abs(z - tie.level_m) > LEVEL_TOLERANCE_M:
            yield LimitUse("tie_in_level", s, s, z, tie.level_m, None, i)


def _grades(c: Checked) -> Iterator[LimitUse]:
    for tie, i, at in ((c.limits.start, 0, 0), (c.limits.end, len(c.line.ips) - 1, -1)):
        s, g = float(c.line.chainage_m[i]), float(c.line.grade[at])
        if tie.grade is not None and abs(g - tie.grade) > GRADE_TOLERANCE:
            yield LimitUse("tie_in_grade", s, s, g, tie.grade, None, i)


TIE_IN_LEVEL = Check(
    id="tie_in_level",
    name="Tie-in level",
    measure="level",
    source="the existing road",
    uses=_levels,
    rows="ends",
    say=lambda u: say(
        "Level {value:level}, the road there is at {limit:level}, off by {off:+level}",
        value=u.value, limit=u.limit, off=u.value - u.limit,
    ),
)  # fmt: skip
TIE_IN_GRADE = Check(
    id="tie_in_grade",
    name="Tie-in grade",
    measure="exact_grade",
    source="the existing road",
    uses=_grades,
    rows="ends",
    say=lambda u: say(
        "Grade {value:exact_grade}, the road there has {limit:exact_grade}, off by {off:exact_grade}",
        value=u.value, limit=u.limit, off=u.value - u.limit,
    ),
)  # fmt: skip
