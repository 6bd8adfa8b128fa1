"""Sight along a line: reference values 2.2 and 3, and a ray every decimetre over random lines."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.piece_kernels import piece_at, piece_level
from delgrun.core.gradeline.pieces import mirrored
from delgrun.core.sight import kernels
from delgrun.core.sight.along import Lights, meeting_sight, passing_sight, stopping_sight
from delgrun.core.stopping import Stopping
from laws import examples
from lines import IPS, random_line


def line(*rows: tuple[float, float, float]) -> GradeLine:
    return GradeLine.of([Ip(chainage_m=s, level_m=z, curve_length_m=length) for s, z, length in rows])


def by_grades(start: float, *parts: tuple[float, float, float], end: float) -> GradeLine:
    """A line from its start level by (grade out, chainage of the next IP, length of its curve)."""
    rows, s, z = [(0.0, start, 0.0)], 0.0, start
    for grade, to, length in parts:
        z, s = z + grade * (to - s), to
        rows.append((s, z, length if to < end else 0.0))
    return line(*rows)


def seen(of: GradeLine, eye: float, eye_m: float, object_m: float, back: bool = False) -> float:
    """What is seen from one eye; infinite to the end."""
    rows = mirrored(of.pieces) if back else of.pieces
    far, top = kernels.seen(rows, np.array([-eye if back else eye], dtype=float), eye_m, object_m)
    return float(far[0]) if not np.isnan(top[0]) else np.inf


def by_rays(of: GradeLine, eye: float, eye_m: float, object_m: float, back: bool, step: float = 0.1) -> float:
    """The same by a ray to each object in turn, over the line sampled."""
    ends = float(of.chainage_m[0]), float(of.chainage_m[-1])
    s = np.arange(eye, ends[0] - step / 2, -step) if back else np.arange(eye, ends[1] + step / 2, step)
    t, z = np.abs(s - eye)[1:], of.levels(np.clip(s, *ends))
    slope = (z[1:] - z[0] - eye_m) / t
    hidden = slope + object_m / t < np.maximum.accumulate(slope) - 1e-12
    return float(t[np.argmax(hidden)]) if hidden.any() else np.inf


CREST = by_grades(30.0, (0.035, 700, 200), (-0.045, 1400, 0), end=1400)
SHORT = by_grades(30.0, (0.015, 700, 60), (-0.02, 1400, 0), end=1400)
ROLLING = by_grades(
    100.0, (-0.02, 200, 100), (0.03, 350, 80), (-0.035, 480, 90), (0.02, 620, 100), (-0.01, 1000, 0), end=1000
)
KINK = by_grades(30.0, (0.02, 500, 0), (-0.02, 1000, 0), end=1000)


@pytest.mark.parametrize(
    ("of", "heights", "eye", "back", "far"),
    [
        # Reference values 3.1: a crest as long as the sight; 3.2: a shorter one; 3.3: a rolling line.
        (CREST, (1.08, 0.60), 560, False, 138.4), (CREST, (1.08, 0.60), 600, False, 128.3),
        (CREST, (1.08, 0.60), 680, False, 129.0), (CREST, (1.08, 0.60), 860, True, 149.6),
        (CREST, (1.08, 0.60), 760, False, np.inf),
        (SHORT, (1.1, 0.2), 500, False, 206.9), (SHORT, (1.1, 0.2), 620, False, 105.4),
        (SHORT, (1.1, 0.2), 660, False, 110.2), (SHORT, (1.1, 0.2), 780, True, 105.4),
        (ROLLING, (1.08, 0.60), 150, False, 223.9), (ROLLING, (1.08, 0.60), 300, False, 91.0),
        (ROLLING, (1.08, 0.60), 480, False, 204.2), (ROLLING, (1.08, 0.60), 900, True, 308.4),
        (ROLLING, (1.08, 0.60), 500, True, 172.4),
    ],
)  # fmt: skip
def test_reference_values(of, heights, eye, back, far):
    assert seen(of, eye, *heights, back=back) == pytest.approx(far, abs=0.06)


@pytest.mark.parametrize(
    ("of", "heights", "least"),
    # Least sight of a crest: sqrt(C L / A), L / 2 + C / (2 A), C / (2 A) at a kink: 3.1, 3.2, 3.4.
    [(CREST, (1.08, 0.60), 128.26), (SHORT, (1.1, 0.2), 93.95), (KINK, (1.1, 0.2), 55.95)],
)
def test_the_least_sight_of_a_crest_is_its_closed_form(of, heights, least):
    eyes = np.arange(300.0, 700.0, 0.05)
    for back in (False, True):
        rows = mirrored(of.pieces) if back else of.pieces
        far, top = kernels.seen(rows, -np.arange(400.0, 1000.0, 0.05) if back else eyes, *heights)
        assert far[~np.isnan(top)].min() == pytest.approx(least, abs=0.03)


@settings(max_examples=examples(150), deadline=None)
@given(IPS, st.floats(0, 1), st.booleans(), st.floats(0.05, 1.4), st.floats(0.5, 2.4))
def test_it_is_what_rays_find(rows, share, back, object_m, eye_m):
    of = random_line(rows)
    eye = share * float(of.chainage_m[-1])
    exact, rays = seen(of, eye, eye_m, object_m, back), by_rays(of, eye, eye_m, object_m, back)
    if np.isinf(rays):
        # Rays miss what is hidden between two of them, at the very end or barely.
        left = eye if back else float(of.chainage_m[-1]) - eye
        lower = by_rays(of, eye, eye_m, object_m - 1e-4, back)
        assert np.isinf(exact) or exact > left - 0.2 or exact == pytest.approx(lower, abs=0.5)
    else:
        higher = by_rays(of, eye, eye_m, object_m + 1e-4, back)
        assert rays - 0.11 <= exact <= rays + 1e-6 or rays - 0.5 <= exact <= higher + 0.5


@settings(max_examples=examples(40), deadline=None)
@given(IPS, st.floats(-0.05, 0.05), st.floats(0, 1))
def test_tilting_parabolas_changes_nothing(rows, tilt, share):
    rows = [(length, grade, curve, "parabola", side) for length, grade, curve, _, side in rows]
    flat, tilted = random_line(rows), random_line(rows, tilt)
    eye = share * float(flat.chainage_m[-1])
    a, b = seen(flat, eye, 1.08, 0.6), seen(tilted, eye, 1.08, 0.6)
    # An object that is barely seen, or barely not, may change sides by rounding.
    near = seen(flat, eye, 1.08, 0.6 + 1e-9), seen(flat, eye, 1.08, 0.6 - 1e-9)
    assert b == pytest.approx(a, abs=1e-4) or min(near) - 1e-3 <= b <= max(near) + 1e-3


@settings(max_examples=examples(60), deadline=None)
@given(IPS)
def test_pieces_are_the_line_and_driven_back_they_are_too(rows):
    of = random_line(rows)
    s = np.linspace(0, float(of.chainage_m[-1]), 97)
    for own, at in ((of.pieces, s), (mirrored(of.pieces), -s)):
        levels = [piece_level(own[piece_at(own, x)], x) for x in at.tolist()]
        assert np.abs(np.array(levels) - of.levels(s)).max() < 1e-6
        assert (own[1:, 0] == own[:-1, 1]).all() or np.abs(own[1:, 0] - own[:-1, 1]).max() < 1e-9


def on_grade_m(rules: Stopping, grade: float) -> float:
    """The printed form for an even grade, up positive: 0.278 V t + V^2 / (254 (a / 9.81 + G))."""
    return rules.reacting_at(rules.speed_kmh) + rules.braking_at(rules.speed_kmh) / (rules.force + grade)


def test_unrounded_stopping_on_grades():
    """Reference 2.2: 65 km/h at -8 %: 107.57 m; 95 km/h at +5 %: 155.62 m."""
    for speed, grade, want in ((65, -0.08, 107.57), (95, 0.05, 155.62)):
        sight = stopping_sight(line((0, 500, 0), (4000, 500 + 4000 * grade, 0)), Stopping(speed_kmh=speed))
        assert sight.needed_m[0] == pytest.approx(want, abs=0.005)


@pytest.mark.parametrize(
    ("speed", "down", "up"),
    [(50, (66, 70, 74), (61, 59, 58)), (80, (136, 144, 154), (123, 118, 114)), (120, (263, 281, 304), (234, 223, 214))],
)
def test_stopping_on_a_grade_is_as_printed(speed, down, up):
    """Reference 2.2, within a metre; along a line of one grade the distance is the same."""
    rules = Stopping(speed_kmh=speed)
    for percent, want, other in zip((3, 6, 9), down, up, strict=True):
        assert on_grade_m(rules, -percent / 100) == pytest.approx(want, abs=1.0)
        assert on_grade_m(rules, percent / 100) == pytest.approx(other, abs=1.0)
        falling = stopping_sight(line((0, 500, 0), (5000, 500 - 50 * percent, 0)), rules)
        assert falling.needed_m == pytest.approx(on_grade_m(rules, -percent / 100), abs=1e-5)
        climbing = stopping_sight(line((0, 500, 0), (5000, 500 - 50 * percent, 0)), rules, back=True)
        assert climbing.needed_m == pytest.approx(on_grade_m(rules, percent / 100), abs=1e-5)


def test_stopping_over_changing_grades_uses_up_the_height_the_speed_is_worth():
    """Against a car braked in steps of a millimetre, from 90 km/h over a crest into a fall."""
    rules, of = Stopping(speed_kmh=90), CREST
    sight = stopping_sight(of, rules)
    for eye in (600.0, 700.0):
        at = int(np.argmin(np.abs(sight.at_m - eye)))
        step = 1e-3
        s = sight.at_m[at] + rules.reacting_at(90.0) + step * np.arange(400_000)
        slope = np.gradient(of.levels(np.clip(s, 0, 1400)), step)
        left = rules.braking_at(90.0) - np.cumsum((rules.force + slope) * step)
        braked = step * float(np.argmax(left < 0))
        assert sight.needed_m[at] == pytest.approx(rules.reacting_at(90.0) + braked, abs=0.01)


def test_lacks_are_told_with_their_ends_and_what_hides_the_rest():
    rules = Stopping(speed_kmh=100)
    for back in (False, True):
        (lack,) = stopping_sight(CREST, rules, back=back).lacks
        assert lack.from_m < lack.at_m < lack.to_m and 600 < lack.top_m < 800
        assert lack.needed_m > lack.seen_m == pytest.approx(128.3, abs=0.2)
        # Just outside of it enough is seen, just inside not.
        for end, out in ((lack.from_m, -1), (lack.to_m, 1)):
            for off, enough in ((0.01 * out, True), (-0.01 * out, False)):
                at = np.array([-(end + off) if back else end + off])
                rows = mirrored(CREST.pieces) if back else CREST.pieces
                far, top = kernels.seen(rows, at, rules.eye_m, rules.object_m)
                needed = kernels.stopped(
                    rows, at, np.array([rules.reacting_at(100.0)]), np.array([rules.braking_at(100.0)]), rules.force
                )
                assert (np.isnan(top[0]) or far[0] >= needed[0]) == enough


def test_headlights_reach_as_far_as_the_handbook_says_in_a_sag():
    """Reference 2.4 and 1.1: A S^2 / (120 + 3.5 S) = L within the curve, 2 S - (120 + 3.5 S) / A = L beyond it.

    The printed 3.5 is 200 times the tangent of one degree, 3.491.
    """
    lights = Lights(0.6, float(np.tan(np.radians(1.0))))
    rules = Stopping(speed_kmh=80)
    for change, length, sight in ((0.06, 176.35, 130.0), (0.03, 68.33, 130.0)):
        half = change / 2
        of = by_grades(100.0, (-half, 800, length), (half, 1600, 0), end=1600)
        for back in (False, True):
            far = stopping_sight(of, rules, lights=lights, back=back)
            assert far.seen_m.min() == pytest.approx(sight, rel=0.01)
    # What is needed is what stopping needs by day, and the lack begins and ends where both are alike.
    (lack,) = stopping_sight(by_grades(100.0, (-0.04, 800, 60), (0.04, 1600, 0), end=1600), rules, lights=lights).lacks
    assert lack.from_m < lack.at_m < 800 < lack.to_m < lack.top_m < 830.1


@settings(max_examples=examples(100), deadline=None)
@given(IPS, st.floats(0, 0.98), st.booleans())
def test_headlights_light_what_a_walk_along_the_beam_finds(rows, share, back):
    of = random_line(rows)
    end = float(of.chainage_m[-1])
    eye = share * end
    lit, top = kernels.lit(
        mirrored(of.pieces) if back else of.pieces, np.array([eye - end if back else eye]), 0.6, 0.0175
    )
    s = np.clip(np.arange(0.0, end - eye, 0.05) + eye, 0, end)
    s = end - s if back else s
    level = of.levels(s)
    grade = (of.levels(s[:1] + (-1e-4 if back else 1e-4))[0] - level[0]) / 1e-4
    over = level - level[0] - 0.6 - (grade + 0.0175) * np.abs(s - s[0])
    above = over > 1e-4
    if above.any() and not np.isnan(top[0]):
        assert lit[0] <= 0.05 * np.argmax(above) + 0.01
        assert not (over[: max(int(lit[0] / 0.05) - 1, 0)] > 1e-3).any()
    else:
        assert not above.any() or np.isnan(grade)


def test_two_on_one_lane_see_each_other_for_both_to_stop_each_on_his_grade():
    rules = Stopping(speed_kmh=60)
    of = by_grades(100.0, (0.06, 1000, 0), end=1000)
    ahead, back = meeting_sight(of, rules), meeting_sight(of, rules, back=True)
    # Up one way and down the other: the sum of both printed forms, whoever looks.
    need = on_grade_m(rules, 0.06) + on_grade_m(rules, -0.06)
    middle = (ahead.at_m > 300) & (ahead.at_m < 700)
    assert ahead.needed_m[middle] == pytest.approx(need, abs=0.01)
    assert back.needed_m[middle] == pytest.approx(need, abs=0.01)
    # Over a crest of a kilometre both see the other's eye: sqrt(C L / A), C = 800 h.
    crest = by_grades(100.0, (0.03, 900, 900), (-0.03, 1800, 0), end=1800)
    seen_m = meeting_sight(crest, rules).seen_m
    assert seen_m.min() == pytest.approx(np.sqrt(800 * 1.08 * 900 / 6), rel=1e-4)


def test_passing_is_told_where_a_vehicle_as_high_as_the_eye_is_seen_in_time():
    crest = by_grades(100.0, (0.03, 1200, 600), (-0.03, 2400, 0), end=2400)
    needed = lambda s: np.where(s < 700, 210.0, 400.0)  # noqa: E731
    for back in (False, True):
        sight = passing_sight(crest, 1.08, needed, back=back)
        assert sight.needed_m[sight.at_m < 690].max() == 210.0
        for lack in sight.lacks:
            assert lack.seen_m < lack.needed_m and 900 <= lack.top_m <= 1500


def test_an_object_on_the_road_is_hidden_where_the_road_falls_away():
    """By hand: an eye 1.05 m over the tangent of 4 % at 350 m; its line touches the parabola of 2500 m where the road's
    grade is that of the line. A walk by centimetres says the same."""
    line = GradeLine.of([Ip(chainage_m=0, level_m=0), Ip(chainage_m=500, level_m=20, curve_length_m=200),
                         Ip(chainage_m=1000, level_m=0)])  # fmt: skip
    eyes = np.array([350.0, 380.0, 460.0])
    for eye, far in zip(eyes, kernels.seen(line.pieces, eyes, 1.05, 0.0)[0], strict=True):
        s = np.arange(eye + 1, 1000, 0.01)
        slope = (line.levels(s) - line.levels(np.array([eye]))[0] - 1.05) / (s - eye)
        # What is on the road is seen as long as each place is the highest seen so far.
        assert far == pytest.approx(s[int(np.argmax(slope))] - eye, abs=0.1)
    assert kernels.seen(line.pieces, eyes, 1.05, 0.0)[0] == pytest.approx(
        kernels.seen(line.pieces, eyes, 1.05, 1e-7)[0], abs=0.05
    )


def test_two_that_meet_on_steep_grades_need_what_lets_both_stop():
    """Up 12 %, down 12 %: where the one that comes is decides how far it needs, and the need is met exactly."""
    line = GradeLine.of([Ip(chainage_m=0, level_m=0), Ip(chainage_m=600, level_m=72, curve_length_m=240),
                         Ip(chainage_m=1200, level_m=0)])  # fmt: skip
    rules = Stopping(speed_kmh=90.0, deceleration_m_s2=2.5)
    seen = meeting_sight(line, rules)
    for s, needed in zip(seen.at_m, seen.needed_m, strict=True):
        own = kernels.stopped(line.pieces, np.array([s]), np.array([rules.reacting_at(90.0)]),
                              np.array([rules.braking_at(90.0)]), rules.force)[0]  # fmt: skip
        there = min(s + needed, 1200.0)
        other = kernels.stopped(mirrored(line.pieces), np.array([-there]), np.array([rules.reacting_at(90.0)]),
                                np.array([rules.braking_at(90.0)]), rules.force)[0]  # fmt: skip
        assert needed >= own + other - 0.01
        if s + needed < 1150:
            assert needed == pytest.approx(own + other, abs=0.5)
