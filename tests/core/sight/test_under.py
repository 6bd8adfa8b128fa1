"""Sight under a structure: reference 2.5, and a line of sight held against each object in turn."""

import numpy as np
import pytest

from delgrun.core.controls.bands import Sources, bands_of
from delgrun.core.controls.controls import LevelControl
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import BY_ID, brief
from delgrun.core.limits.limit_set import default_limits
from delgrun.core.section.road_design import RoadDesign
from delgrun.core.sight.under import sight_under


def sag(change: float, length: float) -> GradeLine:
    half = change / 2
    return GradeLine.of(
        [
            Ip(chainage_m=0, level_m=100),
            Ip(chainage_m=600, level_m=100 - 600 * half, curve_length_m=length),
            Ip(chainage_m=1200, level_m=100),
        ]
    )


@pytest.mark.parametrize(("change", "length"), [(0.12, 334.82), (0.06, 126.67)])
def test_least_sight_under_a_structure_is_the_printed_one(change, length):
    """Reference 2.5: S 250 m, C 4.3 m over the middle of a sag: A 12 and L 334.82, A 6 and L 126.67 (S > L).

    The formula takes eye and object both 1.5 m up, the mean of theirs, and both as far away: an eye that is nearer than
    the object sees a little less.
    """
    line = sag(change, length)
    low = float(line.levels(np.array([600.0]))[0])
    needed = np.array([0.0, 1200.0]), np.array([400.0, 400.0])
    for back in (False, True):
        found = sight_under(line, 600.0, low + 4.3, needed, back=back)
        assert found is not None and 0.98 * 250.0 < found.seen_m < 250.0 + 0.5
    assert sight_under(line, 600.0, low + 60.0, needed) is None


def test_a_bridge_over_a_sag_is_told_as_stopping_sight_is():
    line = sag(0.12, 160.0)
    low = float(line.levels(np.array([600.0]))[0])
    bridge = LevelControl(
        words="bridge", from_m=600, to_m=600, bound="below", level_m=round(low + 4.3, 3), clearance_m=4.0
    )
    limits = default_limits(100.0).with_bands(bands_of([(0, bridge)], Sources(RoadDesign.plain())))
    found = list(BY_ID["sight_under_advice"].uses(Checked(line, limits)))
    assert len(found) == 2 and all(u.fails for u in found) and "hidden by bridge" in brief(found[0])
    # Nothing hangs where a level is only a limit.
    plain = LevelControl(from_m=600, to_m=600, bound="below", level_m=round(low + 4.3, 3))
    limits = default_limits(100.0).with_bands(bands_of([(0, plain)], Sources(RoadDesign.plain())))
    assert list(BY_ID["sight_under_advice"].uses(Checked(line, limits))) == []
