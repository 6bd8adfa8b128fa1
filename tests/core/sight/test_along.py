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
from delgrun.core.sight.along import stopping_sight
from delgrun.core.sight.stopping import Stopping
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
    far, top = kernels.seen(rows, np.array([-eye if back else eye]), eye_m, object_m)
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


@settings(max_examples=150, deadline=None)
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


@settings(max_examples=40, deadline=None)
@given(IPS, st.floats(-0.05, 0.05), st.floats(0, 1))
def test_tilting_parabolas_changes_nothing(rows, tilt, share):
    rows = [(length, grade, curve, "parabola", side) for length, grade, curve, _, side in rows]
    flat, tilted = random_line(rows), random_line(rows, tilt)
    eye = share * float(flat.chainage_m[-1])
    a, b = seen(flat, eye, 1.08, 0.6), seen(tilted, eye, 1.08, 0.6)
    # An object that is barely seen, or barely not, may change sides by rounding.
    near = seen(flat, eye, 1.08, 0.6 + 1e-9), seen(flat, eye, 1.08, 0.6 - 1e-9)
    assert b == pytest.approx(a, abs=1e-4) or min(near) - 1e-3 <= b <= max(near) + 1e-3


@settings(max_examples=60, deadline=None)
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
