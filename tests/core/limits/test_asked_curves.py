"""Curves as the limits ask: what they keep is what the checks look for, and no longer than that."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.gradeline.edit_kinds import AddIp, CurvesByLimits, MoveIp, SetCurve, apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip, IpNumber
from delgrun.core.limits.asked_curves import around
from delgrun.core.limits.check import Checked
from delgrun.core.limits.checks import CHECKS, all_uses
from delgrun.core.limits.limit_set import LimitSet, default_limits
from delgrun.core.limits.ranges import LimitRange
from laws import examples

# What a curve alone can keep.
OF_CURVES = ("crest_k", "sag_k", "crest_k_intermediate", "crest_k_passing", "crest_k_appearance", "sag_k_comfort",
             "sag_k_appearance", "curve_length", "stopping_sight", "headlight_sight", "intermediate_sight")  # fmt: skip


def line(*rows: tuple[float, float]) -> GradeLine:
    return GradeLine.of([Ip(chainage_m=s, level_m=z) for s, z in rows])


def one(i: int) -> tuple[IpNumber, ...]:
    return (IpNumber(ip=i),)


@settings(max_examples=examples(150), deadline=None)
@given(
    st.floats(-0.1, 0.1), st.floats(-0.1, 0.1), st.sampled_from([40.0, 60.0, 80.0, 100.0]),
    st.sampled_from(["fails", "off"]), st.sampled_from(["fails", "off"]), st.sampled_from(["parabola", "circle"]),
    st.one_of(st.none(), st.tuples(st.floats(1500, 2600), st.floats(10, 400), st.sampled_from([50.0, 90.0]))),
)  # fmt: skip
def test_a_curve_that_keeps_the_limits_passes_every_check_that_a_curve_can_pass(g, h, speed, day, night, shape, ranged):
    limits = replace(default_limits(speed), stopping_sight=day, intermediate_sight=day, headlight_sight=night,
                     crest_k_appearance=30.0, max_grade=0.5)  # fmt: skip
    if ranged:
        a, length, kmh = ranged
        own = LimitRange(from_m=a, to_m=a + length, design_speed_kmh=kmh, min_crest_k_m_per_pct=60.0)
        limits = limits.with_ranges([own])
    # Room on both sides for any curve, and for who looks at it.
    base = line((-10_000, 1000 - 12_000 * g), (2000, 1000), (14_000, 1000 + 12_000 * (g + h)))
    kept = apply_edit(base, SetCurve(ip=1, shape=shape, held="limits"), around(limits)).line
    failing = [
        u
        for u in all_uses(Checked(kept, limits), (c for c in CHECKS if c.id in OF_CURVES))
        if u.fails and u.limit < 1e5
    ]
    assert not failing, (kept.ips[1], failing)


def test_lengths_are_those_of_the_formulas():
    limits = replace(default_limits(70.0), min_curve_length_m=20.0)
    base = line((0, 0), (1000, 40), (2000, 40))
    around_it = around(limits)

    def length(kind: str, of: GradeLine = base) -> float:
        return apply_edit(of, CurvesByLimits(ips=one(1), kind=kind, follow=True), around_it).line.ips[1].curve_length_m

    # K 17 and a change of 4 %. Two that meet see 2 x 105 m, as far as passing needs, from eyes of 1.08 m to such eyes:
    # A S^2 / C is 204.2 m, less than S, so that it is 2 S - C / A with C = 800 h (reference values 2.3, 2.7).
    assert length("limits") == length("stopping") == pytest.approx(68.0)
    assert length("intermediate") == length("passing") == pytest.approx(2 * 210 - 800 * 1.08 / 4)
    sag = line((0, 40), (1000, 0), (2000, 0))
    assert length("headlight", sag) == pytest.approx(4 * 23.0)


def test_curves_follow_what_changes_and_stop_growing_where_there_is_no_room():
    limits = default_limits(70.0)
    base = line((0, 0), (400, 16), (560, 12), (1000, 12))
    both = (IpNumber(ip=1), IpNumber(ip=2))
    edit = CurvesByLimits(ips=both, kind="limits", follow=True)
    made = apply_edit(base, edit, around(limits))
    # 6.5 % x 17 and 2.5 % x 23: there is room for both within the 160 m between them.
    assert [ip.curve_length_m for ip in made.line.ips[1:3]] == pytest.approx([110.5, 57.5]) and not made.said
    steeper = apply_edit(made.line, MoveIp(ip=1, chainage_m=400, level_m=20, slide=False), around(limits)).line
    assert steeper.ips[1].curve_length_m == pytest.approx(17 * 10)
    faster = around(default_limits(100.0))
    grown = apply_edit(made.line, edit, faster)
    first, second = grown.line.ips[1:3]
    assert grown.line.curve_end_m[1] == pytest.approx(grown.line.curve_start_m[2], abs=0.01)
    assert first.held == second.held == "limits" and len(grown.said) == 1
    assert "IP 2 and its curve leave no more room" in grown.said[0]
    # Without following, the length is kept from now on.
    fixed = apply_edit(base, replace(edit, follow=False), around(limits)).line
    assert fixed.ips[1].held == "length" and fixed.ips[1].curve_length_m == pytest.approx(110.5)


def test_a_new_ip_has_the_k_of_its_kind():
    base = line((0, 0), (2000, 0))
    limits: LimitSet = default_limits(70.0)
    added = apply_edit(base, AddIp(chainage_m=1000, level_m=40.0), around(limits)).line
    assert added.ips[1].held == "length" and added.k(1) == pytest.approx(17.0)
    # Hardly any change of grade: the shortest curve.
    assert apply_edit(base, AddIp(chainage_m=1000, level_m=0.1), around(limits)).line.ips[1].curve_length_m == 45.0
