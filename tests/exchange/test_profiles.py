"""Profiles of files made grade lines; files are written by other programs' libraries, or by hand."""

import io

import ezdxf
import numpy as np
import pytest

from delgrun.core.centreline.centreline import Centreline
from delgrun.core.centreline.legs import CentrelineIp
from delgrun.core.errors import DesignInputError
from delgrun.core.gradeline.grade_line import GradeLine
from delgrun.core.gradeline.ip import Ip
from delgrun.core.gradeline.profile import as_it_is, on_road
from delgrun.core.gradeline.profile_fit import fit_profile
from delgrun.exchange import profiles
from delgrun.exchange.landxml_out import Written
from delgrun.exchange.landxml_out import alignments as write
from delgrun.exchange.readers import reader_of


def profiles_in(name: str, data: bytes) -> list[profiles.Profile]:
    return reader_of("profile", name, data[:4096]).read(io.BytesIO(data))


LINE = GradeLine.of(
    [
        Ip(chainage_m=100.0, level_m=10.0),
        Ip(chainage_m=300.0, level_m=20.0, curve_length_m=80.0),
        Ip(chainage_m=500.0, level_m=12.0, curve_length_m=120.0, in_share=0.25),
        Ip(chainage_m=800.0, level_m=16.0, curve_length_m=160.0, shape="circle"),
        Ip(chainage_m=1000.0, level_m=9.0),
    ]
)


def text(data: str) -> profiles.Profile:
    (found,) = profiles.text(io.BytesIO(data.encode()))
    return found


@pytest.mark.parametrize(
    "data",
    [
        "Chainage,Level\n0,100\n120.5,103.25\n",
        "# km; Höhe\nStationierung;Höhe (m)\n0+000,00;100,0\n0+120,50;103,25\n",
        "0+000 100\n0+120.5 103.25\n",
        "IP\tSTATION\tELEVATION\n1\t0+000.00\t100\n2\t0+120.50\t103.25\n",
        "station,elevation ft\n0+00,328.0839895\n3+95.341207,338.7467192\n",
    ],
)
def test_a_table_is_read_whatever_its_headings_and_stations(data):
    assert text(data).points == pytest.approx(np.array([[0, 100], [120.5, 103.25]]), abs=1e-6)


def test_a_table_with_curves_is_a_line_with_its_ips():
    found = text("pvi,chainage,level,curve length\n0,100,10,\n1,300,20,80\n2,600,12,0\n")
    assert [(ip.chainage_m, ip.level_m, ip.curve_length_m) for ip in found.ips] == [
        (100, 10, 0),
        (300, 20, 80),
        (600, 12, 0),
    ]
    with pytest.raises(DesignInputError, match="Line 3: level “high” is not a number"):
        text("chainage,level\n0,1\n5,high\n")
    with pytest.raises(DesignInputError, match="at least two points"):
        text("chainage,level\n0,1\n")


def test_landxml_gives_back_the_three_kinds_of_curve_that_were_written():
    road = Centreline([CentrelineIp(easting_m=0, northing_m=0), CentrelineIp(easting_m=1100, northing_m=0)], 0.0)
    data = write([Written("road", road, (("design", LINE),))])
    reader = reader_of("profile", "what.ever", data[:4096])
    (found,) = reader.read(io.BytesIO(data), None)
    s = np.linspace(100, 1000, 901)
    assert found.name == "design" and np.abs(GradeLine.of(found.ips).levels(s) - LINE.levels(s)).max() < 1e-9


def test_landxml_in_feet_and_a_profile_of_the_ground():
    """Written by hand after the LandXML 1.2 schema."""
    data = b"""<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units>
    <Imperial linearUnit="foot"/></Units><Alignments><Alignment name="a"><Profile name="p">
    <ProfSurf name="ground"><PntList2D>0 10 100 12 250.5 9</PntList2D></ProfSurf>
    <ProfAlign name="design"><PVI>0 312.4</PVI><ParaCurve length="900">850 324.3</ParaCurve><PVI>1500 300</PVI>
    </ProfAlign></Profile></Alignment></Alignments></LandXML>"""
    ground, design = profiles_in("a.xml", data)
    assert ground.points[2] == pytest.approx([250.5 * 0.3048, 9 * 0.3048])
    assert design.ips[1].curve_length_m == pytest.approx(274.32) and design.ips[1].level_m == pytest.approx(98.84664)
    with pytest.raises(DesignInputError, match="export it in metres or feet"):
        profiles_in("a.xml", data.replace(b'"foot"', b'"furlong"'))
    with pytest.raises(DesignInputError, match="no profile"):
        profiles_in("a.xml", b"<LandXML></LandXML>")


def test_a_drawing_gives_lines_in_profile_and_in_space():
    drawing = ezdxf.new()
    drawing.header["$INSUNITS"] = 6
    space = drawing.modelspace()
    space.add_lwpolyline([(0, 100), (50, 130), (90, 120)], dxfattribs={"layer": "PROFILE"})
    space.add_polyline3d([(0, 0, 5), (30, 40, 6), (60, 80, 4)], dxfattribs={"layer": "ROAD"})
    space.add_polyline3d([], dxfattribs={"layer": "EMPTY"})
    out = io.StringIO()
    drawing.write(out)
    flat, deep = profiles_in("a.dxf", out.getvalue().encode())
    assert flat.name == "PROFILE (in profile)" and flat.points.tolist() == [[0, 100], [50, 130], [90, 120]]
    assert deep.places is not None and deep.places[1].tolist() == [30, 40, 6]
    # Cut off after its first lines.
    with pytest.raises(DesignInputError, match="no DXF file that can be read: it ends in the middle"):
        profiles_in("a.dxf", b"  0\nSECTION\n  2\nHEADER\n")


def test_a_profile_is_cut_at_the_ends_of_the_road_or_led_on_without_changing():
    cut, said = on_road(LINE, 290.0, 830.0)
    s = np.linspace(290.0, 830.0, 541)
    # Curves are cut at both ends: what is left of them is as it was.
    assert np.abs(cut.levels(s) - LINE.levels(s)).max() < 1e-9
    assert said == ["What lies before 0+290.00 was cut off.", "What lies behind 0+830.00 was cut off."]
    led, said = on_road(LINE, 0.0, 1100.0)
    assert led.level_m[[0, -1]] == pytest.approx([5.0, 5.5]) and led.ips[1:-1] == LINE.ips[1:-1] and len(said) == 2
    with pytest.raises(DesignInputError, match=r"runs from 0\+100\.00 to 1\+000\.00, and the road from 2\+000"):
        on_road(LINE, 2000.0, 2100.0)


def test_points_are_kept_where_they_bend_and_bad_ones_are_told():
    line = as_it_is(np.array([[20.0, 3.0], [0.0, 1.0], [10.0, 2.0], [30.0, 1.0]]))
    assert line.chainage_m.tolist() == [0.0, 20.0, 30.0]
    with pytest.raises(DesignInputError, match=r"two levels at 0\+020"):
        as_it_is(np.array([[0.0, 1.0], [20.0, 3.0], [20.0, 4.0]]))
    wild = np.column_stack([np.arange(3000.0), np.random.default_rng(1).normal(0, 1, 3000)])
    with pytest.raises(DesignInputError, match="let it be fitted"):
        as_it_is(wild)


@pytest.mark.parametrize("seed", range(6))
def test_a_fitted_line_keeps_its_deviation_with_about_as_many_ips_as_the_line_had(seed):
    random = np.random.default_rng(seed)
    n = int(random.integers(3, 10))
    s = np.cumsum(np.r_[0.0, random.uniform(150, 400, n - 1)])
    z = 100 + np.cumsum(np.r_[0.0, random.normal(0, 0.04, n - 1) * np.diff(s)])
    curves = [0.0, *(random.uniform(0.3, 0.9) * np.minimum(s[1:-1] - s[:-2], s[2:] - s[1:-1])), 0.0]
    line = GradeLine.of(
        [
            Ip(chainage_m=float(a), level_m=float(b), curve_length_m=float(c))
            for a, b, c in zip(s, z, curves, strict=True)
        ]
    )
    x = np.r_[np.arange(0.0, s[-1], 10.0), s[-1]]
    noise = float(random.choice([0.0, 0.005, 0.03]))
    made = fit_profile(x, line.levels(x) + random.uniform(-noise, noise, len(x)), noise + 0.01)
    assert made.deviation_m <= noise + 0.01 + 1e-9 and made.line.conflict() is None
    assert np.abs(made.line.levels(x) - line.levels(x)).max() <= 2 * noise + 0.01
    assert len(made.line.ips) <= 1.3 * n + 1
