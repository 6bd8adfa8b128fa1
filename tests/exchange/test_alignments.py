"""Alignments of LandXML: a file from closed forms that our writer never saw, and lines that go out and come back."""

import re
from xml.etree import ElementTree

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from alignments import START, closed_form, clothoid
from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.centreline.room import made_to_fit
from delgrun.core.centreline.stations import Equation, Stations
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.exchange.landxml_alignments import alignments as read
from delgrun.exchange.landxml_file import NAMESPACE
from delgrun.exchange.landxml_out import Written
from delgrun.exchange.landxml_out import alignments as write
from laws import examples


@pytest.mark.parametrize(("digits", "unit", "off"), [(12, 1.0, 1e-7), (3, 1.0, 2e-3), (9, 0.3048, 1e-6)])
def test_a_file_of_closed_forms_is_read_as_what_it_is(digits, unit, off):
    text, places = closed_form(digits, unit)
    (found,) = read(text.encode())
    line = Centreline(list(found.ips), found.start_chainage_m)
    assert (found.name, found.start_chainage_m) == ("by hand", pytest.approx(1000))
    assert [(e.kind, round(e.length_m, 2)) for e in line.elements] == [
        ("tangent", 300.0), ("transition", 60.0), ("arc", 120.0), ("transition", 40.0), ("tangent", 200.0),
    ]  # fmt: skip
    at = line.line.at(1000 + np.cumsum([0.0, 300, 60, 120, 40, 200]))
    assert np.abs(np.column_stack([at.easting_m, at.northing_m]) - places).max() < off
    assert found.deviation_m < off
    # A place within the first transition, 37 m along it.
    x, y, _ = clothoid(37, 250 * 60 / 37)
    turn = np.radians(20)
    there = line.line.at(np.array([1337.0]))
    want = START + [(300 + x) * np.cos(turn) - y * np.sin(turn), (300 + x) * np.sin(turn) + y * np.cos(turn)]
    assert np.hypot(there.easting_m[0] - want[0], there.northing_m[0] - want[1]) < off


def wild(seed: int) -> Centreline:
    """A winding line whose bends all fit; some touch, some go straight on, some have no transitions."""
    rng = np.random.default_rng(seed)
    n = int(rng.integers(2, 10))
    heading = np.cumsum(rng.uniform(-2.6, 2.6, n))
    leg = rng.uniform(80, 600, n)
    xy = START + np.cumsum(np.column_stack([leg * np.cos(heading), leg * np.sin(heading)]), axis=0)
    ips = []
    for i, (e, north) in enumerate(xy.tolist()):
        bend = {}
        if 0 < i < n - 1:
            own = [float(v) for v in rng.uniform(5, 80, 2) * (rng.random(2) < 0.6)]
            bend = {"radius_m": float(rng.uniform(30, 500)), "transition_in_m": own[0], "transition_out_m": own[1]}
        ips.append(CentrelineIp(easting_m=e, northing_m=north, **bend))
    return Centreline(made_to_fit(ips)[0], float(rng.uniform(-500, 5000)))


@given(st.integers(0, 10**6))
@settings(max_examples=examples(60))
def test_what_is_written_comes_back_the_same(seed):
    line = wild(seed)
    (found,) = read(write([Written("there and back", line)]))
    back = Centreline(list(found.ips), found.start_chainage_m)
    assert [e.kind for e in back.elements] == [e.kind for e in line.elements]
    assert back.length_m == pytest.approx(line.length_m, abs=1e-6)
    s = np.linspace(line.start_chainage_m, line.end_chainage_m, 200)
    a, b = line.line.at(s), back.line.at(s)
    assert np.hypot(a.easting_m - b.easting_m, a.northing_m - b.northing_m).max() < 1e-6
    assert np.abs(a.curvature - b.curvature).max() < 1e-7
    assert len(back.ips) == len(line.ips)


def test_chainage_equations_go_out_and_come_back():
    line = wild(3)
    middle = line.start_chainage_m + line.length_m / 2
    stations = Stations([Equation(at_m=middle, ahead_m=90_000.0), Equation(at_m=middle + 20, ahead_m=5.0)])
    data = write([Written("joined", line, (), stations)])
    (found,) = read(data)
    assert found.equations == ((middle, 90_000.0), (middle + 20, 5.0))
    # Where the internal value is not said it follows from those back.
    (found,) = read(re.sub(rb'staInternal="[^"]*" ', b"", data))
    assert [at for at, _ in found.equations] == pytest.approx([middle, middle + 20])


def test_half_a_circle_and_more_comes_in_as_bends_that_touch():
    def place(angle: float) -> str:
        return f"{START[1] + 60 * np.sin(angle):.6f} {START[0] + 60 * np.cos(angle):.6f}"

    angles = np.radians([-90, 170])
    before = f"{START[1] - 60:.6f} {START[0] - 200:.6f}"
    end = START + 60 * np.array([np.cos(angles[1]), np.sin(angles[1])])
    after = end + 150 * np.array([-np.sin(angles[1]), np.cos(angles[1])])
    text = f"""<LandXML xmlns="{NAMESPACE}"><Alignments><Alignment staStart="0"><CoordGeom>
<Line><Start>{before}</Start><End>{place(angles[0])}</End></Line>
<Curve rot="ccw" radius="60"><Start>{place(angles[0])}</Start><Center>{START[1]} {START[0]}</Center>
<End>{place(angles[1])}</End></Curve>
<Line><Start>{place(angles[1])}</Start><End>{after[1]:.6f} {after[0]:.6f}</End></Line>
</CoordGeom></Alignment></Alignments></LandXML>"""
    (found,) = read(text.encode())
    line = Centreline(list(found.ips))
    assert len(found.ips) == 5 and all(b.radius_m == pytest.approx(60, abs=1e-4) for b in line.bends)
    assert line.length_m == pytest.approx(200 + 60 * np.radians(260) + 150, abs=1e-4)
    assert found.deviation_m < 1e-4


def test_the_written_file_is_what_the_standard_says():
    line = wild(7)
    ends = [line.start_chainage_m, line.end_chainage_m]
    middle = Ip(chainage_m=sum(ends) / 2, level_m=15.0, curve_length_m=40)
    profile = GradeLine.of([Ip(chainage_m=ends[0], level_m=10), middle, Ip(chainage_m=ends[1], level_m=12)])
    root = ElementTree.fromstring(write([Written("road", line, (("first", profile),))]))
    ns = {"x": NAMESPACE}
    assert root.find("x:Units/x:Metric", ns).get("linearUnit") == "meter"
    elements = list(root.find(".//x:CoordGeom", ns))
    assert {e.tag.split("}")[1] for e in elements} <= {"Line", "Curve", "Spiral"}
    for e in elements:
        start, end = ([float(v) for v in e.find(f"x:{tag}", ns).text.split()] for tag in ("Start", "End"))
        if e.tag.endswith("Line"):
            # Directions are azimuths: clockwise from north.
            azimuth = np.degrees(np.arctan2(end[1] - start[1], end[0] - start[0])) % 360
            assert float(e.get("dir")) == pytest.approx(azimuth, abs=1e-6)
        if e.tag.endswith("Curve"):
            centre = [float(v) for v in e.find("x:Center", ns).text.split()]
            for p in (start, end):
                assert np.hypot(p[0] - centre[0], p[1] - centre[1]) == pytest.approx(float(e.get("radius")), abs=1e-6)
    curve = root.find(".//x:Profile/x:ProfAlign/x:ParaCurve", ns)
    assert curve.get("length") == "40.0" and curve.text.split()[1] == "15.0"


LINE = "<Line><Start>0 0</Start><End>0 100</End></Line>"


@pytest.mark.parametrize(
    ("geometry", "says"),
    [
        ("", "has no geometry"),
        (
            f"{LINE}<Line><Start>0 101</Start><End>0 200</End></Line>",
            "broken between its elements 1 and 2.*1.00 m apart",
        ),
        (f"{LINE}<Line><Start>0 100</Start><End>100 200</End></Line>", "kink of 45.000° before its element 2"),
        (f"{LINE}<IrregularLine><Start>0 100</Start><End>0 200</End></IrregularLine>", "no line, curve or spiral"),
        (f'{LINE}<Curve radius="5"><Start>0 100</Start><Center>5 100</Center><End>5 105</End></Curve>', "which way"),
        (
            '<Spiral rot="cw" spiType="bloss" length="9"><Start>0 0</Start><PI>0 3</PI><End>1 9</End></Spiral>',
            "of type “bloss”: only clothoids",
        ),
        (
            '<Spiral rot="cw" radiusStart="90" radiusEnd="60" length="9">'
            "<Start>0 0</Start><PI>0 3</PI><End>0 9</End></Spiral>",
            "begins bent, and not at an arc of its own sense",
        ),
        ("<Line><Start>0 zero</Start><End>0 100</End></Line>", "no LandXML that can be read"),
        (f"{LINE}<Line><Start>0 100</Start><End>nan 200</End></Line>", "no LandXML that can be read"),
        (f"{LINE}<Line><Start>0 100</Start><End>0 1e300</End></Line>", "no LandXML that can be read"),
        ("<Line><Start>0</Start><End>0 100</End></Line>", "no LandXML that can be read"),
    ],
)
def test_what_cant_be_a_centreline_is_a_sentence(geometry, says):
    text = (
        f'<LandXML><Alignments><Alignment name="a"><CoordGeom>{geometry}</CoordGeom></Alignment></Alignments></LandXML>'
    )
    with pytest.raises(DesignInputError, match=says):
        read(text.encode())
