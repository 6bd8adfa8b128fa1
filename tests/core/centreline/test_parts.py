"""IPs of given elements: compound bends whose arcs are joined by a transition."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from delgrun.core.centreline.bends import chained
from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.line import Line
from delgrun.core.centreline.parts import Part, ips_of
from delgrun.core.errors import DesignInputError


def parts_of(line: Line) -> list[Part]:
    ends = line.at(np.array([e.to_chainage_m for e in line.elements]))
    places = np.column_stack([ends.easting_m, ends.northing_m])
    out, start = [], np.array([line.elements[0].easting_m, line.elements[0].northing_m])
    for e, end, heading in zip(line.elements, places, ends.direction.tolist(), strict=True):
        out.append(Part(start, end, e.direction, heading, e.length_m, e.curvature, e.to_curvature))
        start = end
    return out


@given(
    st.floats(80, 400), st.floats(80, 400), st.floats(0, 60), st.floats(10, 60), st.floats(0, 60), st.booleans(),
    st.floats(-3, 3),
)  # fmt: skip
def test_a_transition_between_two_arcs_comes_back_from_its_ips(first, second, entry, between, leaving, left, heading):
    assume(abs(first / second - 1) >= 0.05)
    a, b = (1 if left else -1) / first, (1 if left else -1) / second
    pieces = [(150, 0, 0), (entry, 0, a), (70, a, a), (between, a, b), (60, b, b), (leaving, b, 0), (150, 0, 0)]
    line = Line(chained([p for p in pieces if p[0] > 0.5], 0.0, 5e5, 4.2e6, heading))
    made = Centreline(ips_of(parts_of(line), "compound"))
    assert [ip.joins for ip in made.ips] == [False, False, True, False]
    assert [e.kind for e in made.elements] == [e.kind for e in line.elements]
    s = np.linspace(0, line.elements[-1].to_chainage_m, 400)
    want, found = line.at(s), made.line.at(s)
    assert np.hypot(want.easting_m - found.easting_m, want.northing_m - found.northing_m).max() < 1e-5
    # Where arcs meet tangents the curvature jumps: a rounding before or after.
    inside = np.array([(e.from_chainage_m + e.to_chainage_m) / 2 for e in line.elements])
    assert np.abs(line.at(inside).curvature - made.line.at(inside).curvature).max() < 1e-6
    assert made.bends[1].radius_m == pytest.approx(second, rel=1e-6)


def rows(*ips: tuple[float, ...], joins: int) -> list[CentrelineIp]:
    return [
        CentrelineIp(easting_m=e, northing_m=n, radius_m=r, transition_in_m=a, transition_out_m=z, joins=i == joins)
        for i, (e, n, r, a, z) in enumerate(ips)
    ]


def test_a_joined_bend_takes_the_radius_that_touches_and_moves_with_its_ips():
    ips = rows((0, 0, 0, 0, 0), (300, 0, 200, 40, 0), (480, -80, 100, 30, 40), (560, -330, 0, 0, 0), joins=2)
    line = Centreline(ips)
    kinds = [e.kind for e in line.elements]
    assert kinds == ["tangent", "transition", "arc", "transition", "arc", "transition", "tangent"]
    between = line.elements[3]
    # Curvature runs on without a jump, and the legs touch.
    assert between.curvature == line.elements[2].curvature and between.to_curvature == line.elements[4].curvature
    moved = Centreline([*ips[:2], CentrelineIp(**{**vars(ips[2]), "northing_m": -90.0}), ips[3]])
    assert moved.bends[1].radius_m != line.bends[1].radius_m and len(moved.elements) == 7


@pytest.mark.parametrize(
    ("ips", "says"),
    [
        (
            ((0, 0, 0, 0, 0), (300, 0, 200, 40, 0), (480, 80, 100, 30, 40), (700, 0, 0, 0, 0)),
            "only a bend of the same sense",
        ),
        (((0, 0, 0, 0, 0), (300, 0, 200, 40, 40), (480, -80, 100, 30, 40), (560, -330, 0, 0, 0)), "leave one of them"),
        (((0, 0, 0, 0, 0), (300, 0, 2000, 40, 0), (480, -80, 100, 30, 40), (560, -330, 0, 0, 0)), "No radius at IP 3"),
    ],
)
def test_what_cant_be_joined_is_a_sentence(ips, says):
    with pytest.raises(DesignInputError, match=says):
        Centreline(rows(*ips, joins=2))
