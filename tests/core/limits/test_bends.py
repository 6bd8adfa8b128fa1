"""Bends as checks: too tight, without transitions, too narrow; by choice failures, advice, or nothing."""

from dataclasses import replace

import pytest

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.check import Checked, PlanBend
from delgrun.core.limits.checks import BY_ID, all_uses, brief
from delgrun.core.limits.checks.bends import BENDS
from delgrun.core.limits.limit_set import default_limits

LINE = GradeLine.of([Ip(chainage_m=0, level_m=100), Ip(chainage_m=1000, level_m=110)])
# V^2 / (127 (e + f)) by hand: 70 km/h, 8 % and 0.15 take 168 m; 110 m allow 59 km/h.
TIGHT = PlanBend(300, 400, -110.0, 59.4, 70.0, 167.7, 0.0, 43.0, True, 0.8)
WIDE = PlanBend(600, 700, 400.0, 95.0, 70.0, 167.7, 60.0, 40.0, False, 0.0)


@pytest.mark.parametrize("mode", ["fails", "advice", "off"])
def test_a_bend_fails_or_is_advised_by_choice_and_a_good_one_says_nothing(mode):
    limits = replace(default_limits(70.0), bend_speed=mode, bend_transition=mode, bend_width=mode)
    found = [u for u in all_uses(Checked(LINE, limits, bends=(TIGHT, WIDE)), BENDS) if u.fails]
    if mode == "off":
        assert not found
        return
    assert [(u.from_chainage_m, BY_ID[u.check].advice) for u in found] == [(300, mode == "advice")] * 3
    speed, transition, width = map(brief, found)
    assert speed == (
        "Allows 59 km/h where 70 km/h are driven: the bend to the left of R 110 m, which takes R 168 m or more"
    )
    assert "has no transition; 43 m are usual" in transition and "needs 0.80 m more width" in width


def test_the_use_is_the_share_of_the_speed_that_the_bend_allows():
    (tight, wide) = BY_ID["bend_speed"].uses(Checked(LINE, default_limits(70.0), bends=(TIGHT, WIDE)))
    assert tight.use == pytest.approx(70 / 59.4) and not wide.fails and wide.use == pytest.approx(70 / 95)
