"""Bends against vertical curves: each kind of advice where it is due, and none where curves lie well."""

import pytest

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.check import Checked, PlanBend
from delgrun.core.limits.checks import all_uses, sentence
from delgrun.core.limits.checks.coordination import COORDINATION
from delgrun.core.limits.limit_set import default_limits

LIMITS = default_limits(72.0)  # 20 m/s: three seconds are 60 m


def road(*grades_and_curves: tuple[float, float, float]) -> GradeLine:
    """IPs at (chainage, curve length, grade after); it starts at chainage 0 with the first grade."""
    ips, level, at, grade = [], 100.0, 0.0, 0.0
    for i, (chainage, length, after) in enumerate(grades_and_curves):
        level += grade * (chainage - at)
        ips.append(Ip(chainage_m=chainage, level_m=level, curve_length_m=0.0 if i == 0 else length))
        at, grade = chainage, after
    return GradeLine.of([*ips, Ip(chainage_m=3000, level_m=level + grade * (3000 - at))])


def advice(line: GradeLine, *bends: PlanBend) -> list[tuple[str, float, float]]:
    found = all_uses(Checked(line, LIMITS, bends=bends), COORDINATION)
    assert all(u.fails and sentence(u) for u in found)
    return [(u.check, u.from_chainage_m, u.to_chainage_m) for u in found]


def bend(start: float, end: float, radius: float = 400.0, allowed: float = 100.0) -> PlanBend:
    return PlanBend(start, end, radius, allowed)


CREST = road((0, 0, 0.04), (1000, 200, -0.04))  # from 900 to 1100
SAG = road((0, 0, -0.02), (1000, 200, 0.02))


@pytest.mark.parametrize(
    ("line", "bends", "want"),
    [
        # Wholly inside, evenly: as it should be. A bend far away: nothing to say.
        (CREST, [bend(850, 1150)], []),
        (SAG, [bend(2000, 2200)], []),
        (SAG, [bend(1050, 1300)], [("curve_partly_in_bend", 1050, 1100)]),
        (SAG, [bend(700, 950, -300)], [("curve_partly_in_bend", 900, 950)]),
        (SAG, [bend(890, 1500)], [("out_of_phase", 890, 1500)]),
        (SAG, [bend(950, 1050)], [("out_of_phase", 900, 1100)]),
        # Behind a crest it surprises, behind a sag it is seen.
        (CREST, [bend(1130, 1400)], [("bend_beyond_crest", 1000, 1130)]),
        (CREST, [bend(1170, 1400)], []),
        (CREST, [bend(600, 850)], [("bend_beyond_crest", 850, 1000)]),
        (SAG, [bend(1130, 1400)], []),
        # A gentle one at the foot of a steep grade is none; nor is a sharp one below a gentle grade.
        (road((0, 0, -0.07), (1000, 60, -0.01)), [bend(1035, 1200, 120, 60)], [("bend_at_foot", 1000, 1035)]),
        (road((0, 0, -0.07), (1000, 60, -0.01)), [bend(1035, 1200, 400, 110)], []),
        (road((0, 0, -0.03), (1000, 60, -0.01)), [bend(1035, 1200, 120, 60)], []),
        (road((0, 0, 0.01), (1000, 60, 0.07)), [bend(800, 965, 120, 60)], [("bend_at_foot", 965, 1000)]),
        (CREST, [bend(1500, 1700), bend(1900, 2000)], [("broken_back_bends", 1700, 1900)]),
        (CREST, [bend(1500, 1700), bend(1900, 2000, -400)], []),
        (CREST, [bend(1500, 1700), bend(1700, 2000)], []),
        (CREST, [bend(1500, 1700), bend(1990, 2100)], []),
        (
            road((0, 0, 0.04), (1000, 100, 0.02), (1150, 100, -0.01)),
            [],
            [("broken_back_curves", 1050, 1100)],
        ),
        (road((0, 0, 0.04), (1000, 100, 0.02), (1150, 100, 0.03)), [], []),
        (road((0, 0, 0.04), (1000, 100, 0.02), (1180, 100, -0.01)), [], []),
    ],
)  # fmt: skip
def test_advice_where_it_is_due(line, bends, want):
    assert advice(line, *bends) == want


def test_it_is_advice_that_names_the_bend_and_gives_the_numbers():
    found = all_uses(Checked(CREST, LIMITS, bends=(bend(1130, 1400, -250.0),)), COORDINATION)
    assert [sentence(u) for u in found] == [
        "the bend to the left of R 250 m starts 130 m beyond the top of the crest, which hides it: start it before "
        "the crest from 1+000.00 to 1+130.00"
    ]
    assert all(c.advice and not c.searched for c in COORDINATION)
