"""Diagrams against hand-worked bends with the published run-off (reference value 7.4), and laws over made ones."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.speeds import BendRules, RoadWidth, bend_speeds
from delgrun.core.centreline.superelevation import BOTH, INNER, Diagram, OwnFalls, Superelevation, diagram_of
from delgrun.core.errors import DesignInputError
from laws import examples

RULES, ROAD = BendRules(), RoadWidth(3.6, 0.02)
# Of the published table: 3.6 m, 6 %, 0.55 % at 70 km/h; for two lanes turned together; and for a crown of 2 %.
RUNOFF, BOTH_LANES, RUNOUT = 39.27, 58.91, 13.09


def road(*bends: tuple[float, float, float], apart: float = 400.0) -> Centreline:
    """Bends one behind the other: radius, turn in degrees (to the right), transitions; banked by 6 %."""
    ips, at, heading = [CentrelineIp(easting_m=0.0, northing_m=0.0)], np.zeros(2), 0.0
    for radius, turn, transition in bends:
        at = at + apart * np.array([np.cos(heading), np.sin(heading)])
        ips.append(
            CentrelineIp(
                easting_m=at[0], northing_m=at[1], radius_m=radius, transition_in_m=transition,
                transition_out_m=transition, superelevation=0.06,
            )
        )  # fmt: skip
        heading -= np.radians(turn)
    at = at + apart * np.array([np.cos(heading), np.sin(heading)])
    return Centreline([*ips, CentrelineIp(easting_m=at[0], northing_m=at[1])])


def diagram(line: Centreline, rules: BendRules = RULES, **wish: object) -> Diagram:
    count = len(line.bends)
    speeds = bend_speeds(line.bends, line.ips, rules, [70.0] * count, [ROAD] * count)
    return diagram_of(line.bends, speeds, [ROAD] * count, rules, Superelevation(**wish), "centreline", 0.02)


def falls(d: Diagram, *chainages: float) -> list[tuple[float, float]]:
    lean = d.at(np.array(chainages))
    return list(zip(lean.falls(0, 0.02).tolist(), lean.falls(1, 0.02).tolist(), strict=True))


def test_a_bend_without_transitions_has_two_thirds_of_its_runoff_on_the_tangent():
    line = road((200.0, 60.0, 0.0))
    (bend,) = line.bends
    d = diagram(line, on_tangent=2 / 3)
    at = {(k.what, k.chainage_m < bend.from_chainage_m + bend.arc_m / 2): k.chainage_m for k in d.keys}
    level, full = at["level", True], at["full", True]
    assert level == pytest.approx(bend.from_chainage_m - 2 / 3 * RUNOFF, abs=0.01)
    assert full == pytest.approx(bend.from_chainage_m + 1 / 3 * RUNOFF, abs=0.01)
    assert at["crown ends", True] == pytest.approx(level - RUNOUT, abs=0.01)
    # The outer lane is level there; the inner one waits until both fall alike.
    turned = at["crown turned", True]
    assert turned == pytest.approx(level + RUNOUT, abs=0.01)
    for s, (left, right) in zip(
        (level - RUNOUT, level, turned, full, level + RUNOFF / 2),
        falls(d, level - RUNOUT, level, turned, full, level + RUNOFF / 2), strict=True,
    ):  # fmt: skip
        by_hand = {0: (0.02, 0.02), 1: (0.0, 0.02), 2: (-0.02, 0.02), 3: (-0.06, 0.06), 4: (-0.03, 0.03)}
        k = [level - RUNOUT, level, turned, full, level + RUNOFF / 2].index(s)
        assert (left, right) == pytest.approx(by_hand[k], abs=2e-5)
    # Behind the bend the same backwards.
    assert at["level", False] == pytest.approx(bend.to_chainage_m + 2 / 3 * RUNOFF, abs=0.01)


def test_a_transition_takes_the_runoff_or_as_much_of_it_as_it_is_long():
    longer, shorter = road((200.0, 60.0, 60.0)), road((200.0, 60.0, 30.0))
    first = diagram(longer).segments[0]
    # 6 % over 60 m: the crown of 2 % is turned 20 m before.
    assert (first.from_m, first.to_m) == pytest.approx(
        (longer.bends[0].from_chainage_m - 20, longer.bends[0].from_chainage_m + 60)
    )
    first = diagram(shorter).segments[0]
    assert first.to_m == pytest.approx(shorter.bends[0].from_chainage_m + 30)
    assert first.to_m - first.from_m == pytest.approx(RUNOFF + RUNOUT, abs=0.01)


def test_about_an_edge_all_lanes_turn_together():
    """b_w = 0.75 of two lanes: one and a half times as long."""
    first = diagram(road((200.0, 60.0, 30.0)), about=INNER).segments[0]
    assert first.to_m - first.from_m == pytest.approx(BOTH_LANES * (1 + 1 / 3), abs=0.02)


def test_reverse_bends_turn_from_one_to_the_other_where_there_is_no_room_for_the_crown():
    line = road((150.0, 60.0, 40.0), (150.0, -60.0, 40.0), apart=230.0)
    a, b = line.bends
    between = b.from_chainage_m - a.to_chainage_m
    assert 0 < between < 2 * RUNOUT
    d = diagram(line)
    (turn,) = (g for g in d.segments if g.turns == 0)
    assert (turn.from_m, turn.to_m) == pytest.approx((a.to_chainage_m - 40, b.from_chainage_m + 40))
    assert (turn.from_bank, turn.to_bank) == (0.06, -0.06)
    middle = (turn.from_m + turn.to_m) / 2
    # All in one plane: level in the middle, a quarter on to each side by 3 %.
    quarter = (turn.to_m - turn.from_m) / 4
    assert falls(d, middle - quarter, middle, middle + quarter) == [
        pytest.approx(v, abs=1e-12) for v in ((-0.03, 0.03), (0.0, 0.0), (0.03, -0.03))
    ]
    apart = diagram(road((150.0, 60.0, 40.0), (150.0, -60.0, 40.0)))
    assert all(g.turns for g in apart.segments)


def test_a_compound_bend_stays_banked_and_a_broken_back_too():
    line = road(
        (200.0, 40.0, 0.0), (300.0, 40.0, 0.0), apart=200 * np.tan(np.radians(20)) + 300 * np.tan(np.radians(20))
    )
    a, b = line.bends
    assert b.from_chainage_m == pytest.approx(a.to_chainage_m, abs=1e-6)
    ips = [replace(ip, superelevation=e) for ip, e in zip(line.ips, (None, 0.08, 0.05, None), strict=True)]
    d = diagram(Centreline(ips))
    (link,) = (g for g in d.segments if g.from_bank == 0.08 and g.to_bank == 0.05)
    # 3 % of 3.6 m at 0.55 %, half on each arc.
    assert (link.from_m, link.to_m) == pytest.approx(
        (a.to_chainage_m - 0.108 / 0.0055 / 2, a.to_chainage_m + 0.108 / 0.0055 / 2), abs=1e-6
    )
    near = diagram(road((200.0, 40.0, 30.0), (200.0, 40.0, 30.0), apart=200.0))
    assert len([g for g in near.segments if g.turns == 1]) == len(near.segments) == 5


def test_gentle_bends_keep_their_crown_and_own_falls_hold_where_they_are():
    line = road((900.0, 30.0, 0.0))
    assert diagram(line, crown_kept_m=800.0).segments == ()
    row = OwnFalls(from_m=100.0, to_m=140.0, left_from=0.02, left_to=-0.02, right_from=0.02, right_to=0.04)
    d = diagram(line, rows=(row,))
    assert falls(d, 99.9, 120.0, 140.0)[:2] == [(0.02, 0.02), pytest.approx((0.0, 0.03))]
    assert d.steps == [100.0, 140.0]
    with pytest.raises(DesignInputError, match="no length"):
        Superelevation(rows=(replace(row, to_m=100.0),)).check()
    assert diagram(line, built=False).segments == ()


def test_bends_widen_inside_along_their_runoff():
    """R 100 at 50 km/h, wheelbases of 3.81 and 7.77 m: 74.89 / 100 + 50 / 95 = 1.275 m."""
    line = road((100.0, 60.0, 40.0), (100.0, -60.0, 40.0))
    rules = BendRules(vehicle="semitrailer")
    count = len(line.bends)
    speeds = bend_speeds(line.bends, line.ips, rules, [50.0] * count, [ROAD] * count)
    a, b = line.bends
    at = np.array([a.from_chainage_m, a.from_chainage_m + 20, a.from_chainage_m + 40, b.from_chainage_m + 50])
    inside = (
        diagram_of(line.bends, speeds, [ROAD] * count, rules, Superelevation(), "centreline", 0.02).at(at).widening_m
    )
    assert inside == pytest.approx(np.array([[0, 0], [0, 0.6376], [0, 1.2752], [1.2752, 0]]), abs=1e-3)
    halves = diagram_of(
        line.bends, speeds, [ROAD] * count, rules, Superelevation(widened_on=BOTH), "centreline", 0.02
    ).at(at).widening_m  # fmt: skip
    assert halves == pytest.approx(inside.sum(axis=1, keepdims=True) / 2 * [1, 1])


@settings(max_examples=examples(150))
@given(
    st.lists(
        st.tuples(
            st.floats(60, 900), st.floats(-80, 80).filter(lambda t: abs(t) > 5), st.sampled_from([0.0, 20.0, 50.0])
        ),
        min_size=1, max_size=6,
    ),
    st.floats(60, 400), st.floats(0, 1), st.floats(0.0, 0.04),
)  # fmt: skip
def test_no_lane_jumps_and_each_arc_is_banked(bends, apart, on_tangent, crown):
    """On any road both lanes' falls are continuous, no segment overlaps another, and no bend leans the wrong way."""
    try:
        line = road(*bends, apart=apart)
    except DesignInputError:
        return
    count = len(line.bends)
    width = RoadWidth(3.6, crown)
    speeds = bend_speeds(line.bends, line.ips, RULES, [70.0] * count, [width] * count)
    d = diagram_of(
        line.bends, speeds, [width] * count, RULES, Superelevation(on_tangent=on_tangent), "centreline", crown
    )
    for a, b in zip(d.segments, d.segments[1:], strict=False):
        assert b.from_m > a.to_m - 1e-6
    s = np.unique(np.concatenate([np.linspace(0, line.end_chainage_m, 400), *([p - 1e-9, p + 1e-9] for p in d.places)]))
    lean = d.at(s)
    both = np.column_stack([lean.falls(side, crown) for side in (0, 1)])
    steepest = max((abs(g.to_bank - g.from_bank) / (g.to_m - g.from_m) for g in d.segments), default=0.0)
    assert (np.abs(np.diff(both, axis=0)) <= steepest * np.diff(s)[:, None] + 1e-8).all()
    if count == 1 and d.segments:
        (bend,) = line.bends
        full = [g for g in d.segments if g.from_bank == g.to_bank]
        assert {abs(g.from_bank) for g in full} <= {0.06} and all(
            g.turns == np.sign(bend.deflection) for g in d.segments
        )
