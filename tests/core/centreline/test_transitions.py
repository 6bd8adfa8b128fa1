"""Clothoids against Fresnel's integrals, bends with transitions (reference 7.2), places beside a line."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.special import fresnel

from delgrun.core.centreline import plan_kernels
from delgrun.core.centreline.bends import Piece, chained
from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.line import Line
from delgrun.core.centreline.plan_kernels import CHAINAGE, CURVED, LENGTH, TO_CURVED
from delgrun.core.errors import DesignInputError
from delgrun.core.ground.along import rows_along
from delgrun.core.ground.drawn import outline
from delgrun.core.ground.tin import build_tin
from laws import examples
from reference import VALUES


def wild(rng: np.random.Generator, bends: int) -> Line:
    """Bends of many kinds one behind the other: hairpins, reverse, compound, with and without transitions."""
    pieces: list[Piece] = []
    for _ in range(bends):
        k = 1 / rng.uniform(30, 300) * rng.choice([-1, 1])
        pieces += [(rng.uniform(5, 100), 0, 0)] if rng.random() < 0.7 else []
        pieces += [(rng.uniform(5, 80), 0, k)] if rng.random() < 0.7 else []
        pieces += [(rng.uniform(5, 2.5 / abs(k)), k, k)]
        if rng.random() < 0.3:
            pieces += [(rng.uniform(5, 40), k, k / 2), (rng.uniform(5, 80), k / 2, k / 2)]
            k /= 2
        pieces += [(rng.uniform(5, 80), k, 0)] if rng.random() < 0.7 else []
    return Line(chained([*pieces, (50.0, 0, 0)], 123.0, 5e5, 4.2e6, rng.uniform(-3, 3)))


def made(*rows: tuple[float, ...]) -> Centreline:
    names = ("easting_m", "northing_m", "radius_m", "transition_in_m", "transition_out_m")
    return Centreline([CentrelineIp(**dict(zip(names, row, strict=False))) for row in rows])


@given(radius=st.floats(20, 5000), share=st.floats(0.01, 3), left=st.booleans())
def test_a_clothoid_is_fresnels(radius, share, left):
    length, side = share * radius, 1 if left else -1
    line = Line(chained([(length, 0.0, side / radius)], 0.0, 0.0, 0.0, 0.0))
    s = np.linspace(0, length, 50)
    scale = np.sqrt(np.pi * radius * length)
    sines, cosines = fresnel(s / scale)
    at = line.at(s)
    assert np.abs(at.easting_m - scale * cosines).max() < 1e-11 * length
    assert np.abs(at.northing_m - side * scale * sines).max() < 1e-11 * length
    assert at.direction[-1] == pytest.approx(side * share / 2)
    # Backwards it is the same: from its arc to its tangent.
    back = Line(
        chained([(length, -side / radius, 0.0)], 0.0, at.easting_m[-1], at.northing_m[-1], at.direction[-1] + np.pi)
    )
    end = back.at(np.array([length]))
    assert [end.easting_m[0], end.northing_m[0]] == pytest.approx([0, 0], abs=1e-10 * length)


def test_bend_of_reference_7_2():
    want, turn = VALUES["7.2"], np.radians(50)
    line = made((0, 0), (500, 0, 250, 60, 60), (500 + 500 * np.cos(turn), -500 * np.sin(turn)))
    (bend,) = line.bends
    assert [bend.tangent_in_m, bend.tangent_out_m] == pytest.approx([want["ts_m"]] * 2, abs=0.0006)
    assert bend.arc_m == pytest.approx(want["arc_m"], abs=0.0006)
    middle = line.line.at(np.array([(bend.from_chainage_m + bend.to_chainage_m) / 2]))
    assert np.hypot(middle.easting_m[0] - 500, middle.northing_m[0]) == pytest.approx(want["es_m"], abs=0.0006)
    first = line.line.at(np.array([bend.from_chainage_m + 60]))
    assert first.easting_m[0] - (500 - bend.tangent_in_m) == pytest.approx(want["x_m"], abs=0.0001)
    assert -first.northing_m[0] == pytest.approx(want["y_m"], abs=0.0001)
    assert np.degrees(-first.direction[0]) == pytest.approx(want["angle_deg"], abs=0.0001)


@given(turn=st.floats(-2.6, 2.6), radius=st.floats(30, 300), first=st.floats(0, 0.99), second=st.floats(0, 0.99))
def test_a_bend_ends_on_its_tangent_with_transitions_alike_or_not(turn, radius, first, second):
    assume(abs(turn) >= 0.01)
    lengths = abs(turn) * radius * first, abs(turn) * radius * second
    end = (5000 + 5000 * np.cos(turn), 5000 * np.sin(turn))
    line = made((0, 0), (5000, 0, radius, *lengths), end)
    at = line.line.at(np.array([line.bends[0].to_chainage_m, line.end_chainage_m]))
    assert [at.easting_m[1], at.northing_m[1]] == pytest.approx(end, abs=1e-7)
    assert at.direction == pytest.approx([turn, turn], abs=1e-9)
    ends = [line.line.at(np.array([e.to_chainage_m])) for e in line.elements[:-1]]
    for end_of, following in zip(ends, line.elements[1:], strict=True):
        assert end_of.easting_m[0] == pytest.approx(following.easting_m, abs=1e-7)
        assert end_of.northing_m[0] == pytest.approx(following.northing_m, abs=1e-7)


def test_what_there_is_room_for_is_said_and_fits():
    for rows in (
        [(0, 0), (300, 0, 130, 60, 60), (300, 200, 60, 0, 0), (0, 200)],
        [(0, 0), (300, 0, 200, 60, 60), (300, 200, 150, 0, 0), (0, 200)],
    ):
        with pytest.raises(DesignInputError, match="short: use a smaller radius") as short:
            made(*rows)
        values = short.value.values
        room = {k: values[f"r{k}"] for k in (1, 2) if f"r{k}" in values}
        together = "same proportions" in short.value.message
        assert room
        for sets in [room] if together else [{k: r} for k, r in room.items()]:
            for by, fits in ((1.0, True), (1.001, False)):
                mended = [list(row) for row in rows]
                for k, radius in sets.items():
                    share = by * radius / rows[k][2]
                    mended[k][2:] = [v * share for v in rows[k][2:]] if together else [by * radius, *rows[k][3:]]
                if fits:
                    assert made(*mended).length_m > 0
                    continue
                with pytest.raises(DesignInputError):
                    made(*mended)
    with pytest.raises(DesignInputError, match=r"turn by more than its 45.00°.* radius of") as long:
        made((0, 0), (500, 0, 100, 120, 90), (1000, 500))
    v = long.value.values
    assert made((0, 0), (500, 0, 100, v["first"], v["second"]), (1000, 500)).bends[0].arc_m == pytest.approx(
        0, abs=1e-9
    )
    assert made((0, 0), (500, 0, v["larger"], 120, 90), (1000, 500)).bends[0].arc_m == pytest.approx(0, abs=1e-9)


@settings(max_examples=examples(8), deadline=None)
@given(seed=st.integers(0, 10**6))
def test_all_that_a_place_is_at_right_angles_to_is_what_a_walk_of_millimetres_finds(seed):
    rng = np.random.default_rng(seed)
    line = wild(rng, 3)
    first, last = line.elements[0].from_chainage_m, line.elements[-1].to_chainage_m
    s = np.linspace(first, last, int((last - first) * 1000))
    at = line.at(s)
    c, sn = np.cos(at.direction), np.sin(at.direction)
    for _ in range(25):
        own = rng.uniform(first, last)
        here = line.at(np.array([own]))
        offset = rng.uniform(-3, 3) * rng.uniform(30, 300)
        x, y = here.easting_m + offset * np.sin(here.direction), here.northing_m - offset * np.cos(here.direction)
        ahead = (x - at.easting_m) * c + (y - at.northing_m) * sn
        walked = s[np.flatnonzero(np.sign(ahead[:-1]) != np.sign(ahead[1:]))]
        found = line.feet(float(x[0]), float(y[0]))
        assert len(found) == len(walked)
        assert np.abs(found[:, 0] - walked).max() < 2e-3
        assert np.abs(found - [own, offset]).max(axis=1).min() < 1e-6
        near = line.nearest(x, y)
        away = np.hypot(x - at.easting_m, y - at.northing_m).min()
        assert np.hypot(near.offset_m, near.ahead_m)[0] == pytest.approx(away, abs=1e-5)


def test_places_come_back_from_chainage_and_offset():
    rng = np.random.default_rng(5)
    for _ in range(20):
        line = wild(rng, 8)
        first, last = line.elements[0].from_chainage_m, line.elements[-1].to_chainage_m
        s = np.sort(
            np.concatenate(
                [rng.uniform(first, last, 4900), rng.choice([e.from_chainage_m for e in line.elements], 100)]
            )
        )
        at = line.at(s)
        # Nearer than any centre of a bend, and than most of what else of the line comes by.
        offset = rng.uniform(-25, 25, len(s))
        x, y = at.easting_m + offset * np.sin(at.direction), at.northing_m - offset * np.cos(at.direction)
        near = line.nearest(x, y)
        foot = line.at(near.chainage_m)
        back = np.column_stack(
            [
                foot.easting_m + near.offset_m * np.sin(foot.direction) + near.ahead_m * np.cos(foot.direction),
                foot.northing_m - near.offset_m * np.cos(foot.direction) + near.ahead_m * np.sin(foot.direction),
            ]
        )
        assert np.abs(back - np.column_stack([x, y])).max() < 1e-6
        assert (np.abs(near.offset_m) <= np.abs(offset) + 1e-6).all()
        own = np.abs(near.offset_m - offset) < 1e-6
        assert own.mean() > 0.5 and np.abs(near.chainage_m - s)[own].max() < 1e-5
    beyond = line.nearest(*(v + 7 * f for v, f in zip((at.easting_m[-1:], at.northing_m[-1:]), (0, 0), strict=True)))
    assert beyond.ahead_m[0] == 0.0


def test_before_and_behind_a_line_and_in_the_middle_of_its_arc():
    line = Line(chained([(100.0, 0, 0), (50.0, 0, 0.01), (100.0, 0.01, 0.01)], 1000.0, 0.0, 0.0, 0.0))
    before = line.nearest(np.array([-3.0]), np.array([2.0]))
    assert [before.chainage_m[0], before.offset_m[0], before.ahead_m[0]] == pytest.approx([1000, -2, -3])
    end = line.at(np.array([1250.0, 1255.0]))
    past = line.nearest(
        end.easting_m[:1] + 4 * np.cos(end.direction[0]), end.northing_m[:1] + 4 * np.sin(end.direction[0])
    )
    assert [past.chainage_m[0], past.offset_m[0], past.ahead_m[0]] == pytest.approx([1250, 0, 4], abs=1e-9)
    at = line.at(np.array([1200.0]))
    centre = at.easting_m[0] - 100 * np.sin(at.direction[0]), at.northing_m[0] + 100 * np.cos(at.direction[0])
    assert any(abs(s - 1200) < 1e-6 and o == pytest.approx(-100) for s, o in line.feet(*centre))


def test_the_ground_along_a_transition_is_met_where_the_transition_is():
    grid = np.stack(np.meshgrid(np.arange(0, 400, 7.0), np.arange(-50, 250, 7.0)), axis=-1).reshape(-1, 2)
    tin = build_tin(np.column_stack([grid, 100 + 5 * np.sin(grid[:, 0] / 30) + grid[:, 1] / 9]))
    line = made((10, 10), (200, 10, 90, 70, 40), (300, 200)).line
    rows = rows_along(tin, line)
    at = line.at(rows.chainage_m)
    assert np.abs(rows.level_m - tin.level_at(at.easting_m, at.northing_m)).max() < 1e-4
    arcs = line.arcs
    assert len(arcs) > 10 and (arcs[:, CURVED] == arcs[:, TO_CURVED]).all()
    for arc in arcs:
        run = arc[CHAINAGE] + arc[LENGTH] * np.linspace(0, 1, 9)
        (e, n, *_), other = plan_kernels.located(arc[None, :], run), line.at(run)
        assert np.hypot(e - other.easting_m, n - other.northing_m).max() < 1e-5


def test_a_line_is_drawn_through_its_points_and_its_chords_lie_on_it():
    line = made((0, 0), (400, 0, 120, 60, 0), (700, 300, 80, 30, 50), (300, 600))
    drawn = outline(line)
    middles = (drawn[:-1] + drawn[1:]) / 2
    on, off = (line.line.nearest(*places.T) for places in (drawn, middles))
    assert np.abs(on.offset_m).max() < 1e-9 and (np.diff(on.chainage_m) > 0).all()
    # A chord of an arc of R that turns by a is R a^2 / 8 off.
    assert np.abs(off.offset_m).max() <= 120 * 0.04**2 / 8
    assert set(np.round(line.critical_chainages, 6)) <= set(np.round(on.chainage_m, 6))
