"""Advice on straights without a curve: measured between curves, and never counted as a failure."""

from dataclasses import replace

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import BY_ID, all_uses, sentence
from delgrun.core.limits.limit_set import LimitSet


def test_a_long_tangent_is_advised_against():
    # Curves of 100 m at 500 and 900: 450 m, 300 m and 50 m of straight.
    rows = ((0, 100, 0), (500, 110, 100), (900, 106, 100), (1000, 107, 0))
    line = GradeLine.of([Ip(chainage_m=s, level_m=z, curve_length_m=length) for s, z, length in rows])
    check = BY_ID["longest_tangent"]
    limits = replace(LimitSet(), longest_tangent_m=400.0)
    found = all_uses(Checked(line, limits), (check,))
    assert [u.value for u in found] == [450.0, 300.0, 50.0] and [u.fails for u in found] == [True, False, False]
    words = "450.00 m without a curve, advised at most 400 m, longer by 50.00 m"
    assert sentence(found[0]) == f"{words} from 0+000.00 to 0+450.00"
    assert check.advice and not check.searched
    assert all_uses(Checked(line, LimitSet()), (check,)) == []
