"""Other curves than symmetrical parabolas, and what curves keep (reference values 1.2 to 1.5, 2.3, 2.4)."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import fields_of
from delgrun.core.gradeline import edits
from delgrun.core.gradeline.edit_kinds import SetCurve, apply_edit
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.limits.asked_curves import around
from delgrun.core.limits.limit_set import default_limits
from delgrun.core.sight.along import Lights, stopping_sight
from delgrun.core.standards.families import limits_by
from delgrun.core.standards.standard import Wish
from delgrun.core.stopping import sight_curve_m
from reference import VALUES


def line(rows: list[list[float]], **curve) -> GradeLine:
    """A line whose inner IPs all have this curve."""
    last = len(rows) - 1
    ips = [Ip(chainage_m=s, level_m=z, **(curve if 0 < i < last else {})) for i, (s, z) in enumerate(rows)]
    made = GradeLine(tuple(ips)).held()
    return GradeLine.of(made.ips)


def test_an_unsymmetrical_parabola():
    want = VALUES["1.2"]
    before, after = want["lengths"]
    crest = line(want["ips"], curve_length_m=before + after, in_share=before / (before + after))
    s, z = np.array(want["levels"]).T
    assert crest.levels(s) == pytest.approx(z, abs=0.0006)
    assert crest.grades(np.array([400.0]))[0] == pytest.approx(want["grade_at_400"], abs=1e-6)
    ((at, level, kind),) = crest.turning_points()
    assert kind == "high" and [at, level] == pytest.approx(want["high"], abs=0.0006)
    # K is that of the sharper half: the grade there falls from 2.4 to -1.2923 % in 100 m.
    assert crest.k(1) == pytest.approx(100 / (2.4 + 1.2923), rel=1e-4)


def test_a_circle():
    want = VALUES["1.3"]
    sag = line(want["ips"], shape="circle", held="radius", held_m=want["radius"])
    assert [sag.curve_start_m[1], sag.curve_end_m[1]] == pytest.approx(want["ends"], abs=0.0006)
    s, z = np.array(want["levels"]).T
    assert sag.levels(s) == pytest.approx(z, abs=0.00006)
    ((at, level, kind),) = sag.turning_points()
    assert kind == "low" and [at, level] == pytest.approx(want["low"], abs=0.0006)


def test_a_parabola_through_a_point():
    want = VALUES["1.5"]
    at, level = want["point"]
    crest = line(want["ips"], held="through", held_m=at, held_level_m=level)
    assert crest.ips[1].curve_length_m == pytest.approx(want["length"], abs=0.0006)


def test_lengths_for_sight():
    for sight, percent, length in VALUES["2.3"]["crest_lengths"]:
        assert sight_curve_m(sight, -percent / 100) == pytest.approx(length, abs=0.006)
    for sight, percent, length in VALUES["2.4"]["sag_lengths"]:
        assert sight_curve_m(sight, percent / 100) == pytest.approx(length, abs=0.006)


def test_two_longest_curves_meet_and_leave_no_room():
    both = line([[0, 10], [300, 19], [500, 13], [1000, 40]], held="longest")
    assert both.curve_end_m[1] == pytest.approx(both.curve_start_m[2], abs=0.002)
    assert both.ips[1].curve_length_m == pytest.approx(200.0, abs=0.002)
    # One by length beside it leaves the other what is left.
    one = edits.set_length(both, 2, 100.0).line
    assert one.ips[1].curve_length_m == pytest.approx(300.0, abs=0.002)


def test_lengths_come_up_to_a_step_and_the_longest_down_to_one():
    rows = [[0, 10], [300, 19], [620, 10]]
    assert line(rows, held_k_m_per_pct=17.0, step_m=5.0).ips[1].curve_length_m == 100.0
    assert line(rows, held="longest", step_m=25.0).ips[1].curve_length_m == 600.0
    assert line(rows, shape="circle", held="radius", held_m=1990.0, step_m=100.0).radius_m[1] == pytest.approx(2000)


@settings(deadline=None)
@given(
    st.sampled_from([("stopping", 0.0), ("stopping_us", 0.0), ("friction", 0.0), ("stopping", 0.2)]),
    st.floats(-0.09, 0.09), st.floats(-0.09, 0.09), st.floats(60, 200), st.sampled_from([40.0, 60.0, 80.0, 100.0]),
)  # fmt: skip
def test_a_kept_sight_distance_is_what_the_eye_and_the_headlights_of_the_limits_see(family, g, h, sight, speed):
    """Of each family, its own eye, object and lamps looked from at each half metre: never less than is kept."""
    wish = Wish(design_speed_kmh=speed)
    limits = replace(limits_by(family[0], wish), **({"object_m": family[1]} if family[1] else {}))
    base = line([[0, 100], [1500, 100 + 1500 * g], [3000, 100 + 1500 * (g + h)]])
    kept = apply_edit(base, SetCurve(ip=1, held="sight", held_m=sight), around(limits)).line
    assert np.copysign(1.0, kept.ips[1].curve_length_m) == 1.0
    lights = None if h < 0 else Lights(limits.headlight_m, float(np.tan(np.radians(limits.headlight_deg))))
    see = stopping_sight(kept, limits.stopping(), lights=lights)
    assert float(np.min(see.seen_m)) >= sight - 1e-3


def test_without_a_value_what_there_is_now_is_kept():
    base = line([[0, 10], [300, 19], [620, 10]], curve_length_m=80.0)
    for held in ("radius", "start", "end", "through"):
        same = edits.set_curve(base, 1, Ip(chainage_m=0, level_m=0, curve_length_m=80.0, held=held)).line
        assert same.ips[1].curve_length_m == pytest.approx(80.0, abs=0.05)
    sight = apply_edit(base, SetCurve(ip=1, held="sight"), around(default_limits(50.0))).line
    assert sight.ips[1].held_m == 65.0 and sight.ips[1].curve_length_m == pytest.approx(16.7965, abs=1e-3)


def test_what_cant_be_kept_is_said():
    base = line([[0, 10], [300, 19], [620, 10]], curve_length_m=80.0)

    def asked(**curve) -> Ip:
        return Ip(chainage_m=0.0, level_m=0.0, **curve)

    with pytest.raises(DesignInputError, match="wrong side of the tangents"):
        edits.set_curve(base, 1, asked(held="through", held_m=300.0, held_level_m=20.0))
    with pytest.raises(DesignInputError, match=r"cannot start at 0\+310"):
        edits.set_curve(base, 1, asked(held="start", held_m=310.0))
    with pytest.raises(DesignInputError, match=r"room for 600\.00 m"):
        edits.set_curve(base, 1, asked(held="start", held_m=-10.0))
    with pytest.raises(DesignInputError, match="Type the sight distance"):
        edits.set_curve(base, 1, asked(held="sight"))
    with pytest.raises(DesignInputError, match="past an end"):
        edits.set_curve(base, 1, asked(held="through", held_m=700.0))
    with pytest.raises(DesignInputError, match="fiftieth"):
        edits.set_curve(base, 1, asked(curve_length_m=80.0, in_share=0.01))


SHAPES = st.one_of(
    st.just({}), st.floats(0.1, 0.9).map(lambda r: {"in_share": r}), st.just({"shape": "circle"})
)  # fmt: skip
GRADES = st.tuples(st.floats(-0.12, 0.12), st.floats(-0.12, 0.12)).filter(lambda g: abs(g[0] - g[1]) > 1e-3)


@given(GRADES, SHAPES, st.floats(20, 400))
def test_a_curve_leaves_its_tangents_smoothly_and_its_grade_is_the_slope_of_its_levels(grades, shape, length):
    g1, g2 = grades
    one = line([[0, 100 - 500 * g1], [500, 100], [1000, 100 + 500 * g2]], curve_length_m=length, **shape)
    a, b = float(one.curve_start_m[1]), float(one.curve_end_m[1])
    assert b - a == pytest.approx(length, abs=1e-9)
    s = np.array([a - 5, a, b, b + 5])
    assert one.levels(s) == pytest.approx(100 + np.where(s < 500, g1, g2) * (s - 500), abs=1e-9)
    inside = np.linspace(a + 0.1, b - 0.1, 41)
    # An unsymmetrical curve turns from one parabola into the other at its IP: no slope is taken across that.
    inside = inside[np.abs(inside - 500) > 0.02]
    slope = (one.levels(inside + 0.01) - one.levels(inside - 0.01)) / 0.02
    assert one.grades(inside) == pytest.approx(slope, abs=1e-5)
    # The sharpest that the grade turns is what K says.
    bent = np.abs(np.diff(one.grades(np.linspace(a, b, 4001))) / ((b - a) / 4000)).max()
    assert one.k(1) == pytest.approx(1 / (100 * bent), rel=2e-3)
    for at, level, _ in one.turning_points():
        assert abs(one.grades(np.array([at]))[0]) < 1e-9 and one.levels(np.array([at]))[0] == pytest.approx(level)


HELD = st.sampled_from(["k", "radius", "start", "end", "through", "sight", "longest"])


@given(GRADES, SHAPES, HELD, st.floats(30, 300), st.floats(-3, 3))
def test_what_is_kept_is_kept_when_the_grades_change(grades, shape, held, value, up):
    g1, g2 = grades
    rows = [[0, 100 - 500 * g1], [500, 100], [1000, 100 + 500 * g2]]
    first = line(rows, curve_length_m=value, **shape)
    at = 500 - value / 3
    point = float(first.levels(np.array([at]))[0])
    kept = {
        "k": {"held_k_m_per_pct": value / 30},
        "radius": {"held": "radius", "held_m": value * 10},
        "start": {"held": "start", "held_m": 500 - value},
        "end": {"held": "end", "held_m": 500 + value / 2},
        "through": {"held": "through", "held_m": at, "held_level_m": point},
        "sight": {"held": "sight", "held_m": value / 3},
        "longest": {"held": "longest"},
    }[held]
    ip = Ip(chainage_m=0.0, level_m=0.0, **shape, **kept)
    try:
        now = edits.set_curve(first, 1, ip).line
        now = edits.move_ip(now, 1, 500.0, 100.0 + up, slide=False).line
    except DesignInputError:
        assume(False)
    curve = now.curve(1)
    match held:
        case "k":
            assert now.k(1) >= value / 30 * (1 - 1e-4) or now.ips[1].curve_length_m == 0
        case "radius":
            assert curve.radius_m == pytest.approx(value * 10, rel=1e-3, abs=1.0) or abs(curve.change) < 1e-4
        case "start":
            assert now.curve_start_m[1] == pytest.approx(500 - value, abs=1e-6)
        case "end":
            assert now.curve_end_m[1] == pytest.approx(500 + value / 2, abs=1e-6)
        case "through":
            assert now.levels(np.array([at]))[0] == pytest.approx(point, abs=1e-6)
        case "sight":
            assert now.ips[1].curve_length_m >= sight_curve_m(value / 3, curve.change) - 0.002
        case "longest":
            assert now.ips[1].curve_length_m == pytest.approx(now.room_m(1), abs=0.002)
    assert GradeLine.of(now.held().ips) == now


def test_the_lowest_eye_lamp_and_object_that_may_be_kept_ask_for_a_curve_that_is_one():
    lowest = {f.name: f.low for f in fields_of(Ip) if f.name.startswith(("held_eye", "held_object", "held_headlight"))}
    for change in (-0.05, 0.05):
        made = line([[0, 100], [5e4, 100], [1e5, 100 + 5e4 * change]], held="sight", held_m=50.0, **lowest)
        assert 0 < made.ips[1].curve_length_m < 5e4
