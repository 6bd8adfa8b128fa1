"""Level controls: what they ask of the line, how much room it has, and lines made to keep them."""

from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.controls.bands import Band, Sources, bands_of, slack_of
from delgrun.core.controls.controls import LevelControl, LevelControls
from delgrun.core.errors import DesignInputError
from delgrun.core.first_line.first_line import first_line
from delgrun.core.first_line.wishes import Depths
from delgrun.core.gradeline.edit_kinds import apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import BY_ID, CHECKS, limit_uses, sentence
from delgrun.core.limits.limit_set import default_limits
from delgrun.core.limits.remedies import remedies
from delgrun.core.search.bound import lower_bound
from delgrun.core.search.search import search
from delgrun.core.section.road_design import RoadDesign
from family import another_line, controlled, made
from independent import breaks
from laws import looked, looks
from lines import IPS, random_line

SAG = GradeLine.of(
    [
        Ip(chainage_m=0, level_m=100),
        Ip(chainage_m=300, level_m=88, curve_length_m=200),
        Ip(chainage_m=800, level_m=108),
    ]
)
# A lane of 3 m at 3 % and a shoulder of 1 m at 4 %: 0.13 m lower at the edge.
ROAD = RoadDesign.plain()


def costs_its_levels(line: GradeLine) -> SimpleNamespace:
    """An evaluation of which only the cost is asked."""
    return SimpleNamespace(ledger=SimpleNamespace(cost=float(line.level_m.sum())))


@looks()
@settings(deadline=None)
@given(IPS, st.lists(st.floats(-4, 4), min_size=2, max_size=6), st.floats(0, 300), st.floats(5, 300))
def test_room_is_that_of_a_walk_by_centimetres(rows, heights, start, length):
    line = random_line(rows)
    s = np.linspace(start, start + length, len(heights))
    band = Band("control", 0, "", s, 100 + np.array(heights), -1.0, 2.0)
    at = np.union1d(s, np.arange(start, start + length, 0.01))
    over = line.levels(at) - np.interp(at, s, band.reference_m)
    found = slack_of(line, band)
    if np.isnan(over).all():
        assert found is None
        return
    looked()
    assert found.slack_m == pytest.approx(min(np.nanmin(over) + 1.0, 2.0 - np.nanmax(over)), abs=2e-3)
    # What it says of the place holds there.
    level = line.levels(np.array([found.at_m]))[0]
    assert found.level_m == pytest.approx(level, abs=1e-9)
    asked = np.interp(found.at_m, s, band.reference_m) + (band.low_m if found.lower else band.high_m)
    assert found.limit_m == pytest.approx(asked, abs=1e-6)


def test_what_controls_ask_in_their_own_words():
    ground = lambda offset, a, b: (np.array([a, b]), np.array([90.0 + offset, 92.0 + offset]))  # noqa: E731
    old = GradeLine.of([Ip(chainage_m=0, level_m=95), Ip(chainage_m=800, level_m=95)])
    controls = [
        LevelControl(words="creek", from_m=280, to_m=380, level_m=89.0, clearance_m=0.6),
        LevelControl(from_m=600, to_m=600, bound="below", level_m=101.0, clearance_m=0.5, offset_m=-4.0),
        LevelControl(from_m=100, to_m=200, bound="between", measured_from="ground", height_m=-1, height_to_m=2),
        LevelControl(from_m=400, to_m=500, bound="at", measured_from="line", old_line="line-2", height_m=0.1),
        LevelControl(from_m=400, to_m=500, bound="at", measured_from="line", old_line="line-9", height_m=0.1),
    ]
    bands = bands_of(enumerate(controls), Sources(ROAD, ground, {"line-2": old}))
    rooms = [slack_of(SAG, band) for band in bands]
    # By hand: the sag's low point is at 0+300 by symmetry of its grades of 4 %, 2 m above its IP: level 90.
    assert rooms[0].slack_m == pytest.approx(90.0 - 89.6) and rooms[0].at_m == pytest.approx(300)
    # The edge lies 0.13 m under the line, which is at 100 there.
    assert rooms[1].slack_m == pytest.approx(100.5 + 0.13 - 100.0) and not rooms[1].lower
    assert rooms[2].slack_m == pytest.approx(92 - 96.0)
    assert rooms[3].slack_m == pytest.approx(-3.1) and rooms[3].lower
    (bare,) = BY_ID["control_unmeasured"].uses(Checked(SAG, default_limits().with_bands(bands)))
    assert rooms[4] is None and "old road" in sentence(bare)


@pytest.mark.parametrize(
    ("control", "field"),
    [
        (LevelControl(from_m=5, to_m=5), "level_m"),
        (LevelControl(from_m=5, to_m=4, level_m=1.0), "to_m"),
        (LevelControl(from_m=5, to_m=5, measured_from="ground", level_m=1.0), "height_m"),
        (LevelControl(from_m=5, to_m=5, measured_from="line", height_m=1.0), "old_line"),
        (LevelControl(from_m=5, to_m=5, bound="between", level_m=1.0, level_to_m=1.5, clearance_m=0.3), "level_to_m"),
    ],
)
def test_what_says_too_little_is_refused_by_its_field(control, field):
    with pytest.raises(DesignInputError) as refused:
        LevelControls(rows=(control,)).check()
    assert refused.value.field == field


def test_a_line_too_low_is_told_by_how_much_and_lifted_by_a_remedy():
    flood = LevelControl(words="Creek flood", from_m=250, to_m=400, level_m=90.0, clearance_m=0.5)
    limits = default_limits(70.0).with_bands(bands_of([(0, flood)], Sources(ROAD)))
    (bad,) = [u for u in limit_uses(SAG, limits) if u.fails]
    assert sentence(bad).startswith("Creek flood: level 90.000 m, at least 90.500 m, short by 0.50 m from 0+251.")
    offered = remedies(Checked(SAG, limits), CHECKS, costs_its_levels)
    assert len(offered) == 1 and offered[0].label.startswith("Lift this IP by ")
    mended = apply_edit(SAG, offered[0].edit).line
    assert not any(u.fails for u in limit_uses(mended, limits))
    # To pass a place at its level the IP moves by the millimetre.
    exact = LevelControl(from_m=380, to_m=380, bound="at", level_m=91.234)
    met = default_limits(70.0).with_bands(bands_of([(0, exact)], Sources(ROAD)))
    (onto,) = remedies(Checked(SAG, met), CHECKS, costs_its_levels)
    assert apply_edit(SAG, onto.edit).line.levels(np.array([380.0]))[0] == pytest.approx(91.234, abs=6e-4)
    # A centimetre less is too little.
    short = replace(offered[0].edit, level_m=offered[0].edit.level_m - 0.01)
    assert any(u.fails for u in limit_uses(apply_edit(SAG, short).line, limits))


@pytest.mark.parametrize("seed", [4, 17, 25, 38])
def test_searches_and_first_lines_keep_what_a_line_can_keep(seed):
    """Controls that some line keeps: nothing is called impossible, and lines found keep them by a walk of their own."""
    name, free = made(seed, 60)
    line = another_line(free, seed)
    assert line is not None and breaks(free, line) == [], name
    p = controlled(free, line, seed)
    bound = lower_bound(p)
    assert not bound.impossible, name
    found = search(p, lambda *_: None, lambda: False)
    for offer in (found.best, found.offered):
        assert breaks(p, offer.line) == [], name
        assert offer.cost >= found.lower_bound * (1 - 1e-9), name
    limits = replace(p.limits, start_level_m=p.start_level_m, end_level_m=p.end_level_m)
    ground = p.chainage_m, p.works.centre_level_m
    first = first_line(ground, (float(p.chainage_m[0]), float(p.chainage_m[-1])), limits, Depths()).line
    assert breaks(p, first) == [], name
    assert found.lower_bound >= lower_bound(free).lower_bound * (1 - 1e-6), name
